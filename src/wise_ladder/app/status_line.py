"""The line over every view: what it shows now in words, and beneath it the last message."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.app.canvas import Canvas, CellStyle, TextRun, cut
from wise_ladder.app.canvas_widget import CanvasWidget
from wise_ladder.safe import visible

if TYPE_CHECKING:
    from wise_ladder.app.palette import Palette


class StatusLine(CanvasWidget):
    """A sentence that a view makes in `words`; if there is one row only, a message takes its place."""

    message: tuple[str, bool] | None = None

    def words(self, palette: Palette, *, long: bool) -> list[TextRun]:
        """Return the sentence; `long` if there is room for the longer one."""
        raise NotImplementedError

    def show_message(self, words: str, *, wrong: bool) -> None:
        """Show a message until the next thing is done."""
        self.message = (visible(words, lines=False), wrong)
        self.redraw()

    def append_message(self, words: str) -> None:
        """Add to the message that is shown."""
        before, wrong = self.message or ("", False)
        self.show_message(f"{before}   {words}".strip(), wrong=wrong)

    def draw(self, width: int, height: int) -> Canvas:
        """Draw the sentence."""
        palette = self.palette
        canvas = Canvas(width, height, palette.ground_colour)
        margin = 2 if width >= 100 else 0
        if height > 1 or self.message is None:
            canvas.runs(margin, 1 if height > 1 else 0, self.words(palette, long=width >= 100), width - 2 * margin)
        if self.message is not None:
            words, wrong = self.message
            ink = CellStyle(palette.broken if wrong else palette.came, bold=True)
            canvas.text(margin, height - 1 if height > 1 else 0, cut(("✗ " if wrong else "") + words, width - 2 * margin), ink)
        return canvas
