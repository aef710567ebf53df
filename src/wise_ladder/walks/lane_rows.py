"""The rows in which the lanes of one run or two are drawn."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.walks import messages
from wise_ladder.walks.timeline import LANES

if TYPE_CHECKING:
    from collections.abc import Sequence

    from wise_ladder.walks.timeline import Lane, Stretch, Timeline


class LaneRow(NamedTuple):
    """A row of bars: of which run, by which mark, and whether the row above has its name already."""

    lane: Lane
    run: int
    mark: str = ""
    again: bool = False


def lane_rows(runs: Sequence[Timeline]) -> list[LaneRow]:
    """List the rows for one run or two: where two differ, one right under the other; what is the same in both is one row."""
    if len(runs) == 1:
        return [LaneRow(lane, 0) for lane in runs[0].lanes]
    here, there = ({(lane.kind, lane.name): lane for lane in run.lanes} for run in runs)
    rows: list[LaneRow] = []
    for name in sorted(here | there, key=lambda name: LANES.index(name[0])):
        one, other = here.get(name), there.get(name)
        if one is not None and other is not None and _plain(one) == _plain(other):
            rows.append(LaneRow(one, 0, messages.BOTH_RUNS))
            continue
        if one is not None:
            rows.append(LaneRow(one, 0, "1"))
        if other is not None:
            rows.append(LaneRow(other, 1, "2", again=one is not None))
    return rows


def _plain(lane: Lane) -> list[Stretch]:
    """Leave out at which moments something began and ended: both runs may have others at the same time."""
    return [stretch._replace(first=0, last=0) for stretch in lane.stretches]
