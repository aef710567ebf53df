"""A line to type in, whose Enter and Escape keep their place among the letters."""

from __future__ import annotations

from typing import TYPE_CHECKING

from textual.widgets import Input

if TYPE_CHECKING:
    from textual.events import Key


MOST_TYPED = 2_000
"""So many characters a line takes, as a phrase of a plan does."""


class Typed(Input):
    """An input for people who type fast.

    The library hands Enter and Escape up to the screen while the letters after them are written already: what was submitted
    would hold keys that were meant for the view beneath.
    """

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
