"""Which guards stand on the visible path, armed or not: what a drawing hangs under each rung."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.semantics.plan_index import index_of
from wise_ladder.semantics.state import visible_path
from wise_ladder.semantics.working_state import WorkingState

if TYPE_CHECKING:
    from wise_ladder.plan.model import Guard, Plan
    from wise_ladder.semantics.state import State


class GuardStatus(NamedTuple):
    """A guard on the rung of a serial, and whether its condition holds now."""

    serial: int
    guard: Guard
    armed: bool


def guards_standing(plan: Plan, state: State) -> list[GuardStatus]:
    """List the guards of the rungs of the visible path."""
    known, path, doing = index_of(plan), visible_path(state.ladder), WorkingState(plan, state)
    return [
        GuardStatus(rung.serial, guard, doing.guard_holds(guard, rung.serial, rung.data))
        for rung in path
        for guard in known.guards[rung.data.screen]
    ]
