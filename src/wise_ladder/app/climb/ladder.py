"""The ladder, how each rung came, and down which line each Back goes: one drawing, because lines run across all of it."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.app.canvas import Canvas, Ink, Run, cut, wrap
from wise_ladder.app.climb.spacing import spaced
from wise_ladder.ladder import Phase
from wise_ladder.ladder.words import argument_words, face_words, length_words
from wise_ladder.plan.steps import event_said

if TYPE_CHECKING:
    from wise_ladder.app.climb.climber import Moment
    from wise_ladder.app.climb.spacing import Spacing
    from wise_ladder.app.palette import Palette
    from wise_ladder.ladder import Forecast, Rung

BACK = "app.press('back')"
MOST_HOPS = 12


class Lanes(NamedTuple):
    """Where in the width things stand: the `came` lane (0: none), first and last column of a board, the line, the texts."""

    came: int
    left: int
    right: int
    line: int
    words: int


def lanes(width: int) -> Lanes:
    """Share out a width."""
    came = 22 if width >= 90 else 0
    words = 27 if width >= 80 else max(width // 4 + 1, 11)
    left = came + (4 if came else 2)
    right = width - words - (10 if came else 7)
    return Lanes(came, left, right, right + 4, width - words)


def draw(moment: Moment, palette: Palette, width: int, height: int) -> Canvas:
    """Draw the ladder at a moment."""
    return _Drawing(moment, palette, width, height).drawn()


ROOMY = 28
"""From so many rows on there is room for headings, a tall figure and whole outlines."""


class _Drawing:
    def __init__(self, moment: Moment, palette: Palette, width: int, height: int) -> None:
        self.moment, self.palette = moment, palette
        self.canvas = Canvas(width, height, palette.ground_colour)
        self.lanes = lanes(width)
        self.roomy = height >= ROOMY
        self.sky = 2 if self.roomy else 0
        self.ground = height - (2 if self.roomy else 1)
        self.rungs = moment.rungs

    def drawn(self) -> Canvas:
        if self.roomy:
            self._headings()
        if not self.rungs:
            self._ground()
            self._nobody()
            return self.canvas
        notes = [len(self._notes(rung)) for rung in self.rungs]
        went = self.moment.went[: 2 if self.roomy else 1]
        figure = 3 if self.roomy else 2
        above = self.sky + figure + 2 + len(went) * (3 if self.roomy else 1)
        spacing = spaced(notes, self.ground, above)
        if min(spacing.rows.values()) < above - 1 and went:
            went = ()
        self._ground()
        self._rails()
        for place, row in spacing.rows.items():
            self._board(place, row)
        for place, row in spacing.rows.items():
            self._notes_under(place, row, spacing)
        self._band(spacing)
        self._hops(spacing)
        top = spacing.rows[len(self.rungs) - 1]
        self._figure(top, figure)
        self._went(went, top - figure - 2)
        return self.canvas

    # Ground, rails, boards

    def _ground(self) -> None:
        ink = Ink(self.palette.grass, self.palette.grass_ground)
        for row in range(self.ground, self.canvas.height):
            self.canvas.text(0, row, "╱" * self.canvas.width, ink)
        self.canvas.text(self.lanes.left, self.ground, " the ground ", ink._replace(bold=True))

    def _rails(self) -> None:
        for x in (self.lanes.left + 1, self.lanes.right - 2):
            for step, row in enumerate(range(self.sky, self.ground)):
                if step < 3:
                    self.canvas.text(x, row, "░▒▓"[step] * 2, Ink(self.palette.rail))
                else:
                    self.canvas.text(x, row, "▎ ", Ink(self.palette.rail_lit, self.palette.rail))

    def _headings(self) -> None:
        count = len(self.rungs)
        words = f"{count} rung{'s' if count > 1 else ''}" if count else ""
        parts = [
            (self.lanes.left - 1, self.lanes.right + 1, "ladder", words),
            (self.lanes.words, self.canvas.width - 1, "what Back does", ""),
        ]
        if self.lanes.came:
            parts.append((0, self.lanes.came - 1, "how it came", ""))
        for left, right, title, more in parts:
            x = self.canvas.text(left, 0, title, Ink(self.palette.soft, bold=True)) + 1
            end = right - len(more) - (1 if more else 0)
            self.canvas.text(x, 0, "─" * (end - x + 1), Ink(self.palette.line))
            self.canvas.text(end + 2, 0, more, Ink(self.palette.muted))

    def _board(self, place: int, row: int) -> None:
        rung, palette = self.rungs[place], self.palette
        here = rung is self.moment.top
        lands = self._lands_first(rung)
        left, right = (self.lanes.left - 1, self.lanes.right + 1) if here else (self.lanes.left, self.lanes.right)
        width = right - left + 1
        board = palette.here_board if here else palette.board
        edge = palette.lands if lands and not here else palette.here_edge if here else palette.board_edge
        text = palette.here_text if here else palette.board_text
        self.canvas.half(left, row - 1, width, edge, upper=False)
        self.canvas.fill(left, row, width, 1, board, click=BACK if lands else None)
        self.canvas.half(left, row + 1, width, palette.here_shadow if here else palette.board_shadow, upper=True)
        self.canvas.text(left, row, "▎", Ink(edge if not lands else palette.board_edge))
        mark = self._mark(rung, here=here)
        room = width - 8 - len(mark)
        name = Run(rung.face.screen, Ink(text, bold=True))
        self.canvas.runs(self.lanes.left + 4, row, (name, Run(f" {argument_words(rung.face)}", Ink(text))), room)
        colour = text if here else palette.came
        self.canvas.text(right - len(mark) - 1, row, mark, Ink(colour, bold=True))
        self._how_it_came(rung, row)

    def _mark(self, rung: Rung, *, here: bool) -> str:
        came = "" if rung.serial not in self.moment.new_serials else "▴ came" if self.roomy or not here else "▴"
        return f"{came}  ● here".strip() if here else came

    def _lands_first(self, rung: Rung) -> bool:
        hops = self.moment.descent.hops
        return bool(hops) and hops[0].outcome in {"lands", "stays"} and hops[0].serial == rung.serial

    def _how_it_came(self, rung: Rung, row: int) -> None:
        came = self.moment.how_it_came(rung.serial)
        if not self.lanes.came or came is None:
            return
        number, event = came
        words = f"{cut(event_said(event), self.lanes.came - 4)} {number:3}"
        self.canvas.text(self.lanes.came - len(words), row, words, Ink(self.palette.muted))

    def _band(self, spacing: Spacing) -> None:
        if spacing.fold is None:
            return
        left, width = self.lanes.left + 3, self.lanes.right - self.lanes.left - 5
        ink = Ink(self.palette.twine)
        for row in (spacing.fold.row - 1, spacing.fold.row + 1):
            self.canvas.text(left, row, "≈" * width, ink)
        words = f" {spacing.fold.rungs} rungs folded "
        self.canvas.fill(left, spacing.fold.row, width, 1, self.palette.ground_colour)
        self.canvas.text(left + 1, spacing.fold.row, words, Ink(self.palette.soft))

    # Notes

    def _notes(self, rung: Rung) -> list[tuple[Run, Run]]:
        """What hangs under a rung: its timers, and what it holds where that is not its first value."""
        palette = self.palette
        found: list[tuple[Run, Run]] = []
        for timer in self.moment.state.pending:
            if timer.serial == rung.serial:
                left = length_words(max(timer.due - self.moment.state.clock, 0))
                hidden = "" if rung is self.moment.top else ", while hidden"
                found.append((Run("◷ timer ", Ink(palette.soft)), Run(f"in {left}{hidden}", Ink(palette.muted))))
        screen = self.moment.plan.screen[rung.face.screen]
        for (name, value), fact in zip(rung.face.own, screen.holds, strict=True):
            if value != fact.values[0]:
                found.append((Run(f"{name} ", Ink(palette.soft)), Run(value, Ink(palette.text, bold=True))))
        return found

    def _notes_under(self, place: int, row: int, spacing: Spacing) -> None:
        below = max((other for other in spacing.rows.values() if other > row), default=self.ground)
        below = min((other for other in spacing.rows.values() if other > row), default=below)
        for number, note in enumerate(self._notes(self.rungs[place])):
            at = row + 2 + number
            if at >= below - 1 + (below == self.ground):
                break
            x = self.canvas.text(self.lanes.left + 6, at, "╰╴", Ink(self.palette.twine))
            self.canvas.runs(x, at, note, self.lanes.right - 3 - x)

    # Where each Back leads

    def _hops(self, spacing: Spacing) -> None:
        rows = {self.rungs[place].serial: row for place, row in spacing.rows.items()}
        here = self.rungs[-1].serial
        for number, hop in enumerate(self.moment.descent.hops[:MOST_HOPS], 1):
            start = rows.get(here)
            end = self.ground if hop.outcome in {"leaves", "goes away"} else rows.get(hop.serial)
            if hop.outcome in {"lands", "leaves", "goes away"} and start is not None and end is not None and end > start:
                self._line(start, end, heavy=number == 1)
                self._hop_words(number, hop, start, end)
            elif hop.outcome in {"stays", "refused"} and start is not None:
                words = "does nothing: a trap" if self.moment.descent.end == "trap" else "stays here"
                self._words(start + 1, [Run(f"Back {number} ", self._teal()), Run(f"↻ {words}", Ink(self.palette.broken))])
                break
            here = hop.serial

    def _line(self, start: int, end: int, *, heavy: bool) -> None:
        x, ink = self.lanes.line, Ink(self.palette.lands, bold=heavy)
        across, down, turn, back = ("━", "┃", "┓", "┛") if heavy else ("─", "│", "╮", "╯")
        first = start if heavy else start + 1
        if first < end or heavy:
            self.canvas.text(
                self.lanes.right + (3 if heavy else 1),
                first,
                across * (x - self.lanes.right - (3 if heavy else 1)) + turn,
                ink,
            )
        for row in range(first + 1, end):
            self.canvas.text(x, row, down, ink)
        self.canvas.text(self.lanes.right + 2, end, "◀" + across * (x - self.lanes.right - 3) + back, ink)

    def _hop_words(self, number: int, hop: Forecast, start: int, end: int) -> None:
        width = self.canvas.width - self.lanes.words
        back = Run(f"Back {number}", self._teal())
        if hop.outcome == "lands":
            lead = [Run("lands on ", Ink(self.palette.soft))] if width > 20 else []
            name = Run(hop.face.screen if hop.face else "", self._teal())
            arguments = Run(f" {argument_words(hop.face)}" if hop.face else "", Ink(self.palette.lands))
            target, last = [*lead, name, arguments], end
        else:
            words = "leaves the app" if hop.outcome == "leaves" else "to the background"
            target, last = [Run(words, Ink(self.palette.text, bold=True))], end - 1
        first = start if start + 1 >= last and number == 1 else start + (2 if number > 1 and last - start > 4 else 1)
        if first < last:
            self._words(first, [back])
            self._words(last, target)
        else:
            self._words(last, [back, Run("  ", Ink(self.palette.soft)), *target[-2:]])

    def _words(self, row: int, runs: list[Run]) -> None:
        self.canvas.runs(self.lanes.words, row, [run._replace(ink=run.ink._replace(click=BACK)) for run in runs],
                         self.canvas.width - self.lanes.words)  # fmt: skip

    def _teal(self) -> Ink:
        return Ink(self.palette.lands, bold=True)

    # Who stands there, and what went

    def _figure(self, board: int, rows: int) -> None:
        if self.moment.state.phase is Phase.OPEN:
            self._person((self.lanes.left + self.lanes.right) // 2, board - 1 - rows, rows)

    def _person(self, x: int, row: int, rows: int) -> None:
        ink = Ink(self.palette.figure, bold=True)
        self.canvas.text(x, row, "●", ink)
        self.canvas.text(x - 1, row + 1, "▟█▙", ink)
        if rows > 2:
            self.canvas.text(x - 1, row + 2, "▌ ▐", ink)

    def _went(self, went: tuple[Rung, ...], bottom: int) -> None:
        palette, left = self.palette, self.lanes.left + 3
        width = self.lanes.right - self.lanes.left - 5
        ink = Ink(palette.went)
        more = len(self.moment.went) - len(went)
        for number, rung in enumerate(reversed(went)):
            mark = "− went" if not more or number else f"− went, {more} more"
            row = bottom - 2 - number * 3 + 1 if self.roomy else bottom - number
            words = cut(face_words(rung.face), width - len(mark) - 5)
            inner = f" {words}{' ' * (width - 4 - len(words) - len(mark))}{mark} "
            if self.roomy:
                self.canvas.text(left, row - 1, "╭" + "╌" * (width - 2) + "╮", ink)
                self.canvas.text(left, row, "╎" + inner + "╎", ink)
                self.canvas.text(left, row + 1, "╰" + "╌" * (width - 2) + "╯", ink)
            else:
                self.canvas.text(left, row, "╎" + inner, ink)

    # Nothing to stand on

    def _nobody(self) -> None:
        palette, middle = self.palette, (self.lanes.left + self.lanes.right) // 2
        for row in range(max(self.ground - 10, 2), self.ground):
            between = "╌" * 9 if (self.ground - row) % 4 == 2 else " " * 9
            self.canvas.text(middle + 3, row, f"╎{between}╎", Ink(palette.went))
        self._person(middle - 8, self.ground - 3, 3)
        left = self.moment.entry is not None and bool(self.moment.before.ladder)
        title = "the app was left" if left else "the app does not run"
        row = max(self.ground - 16, 1)
        self.canvas.text(self.lanes.left, row, title, Ink(palette.text, bold=True))
        words = "r launches it again; ← steps back on the tape" if self.moment.place else "r launches it; F1 tells the rest"
        lines = wrap(words, self.lanes.right - self.lanes.left, 2)
        for number, line in enumerate(lines, 1):
            self.canvas.text(self.lanes.left, row + number, line, Ink(palette.soft))
