"""The two tables of Crossings as pictures: every move from where to where, and where Back leads."""

from __future__ import annotations

from typing import TYPE_CHECKING

from matplotlib.patches import Rectangle

from wise_ladder.drawings import messages
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
    for column in page.columns:
        x, y, _, _ = page.cell(page.rows[0], column)
        axes.text(x + CELL / 2, y + CELL + LETTERS / 2, shortened(column, LONGEST), fontsize=letters,
                  color=colours.ink, rotation=90, ha="center", va="bottom")  # fmt: skip
    for row in page.rows:
        x, y, _, _ = page.cell(row, page.columns[0])
        axes.text(x - LETTERS / 2, y + CELL / 2, shortened(row, LONGEST), fontsize=letters, color=colours.ink,
                  ha="right", va="center_baseline")  # fmt: skip
        for column in page.columns:
            x, y, _, _ = page.cell(row, column)
            glyphs, marked = table.cells.get((row, column), ""), (row, column) in table.marked
            face = colours.page if not glyphs else colours.board
            edge = colours.wrong if marked else colours.ground
            axes.add_artist(Rectangle((x + 0.5, y + 0.5), CELL - 1, CELL - 1, facecolor=face, edgecolor=edge,
                                      linewidth=1.6 if marked else 0.4))  # fmt: skip
            if glyphs:
                axes.text(x + CELL / 2, y + CELL / 2, shortened(glyphs, CELL), fontsize=letters, color=colours.ink, ha="center",
                          va="center_baseline", fontweight="bold" if marked else "normal")  # fmt: skip
    axes.text(MARGIN, FOOT / 2, messages.BETWEEN.join(table.legend), fontsize=letters, color=colours.soft, va="center_baseline")
