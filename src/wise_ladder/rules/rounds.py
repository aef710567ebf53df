"""Rounds: steps that can be done again and again, and leave one rung more each time."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.ladder.state import visible_path
from wise_ladder.plan.events import Answer, Reply, Tap, Wait

if TYPE_CHECKING:
    from wise_ladder.ladder.state import Ladder, State
    from wise_ladder.walks.tape import Tape

OF_A_ROUND = (Tap, Answer, Wait, Reply)
"""What a round is made of: what the user does on the screens, and what comes by itself."""


def round_of(tape: Tape) -> int | None:
    """Return after how many steps the round begins that ends with the tape; None where there is none.

    The round leads from a rung to its equal above it, with the same facts. It is done twice more, and must leave as many rungs
    each time: two equal rungs, one above the other, are not yet growth.
    """
    count = len(tape.entries)
    ends = _seen_ladder(tape.state_at(count))
    for begins in range(count - 1, 0, -1):
        if not isinstance(tape.entries[begins].event, OF_A_ROUND):
            return None
        was = _seen_ladder(tape.state_at(begins))
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
    high = len(_seen_ladder(tape.state_at(len(tape.entries))))
    for _ in range(2):
        for event in events:
            tape, done = tape.doing(event)
            if done.refused is not None:
                return False
        high += grown
        if len(_seen_ladder(tape.state_at(len(tape.entries)))) != high:
            return False
    return True


def _seen_ladder(state: State) -> Ladder:
    """Return the innermost ladder that is seen."""
    ladder = state.ladder
    for rung in visible_path(ladder)[:-1]:
        ladder = rung.front
    return ladder
