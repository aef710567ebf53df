"""Edits of the open plan: each a valid text, undone and redone, and saved as a whole."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from wise_ladder.app import messages
from wise_ladder.errors import ConsentError, PlanError, WriteError
from wise_ladder.plan.files import FileText, ask_for_read_only, create, make_folder, read_text, save_bytes
from wise_ladder.plan.included import PlanText
from wise_ladder.plan.loader import read_plan_text
from wise_ladder.plan.values import file_of

if TYPE_CHECKING:
    from wise_ladder.plan import Plan


class EditHistory:
    """The text of a plan with its edits, the newest last; the files on disk are as they were until they are saved."""

    def __init__(self, path: Path, text: PlanText) -> None:
        """Begin with the text of a plan as it was read; `path`: its own file."""
        self.path = path
        self._texts = [text.text]
        self._place = 0
        self.on_disk = text
        self.written = ""
        """The names of the files that were written last."""

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

    def take_up(self, text: PlanText) -> Plan:
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
        """Write what differs from the files; return what of them could not be kept, nothing if all was.

        Raises WriteError if one cannot be written; those before it are. Where a file was changed meanwhile or is read-only,
        and `over` is not said, it raises ConsentError, with nothing written.
        """
        before, files = self.on_disk.files, PlanText(self.text, self.on_disk.marked).files
        if not over:
            for name, text in files.items():
                self._ask_before_writing(self._path_of(name), before.get(name), text)
        lost, written = "", list[str]()
        for name, text in files.items():
            if _read(self._path_of(name)) != text:
                lost = save_bytes(self._path_of(name), text.data) or lost
                written.append(name or self.path.name)
        self.written = ", ".join(written) or self.path.name
        self.on_disk = PlanText(self.text, self.on_disk.marked)
        return lost

    def _path_of(self, name: str) -> Path:
        return Path(file_of(str(self.path), name))

    def _ask_before_writing(self, path: Path, before: FileText | None, text: FileText) -> None:
        if path.exists() and (now := _read(path)) != text:
            if now is None or before is None or now.text != before.text:
                raise ConsentError(messages.CHANGED_ELSEWHERE.format(file=path.name))
            ask_for_read_only(path)

    def save_as(self, path: Path) -> None:
        """Write the text to a new file, and go on with that; what it includes is written beside it, if it is not there already.

        Raises WriteError if one of these files is there with another text.
        """
        files = {Path(file_of(str(path), name)): text for name, text in PlanText(self.text).files.items() if name}
        for each, text in files.items():
            if each.exists() and _read(each) != text:
                raise WriteError(messages.INCLUDED_DIFFERS.format(path=each))
        create(path, PlanText(self.text).files[""].text)
        for each, text in files.items():
            if not each.exists():
                make_folder(each.parent)
                save_bytes(each, text.data)
        self.path, self.on_disk, self.written = path, PlanText(self.text), path.name


def _read(path: Path) -> FileText | None:
    """Return the text of a file, None if it cannot be read."""
    try:
        return read_text(path)
    except PlanError:
        return None
