"""Which guards stand on the visible path, armed or not: what a drawing hangs under each rung."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.ladder.doing import Doing
from wise_ladder.ladder.state import visible_path
from wise_ladder.ladder.tables import tables

if TYPE_CHECKING:
    from wise_ladder.ladder.state import State
    from wise_ladder.plan.model import Guard, Plan


class Standing(NamedTuple):
    """A guard on the rung of a serial, and whether its condition holds now."""

    serial: int
    guard: Guard
    armed: bool


def guards_standing(plan: Plan, state: State) -> list[Standing]:
    """List the guards of the rungs of the visible path."""
    known, path, doing = tables(plan), visible_path(state.ladder), Doing(plan, state)
    return [
        Standing(rung.serial, guard, doing.guard_holds(guard, rung.serial, rung.face))
        for rung in path
        for guard in known.guards[rung.face.screen]
    ]
