"""What all dialogs have in common: a dialog closes once, whatever comes after that."""

from __future__ import annotations

from typing import TypeVar

from textual.await_complete import AwaitComplete
from textual.screen import ModalScreen

_Result = TypeVar("_Result")


class Dialog(ModalScreen[_Result]):
    """A dialog over the views.

    Keys and clicks that were on their way when it closed still reach it. Only the first answer counts.
    """

    closed = False

    @property
    def there(self) -> bool:
        """Whether its parts exist: if the program ends while a dialog opens, they never do."""
        return not self.closed and bool(self.query(".hint"))

    def dismiss(self, result: _Result | None = None) -> AwaitComplete:
        """Close with an answer; does nothing if it is closed already or another dialog is over it."""
        if self.closed or not self.is_active:
            return AwaitComplete()
        self.closed = True
        return super().dismiss(result)
