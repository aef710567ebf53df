"""Proves rules in a process of its own: tasks come in, one pickle each, and what came of them goes out so, too.

What was met of a plan is kept for the next task, so that an edit of a move need not begin from nothing. Only the program itself
talks to it, through pipes that nobody else has.
"""

from __future__ import annotations

import os
import pickle
import signal
import sys
from contextlib import suppress
from functools import partial
from pathlib import Path
from queue import SimpleQueue
from threading import Thread
from typing import TYPE_CHECKING, BinaryIO

from wise_ladder.proofs.attempt import MOST_MEMORY
from wise_ladder.proofs.cache import ProofCache
from wise_ladder.proofs.orders import ProofNews
from wise_ladder.rules.memory import resident_memory

if TYPE_CHECKING:
    from wise_ladder.proofs.orders import Order
    from wise_ladder.proofs.task import Proved

GIVES_WAY = 10
"""How much its priority is lower than that of the program."""


def work(given: BinaryIO, found: BinaryIO, folder: Path) -> None:
    """Do one task after the other until nothing more comes in; what comes in ends the task at hand.

    Proofs are kept in `folder`.
    """
    tasks: SimpleQueue[Order] = SimpleQueue()
    Thread(target=_take_in, args=(given, tasks), daemon=True).start()
    cache = ProofCache(folder)

    def tell(number: int, proved: Proved, *, ended: bool) -> None:
        pickle.dump(ProofNews(number, proved._replace(wholes=[]), ended), found)
        found.flush()

    while (order := tasks.get()) != "end":
        if order != "stop":
            number, task = order
            tell(number, cache.prove(task, tasks.empty, partial(tell, number, ended=False)), ended=True)
            if resident_memory() >= MOST_MEMORY:
                # The next task is for another process, which has nothing to let go.
                return


def _take_in(given: BinaryIO, tasks: SimpleQueue[Order]) -> None:
    with suppress(EOFError, pickle.UnpicklingError):
        while True:
            tasks.put(pickle.load(given))  # noqa: S301 - from the program itself
    tasks.put("end")


if __name__ == "__main__":
    # The terminal is the program's, and so is the way to end this.
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    with suppress(OSError, AttributeError):
        os.nice(GIVES_WAY)
    # If the program is gone, nothing comes in any more, and nobody waits for an answer.
    with suppress(BrokenPipeError):
        work(sys.stdin.buffer, sys.stdout.buffer, Path(sys.argv[1]))
