"""A grid of cells to draw on, and what becomes of it on the screen.

The ladder is a drawing: boards, rails and lines are over each other within one cell. What is drawn outside the grid is cut off.
"""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING, NamedTuple

from rich.cells import cell_len
from rich.segment import Segment
from rich.style import Style
from textual.strip import Strip

if TYPE_CHECKING:
    from collections.abc import Iterable


class CellStyle(NamedTuple):
    """How a cell is written: colours (no background: the one that is there stays), weight, and what a click on it does."""

    colour: str
    ground: str | None = None
    bold: bool = False
    click: str | None = None


class TextRun(NamedTuple):
    """A piece of a line in one ink."""

    text: str
    ink: CellStyle


_FIRST_WIDE = 0x1100


class Canvas:
    """A grid of so many columns and rows."""

    def __init__(self, width: int, height: int, ground: str) -> None:
        """Begin with spaces on the ground colour."""
        self.width, self.height, self._ground = width, height, ground
        blank = (" ", CellStyle(ground, ground))
        self._rows: list[list[tuple[str, CellStyle]]] = [[blank] * width for _ in range(height)]

    def text(self, x: int, y: int, text: str, ink: CellStyle) -> int:
        """Write text and return the column after it."""
        if not 0 <= y < self.height:
            return x + cell_len(text)
        row = self._rows[y]
        below, over = None, ink
        for char in text:
            wide = 1 if ord(char) < _FIRST_WIDE else cell_len(char)
            if wide == 0 or ord(char) < 32:
                continue
            if x >= 0 and x + wide <= self.width:
                # Most of a text is over one and the same ink.
                if row[x][1] is not below:
                    below = row[x][1]
                    over = self._over(below, ink)
                row[x] = (char, over)
                if wide == 2:
                    row[x + 1] = ("", row[x][1])
            x += wide
        return x

    def runs(self, x: int, y: int, runs: Iterable[TextRun], width: int) -> int:
        """Write pieces one after the other in so many columns; what does not fit ends in `…`. Return the column after them."""
        end = x + width
        for run in runs:
            if x >= end:
                if run.text.strip() and width > 0:
                    self.text(end - 1, y, "…", run.ink)
                break
            x = self.text(x, y, cut(run.text, end - x), run.ink)
        return x

    def fill(self, x: int, y: int, width: int, height: int, ground: str, click: str | None = None) -> None:
        """Paint a rectangle over everything that was there."""
        cell = (" ", CellStyle(ground, ground, click=click))
        for row in self._rows[max(y, 0) : max(y + height, 0)]:
            for column in range(max(x, 0), min(x + width, self.width)):
                row[column] = cell

    def blit(self, x: int, y: int, other: Canvas) -> None:
        """Lay another canvas over this one; it must fit."""
        for row, cells in enumerate(other._rows, y):
            self._rows[row][x : x + other.width] = cells

    def half_cells(self, x: int, y: int, width: int, colour: str, *, upper: bool) -> None:
        """Paint the upper or the lower half of cells; another half that was painted before stays."""
        if not 0 <= y < self.height:
            return
        row = self._rows[y]
        mine, other = ("▀", "▄") if upper else ("▄", "▀")
        for column in range(max(x, 0), min(x + width, self.width)):
            char, below = row[column]
            ground = below.colour if char == other else below.ground
            row[column] = (mine, CellStyle(colour, ground, click=below.click))

    @staticmethod
    def _over(below: CellStyle, ink: CellStyle) -> CellStyle:
        if ink.ground is not None and ink.click is not None:
            return ink
        return CellStyle(ink.colour, ink.ground or below.ground, ink.bold, ink.click or below.click)

    def strips(self) -> list[Strip]:
        """Return one strip for each row."""
        return [self.strip(y) for y in range(self.height)]

    def strip(self, y: int) -> Strip:
        """Return the strip of a row."""
        return Strip(_segments(self._rows[y]), self.width)

    def rows_unlike(self, other: Canvas) -> list[int]:
        """Return the rows that are not as those of another canvas of the same size."""
        return [y for y, (one, two) in enumerate(zip(self._rows, other._rows, strict=True)) if one != two]


def _segments(row: list[tuple[str, CellStyle]]) -> list[Segment]:
    segments: list[Segment] = []
    text: list[str] = []
    now: CellStyle | None = None
    for char, ink in row:
        if ink is not now and ink != now:
            if now is not None:
                segments.append(Segment("".join(text), style_of(now)))
            text, now = [], ink
        text.append(char)
    if now is not None:
        segments.append(Segment("".join(text), style_of(now)))
    return segments


@lru_cache(maxsize=4096)
def style_of(ink: CellStyle) -> Style:
    """Return the style that writes a cell so."""
    style = Style(color=ink.colour, bgcolor=ink.ground, bold=ink.bold)
    return style + Style.from_meta({"@click": ink.click}) if ink.click else style


def cut(text: str, width: int) -> str:
    """Shorten text to so many columns; what was cut ends in `…`."""
    if cell_len(text) <= width:
        return text
    if width <= 0:
        return ""
    text = text[:width]
    while text and cell_len(text) > width - 1:
        text = text[:-1]
    return text + "…"


def cut_middle(text: str, width: int) -> str:
    """Shorten text to so many columns; what was cut out of its middle is a `…`, so that the end still tells it apart."""
    if cell_len(text) <= width:
        return text
    # A character is at least one column wide, so more of them cannot fit.
    end = text[-max(width // 2, 1) :]
    while end and cell_len(end) > width // 2:
        end = end[1:]
    return cut(text, width - cell_len(end)) + end


def wrap(text: str, width: int, lines: int) -> list[str]:
    """Wrap text to at most `lines` lines of `width` columns; the last is cut with `…`."""
    wrapped: list[str] = []
    words = text.split()
    while words:
        line = words.pop(0)
        while words and cell_len(line) + 1 + cell_len(words[0]) <= width:
            line += " " + words.pop(0)
        if len(wrapped) == lines - 1 and words:
            return [*wrapped, cut(f"{line} {words[0]}", width) if cell_len(line) >= width else cut(line, width - 1) + "…"]
        wrapped.append(cut(line, width))
    return wrapped
