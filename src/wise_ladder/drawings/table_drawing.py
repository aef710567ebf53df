"""The two tables of Crossings as pictures: every move from where to where, and where Back leads."""

from __future__ import annotations

from typing import TYPE_CHECKING

from matplotlib.patches import Rectangle

from wise_ladder.drawings.figure_file import stacked
from wise_ladder.drawings.map_texts import HEADING, LETTERS, shortened
from wise_ladder.drawings.table_layout import CELL, FOOT, HEAD, LONGEST, MARGIN

if TYPE_CHECKING:
    from collections.abc import Sequence

    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

    from wise_ladder.drawings.colours import Colours
    from wise_ladder.drawings.map_layout import Size
    from wise_ladder.drawings.table_layout import GlyphTable, TablePage


def draw_table(table: GlyphTable, pages: Sequence[TablePage], colours: Colours, size: Size | None = None) -> Figure:
    """Draw blocks of a table under one another on one figure, each on a page of this size or as large as it needs."""
    sizes = [size or page.size for page in pages]
    figure, axes, whole = stacked(sizes, table.title, colours.page)
    top = whole.height
    for page, room in zip(pages, sizes, strict=True):
        _page(axes, table, page, colours, top - page.size.height)
        top -= room.height
    return figure


def _page(axes: Axes, table: GlyphTable, page: TablePage, colours: Colours, bottom: float) -> None:
    """Draw one block; `bottom` is the height of its lower edge."""
    axes.text(MARGIN, bottom + page.size.height - HEAD / 2, page.title, fontsize=HEADING, fontweight="bold",
              color=colours.ink, va="center")  # fmt: skip
    for column in page.columns:
        x, y, _, _ = page.cell(page.rows[0], column)
        axes.text(x + CELL / 2, bottom + y + CELL + LETTERS / 2, shortened(column, LONGEST), fontsize=LETTERS,
                  color=colours.ink, rotation=90, ha="center", va="bottom")  # fmt: skip
    for row in page.rows:
        x, y, _, _ = page.cell(row, page.columns[0])
        axes.text(x - LETTERS / 2, bottom + y + CELL / 2, shortened(row, LONGEST), fontsize=LETTERS, color=colours.ink,
                  ha="right", va="center_baseline")  # fmt: skip
        for column in page.columns:
            x, y, _, _ = page.cell(row, column)
            glyphs, marked = table.cells.get((row, column), ""), (row, column) in table.marked
            face = colours.page if not glyphs else colours.board
            edge = colours.wrong if marked else colours.ground
            axes.add_artist(Rectangle((x + 0.5, bottom + y + 0.5), CELL - 1, CELL - 1, facecolor=face, edgecolor=edge,
                                      linewidth=1.6 if marked else 0.4))  # fmt: skip
            if glyphs:
                axes.text(x + CELL / 2, bottom + y + CELL / 2, glyphs, fontsize=LETTERS, color=colours.ink, ha="center",
                          va="center_baseline", fontweight="bold" if marked else "normal")  # fmt: skip
    axes.text(MARGIN, bottom + FOOT / 2, "   ".join(table.legend), fontsize=LETTERS, color=colours.soft, va="center_baseline")
