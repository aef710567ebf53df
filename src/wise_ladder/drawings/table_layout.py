"""A table of glyphs on pages: rows and columns with names, the upright ones above, in as many blocks as pages need."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.drawings import messages
from wise_ladder.drawings.map_layout import Frame, Size
from wise_ladder.drawings.map_texts import HEADING, LETTERS, SLACK, TextLine, shortened, width_of

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping, Sequence

MARGIN, HEAD, FOOT = 24.0, 44.0, 34.0
CELL = 18.0
"""How wide and high a cell is, in points."""
LONGEST = 110.0
"""So much room a name takes at most."""


class GlyphTable(NamedTuple):
    """A table: its title, rows, columns, what stands in which cell, which cells are marked, and what the glyphs mean."""

    title: str
    rows: Sequence[str]
    columns: Sequence[str]
    cells: Mapping[tuple[str, str], str]
    marked: frozenset[tuple[str, str]]
    legend: tuple[str, ...]


class TablePage(NamedTuple):
    """A block of a table: its rows and columns, how much room their names take, and the size of its page in points."""

    title: str
    rows: tuple[str, ...]
    columns: tuple[str, ...]
    labels: Size
    size: Size

    def cell(self, row: str, column: str) -> Frame:
        """Return where a cell stands; the origin is at the lower left of the page."""
        x = MARGIN + self.labels.width + self.columns.index(column) * CELL
        top = self.size.height - HEAD - self.labels.height - self.rows.index(row) * CELL
        return Frame(x, top - CELL, CELL, CELL)


def table_pages(table: GlyphTable, paper: Size) -> list[TablePage]:
    """Divide a table into blocks that fit on a paper, which may be turned."""
    beside, above = _room(table.rows), _room(table.columns)
    across = max(int((paper.width - 2 * MARGIN - beside) // CELL), 1)
    down = max(int((paper.height - HEAD - FOOT - above) // CELL), 1)
    blocks = [(rows, columns) for rows in _blocks(table.rows, down) for columns in _blocks(table.columns, across)]
    least = (
        width_of(TextLine(messages.BETWEEN.join(table.legend))) * SLACK,
        width_of(TextLine(table.title, HEADING, bold=True)) * SLACK,
    )
    pages = []
    for number, (rows, columns) in enumerate(blocks, 1):
        width = max(beside + len(columns) * CELL, *least) + 2 * MARGIN
        size = Size(width, HEAD + above + len(rows) * CELL + FOOT)
        title = table.title
        if len(blocks) > 1:
            title = messages.PAGE_OF.format(title=title, number=number, count=len(blocks))
        pages.append(TablePage(title, rows, columns, Size(beside, above), size))
    return pages


def _room(names: Sequence[str]) -> float:
    return max((width_of(TextLine(shortened(name, LONGEST))) * SLACK for name in names), default=0.0) + LETTERS


def _blocks(names: Sequence[str], most: int) -> Iterator[tuple[str, ...]]:
    yield from (tuple(names[start : start + most]) for start in range(0, max(len(names), 1), most))
