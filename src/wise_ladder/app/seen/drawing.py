"""The picture of Seen: a lane for each thing that lasted, depth and weight under them, all on one axis of time."""

from __future__ import annotations

from typing import TYPE_CHECKING

from rich.cells import cell_len

from wise_ladder.app import messages
from wise_ladder.app.canvas import Canvas, CellStyle, cut
from wise_ladder.app.canvas_widget import heading
from wise_ladder.plan.tokens import size_phrase
from wise_ladder.safe import visible
from wise_ladder.semantics.log import SeenFor
from wise_ladder.semantics.state import visible_screens
from wise_ladder.semantics.text import clock_words, duration_text, entry_text, rung_text
from wise_ladder.walks.timeline import LANE_GLYPHS

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from wise_ladder.app.palette import Palette
    from wise_ladder.app.seen.selection import SeenSelection
    from wise_ladder.walks.timeline import LaneKind, Moment, Stretch, Timeline

ABOUT = 5
"""So many rows under the charts tell of the chosen moment."""
BETWEEN_LABELS = 9


def draw(selection: SeenSelection, palette: Palette, width: int, height: int) -> Canvas:
    """Draw a run in the room there is; what does not fit is counted."""
    return _Drawing(selection, palette, width, height).drawn()


class _Drawing:
    def __init__(self, selection: SeenSelection, palette: Palette, width: int, height: int) -> None:
        self.selection, self.palette = selection, palette
        self.canvas = Canvas(width, height, palette.ground_colour)
        self.left = 20 if width >= 100 else 15
        self.right = width - 2
        self.begin, self.end = selection.window
        self.roomy = height >= 28
        self.soft, self.muted = CellStyle(palette.soft), CellStyle(palette.muted)

    def drawn(self) -> Canvas:
        drawn, moment = self.selection.drawn, self.selection.moment
        if drawn is None or moment is None:
            self.canvas.text(2, 1, cut(messages.SEEN_HOW, self.canvas.width - 4), self.soft)
            return self.canvas
        heading(self.canvas, self.palette, messages.SEEN_HEADING, self._shown(), (1, 0, self.canvas.width - 2))
        about = self.canvas.height - ABOUT
        chart = 4 if self.roomy else 2
        apart = chart + (1 if self.roomy else 0)
        charts = about - 2 * apart
        self._cursor(2, about - 1)
        self._axis(1)
        row = self._lanes(drawn, 3, charts - 1)
        self._ticks(drawn, row)
        self._readings([(each.moment, each.depth) for each in drawn.readings], charts, chart, messages.SEEN_DEPTH, str, None)
        limit = drawn.plan.memory.warn or drawn.plan.memory.dies
        weights = [(each.moment, each.weight) for each in drawn.readings]
        if limit is not None or any(each.weight for each in drawn.readings):
            self._readings(weights, charts + apart, chart, messages.SEEN_WEIGHT, size_phrase, limit)
        self._tell(drawn, moment, about)
        return self.canvas

    def _shown(self) -> str:
        if not self.selection.zoom:
            return ""
        return messages.SEEN_ZOOMED.format(part=2**self.selection.zoom)

    def x(self, moment: int) -> int:
        """Return the column of a moment, counted from 1; one outside the axis if it is not shown."""
        place = (self.selection.scale.places[moment] - self.begin) / max(self.end - self.begin, 1)
        return self.left + round(min(max(place, -0.01), 1.01) * (self.right - self.left))

    def _axis(self, row: int) -> None:
        """Write times along the top, and how long the folded waits are."""
        canvas, scale, next_free, last_words = self.canvas, self.selection.scale, self.left, ""
        for number, time in scale.folds:
            first, last = self.x(number - 1), self.x(number)
            if self.left <= first and last <= self.right:
                words = f"≈{duration_text(time)}≈"
                canvas.text(max((first + last - len(words)) // 2, self.left), row + 1, words, self.muted)
        for number, time in enumerate([0, *(moment.time for moment in self.selection.moments)]):
            x, words = self.x(number), clock_words(time)
            if next_free <= x <= self.right - len(words) + 1 and words != last_words:
                canvas.text(x, row, words, self.muted)
                next_free, last_words = x + max(len(words) + 2, BETWEEN_LABELS), words

    def _lanes(self, drawn: Timeline, row: int, last: int) -> int:
        """Draw the lanes; return the row after them."""
        lanes, room = drawn.lanes(), last - row
        shown = lanes if len(lanes) <= room else self._nearest(drawn, lanes, max(room - 1, 0))
        for kind, name in shown:
            label = cut(f"{LANE_GLYPHS.get(kind, '')} {visible(name, lines=False)}".strip(), self.left - 3)
            self.canvas.text(1, row, label, CellStyle(self.palette.text if kind == "screen" else self.palette.soft))
            stretches = [each for each in drawn.stretches if (each.kind, each.lane) == (kind, name)]
            self._lane(kind, stretches, row)
            row += 1
        if len(shown) < len(lanes):
            self.canvas.text(1, row, messages.MORE_LANES.format(count=len(lanes) - len(shown)), self.soft)
            row += 1
        return row

    def _nearest(self, drawn: Timeline, lanes: list[tuple[LaneKind, str]], most: int) -> list[tuple[LaneKind, str]]:
        """Return the lanes to show where not all have room: those with a flash, those nearest to the chosen moment."""
        now = self.selection.place + 1
        apart: dict[tuple[LaneKind, str], int] = {}
        for each in drawn.stretches:
            distance = -1 if each.flash else max(each.first - now, now - each.last, 0)
            apart[each.kind, each.lane] = min(distance, apart.get((each.kind, each.lane), distance))
        nearest = sorted(lanes, key=apart.__getitem__)[:most]
        return [lane for lane in lanes if lane in nearest]

    def _lane(self, kind: LaneKind, stretches: Sequence[Stretch], row: int) -> None:
        for number, stretch in enumerate(stretches):
            first, last = self.x(stretch.first), self.right if stretch.open else self.x(stretch.last)
            if last < self.left or first > self.right:
                continue
            first, last = max(first, self.left), min(last, self.right)
            following = self.x(stretches[number + 1].first) if number + 1 < len(stretches) else self.right + 1
            self._bar(kind, stretch, row, first, max(last - first, 1), following)

    def _bar(self, kind: LaneKind, stretch: Stretch, row: int, x: int, width: int, following: int) -> None:
        """Draw one stretch: its words in it if there is room, else beside it."""
        palette, canvas = self.palette, self.canvas
        look = {
            "screen": CellStyle(palette.board_text, palette.board),
            "cover": CellStyle(palette.soft, palette.selected),
            "ground": CellStyle(palette.grass, palette.grass_ground),
            "question": CellStyle(palette.asks, palette.asks_ground, bold=True),
            "overlay": CellStyle(palette.key_text, palette.key),
            "timer": CellStyle(palette.soft),
            "call": CellStyle(palette.soft),
        }[kind]
        if stretch.flash:
            look = CellStyle(palette.ground_colour, palette.broken, bold=True)
        fill = {"ground": "╱", "timer": "─", "call": "─"}.get(kind, " ")
        canvas.text(x, row, fill * width, look)
        words = visible(stretch.label, lines=False)
        if kind in {"timer", "call"}:
            end = "→" if stretch.open else "●" if stretch.fulfilled else "○"
            canvas.text(x + width - 1, row, end, look)
        elif cell_len(words) + 1 <= width:
            canvas.text(x + 1, row, words, look)
            return
        room = min(following, self.right + 1) - x - width - 1
        if cell_len(words) <= room:
            style = CellStyle(palette.broken, bold=True) if stretch.flash else self.muted
            canvas.text(x + width + 1, row, words, style)

    def _ticks(self, drawn: Timeline, row: int) -> None:
        """Mark where each step begins, with its number where there is room."""
        self.canvas.text(1, row, messages.SEEN_STEPS, self.soft)
        free = self.left
        for tick in drawn.ticks:
            x = self.x(tick.moment)
            if not self.left <= x <= self.right:
                continue
            words = str(tick.number)
            if x >= free:
                self.canvas.text(x, row, words, self.soft)
                free = x + len(words) + 1

    def _readings(
        self, values: Sequence[tuple[int, int]], row: int, rows: int, name: str, words: Callable[[int], str], limit: int | None
    ) -> None:
        """Draw a chart of steps: a value holds until the next."""
        canvas, palette = self.canvas, self.palette
        highest = max([value for _, value in values] + ([limit] if limit else []), default=0) or 1
        canvas.text(1, row, name, self.soft)
        top = words(highest)
        canvas.text(self.left - 1 - len(top), row, top, self.muted)
        canvas.text(self.left - 2, row + rows - 1, "0", self.muted)
        for moment, value in values:
            last = self.x(moment + 1) if moment + 1 < len(values) else self.right
            first, last = max(self.x(moment), self.left), min(last, self.right)
            over = limit is not None and value >= limit
            halves = round(value / highest * rows * 2)
            for column in range(first, max(last, first + 1) if first <= self.right else first):
                for half in range(max(halves, 1 if value else 0)):
                    canvas.half_cells(
                        column, row + rows - 1 - half // 2, 1, palette.broken if over else palette.twine, upper=bool(half % 2)
                    )
        if limit is not None:
            y = row + rows - 1 - min(round(limit / highest * rows * 2) // 2, rows - 1)
            label = messages.SEEN_LIMIT.format(limit=words(limit))
            canvas.text(self.right - len(label), y, label, CellStyle(palette.broken))

    def _cursor(self, top: int, bottom: int) -> None:
        """Draw a line through everything at the chosen moment."""
        x = min(max(self.x(self.selection.place + 1), self.left), self.right)
        for row in range(top, bottom):
            self.canvas.text(x, row, "│", CellStyle(self.palette.here, bold=True))

    def _tell(self, drawn: Timeline, moment: Moment, row: int) -> None:
        """Say what the chosen moment is: its time and step, the ladder, what happened, the facts."""
        canvas, palette, width = self.canvas, self.palette, self.canvas.width - 2
        canvas.text(1, row, "─" * width, CellStyle(palette.line))
        words_of_step = drawn.ticks[moment.number - 1].words
        step = messages.MOMENT.format(time=clock_words(moment.time), number=moment.number, words=words_of_step)
        ladder = " > ".join(rung_text(rung.data) for rung in visible_screens(moment.state.ladder)) or messages.NO_RUNGS
        happened = (
            "; ".join(entry_text(each) for each in moment.log if not isinstance(each, SeenFor)) or messages.NOTHING_HAPPENED
        )
        facts = zip(drawn.plan.facts, moment.state.facts, strict=True)
        told = "   ".join(f"{fact.name} {value}" for fact, value in facts)
        styles = (CellStyle(palette.here, bold=True), CellStyle(palette.text), self.soft, self.muted)
        for number, (words, style) in enumerate(zip((step, ladder, happened, told), styles, strict=True), 1):
            if row + number < canvas.height:
                canvas.text(1, row + number, cut(visible(words, lines=False), width), style)
