"""Which guards stand on the visible path, armed or not: what a drawing hangs under each rung."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.ladder.conditions import Beneath, View
from wise_ladder.ladder.doing import Doing
from wise_ladder.ladder.guarding import Guards
from wise_ladder.ladder.state import visible_path
from wise_ladder.ladder.tables import tables

if TYPE_CHECKING:
    from wise_ladder.ladder.small import Known
    from wise_ladder.ladder.state import State
    from wise_ladder.plan.model import Guard, Plan


class Standing(NamedTuple):
    """A guard on the rung of a serial, and whether its condition holds now."""

    serial: int
    guard: Guard
    armed: bool


def guards_standing(plan: Plan, state: State) -> list[Standing]:
    """List the guards of the rungs of the visible path."""
    known = tables(plan)
    path = visible_path(state.ladder)
    return [
        Standing(rung.serial, guard, _armed(plan, state, guard, place))
        for place, rung in enumerate(path)
        for guard in known.guards[rung.face.screen]
    ]


def _armed(plan: Plan, state: State, guard: Guard, place: int) -> bool:
    doing = Doing(plan, state)
    known: Known = ()
    while True:
        try:
            return Guards(View(plan, doing.head(), known), tables(plan)).armed(guard, place)
        except Beneath as asked:
            known = (*known, (asked.question, doing.answer(asked.question)))
