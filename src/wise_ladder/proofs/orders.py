"""What the program and the process that proves rules say to each other."""

from __future__ import annotations

import sys
from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias

if TYPE_CHECKING:
    from wise_ladder.proofs.task import ProofTask, Proved

COMMAND = (sys.executable, "-m", "wise_ladder.proofs.worker")

Order: TypeAlias = "tuple[int, ProofTask] | Literal['stop', 'end']"
"""What comes in: a task with its number, or that the one at hand, or all, is to end."""


class ProofNews(NamedTuple):
    """What came of the task of a number so far; `ended`: it is done."""

    number: int
    proved: Proved
    ended: bool
