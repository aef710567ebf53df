"""Edits of the plan on the bench: each a text that reads, undone and redone, and saved whole."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.errors import WritingError
from wise_ladder.plan.reading import read_plan_text
from wise_ladder.plan.source import read_text
from wise_ladder.plan.writing import create, save

if TYPE_CHECKING:
    from pathlib import Path

    from wise_ladder.plan import Plan


class Edits:
    """The text of a plan with its edits, the newest last; the file on disk is as it was until it is saved."""

    def __init__(self, path: Path) -> None:
        """Begin with the text of a file; raises PlanError where it cannot be read any more."""
        self.path = path
        self._texts = [read_text(path)]
        self._place = 0
        self.on_disk = self._texts[0]

    @property
    def text(self) -> str:
        """The text as it is now."""
        return self._texts[self._place]

    @property
    def unsaved(self) -> bool:
        """Whether the text is not the one on disk."""
        return self.text != self.on_disk

    def edit(self, text: str) -> Plan:
        """Take an edit; raises PlanError where the text is no plan, and takes nothing then."""
        plan = read_plan_text(text, str(self.path))
        self._texts[self._place + 1 :] = [text]
        self._place += 1
        return plan

    def undo(self) -> Plan | None:
        """Take the last edit back; None where there is none."""
        return self._go(-1)

    def redo(self) -> Plan | None:
        """Take up the edit that was taken back last; None where there is none."""
        return self._go(1)

    def _go(self, way: int) -> Plan | None:
        if not 0 <= self._place + way < len(self._texts):
            return None
        self._place += way
        return read_plan_text(self.text, str(self.path))

    def save(self, *, over: bool = False) -> None:
        """Write the text to its file.

        Raises WritingError where it cannot be written, or where the file was changed meanwhile and `over` is not said.
        """
        if not over:
            self.hold_disk()
        save(self.path, self.text)
        self.on_disk = self.text

    def hold_disk(self) -> None:
        """Raise WritingError where the file is not as it was when it was read or saved here."""
        if self.path.exists() and read_text(self.path) != self.on_disk:
            raise WritingError(f"{self.path.name} was changed elsewhere meanwhile")

    def save_as(self, path: Path) -> None:
        """Write the text to a new file, and go on with that; raises WritingError where there is one already."""
        create(path, self.text)
        self.path, self.on_disk = path, self.text
