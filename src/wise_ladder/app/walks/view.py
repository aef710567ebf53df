"""Walks: does every path I care about still work?"""

from __future__ import annotations

from typing import TYPE_CHECKING

from textual.containers import Horizontal

from wise_ladder.app import messages, view_help
from wise_ladder.app.canvas import CellStyle, TextRun
from wise_ladder.app.canvas_widget import FunctionWidget
from wise_ladder.app.status_line import StatusLine
from wise_ladder.app.view import SelectedRun, View
from wise_ladder.app.walks.commands import WalksCommands
from wise_ladder.app.walks.drawing import draw_list, draw_steps
from wise_ladder.app.walks.selection import WalkSelection
from wise_ladder.walks.tape import Tape

if TYPE_CHECKING:
    from textual.app import ComposeResult

    from wise_ladder.app.palette import Palette
    from wise_ladder.app.workplace import Workplace
    from wise_ladder.plan.model import PlanPart


class WalksSentence(StatusLine):
    """How the chosen walk went."""

    def __init__(self, board: WalkSelection) -> None:
        """Speak of the chosen walk."""
        super().__init__("sentence")
        self.board = board

    def words(self, palette: Palette, *, long: bool) -> list[TextRun]:
        """Say whether it passes, or where it fails and why."""
        board, soft = self.board, CellStyle(palette.soft)
        if not board.name:
            return [TextRun(messages.NO_WALK_SHOWN, CellStyle(palette.text, bold=True))]
        gap = "     " if long else "  "
        runs = [TextRun(board.name, CellStyle(palette.text, bold=True))]
        result = board.result
        if result is None:
            return [*runs, TextRun(f"{gap}{messages.NOT_RUN}", soft)]
        if result.not_comparable:
            words = messages.NOT_COMPARABLE.format(why=result.not_comparable)
            return [*runs, TextRun(f"{gap}◌ {words}", CellStyle(palette.undecided))]
        if result.failed is None:
            count = f", {len(result.played)} steps"
            if result.app is not None:
                count += messages.OF_THEM_COMPARED.format(compared=result.app.compared, lines=result.app.lines)
            return [*runs, TextRun(f"{gap}✓ passes", CellStyle(palette.holds, bold=True)), TextRun(count, soft)]
        failed = result.played[result.failed]
        why = f": {failed.unmet.words}" if failed.unmet and long else ""
        words = messages.FAILS_AT.format(number=result.failed + 1, count=len(result.played))
        return [*runs, TextRun(gap + words, CellStyle(palette.broken, bold=True)), TextRun(why, soft)]


class WalksView(View):
    """Every walk of a plan."""

    about = view_help.WALKS
    shows_walks = True

    def __init__(self, host: Workplace) -> None:
        """Show the walks of the plan on a host."""
        super().__init__(id="walks", name="walks")
        self.host, self.selection = host, WalkSelection(host.plan)
        self.commands = WalksCommands(host, self.selection, self.refresh_view)
        self.status_line = WalksSentence(self.selection)
        self._desk = host.document
        self._list, self._steps = (
            FunctionWidget("list", self.selection, draw_list),
            FunctionWidget("steps", self.selection, draw_steps),
        )
        self._list.add_class("side")

    def compose(self) -> ComposeResult:
        """Lay the parts out."""
        yield self.status_line
        with Horizontal(classes="body"):
            yield self._list
            yield self._steps

    def refresh_view(self) -> None:
        """Show the walks as they are now."""
        if self._desk is not self.host.document:
            self._desk = self.host.document
            self.selection.begin(self._desk.plan)
        self.selection.take_up(self.host.document.plan, self.host.document.results)
        self.status_line.message = None
        self.changed()

    def changed(self) -> None:
        """Draw all parts again."""
        for part in (self.status_line, self._list, self._steps):
            part.redraw()

    def choose(self, place: int) -> None:
        """Choose a walk by its place among those shown."""
        self.selection.in_steps = False
        self.selection.choose(place)
        self.refresh_view()

    def go(self, step: int) -> None:
        """Choose a step of the chosen walk."""
        self.selection.in_steps, self.selection.step = True, step
        self.refresh_view()

    def selected_runs(self) -> list[SelectedRun]:
        """Return the chosen walk, if it was run."""
        result = self.selection.result
        return [] if result is None else [SelectedRun(Tape.from_walk(self.selection.plan, result), result.walk.name, result)]

    def selected_parts(self) -> list[PlanPart]:
        """Return the moves that the chosen step took, the latest first."""
        played = self.selection.played
        done = played[self.selection.step].step if self.selection.step < len(played) else None
        return list(reversed(done.moves)) if done is not None else []
