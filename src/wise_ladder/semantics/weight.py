"""What the rungs of an app weigh, in bytes."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.semantics.state import all_rungs

if TYPE_CHECKING:
    from wise_ladder.plan.model import Plan
    from wise_ladder.semantics.state import State


def weight(plan: Plan, state: State) -> int:
    """Sum the weights of all rungs on all ladders; what gave up what it holds weighs what its screen says for that."""
    total = 0
    for rung in all_rungs(state.ladder):
        screen = plan.screen[rung.data.screen]
        freed = rung.serial in state.freed and screen.hidden is not None
        total += screen.hidden if freed and screen.hidden is not None else screen.weight
    return total


def first_limit(plan: Plan) -> int | None:
    """Return the limit in bytes that a growing weight meets first, None if the phone has none."""
    return plan.memory.warn or plan.memory.dies
