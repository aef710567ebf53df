"""Back from everywhere as a grid: from which screen to which end, by which ways."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.plan.crossings import GROUND

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

    from wise_ladder.plan import Plan
    from wise_ladder.rules.back_table import BackRow

ENDS = {
    "closes": "closes",
    "asks": "asks",
    "blocked": "blocked",
    "stays": "nothing",
    "goes away": "background",
    "leaves": GROUND,
}
"""The columns of what lands on no screen, in their order."""
BOTH, SYSTEM, HEADER, APP, SURPRISE = "◀", "◁", "←", "↓", "▲"


class BackCell(NamedTuple):
    """What leads from a screen to one end: each way that does, the shortest path first."""

    start: str
    end: str
    rows: tuple[BackRow, ...]

    @property
    def ways(self) -> set[str]:
        """The ways that do it."""
        return {row.landing.way for row in self.rows}

    @property
    def surprise(self) -> str:
        """What is surprising in it, nothing if it is what one expects."""
        return next((row.surprise for row in self.rows if row.surprise), "")

    @property
    def glyph(self) -> str:
        """The glyph of the ways that lead there."""
        if {"system", "header"} <= self.ways:
            return BOTH
        return SYSTEM if "system" in self.ways else HEADER if "header" in self.ways else APP


def back_cells(rows: Iterable[BackRow]) -> list[BackCell]:
    """Put the rows of the table that lead from one screen to one end together."""
    cells: dict[tuple[str, str], list[BackRow]] = {}
    for row in rows:
        end = ENDS.get(row.landing.kind, row.landing.name)
        cells.setdefault((row.landing.screen, end), []).append(row)
    return [BackCell(*place, tuple(sorted(some, key=lambda row: row.steps))) for place, some in cells.items()]


def back_places(plan: Plan, cells: Sequence[BackCell]) -> tuple[list[str], list[str]]:
    """Return the rows and columns of the grid: screens in the order of the file, then what else Back does."""
    starts, ends = {cell.start for cell in cells}, {cell.end for cell in cells}
    screens = [screen.name for screen in plan.screens]
    return [name for name in screens if name in starts], [name for name in (*screens, *ENDS.values()) if name in ends]
