"""A run along its clock as a picture: what was seen, what lay over it, timers and calls, depth and weight."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from matplotlib.figure import Figure
from matplotlib.patches import Polygon, Rectangle

from wise_ladder.drawings import messages
from wise_ladder.drawings.map_layout import POINTS
from wise_ladder.drawings.map_texts import LETTERS
from wise_ladder.drawings.time_layout import BAR, MARGIN

if TYPE_CHECKING:
    from matplotlib.axes import Axes

    from wise_ladder.drawings.colours import Colours
    from wise_ladder.drawings.map_layout import Size
    from wise_ladder.drawings.time_layout import PlacedBar, TimeChart


def draw_chart(chart: TimeChart, colours: Colours, size: Size | None = None) -> Figure:
    """Draw a chart, on a page of this size or as large as it needs."""
    width, height = size or chart.size
    scale = min(width / chart.size.width, height / chart.size.height)
    figure = Figure(figsize=(width / POINTS, height / POINTS), facecolor=colours.page, label=chart.title)
    axes = figure.add_axes((0, 0, 1, 1))
    axes.set_xlim(0, width / scale)
    axes.set_ylim(chart.size.height - height / scale, chart.size.height)
    axes.set_axis_off()
    for x in chart.lines:
        axes.plot([x, x], [chart.lanes.y, chart.lanes.y + chart.lanes.height], color=colours.ground, linewidth=0.6, zorder=0)
    for bar in chart.bars:
        _bar(axes, bar, colours)
    for each in chart.charts:
        x, y, wide, high = each.frame
        axes.add_artist(Polygon(each.corners, facecolor=colours.wood, edgecolor="none"))
        axes.plot([x, x, x + wide], [y + high, y, y], color=colours.ink, linewidth=0.8)
        if each.limit is not None:
            axes.plot([x, x + wide], [each.limit, each.limit], color=colours.wrong, linewidth=1.2, linestyle="--")
    for text in chart.texts:
        x = text.frame.x + (text.frame.width if text.right else 0)
        axes.text(x, text.frame.y + text.frame.height / 2, text.line.words, fontsize=text.line.letters * scale,
                  color=getattr(colours, text.role), ha="right" if text.right else "left", va="center_baseline",
                  fontweight="bold" if text.line.bold else "normal")  # fmt: skip
    axes.text(MARGIN, MARGIN / 2, messages.LEGEND, fontsize=LETTERS * scale, color=colours.soft, va="center_baseline")
    return figure


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
