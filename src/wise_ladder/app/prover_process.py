"""The process that proves rules, as the program talks to it."""

from __future__ import annotations

import pickle
import subprocess
from contextlib import suppress
from queue import SimpleQueue
from threading import Thread
from typing import TYPE_CHECKING, BinaryIO, cast

from wise_ladder.proofs.orders import COMMAND

if TYPE_CHECKING:
    from pathlib import Path

    from wise_ladder.proofs.orders import Order, ProofNews


class ProverProcess:
    """A process that proves rules until the program ends, or it does."""

    def __init__(self, folder: Path) -> None:
        """Start it; `folder`: where proofs are kept."""
        command = (*COMMAND, str(folder))
        self.process = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL)  # noqa: S603
        self._news: SimpleQueue[ProofNews | None] = SimpleQueue()
        self._listener = Thread(target=self._listen, daemon=True)
        self._listener.start()

    @property
    def ended(self) -> bool:
        """Whether it has ended."""
        return self.process.poll() is not None

    def order(self, order: Order) -> None:
        """Tell it what to do; if it has ended, nothing comes of that."""
        given = cast("BinaryIO", self.process.stdin)
        with suppress(OSError, ValueError):
            pickle.dump(order, given)
            given.flush()

    def news(self, seconds: float) -> ProofNews | None:
        """Return what it says next, None if it has ended; raises queue.Empty if nothing comes for so many seconds."""
        return self._news.get(timeout=seconds)

    def _listen(self) -> None:
        found = cast("BinaryIO", self.process.stdout)
        with suppress(EOFError, pickle.UnpicklingError, OSError):
            while True:
                self._news.put(pickle.load(found))  # noqa: S301 - from the program's own process
        self._news.put(None)

    def end(self) -> None:
        """End it."""
        self.process.kill()
        # Nothing may be closed while it is read.
        self._listener.join()
        self.process.communicate()
