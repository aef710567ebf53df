"""Whether a run breaks a rule: what the sweep asks of each counterexample, and of the runs that show the cause."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.rules.actions import Elapse, Stay
from wise_ladder.rules.growth_loop import find_loop
from wise_ladder.rules.predicates import KINDS
from wise_ladder.rules.transition import Transition

if TYPE_CHECKING:
    from wise_ladder.plan.model import Plan
    from wise_ladder.plan.rule import Rule
    from wise_ladder.rules.actions import Action
    from wise_ladder.semantics.state import State
    from wise_ladder.walks.tape import Tape


def edge_at(tape: Tape, number: int) -> Transition:
    """Return a step of a run, counted from 1, as the rules see it."""
    event, done = tape.entries[number - 1]
    return Transition(tape.plan, tape.state_at(number - 1), event, done.state, done.log, done.moves)


def breaks(rule: Rule, tape: Tape, refused: Action | None = None) -> bool:
    """Whether a rule is broken anywhere in a run, or by what is refused after it."""
    steps = range(1, len(tape.entries) + 1)
    kind = KINDS[rule.name]
    if kind.predicate is None:
        return any(size_of(tape.plan, rule, tape.state_at(number)) > (rule.limit or 0) for number in steps)
    judge = kind.predicate
    if refused is not None and any(judge(rule, refused_at(tape, refused))):
        return True
    broken = (number for number in steps if any(judge(rule, edge_at(tape, number))))
    return any(not kind.needs_loop or find_loop(tape.prefix(number)) is not None for number in broken)


def refused_at(tape: Tape, choice: Action) -> Transition:
    """Return what nothing comes of at the end of a run, as the rules see it; if something comes of it now, that."""
    state = tape.state_at(len(tape.entries))
    if not isinstance(choice, Elapse | Stay):
        tape, done = tape.with_event(choice)
        if done.refused is None:
            return edge_at(tape, len(tape.entries))
    return Transition(tape.plan, state, choice, state, (), (), refused=True)


def size_of(plan: Plan, rule: Rule, state: State) -> int:
    """Measure what a rule limits, in rungs or bytes; 0 if it limits nothing."""
    measure = KINDS[rule.name].measure
    return 0 if measure is None else measure(plan, state)
