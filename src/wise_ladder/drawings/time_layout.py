"""Where everything of a time chart stands: a lane for each thing that lasted, the steps, depth and weight on one axis."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.drawings import messages
from wise_ladder.drawings.map_layout import Frame, Size
from wise_ladder.drawings.map_texts import HEADING, LEADING, LETTERS, SLACK, TITLE, TextLine, shortened, width_of
from wise_ladder.plan.tokens import size_phrase
from wise_ladder.safe import visible
from wise_ladder.semantics.text import clock_words, duration_text
from wise_ladder.walks.time_scale import time_scale
from wise_ladder.walks.timeline import LANE_GLYPHS

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator, Sequence

    from wise_ladder.walks.timeline import Stretch, Timeline

MARGIN, HEAD, LABELS = 24.0, 44.0, 130.0
"""The room around the chart, above it for the title, and left of it for the names of the lanes, in points."""
ROW, BAR, CHART = 18.0, 13.0, 80.0
"""How high a lane, a bar in it, and a chart is."""
GAP = 4.0


class PlacedText(NamedTuple):
    """A line of text, the room it takes, the role of its colour, and whether it is written from the right."""

    frame: Frame
    line: TextLine
    role: str = "ink"
    right: bool = False


class PlacedBar(NamedTuple):
    """Where a stretch is drawn."""

    frame: Frame
    stretch: Stretch


class PlacedChart(NamedTuple):
    """A chart of steps: its frame, the corners of what is under its line, and the height of the limit, None: there is none."""

    frame: Frame
    corners: tuple[tuple[float, float], ...]
    limit: float | None = None


class TimeChart(NamedTuple):
    """The size of a chart in points, and where everything stands; the origin is at the lower left."""

    size: Size
    title: str
    bars: tuple[PlacedBar, ...]
    texts: tuple[PlacedText, ...]
    charts: tuple[PlacedChart, ...]
    lines: tuple[float, ...]
    """Where thin lines run through all lanes: at the steps."""
    lanes: Frame
    """Where the lanes are."""


def time_chart(drawn: Timeline, title: str, width: float, *, lanes: bool = True) -> TimeChart:
    """Place a run in so many points of width; without lanes only depth and weight are drawn."""
    return _Layout(drawn, title, width, lanes=lanes).placed()


class _Layout:
    def __init__(self, drawn: Timeline, title: str, width: float, *, lanes: bool) -> None:
        self.drawn, self.title, self.width, self.scale = drawn, title, width, time_scale(drawn)
        self.names = drawn.lanes() if lanes else []
        self.left, self.right = MARGIN + LABELS, width - MARGIN
        self.limit = drawn.plan.memory.warn or drawn.plan.memory.dies
        self.weighs = self.limit is not None or any(reading.weight for reading in drawn.readings)
        charts = 2 if self.weighs else 1
        self.height = HEAD + 2 * ROW + ROW * (len(self.names) + 1) + charts * (CHART + ROW) + MARGIN
        self.texts: list[PlacedText] = []
        self.bars: list[PlacedBar] = []

    def placed(self) -> TimeChart:
        self.text(MARGIN, self.height - HEAD / 2 - HEADING / 2, TextLine(self.title, HEADING, bold=True))
        top = self.height - HEAD - 2 * ROW
        self.axis(top + ROW)
        row = top
        for kind, name in self.names:
            row -= ROW
            self.text(MARGIN, row, TextLine(shortened(f"{LANE_GLYPHS.get(kind, '')} {name}".strip(), LABELS - GAP)))
            self.lane(row, [each for each in self.drawn.stretches if (each.kind, each.lane) == (kind, name)])
        row -= ROW
        self.steps(row)
        lanes = Frame(self.left, row + ROW, self.right - self.left, top - row - ROW)
        readings = self.drawn.readings
        charts = [self.chart(row - CHART, messages.DEPTH, [each.depth for each in readings], str, None)]
        if self.weighs:
            weights = [each.weight for each in readings]
            charts.append(self.chart(row - 2 * CHART - ROW, messages.WEIGHT, weights, size_phrase, self.limit))
        steps = tuple(self.x(tick.moment) for tick in self.drawn.ticks)
        return TimeChart(
            Size(self.width, self.height), self.title, tuple(self.bars), tuple(self.texts), tuple(charts), steps, lanes
        )

    def x(self, moment: int) -> float:
        return self.left + self.scale.places[moment] / self.scale.length * (self.right - self.left)

    def text(self, x: float, y: float, line: TextLine, role: str = "ink", *, right: bool = False) -> None:
        """Place a line with its lower left corner, or its lower right one."""
        line = line._replace(words=visible(line.words, lines=False))
        width, height = width_of(line) * SLACK, line.letters * LEADING
        self.texts.append(PlacedText(Frame(x - width if right else x, y, width, height), line, role, right))

    def spread(self, y: float, written: Iterator[tuple[float, str]], role: str) -> None:
        """Write words from left to right, each only if there is room for it."""
        free = self.left
        for x, words in written:
            width = width_of(TextLine(words)) * SLACK
            if x >= free and x + width <= self.right:
                self.text(x, y, TextLine(words), role)
                free = x + width + GAP

    def axis(self, y: float) -> None:
        times = [0, *(moment.time for moment in self.drawn.moments)]
        changes = [number for number, time in enumerate(times) if not number or time != times[number - 1]]
        self.spread(y, ((self.x(number), clock_words(times[number])) for number in changes), "soft")
        folds = ((self.x(number - 1) + GAP, f"≈ {duration_text(time)} ≈") for number, time in self.scale.folds)
        self.spread(y - ROW, folds, "soft")

    def lane(self, row: float, stretches: Sequence[Stretch]) -> None:
        for number, stretch in enumerate(stretches):
            first, last = self.x(stretch.first), self.right if stretch.open else self.x(stretch.last)
            last = max(last, first + 1.5)
            self.bars.append(PlacedBar(Frame(first, row, last - first, BAR), stretch))
            following = self.x(stretches[number + 1].first) if number + 1 < len(stretches) else self.right
            line = TextLine(visible(stretch.label, lines=False), bold=stretch.flash)
            width, role = width_of(line) * SLACK, "wrong" if stretch.flash else "ink"
            if not line.words:
                continue
            if stretch.kind not in {"timer", "call"} and not stretch.flash and width + 2 * GAP <= last - first:
                self.text(first + GAP, row + 1, line, "on_badge" if stretch.kind == "overlay" else role)
            elif last + GAP + width <= following:
                self.text(last + GAP, row + 1, line, role)

    def steps(self, y: float) -> None:
        self.text(MARGIN, y, TextLine(messages.STEPS))
        self.spread(y, ((self.x(tick.moment), str(tick.number)) for tick in self.drawn.ticks), "soft")

    def chart(self, y: float, name: str, values: Sequence[int], words: Callable[[int], str], limit: int | None) -> PlacedChart:
        """Place a chart whose lower left corner is at the axis."""
        highest = max([*values, *([limit] if limit is not None else [])], default=0) or 1
        self.text(MARGIN, y + CHART - TITLE * LEADING, TextLine(name))
        self.text(self.left - GAP, y + CHART - TITLE * LEADING, TextLine(words(highest)), "soft", right=True)
        self.text(self.left - GAP, y, TextLine("0"), "soft", right=True)
        corners = [(self.left, y)]
        for moment, value in enumerate(values):
            level = y + value / highest * (CHART - LETTERS)
            last = self.x(moment + 1) if moment + 1 < len(values) else self.right
            corners += [(self.x(moment), level), (last, level)]
        corners.append((self.right, y))
        frame = Frame(self.left, y, self.right - self.left, CHART)
        if limit is None:
            return PlacedChart(frame, tuple(corners))
        level = y + limit / highest * (CHART - LETTERS)
        self.text(self.right, level + 1, TextLine(messages.LIMIT.format(limit=words(limit))), "wrong", right=True)
        return PlacedChart(frame, tuple(corners), level)
