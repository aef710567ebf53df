"""A dialog to choose one of several from, by arrows, mouse or a few letters; some take what was typed as it is."""

from __future__ import annotations

from typing import TYPE_CHECKING, ClassVar, Generic, NamedTuple, TypeVar

from rich.text import Text
from textual.binding import Binding, BindingType
from textual.containers import Vertical
from textual.widgets import Input, OptionList, Static
from textual.widgets.option_list import Option

from wise_ladder.app import messages
from wise_ladder.app.dialogs.dialog import Dialog
from wise_ladder.app.dialogs.info_dialog import keys_dialog
from wise_ladder.app.dialogs.line_input import LineInput
from wise_ladder.safe import visible

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from textual.app import ComposeResult

_Value = TypeVar("_Value")


class ListItem(NamedTuple, Generic[_Value]):
    """One of several: its name, what it does, what it stands for, and other words to find it by."""

    label: str
    about: str
    value: _Value
    also: str = ""


class _Offered(Option, Generic[_Value]):
    """A row of the list, with the choice it stands for: the list may show others by the time it is clicked."""

    def __init__(self, choice: ListItem[_Value], soft: str) -> None:
        words = Text(visible(choice.label, lines=False), no_wrap=True, overflow="ellipsis")
        words.append(f"   {visible(choice.about, lines=False)}" if choice.about else "", style=soft)
        super().__init__(words)
        self.choice = choice


class _Rows(OptionList):
    """The rows; the library fails at Page Up and Page Down if it has not drawn them yet."""

    def mark_page(self, way: int) -> None:
        """Mark a row a page above (-1) or beneath (1)."""
        if self.option_count:
            place = (self.highlighted or 0) + way * max(self.size.height, 1)
            self.highlighted = min(max(place, 0), self.option_count - 1)


class ListDialog(Dialog[_Value | str | None], Generic[_Value]):
    """One of several choices, or what was typed where `free` says that it may be; None if nothing was chosen."""

    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("escape", "dismiss(None)", "cancel"),
        Binding("up,shift+tab", "mark(-1)", "previous", priority=True),
        Binding("down,tab", "mark(1)", "next", priority=True),
        Binding("pageup", "page(-1)", "page up", priority=True),
        Binding("pagedown", "page(1)", "page down", priority=True),
        Binding("f1", "keys", "keys", priority=True),
    ]

    def __init__(
        self,
        title: str,
        choices: Sequence[ListItem[_Value]],
        *,
        free: str = "",
        more: Callable[[_Value], Text] | None = None,
        soft: str = "",
        tall: bool = False,
    ) -> None:
        """Offer choices; `free` says what may be typed instead, `more` tells of the marked one, `soft` colours `about`."""
        super().__init__()
        self._looks = f"dialog{' telling' if more is not None else ''}{' tall' if tall else ''}"
        self._title, self._choices, self._free, self._more, self._soft = title, choices, free, more, soft
        self._shown = list(choices)
        self._stale = False
        """Whether something was typed since the list was made."""

    def compose(self) -> ComposeResult:
        """Lay the dialog out."""
        with Vertical(classes=self._looks):
            yield Static(Text(self._title, style="bold"))
            yield LineInput(placeholder=self._free or messages.SEARCH)
            yield _Rows(*map(self._option, self._choices))
            if self._more is not None:
                yield Static("", classes="more")
            yield Static(Text(messages.LIST_HINT), classes="hint")

    def on_mount(self) -> None:
        """Mark the first one."""
        if self.there:
            self.query_one(LineInput).focus()
            self._mark(0)

    def _option(self, choice: ListItem[_Value]) -> Option:
        return _Offered(choice, self._soft)

    def _mark(self, place: int) -> None:
        options = self.query_one(OptionList)
        options.highlighted = place if self._shown else None
        options.display = bool(self._shown)
        if not self._shown and self._more is not None:
            self.query_one(".more", Static).update(messages.NOTHING_MATCHES)

    def on_input_changed(self) -> None:
        """Find what fits as soon as no key waits."""
        if not self._stale:
            self._stale = True
            self.app.when_done(self._find)  # type: ignore[attr-defined]

    def _find(self) -> None:
        """Keep the choices that have every word that was typed."""
        if not self.there or not self._stale:
            return
        self._stale = False
        words = self.query_one(LineInput).value.lower().split()
        fitting = [
            choice
            for choice in self._choices
            if all(word in f"{choice.label} {choice.about} {choice.also}".lower() for word in words)
        ]
        self._shown = sorted(fitting, key=lambda choice: _rank(choice, set(words)))
        self.query_one(OptionList).set_options(map(self._option, self._shown))
        self._mark(0)

    def on_option_list_option_highlighted(self, event: OptionList.OptionHighlighted) -> None:
        """Tell more of the one that is marked."""
        if self._more is not None and isinstance(event.option, _Offered):
            self.query_one(".more", Static).update(self._more(event.option.choice.value))

    def action_keys(self) -> None:
        """List the keys that work here."""
        free = (("Enter", messages.FREE_KEY),) if self._free else ()
        self.app.push_screen(keys_dialog((*messages.LIST_KEYS, *free)))

    def action_mark(self, way: int) -> None:
        """Mark another one."""
        if not self.there:
            # A key came while the dialog opened, or after it closed.
            return
        self._find()
        now = self.query_one(OptionList).highlighted
        if self._shown:
            self._mark(((now if now is not None else -1) + way) % len(self._shown))

    def action_page(self, way: int) -> None:
        """Mark one a page away."""
        if self.there:
            self._find()
            self.query_one(_Rows).mark_page(way)

    def on_option_list_option_selected(self, event: OptionList.OptionSelected) -> None:
        """Answer with the one that was clicked."""
        if isinstance(event.option, _Offered):
            self.dismiss(event.option.choice.value)

    def on_input_submitted(self, event: Input.Submitted) -> None:
        """Answer with the one that is marked, or with what was typed if nothing fits it."""
        self._find()
        marked = self.query_one(OptionList).highlighted_option
        if isinstance(marked, _Offered):
            self.dismiss(marked.choice.value)
        elif self._free and event.value.strip():
            self.dismiss(event.value.strip())


def _rank(choice: ListItem[_Value], words: set[str]) -> int:
    """What is named so comes first, then what has whole words of it in its name, then what shows them, then the others."""
    label = set(choice.label.lower().split())
    if label and label <= words:
        return 0
    if words <= label:
        return 1
    return 2 if all(word in f"{choice.label} {choice.about}".lower() for word in words) else 3
