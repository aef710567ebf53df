"""Where everything of a time chart stands: lanes for what lasted in one run or two, the steps, depth and weight on one axis."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.drawings import messages
from wise_ladder.drawings.map_layout import Frame, Size
from wise_ladder.drawings.map_texts import HEADING, LEADING, LETTERS, SLACK, TITLE, TextLine, shortened, width_of
from wise_ladder.drawings.placed_text import PlacedText, placed
from wise_ladder.plan.tokens import size_phrase
from wise_ladder.safe import visible
from wise_ladder.semantics.text import clock_words, duration_text
from wise_ladder.semantics.weight import first_limit
from wise_ladder.walks.lane_rows import LaneRow, lane_rows
from wise_ladder.walks.run_differences import run_differences
from wise_ladder.walks.time_axis import time_axis
from wise_ladder.walks.timeline import LANE_GLYPHS

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator, Sequence

    from wise_ladder.walks.run_differences import Difference
    from wise_ladder.walks.timeline import Stretch, Timeline

MARGIN, HEAD, LABELS = 24.0, 44.0, 130.0
"""The room around the chart, above it for the title, and left of it for the names of the lanes, in points."""
ROW, BAR, CHART = 18.0, 13.0, 80.0
"""How high a lane, a bar in it, and a chart is."""
GAP = 4.0


class PlacedBar(NamedTuple):
    """Where a stretch is drawn."""

    frame: Frame
    stretch: Stretch


class PlacedChart(NamedTuple):
    """A chart of steps: its frame, for each run the corners of what is under its line, the height of the limit, if any."""

    frame: Frame
    corners: tuple[tuple[tuple[float, float], ...], ...]
    limit: float | None = None


class TimeChart(NamedTuple):
    """The size of a page in points, and where everything stands; the origin is at the lower left."""

    size: Size
    title: str
    bars: tuple[PlacedBar, ...]
    texts: tuple[PlacedText, ...]
    charts: tuple[PlacedChart, ...]
    lines: tuple[float, ...]
    """Where thin lines run through all lanes: at the steps."""
    differs: float | None
    """Where a line marks the first difference of two runs."""
    lanes: Frame
    """Where the lanes are."""


def time_charts(
    runs: Sequence[Timeline], title: str, names: Sequence[str], paper: Size, *, lanes: bool = True
) -> list[TimeChart]:
    """Place a run, or two with these names over one another, on as many pages as it needs.

    The width of a page is that of the paper, its height what is needed. Without lanes only depth and weight are drawn.
    """
    return _Layout(runs, title, names, paper, lanes=lanes).pages()


class _Layout:
    def __init__(self, runs: Sequence[Timeline], title: str, names: Sequence[str], paper: Size, *, lanes: bool) -> None:
        self.runs, self.title, self.names, self.paper, self.axis = runs, title, names, paper, time_axis(*runs)
        self.rows = lane_rows(runs) if lanes else []
        self.left, self.right = MARGIN + LABELS, paper.width - MARGIN
        self.columns = [[self.x(place) for place in places] for places in self.axis.places]
        self.limit = first_limit(runs[0].plan)
        self.weighs = self.limit is not None or any(reading.weight for run in runs for reading in run.readings)
        self.charts = (2 if self.weighs else 1) * (CHART + ROW) + GAP
        self.found = run_differences(runs[0], runs[1], self.axis) if len(runs) > 1 else []
        self.head = HEAD + (ROW if len(runs) > 1 else 0)
        self.texts: list[PlacedText] = []
        self.bars: list[PlacedBar] = []

    def pages(self) -> list[TimeChart]:
        # Above and under the lanes stand the title, the axis with its folds, the steps and the legend.
        room = self.paper.height - self.head - 3 * ROW - MARGIN
        full, beside_charts = max(int(room // ROW), 1), int((room - self.charts) // ROW)
        blocks = [self.rows[start : start + full] for start in range(0, len(self.rows), full)]
        if not blocks or len(blocks[-1]) > beside_charts:
            # The charts get a page of their own.
            blocks.append([])
        return [self.page(block, number, len(blocks)) for number, block in enumerate(blocks, 1)]

    def page(self, rows: Sequence[LaneRow], number: int, count: int) -> TimeChart:
        self.texts, self.bars = [], []
        charts = self.charts if number == count else 0
        height = self.head + 2 * ROW + ROW * (len(rows) + 1) + charts + MARGIN
        title = self.title if count == 1 else messages.PAGE_OF.format(title=self.title, number=number, count=count)
        self.text(MARGIN, height - HEAD / 2 - HEADING / 2, TextLine(title, HEADING, bold=True))
        if len(self.runs) > 1:
            self.about_two(height - self.head)
        top = height - self.head - 2 * ROW
        self.time_line(top + ROW)
        y = top
        for row in rows:
            y -= ROW
            self.lane(row, y)
        y -= ROW
        self.steps(y)
        lanes = Frame(self.left, y + ROW, self.right - self.left, top - y - ROW)
        steps = tuple(self.columns[0][tick.moment] for tick in self.runs[0].ticks)
        differs = self.x(self.axis.stops[self.found[0].stop].place) if self.found else None
        placed = self.placed_charts(y) if charts else ()
        return TimeChart(
            Size(self.paper.width, height), title, tuple(self.bars), tuple(self.texts), placed, steps, differs, lanes
        )

    def about_two(self, y: float) -> None:
        """Say which run is which, and where they first differ."""
        words = messages.TWO_RUNS.format(one=self.names[0], other=self.names[1])
        self.text(MARGIN, y, TextLine(shortened(words, (self.right - MARGIN) / 2 - GAP)))
        told = shortened(self.first_difference(self.found), (self.right - MARGIN) / 2 / SLACK)
        self.text(self.right, y, TextLine(told), "back", right=True)

    def first_difference(self, found: Sequence[Difference]) -> str:
        if not found:
            return messages.NO_DIFFERENCE
        time = clock_words(self.axis.stops[found[0].stop].time)
        return messages.FIRST_DIFFERENCE.format(time=time, words=found[0].words)

    def placed_charts(self, y: float) -> tuple[PlacedChart, ...]:
        depths = [[each.depth for each in run.readings] for run in self.runs]
        y -= GAP
        charts = [self.chart(y - CHART, messages.DEPTH, depths, str, None)]
        if self.weighs:
            weights = [[each.weight for each in run.readings] for run in self.runs]
            charts.append(self.chart(y - 2 * CHART - ROW, messages.WEIGHT, weights, size_phrase, self.limit))
        return tuple(charts)

    def x(self, place: int) -> float:
        return self.left + place / self.axis.length * (self.right - self.left)

    def text(self, x: float, y: float, line: TextLine, role: str = "ink", *, right: bool = False) -> None:
        """Place a line with its lower left corner, or its lower right one."""
        self.texts.append(placed(x, y, line, role, right=right))

    def spread(self, y: float, written: Iterator[tuple[float, str]], role: str) -> None:
        """Write words from left to right, each only if there is room for it."""
        free = self.left
        for x, words in written:
            width = width_of(TextLine(words)) * SLACK
            if x >= free and x + width <= self.right:
                self.text(x, y, TextLine(words), role)
                free = x + width + GAP

    def time_line(self, y: float) -> None:
        stops = self.axis.stops
        changes = [stop for number, stop in enumerate(stops) if not number or stop.time != stops[number - 1].time]
        self.spread(y, ((self.x(stop.place), clock_words(stop.time)) for stop in changes), "soft")
        folds = ((self.x(fold.begin) + GAP, f"≈ {duration_text(fold.time)} ≈") for fold in self.axis.folds)
        self.spread(y - ROW, folds, "soft")

    def lane(self, row: LaneRow, y: float) -> None:
        mark = LABELS - 3 * GAP
        if not row.again:
            name = f"{LANE_GLYPHS.get(row.lane.kind, '')} {row.lane.name}".strip()
            self.text(MARGIN, y, TextLine(shortened(name, (mark if row.mark else LABELS) / SLACK - GAP)))
        if row.mark:
            self.text(MARGIN + mark, y, TextLine(row.mark), "soft")
        columns, stretches = self.columns[row.run], row.lane.stretches
        for number, stretch in enumerate(stretches):
            first, last = columns[stretch.first], self.right if stretch.open else columns[stretch.last]
            last = max(last, first + 1.5)
            self.bars.append(PlacedBar(Frame(first, y, last - first, BAR), stretch))
            following = columns[stretches[number + 1].first] if number + 1 < len(stretches) else self.right
            self.label(stretch, y, first, last, following)

    def label(self, stretch: Stretch, y: float, first: float, last: float, following: float) -> None:
        """Write the words of a stretch into its bar, else after it, if there is room."""
        line = TextLine(visible(stretch.label, lines=False), bold=stretch.flash)
        width, role = width_of(line) * SLACK, "wrong" if stretch.flash else "ink"
        if not line.words:
            return
        if stretch.kind not in {"timer", "call"} and not stretch.flash and width + 2 * GAP <= last - first:
            self.text(first + GAP, y + 1, line, "on_badge" if stretch.kind == "overlay" else role)
        elif last + GAP + width <= following:
            self.text(last + GAP, y + 1, line, role)

    def steps(self, y: float) -> None:
        self.text(MARGIN, y, TextLine(messages.STEPS))
        self.spread(y, ((self.columns[0][tick.moment], str(tick.number)) for tick in self.runs[0].ticks), "soft")

    def chart(
        self, y: float, name: str, values: Sequence[Sequence[int]], words: Callable[[int], str], limit: int | None
    ) -> PlacedChart:
        """Place a chart whose lower left corner is at the axis."""
        highest = max([*(value for each in values for value in each), *([limit] if limit is not None else [])], default=0) or 1
        self.text(MARGIN, y + CHART - TITLE * LEADING, TextLine(name))
        self.text(self.left - GAP, y + CHART - TITLE * LEADING, TextLine(words(highest)), "soft", right=True)
        self.text(self.left - GAP, y, TextLine("0"), "soft", right=True)
        scale = (CHART - LETTERS) / highest
        corners = tuple(self.corners(each, run, y, scale) for run, each in enumerate(values))
        frame = Frame(self.left, y, self.right - self.left, CHART)
        if limit is None:
            return PlacedChart(frame, corners)
        level = y + limit * scale
        self.text(self.right, level + 1, TextLine(messages.LIMIT.format(limit=words(limit))), "wrong", right=True)
        return PlacedChart(frame, corners, level)

    def corners(self, values: Sequence[int], run: int, y: float, scale: float) -> tuple[tuple[float, float], ...]:
        """Go along the line of a chart: a value holds until the next."""
        columns, corners = self.columns[run], [(self.left, y)]
        for moment, value in enumerate(values):
            last = columns[moment + 1] if moment + 1 < len(values) else self.right
            corners += [(columns[moment], y + value * scale), (last, y + value * scale)]
        return (*corners, (self.right, y))
