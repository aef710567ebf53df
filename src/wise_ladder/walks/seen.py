"""What the user saw on a tape, one stretch after the other, and for how long."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.plan.events import OutsideChange, Reply, Wait
from wise_ladder.semantics.log import SeenFor
from wise_ladder.semantics.state import Phase, visible_top
from wise_ladder.semantics.text import duration_text, rung_text
from wise_ladder.walks import messages

if TYPE_CHECKING:
    from wise_ladder.plan import Event
    from wise_ladder.semantics import State
    from wise_ladder.walks.tape import Entry

FLASH = 300
"""Whatever goes by itself after less than so many milliseconds has flashed by."""
_BY_ITSELF = (Wait, Reply, OutsideChange)


def goes_by_itself(event: Event) -> bool:
    """Whether what comes of an event was not done by the user."""
    return isinstance(event, _BY_ITSELF)


class SeenInterval(NamedTuple):
    """Something that was seen for so many milliseconds; `flash`: it disappeared before it could be read."""

    what: str
    time: int
    flash: bool

    @property
    def words(self) -> str:
        """Write the stretch: `sign in 120 ms !`; a user who taps at once takes no time."""
        return f"{self.what}{f' {duration_text(self.time)}' if self.time else ''}{' !' if self.flash else ''}"


def seen_intervals(entries: tuple[Entry, ...]) -> list[SeenInterval]:
    """List what was seen on these steps, what is seen now not counted; the ground is left out."""
    return [
        _stretch(happening, entry.event)
        for entry in entries
        for happening in entry.step.log
        if isinstance(happening, SeenFor) and (happening.data is not None or happening.look)
    ]


def _stretch(saw: SeenFor, event: Event) -> SeenInterval:
    time = saw.until - saw.since
    what = messages.COVER if saw.look == "cover" else rung_text(saw.data) + (", waiting" if saw.look else "")
    return SeenInterval(what, time, saw.look != "cover" and time < FLASH and goes_by_itself(event))


def seen_now(state: State) -> str:
    """Say what is seen in a state."""
    if state.phase is not Phase.OPEN:
        return messages.NOT_IN_FRONT.get(state.phase, messages.GROUND)
    if state.cover:
        return messages.COVER
    top = visible_top(state)
    return rung_text(top.data) if top is not None else messages.NOTHING
