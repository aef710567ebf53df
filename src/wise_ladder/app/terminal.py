"""The terminal may send anything: bytes that are no text must not end the bench."""

from __future__ import annotations

import codecs
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
