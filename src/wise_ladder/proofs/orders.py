"""What the program and the process that proves rules say to each other."""

from __future__ import annotations

import sys
from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias

if TYPE_CHECKING:
    from wise_ladder.plan import Plan
    from wise_ladder.plan.rule import Rule
    from wise_ladder.proofs.proof import Proved

COMMAND = (sys.executable, "-m", "wise_ladder.proofs.worker")


class ProofTask(NamedTuple):
    """Rules of a plan that are to be proved, but for the `broken` ones, in so many seconds."""

    number: int
    plan: Plan
    rules: tuple[Rule, ...]
    broken: tuple[int, ...]
    seconds: float


Order: TypeAlias = "ProofTask | Literal['stop', 'end']"
"""What comes in."""


class ProofNews(NamedTuple):
    """What came of the task of a number so far; `ended`: it is done."""

    number: int
    proved: Proved
    ended: bool
