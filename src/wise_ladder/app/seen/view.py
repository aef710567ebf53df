"""The view Seen: what was seen for how long, how deep and how heavy."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.app import messages, view_help
from wise_ladder.app.canvas import CellStyle, TextRun
from wise_ladder.app.canvas_widget import FunctionWidget
from wise_ladder.app.seen.commands import SeenCommands
from wise_ladder.app.seen.drawing import draw
from wise_ladder.app.seen.selection import SeenSelection
from wise_ladder.app.status_line import StatusLine
from wise_ladder.app.view import View
from wise_ladder.semantics.text import clock_words, duration_text

if TYPE_CHECKING:
    from textual.app import ComposeResult

    from wise_ladder.app.palette import Palette
    from wise_ladder.app.workplace import Workplace
    from wise_ladder.walks.tape import Tape


class SeenSentence(StatusLine):
    """Which run it is, how long it took, and what flashed in it."""

    def __init__(self, selection: SeenSelection) -> None:
        """Speak of a run."""
        super().__init__("sentence")
        self.selection = selection

    def words(self, palette: Palette, *, long: bool) -> list[TextRun]:
        """Say it."""
        drawn, gap = self.selection.drawn, "     " if long else "  "
        if drawn is None or not drawn.moments:
            return [TextRun(messages.NOTHING_SEEN, CellStyle(palette.text, bold=True))]
        steps = len(drawn.ticks)
        count = (messages.RUN_STEP if steps == 1 else messages.RUN_STEPS).format(count=steps, time=clock_words(drawn.until))
        runs = [TextRun(self.selection.name, CellStyle(palette.text, bold=True)), TextRun(gap + count, CellStyle(palette.soft))]
        if flashes := self.selection.flashes:
            told = ", ".join(f"{each.words} {duration_text(each.time)}" for each in flashes[:3])
            runs.append(TextRun(gap + messages.FLASHES.format(flashes=told), CellStyle(palette.broken, bold=True)))
        return runs


class SeenView(View):
    """A run along its clock: the path that is selected in the view one comes from."""

    about = view_help.SEEN

    def __init__(self, host: Workplace) -> None:
        """Show nothing yet."""
        super().__init__(id="seen", name="seen")
        self.selection = SeenSelection()
        self.commands = SeenCommands(host, self.selection, self.refresh_view)
        self.status_line = SeenSentence(self.selection)
        self._chart = FunctionWidget("chart", self.selection, draw)
        self._from: View | None = None

    def compose(self) -> ComposeResult:
        """Lay the parts out."""
        yield self.status_line
        yield self._chart

    def come_from(self, view: View) -> None:
        """Show the path that is selected in the view before."""
        self._from = view

    def refresh_view(self) -> None:
        """Show the run as it is now."""
        self.status_line.message = None
        if self._from is not None:
            self.selection.take_up(*self._from.selected_path())
        for part in (self.status_line, self._chart):
            part.redraw()

    def go(self, step: int) -> None:
        """Choose a moment that was clicked."""
        self.selection.go(step)
        self.refresh_view()

    def selected_path(self) -> tuple[Tape | None, str]:
        """Return the run that is shown."""
        return self.selection.tape, self.selection.name
