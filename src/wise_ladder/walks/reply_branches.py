"""One tape run for each reply that a pending call may get, and for none: where each of them ends."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.plan.events import Reply

if TYPE_CHECKING:
    from wise_ladder.semantics import State
    from wise_ladder.walks.tape import Entry, Tape

SILENCE = "no reply"


class ReplyBranch(NamedTuple):
    """Where a reply leads: the steps from it on, the state after them, and what no longer applied, if anything."""

    outcome: str
    entries: tuple[Entry, ...]
    state: State
    refused: str = ""


def reply_branches(tape: Tape, place: int, call: str) -> list[ReplyBranch]:
    """Run the rest of a tape from a place on for each outcome of a call that is pending there, and for silence.

    What the tape itself replies to the call is left out.
    """
    here = tape.prefix(place)
    rest = [entry.event for entry in tape.entries[place:] if not (isinstance(entry.event, Reply) and entry.event.call == call)]
    branches: list[ReplyBranch] = []
    for outcome in (*(outcome.name for outcome in tape.plan.call[call].outcomes), SILENCE):
        run, refused = here, ""
        for event in [*([Reply(call, outcome)] if outcome != SILENCE else []), *rest]:
            run, done = run.with_event(event)
            if done.refused is not None:
                refused = done.refused
                break
        branches.append(ReplyBranch(outcome, run.entries[place:], run.state_at(len(run.entries)), refused))
    return branches
