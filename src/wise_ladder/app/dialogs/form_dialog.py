"""Dialogs with lines to type: below them, what may come next and what is wrong."""

from __future__ import annotations

from typing import TYPE_CHECKING, ClassVar, NamedTuple

from rich.text import Text
from textual.binding import Binding, BindingType
from textual.containers import Horizontal, Vertical
from textual.widgets import Static

from wise_ladder.app import messages
from wise_ladder.app.dialogs.dialog import Dialog
from wise_ladder.app.dialogs.info_dialog import keys_dialog
from wise_ladder.app.dialogs.line_input import LineInput
from wise_ladder.safe import visible

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from textual.app import ComposeResult

    from wise_ladder.plan.completion import Completion


class FormField(NamedTuple):
    """A line to type: its name (nothing if there is only one), what stands there, and what completes it."""

    name: str
    text: str = ""
    complete: Callable[[str], list[Completion]] | None = None


class FormDialog(Dialog[None]):
    """Lines to type; `take` returns what is wrong with what was typed, and the dialog stays until nothing is, or Esc."""

    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("escape", "dismiss", "cancel"),
        Binding("tab", "complete", "complete", priority=True),
        Binding("up,shift+tab", "line(-1)", "previous line", priority=True),
        Binding("down", "line(1)", "next line", priority=True),
        Binding("f1", "keys", "keys", priority=True),
    ]

    def __init__(
        self,
        title: str,
        lines: Sequence[FormField],
        take: Callable[[list[str]], str],
        *,
        hint: str = messages.FORM_HINT,
        first: int = 0,
        tell: Callable[[str], str] | None = None,
    ) -> None:
        """Begin in the line `first`; `tell` says what would come of what is typed so far."""
        super().__init__()
        self._title, self._lines, self._take, self._hint, self._first, self._tell = title, lines, take, hint, first, tell
        self._inputs = [LineInput(line.text) for line in lines]
        self._found: list[Completion] = []
        self._stale = False
        """Whether something was typed since one looked."""

    def compose(self) -> ComposeResult:
        """Lay the dialog out."""
        with Vertical(classes="dialog wider"):
            yield Static(Text(visible(self._title, lines=False), style="bold"))
            for line, typed in zip(self._lines, self._inputs, strict=True):
                if line.name:
                    with Horizontal(classes="line"):
                        yield Static(Text(line.name), classes="name")
                        yield typed
                else:
                    yield typed
            yield Static("", classes="told")
            yield Static("", classes="next")
            yield Static(Text(self._hint), classes="hint")

    def on_mount(self) -> None:
        """Begin in the first line, its text selected."""
        if self.there:
            self._inputs[self._first].focus()
        self._look()

    @property
    def _here(self) -> int:
        return next((place for place, typed in enumerate(self._inputs) if typed.has_focus), self._first)

    def _look(self) -> None:
        """Show what may come next, and what would come of it."""
        self._stale = False
        if not self.there:
            return
        here = self._here
        typed, complete = self._inputs[here].value, self._lines[here].complete
        at_end = self._inputs[here].cursor_position >= len(typed)
        self._found = complete(typed) if complete is not None and at_end else []
        words = "  ".join(completion.text for completion in self._found)
        self.query_one(".next", Static).update(Text(f"Tab: {words}" if words else ""))
        message = self._tell(typed) if self._tell is not None else ""
        self.query_one(".told", Static).update(Text(message))
        self.query_one(".told").display = bool(message)

    def on_input_changed(self) -> None:
        """Look again as soon as no key waits."""
        if not self.there:
            return
        self._say(self._hint, wrong=False)
        if not self._stale:
            self._stale = True
            self.app.when_done(self._look)  # type: ignore[attr-defined]

    def on_descendant_focus(self) -> None:
        """Look at the line one came to."""
        self._look()

    def _say(self, words: str, *, wrong: bool) -> None:
        hint = self.query_one(".hint", Static)
        hint.update(Text(visible(words)))
        hint.set_class(wrong, "wrong")

    def action_complete(self) -> None:
        """Complete the first word that may come next; if there is none, go to the next line."""
        self._look()
        if not self._found:
            self.action_line(1)
        else:
            typed = self._inputs[self._here]
            typed.value = typed.value[: self._found[0].start] + self._found[0].text
            typed.cursor_position = len(typed.value)

    def action_keys(self) -> None:
        """List the keys that work here."""
        self.app.push_screen(keys_dialog(messages.FORM_KEYS))

    def action_line(self, way: int) -> None:
        """Go to another line."""
        self._inputs[(self._here + way) % len(self._inputs)].focus()

    def on_input_submitted(self) -> None:
        """Take what was typed, or say what is wrong with it."""
        if self.closed:
            return
        wrong = self._take([typed.value for typed in self._inputs])
        if wrong:
            self._say(f"✗ {wrong}", wrong=True)
        else:
            self.dismiss()
