"""A run along its clock as a picture: what was seen, what lay over it, timers and calls, depth and weight."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from matplotlib.patches import Polygon, Rectangle

from wise_ladder.drawings import messages
from wise_ladder.drawings.map_texts import LETTERS
from wise_ladder.drawings.placed_text import draw_texts
from wise_ladder.drawings.time_layout import BAR, MARGIN

if TYPE_CHECKING:
    from matplotlib.axes import Axes

    from wise_ladder.drawings.colours import Colours
    from wise_ladder.drawings.figure_file import Sheet
    from wise_ladder.drawings.time_layout import PlacedBar, PlacedChart, TimeChart


def draw_time_page(axes: Axes, chart: TimeChart, colours: Colours, sheet: Sheet) -> None:
    """Draw one page."""
    lanes, low = chart.lanes, chart.lanes.y
    for x in chart.lines:
        axes.plot([x, x], [low, low + lanes.height], color=colours.ground, linewidth=0.6, zorder=0)
    if chart.differs is not None:
        x = chart.differs
        axes.plot([x, x], [low, low + lanes.height], color=colours.back, linewidth=1.6, linestyle=":", zorder=3)
    for bar in chart.bars:
        _bar(axes, bar, colours)
    for each in chart.charts:
        _chart(axes, each, colours)
    draw_texts(axes, chart.texts, colours, sheet.scale)
    axes.text(MARGIN, MARGIN / 2, messages.LEGEND, fontsize=LETTERS * sheet.scale, color=colours.soft, va="center_baseline")


def _chart(axes: Axes, chart: PlacedChart, colours: Colours) -> None:
    x, y, wide, high = chart.frame
    first, *others = chart.corners
    axes.add_artist(Polygon(first, facecolor=colours.wood, edgecolor="none"))
    for corners in others:
        axes.plot(*zip(*corners, strict=True), color=colours.back, linewidth=1.6, linestyle=":")
    axes.plot([x, x, x + wide], [y + high, y, y], color=colours.ink, linewidth=0.8)
    if chart.limit is not None:
        axes.plot([x, x + wide], [chart.limit, chart.limit], color=colours.wrong, linewidth=1.2, linestyle="--")


def _bar(axes: Axes, bar: PlacedBar, colours: Colours) -> None:
    x, y, width, height = bar.frame
    stretch = bar.stretch
    if stretch.kind in {"timer", "call"}:
        middle = y + BAR / 2
        axes.plot([x, x + width], [middle, middle], color=colours.ink, linewidth=1.0, solid_capstyle="butt")
        end = ">" if stretch.open else "o"
        face = colours.page if not stretch.open and not stretch.fulfilled else colours.ink
        axes.plot([x + width], [middle], marker=end, markersize=4, markerfacecolor=face, markeredgecolor=colours.ink)
        return
    looks: dict[str, Any] = {
        "screen": {"facecolor": colours.board, "edgecolor": colours.edge},
        "cover": {"facecolor": colours.ground, "edgecolor": colours.soft},
        "ground": {"facecolor": colours.ground, "edgecolor": colours.grass, "hatch": "////"},
        "question": {"facecolor": colours.page, "edgecolor": colours.asks, "linestyle": "--"},
        "overlay": {"facecolor": colours.badge, "edgecolor": colours.badge},
    }
    look = {**looks[stretch.kind], "linewidth": 0.8}
    if stretch.flash:
        look |= {"edgecolor": colours.wrong, "linewidth": 2.0}
    axes.add_artist(Rectangle((x, y), width, height, **look))
