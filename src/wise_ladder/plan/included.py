"""The text of a plan in several files: one after the other, a line telling where each included one begins.

An edit or an undo therefore works on one text, however many files there are.
"""

from __future__ import annotations

import posixpath
import re
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.plan.files import FileText

if TYPE_CHECKING:
    from collections.abc import Iterable

MARK = "#>> "
"""What the line begins with that tells where an included file begins; its name follows."""
MARKED_LINE = re.compile(f"^{MARK}", re.MULTILINE)
_BEGIN = re.compile(f"\n{MARK}([^\n]*)\n")
SHARED = frozenset(
    ("include", "phones", "facts", "calls", "timers", "flows", "screens", "overlays", "anywhere", "guards", "redirects",
     "links", "givens", "rules", "walks")
)  # fmt: skip
"""Sections that may stand in several files of a plan."""


class TextPart(NamedTuple):
    """The text of one file of a plan, where it begins in the whole text, and its name, nothing for the plan's own file."""

    file: str
    start: int
    text: str


class PlanText(NamedTuple):
    """The whole text of a plan, and which of its files begin with a byte order mark."""

    text: str
    marked: frozenset[str] = frozenset()

    @property
    def files(self) -> dict[str, FileText]:
        """The text of each file by its name; the plan's own file is named by nothing."""
        return {part.file: FileText(part.text, part.file in self.marked) for part in split(self.text)}


def split(text: str) -> list[TextPart]:
    """Take the whole text of a plan apart; the first part is the plan's own file."""
    if MARK not in text:
        return [TextPart("", 0, text)]
    marks = list(_BEGIN.finditer(text))
    names = ["", *(mark[1] for mark in marks)]
    starts = [0, *(mark.end() for mark in marks)]
    ends = [*(mark.start() for mark in marks), len(text)]
    return [TextPart(*part[:2], text[part[1] : part[2]]) for part in zip(names, starts, ends, strict=True)]


def text_of(text: str, file: str) -> str:
    """Return the text of one file of a plan, by its name."""
    return next(part.text for part in split(text) if part.file == file)


def joined(files: Iterable[tuple[str, str]]) -> str:
    """Make the whole text of a plan out of the names and texts of its files; the plan's own file comes first."""
    return "".join(f"\n{MARK}{name}\n{text}" if name else text for name, text in files)


def end_of_own_file(text: str) -> int:
    """Return where the plan's own file ends in the whole text."""
    return len(text_of(text, ""))


def file_name(written: str) -> str:
    """Return the one name of an included file, however it is written: `./walks.yaml` is `walks.yaml`."""
    return posixpath.normpath(written)


def is_outside(name: str) -> bool:
    """Whether the name of an included file leads out of the plan's folder."""
    return name in {".", ".."} or name.startswith(("/", "../"))
