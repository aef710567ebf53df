"""The map of a plan's screens and moves, and a path traced on it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Literal, NamedTuple

from matplotlib.patches import FancyBboxPatch, PathPatch, Polygon, Rectangle
from matplotlib.path import Path as Outline

from wise_ladder.drawings.map_layout import Frame, Size
from wise_ladder.drawings.map_pages import FOOT, HEAD, MARGIN
from wise_ladder.drawings.map_texts import BESIDE, HEADING, LEADING, LETTERS, group_title, legend
from wise_ladder.drawings.map_trace import NO_TRACE

if TYPE_CHECKING:
    from matplotlib.axes import Axes

    from wise_ladder.drawings.colours import Colours
    from wise_ladder.drawings.figure_file import Sheet
    from wise_ladder.drawings.map_layout import Curve
    from wise_ladder.drawings.map_pages import MapPage
    from wise_ladder.drawings.map_texts import TextBlock
    from wise_ladder.drawings.map_trace import MapTrace
    from wise_ladder.plan.screen_map import BoxKind, MapArrow, WayKind


class LineStyle(NamedTuple):
    """How a line is drawn: its width in points, and how long its dashes and gaps are; none: it is whole."""

    width: float
    dashes: tuple[float, ...] = ()


SOLID = LineStyle(0.9)
STYLES: dict[WayKind, LineStyle] = {
    "push": SOLID,
    "replace": LineStyle(0.9, (6, 2)),
    "clear, then push": LineStyle(2.0),
    "reach": LineStyle(0.9, (8, 2, 2, 2)),
    "switch": LineStyle(0.9, (8, 2, 2, 2)),
    "pop to": LineStyle(0.9, (3, 2)),
    "redirect": LineStyle(0.9, (1, 2)),
    "leave": LineStyle(2.0, (4, 2)),
    "open": LineStyle(0.5),
}
"""How the arrow of each kind of way is drawn; one of several kinds as the first of them."""
_HEAD_WIDTH = 5.0


def draw_map_page(axes: Axes, page: MapPage, colours: Colours, sheet: Sheet, trace: MapTrace = NO_TRACE) -> None:
    """Draw a page."""
    _Drawing(axes, page, colours, trace, sheet.room).draw()


class _Drawing:
    def __init__(self, axes: Axes, page: MapPage, colours: Colours, trace: MapTrace, room: Frame) -> None:
        self.axes, self.page, self.colours, self.trace, self.room = axes, page, colours, trace, room
        self.scale = page.scale
        inner = Size(room.width - 2 * MARGIN, room.height - HEAD - FOOT)
        width, height = page.layout.size
        self.x = room.x + MARGIN + max(inner.width - width * self.scale, 0) / 2
        self.y = room.y + FOOT + max(inner.height - height * self.scale, 0) / 2

    def draw(self) -> None:
        page, colours, room = self.page, self.colours, self.room
        self.axes.text(room.x + MARGIN, room.y + room.height - HEAD / 2, page.title, fontsize=HEADING, fontweight="bold",
                       color=colours.ink, va="center")  # fmt: skip
        for group, frame in sorted(page.layout.groups.items()):
            self.group(group, self.placed(frame))
        for number, arrow in enumerate(page.drawn.arrows):
            self.arrow(number, arrow)
        for box in page.drawn.boxes:
            self.box(box.key, box.kind, self.placed(page.layout.boxes[box.key]), page.boxes[box.key])
        self.legend()

    def placed(self, frame: Frame) -> Frame:
        """Return where a frame of the layout stands in the drawing."""
        scale = self.scale
        return Frame(self.x + frame.x * scale, self.y + frame.y * scale, frame.width * scale, frame.height * scale)

    def group(self, group: tuple[str, ...], frame: Frame) -> None:
        colours, fill = self.colours, self.colours.group if len(group) % 2 else self.colours.page
        self.axes.add_artist(Rectangle((frame.x, frame.y), frame.width, frame.height, facecolor=fill, edgecolor=colours.soft,
                                      linewidth=0.6))  # fmt: skip
        texts = group_title(group)
        at = Frame(frame.x + 4, frame.y + frame.height - 4 - texts.size.height * self.scale, 0, texts.size.height * self.scale)
        self.texts(texts, at, colours.soft, "left")

    def arrow(self, number: int, arrow: MapArrow) -> None:
        style = STYLES.get(arrow.lines[0].kind, SOLID)
        steps = self.trace.steps(arrow)
        colour = self.colours.soft if self.trace.end and not steps else self.colours.ink
        for curve in self.page.layout.curves[number]:
            self.curve(curve, LineStyle(style.width + 2.0, style.dashes) if steps else style, colour)
        self.texts(self.page.arrows[number], self.placed(self.page.layout.labels[number]), colour)

    def curve(self, curve: Curve, style: LineStyle, colour: str) -> None:
        points = [(self.x + x * self.scale, self.y + y * self.scale) for x, y in curve.points]
        codes = [Outline.MOVETO, *[Outline.CURVE4] * (len(points) - 1)]
        line: Literal["-"] | tuple[float, tuple[float, ...]] = (0, style.dashes) if style.dashes else "-"
        self.axes.add_artist(
            PathPatch(Outline(points, codes), fill=False, edgecolor=colour, linewidth=style.width, linestyle=line)
        )
        if curve.tip is not None:
            tip = self.x + curve.tip[0] * self.scale, self.y + curve.tip[1] * self.scale
            self.axes.add_artist(Polygon(_arrow_head(points[-1], tip, style.width), facecolor=colour, edgecolor="none"))

    def box(self, key: str, kind: BoxKind, frame: Frame, texts: TextBlock) -> None:
        colours = self.colours
        here = self.trace.end == key and kind != "elsewhere"
        faces = {"start": colours.badge, "ground": colours.ground, "redirect": colours.page, "anywhere": colours.page,
                 "elsewhere": colours.page}  # fmt: skip
        ink = colours.on_here if here else {"start": colours.on_badge, "elsewhere": colours.soft}.get(kind, colours.ink)
        look: Any = {
            "facecolor": colours.here if here else faces.get(kind, colours.board),
            "edgecolor": colours.grass if kind == "ground" else colours.edge,
            "linewidth": 2.0 if kind == "flow" or here else 0.8,
            "linestyle": "--" if kind in {"redirect", "anywhere", "elsewhere"} else "-",
            "hatch": "////" if kind == "ground" else None,
        }
        if kind in {"overlay", "start"}:
            shape = FancyBboxPatch((frame.x + 4, frame.y + 4), frame.width - 8, frame.height - 8, **look)
            shape.set_boxstyle("round", pad=4)
            self.axes.add_artist(shape)
        else:
            self.axes.add_artist(Rectangle((frame.x, frame.y), frame.width, frame.height, **look))
        self.texts(texts, frame, ink, backing=colours.ground if kind == "ground" else "")

    def texts(
        self, texts: TextBlock, frame: Frame, colour: str, align: Literal["left", "center"] = "center", backing: str = ""
    ) -> None:
        """Draw lines in the middle of a frame, or from its left; `backing` is the colour of what they stand on, if any."""
        x = frame.x + (frame.width / 2 if align == "center" else 0)
        y = frame.y + frame.height / 2 + sum(line.letters for line in texts.lines) * LEADING * self.scale / 2
        for line in texts.lines:
            step = line.letters * LEADING * self.scale
            face = self.colours.badge if line.badge else backing
            self.axes.text(x, y - step / 2, line.words, fontsize=line.letters * self.scale, ha=align, va="center_baseline",
                           color=self.colours.on_badge if line.badge else colour,
                           fontweight="bold" if line.bold else "normal",
                           bbox={"facecolor": face, "edgecolor": "none", "pad": 1.0} if face else None)  # fmt: skip
            y -= step

    def legend(self) -> None:
        """Say what the glyphs on this page mean, each beside a piece of its line."""
        x, y = self.room.x + MARGIN, self.room.y + FOOT / 2
        for entry in legend(self.page.drawn):
            if entry.sample:
                style = STYLES.get(entry.kind, SOLID)
                self.axes.plot([x, x + entry.sample], [y, y], color=self.colours.ink, linewidth=style.width,
                               solid_capstyle="butt", linestyle=(0, style.dashes) if style.dashes else "-")  # fmt: skip
            self.axes.text(x + entry.sample + BESIDE, y, entry.line.words, fontsize=LETTERS, color=self.colours.ink,
                           va="center_baseline")  # fmt: skip
            x += entry.width


def _arrow_head(start: tuple[float, float], tip: tuple[float, float], width: float) -> list[tuple[float, float]]:
    across = _HEAD_WIDTH / 2 + width / 2
    x, y = tip[0] - start[0], tip[1] - start[1]
    length = max((x * x + y * y) ** 0.5, 0.001)
    x, y = x / length * across, y / length * across
    return [tip, (start[0] - y, start[1] + x), (start[0] + y, start[1] - x)]
