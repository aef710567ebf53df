"""How long searches on another thread leave time to the keys."""

from __future__ import annotations

import time
from typing import TYPE_CHECKING

from textual.worker import get_current_worker

if TYPE_CHECKING:
    from collections.abc import Callable

    from textual.worker import Worker

BREATH = 0.001
"""So many seconds are left to the keys each time a search asks whether to go on."""


def goes_on_while(worker: Worker[object]) -> Callable[[], bool]:
    """Return what a search asks now and then: it gives way to the keys, and is false once the worker was cancelled."""

    def goes_on() -> bool:
        time.sleep(BREATH)
        return not worker.is_cancelled

    return goes_on


def still_wanted(asked_for: Callable[[], bool]) -> Callable[[], bool]:
    """Return what the work of this thread asks now and then: false once it is not asked for, or its worker was cancelled."""
    worker = get_current_worker()
    return lambda: asked_for() and not worker.is_cancelled
