"""Where the moments of a run stand on an axis: long waits are folded, and what takes no time gets a little room."""

from __future__ import annotations

from itertools import pairwise
from typing import TYPE_CHECKING, NamedTuple

if TYPE_CHECKING:
    from wise_ladder.walks.timeline import Timeline

FOLDED_OVER, FOLDED_TO = 3_000, 500
"""A longer wait than this is drawn as if it were so long, in milliseconds."""
LEAST_STEP, MOST_STEP = 30, 300
"""So much room what takes no time gets, in milliseconds: the more such steps there are, the less."""


class TimeScale(NamedTuple):
    """Where each moment stands, in milliseconds that are shown, the first for the state before all; and where the axis ends.

    `folds` are the moments at which a wait ends that is shortened, and how long it is.
    """

    places: tuple[int, ...]
    folds: tuple[tuple[int, int], ...]
    length: int


EMPTY = TimeScale((0,), (), 1)


def time_scale(drawn: Timeline) -> TimeScale:
    """Return the axis on which a run is drawn."""
    gaps = [other - one for one, other in pairwise([0, *(moment.time for moment in drawn.moments)])]
    lengths = [FOLDED_TO if gap > FOLDED_OVER else gap for gap in gaps]
    step = min(max(sum(lengths) // max(lengths.count(0), 1), LEAST_STEP), MOST_STEP)
    places = [0]
    for length in lengths:
        places.append(places[-1] + (length or step))
    folds = tuple((number, gap) for number, gap in enumerate(gaps, 1) if gap > FOLDED_OVER)
    # What still goes on at the end gets room too.
    return TimeScale(tuple(places), folds, places[-1] + step)
