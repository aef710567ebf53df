"""The map of a plan's screens in cells: what Climb shows before the first step."""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING

from rich.cells import cell_len

from wise_ladder.app import messages
from wise_ladder.app.canvas import CellStyle, cut
from wise_ladder.plan.map_tree import CONNECTOR, cut_to, map_tree
from wise_ladder.plan.screen_map import screen_map
from wise_ladder.safe import visible

if TYPE_CHECKING:
    from wise_ladder.app.canvas import Canvas
    from wise_ladder.app.palette import Palette
    from wise_ladder.plan import Plan
    from wise_ladder.plan.map_tree import TreeCell


def draw_small_map(canvas: Canvas, palette: Palette, plan: Plan, top: int, rows: int) -> int:
    """Draw the map from a row on in at most so many rows; return the row after it. What has no room is counted."""
    cells = _cells(plan)
    whole = all(cell.row < rows for cell in cells)
    shown = list(cut_to(cells, rows if whole else rows - 1, canvas.width, _width))
    line, names = CellStyle(palette.muted), {"flow": CellStyle(palette.twine, bold=True), "overlay": CellStyle(palette.soft)}
    for cell in shown:
        for row in range(cell.row if cell.parent is None else cell.parent + 1, cell.row):
            canvas.text(cell.column - len(CONNECTOR), top + row, "│", line)
    for cell in shown:
        x, y = cell.column - len(CONNECTOR), top + cell.row
        if cell.parent is None:
            canvas.text(0, y, cell.glyph, CellStyle(palette.soft))
        else:
            first = "─┬" if cell.parent == cell.row else "╰├"
            canvas.text(x, y, f"{first[not cell.last]}─", line)
            canvas.text(x + 2, y, cell.glyph, CellStyle(palette.soft))
        canvas.text(cell.column, y, visible(cell.box.title, lines=False), names.get(cell.box.kind, CellStyle(palette.text)))
    end = top + max((cell.row for cell in shown), default=-1) + 1
    if len(shown) < len(cells):
        words = messages.MAP_MORE.format(count=len(cells) - len(shown))
        canvas.text(0, end, cut(words, canvas.width), CellStyle(palette.soft))
        end += 1
    return end


@lru_cache(maxsize=2)
def _cells(plan: Plan) -> list[TreeCell]:
    return map_tree(screen_map(plan), _width)


def _width(name: str) -> int:
    return cell_len(visible(name, lines=False))
