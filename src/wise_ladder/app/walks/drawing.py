"""The list of walks, and the steps of the chosen one with the ladder after each."""

from __future__ import annotations

from typing import TYPE_CHECKING

from rich.cells import cell_len

from wise_ladder.app import messages
from wise_ladder.app.canvas import Canvas, CellStyle, cut
from wise_ladder.app.canvas_widget import heading
from wise_ladder.plan.events import Event
from wise_ladder.semantics.state import visible_screens
from wise_ladder.semantics.text import log_text, rung_text
from wise_ladder.walks.report_text import side_by_side
from wise_ladder.walks.seen import seen_now

if TYPE_CHECKING:
    from wise_ladder.app.palette import Palette
    from wise_ladder.app.walks.selection import WalkSelection
    from wise_ladder.walks import LineRun

HIGH, WIDE = 30, 80


def draw_list(board: WalkSelection, palette: Palette, width: int, height: int) -> Canvas:
    """Draw the walks with their verdicts and how many steps each has."""
    canvas, air = Canvas(width, height, palette.ground_colour), 1 if height >= HIGH else 0
    shown, total = board.shown, len(board.plan.walks)
    fail = sum(board.fails(walk.name) for walk in board.plan.walks)
    count = f"{len(shown)} of {total}" if board.wanted or board.failed_only else f"{total}, {fail} fail" if fail else f"{total}"
    heading(canvas, palette, "walks" if board.on_app is None else messages.WALKS_ON_APP, count)
    if not shown:
        words = messages.NO_WALKS if not total else messages.NO_WALK_MATCHES
        canvas.text(0, 1 + air, cut(words, width), CellStyle(palette.muted))
        return canvas
    rows = height - 1 - air
    for row, place in enumerate(_part(len(shown), board.place, rows)):
        walk, y, click = shown[place], 1 + air + row, f"app.choose({place})"
        result = board.result_of(walk.name)
        here = walk.name == board.name
        if here:
            canvas.fill(0, y, width, 1, palette.selected, click=click)
        mark, colour = (
            ("◌", palette.muted)
            if result is None or result.not_comparable
            else ("✓", palette.holds)
            if result.passed
            else ("✗", palette.broken)
        )
        turned = "▴" if walk.name in board.turned else " "
        steps = f"{len(result.played) if result else ''}"
        canvas.text(0, y, mark, CellStyle(colour, bold=True, click=click))
        canvas.text(1, y, turned, CellStyle(palette.came, bold=True, click=click))
        strong = here and not board.in_steps
        name = CellStyle(palette.text if here or mark == "✗" else palette.soft, bold=strong, click=click)
        canvas.text(3, y, cut(walk.name, width - 4 - len(steps)), name)
        canvas.text(width - len(steps), y, steps, CellStyle(palette.muted, click=click))
    return canvas


def draw_steps(board: WalkSelection, palette: Palette, width: int, height: int) -> Canvas:
    """Draw the steps of the chosen walk, the ladder after each, and what was expected beside what is where it fails."""
    return _Steps(board, palette, width, height).drawn()


class _Steps:
    def __init__(self, board: WalkSelection, palette: Palette, width: int, height: int) -> None:
        self.board, self.palette = board, palette
        self.canvas = Canvas(width, height, palette.ground_colour)
        self.air = 1 if height >= HIGH else 0

    def drawn(self) -> Canvas:
        board, canvas = self.board, self.canvas
        result = board.result
        heading(canvas, self.palette, "step", f"{board.step + 1} of {len(board.played)}" if board.played else "")
        canvas.text(self._ladder_at(), 0, messages.LADDER_AFTER, CellStyle(self.palette.soft, bold=True))
        if result is None:
            canvas.text(0, 1 + self.air, messages.NOT_RUN if board.name else "", CellStyle(self.palette.muted))
            return canvas
        below = self._failure() if result.failed is not None else []
        room = max(canvas.height - 1 - self.air - (len(below) + 1 if below else 0), 3)
        rows = list(_part(len(board.played), board.step, room))
        for row, place in enumerate(rows):
            self._step(1 + self.air + row, place, board.played[place])
        y = 1 + self.air + len(rows) + 1
        for line, ink in below[: max(canvas.height - y, 0)]:
            canvas.text(0, y, cut(line, canvas.width), ink)
            y += 1
        return canvas

    def _ladder_at(self) -> int:
        return 38 if self.canvas.width >= WIDE else max(self.canvas.width // 2 - 3, 12)

    def _step(self, y: int, place: int, played: LineRun) -> None:
        palette, canvas, board = self.palette, self.canvas, self.board
        here, does = place == board.step, isinstance(played.line.what, Event)
        failed = board.result is not None and place == board.result.failed
        culprit = board.result is not None and place == board.result.cause
        if here:
            ground = palette.selected if board.in_steps else palette.panel
            canvas.fill(0, y, canvas.width, 1, ground, click=f"app.go({place})")
        canvas.text(0, y, f"{place + 1:3}", CellStyle(palette.muted))
        mark, colour = ("✗", palette.broken) if failed else ("▴", palette.came) if culprit else ("", palette.text)
        canvas.text(4, y, mark, CellStyle(colour, bold=True))
        at = self._ladder_at()
        text = CellStyle(palette.broken if failed else palette.text if does else palette.muted, bold=does and here)
        canvas.text(6, y, cut(played.line.text, at - 7), text)
        if does or failed:
            canvas.text(at + 1, y, self._ladder(played, canvas.width - at - 1), CellStyle(palette.soft))
        else:
            canvas.text(at + 1, y, "✓" if board.result and (board.result.failed is None or place < board.result.failed) else "",
                        CellStyle(palette.holds))  # fmt: skip

    @staticmethod
    def _ladder(played: LineRun, width: int) -> str:
        """Write the ladder with its top always in sight."""
        rungs = [rung_text(rung.data) for rung in visible_screens(played.state.ladder)] or [seen_now(played.state)]
        words = " > ".join(rungs)
        while cell_len(words) > width and len(rungs) > 1:
            rungs = rungs[1:]
            words = "… > " + " > ".join(rungs)
        return cut(words, width)

    def _failure(self) -> list[tuple[str, CellStyle]]:
        """Return the expected ladder next to the actual one, and the step that caused the failure."""
        palette, result = self.palette, self.board.result
        assert result is not None and result.failed is not None  # noqa: S101 - asked for a walk that fails only
        failed = result.played[result.failed]
        why = f"✗ step {result.failed + 1}, {failed.line.text}: {failed.unmet.words if failed.unmet else ''}"
        lines = [(why, CellStyle(palette.broken, bold=True))]
        most = 10 if self.air else 4
        on_app = result.app.beside[: most + 2] if result.app is not None else ()
        beside = on_app or side_by_side(failed.line.what, failed.state, most=most)
        lines += [(line, CellStyle(palette.broken if line.startswith("✗") else palette.text)) for line in beside]
        if result.cause is not None:
            act = result.played[result.cause]
            happened = log_text(act.step.log) if act.step else ""
            words = f"▴ {messages.CAUSED_BY.format(number=result.cause + 1)}, {act.line.text}: {happened}"
            lines.append((words, CellStyle(palette.came)))
        return lines


def _part(count: int, chosen: int, rows: int) -> range:
    """Return the places of so many rows around the chosen one."""
    begin = min(max(chosen - rows // 2, 0), max(count - rows, 0))
    return range(begin, min(begin + rows, count))
