"""What Seen is about, without a screen: a run along its clock, another one over it, the chosen moment, how near one looks."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.walks.run_differences import Difference, run_differences
from wise_ladder.walks.time_axis import Stop, TimeAxis, time_axis
from wise_ladder.walks.timeline import Moment, Stretch, Timeline, timeline

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.walks.tape import Tape

NEAREST = 8
"""So many times what is shown can be halved."""


class OtherRun(NamedTuple):
    """A run to lay over another: what it is called, and how it comes about from that one; None if it cannot any more."""

    name: str
    of: Callable[[Tape], Tape | None]


class SeenSelection:
    """A run, perhaps with another over it, the moment that is chosen, and the part of the axis that is shown."""

    def __init__(self) -> None:
        """Begin with no run."""
        self.tape: Tape | None = None
        self.name = ""
        self.other: OtherRun | None = None
        """What is laid over the run."""
        self.other_tape: Tape | None = None
        self.runs: tuple[Timeline, ...] = ()
        """The run, and the one over it."""
        self.axis: TimeAxis = time_axis()
        self.differences: list[Difference] = []
        self.place = 0
        """The number of the chosen stop of the axis; 0 is before all."""
        self.zoom = 0
        """How often what is shown was halved."""

    def take_up(self, tape: Tape | None, name: str) -> bool:
        """Show a run, and return whether it is another; where only its steps changed, the place and the run over it stay."""
        if tape is self.tape or (tape is not None and self.tape is not None and tape == self.tape):
            return False
        grown, at_end = name == self.name, self.place >= self.last
        self.tape, self.name = tape, name
        self._lay_out(self.other if grown else None)
        self.place = min(self.place, self.last) if grown and not at_end else self.last
        self.zoom = self.zoom if grown else 0
        return True

    def lay_over(self, other: OtherRun | None) -> bool:
        """Show another run over this one, its first difference chosen; False if there is no such run."""
        self._lay_out(other)
        if self.differences:
            self.place = self.differences[0].stop
        self.place = min(self.place, self.last)
        return other is None or self.other is other

    def _lay_out(self, other: OtherRun | None) -> None:
        self.other_tape = other.of(self.tape) if other is not None and self.tape is not None else None
        self.other = other if self.other_tape is not None else None
        self.runs = tuple(timeline(each) for each in (self.tape, self.other_tape) if each is not None)
        self.axis = time_axis(*self.runs)
        self.differences = run_differences(self.runs[0], self.runs[1], self.axis) if len(self.runs) > 1 else []

    @property
    def last(self) -> int:
        """The number of the last stop."""
        return len(self.axis.stops) - 1

    @property
    def stop(self) -> Stop:
        """The chosen stop."""
        return self.axis.stops[self.place]

    def moment_of(self, run: int) -> Moment | None:
        """Return the moment of a run at which one is; None: it has not begun."""
        count = self.stop.counts[run] if run < len(self.runs) else 0
        return self.runs[run].moments[count - 1] if count else None

    @property
    def difference(self) -> Difference | None:
        """In what both runs differ at the chosen moment; None: in nothing, or there is one run only."""
        return next((each for each in self.differences if each.stop <= self.place < each.until), None)

    @property
    def flashes(self) -> list[Stretch]:
        """What was seen too shortly in the run, in order."""
        return [each for each in self.runs[0].stretches if each.flash] if self.runs else []

    def go(self, place: int) -> bool:
        """Choose a stop by its number; False if it is chosen already."""
        place = min(max(place, min(1, self.last)), self.last)
        moved, self.place = place != self.place, place
        return moved

    def next_flash(self) -> Stretch | None:
        """Choose the end of the next flash, of the first after the last; None if there is none."""
        if not self.flashes:
            return None
        places, here = self.axis.places[0], self.stop.place
        flash = next((each for each in self.flashes if places[each.last] > here), self.flashes[0])
        self.go(self.stop_of(flash.last))
        return flash

    def stop_of(self, moment: int) -> int:
        """Return the number of the stop at which a moment of the run stands, counted from 1; 0: before all."""
        place = self.axis.places[0][moment]
        return next(number for number, stop in enumerate(self.axis.stops) if stop.place == place)

    def next_difference(self) -> Difference | None:
        """Choose where both runs begin to differ in something else, the first after the last; None if they do not differ."""
        if not self.differences:
            return None
        following = next((each for each in self.differences if each.stop > self.place), self.differences[0])
        self.place = following.stop
        return following

    def look(self, nearer: int) -> bool:
        """Halve or double what is shown; False if that is not possible."""
        zoom = min(max(self.zoom + nearer, 0), NEAREST)
        changed, self.zoom = zoom != self.zoom, zoom
        return changed

    @property
    def window(self) -> tuple[float, float]:
        """From where to where the axis is shown, the chosen moment in the middle as far as possible."""
        length = self.axis.length / 2**self.zoom
        begin = min(max(self.stop.place - length / 2, 0.0), self.axis.length - length)
        return begin, begin + length
