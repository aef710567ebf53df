"""A line to type in, whose Enter and Escape keep their place among the letters."""

from __future__ import annotations

from typing import TYPE_CHECKING

from textual.widgets import Input

from wise_ladder.safe import visible

if TYPE_CHECKING:
    from textual.events import Key, Paste


MAX_TYPED = 2_000
"""So many characters a line takes, as a phrase of a plan does."""


class LineInput(Input):
    """An input for people who type fast.

    The library hands Enter and Escape up to the screen while the letters after them are written already: what was submitted
    would hold keys that were meant for the view beneath.
    """

    def __init__(self, value: str = "", placeholder: str = "", *, select_on_focus: bool = True) -> None:
        """Begin with a text."""
        super().__init__(value, placeholder, select_on_focus=select_on_focus, max_length=MAX_TYPED)

    def _on_paste(self, event: Paste) -> None:
        """Take as much of a paste as there is room for, with nothing in it that is not seen."""
        event.stop()
        event.prevent_default()
        begin = event.text[:MAX_TYPED].lstrip().partition("\n")[0].rstrip()
        self.replace(visible(begin, lines=False)[: max(MAX_TYPED - len(self.value), 0)], *self.selection)

    async def _on_key(self, event: Key) -> None:
        if event.key not in {"enter", "escape"}:
            await super()._on_key(event)
            return
        event.stop()
        event.prevent_default()
        if event.key == "enter":
            await self.action_submit()
        else:
            self.screen.dismiss(None)
