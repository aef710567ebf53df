"""The table of crossings: rows are left, columns are reached; each glyph stands on wood the warmer the oftener it is used."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Generic, TypeVar

from rich.cells import cell_len

from wise_ladder.app import messages
from wise_ladder.app.canvas import Canvas, CellStyle, cut
from wise_ladder.app.canvas_widget import heading
from wise_ladder.app.crossings.grid import Grid
from wise_ladder.plan.crossings import BENEATH, GLYPHS, GROUND, STAYS

if TYPE_CHECKING:
    from wise_ladder.app.crossings.selection import CrossingSelection
    from wise_ladder.app.palette import Palette

Chart = TypeVar("Chart", bound=Grid[Any])
HIGH = 34
"""From so many rows on there is room for the legend."""
OFTEN = ("rarely", "by some", "often", "by most walks")


def draw(chart: CrossingSelection, palette: Palette, width: int, height: int) -> Canvas:
    """Draw the table of moves in the room there is."""
    return _MoveTable(chart, palette, width, height).drawn()


class Table(Generic[Chart]):
    """Draws a grid; what does not fit is counted at the edge; the selection is always visible."""

    def __init__(self, chart: Chart, palette: Palette, width: int, height: int) -> None:
        """Lay out as many rows and columns as there is room for."""
        self.chart, self.palette = chart, palette
        self.canvas = Canvas(width, height, palette.ground_colour)
        longest = max((cell_len(name) for name in chart.rows), default=4)
        self.label = min(longest, 18 if width >= 80 else 12) + 1
        self.pitch = max(min((width - self.label - 2) // max(len(chart.columns), 1), 4), 2 if width < 80 else 3)
        fits = max((width - self.label - 2) // self.pitch, 1)
        self.columns = self._part(chart.columns, fits, chart.current.end if chart.current else "")
        legend = 5 if height >= HIGH else 0
        most = max(min(12, height // 3 if legend else 7), 4)
        self.head = min(max((cell_len(name) for name in self.columns), default=1), most)
        self.top = 2 + self.head if legend else 1 + self.head
        rows = max(height - self.top - 1 - legend, 1)
        self.rows = self._part(chart.rows, rows, chart.current.start if chart.current else "")

    @staticmethod
    def _part(names: list[str], fits: int, wanted: str) -> list[str]:
        """Return so many names that lie around the wanted one."""
        if len(names) <= fits:
            return names
        at = names.index(wanted) if wanted in names else 0
        begin = min(max(at - fits // 2, 0), len(names) - fits)
        return names[begin : begin + fits]

    def _heading(self) -> None:
        """Write the heading."""
        raise NotImplementedError

    def _nothing(self) -> str:
        """Say why nothing is shown."""
        raise NotImplementedError

    def _cell(self, x: int, y: int, numbers: list[int]) -> None:
        """Draw what stands in a cell."""
        raise NotImplementedError

    def _legend(self, y: int) -> None:
        """Draw what the glyphs mean."""
        raise NotImplementedError

    def drawn(self) -> Canvas:
        """Draw all."""
        self._heading()
        if not self.chart.shown:
            self.canvas.text(0, 3, cut(self._nothing(), self.canvas.width), CellStyle(self.palette.muted))
            return self.canvas
        chosen = self.chart.current
        for place, name in enumerate(self.columns):
            self._column(place, name, here=chosen is not None and name == chosen.end)
        for place, name in enumerate(self.rows):
            self._row(place, name, here=chosen is not None and name == chosen.start)
        self._more()
        if self.canvas.height >= HIGH:
            self._legend(self.canvas.height - 4)
        return self.canvas

    def _x(self, place: int) -> int:
        return self.label + 1 + place * self.pitch

    def _column(self, place: int, name: str, *, here: bool) -> None:
        palette, x = self.palette, self._x(place)
        if here:
            self.canvas.fill(x, self.top - self.head, self.pitch, self.head + len(self.rows), palette.selected)
        colour = palette.grass if name in {BENEATH, GROUND, STAYS} else palette.soft
        ink = CellStyle(palette.text if here else colour, bold=here)
        shown = name if len(name) <= self.head else name[: self.head - 1] + "…"
        for row, char in enumerate(shown):
            self.canvas.text(x + self.pitch // 2, self.top - len(shown) + row, char, ink)

    def _row(self, place: int, name: str, *, here: bool) -> None:
        palette, y = self.palette, self.top + place
        if here:
            self.canvas.fill(0, y, self._x(len(self.columns)), 1, palette.selected)
        shown = cut(name, self.label - 1)
        self.canvas.text(
            self.label - 1 - cell_len(shown), y, shown, CellStyle(palette.text if here else palette.soft, bold=here)
        )
        # The empty cells are written at once: there are thousands of them.
        marks = "".join(("╲" if column == name else "·").ljust(self.pitch) for column in self.columns)
        self.canvas.text(self._x(0) + self.pitch // 2, y, marks.rstrip(), CellStyle(palette.line))
        for number, column in enumerate(self.columns):
            numbers = self.chart.cells.get((name, column))
            if numbers:
                self._cell(self._x(number), y, numbers)

    def _more(self) -> None:
        chart, ink = self.chart, CellStyle(self.palette.came)
        left, above = chart.columns.index(self.columns[0]), chart.rows.index(self.rows[0])
        right, below = len(chart.columns) - left - len(self.columns), len(chart.rows) - above - len(self.rows)
        words = [f"{mark} {count}" for mark, count in (("←", left), ("→", right), ("↑", above), ("↓", below)) if count]
        if words:
            y = self.top + len(self.rows)
            self.canvas.text(0, y, cut(f"more: {'   '.join(words)}", self.canvas.width), ink)


class _MoveTable(Table["CrossingSelection"]):
    def _heading(self) -> None:
        chart, palette = self.chart, self.palette
        screens = len(chart.plan.screens)
        listed = messages.CROSSINGS_LISTED if chart.wanted else messages.CROSSINGS_ALL
        count = listed.format(count=len(chart.shown), total=chart.total, screens=screens)
        right = f"“{chart.wanted}”  {count}" if chart.wanted else count
        style = CellStyle(palette.came) if chart.wanted else None
        heading(self.canvas, palette, "from ↓   to →", right, right_style=style)

    def _nothing(self) -> str:
        return messages.NO_CROSSING_MATCHES if self.chart.wanted else messages.NO_MOVES

    def _cell(self, x: int, y: int, numbers: list[int]) -> None:
        chart, palette = self.chart, self.palette
        here = chart.chosen in numbers
        number = chart.chosen if here else numbers[0]
        crossing = chart.shown[number]
        worn = max(chart.worn(chart.shown[each]) for each in numbers)
        click = f"app.choose({numbers[(numbers.index(number) + 1) % len(numbers)] if here else number})"
        if here or worn:
            self.canvas.fill(x, y, self.pitch, 1, palette.text if here else palette.worn[worn - 1], click=click)
        colour = palette.ground_colour if here else palette.text if worn else palette.undecided
        ink, middle = CellStyle(colour, bold=True, click=click), x + self.pitch // 2
        self.canvas.text(middle, y, crossing.glyph, ink)
        if len(numbers) > 1 and self.pitch > 2:
            self.canvas.text(middle + 1, y, "+", ink)
        if not worn and self.pitch > 2 and not here:
            self.canvas.text(middle - 1, y, "◌", ink)

    def _legend(self, y: int) -> None:
        palette, x = self.palette, 0
        self.canvas.text(0, y, "─" * self.canvas.width, CellStyle(palette.line))
        self.canvas.text(0, y + 1, "operation", CellStyle(palette.soft, bold=True))
        x, row = 14, y + 1
        for kind in self.chart.kinds:
            words = {"stay": "stays here", "switch": messages.SWITCH_TAB}.get(kind, kind)
            if x + len(words) + 2 > self.canvas.width:
                x, row = 14, row + 1
            x = self.canvas.text(x, row, f"{GLYPHS[kind]} ", CellStyle(palette.text, bold=True))
            x = self.canvas.text(x, row, words, CellStyle(palette.soft)) + 3
        row += 1
        self.canvas.text(0, row, "how often", CellStyle(palette.soft, bold=True))
        x = self.canvas.text(14, row, messages.BY_NO_WALK.format(count=self.chart.untried), CellStyle(palette.undecided)) + 3
        for tone, words in zip(palette.worn, OFTEN, strict=True):
            self.canvas.fill(x, row, 3, 1, tone)
            x = self.canvas.text(x + 4, row, words, CellStyle(palette.soft)) + 3
