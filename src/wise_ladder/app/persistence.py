"""What is kept between starts: the last session, which process has which plan open, and unsaved edits."""

from __future__ import annotations

import hashlib
import os
import time
from contextlib import suppress
from typing import TYPE_CHECKING, NamedTuple, TypeVar

import msgspec
from msgspec import Struct

from wise_ladder.errors import WriteError
from wise_ladder.plan.files import clear_leftovers, real_path, save_bytes
from wise_ladder.safe import visible

if TYPE_CHECKING:
    from collections.abc import Iterator
    from pathlib import Path

MAX_RECENT = 12

_Kept = TypeVar("_Kept", bound=Struct)


class LastSession(Struct):
    """How the next start begins; `side`: how many columns the parts at the side have more than usual."""

    plan: str = ""
    view: str = "climb"
    theme: str = "ink"
    side: int = 0
    recent: tuple[str, ...] = ()


class UnsavedEdits(Struct):
    """The text of a plan with edits, the text that was on disk when they began, and the process that holds it."""

    path: str
    text: str
    on_disk: str
    process: int
    born: float
    """When that process began, in seconds since 1970: its number may be another's by now."""


class Open(Struct):
    """A process that has a plan open, and since when (seconds since 1970)."""

    process: int
    born: float
    since: float


class Left(NamedTuple):
    """Edits that were left, and the file they are kept in."""

    unsaved: UnsavedEdits
    name: str


class StateDir:
    """The folder of all stored state, None for none; what cannot be read is treated as missing."""

    def __init__(self, folder: Path | None) -> None:
        """Remember in a folder, which is made when it is needed."""
        self._folder = folder

    @property
    def remembers(self) -> bool:
        """Whether anything is kept at all."""
        return self._folder is not None

    def start(self) -> LastSession:
        """Return how the last session ended."""
        return self._read("bench.json", LastSession) or LastSession()

    def keep_start(self, start: LastSession) -> None:
        """Keep how the next start begins."""
        start.plan = visible(start.plan)
        start.recent = tuple(dict.fromkeys((start.plan, *start.recent)))[:MAX_RECENT]
        self._write("bench.json", start)

    # Which process has a plan open

    def opened(self, path: Path) -> list[Open]:
        """Note that this process has a plan open; return the others that have."""
        others = [other for other, _ in self._all(f"open-{_mark(path)}", Open) if other.process != os.getpid()]
        self._write(_name("open", path), Open(os.getpid(), _born(os.getpid()), time.time()))
        return others

    def closed(self, path: Path) -> None:
        """Note that this process has a plan open no more."""
        self._drop(_name("open", path))

    def clear_leftovers(self) -> None:
        """Remove what killed programs left in the folder, but for edits."""
        if self._folder is not None:
            clear_leftovers(self._folder)
            for _, name in self._all("open-", Open, gone=True):
                self._drop(name)

    # Edits that were not saved

    def left(self, path: Path) -> Left | None:
        """Return the latest edits of a plan whose process is gone, None if there are none."""
        unsaved = [Left(*each) for each in self._all(f"unsaved-{_mark(path)}", UnsavedEdits, gone=True)]
        return max(unsaved, key=lambda each: each.unsaved.born, default=None)

    def drop_left(self, left: Left) -> None:
        """Forget edits that were left."""
        self._drop(left.name)

    def keep_unsaved(self, path: Path, text: str, on_disk: str) -> bool:
        """Keep the edits of a plan until they are saved; return whether they could be kept."""
        kept = UnsavedEdits(visible(str(path)), text, on_disk, os.getpid(), _born(os.getpid()))
        return self._write(_name("unsaved", path), kept)

    def drop_unsaved(self, path: Path) -> None:
        """Forget the edits that this process kept: they were saved or discarded."""
        self._drop(_name("unsaved", path))

    # Files

    def _all(self, begin: str, kind: type[_Kept], *, gone: bool = False) -> Iterator[tuple[_Kept, str]]:
        """Go through what processes kept that still run, or else of those that are gone."""
        if self._folder is None:
            return
        with suppress(OSError):
            for path in sorted(self._folder.glob(f"{begin}*.json")):
                content = self._read(path.name, kind)
                if isinstance(content, (UnsavedEdits, Open)) and _runs(content) != gone:
                    yield content, path.name

    def _read(self, name: str, kind: type[_Kept]) -> _Kept | None:
        if self._folder is None:
            return None
        try:
            return msgspec.json.decode((self._folder / name).read_bytes(), type=kind)
        except (OSError, msgspec.DecodeError, UnicodeDecodeError):
            return None

    def _write(self, name: str, kept: Struct) -> bool:
        if self._folder is not None:
            try:
                self._folder.mkdir(parents=True, exist_ok=True)
                save_bytes(self._folder / name, msgspec.json.encode(kept))
            except (OSError, WriteError):
                return False
        return True

    def _drop(self, name: str) -> None:
        if self._folder is not None:
            with suppress(OSError):
                (self._folder / name).unlink(missing_ok=True)


def _mark(path: Path) -> str:
    return hashlib.sha256(str(real_path(path)).encode(errors="surrogateescape")).hexdigest()[:16]


def _name(what: str, path: Path) -> str:
    # In a container each program may have the same number.
    return f"{what}-{_mark(path)}-{os.getpid()}-{_born(os.getpid()):.0f}.json"


def _born(process: int) -> float:
    import psutil  # noqa: PLC0415 - slow to import, and not needed for the first picture

    try:
        return float(psutil.Process(process).create_time())
    except psutil.Error:
        return 0.0


def _runs(kept: UnsavedEdits | Open) -> bool:
    return abs(_born(kept.process) - kept.born) < 1
