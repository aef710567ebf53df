"""Work that fills the memory with what leads in no circle."""

from __future__ import annotations

import gc
from contextlib import contextmanager
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Iterator


@contextmanager
def without_collecting() -> Iterator[None]:
    """Work without a look for circles in memory, which takes a quarter of the time, and never look at what came of it."""
    collects = gc.isenabled()
    gc.collect(1)
    gc.disable()
    try:
        yield
    finally:
        gc.freeze()
        if collects:
            gc.enable()
