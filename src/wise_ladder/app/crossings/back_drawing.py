"""The second table of Crossings and what stands beside it: where Back leads, by which ways, on which path."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.app import messages
from wise_ladder.app.canvas import Canvas, CellStyle, TextRun, cut, wrap
from wise_ladder.app.canvas_widget import heading
from wise_ladder.app.crossings.table import HIGH, Table
from wise_ladder.plan.steps import event_text
from wise_ladder.rules.back_cells import APP, BOTH, HEADER, SURPRISE, SYSTEM

if TYPE_CHECKING:
    from wise_ladder.app.crossings.back_selection import BackSelection
    from wise_ladder.app.palette import Palette


def draw_table(selection: BackSelection, palette: Palette, width: int, height: int) -> Canvas:
    """Draw the table in the room there is."""
    return _BackTable(selection, palette, width, height).drawn()


class _BackTable(Table["BackSelection"]):
    def _heading(self) -> None:
        grid, palette = self.chart, self.palette
        right = messages.BACK_UNKNOWN
        if grid.status is not None:
            words = messages.BACK_FOUND if grid.wanted else messages.BACK_KNOWN
            told = words.format(count=len(grid.shown), total=grid.total, extent=grid.status.known.words)
            right = f"{'◔ ' if grid.status.running else ''}{told}"
        heading(self.canvas, palette, messages.BACK_TITLE, right)

    def _nothing(self) -> str:
        if self.chart.wanted:
            return messages.NO_CROSSING_MATCHES
        return messages.BACK_NOT_YET if self.chart.status is None or not self.chart.total else ""

    def _cell(self, x: int, y: int, numbers: list[int]) -> None:
        (number,), palette = numbers, self.palette
        cell, here = self.chart.shown[number], self.chart.chosen == number
        click = f"app.choose({number})"
        ground = palette.text if here else palette.worn[0] if not cell.surprise else palette.ground_colour
        self.canvas.fill(x, y, self.pitch, 1, ground, click=click)
        colour = palette.ground_colour if here else palette.broken if cell.surprise else palette.lands
        ink = CellStyle(colour, bold=True, click=click)
        narrow = self.pitch < 3
        self.canvas.text(x + self.pitch // 2, y, SURPRISE if cell.surprise and narrow else cell.glyph, ink)
        if cell.surprise and not narrow:
            self.canvas.text(x + self.pitch // 2 - 1, y, SURPRISE, ink)

    def _legend(self, y: int) -> None:
        palette = self.palette
        self.canvas.text(0, y, "─" * self.canvas.width, CellStyle(palette.line))
        x = 0
        for mark, words in zip((BOTH, SYSTEM, HEADER, APP), messages.BACK_LEGEND, strict=True):
            x = self.canvas.text(x, y + 1, f"{mark} ", CellStyle(palette.lands, bold=True))
            x = self.canvas.text(x, y + 1, words, CellStyle(palette.soft)) + 3
        surprises = sum(bool(cell.surprise) for cell in self.chart.shown)
        x = self.canvas.text(0, y + 2, f"{SURPRISE} ", CellStyle(palette.broken, bold=True))
        self.canvas.text(x, y + 2, messages.BACK_SURPRISES.format(count=surprises), CellStyle(palette.soft))


def draw_detail(selection: BackSelection, palette: Palette, width: int, height: int) -> Canvas:
    """Draw what is known of the chosen cell: each way with what decides, and the steps of the shortest path."""
    canvas, cell, air = Canvas(width, height, palette.ground_colour), selection.current, 1 if height >= HIGH else 0
    if cell is None:
        return canvas
    y = 0
    for row in cell.rows:
        heading(
            canvas, palette, messages.BACK_WAYS[row.landing.way], messages.BACK_STEPS.format(count=row.steps), (0, y, width)
        )
        y += 1 + air
        told = [(row.words, CellStyle(palette.text, bold=True))]
        told += [(row.decides, CellStyle(palette.soft))] if row.decides else []
        told += [(f"{SURPRISE} {row.surprise}", CellStyle(palette.broken, bold=True))] if row.surprise else []
        for words, ink in told:
            for line in wrap(words, width, 3):
                canvas.text(0, y, line, ink)
                y += 1
        y += 1
    entries = cell.rows[0].tape.entries
    heading(canvas, palette, messages.BACK_PATH, messages.BACK_CLIMB, (0, y, width))
    y += 1 + air
    shown = entries[max(len(entries) - max(height - y, 1), 0) :]
    for number, entry in enumerate(shown, len(entries) - len(shown) + 1):
        runs = [TextRun(f"{number:3} ", CellStyle(palette.muted)), TextRun(event_text(entry.event), CellStyle(palette.text))]
        canvas.runs(0, y, runs, width)
        y += 1
    return canvas


def sentence(selection: BackSelection, palette: Palette, *, long: bool) -> list[TextRun]:
    """Say what the chosen cell is about."""
    cell, soft, strong = selection.current, CellStyle(palette.soft), CellStyle(palette.text, bold=True)
    if cell is None:
        return [TextRun(messages.BACK_UNKNOWN, strong)]
    row, gap = cell.rows[0], "     " if long else "  "
    ways = ", ".join(dict.fromkeys(messages.BACK_WAYS[each.landing.way] for each in cell.rows))
    runs = [TextRun(cell.start, strong), TextRun(f"  {cell.glyph} ", CellStyle(palette.lands, bold=True))]
    runs += [TextRun(f"{ways}: {row.words}", strong), TextRun(f"{gap}{messages.BACK_STEPS.format(count=row.steps)}", soft)]
    if row.decides and long:
        runs.append(TextRun(f"{gap}{row.decides}", soft))
    if cell.surprise:
        runs.append(TextRun(f"{gap}{SURPRISE} {cut(cell.surprise, 60)}", CellStyle(palette.broken, bold=True)))
    return runs
