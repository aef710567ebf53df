"""What came of the tool's own ways through a running app."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

if TYPE_CHECKING:
    from wise_ladder.walks.tape import Tape


class Found(NamedTuple):
    """Where plan and app differ: the fewest steps found that show it, on the plan; how they differ, and both ladders."""

    tape: Tape
    words: str
    beside: tuple[str, ...]


class Explored(NamedTuple):
    """How far an exploration came: steps, moves of the plan that were done, of how many; and the first difference, if any."""

    steps: int
    moves: int
    all_moves: int
    found: Found | None
