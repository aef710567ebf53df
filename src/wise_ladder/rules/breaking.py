"""Whether a run breaks a rule: what the sweep asks of each counterexample, and of the runs that show who is to blame."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.ladder.state import all_rungs, depth
from wise_ladder.rules.choices import LetTime
from wise_ladder.rules.edges import Edge
from wise_ladder.rules.meaning import JUDGES
from wise_ladder.rules.rounds import round_of

if TYPE_CHECKING:
    from wise_ladder.ladder.state import State
    from wise_ladder.plan.model import Plan, Rule
    from wise_ladder.rules.choices import Choice
    from wise_ladder.walks.tape import Tape


def edge_at(tape: Tape, number: int) -> Edge:
    """Return a step of a run, counted from 1, as the rules see it."""
    event, done = tape.entries[number - 1]
    return Edge(tape.plan, tape.state_at(number - 1), event, done.state, done.happened, done.taken)


def breaks(rule: Rule, tape: Tape, refused: Choice | None = None) -> bool:
    """Whether a rule is broken anywhere in a run, or by what is refused after it."""
    steps = range(1, len(tape.entries) + 1)
    if rule.name not in JUDGES:
        return any(size_of(tape.plan, rule, tape.state_at(number)) > (rule.limit or 0) for number in steps)
    judge = JUDGES[rule.name][0]
    if refused is not None and any(judge(rule, refused_at(tape, refused))):
        return True
    broken = (number for number in steps if any(judge(rule, edge_at(tape, number))))
    return any(rule.name != "no pile-up" or round_of(tape.until(number)) is not None for number in broken)


def refused_at(tape: Tape, choice: Choice) -> Edge:
    """Return what nothing comes of at the end of a run, as the rules see it; where something comes of it now, that."""
    state = tape.state_at(len(tape.entries))
    if not isinstance(choice, LetTime):
        tape, done = tape.doing(choice)
        if done.refused is None:
            return edge_at(tape, len(tape.entries))
    return Edge(tape.plan, state, choice, state, (), (), refused=True)


def size_of(plan: Plan, rule: Rule, state: State) -> int:
    """Measure what a rule limits: rungs that lie one under the other, or what all of them weigh, in bytes."""
    if rule.name == "depth at most":
        return depth(state)
    return sum(plan.screen[rung.face.screen].weight for rung in all_rungs(state.ladder))
