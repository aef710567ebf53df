"""The view Seen: what was seen for how long, how deep and how heavy."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.app import view_help
from wise_ladder.app.canvas import CellStyle, TextRun
from wise_ladder.app.canvas_widget import FunctionWidget
from wise_ladder.app.seen import messages
from wise_ladder.app.seen.commands import SeenCommands
from wise_ladder.app.seen.drawing import draw
from wise_ladder.app.seen.selection import SeenSelection
from wise_ladder.app.status_line import StatusLine
from wise_ladder.app.view import SelectedRun, View
from wise_ladder.semantics.text import clock_words, duration_text

if TYPE_CHECKING:
    from textual.app import ComposeResult

    from wise_ladder.app.palette import Palette
    from wise_ladder.app.workplace import Workplace
    from wise_ladder.plan.model import PlanPart


class SeenSentence(StatusLine):
    """Which run it is, how long it took, and what flashed in it."""

    def __init__(self, selection: SeenSelection) -> None:
        """Speak of a run."""
        super().__init__("sentence")
        self.selection = selection

    def words(self, palette: Palette, *, long: bool) -> list[TextRun]:
        """Say it."""
        selection, gap = self.selection, "     " if long else "  "
        if not selection.runs or not selection.last:
            return [TextRun(messages.NOTHING_SEEN, CellStyle(palette.text, bold=True))]
        steps = len(selection.runs[0].ticks)
        time = clock_words(selection.runs[0].until)
        count = (messages.RUN_STEP if steps == 1 else messages.RUN_STEPS).format(count=steps, time=time)
        runs = [TextRun(selection.name, CellStyle(palette.text, bold=True)), TextRun(gap + count, CellStyle(palette.soft))]
        if flashes := selection.flashes:
            told = ", ".join(f"{each.words} {duration_text(each.time)}" for each in flashes[:3])
            runs.append(TextRun(gap + messages.FLASHES.format(flashes=told), CellStyle(palette.broken, bold=True)))
        if selection.other is not None:
            runs.append(TextRun(gap + self._differs(), CellStyle(palette.came, bold=True)))
        return runs

    def _differs(self) -> str:
        """Say where both runs first differ."""
        if not self.selection.differences:
            return messages.NO_RUN_DIFFERS
        first = self.selection.differences[0]
        time = clock_words(self.selection.axis.stops[first.stop].time)
        return messages.FIRST_DIFFERENCE.format(time=time, words=first.words)


class SeenView(View):
    """A run along its clock: the path that is selected in the view one comes from."""

    about = view_help.SEEN
    shows_walks = True

    def __init__(self, host: Workplace) -> None:
        """Show nothing yet."""
        super().__init__(id="seen", name="seen")
        self.selection = SeenSelection()
        self.commands = SeenCommands(host, self.selection, self.changed)
        self.status_line = SeenSentence(self.selection)
        self._chart = FunctionWidget("chart", self.selection, draw)
        self._from: View | None = None

    @property
    def draws(self) -> str:
        """Draw the time chart first."""
        return "time"

    def compose(self) -> ComposeResult:
        """Lay the parts out."""
        yield self.status_line
        yield self._chart

    def come_from(self, view: View) -> None:
        """Show the path that is selected in the view before."""
        self._from = view

    def refresh_view(self) -> None:
        """Show the run as it is now, after an edit the new one."""
        if self._from is not None:
            self._from.refresh_view()
            self.selection.take_up(*self._from.selected_path())
        self.changed()

    def changed(self) -> None:
        """Draw all parts again."""
        self.status_line.message = None
        self._redraw()

    def _redraw(self) -> None:
        for part in (self.status_line, self._chart):
            part.redraw()

    def told(self) -> None:
        """Show the run that breaks a rule as it became known; a message stays."""
        if self._from is not None:
            self._from.told()
            if self.selection.take_up(*self._from.selected_path()):
                self._redraw()

    def go(self, moment: int) -> None:
        """Choose a moment of the run that was clicked."""
        self.selection.go(self.selection.stop_of(moment))
        self.changed()

    def selected_runs(self) -> list[SelectedRun]:
        """Return the run that is shown, and the one over it."""
        runs = self._from.selected_runs() if self._from is not None else []
        other, tape = self.selection.other, self.selection.other_tape
        return [*runs, SelectedRun(tape, other.name)] if runs and other is not None and tape is not None else runs

    def selected_parts(self) -> list[PlanPart]:
        """Return the moves of the chosen moment's step, the latest first."""
        moment, tape = self.selection.moment_of(0), self.selection.tape
        return [] if moment is None or tape is None else [*reversed(tape.entries[moment.number - 1].step.moves)]
