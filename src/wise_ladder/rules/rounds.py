"""Rounds: steps that can be done again and again, and leave one rung more each time."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.ladder.state import seen_ladder
from wise_ladder.plan.events import Answer, Reply, Tap, Wait

if TYPE_CHECKING:
    from wise_ladder.ladder.state import State
    from wise_ladder.walks.tape import Tape

OF_A_ROUND = (Tap, Answer, Wait, Reply)
"""What a round is made of: what the user does on the screens, and what comes by itself."""


def round_of(tape: Tape) -> int | None:
    """Return after how many steps the round begins that ends with the tape; None where there is none.

    The round leads from a rung to its equal above it, with the same facts. It is done twice more, and must leave as many rungs
    each time: two equal rungs, one above the other, are not yet growth.
    """
    count = len(tape.entries)
    ends = seen_ladder(tape.state_at(count).ladder)
    for begins in range(count - 1, 0, -1):
        if not isinstance(tape.entries[begins].event, OF_A_ROUND):
            return None
        was = seen_ladder(tape.state_at(begins).ladder)
        grown = len(ends) - len(was)
        same = grown > 0 and was and ends[: len(was)] == was and ends[-1].face == was[-1].face
        if same and tape.state_at(begins).facts == tape.state_at(count).facts and _grows(tape, begins, grown):
            return begins
    return None


def lap(tape: Tape, begins: int) -> State:
    """Return the state after the round was done once more."""
    for entry in tape.entries[begins:]:
        tape, _ = tape.doing(entry.event)
    return tape.state_at(len(tape.entries))


def _grows(tape: Tape, begins: int, grown: int) -> bool:
    """Do the steps of a round twice more, and see whether each leaves so many rungs."""
    events = [entry.event for entry in tape.entries[begins:]]
    high = len(seen_ladder(tape.state_at(len(tape.entries)).ladder))
    for _ in range(2):
        for event in events:
            tape, done = tape.doing(event)
            if done.refused is not None:
                return False
        high += grown
        if len(seen_ladder(tape.state_at(len(tape.entries)).ladder)) != high:
            return False
    return True
