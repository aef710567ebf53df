"""Reading a plan with the files that it includes, and writing what of them was changed."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from wise_ladder.errors import PlanError
from wise_ladder.plan import messages
from wise_ladder.plan.files import MAX_BYTES, FileText, read_text, real_path
from wise_ladder.plan.included import MARKED_LINE, PlanText, file_name, is_outside, joined
from wise_ladder.plan.map_reader import MapReader
from wise_ladder.plan.source import Source, parse
from wise_ladder.plan.values import file_of

if TYPE_CHECKING:
    from wise_ladder.plan.source import ScalarNode

MAX_FILES = 200
_KEY = "include"


def read_plan_files(path: Path) -> PlanText:
    """Read a plan file and all that it includes; raises PlanError with every problem that keeps them from being read."""
    own = read_text(path)
    if _KEY not in own.text and not MARKED_LINE.search(own.text):
        return PlanText(own.text, frozenset([""] if own.marked else []))
    reader = _Reader(path)
    reader.take("", own, (path.name,))
    if reader.problems:
        raise PlanError(reader.problems)
    return PlanText(joined((name, text.text) for name, text in reader.files.items()), reader.marked)


def plan_paths(path: Path, text: str | None = None) -> list[Path]:
    """List the files of a plan, its own first; without its text they are looked up, as far as they can be read."""
    if text is None:
        reader = _Reader(path)
        try:
            reader.take("", read_text(path), (path.name,))
        except PlanError:
            return [path]
        return [Path(file_of(str(path), name)) for name in reader.named]
    return [Path(file_of(str(path), name)) for name in PlanText(text).files]


class _Reader:
    """Reads file after file, each once."""

    def __init__(self, path: Path) -> None:
        self._path = path
        self._folder = real_path(path.parent)
        self._size = 0
        self.files: dict[str, FileText] = {}
        self.named: dict[str, None] = {}
        """All files that were asked for, those that cannot be read among them."""
        self.problems: list[str] = []

    @property
    def marked(self) -> frozenset[str]:
        """Which files begin with a byte order mark."""
        return frozenset(name for name, text in self.files.items() if text.marked)

    def take(self, name: str, text: FileText, chain: tuple[str, ...]) -> None:
        """Take a file, and all that it includes; `chain`: the files from the plan's own down to this one."""
        self.files[name] = text
        self.named[name] = None
        self._size += len(text.text)
        source = Source(file_of(str(self._path), name), text.text)
        try:
            for match in MARKED_LINE.finditer(text.text):
                source.add_error(source.at(match.start()), messages.MARK_OF_INCLUDED, messages.WRITE_COMMENT_OTHERWISE)
            if _KEY in text.text:
                for written in MapReader(source, parse(source, empty=bool(name)), messages.A_PLAN).scalars(_KEY):
                    self._include(source, written, chain)
            source.raise_errors()
        except PlanError as error:
            self.problems += error.messages

    def _include(self, source: Source, written: ScalarNode, chain: tuple[str, ...]) -> None:
        name = file_name(written.text)
        path = self._path.parent / name
        if is_outside(name) or not real_path(path).is_relative_to(self._folder):
            source.add_error(written.at, messages.INCLUDE_OUTSIDE.format(name=written.text), messages.INCLUDE_INSIDE)
        elif name in chain or real_path(path) == real_path(self._path):
            circle = chain[chain.index(name) if name in chain else 0 :]
            source.add_error(written.at, messages.INCLUDE_CIRCLE.format(files=", ".join(circle)), messages.REMOVE_IT)
        elif name in self.named:
            source.add_error(written.at, messages.INCLUDE_TWICE.format(name=name), messages.KEEP_ONE)
        elif len(self.named) > MAX_FILES or self._size > MAX_BYTES:
            source.add_error(written.at, messages.INCLUDES_TOO_MUCH.format(most=MAX_FILES))
        else:
            self.named[name] = None
            try:
                text = read_text(path)
            except PlanError as error:
                words = str(error)
                if words.startswith(f"{path}: "):
                    source.add_error(written.at, f'"{name}": {words.removeprefix(f"{path}: ")}')
                else:
                    self.problems.append(words)
                return
            self.take(name, text, (*chain, name))
