"""The frame around every view: the line of the views at the top, the line of the keys at the bottom."""

from __future__ import annotations

from typing import TYPE_CHECKING

from rich.cells import cell_len

from wise_ladder.app import messages
from wise_ladder.app.canvas import Canvas, CellStyle, TextRun
from wise_ladder.app.canvas_widget import CanvasWidget
from wise_ladder.app.commands import VIEWS, commands_in
from wise_ladder.safe import visible

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.sweep_runner import RuleCounts


class TitleBar(CanvasWidget):
    """Whose plan it is, which view, and how the walks stand."""

    def __init__(self, plan: str) -> None:
        """Begin before the walks were run."""
        super().__init__("top")
        self._plan, self._view = visible(plan, lines=False), "climb"
        self._standing: list[tuple[str, str]] = []
        self._rules: list[tuple[str, str]] = []

    def show(self, view: str) -> None:
        """Take the name of the current view."""
        self._view = view
        self.redraw()

    def open(self, plan: str) -> None:
        """Take the name of another plan, of which nothing is known yet."""
        self._plan = visible(plan, lines=False)
        self._standing, self._rules = [], []
        self.redraw()

    def tell(self, plan: str, passed: int, failed: int) -> None:
        """Take how the walks stand."""
        self._plan = visible(plan, lines=False)
        self._standing = [("holds", f"✓ {passed} {'walk' if passed == 1 else 'walks'}")] if passed else []
        self._standing += [("broken", f"✗ {failed} {'fails' if failed == 1 else 'fail'}")] if failed else []
        self._standing = self._standing or [("muted", messages.NO_WALKS_YET)]
        self.redraw()

    def tell_rules(self, rules: RuleCounts) -> None:
        """Take how the rules stand."""
        glyph, role = ("✓", "holds") if rules.whole else ("◔", "muted") if rules.running else ("◕", "holds")
        words = f"{glyph} {rules.holds} {'rule' if rules.holds == 1 else 'rules'}"
        self._rules = [(role, words)] if rules.holds else []
        self._rules += [("broken", f"✗ {rules.broken} broken")] if rules.broken else []
        self._rules += [("undecided", f"◌ {rules.unknown} not known")] if rules.unknown else []
        self.redraw()

    def draw(self, width: int, height: int) -> Canvas:
        """Draw the line."""
        palette = self.palette
        canvas = Canvas(width, height, palette.panel)
        x = canvas.text(2 if width >= 100 else 0, 0, "╫ ", CellStyle(palette.twine, bold=True))
        if width >= 100:
            x = canvas.text(x, 0, "Wise Ladder  ", CellStyle(palette.text, bold=True))
        x = canvas.text(x, 0, self._plan, CellStyle(palette.soft)) + (5 if width >= 100 else 2)
        for name, title in VIEWS.items():
            click = f"app.press('{name}')"
            if name == self._view:
                x = canvas.text(x, 0, f" {title} ", CellStyle(palette.board_text, palette.board, bold=True))
            elif width >= 60:
                x = canvas.text(x, 0, f" {title[0]}", CellStyle(palette.text, bold=True, click=click))
                x = canvas.text(x, 0, f"{title[1:]} ", CellStyle(palette.soft, click=click))
            x += 1 if width >= 100 else 0
        end = width - (2 if width >= 100 else 0)
        for role, words in reversed((self._rules if width >= 120 else []) + self._standing):
            end -= cell_len(words)
            if end < x:
                # What is wrong comes last, so that it is drawn first; the views are never covered.
                break
            canvas.text(end, 0, words, CellStyle(getattr(palette, role), bold=role == "broken"))
            end -= 3
        return canvas


class Footer(CanvasWidget):
    """The keys that work right here; if there is no room the less needed ones go first."""

    def __init__(self, taps: Callable[[], int]) -> None:
        """Begin in Climb; `taps` tells how many taps there are."""
        super().__init__("keys")
        self._view, self._taps = "climb", taps

    def tell(self, view: str) -> None:
        """Take the name of the current view."""
        self._view = view
        self.redraw()

    def draw(self, width: int, height: int) -> Canvas:
        """Draw the line."""
        palette = self.palette
        canvas = Canvas(width, height, palette.panel)
        wide = width >= 100
        gap = 3 if wide else 2
        entries = [
            (action.footer_rank, action.key, action.label, f"app.press('{action.name}')")
            for action in commands_in(self._view)
            if action.footer_rank
        ]
        if taps := self._taps() if self._view == "climb" else 0:
            last = {1: "1", 10: "0"}.get(taps, str(min(taps, 9)))
            entries.insert(0, (1, "1" if taps == 1 else f"1–{last}", "tap", ""))
        while entries and sum(len(f"{key} {label}") + gap for _, key, label, _ in entries) > width - (2 if wide else 0):
            entries.remove(max(entries, key=lambda entry: entry[0]))
        x = 2 if wide else 0
        for _, key, label, click in entries:
            do = click or None
            runs = (
                TextRun(key, CellStyle(palette.text, bold=True, click=do)),
                TextRun(f" {label}", CellStyle(palette.soft, click=do)),
            )
            x = canvas.runs(x, 0, runs, width - x) + gap
        return canvas
