"""One step of a running app: the event decided at the head, the small steps done, and decided anew until nothing is left.

`step` is the only reading of the semantics there is. It is a pure function: no clock, no file, no chance.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.ladder import small
from wise_ladder.ladder.deciding import Beneath, decide
from wise_ladder.ladder.doing import Doing
from wise_ladder.ladder.happenings import Finding, Nothing, TimerFired
from wise_ladder.ladder.state import Phase, head_of
from wise_ladder.ladder.tables import MOST_REMEMBERED, tables
from wise_ladder.plan import events

if TYPE_CHECKING:
    from wise_ladder.ladder.happenings import Happening
    from wise_ladder.ladder.small import Decision, Known, Matter
    from wise_ladder.ladder.state import State
    from wise_ladder.plan.events import Event
    from wise_ladder.plan.model import Move, Plan

MOST_AT_ONCE = 64
"""So many things may happen with no time passing; more is a run that never ends."""
MOST_FIRED = 10_000
"""So many timers may fall due within one wait."""


class Step(NamedTuple):
    """What came of an event: the state after it, what happened, the moves that were taken; or why it was refused."""

    state: State
    happened: tuple[Happening, ...]
    taken: tuple[Move, ...] = ()
    refused: str | None = None


def step(plan: Plan, state: State, event: Event) -> Step:
    """Do one event. A refused one leaves the very state it found; oddities are findings, never errors."""
    doing = Doing(plan, state)
    if isinstance(event, events.Wait):
        _let_time_pass(doing, event.time)
    else:
        decision = _decide(doing, event)
        if isinstance(decision, small.Refusal):
            return Step(state, (), (), decision.why)
        _carry_out(doing, decision)
    doing.look()
    return Step(doing.state(), tuple(doing.happened), tuple(doing.taken))


def _carry_out(doing: Doing, decision: tuple[small.Small, ...]) -> None:
    """Do a move: its small steps, then what they leave to be decided, one after the other at the head as it is then."""
    doing.begin_move()
    agenda = list(reversed(decision))
    count = 0
    while agenda:
        do = agenda.pop()
        if not isinstance(do, small.Then):
            if doing.apply(do):
                return
            continue
        count += 1
        if count > MOST_AT_ONCE:
            doing.happened.append(Finding("runaway", f"more than {MOST_AT_ONCE} things happened at once"))
            break
        found = _decide(doing, do.do)
        assert not isinstance(found, small.Refusal), "an operation is never refused"  # noqa: S101
        agenda.extend(reversed(found))
    doing.end_move()


def _decide(doing: Doing, matter: Matter) -> Decision:
    """Decide at the head, looking beneath where deciding asks; what was decided once for a head is remembered."""
    head = head_of(doing.phase, doing.ladder, doing.facts)
    remembered = tables(doing.plan).decided
    known: Known = ()
    while True:
        key = (matter, head, known)
        found = remembered.get(key)
        if found is not None:
            return found
        try:
            found = decide(doing.plan, head, matter, known)
        except Beneath as asked:
            known = (*known, (asked.question, doing.answer(asked.question)))
            continue
        if len(remembered) >= MOST_REMEMBERED:
            remembered.clear()
        remembered[key] = found
        return found


def _let_time_pass(doing: Doing, time: int) -> None:
    until = doing.clock + time
    fired = at_once = 0
    while doing.pending and doing.pending[0].due <= until:
        timer = doing.pending[0]
        at_once = at_once + 1 if timer.due == doing.clock else 0
        fired += 1
        if at_once > MOST_AT_ONCE or fired > MOST_FIRED:
            words = "timers start each other without end" if at_once > MOST_AT_ONCE else f"over {MOST_FIRED} timers in one wait"
            doing.happened.append(Finding("runaway", words))
            doing.stop_timers()
            break
        if timer.due > doing.clock:
            doing.look()
            doing.clock = timer.due
        due = doing.take_due(timer)
        doing.happened.append(TimerFired(due.face, due.after))
        decision = _decide(doing, due)
        assert not isinstance(decision, small.Refusal), "a due timer is never refused"  # noqa: S101
        _carry_out(doing, decision)
    if until > doing.clock:
        doing.look()
        doing.clock = until
    if not fired and doing.phase is Phase.OUTSIDE:
        doing.happened.append(Nothing("the app does not run"))
