"""How much memory the program holds; and work that makes many objects that do not refer to each other in circles."""

from __future__ import annotations

import gc
import os
from contextlib import contextmanager
from functools import cache
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Iterator

    from psutil import Process


@contextmanager
def without_collecting() -> Iterator[None]:
    """Turn the search for circles of objects off while work is done; it takes a quarter of the time, and finds none.

    What was made is never searched later either: that would be a second in which no key is answered.
    """
    collects = gc.isenabled()
    gc.collect(1)
    gc.disable()
    try:
        yield
    finally:
        gc.freeze()
        if collects:
            gc.enable()


def resident_memory() -> int:
    """Return the bytes of memory that this program holds now."""
    return _process(os.getpid()).memory_info().rss


@cache
def _process(number: int) -> Process:
    import psutil  # noqa: PLC0415 - it takes as long to come as a small sweep

    return psutil.Process(number)
