"""What the bench remembers from start to start: where one was, and edits that were not saved when it ended by surprise."""

from __future__ import annotations

import hashlib
import os
from contextlib import suppress
from typing import TYPE_CHECKING, TypeVar

import msgspec
from msgspec import Struct

from wise_ladder.errors import WritingError
from wise_ladder.plan.writing import save_bytes

if TYPE_CHECKING:
    from pathlib import Path

MOST_RECENT = 12

_Kept = TypeVar("_Kept", bound=Struct)


class Start(Struct):
    """How the next start begins; `side`: how many columns the parts at the side have more than usual."""

    plan: str = ""
    view: str = "climb"
    theme: str = "ink"
    side: int = 0
    recent: tuple[str, ...] = ()


class Unsaved(Struct):
    """The text of a plan with edits, the text that was on disk under it, and the process that holds it."""

    path: str
    text: str
    on_disk: str
    process: int


class Memory:
    """A folder where it is all kept, None where nothing is; what cannot be read or written is as if it were not there."""

    def __init__(self, folder: Path | None) -> None:
        """Remember in a folder, which is made when it is needed."""
        self._folder = folder

    def start(self) -> Start:
        """Return how the last one left it."""
        return self._read("bench.json", Start) or Start()

    def keep_start(self, start: Start) -> None:
        """Keep how the next start begins."""
        start.recent = tuple(dict.fromkeys((start.plan, *start.recent)))[:MOST_RECENT]
        self._write("bench.json", start)

    def unsaved(self, path: Path) -> Unsaved | None:
        """Return the edits of a plan that nobody saved, None where there are none or somebody still works on them."""
        found = self._read(self._name(path), Unsaved)
        return None if found is None or (found.process != os.getpid() and _runs(found.process)) else found

    def keep_unsaved(self, path: Path, text: str, on_disk: str) -> None:
        """Keep the edits of a plan until they are saved."""
        self._write(self._name(path), Unsaved(str(path), text, on_disk, os.getpid()))

    def drop_unsaved(self, path: Path) -> None:
        """Forget the edits of a plan: they were saved, or nobody wants them."""
        if self._folder is not None:
            with suppress(OSError):
                (self._folder / self._name(path)).unlink(missing_ok=True)

    @staticmethod
    def _name(path: Path) -> str:
        return f"unsaved-{hashlib.sha256(str(path.resolve()).encode()).hexdigest()[:16]}.json"

    def _read(self, name: str, kind: type[_Kept]) -> _Kept | None:
        if self._folder is None:
            return None
        try:
            return msgspec.json.decode((self._folder / name).read_bytes(), type=kind)
        except (OSError, msgspec.DecodeError, UnicodeDecodeError):
            return None

    def _write(self, name: str, kept: Struct) -> None:
        if self._folder is not None:
            with suppress(OSError, WritingError):
                self._folder.mkdir(parents=True, exist_ok=True)
                save_bytes(self._folder / name, msgspec.json.encode(kept))


def _runs(process: int) -> bool:
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except OSError:
        return True
    return True
