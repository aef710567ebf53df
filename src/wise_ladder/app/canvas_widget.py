"""A widget that is drawn on a canvas, once for each change and size."""

from __future__ import annotations

from typing import TYPE_CHECKING, TypeVar

from rich.cells import cell_len
from textual.geometry import Region
from textual.strip import Strip
from textual.widget import Widget

from wise_ladder.app.canvas import Canvas, CellStyle, cut

_Subject = TypeVar("_Subject")

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.palette import Palette


class CanvasWidget(Widget):
    """Draws itself when something changed; subclasses say how in `draw`."""

    def __init__(self, name: str) -> None:
        """Begin with nothing drawn."""
        super().__init__(id=name)
        self._canvas: Canvas | None = None
        self._strips: list[Strip] = []
        self._drawn_for: object = None
        self._stale = False

    @property
    def palette(self) -> Palette:
        """The colours of the present look."""
        palette: Palette = self.app.palette  # type: ignore[attr-defined]
        return palette

    def draw(self, width: int, height: int) -> Canvas:
        """Draw the widget in so many columns and rows."""
        raise NotImplementedError

    def redraw(self) -> None:
        """Draw again as soon as no key waits: many keys at once are drawn once."""
        if not self._stale:
            self._stale = True
            self.app.when_done(self._draw)  # type: ignore[attr-defined]

    def _draw(self) -> None:
        """Draw; only the rows that are other than before go to the terminal."""
        self._stale = False
        before = self._canvas
        if before is None or self._drawn_for != self._frame:
            self._canvas = None
            self.refresh()
            return
        self._canvas = self.draw(self.size.width, self.size.height)
        for y in self._canvas.rows_unlike(before):
            self._strips[y] = self._canvas.strip(y)
            self.refresh(Region(0, y, self.size.width, 1))

    @property
    def _frame(self) -> tuple[int, int, str]:
        """What a drawing is for: the size, and the look."""
        return self.size.width, self.size.height, self.app.theme

    def render_line(self, y: int) -> Strip:
        """Hand on one row of the drawing."""
        if self._canvas is None or self._drawn_for != self._frame:
            self._canvas, self._drawn_for = self.draw(self.size.width, self.size.height), self._frame
            self._strips = self._canvas.strips()
        return self._strips[y] if y < len(self._strips) else Strip.blank(self.size.width)


class FunctionWidget(CanvasWidget):
    """Draws what a view is about with a function: about what, in which colours, how wide and high."""

    def __init__(self, name: str, subject: _Subject, draw: Callable[[_Subject, Palette, int, int], Canvas]) -> None:
        """Draw with a function."""
        super().__init__(name)
        self._make: Callable[[int, int], Canvas] = lambda width, height: draw(subject, self.palette, width, height)

    def draw(self, width: int, height: int) -> Canvas:
        """Draw it."""
        return self._make(width, height)


def heading(
    canvas: Canvas,
    palette: Palette,
    words: str,
    right: str = "",
    at: tuple[int, int, int] | None = None,
    right_style: CellStyle | None = None,
) -> None:
    """Draw a heading: bold words, a thin line, words at its right, cut if they would meet the others.

    `at`: the column and the row it begins in, and how many columns it has; None: all of the first row.
    """
    x, y, width = at or (0, 0, canvas.width)
    end = x + width
    line = canvas.text(x, y, words, CellStyle(palette.soft, bold=True)) + 1
    right = cut(right, max(end - line - 3, 0))
    start = end - (cell_len(right) + 1 if right else 0)
    canvas.text(line, y, "─" * max(start - line, 0), CellStyle(palette.line))
    canvas.text(start + 1, y, right, right_style or CellStyle(palette.muted))
