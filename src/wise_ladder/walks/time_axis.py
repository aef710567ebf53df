"""Where the moments of one run or two stand on an axis: long waits are folded, and what takes no time gets a little room."""

from __future__ import annotations

from bisect import bisect_right
from itertools import pairwise
from typing import TYPE_CHECKING, NamedTuple

if TYPE_CHECKING:
    from wise_ladder.walks.timeline import Timeline

FOLDED_OVER, FOLDED_TO = 3_000, 500
"""A longer wait than this is drawn as if it were so long, in milliseconds."""
LEAST_STEP, MOST_STEP = 30, 300
"""So much room what takes no time gets, in milliseconds: the more such steps there are, the less."""


class Stop(NamedTuple):
    """A moment of any of the runs: where it stands on the axis, when it is, how many moments of each run have come by then."""

    place: int
    time: int
    counts: tuple[int, ...]


class Fold(NamedTuple):
    """A wait that is drawn shortened: from where to where on the axis, and how long it is, in milliseconds."""

    begin: int
    end: int
    time: int


class TimeAxis(NamedTuple):
    """An axis in milliseconds that are shown; `length` is where it ends, the first stop is the state before all.

    `places` tells for each run where each of its moments stands, the first for the state before all.
    """

    stops: tuple[Stop, ...]
    places: tuple[tuple[int, ...], ...]
    folds: tuple[Fold, ...]
    length: int


def time_axis(*runs: Timeline) -> TimeAxis:
    """Return the axis on which runs are drawn; moments of the same time and step stand at the same place."""
    keys = [[(0, 0, 0), *_keys(run)] for run in runs]
    joint = sorted({(0, 0, 0)}.union(*keys))
    gaps = [other[0] - one[0] for one, other in pairwise(joint)]
    lengths = [FOLDED_TO if gap > FOLDED_OVER else gap for gap in gaps]
    step = min(max(sum(lengths) // max(lengths.count(0), 1), LEAST_STEP), MOST_STEP)
    places = [0]
    for length in lengths:
        places.append(places[-1] + (length or step))
    where = dict(zip(joint, places, strict=True))
    stops = tuple(Stop(place, key[0], tuple(bisect_right(each, key) - 1 for each in keys)) for key, place in where.items())
    folds = tuple(Fold(begin, end, gap) for (begin, end), gap in zip(pairwise(places), gaps, strict=True) if gap > FOLDED_OVER)
    # What still goes on at the end gets room too.
    return TimeAxis(stops, tuple(tuple(where[key] for key in each) for each in keys), folds, places[-1] + step)


def _keys(run: Timeline) -> list[tuple[int, int, int]]:
    """Tell the moments of a run apart: by time, by the step, and by their order where both are the same."""
    keys: list[tuple[int, int, int]] = []
    for moment in run.moments:
        same = keys and keys[-1][:2] == (moment.time, moment.number)
        keys.append((moment.time, moment.number, keys[-1][2] + 1 if same else 1))
    return keys
