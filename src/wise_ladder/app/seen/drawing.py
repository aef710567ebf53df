"""The picture of Seen: a lane for each thing that lasted, depth and weight under them, all on one axis of time."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.app import messages as app_messages
from wise_ladder.app.canvas import Canvas, CellStyle, cut, cut_middle
from wise_ladder.app.canvas_widget import heading
from wise_ladder.app.seen import messages
from wise_ladder.app.seen.lane_drawing import LaneDrawing
from wise_ladder.plan.tokens import size_phrase
from wise_ladder.safe import visible
from wise_ladder.semantics.log import SeenFor
from wise_ladder.semantics.text import clock_words, duration_text, entry_text, ladder_words
from wise_ladder.semantics.weight import first_limit
from wise_ladder.walks.lane_rows import lane_rows
from wise_ladder.walks.seen import seen_now

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from wise_ladder.app.palette import Palette
    from wise_ladder.app.seen.selection import SeenSelection
    from wise_ladder.semantics import State

ABOUT = 5
"""So many rows under the charts tell of the chosen moment."""
LOWEST, HIGHEST = 2, 8
"""How many rows a chart has, at least and at most."""
BETWEEN_LABELS = 9


def draw(selection: SeenSelection, palette: Palette, width: int, height: int) -> Canvas:
    """Draw a run, or two, in the room there is; what does not fit is counted."""
    return _Drawing(selection, palette, width, height).drawn()


class _Drawing:
    def __init__(self, selection: SeenSelection, palette: Palette, width: int, height: int) -> None:
        self.selection, self.palette, self.runs = selection, palette, selection.runs
        self.canvas = Canvas(width, height, palette.ground_colour)
        self.left = 20 if width >= 100 else 15
        self.right = width - 2
        self.begin, end = selection.window
        self.scale = (self.right - self.left) / max(end - self.begin, 1)
        self.columns = [[self.x(place) for place in places] for places in selection.axis.places]
        self.soft, self.muted = CellStyle(palette.soft), CellStyle(palette.muted)

    def drawn(self) -> Canvas:
        if not self.runs or not self.selection.last:
            self.canvas.text(2, 1, cut(messages.SEEN_HOW, self.canvas.width - 4), self.soft)
            return self.canvas
        canvas, stop = self.canvas, self.selection.stop
        heading(canvas, self.palette, messages.SEEN_HEADING, self._shown(), (1, 0, canvas.width - 2))
        about = canvas.height - ABOUT
        rows = lane_rows(self.runs)
        gap = 1 if canvas.height >= 28 else 0
        # The lanes come first; what they leave goes to the charts, and a low ladder needs little.
        most = min(max((about - 5 - len(rows)) // 2 - gap, LOWEST + 2 * gap), HIGHEST)
        depths, weights = self._values()
        limit = first_limit(self.runs[0].plan)
        weight = most if limit is not None or any(map(any, weights)) else 0
        depth = min(most, max(LOWEST, *map(max, depths)))
        charts = about - depth - gap - (weight + gap if weight else 0)
        if self.selection.differences:
            first = self.selection.axis.stops[self.selection.differences[0].stop]
            self._line(first.place, 2, charts - 1, "┊", CellStyle(self.palette.came, bold=True))
        self._line(stop.place, 3, about - gap, "│", CellStyle(self.palette.here, bold=True))
        self._axis(1)
        lanes = LaneDrawing(canvas, self.palette, self.columns, (self.left, self.right))
        self._ticks(lanes.draw(rows, 3, charts - 1, stop.counts))
        self._readings(depths, charts, depth, messages.SEEN_DEPTH, str, None)
        if weight:
            self._readings(weights, about - weight - gap, weight, messages.SEEN_WEIGHT, size_phrase, limit)
        self._tell(about)
        return canvas

    def _values(self) -> tuple[list[list[int]], list[list[int]]]:
        """Return the depths and the weights of each run."""
        readings = [run.readings for run in self.runs]
        return [[each.depth for each in some] for some in readings], [[each.weight for each in some] for some in readings]

    def _shown(self) -> str:
        zoom, other = self.selection.zoom, self.selection.other
        words = [messages.SEEN_ZOOMED.format(part=2**zoom)] if zoom else []
        return "   ".join([*([messages.TWO_RUNS.format(one=self.selection.name, other=other.name)] if other else []), *words])

    def x(self, place: int) -> int:
        """Return the column of a place on the axis; one outside the axis if it is not shown."""
        column = self.left + round((place - self.begin) * self.scale)
        return min(max(column, self.left - 1), self.right + 1)

    def _axis(self, row: int) -> None:
        """Write times along the top, and how long the folded waits are."""
        canvas, axis, next_free, last_words = self.canvas, self.selection.axis, self.left, ""
        for fold in axis.folds:
            first, last = self.x(fold.begin), self.x(fold.end)
            if self.left <= first and last <= self.right:
                words = f"≈{duration_text(fold.time)}≈"
                canvas.text(max((first + last - len(words)) // 2, self.left), row + 1, words, self.muted)
        for stop in axis.stops:
            x = self.x(stop.place)
            if x < next_free:
                continue
            words = clock_words(stop.time)
            if x <= self.right - len(words) + 1 and words != last_words:
                canvas.text(x, row, words, self.muted)
                next_free, last_words = x + max(len(words) + 2, BETWEEN_LABELS), words

    def _ticks(self, row: int) -> None:
        """Mark where each step of the run begins, with its number where there is room; a click goes there."""
        self.canvas.text(1, row, messages.SEEN_STEPS, self.soft)
        free = self.left
        for tick in self.runs[0].ticks:
            x = self.columns[0][tick.moment]
            if free <= x <= self.right:
                words = str(tick.number)
                self.canvas.text(x, row, words, CellStyle(self.palette.soft, click=f"app.go({tick.moment + 1})"))
                free = x + len(words) + 1

    def _levels(self, values: Sequence[int], columns: Sequence[int]) -> list[int]:
        """Return the highest value in each column; a value holds until the next."""
        levels = [0] * (self.right - self.left + 1)
        for number, value in enumerate(values):
            first = max(columns[number], self.left)
            last = columns[number + 1] if number + 1 < len(values) else self.right + 1
            for column in range(first, min(max(last, first + 1), self.right + 1)):
                levels[column - self.left] = max(levels[column - self.left], value)
        return levels

    def _readings(
        self, values: Sequence[Sequence[int]], row: int, rows: int, name: str, words: Callable[[int], str], limit: int | None
    ) -> None:
        """Draw a chart of steps; what only one of two runs reaches is drawn apart."""
        canvas, palette = self.canvas, self.palette
        highest = max([*(value for each in values for value in each), *([limit] if limit else [])], default=0) or 1
        canvas.text(1, row, name, self.soft)
        top = words(highest)
        canvas.text(self.left - 1 - len(top), row, top, self.muted)
        canvas.text(self.left - 2, row + rows - 1, "0", self.muted)
        if limit is not None:
            mark = row + rows - 1 - min(round(limit / highest * rows * 2) // 2, rows - 1)
            label = messages.SEEN_LIMIT.format(limit=words(limit))
            canvas.text(
                self.left + len(label) + 1, mark, "┄" * (self.right - self.left - len(label)), CellStyle(palette.broken)
            )
        levels = [self._levels(each, columns) for each, columns in zip(values, self.columns, strict=True)]
        for column, here in enumerate(levels[0], self.left):
            there = levels[1][column - self.left] if len(levels) > 1 else here
            heights = [max(round(value / highest * rows * 2), 1 if value else 0) for value in (here, there)]
            over = limit is not None and here >= limit
            for half in range(max(heights)):
                y = row + rows - 1 - half // 2
                if half < heights[0]:
                    colour = palette.broken if over else palette.twine if half < heights[1] else palette.came
                    canvas.half_cells(column, y, 1, colour, upper=bool(half % 2))
                elif half // 2 >= (heights[0] + 1) // 2:
                    canvas.text(column, y, "░", CellStyle(palette.came))
        if limit is not None:
            canvas.text(self.left, mark, label, CellStyle(palette.broken))

    def _line(self, place: int, top: int, bottom: int, glyph: str, style: CellStyle) -> None:
        """Draw a line through everything at a place, if it is shown."""
        x = self.x(place)
        if self.left <= x <= self.right:
            for row in range(top, bottom):
                self.canvas.text(x, row, glyph, style)

    def _tell(self, row: int) -> None:
        """Say what the chosen moment is: its time and step, the ladder, what happened, the facts; of two runs what differs."""
        canvas, palette, width = self.canvas, self.palette, self.canvas.width - 2
        canvas.text(1, row, "─" * width, CellStyle(palette.line))
        styles = (CellStyle(palette.here, bold=True), CellStyle(palette.text), self.soft, self.muted)
        told = self._of_two() if len(self.runs) > 1 else self._of_one()
        for number, (words, style) in enumerate(zip(told, styles, strict=True), 1):
            if row + number < canvas.height:
                # The top of a long ladder stands at its end.
                canvas.text(1, row + number, cut_middle(visible(words, lines=False), width), style)

    def _of_one(self) -> tuple[str, str, str, str]:
        run, moment = self.runs[0], self.selection.moment_of(0)
        if moment is None:
            return messages.BEFORE_ALL, "", "", ""
        happened = "; ".join(entry_text(each) for each in moment.log if not isinstance(each, SeenFor))
        facts = zip(run.plan.facts, moment.state.facts, strict=True)
        told = "   ".join(f"{fact.name} {value}" for fact, value in facts)
        return self._step(0), _ladder(moment.state), happened or app_messages.NOTHING_HAPPENED, told

    def _of_two(self) -> tuple[str, str, str, str]:
        moments = [self.selection.moment_of(run) for run in (0, 1)]
        told = [messages.BEFORE_ALL if each is None else _sees(each.state) for each in moments]
        difference = self.selection.difference
        differs = messages.SAME_HERE if difference is None else messages.DIFFERS_IN.format(words=difference.words)
        steps = list(dict.fromkeys(self._step(run) for run in (0, 1)))
        return "   ".join(steps), f"1  {told[0]}", f"2  {told[1]}", differs

    def _step(self, run: int) -> str:
        moment = self.selection.moment_of(run)
        if moment is None:
            return messages.BEFORE_ALL
        words = self.runs[run].ticks[moment.number - 1].words
        return messages.MOMENT.format(time=clock_words(self.selection.stop.time), number=moment.number, words=words)


def _ladder(state: State) -> str:
    return ladder_words(state) or messages.NO_RUNGS


def _sees(state: State) -> str:
    """Tell the ladder, and what is seen where that is not its top."""
    seen, ladder = seen_now(state), _ladder(state)
    return ladder if ladder.endswith(seen) else messages.SEES.format(seen=seen, ladder=ladder)
