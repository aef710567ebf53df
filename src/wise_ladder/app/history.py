"""Edits of the open plan: each a valid text, undone and redone, and saved as a whole."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.app import messages
from wise_ladder.errors import ConsentError, PlanError
from wise_ladder.plan.files import FileText, ask_for_read_only, create, read_text, save_bytes
from wise_ladder.plan.loader import read_plan_text

if TYPE_CHECKING:
    from pathlib import Path

    from wise_ladder.plan import Plan


class EditHistory:
    """The text of a plan with its edits, the newest last; the file on disk is as it was until it is saved."""

    def __init__(self, path: Path, text: FileText) -> None:
        """Begin with the text of a file as it was read."""
        self.path = path
        self._texts = [text.text]
        self._place = 0
        self.on_disk = text

    @property
    def text(self) -> str:
        """The text as it is now."""
        return self._texts[self._place]

    @property
    def unsaved(self) -> bool:
        """Whether the text is not the one that was read or saved last."""
        return self.text != self.on_disk.text

    def edit(self, text: str) -> Plan:
        """Take an edit; raises PlanError, without taking it, if the text is not a plan."""
        plan = read_plan_text(text, str(self.path))
        self._texts[self._place + 1 :] = [text]
        self._place += 1
        return plan

    def take_up(self, text: FileText) -> Plan:
        """Take over what another program saved, as an edit that needs no saving; raises PlanError if that is not a plan."""
        plan = self.edit(text.text)
        self.on_disk = text
        return plan

    def undo(self) -> Plan | None:
        """Undo the last edit; None if there is none."""
        return self._go(-1)

    def redo(self) -> Plan | None:
        """Redo the edit that was undone last; None if there is none."""
        return self._go(1)

    def _go(self, way: int) -> Plan | None:
        if not 0 <= self._place + way < len(self._texts):
            return None
        self._place += way
        return read_plan_text(self.text, str(self.path))

    def save(self, *, over: bool = False) -> str:
        """Write the text to its file; return what of the file could not be kept, nothing if all was.

        Raises WriteError if it cannot be written. Where the file was changed meanwhile or is read-only, and `over` is
        not said, it raises ConsentError.
        """
        if not over:
            self._ask_before_writing()
        new = FileText(self.text, self.on_disk.marked)
        lost = save_bytes(self.path, new.data)
        self.on_disk = new
        return lost

    def _ask_before_writing(self) -> None:
        if self.path.exists():
            try:
                same = read_text(self.path).text == self.on_disk.text
            except PlanError:
                same = False
            if not same:
                raise ConsentError(messages.CHANGED_ELSEWHERE.format(file=self.path.name))
            ask_for_read_only(self.path)

    def save_as(self, path: Path) -> None:
        """Write the text to a new file, and go on with that; raises WriteError if there is one already."""
        create(path, self.text)
        self.path, self.on_disk = path, FileText(self.text)
