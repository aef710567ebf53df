"""Files of the user: only regular ones are read, and what is written is whole or not there at all."""

from __future__ import annotations

import os
import stat
import tempfile
from contextlib import suppress
from pathlib import Path
from typing import NamedTuple

from wise_ladder.errors import ConsentError, PlanError, WriteError
from wise_ladder.plan import messages

MAX_BYTES = 5_000_000
BYTE_ORDER_MARK = "\ufeff".encode()
_KINDS = (
    (stat.S_ISDIR, "a folder"),
    (stat.S_ISFIFO, "a pipe"),
    (stat.S_ISSOCK, "a socket"),
    (stat.S_ISCHR, "a device"),
    (stat.S_ISBLK, "a device"),
)
_BESIDE = ".new"


class FileText(NamedTuple):
    """The text of a file; `marked`: it began with a byte order mark, which is not part of the text."""

    text: str
    marked: bool = False

    @property
    def data(self) -> bytes:
        """The bytes of the file."""
        return (BYTE_ORDER_MARK if self.marked else b"") + self.text.encode()


def real_path(path: Path) -> Path:
    """Return where a path leads, links followed; if they lead in a circle, as far as can be told."""
    try:
        return Path(os.path.realpath(path))
    except ValueError:
        # No file can have such a name; opening it will say so.
        return path


def typed_path(text: str) -> Path:
    """Return the path that was typed, with ~ as the home folder."""
    path = Path(text.strip())
    try:
        return path.expanduser()
    except RuntimeError:
        # There is no such user: then it is a name like any other.
        return path


def irregular(mode: int) -> str:
    """Say what a file is by its mode, nothing if it is a regular file."""
    return next((words for is_kind, words in _KINDS if is_kind(mode)), "" if stat.S_ISREG(mode) else "not a regular file")


def stamp(path: Path) -> tuple[int, ...] | None:
    """Return what tells a file from its next version (time, size, number, mode); None if it is not there."""
    try:
        now = path.stat()
    except OSError:
        return None
    return now.st_mtime_ns, now.st_size, now.st_ino, now.st_mode


def read_text(path: Path) -> FileText:
    """Read the text of a plan file.

    Raises PlanError if there is no such file, it is not a regular file, cannot be read, is too large or not UTF-8 text.
    """
    try:
        stat = path.stat()
        if kind := irregular(stat.st_mode):
            instead = messages.FOLDER_INSTEAD if kind == "a folder" else messages.REGULAR_FILE_NEEDED
            raise PlanError([messages.IRREGULAR.format(path=path, kind=kind, instead=instead)])
        data = b""
        if stat.st_size <= MAX_BYTES:
            with path.open("rb") as file:
                data = file.read(MAX_BYTES + 1)
        if max(stat.st_size, len(data)) > MAX_BYTES:
            raise PlanError([messages.TOO_LARGE.format(path=path)])
    except FileNotFoundError:
        raise PlanError([messages.NO_SUCH_FILE.format(path=path)]) from None
    except (OSError, ValueError) as error:
        reason = error.strerror if isinstance(error, OSError) else error
        raise PlanError([messages.CANNOT_BE_READ.format(path=path, why=reason)]) from None
    return decoded(data, str(path))


def decoded(data: bytes, name: str) -> FileText:
    """Turn the bytes of a file into text; raises PlanError if they are not UTF-8 text."""
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        raise PlanError([messages.UTF16.format(name=name)])
    marked = data.startswith(BYTE_ORDER_MARK)
    try:
        text = data.removeprefix(BYTE_ORDER_MARK).decode()
    except UnicodeDecodeError as error:
        before = data[: error.start]
        line, column = before.count(b"\n") + 1, error.start - (before.rfind(b"\n") + 1) + 1
        raise PlanError([messages.NOT_UTF8.format(name=name, line=line, column=column)]) from None
    return FileText(text, marked)


def save(path: Path, text: str) -> str:
    """Write a text as UTF-8, as `save_bytes` does."""
    return save_bytes(path, text.encode())


