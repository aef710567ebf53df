"""Loops: steps that can be repeated for ever and add rungs each time."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from wise_ladder.plan import conditions, operations
from wise_ladder.plan.events import Answer, Reply, Tap, Wait
from wise_ladder.plan.world import MemoryLimits
from wise_ladder.semantics.state import depth, front_ladder
from wise_ladder.semantics.step import step

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.semantics.state import State
    from wise_ladder.walks.tape import Tape

OF_A_LOOP = (Tap, Answer, Wait, Reply)
"""The events of a loop: what the user does on the screens, and what comes by itself."""
REPEATS = 2
"""A loop is repeated at least this often: two equal rungs, one above the other, are not yet growth."""
MAX_REPEATS = 2_000
"""What does not prove itself in this many repeats is not called a loop, nor is the rule said to hold."""


def find_loop(tape: Tape) -> int | None:
    """Return after how many steps the loop at the end of the tape begins; None if there is none.

    The loop leads from a rung to its equal above it, with the same facts. It is repeated until the ladder is higher than
    every number that the plan compares its height with or drops by, for only these can end it.
    """
    count, plan = len(tape.entries), tape.plan
    # Only what acts can end a loop: no rule and no walk does, whatever numbers it names.
    enough = max(_heights(replace(plan, rules=(), walks=())), default=0)
    ends = front_ladder(tape.state_at(count).ladder)
    for begins in range(count - 1, 0, -1):
        if not isinstance(tape.entries[begins].event, OF_A_LOOP):
            return None
        was = front_ladder(tape.state_at(begins).ladder)
        grown = len(ends) - len(was)
        same = grown > 0 and was and ends[: len(was)] == was and ends[-1].data == was[-1].data
        if same and tape.state_at(begins).facts == tape.state_at(count).facts and _grows(tape, begins, grown, enough):
            return begins
    return None


def repeat_loop(tape: Tape, begins: int) -> State:
    """Return the state after the loop was repeated."""
    for entry in tape.entries[begins:]:
        tape, _ = tape.with_event(entry.event)
    return tape.state_at(len(tape.entries))


def _grows(tape: Tape, begins: int, grown: int, enough: int) -> bool:
    """Repeat the steps of a loop until the ladder stays higher than `enough`; each repeat must add as many rungs.

    The weight that the phone allows does not count: a loop that ends only because the app is killed is one.
    """
    plan, state = replace(tape.plan, memory=MemoryLimits()), tape.state_at(len(tape.entries))
    events = [entry.event for entry in tape.entries[begins:]]
    for repeats in range(1, MAX_REPEATS):
        expected, lowest = len(front_ladder(state.ladder)) + grown, depth(state)
        for event in events:
            done = step(plan, state, event)
            if done.refused is not None:
                return False
            state = done.state
            lowest = min(lowest, depth(state))
        if len(front_ladder(state.ladder)) != expected:
            return False
        if repeats >= REPEATS and lowest > enough:
            return True
    return False


def _heights(part: object) -> Iterator[int]:
    """Go through the numbers of rungs that a plan's conditions compare with and its operations drop by."""
    if isinstance(part, conditions.DepthOver | operations.Pop):
        yield part.rungs
    if isinstance(part, Struct):
        for name in part.__struct_fields__:
            yield from _heights(getattr(part, name))
    elif isinstance(part, tuple):
        for each in part:
            yield from _heights(each)
