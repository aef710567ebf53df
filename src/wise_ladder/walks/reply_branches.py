"""One tape run for each reply that a call may get, and for none."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.plan.events import Reply
from wise_ladder.semantics.log import CallMade

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


class ReplyOnTape(NamedTuple):
    """A reply that a call gets in a run, and what it could get instead; `step` 0: it comes by itself, or there is none."""

    step: int
    call: str
    outcome: str
    others: tuple[str, ...]


def replies_of(tape: Tape) -> list[ReplyOnTape]:
    """List the replies in a run: those that are steps of it, then those of other calls that were made in it."""
    given = [
        (number, entry.event.call, entry.event.outcome)
        for number, entry in enumerate(tape.entries, 1)
        if isinstance(entry.event, Reply)
    ]
    scripted = dict(reversed(tape.first.scripted_replies))
    made = (each.call for entry in tape.entries for each in entry.step.log if isinstance(each, CallMade))
    answered = {call for _, call, _ in given}
    given += [(0, call, scripted.get(call, SILENCE)) for call in dict.fromkeys(made) if call not in answered]
    found = []
    for number, call, outcome in given:
        outcomes = (*(each.name for each in tape.plan.call[call].outcomes), SILENCE)
        found.append(ReplyOnTape(number, call, outcome, tuple(each for each in outcomes if each != outcome)))
    return found


def with_reply(tape: Tape, reply: ReplyOnTape, outcome: str) -> Tape | None:
    """Run a tape again with another outcome of a reply; None if that reply is no longer on it."""
    if reply.step:
        events = [entry.event for entry in tape.entries]
        if events[reply.step - 1 : reply.step] != [Reply(reply.call, reply.outcome)]:
            return None
        events[reply.step - 1 : reply.step] = [] if outcome == SILENCE else [Reply(reply.call, outcome)]
        return tape.rerun_on(tape.plan, events=events)
    if reply.call not in tape.plan.call:
        return None
    others = tuple(each for each in tape.first.scripted_replies if each[0] != reply.call)
    return tape.rerun_on(tape.plan, others if outcome == SILENCE else (*others, (reply.call, outcome)))
