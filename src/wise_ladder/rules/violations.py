"""Whether a run breaks a rule: what the sweep asks of each counterexample, and of the runs that show the cause."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.rules.actions import Elapse, Stay
from wise_ladder.rules.growth_loop import find_loop
from wise_ladder.rules.predicates import KINDS
from wise_ladder.rules.replay import Infeasible, replay
from wise_ladder.rules.transition import Transition
from wise_ladder.rules.verdicts import Counterexample

if TYPE_CHECKING:
    from wise_ladder.plan.model import Plan
    from wise_ladder.plan.rule import Rule
    from wise_ladder.rules.actions import Action
    from wise_ladder.rules.replay import PathStep
    from wise_ladder.rules.transition import Violation
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


def run_that_breaks(plan: Plan, first: State, rule: Rule, path: list[PathStep], guilt: Violation) -> Counterexample | None:
    """Run a path by `step` with real waits, and return it if the rule is broken then too, by the same place."""
    try:
        tape = replay(plan, first, path, (rule.limit or 0) if KINDS[rule.name].tracks == "flashes" else 0)
    except Infeasible:
        return None
    refused = path[-1].action if path[-1].successor.refused else None
    return counterexample_of(rule, tape, len(path), refused, guilt)


def counterexample_of(
    rule: Rule, tape: Tape, steps: int, refused: Action | None, guilt: Violation | None = None
) -> Counterexample | None:
    """Return a run as a counterexample of so many steps, if its last step breaks a rule, or what is refused after it.

    `guilt`: only if it is the same place that does; of a rule that measures states, what is guilty.
    """
    kind = KINDS[rule.name]
    if kind.predicate is not None:
        edge = edge_at(tape, len(tape.entries)) if refused is None else refused_at(tape, refused)
        broken_by = kind.predicate(rule, edge)
        guilt = next((other for other in broken_by if guilt is None or other.place == guilt.place), None)
    elif not breaks(rule, tape):
        return None
    loop_start = find_loop(tape) if kind.needs_loop else None
    if guilt is None or (kind.needs_loop and loop_start is None):
        return None
    return Counterexample(guilt, tape, steps, loop_start, refused)


def size_of(plan: Plan, rule: Rule, state: State) -> int:
    """Measure what a rule limits, in rungs or bytes; 0 if it limits nothing."""
    measure = KINDS[rule.name].measure
    return 0 if measure is None else measure.of(plan, state)
