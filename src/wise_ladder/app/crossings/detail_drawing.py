"""What stands beside the table: the chosen crossing as it is written, what it does to the ladder, its place in the file."""

from __future__ import annotations

from pathlib import PurePath
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.app import messages
from wise_ladder.app.canvas import Canvas, CellStyle, TextRun, cut, wrap
from wise_ladder.app.canvas_widget import heading
from wise_ladder.errors import LadderError
from wise_ladder.plan.edit_moves import fields
from wise_ladder.plan.included import text_of
from wise_ladder.plan.model import Guard, Move
from wise_ladder.semantics import descent
from wise_ladder.semantics.state import visible_screens
from wise_ladder.semantics.text import rung_text
from wise_ladder.walks.comparison import back_words

if TYPE_CHECKING:
    from wise_ladder.app.crossings.selection import CrossingSelection
    from wise_ladder.app.palette import Palette
    from wise_ladder.plan.crossings import Crossing
    from wise_ladder.semantics import State

WIDE = 44
MOST_RUNGS = 4


class PlanText(NamedTuple):
    """Where a plan comes from: its text and the name of its file."""

    text: str
    name: str


def draw(chart: CrossingSelection, plan_text: PlanText, palette: Palette, width: int, height: int) -> Canvas:
    """Draw the parts, one beneath the other, as far as there is room."""
    return _Chosen(chart, plan_text, palette, width, height).drawn()


