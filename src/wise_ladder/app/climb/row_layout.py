"""Which row each rung gets: as much air as there is, less when the ladder grows, and at last its middle folded into a band."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

if TYPE_CHECKING:
    from collections.abc import Sequence

MOST_PITCH = 8
BAND_ROWS = 3


class Fold(NamedTuple):
    """A band that stands for rungs that have no row of their own."""

    row: int
    rungs: int


class RowLayout(NamedTuple):
    """The row of each rung's board, by its place on the ladder from the lowest, and the band if there is one."""

    rows: dict[int, int]
    fold: Fold | None


def spaced(notes: Sequence[int], ground: int, above: int) -> RowLayout:
    """Give each rung a row.

    `notes` are the lines that hang under each rung, lowest rung first; `ground` is the row of the ground; `above` are the rows
    wanted over the highest board. The highest and the lowest rung always have a row.
    """
    count = len(notes)
    for pitch in range(MOST_PITCH, 1, -1):
        gaps = [_base(notes[0], pitch), *(max(pitch, 2 + lines) for lines in notes[1:])]
        if sum(gaps) + above <= ground:
            return RowLayout(_rows(gaps, ground), None)
    gaps = [2] * count
    room = ground - above
    if 2 * count <= room:
        return RowLayout(_rows(gaps, ground), None)
    shown = max((room - BAND_ROWS - 1) // 2, 2)
    if shown >= count:
        return RowLayout(_rows(gaps, ground), None)
    lowest = ground - 2
    band = lowest - 1 - BAND_ROWS // 2
    first = count - shown + 1
    rows = {0: lowest}
    for place in range(first, count):
        rows[place] = band - BAND_ROWS + 1 - 2 * (place - first)
    return RowLayout(rows, Fold(band, first - 1))


def _base(lines: int, pitch: int) -> int:
    return max(min(pitch, 4), 2 + lines)


def _rows(gaps: Sequence[int], ground: int) -> dict[int, int]:
    rows: dict[int, int] = {}
    row = ground
    for place, gap in enumerate(gaps):
        row -= gap
        rows[place] = row
    return rows
