"""The ladder, how each rung came, and down which line each Back goes: one drawing, because lines run across all of it."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from rich.cells import cell_len

from wise_ladder.app import messages
from wise_ladder.app.canvas import Canvas, CellStyle, TextRun, cut, wrap
from wise_ladder.app.canvas_widget import heading
from wise_ladder.app.climb.in_front import overlay_glyph
from wise_ladder.app.climb.row_layout import spaced
from wise_ladder.app.climb.tab_labels import tab_labels
from wise_ladder.plan.steps import event_text
from wise_ladder.semantics import Phase
from wise_ladder.semantics.apply_world import OF_RUNGS
from wise_ladder.semantics.log import Closed
from wise_ladder.semantics.text import argument_words, duration_text, rung_text
from wise_ladder.trials.marks import Marks

if TYPE_CHECKING:
    from wise_ladder.app.climb.row_layout import RowLayout
    from wise_ladder.app.palette import Palette
    from wise_ladder.app.tape_cursor import Snapshot
    from wise_ladder.plan.model import Fact
    from wise_ladder.semantics import Forecast, Rung
    from wise_ladder.semantics.guard_status import GuardStatus

BACK = "app.press('back')"
MOST_HOPS = 12
SHORT_BOARD = 30
"""A board with fewer columns has no room for the words "came" and "here": it shows their glyphs alone."""


class Columns(NamedTuple):
    """Where in the width things stand: the `came` lane (0: none), first and last column of a board, the line, the texts."""

    came: int
    left: int
    right: int
    line: int
    words: int


def lanes(width: int) -> Columns:
    """Share out a width."""
    came = 22 if width >= 90 else 0
    words = 27 if width >= 80 else max(width // 4 + 1, 11)
    left = came + (4 if came else 2)
    right = width - words - (9 if came else 7)
    return Columns(came, left, right, right + 4, width - words)


def draw(moment: Snapshot, palette: Palette, width: int, height: int, marks: Marks | None = None) -> Canvas:
    """Draw the ladder at a moment; `marks`: what of it is not so on the ladder beside it, which has its own heading."""
    return _Drawing(moment, palette, width, height, marks).drawn()


FIGURE_ROWS, OUTLINE_ROWS = 3, 10
ROOMY = 28
"""From so many rows on there is room for headings, a tall figure and whole outlines."""


class _Drawing:
    def __init__(self, moment: Snapshot, palette: Palette, width: int, height: int, marks: Marks | None) -> None:
        self.moment, self.palette, self.marks, self.headed = moment, palette, marks or Marks(), marks is None
        self.canvas = Canvas(width, height, palette.ground_colour)
        self.lanes = lanes(width)
        self.roomy = height >= ROOMY
        self.sky = 2 if self.roomy and self.headed else 0
        self.ground = height - (2 if self.roomy else 1)
        self.rungs = moment.rungs

    def drawn(self) -> Canvas:
        not_started = self.moment.state.phase is Phase.OUTSIDE and not self.moment.position
        if self.roomy and self.headed and not not_started:
            self._headings()
        if not self.rungs:
            self._ground()
            if not_started:
                self._not_started()
            else:
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
        self._rails(spacing)
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
        ink = CellStyle(self.palette.grass, self.palette.grass_ground)
        for row in range(self.ground, self.canvas.height):
            self.canvas.text(0, row, "╱" * self.canvas.width, ink)
        self.canvas.text(self.lanes.left, self.ground, " the ground ", ink._replace(bold=True))

    def _rails(self, spacing: RowLayout) -> None:
        """Draw two rails up from the ground; those of a ladder inside stand closer, on the board of its flow or tabs."""
        rows = sorted((row, self._inset(self.rungs[place])) for place, row in spacing.rows.items())
        inset = rows[0][1]
        for step, row in enumerate(range(self.sky, self.ground)):
            while rows and rows[0][0] <= row:
                inset = rows.pop(0)[1]
            for x in (self.lanes.left + 1 + inset, self.lanes.right - 2 - inset):
                if step < 3:
                    self.canvas.text(x, row, "░▒▓"[step] * 2, CellStyle(self.palette.rail))
                else:
                    self.canvas.text(x, row, "▎ ", CellStyle(self.palette.rail_lit, self.palette.rail))

    def _inset(self, rung: Rung) -> int:
        return min(2 * self.moment.levels[rung.serial], 6)

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
            heading(self.canvas, self.palette, title, more, (left, 0, right + 1 - left))

    def _board(self, place: int, row: int) -> None:
        rung, palette = self.rungs[place], self.palette
        here = rung is self.moment.top
        lands = self._lands_first(rung)
        inset = self._inset(rung) - (1 if here else 0)
        left, right = self.lanes.left + inset, self.lanes.right - inset
        width = right - left + 1
        board = palette.here_board if here else palette.board
        edge = palette.lands if lands and not here else palette.here_edge if here else palette.board_edge
        text = palette.here_text if here else palette.board_text
        self.canvas.half_cells(left, row - 1, width, edge, upper=False)
        self.canvas.fill(left, row, width, 1, board, click=BACK if lands else None)
        self.canvas.half_cells(left, row + 1, width, palette.here_shadow if here else palette.board_shadow, upper=True)
        self.canvas.text(left, row, "▎", CellStyle(edge if not lands else palette.board_edge))
        mark = self._mark(rung, here=here)
        room = width - 5 - here - (len(mark) + 2 if mark else 0)
        name = TextRun(rung.data.screen, CellStyle(text, bold=True))
        arguments = TextRun(f" {argument_words(rung.data)}".rstrip(), CellStyle(text))
        words = (name, arguments, *self._tabs(rung, text, room - len(name.text) - len(arguments.text)))
        self.canvas.runs(left + (4 + (1 if here else 0)), row, words, room)
        colour = text if here else palette.came
        self.canvas.text(right - len(mark) - 1, row, mark, CellStyle(colour, bold=True))
        self._how_it_came(rung, row)

    def _tabs(self, rung: Rung, colour: str, room: int) -> list[TextRun]:
        """List the tabs of a rung with a mark for each rung they hold, the front one lit; of a flow how many it holds.

        `room`: the columns for all of them.
        """
        screen = self.moment.plan.screen[rung.data.screen]
        if not rung.inner:
            return []
        if not screen.tabs:
            return [TextRun(f"  flow {'▮' * len(rung.front)}", CellStyle(colour))]
        front = rung.data.tab_order[-1]
        labels = tab_labels([tab for tab, _ in screen.inside], [len(ladder) for ladder in rung.inner], front, room)
        spare = max(room - sum(map(cell_len, labels)), 0)
        gap = TextRun(" " * min(spare // len(labels), 2), CellStyle(colour))
        runs: list[TextRun] = []
        for place, label in enumerate(labels):
            ink = CellStyle(colour, self.palette.board_edge if place == front else None, bold=place == front)
            runs += [gap, TextRun(label, ink)]
        return runs

    def _mark(self, rung: Rung, *, here: bool) -> str:
        short = self.lanes.right - self.lanes.left < SHORT_BOARD
        came = "" if rung.serial not in self.moment.new_serials else "▴" if short or (here and not self.roomy) else "▴ came"
        marks = ("≠" if rung.serial in self.marks.rungs else "", came, "" if not here else "●" if short else "● here")
        return ("  " if not short else " ").join(filter(None, marks))

    def _lands_first(self, rung: Rung) -> bool:
        hops = self.moment.descent.hops
        return bool(hops) and hops[0].outcome in {"lands", "stays"} and hops[0].serial == rung.serial

    def _how_it_came(self, rung: Rung, row: int) -> None:
        came = self.moment.how_it_came(rung.serial)
        if not self.lanes.came or came is None:
            return
        number, event = came
        words = f"{cut(event_text(event), self.lanes.came - 4)} {number:3}"
        self.canvas.text(self.lanes.came - len(words), row, words, CellStyle(self.palette.muted))

    def _band(self, spacing: RowLayout) -> None:
        if spacing.fold is None:
            return
        left, width = self.lanes.left + 3, self.lanes.right - self.lanes.left - 5
        ink = CellStyle(self.palette.twine)
        for row in (spacing.fold.row - 1, spacing.fold.row + 1):
            self.canvas.text(left, row, "≈" * width, ink)
        words = f" {spacing.fold.rungs} rung{'s' if spacing.fold.rungs > 1 else ''} folded "
        self.canvas.fill(left, spacing.fold.row, width, 1, self.palette.ground_colour)
        self.canvas.text(left + 1, spacing.fold.row, words, CellStyle(self.palette.soft))

    # Notes

    def _notes(self, rung: Rung) -> list[tuple[TextRun, TextRun]]:
        """What hangs under a rung: its timers, and what it holds if that is not its first value."""
        palette = self.palette
        notes: list[tuple[TextRun, TextRun]] = []
        if rung is self.moment.top and self.moment.question is not None:
            asks = CellStyle(palette.asks, palette.asks_ground, bold=True)
            notes.append((TextRun(f"? {self.moment.question.text or self.moment.question.name} ", asks), TextRun("", asks)))
        if rung is self.moment.top and self.moment.state.begun is not None:
            notes.append((TextRun(messages.BEGUN, CellStyle(palette.asks, bold=True)), TextRun("", CellStyle(palette.asks))))
        screen = self.moment.plan.screen[rung.data.screen]
        layers = [*rung.overlays, *(self.moment.state.overlays if rung is self.moment.top and not screen.foreign else ())]
        for layer in layers:
            overlay = self.moment.plan.overlay[layer.name]
            ink = CellStyle(palette.asks if overlay.modal else palette.soft, bold=overlay.modal)
            takes = {"closes": ", takes Back", "blocked": ", blocks Back", "passes": ""}[overlay.back]
            notes.append(
                (
                    TextRun(f"{overlay_glyph(overlay)} {layer.name} ", ink),
                    TextRun(f"{overlay.kind}{takes}", CellStyle(palette.muted)),
                )
            )
            notes += self._facts(layer.facts, overlay.holds)
        notes += [self._guard_note(standing) for standing in self.moment.guards if standing.serial == rung.serial]
        notes += [
            (TextRun("↲ awaits ", CellStyle(palette.soft)), TextRun(mark.name, CellStyle(palette.text)))
            for mark in rung.data.awaits
        ]
        for timer in self.moment.state.deadlines:
            if timer.serial == rung.serial and timer.kind in OF_RUNGS:
                left = duration_text(max(timer.due - self.moment.state.clock, 0))
                hidden = "" if rung.serial in self.moment.visible else ", while hidden"
                notes.append(
                    (TextRun("◷ timer ", CellStyle(palette.soft)), TextRun(f"in {left}{hidden}", CellStyle(palette.muted)))
                )
        if screen.foreign:
            notes.append((TextRun(messages.ANOTHER_APP, CellStyle(palette.soft)), TextRun("", CellStyle(palette.soft))))
        return notes + self._facts(rung.data.facts, screen.holds)

    def _facts(self, held: tuple[tuple[str, str], ...], declared: tuple[Fact, ...]) -> list[tuple[TextRun, TextRun]]:
        """Tell the facts of a rung or an overlay that have not their first values."""
        palette = self.palette
        turned = (each for each, fact in zip(held, declared, strict=True) if each[1] != fact.values[0])
        return [
            (TextRun(f"{name} ", CellStyle(palette.soft)), TextRun(value, CellStyle(palette.text, bold=True)))
            for name, value in turned
        ]

    def _guard_note(self, standing: GuardStatus) -> tuple[TextRun, TextRun]:
        palette, guard = self.palette, standing.guard
        does = {"ask": "asks", "block": "blocks", "do": messages.DOES_INSTEAD}[guard.decision]
        glyph = "◈" if guard.at_press else "◇" if not standing.armed else "⊘" if guard.decision == "block" else "◆"
        colour = palette.undecided if guard.at_press else palette.asks if standing.armed else palette.muted
        when = messages.DECIDES_AT_PRESS if guard.at_press else does if standing.armed else "not armed"
        return TextRun(f"{glyph} {guard.name} ", CellStyle(colour, bold=standing.armed)), TextRun(
            when, CellStyle(palette.muted)
        )

    def _notes_under(self, place: int, row: int, spacing: RowLayout) -> None:
        below = max((other for other in spacing.rows.values() if other > row), default=self.ground)
        below = min((other for other in spacing.rows.values() if other > row), default=below)
        for number, note in enumerate(self._notes(self.rungs[place])):
            at = row + 2 + number
            if at >= below - 1 + (below == self.ground):
                break
            x = self.canvas.text(self.lanes.left + 6, at, "╰╴", CellStyle(self.palette.twine))
            self.canvas.runs(x, at, note, self.lanes.right - 3 - x)

    # Where each Back leads

    def _hops(self, spacing: RowLayout) -> None:
        rows = {self.rungs[place].serial: row for place, row in spacing.rows.items()}
        here, heavy, stayed = self.rungs[-1].serial, True, 0
        for number, hop in enumerate(self.moment.descent.hops[:MOST_HOPS], 1):
            start = rows.get(here)
            end = self.ground if hop.outcome in {"leaves", "goes away"} else rows.get(hop.serial)
            back = self._back(number, " ")
            if hop.outcome in {"lands", "leaves", "goes away"}:
                if start is not None and end is not None and end > start:
                    self._line(start, end, heavy=heavy, mark="◈" if not hop.certain else "◆" if hop.question else "")
                    self._hop_words(number, hop, start + stayed, end)
                    heavy = False
                elif start is not None:
                    self._words(
                        start + stayed + 1, [*back, TextRun(f"to {rung_text(hop.data)}", CellStyle(self.palette.lands))]
                    )
                stayed = 0
            elif start is not None:
                words, goes_on = self._staying(hop)
                stayed += 1
                colour = self.palette.asks if goes_on else self.palette.broken
                self._words(start + stayed, [*back, TextRun(words, CellStyle(colour))])
                if not goes_on:
                    break
            here = hop.serial

    def _staying(self, hop: Forecast) -> tuple[str, bool]:
        """Say what a Back does that lands nowhere, and whether the next one goes on from there."""
        match hop.outcome:
            case "closes":
                closed = [happening.overlay for happening in hop.step.log if isinstance(happening, Closed)]
                return f"closes {', '.join(closed) or 'the question'}", True
            case "asks":
                return f"◆ asks “{hop.question}”", False
            case "blocked":
                return "⊘ is blocked", False
            case _ if self.moment.descent.end == "trap" and hop is self.moment.descent.hops[-1]:
                return messages.TRAP_HERE, False
            case _:
                return "stays here", True

    def _line(self, start: int, end: int, *, heavy: bool, mark: str) -> None:
        x, ink = self.lanes.line, CellStyle(self.palette.lands, bold=heavy)
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
        if mark and end - first > 1:
            self.canvas.text(
                x, first + 1, mark, CellStyle(self.palette.asks if mark == "◆" else self.palette.undecided, bold=True)
            )
        self.canvas.text(self.lanes.right + 2, end, "◀" + across * (x - self.lanes.right - 3) + back, ink)

    def _hop_words(self, number: int, hop: Forecast, start: int, end: int) -> None:
        width = self.canvas.width - self.lanes.words
        back = self._back(number)
        if hop.outcome == "lands":
            lead = [TextRun("lands on ", CellStyle(self.palette.soft))] if width > 20 else []
            name = TextRun(hop.data.screen if hop.data else "", self._teal())
            arguments = TextRun(f" {argument_words(hop.data)}" if hop.data else "", CellStyle(self.palette.lands))
            target, last = [*lead, name, arguments], end
        else:
            words = messages.LEAVES_APP if hop.outcome == "leaves" else messages.TO_BACKGROUND
            target, last = [TextRun(words, CellStyle(self.palette.text, bold=True))], end - 1
        first = start if start + 1 >= last and number == 1 else start + (2 if number > 1 and last - start > 4 else 1)
        if first < last:
            self._words(first, back)
            self._words(last, target)
            if hop.question and first + 1 < last:
                for below, line in enumerate(wrap(f"asks “{hop.question}”", width, last - first - 1), 1):
                    self._words(first + below, [TextRun(line, CellStyle(self.palette.asks))])
        else:
            self._words(last, [*back, TextRun("  ", CellStyle(self.palette.soft)), *target[-2:]])

    def _words(self, row: int, runs: list[TextRun]) -> None:
        self.canvas.runs(self.lanes.words, row, [run._replace(ink=run.ink._replace(click=BACK)) for run in runs],
                         self.canvas.width - self.lanes.words)  # fmt: skip

    def _back(self, number: int, after: str = "") -> list[TextRun]:
        mark = [TextRun("≠ ", CellStyle(self.palette.came, bold=True))] if number in self.marks.backs else []
        return [*mark, TextRun(f"Back {number}{after}", self._teal())]

    def _teal(self) -> CellStyle:
        return CellStyle(self.palette.lands, bold=True)

    # The figure, and what went

    def _figure(self, board: int, rows: int) -> None:
        if self.moment.state.phase is Phase.OPEN:
            self._person((self.lanes.left + self.lanes.right) // 2, board - 1 - rows, rows)

    def _person(self, x: int, row: int, rows: int) -> None:
        ink = CellStyle(self.palette.figure, bold=True)
        self.canvas.text(x, row, "●", ink)
        self.canvas.text(x - 1, row + 1, "▟█▙", ink)
        if rows > 2:
            self.canvas.text(x - 1, row + 2, "▌ ▐", ink)

    def _went(self, went: tuple[Rung, ...], bottom: int) -> None:
        inset = self._inset(self.rungs[-1])
        palette, left = self.palette, self.lanes.left + 3 + inset
        width = self.lanes.right - self.lanes.left - 5 - 2 * inset
        ink = CellStyle(palette.went)
        more = len(self.moment.went) - len(went)
        for number, rung in enumerate(reversed(went)):
            mark = "− went" if not more or number else f"− went, {more} more"
            row = bottom - 2 - number * 3 + 1 if self.roomy else bottom - number
            words = cut(rung_text(rung.data), width - len(mark) - 5)
            inner = f" {words}{' ' * (width - 4 - len(words) - len(mark))}{mark} "
            if self.roomy:
                self.canvas.text(left, row - 1, "╭" + "╌" * (width - 2) + "╮", ink)
                self.canvas.text(left, row, "╎" + inner + "╎", ink)
                self.canvas.text(left, row + 1, "╰" + "╌" * (width - 2) + "╯", ink)
            else:
                self.canvas.text(left, row, "╎" + inner, ink)

    # Nothing to stand on

    def _not_started(self) -> None:
        """Show the map, and what to press."""
        from wise_ladder.app.climb.small_map import draw_small_map  # noqa: PLC0415 - only needed before the first step

        palette, canvas, top = self.palette, self.canvas, 2 if self.roomy else 0
        if self.roomy:
            heading(canvas, palette, messages.MAP_HEADING, messages.MAP_KEY, (0, 0, canvas.width))
        canvas.text(0, top, cut(messages.LAUNCH_OR_HELP, canvas.width), CellStyle(palette.soft))
        end = draw_small_map(canvas, palette, self.moment.plan, top + 2, self.ground - top - 2)
        if self.ground - end > FIGURE_ROWS:
            self._outline(min(self.ground - end - 1, OUTLINE_ROWS))

    def _outline(self, rows: int) -> None:
        """Draw somebody on the ground beside a ladder in outline, so many rows high."""
        middle = (self.lanes.left + self.lanes.right) // 2
        for row in range(self.ground - rows, self.ground):
            between = "╌" * 9 if (self.ground - row) % 4 == 2 else " " * 9
            self.canvas.text(middle + 3, row, f"╎{between}╎", CellStyle(self.palette.went))
        self._person(middle - 8, self.ground - FIGURE_ROWS, FIGURE_ROWS)

    def _nobody(self) -> None:
        palette = self.palette
        self._outline(min(OUTLINE_ROWS, self.ground - 2))
        title, words = self._why_empty()
        row = max(self.ground - 16, 1)
        self.canvas.text(self.lanes.left, row, title, CellStyle(palette.text, bold=True))
        lines = wrap(words, self.lanes.right - self.lanes.left, 2)
        for number, line in enumerate(lines, 1):
            self.canvas.text(self.lanes.left, row + number, line, CellStyle(palette.soft))

    def _why_empty(self) -> tuple[str, str]:
        """Say why there is no rung, and what helps."""
        if self.moment.state.cover:
            return messages.COVER_ALONE, messages.COVER_GOES
        if self.moment.state.phase is Phase.KILLED:
            return messages.WAS_KILLED, messages.OPEN_AGAIN
        return messages.WAS_LEFT, messages.LAUNCH_AGAIN