class _Chosen:
    def __init__(self, chart: CrossingSelection, plan_text: PlanText, palette: Palette, width: int, height: int) -> None:
        self.chart, self.plan_text, self.palette = chart, plan_text, palette
        self.canvas = Canvas(width, height, palette.ground_colour)
        self.air = 1 if height >= 34 else 0
        self.row = 0

    def drawn(self) -> Canvas:
        crossing = self.chart.current
        if crossing is not None:
            self._written(crossing)
            self._ladders(crossing)
            if self.canvas.height - self.row > 5:
                self._file(crossing)
        self._doubts()
        return self.canvas

    def _heading(self, words: str, right: str = "") -> None:
        heading(self.canvas, self.palette, words, right, (0, self.row, self.canvas.width))
        self.row += 1 + self.air

    def _line(self, runs: list[TextRun]) -> None:
        if self.row < self.canvas.height:
            self.canvas.runs(0, self.row, runs, self.canvas.width)
        self.row += 1

    def _written(self, crossing: Crossing) -> None:
        palette, thing = self.palette, crossing.part
        what = "the move" if isinstance(thing, Move) else "the guard" if isinstance(thing, Guard) else "the redirect"
        cell = self.chart.cells[crossing.start, crossing.end]
        place = f"{cell.index(self.chart.chosen) + 1} of {len(cell)} here" if len(cell) > 1 else ""
        self._heading(what, place)
        try:
            written = fields(self.plan_text.text, thing.at)
        except LadderError:
            written = []
        known = {"when": 0, "to": 0, "name": 0, "if": 1}
        shown = [(field.key, field.text) for field in sorted(written, key=lambda field: known.get(field.key, 2))]
        if isinstance(thing, Move) and not any(key == "if" for key, _ in shown):
            shown.insert(1, ("if", "always"))
        label = 9 if self.canvas.width >= WIDE else 5
        for key, text in shown:
            lines = wrap(text, self.canvas.width - label, 3) or [""]
            strong = key in {"do", "send to", "ask", "block"}
            for number, line in enumerate(lines):
                runs = [TextRun((key if not number else "")[: label - 1].ljust(label), CellStyle(palette.muted))]
                self._line([*runs, TextRun(line, CellStyle(palette.text, bold=strong))])
        self.row += self.air

    def _ladders(self, crossing: Crossing) -> None:
        palette, taken = self.palette, self.chart.taken(crossing)
        if taken is None:
            states = self.chart.explored.states
            words = (
                messages.NOT_REACHED_AT_ALL if self.chart.explored.exhausted else messages.NOT_REACHED_YET.format(states=states)
            )
            for line in wrap(words if states else messages.LOOKING, self.canvas.width, 5):
                self._line([TextRun(line, CellStyle(palette.undecided))])
            self.row += self.air
            return
        before, after, tape = taken
        room = self.canvas.height - self.row
        if room >= 12 and self.canvas.width >= WIDE:
            self._pair(before, after)
        else:
            for mark, state in (("before", before), ("after", after)):
                rungs = [rung_text(rung.data) for rung in reversed(list(visible_screens(state.ladder)))]
                self._line(
                    [
                        TextRun(f"{mark:7}", CellStyle(palette.muted)),
                        TextRun(" ▮ ".join(rungs) or "the ground", CellStyle(palette.text)),
                    ]
                )
        back = back_words(descent(tape.plan, after, 1))
        self._line([TextRun("◀ ", CellStyle(palette.lands)), TextRun(f"Back then {back}", CellStyle(palette.text))])
        steps = messages.STEPS_FROM_START if len(tape.entries) > 1 else messages.STEP_FROM_START
        self._line([TextRun(cut(steps.format(count=len(tape.entries)), self.canvas.width), CellStyle(palette.muted))])
        self.row += self.air

    def _pair(self, before: State, after: State) -> None:
        width = (self.canvas.width - 6) // 2
        ladders = [list(visible_screens(state.ladder))[-MOST_RUNGS:] for state in (before, after)]
        high = max(len(ladder) for ladder in ladders) * 2 + 1
        was = {rung.serial for rung in ladders[0]}
        for place, (name, state, ladder) in enumerate(zip(("before", "after"), (before, after), ladders, strict=True)):
            x = place * (width + 6)
            self.canvas.text(x, self.row, name, CellStyle(self.palette.muted))
            ground = self.row + high
            self.canvas.fill(x, ground, width, 1, self.palette.grass_ground)
            self.canvas.text(x, ground, "╱" * width, CellStyle(self.palette.grass, self.palette.grass_ground))
            for number, rung in enumerate(ladder):
                self._board(x, ground - 2 * number - 2, width, rung_text(rung.data), top=number == len(ladder) - 1,
                            came=place == 1 and rung.serial not in was)  # fmt: skip
            if len(list(visible_screens(state.ladder))) > len(ladder):
                self.canvas.text(x + width - 3, ground, " ≈ ", CellStyle(self.palette.muted, self.palette.grass_ground))
        self.canvas.text(width + 3, self.row + high // 2 + 1, "→", CellStyle(self.palette.muted))
        self.row += high + 1 + self.air

    def _board(self, x: int, y: int, width: int, words: str, *, top: bool, came: bool) -> None:
        palette = self.palette
        for column in (x + 2, x + width - 3):
            self.canvas.text(column, y + 1, "▐", CellStyle(palette.rail))
        ground, colour = (palette.here_board, palette.here_text) if top else (palette.board, palette.board_text)
        self.canvas.fill(x, y, width, 1, ground)
        mark = " ▴" if came else ""
        self.canvas.text(x + 1, y, cut(words, width - 3 - len(mark)), CellStyle(colour, bold=top))
        if mark:
            self.canvas.text(x + width - 3, y, mark, CellStyle(colour, bold=True))

    def _file(self, crossing: Crossing) -> None:
        at, palette = crossing.part.at, self.palette
        lines = text_of(self.plan_text.text, at.file).splitlines()
        self._heading(messages.IN_THE_FILE, at.file or PurePath(self.plan_text.name).name)
        span = self.plan_text.text[at.start : at.end].rstrip().count("\n")
        around = 2 if self.air else 0
        shown = range(max(at.line - around - (1 if self.air else 0), 1), min(at.line + span + around, len(lines)) + 1)
        inset = min((len(line) - len(line.lstrip()) for number in shown if (line := lines[number - 1]).strip()), default=0)
        for number in shown:
            here = at.line <= number <= at.line + span
            if here:
                self.canvas.fill(0, self.row, self.canvas.width, 1, palette.selected)
            self._line([TextRun(f"{number:4} {'▌' if here else ' '}", CellStyle(palette.muted)),
                        TextRun(lines[number - 1][inset:], CellStyle(palette.text if here else palette.soft))])  # fmt: skip
        self.row += self.air

    def _doubts(self) -> None:
        doubts, palette = self.chart.plan.warnings, self.palette
        room = self.canvas.height - self.row
        if room < 2:
            return
        count = f"{len(doubts)}" if doubts else "none"
        self._heading(messages.WARNINGS, count)
        beside = max(4, *(len(doubt.at.short) for doubt in doubts)) + 2 if doubts else 0
        for number, doubt in enumerate(doubts):
            lines = wrap(doubt.what, self.canvas.width - beside - 2, 2)
            if self.row + len(lines) >= self.canvas.height and number < len(doubts) - 1:
                self._line([TextRun(messages.MORE_WARNINGS.format(count=len(doubts) - number), CellStyle(palette.muted))])
                return
            for place, line in enumerate(lines):
                at = doubt.at.short if not place else ""
                mark = TextRun("◌ " if not place else "  ", CellStyle(palette.undecided))
                self._line(
                    [
                        mark,
                        TextRun(line.ljust(self.canvas.width - beside - 2), CellStyle(palette.text)),
                        TextRun(at.rjust(beside), CellStyle(palette.muted)),
                    ]
                )
