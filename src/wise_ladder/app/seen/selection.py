"""What Seen is about, without a screen: a run along its clock, the moment one looks at, and how near one looks."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.walks.time_scale import EMPTY, time_scale
from wise_ladder.walks.timeline import Moment, Stretch, Timeline, timeline

if TYPE_CHECKING:
    from wise_ladder.walks.tape import Tape

NEAREST = 8
"""So many times what is shown can be halved."""


class SeenSelection:
    """A run, the moment that is chosen in it, and the part of its axis that is shown."""

    def __init__(self) -> None:
        """Begin with no run."""
        self.tape: Tape | None = None
        self.name = ""
        self.drawn: Timeline | None = None
        self.scale = EMPTY
        self.place = 0
        """The number of the chosen moment, from 0."""
        self.zoom = 0
        """How often what is shown was halved."""

    def take_up(self, tape: Tape | None, name: str) -> None:
        """Show a run; of the one that was shown the place stays, of another the end is shown."""
        if tape is self.tape or (tape is not None and self.tape is not None and tape == self.tape):
            return
        grown, at_end = name == self.name, self.place >= len(self.moments) - 1
        self.tape, self.name = tape, name
        self.drawn = timeline(tape) if tape is not None else None
        self.scale = time_scale(self.drawn) if self.drawn is not None else EMPTY
        last = len(self.moments) - 1
        self.place = min(self.place, last) if grown and not at_end else last
        self.zoom = self.zoom if grown else 0

    @property
    def moments(self) -> tuple[Moment, ...]:
        """All that happened."""
        return self.drawn.moments if self.drawn is not None else ()

    @property
    def moment(self) -> Moment | None:
        """The chosen one; None if nothing happened."""
        return self.moments[self.place] if self.moments else None

    @property
    def flashes(self) -> list[Stretch]:
        """What was seen too shortly, in order."""
        return [each for each in self.drawn.stretches if each.flash] if self.drawn is not None else []

    def go(self, place: int) -> bool:
        """Choose a moment by its number; False if it is chosen already."""
        place = min(max(place, 0), max(len(self.moments) - 1, 0))
        moved, self.place = place != self.place, place
        return moved

    def next_flash(self) -> Stretch | None:
        """Choose the end of the next flash, of the first after the last; None if there is none."""
        if self.moment is None or not self.flashes:
            return None
        flash = next((each for each in self.flashes if each.last - 1 > self.place), self.flashes[0])
        self.go(flash.last - 1)
        return flash

    def look(self, nearer: int) -> bool:
        """Halve or double what is shown; False if that is not possible."""
        zoom = min(max(self.zoom + nearer, 0), NEAREST)
        changed, self.zoom = zoom != self.zoom, zoom
        return changed

    @property
    def window(self) -> tuple[float, float]:
        """From where to where the axis is shown, the chosen moment in the middle as far as possible."""
        length = self.scale.length / 2**self.zoom
        middle = self.scale.places[self.place + 1] if self.moment is not None else 0.0
        begin = min(max(middle - length / 2, 0.0), self.scale.length - length)
        return begin, begin + length
