"""Why a step went as it did: who was asked, in what order, and what each said.

Nothing is worked out a second time: deciding itself notes whom it asks while somebody listens (`Tables.asked`), on a plan of
its own, so that nothing is remembered from before.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from msgspec.structs import replace

from wise_ladder.ladder.step import step
from wise_ladder.ladder.tables import tables

if TYPE_CHECKING:
    from wise_ladder.ladder.asked import Asked
    from wise_ladder.ladder.happenings import Step
    from wise_ladder.ladder.state import State
    from wise_ladder.plan import Event, Plan


class Why(NamedTuple):
    """A step, and everybody who was asked on the way."""

    step: Step
    asked: tuple[Asked, ...]


def why(plan: Plan, state: State, event: Event) -> Why:
    """Do an event on a copy, and note who is asked about it."""
    listened = replace(plan)
    heard: list[Asked] = []
    tables(listened).asked = heard
    done = step(listened, state, event)
    return Why(done, tuple(heard))
