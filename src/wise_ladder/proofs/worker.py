"""Proves rules in a process of its own: what is to be proved comes in as one pickle, what came of it goes out as another.

Only the program itself talks to it, through pipes that nobody else has.
"""

from __future__ import annotations

import os
import pickle
import signal
import sys
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING, BinaryIO, NamedTuple

from wise_ladder.proofs.cache import ProofCache

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.plan import Plan
    from wise_ladder.plan.rule import Rule

COMMAND = (sys.executable, "-m", "wise_ladder.proofs.worker")
GIVES_WAY = 10
"""How much its priority is lower than that of the program."""


class ProofTask(NamedTuple):
    """Rules of a plan that are to be proved, but for the `broken` ones, in so many seconds; where proofs are kept."""

    plan: Plan
    rules: tuple[Rule, ...]
    broken: tuple[int, ...]
    seconds: float
    folder: str


def work(given: BinaryIO, found: BinaryIO, goes_on: Callable[[], bool]) -> None:
    """Do one task; `goes_on` is asked now and then."""
    plan, rules, broken, seconds, folder = pickle.load(given)  # noqa: S301 - from the program itself
    proved = ProofCache(Path(folder)).prove(plan, rules, seconds, broken=broken, goes_on=goes_on)
    pickle.dump(proved._replace(wholes=[]), found)
    found.flush()


if __name__ == "__main__":
    # The terminal is the program's, and so is the way to end this.
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    with suppress(OSError, AttributeError):
        os.nice(GIVES_WAY)
    program = os.getppid()
    # If the program is gone, nobody waits for an answer.
    work(sys.stdin.buffer, sys.stdout.buffer, lambda: os.getppid() == program)
