"""The terminal may send anything: neither bytes that are not text nor a stop without a way back may end the program."""

from __future__ import annotations

import codecs
import os
import signal
import sys
import time
from functools import partial
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from textual.driver import Driver


def tolerant(driver: type[Driver]) -> type[Driver]:
    """Let a driver of the library read what is no UTF-8 as a character that means nothing; it knows no setting for that."""
    module = __import__(driver.__module__, fromlist=[driver.__name__])
    if hasattr(module, "getincrementaldecoder"):
        vars(module)["getincrementaldecoder"] = lambda name: partial(codecs.getincrementaldecoder(name), errors="replace")
    return driver


def stop_only_where_it_goes_on() -> None:
    """Ignore ctrl+z if no shell has the program as one of its jobs: it could not be continued.

    While an editor begins or ends, the terminal turns ctrl+z into a signal, and the library then stops the process for good.
    A shell with jobs gives each job a process group of its own; without one, ours is the group that leads the session.
    """
    if hasattr(signal, "SIGTSTP") and os.getpgrp() == os.getsid(0):
        signal.signal(signal.SIGTSTP, signal.SIG_IGN)


def end_with_terminal() -> None:
    """Exit when the terminal closes: then there is nothing to clean up.

    A closed terminal may not say so, and writing to it may block for ever: hence its own thread.
    """
    while True:
        time.sleep(2)
        try:
            os.get_terminal_size(sys.__stdin__.fileno() if sys.__stdin__ else 0)
        except OSError:
            os._exit(1)
