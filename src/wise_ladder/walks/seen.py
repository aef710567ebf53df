"""What the user saw on a tape, one stretch after the other, and for how long."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.ladder.happenings import Saw
from wise_ladder.ladder.state import Phase, top_of
from wise_ladder.ladder.words import face_words, length_words
from wise_ladder.plan.events import OutsideChange, Reply, Wait

if TYPE_CHECKING:
    from wise_ladder.ladder import State
    from wise_ladder.plan import Event
    from wise_ladder.walks.tape import Entry

FLASH = 300
"""Whatever goes by itself after less than so many milliseconds has flashed by."""
_BY_ITSELF = (Wait, Reply, OutsideChange)


class Stretch(NamedTuple):
    """Something that was seen for so many milliseconds; `flash`: it went by itself sooner than one can read."""

    what: str
    time: int
    flash: bool

    @property
    def words(self) -> str:
        """Write the stretch: `sign in 120 ms !`; a user who taps at once takes no time."""
        return f"{self.what}{f' {length_words(self.time)}' if self.time else ''}{' !' if self.flash else ''}"


def stretches(entries: tuple[Entry, ...]) -> list[Stretch]:
    """List what was seen on these steps, what is seen now not counted; the ground is left out."""
    return [
        _stretch(happening, entry.event)
        for entry in entries
        for happening in entry.step.happened
        if isinstance(happening, Saw) and (happening.face is not None or happening.look)
    ]


def _stretch(saw: Saw, event: Event) -> Stretch:
    time = saw.until - saw.since
    what = "cover" if saw.look == "cover" else face_words(saw.face) + (", waiting" if saw.look else "")
    return Stretch(what, time, saw.look != "cover" and time < FLASH and isinstance(event, _BY_ITSELF))


def seen_now(state: State) -> str:
    """Say what is seen in a state."""
    if state.phase is not Phase.OPEN:
        return {Phase.OUTSIDE: "the ground", Phase.AWAY: "the background"}.get(state.phase, "the ground, app ended")
    if state.cover:
        return "cover"
    top = top_of(state)
    return face_words(top.face) if top is not None else "nothing"
