"""The lanes of Seen: a bar for each thing that lasted; where two runs differ, one right over the other."""

from __future__ import annotations

from typing import TYPE_CHECKING

from rich.cells import cell_len

from wise_ladder.app.canvas import CellStyle, cut
from wise_ladder.app.seen import messages
from wise_ladder.safe import visible
from wise_ladder.walks.timeline import LANE_GLYPHS

if TYPE_CHECKING:
    from collections.abc import Sequence

    from wise_ladder.app.canvas import Canvas
    from wise_ladder.app.palette import Palette
    from wise_ladder.walks.lane_rows import LaneRow
    from wise_ladder.walks.timeline import LaneKind, Stretch


class LaneDrawing:
    """Draws rows of bars between two columns; `columns` tells for each run where each of its moments stands."""

    def __init__(self, canvas: Canvas, palette: Palette, columns: Sequence[Sequence[int]], room: tuple[int, int]) -> None:
        """Draw on a canvas."""
        self.canvas, self.palette, self.columns = canvas, palette, columns
        self.left, self.right = room
        self.muted = CellStyle(palette.muted)

    def draw(self, rows: Sequence[LaneRow], row: int, last: int, now: Sequence[int]) -> int:
        """Draw rows as far as there is room, `now` are the chosen moments; return the row after them."""
        shown = rows if len(rows) <= last - row else _nearest(rows, now, max(last - row - 1, 0))
        for each in shown:
            name = "" if each.again else visible(f"{LANE_GLYPHS.get(each.lane.kind, '')} {each.lane.name}".strip(), lines=False)
            style = CellStyle(self.palette.text if each.lane.kind == "screen" else self.palette.soft)
            self.canvas.text(1, row, cut(name, self.left - (5 if each.mark else 3)), style)
            self.canvas.text(self.left - 2, row, each.mark, self.muted)
            self._lane(each, row)
            row += 1
        if len(shown) < len(rows):
            self.canvas.text(1, row, messages.MORE_LANES.format(count=len(rows) - len(shown)), CellStyle(self.palette.soft))
            row += 1
        return row

    def _lane(self, row: LaneRow, y: int) -> None:
        columns, stretches, drawn = self.columns[row.run], row.lane.stretches, self.left - 1
        for number, stretch in enumerate(stretches):
            first, last = columns[stretch.first], self.right if stretch.open else columns[stretch.last]
            # Of many bars within one column one is enough, but a flash is always seen.
            if last < self.left or first > self.right or (last <= drawn and not stretch.flash):
                continue
            first, last = max(first, self.left), min(last, self.right)
            following = columns[stretches[number + 1].first] if number + 1 < len(stretches) else self.right + 1
            self._bar(row.lane.kind, stretch, y, first, max(last - first, 1), following)
            drawn = max(drawn, last, first + 1)

    def _bar(self, kind: LaneKind, stretch: Stretch, row: int, x: int, width: int, following: int) -> None:
        """Draw one stretch: its words in it if there is room, else beside it."""
        palette, canvas = self.palette, self.canvas
        look = {
            "screen": CellStyle(palette.board_text, palette.board),
            "cover": CellStyle(palette.soft, palette.selected),
            "ground": CellStyle(palette.grass, palette.grass_ground),
            "question": CellStyle(palette.asks, palette.asks_ground, bold=True),
            "overlay": CellStyle(palette.key_text, palette.key),
            "timer": CellStyle(palette.soft),
            "call": CellStyle(palette.soft),
        }[kind]
        if stretch.flash:
            look = CellStyle(palette.ground_colour, palette.broken, bold=True)
        fill = {"ground": "╱", "timer": "─", "call": "─"}.get(kind, " ")
        canvas.text(x, row, fill * width, look)
        words = visible(stretch.label, lines=False)
        if kind in {"timer", "call"}:
            end = "→" if stretch.open else "●" if stretch.fulfilled else "○"
            canvas.text(x + width - 1, row, end, look)
        elif cell_len(words) + 1 <= width:
            canvas.text(x + 1, row, words, look)
            return
        room = min(following, self.right + 1) - x - width - 1
        if cell_len(words) <= room:
            style = CellStyle(palette.broken, bold=True) if stretch.flash else self.muted
            canvas.text(x + width + 1, row, words, style)


def _nearest(rows: Sequence[LaneRow], now: Sequence[int], most: int) -> list[LaneRow]:
    """Return the rows to show where not all have room: those with a flash, those nearest to the chosen moment."""

    def apart(row: LaneRow) -> int:
        here = now[row.run]
        return min(-1 if each.flash else max(each.first - here, here - each.last, 0) for each in row.lane.stretches)

    kept = sorted(rows, key=apart)[:most]
    return [row for row in rows if row in kept]
