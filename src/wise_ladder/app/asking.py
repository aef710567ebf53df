"""The two sheets that lie over a view: help, and a question for a name."""

from __future__ import annotations

from typing import TYPE_CHECKING, ClassVar

from rich.table import Table
from rich.text import Text
from textual.binding import Binding, BindingType
from textual.containers import Vertical, VerticalScroll
from textual.screen import ModalScreen
from textual.widgets import Input, Static

from wise_ladder.app.actions import ACTIONS

if TYPE_CHECKING:
    from textual.app import ComposeResult

    from wise_ladder.app.palette import Palette

_CLIMB = """\
You stand on the top rung of a ladder: the back stack of the app. Left of each rung stands how it came, right of it the line \
down which Back leads, each Back in its turn, to the ground: that is outside the app. Number keys tap what the phone in hand \
shows; beside each tap stands what it would do. Nothing runs but the model: step back on the tape, do something else there, \
and another branch begins; the one you left is kept."""

_GLYPHS = """\
● here  ◀ Back leads here  ▴ came  − went  ◷ timer  ↯ by itself  ✗ finding  ↻ trap
↑ push  ⇄ replace  ■ clear, then push  ◎ reach  ↓ pop  ⇓ pop to  ○ leave"""


class Help(ModalScreen[None]):
    """What the view shows, and its keys."""

    BINDINGS: ClassVar[list[BindingType]] = [Binding("escape,f1,q,question_mark", "dismiss", "close")]

    def __init__(self, palette: Palette) -> None:
        """Write in the colours of the present look."""
        super().__init__()
        self._palette = palette

    def compose(self) -> ComposeResult:
        """Lay the sheet out."""
        with VerticalScroll(classes="sheet"):
            yield Static(Text("Climb: what does the app do when I ...?", style="bold"))
            yield Static(Text(f"\n{_CLIMB}\n", style=self._palette.soft))
            yield Static(self._keys())
            yield Static(Text(f"\n{_GLYPHS}\n", style=self._palette.soft))
            yield Static(Text("Esc closes this", style=self._palette.muted))

    def _keys(self) -> Table:
        table = Table.grid(padding=(0, 2))
        table.add_row(
            Text("1–9, 0", style="bold"),
            Text("tap"),
            Text("Tap what the phone in hand shows.", style=self._palette.soft),
        )
        for action in ACTIONS:
            keys = Text(action.key, style="bold")
            table.add_row(keys, Text(action.label), Text(action.help, style=self._palette.soft))
        return table


class AskName(ModalScreen[str | None]):
    """A question for a name; Esc answers nothing."""

    BINDINGS: ClassVar[list[BindingType]] = [Binding("escape", "dismiss(None)", "cancel")]

    def __init__(self, title: str, hint: str) -> None:
        """Ask with a title, and a line that says what comes of it."""
        super().__init__()
        self._title, self._hint = title, hint

    def compose(self) -> ComposeResult:
        """Lay the sheet out."""
        with Vertical(classes="sheet small"):
            yield Static(Text(self._title, style="bold"))
            yield Input(placeholder="a name that says what must hold")
            yield Static(Text(self._hint), classes="hint")

    def on_input_submitted(self, event: Input.Submitted) -> None:
        """Answer with what was typed; an empty name is no answer."""
        if event.value.strip():
            self.dismiss(event.value.strip())
