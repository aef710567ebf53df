"""Loops: steps that can be repeated for ever and add rungs each time."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from wise_ladder.plan import operations
from wise_ladder.plan.events import Answer, Reply, Tap, Wait
from wise_ladder.plan.model import MemoryLimits
from wise_ladder.semantics.state import depth, front_ladder
from wise_ladder.semantics.step import step

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.semantics.state import State
    from wise_ladder.walks.tape import Tape

OF_A_ROUND = (Tap, Answer, Wait, Reply)
"""What a round is made of: what the user does on the screens, and what comes by itself."""
LAPS = 2
"""So often a round is done again at least: two equal rungs, one above the other, are not yet growth."""
MAX_LAPS = 2_000
"""What was not seen to go on in so many is no round, nor is it said that the rule holds."""


def find_loop(tape: Tape) -> int | None:
    """Return after how many steps the round begins that ends with the tape; None if there is none.

    The round leads from a rung to its equal above it, with the same facts. It is done again until the ladder is higher than
    every number that the plan compares its height with or drops by, for only these can end it.
    """
    count, plan = len(tape.entries), tape.plan
    # Only what acts can end a round: no rule and no walk does, whatever numbers it names.
    enough = max(_heights(replace(plan, rules=(), walks=())), default=0)
    ends = front_ladder(tape.state_at(count).ladder)
    for begins in range(count - 1, 0, -1):
        if not isinstance(tape.entries[begins].event, OF_A_ROUND):
            return None
        was = front_ladder(tape.state_at(begins).ladder)
        grown = len(ends) - len(was)
        same = grown > 0 and was and ends[: len(was)] == was and ends[-1].data == was[-1].data
        if same and tape.state_at(begins).facts == tape.state_at(count).facts and _grows(tape, begins, grown, enough):
            return begins
    return None


def repeat_loop(tape: Tape, begins: int) -> State:
    """Return the state after the round was done again."""
    for entry in tape.entries[begins:]:
        tape, _ = tape.with_event(entry.event)
    return tape.state_at(len(tape.entries))


def _grows(tape: Tape, begins: int, grown: int, enough: int) -> bool:
    """Do the steps of a round again until the ladder stays higher than `enough`, and see whether each lap leaves so many rungs.

    What the phone bears does not count: a round that only the end of the app stops is one.
    """
    plan, state = replace(tape.plan, memory=MemoryLimits()), tape.state_at(len(tape.entries))
    events = [entry.event for entry in tape.entries[begins:]]
    for laps in range(1, MAX_LAPS):
        expected, lowest = len(front_ladder(state.ladder)) + grown, depth(state)
        for event in events:
            done = step(plan, state, event)
            if done.refused is not None:
                return False
            state = done.state
            lowest = min(lowest, depth(state))
        if len(front_ladder(state.ladder)) != expected:
            return False
        if laps >= LAPS and lowest > enough:
            return True
    return False


def _heights(part: object) -> Iterator[int]:
    """Go through the numbers of rungs that a plan's conditions compare with and its operations drop by."""
    if isinstance(part, operations.DepthOver | operations.Pop):
        yield part.rungs
    if isinstance(part, Struct):
        for name in part.__struct_fields__:
            yield from _heights(getattr(part, name))
    elif isinstance(part, tuple):
        for each in part:
            yield from _heights(each)
