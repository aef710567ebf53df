"""How a call of the program ends: with an exit code for every kind of end, and never with a traceback.

0 fine; 1 a walk fails or a rule is broken; 2 it cannot be done as it was called; 3 a bug of ours; 130 Ctrl-C;
143 SIGTERM.
"""

from __future__ import annotations

import errno
import io
import os
import signal
import sys
import tempfile
import time
import traceback
from pathlib import Path
from threading import Event
from typing import TYPE_CHECKING

from wise_ladder import __version__, messages
from wise_ladder.errors import LadderError, UnforeseenError
from wise_ladder.safe import visible

if TYPE_CHECKING:
    from collections.abc import Callable

_CANNOT_BE_WRITTEN = {errno.ENOSPC, errno.EIO, errno.EBADF, errno.EDQUOT, errno.EFBIG}


_TERMINATED = Event()
"""Whether SIGTERM came. Whatever stops at Ctrl-C stops at it too, and a library may raise the interrupt again."""


class _Closed(io.TextIOBase):
    """Stands for an output that was closed before we began."""

    def write(self, _text: str, /) -> int:
        raise OSError(errno.EBADF, "it is closed")


def stop_code() -> int:
    """Return the exit code of a call that was stopped."""
    return 143 if _TERMINATED.is_set() else 130


def run(call: Callable[[], int]) -> int:
    """Run a call and return its exit code; what is wrong is said on one line each."""
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="backslashreplace")
    if sys.stdout is None:
        sys.stdout = _Closed()
    signal.signal(signal.SIGTERM, _terminate)
    try:
        code = call()
        sys.stdout.flush()
    except UnforeseenError as error:
        code = error.exit_code
        _say(_kept(str(error)))
    except LadderError as error:
        code = error.exit_code
        _say(str(error))
    except KeyboardInterrupt:
        code = stop_code()
    except BrokenPipeError:
        # The reader of our output has closed it.
        code = 0
        _drop_output()
    except OSError as error:
        if error.errno not in _CANNOT_BE_WRITTEN:
            code = UnforeseenError.exit_code
            _say(_kept(traceback.format_exc()))
        else:
            code = LadderError.exit_code
            _say(messages.OUTPUT_NOT_WRITTEN.format(why=error.strerror))
            _drop_output()
    except Exception:  # noqa: BLE001 - unforeseen, so of unknown kind
        code = UnforeseenError.exit_code
        _say(_kept(traceback.format_exc()))
    # Python remembers an interrupt inside code made from text, as an import may run it, and would exit by SIGINT
    # although it was caught. The next such code clears that.
    exec("")  # noqa: S102 - there is nothing in it
    return code


def _terminate(_signal: int, _frame: object) -> None:
    _TERMINATED.set()
    raise KeyboardInterrupt


def _say(words: str) -> None:
    try:
        print(visible(words), file=sys.stderr, flush=True)
    except (OSError, ValueError):
        sys.stderr = None


def _drop_output() -> None:
    """Let the interpreter not try to write the rest."""
    sys.stdout = None


def _kept(details: str) -> str:
    """Write the details of a bug to a file; return the line that says where."""
    from platformdirs import user_log_path  # noqa: PLC0415

    words = f"wise-ladder {__version__}, Python {sys.version.split()[0]}, {sys.platform}\n{' '.join(sys.argv)}\n\n{details}"
    name = f"bug-{time.strftime('%Y%m%d-%H%M%S')}-{os.getpid()}.txt"
    for folder in (user_log_path("wise-ladder"), Path(tempfile.gettempdir())):
        try:
            folder.mkdir(parents=True, exist_ok=True)
            (folder / name).write_text(words, encoding="utf-8", errors="backslashreplace")
        except OSError:
            continue
        return messages.BUG_DETAILS.format(path=folder / name)
    return messages.BUG.format(why=details.strip().splitlines()[-1])