def create(path: Path, text: str) -> None:
    """Write a new file; raises WriteError if there is one already."""
    try:
        exists = path.exists()
    except (OSError, ValueError) as error:
        raise WriteError(messages.CANNOT_BE_WRITTEN.format(path=path, why=error)) from None
    if exists:
        raise WriteError(messages.EXISTS_ALREADY.format(path=path))
    save(path, text)


def make_folder(path: Path) -> None:
    """Make a folder and those above it, if they are not there; raises WriteError if that cannot be done."""
    try:
        path.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise WriteError(messages.CANNOT_BE_WRITTEN.format(path=path, why=error.strerror)) from None


def ask_for_read_only(path: Path) -> None:
    """Raise ConsentError if a file is read-only."""
    with suppress(OSError):
        if not path.stat().st_mode & 0o222:
            raise ConsentError(messages.READ_ONLY.format(file=path.name))


def save_bytes(path: Path, data: bytes) -> str:
    """Write a file beside the old one and put it in its place, so that there is always a whole one.

    Owner, mode and hard links stay; only a file that has other owners or names, which a new one cannot have, is written over.
    Returns what could not be kept, nothing if all was. Raises WriteError if it cannot be written; the old file is
    untouched then.
    """
    beside: Path | None = None
    try:
        target = real_path(path)
        was = target.stat() if target.exists() else None
        if was is not None and (kind := irregular(was.st_mode)):
            raise WriteError(messages.IRREGULAR.format(path=path, kind=kind, instead=messages.CHOOSE_ANOTHER_NAME))
        handle, name = tempfile.mkstemp(dir=target.parent, prefix=f".{target.name}.{os.getpid()}-", suffix=_BESIDE)
        beside = Path(name)
        with os.fdopen(handle, "wb") as file:
            _fill(file.fileno(), data)
        return _put_in_place(beside, target, was, data)
    except (OSError, ValueError) as error:
        reason = error.strerror if isinstance(error, OSError) else error
        raise WriteError(messages.CANNOT_BE_WRITTEN.format(path=path, why=reason)) from None
    finally:
        if beside is not None:
            with suppress(OSError):
                beside.unlink(missing_ok=True)


def _fill(handle: int, data: bytes) -> None:
    view = memoryview(data)
    while view:
        view = view[os.write(handle, view) :]
    os.ftruncate(handle, len(data))
    os.fsync(handle)


def _put_in_place(beside: Path, target: Path, was: os.stat_result | None, data: bytes) -> str:
    if was is None:
        beside.chmod(0o644)
        beside.replace(target)
        return ""
    lost = "" if was.st_nlink == 1 else messages.HARD_LINKS_KEEP
    if not _owned_like(beside, was):
        lost = messages.NEW_OWNER
    if lost and os.access(target, os.W_OK):
        # The copy beside it stays until this is done: whatever happens meanwhile, one of the two is whole.
        handle = os.open(target, os.O_WRONLY)
        try:
            _fill(handle, data)
        finally:
            os.close(handle)
        return ""
    beside.chmod(stat.S_IMODE(was.st_mode))
    beside.replace(target)
    return lost


def _owned_like(beside: Path, was: os.stat_result) -> bool:
    now = beside.stat()
    if (now.st_uid, now.st_gid) == (was.st_uid, was.st_gid):
        return True
    try:
        os.chown(beside, was.st_uid, was.st_gid)
    except OSError:
        return False
    return True


def clear_leftovers(folder: Path, name: str = "*") -> None:
    """Remove what saves of a file left beside it that were killed; what another program is just saving stays."""
    import psutil  # noqa: PLC0415 - slow to import, and seldom needed

    with suppress(OSError):
        for left in folder.glob(f".{name}.*{_BESIDE}"):
            process = left.name.removesuffix(_BESIDE).rpartition(".")[2].partition("-")[0]
            if process.isdigit() and not (int(process) == os.getpid() or psutil.pid_exists(int(process))):
                left.unlink(missing_ok=True)
