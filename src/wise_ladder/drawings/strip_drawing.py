"""A run as a film strip: one ladder after each step, all on one ground, and where Back leads from the last."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.drawings.figure_file import rectangles
from wise_ladder.drawings.placed_text import draw_texts

if TYPE_CHECKING:
    from matplotlib.axes import Axes

    from wise_ladder.drawings.colours import Colours
    from wise_ladder.drawings.figure_file import Sheet
    from wise_ladder.drawings.strip_layout import StripPage


def draw_strip_page(axes: Axes, page: StripPage, colours: Colours, sheet: Sheet) -> None:
    """Draw one page."""
    rectangles(axes, page.grounds, facecolor=colours.ground, edgecolor=colours.grass, hatch="////", linewidth=0)
    rectangles(axes, page.rails, facecolor=colours.wood, linewidth=0)
    rectangles(axes, page.badges, facecolor=colours.badge, linewidth=0)
    for here, face, width in ((False, colours.board, 0.8), (True, colours.here, 1.6)):
        boards = [board.frame for board in page.boards if board.here == here]
        rectangles(axes, boards, facecolor=face, edgecolor=colours.edge, linewidth=width)
    for (corners,) in page.backs:
        xs, ys = [x for x, _ in corners], [y for _, y in corners]
        axes.plot(xs, ys, color=colours.back, linewidth=1.4)
        axes.plot(xs[-1:], ys[-1:], marker="<", markersize=5, color=colours.back)
    draw_texts(axes, page.texts, colours, sheet.scale)
