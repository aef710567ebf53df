"""The two tables of Crossings as pictures: every move from where to where, and where Back leads."""

from __future__ import annotations

from typing import TYPE_CHECKING

from matplotlib.collections import LineCollection

from wise_ladder.drawings import messages
from wise_ladder.drawings.figure_file import rectangles
from wise_ladder.drawings.map_layout import Frame
from wise_ladder.drawings.map_texts import HEADING, LETTERS, shortened
from wise_ladder.drawings.table_layout import CELL, FOOT, HEAD, LONGEST, MARGIN

if TYPE_CHECKING:
    from matplotlib.axes import Axes

    from wise_ladder.drawings.colours import Colours
    from wise_ladder.drawings.figure_file import Sheet
    from wise_ladder.drawings.table_layout import GlyphTable, TablePage


def draw_table_page(axes: Axes, page: TablePage, colours: Colours, sheet: Sheet, table: GlyphTable) -> None:
    """Draw one block of a table."""
    letters = LETTERS * sheet.scale
    axes.text(MARGIN, page.size.height - HEAD / 2, page.title, fontsize=HEADING * sheet.scale, fontweight="bold",
              color=colours.ink, va="center")  # fmt: skip
    _grid(axes, page, colours)
    plain: list[Frame] = []
    special: list[Frame] = []
    for column in page.columns:
        x, y, _, _ = page.cell(page.rows[0], column)
        axes.text(x + CELL / 2, y + CELL + LETTERS / 2, shortened(column, LONGEST), fontsize=letters,
                  color=colours.ink, rotation=90, ha="center", va="bottom")  # fmt: skip
    for row in page.rows:
        x, y, _, _ = page.cell(row, page.columns[0])
        axes.text(x - LETTERS / 2, y + CELL / 2, shortened(row, LONGEST), fontsize=letters, color=colours.ink,
                  ha="right", va="center_baseline")  # fmt: skip
        for column in page.columns:
            glyphs, marked = table.cells.get((row, column), ""), (row, column) in table.marked
            if not glyphs:
                continue
            x, y, _, _ = page.cell(row, column)
            (special if marked else plain).append(Frame(x + 0.5, y + 0.5, CELL - 1, CELL - 1))
            axes.text(x + CELL / 2, y + CELL / 2, shortened(glyphs, CELL), fontsize=letters, color=colours.ink, ha="center",
                      va="center_baseline", fontweight="bold" if marked else "normal")  # fmt: skip
    rectangles(axes, plain, facecolor=colours.board, edgecolor=colours.ground, linewidth=0.4)
    rectangles(axes, special, facecolor=colours.board, edgecolor=colours.wrong, linewidth=1.6, zorder=3)
    axes.text(MARGIN, FOOT / 2, messages.BETWEEN.join(table.legend), fontsize=letters, color=colours.soft, va="center_baseline")


def _grid(axes: Axes, page: TablePage, colours: Colours) -> None:
    """Draw the lines between rows and columns, if there are any."""
    if not page.rows or not page.columns:
        return
    left, top, _, _ = page.cell(page.rows[0], page.columns[0])
    right, bottom, _, _ = page.cell(page.rows[-1], page.columns[-1])
    xs = [left + number * CELL for number in range(len(page.columns) + 1)]
    ys = [bottom + number * CELL for number in range(len(page.rows) + 1)]
    lines = [((x, bottom), (x, top + CELL)) for x in xs] + [((left, y), (right + CELL, y)) for y in ys]
    axes.add_collection(LineCollection(lines, colors=colours.ground, linewidths=0.8))
