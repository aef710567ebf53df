"""One tape run for each reply that a call under way may get, and for none: where each of them ends."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.plan.events import Reply

if TYPE_CHECKING:
    from wise_ladder.ladder import State
    from wise_ladder.walks.tape import Entry, Tape

SILENCE = "no reply"


class Ending(NamedTuple):
    """Where a reply leads: the steps from it on, the state after them, and what no longer applied, if anything."""

    outcome: str
    entries: tuple[Entry, ...]
    state: State
    refused: str = ""


def endings(tape: Tape, place: int, call: str) -> list[Ending]:
    """Run the rest of a tape from a place on for each outcome of a call under way there, and for silence.

    What the tape itself replies to the call is left out.
    """
    here = tape.until(place)
    rest = [entry.event for entry in tape.entries[place:] if not (isinstance(entry.event, Reply) and entry.event.call == call)]
    found: list[Ending] = []
    for outcome in (*(outcome.name for outcome in tape.plan.call[call].outcomes), SILENCE):
        run, refused = here, ""
        for event in [*([Reply(call, outcome)] if outcome != SILENCE else []), *rest]:
            run, done = run.doing(event)
            if done.refused is not None:
                refused = done.refused
                break
        found.append(Ending(outcome, run.entries[place:], run.state_at(len(run.entries)), refused))
    return found
