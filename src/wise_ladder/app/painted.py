"""A widget that is drawn on a canvas, once for each change and size."""

from __future__ import annotations

from typing import TYPE_CHECKING

from textual.strip import Strip
from textual.widget import Widget

if TYPE_CHECKING:
    from wise_ladder.app.canvas import Canvas
    from wise_ladder.app.palette import Palette


class Painted(Widget):
    """Draws itself when something changed; subclasses say how in `painted`."""

    def __init__(self, name: str) -> None:
        """Begin with nothing drawn."""
        super().__init__(id=name)
        self._strips: list[Strip] | None = None
        self._drawn_for: object = None

    @property
    def palette(self) -> Palette:
        """The colours of the present look."""
        found: Palette = self.app.palette  # type: ignore[attr-defined]
        return found

    def painted(self, width: int, height: int) -> Canvas:
        """Draw the widget in so many columns and rows."""
        raise NotImplementedError

    def changed(self) -> None:
        """Draw anew at the next look."""
        self._strips = None
        self.refresh()

    def render_line(self, y: int) -> Strip:
        """Hand on one row of the drawing."""
        size = (*self.size, self.app.theme)
        if self._strips is None or self._drawn_for != size:
            self._strips, self._drawn_for = self.painted(self.size.width, self.size.height).strips(), size
        return self._strips[y] if y < len(self._strips) else Strip.blank(self.size.width)
