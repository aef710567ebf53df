"""The sheets that lie over a view: help, a question for a name, a phrase to edit, before beside after."""

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
    from collections.abc import Callable

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


class EditPhrase(ModalScreen[None]):
    """The operations of a move, to be edited; a mistake is told beneath, and the sheet stays until it reads or Esc."""

    BINDINGS: ClassVar[list[BindingType]] = [Binding("escape", "dismiss", "cancel")]

    def __init__(self, title: str, phrases: str, take: Callable[[str], str]) -> None:
        """Show operations parted by semicolons; `take` takes what was typed and returns what is wrong with it, or nothing."""
        super().__init__()
        self._title, self._phrases, self._take = title, phrases, take

    def compose(self) -> ComposeResult:
        """Lay the sheet out."""
        with Vertical(classes="sheet wider"):
            yield Static(Text(self._title, style="bold"))
            yield Input(self._phrases, select_on_focus=False)
            yield Static(Text("Enter takes it, Esc leaves it as it was; several are parted by ;"), classes="hint")

    def on_input_submitted(self, event: Input.Submitted) -> None:
        """Take what was typed, or say what is wrong with it."""
        wrong = self._take(event.value)
        if wrong:
            self.query_one(".hint", Static).update(Text(wrong))
        else:
            self.dismiss()


class BeforeAfter(ModalScreen[None]):
    """One path before and after a change: both ladders and the Backs from there, side by side."""

    BINDINGS: ClassVar[list[BindingType]] = [Binding("escape,q,equals_sign", "dismiss", "close")]

    def __init__(self, title: str, rows: list[tuple[str, str]], more: list[str], palette: Palette) -> None:
        """Show rows of both sides, and lines beneath them."""
        super().__init__()
        self._title, self._rows, self._more, self._palette = title, rows, more, palette

    def compose(self) -> ComposeResult:
        """Lay the sheet out."""
        palette = self._palette
        table = Table(box=None, padding=(0, 4, 0, 0), show_edge=False)
        for name in ("before", "after"):
            table.add_column(name, style=palette.text, header_style=palette.soft)
        for one, two in self._rows:
            style = "" if one == two else f"bold {palette.came}"
            table.add_row(Text(one), Text(two, style=style))
        with VerticalScroll(classes="sheet"):
            yield Static(Text(self._title, style="bold"))
            yield Static(Text(""))
            yield Static(table)
            for line in self._more:
                yield Static(Text(line, style=palette.soft))
            yield Static(Text("\nEsc closes this", style=palette.muted))
