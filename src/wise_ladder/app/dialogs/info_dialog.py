"""Dialogs that show something: help, what each reply leads to."""

from __future__ import annotations

from typing import TYPE_CHECKING, ClassVar

from rich.table import Table
from rich.text import Text
from textual.binding import Binding, BindingType
from textual.containers import VerticalScroll
from textual.widgets import Static

from wise_ladder.app import messages
from wise_ladder.app.dialogs.dialog import Dialog

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

    from rich.console import RenderableType
    from textual.app import ComposeResult

    from wise_ladder.app.commands import Command
    from wise_ladder.app.palette import Palette
    from wise_ladder.walks.reply_branches import ReplyBranch


class InfoDialog(Dialog[int | None]):
    """A title and what is told beneath it; if there are `choices`, a number key answers with that number."""

    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("escape,q,f1,question_mark,equals_sign", "dismiss(None)", "close"),
        *(Binding(str(number), f"choose({number})", "choose", show=False) for number in range(1, 10)),
    ]

    def __init__(self, title: str, paragraphs: Iterable[RenderableType], *, choices: int = 0) -> None:
        """Tell these things, one beneath the other."""
        super().__init__()
        self._title, self._told, self._choices = title, list(paragraphs), choices

    def compose(self) -> ComposeResult:
        """Lay the dialog out."""
        with VerticalScroll(classes="dialog"):
            yield Static(Text(self._title, style="bold"))
            yield Static(Text(""))
            for paragraph in self._told:
                yield Static(paragraph)
            words = messages.CHOICES_HINT.format(most=self._choices) if self._choices else messages.INFO_HINT
            yield Static(Text(f"\n{words}"), classes="hint")

    def action_choose(self, number: int) -> None:
        """Answer with a number that there is."""
        if number <= self._choices:
            self.dismiss(number)


def keys_dialog(keys: Sequence[tuple[str, str]]) -> InfoDialog:
    """List the keys of a dialog, each with what it does."""
    table = Table.grid(padding=(0, 2))
    for key, does in keys:
        table.add_row(Text(key, style="bold"), Text(does))
    return InfoDialog("Keys here", [table])


def help_dialog(view: tuple[str, str, str], actions: Sequence[Command], palette: Palette, *, taps: bool) -> InfoDialog:
    """Report what a view shows and its keys; `view`: its title, what it is for, its glyphs."""
    title, about, glyphs = view
    table = Table.grid(padding=(0, 2))
    if taps:
        table.add_row(Text("1–9, 0", style="bold"), Text("tap"), Text(messages.TAP_HELP, style=palette.soft))
    for action in actions:
        table.add_row(Text(action.key, style="bold"), Text(action.label), Text(action.help, style=palette.soft))
    return InfoDialog(title, [Text(f"{about}\n", style=palette.soft), table, Text(f"\n{glyphs}", style=palette.soft)])


def replies(call: str, endings: Sequence[ReplyBranch], rows: Iterable[Sequence[str]], palette: Palette) -> InfoDialog:
    """Show where each reply to a call leads; a number key continues with one."""
    table = Table(box=None, padding=(0, 3, 0, 0), show_edge=False)
    for name in ("", "reply", "seen", "ladder", "Back then"):
        table.add_column(name, style=palette.text, header_style=palette.soft)
    for number, (ending, row) in enumerate(zip(endings, rows, strict=True), 1):
        style = palette.broken if ending.refused else palette.text
        table.add_row(
            Text(str(number), style="bold"), Text(ending.outcome, style="bold"), *(Text(cell, style=style) for cell in row)
        )
    return InfoDialog(messages.EACH_REPLY.format(call=call), [table], choices=min(len(endings), 9))
