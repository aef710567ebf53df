"""One step of a running app: what an event sets off, what is seen then and for how long, and the passing of time.

`step` is the only reading of the semantics there is. It is a pure function: no clock, no file, no chance. What a ladder does
without regard to the time on the clock is remembered: the same ladder under the same event does the same.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from wise_ladder.ladder.doing import Doing
from wise_ladder.ladder.happenings import Finding, Happening, Nothing, Saw
from wise_ladder.ladder.moving import MOST_AT_ONCE, set_off, set_off_due
from wise_ladder.ladder.state import Face, Pending, Phase, Seen, State, top_rung
from wise_ladder.ladder.tables import tables
from wise_ladder.plan.events import Wait
from wise_ladder.plan.model import Move

if TYPE_CHECKING:
    from wise_ladder.ladder.tables import Tables
    from wise_ladder.plan import Plan
    from wise_ladder.plan.events import Event

MOST_FIRED = 10_000
"""So many timers may fall due within one wait."""
MOST_DONE = 20_000
"""So many steps of a plan are remembered, at about two kilobytes each."""
_UNSEEN = Seen(None, 0, 0)
_BARS = (True, True)


class Step(Struct, frozen=True, gc=False):
    """What came of an event: the state after it, what happened, the moves that were taken; or why it was refused."""

    state: State
    happened: tuple[Happening, ...]
    taken: tuple[Move, ...] = ()
    refused: str | None = None


def step(plan: Plan, state: State, event: Event) -> Step:
    """Do one event. A refused one leaves the very state it found; oddities are findings, never errors."""
    if type(event) is Wait:
        return _let_time_pass(plan, state, event.time)
    done = _done(plan, state, event)
    if done.refused is not None:
        return Step(state, (), (), done.refused)
    now = _at(done.state, state.clock, state.seen, state.bars)
    seen = _looked(tables(plan), now)
    return Step(now, done.happened, done.taken) if seen is None else Step(seen[0], (*done.happened, seen[1]), done.taken)


def _done(plan: Plan, state: State, event: Event | None) -> Step:
    """Do an event, or what the first pending timer sets off, by a clock that shows nought and with nobody looking."""
    remembered = tables(plan).done
    timeless = _at(state, -state.clock, _UNSEEN, _BARS)
    found = remembered.get((event, timeless))
    if found is None:
        doing = Doing(plan, timeless)
        refused = None
        if event is None:
            set_off_due(doing)
        else:
            refused = set_off(doing, event)
        found = Step(doing.state(), tuple(doing.happened), tuple(doing.taken), refused)
        if len(remembered) >= MOST_DONE:
            remembered.clear()
        remembered[event, timeless] = found
    return found


def _at(state: State, later: int, seen: Seen, bars: tuple[bool, bool]) -> State:
    """Return a state so much later by the clock, what is pending with it, with other eyes on it."""
    pending = state.pending
    if later and pending:
        pending = tuple(Pending(timer.due + later, timer.order, timer.serial, timer.after) for timer in pending)
    return State(
        state.phase, state.ladder, state.facts, pending, state.clock + later, seen, state.layers, state.question, state.wanted,
        state.armed, state.unseen, bars,
    )  # fmt: skip


def _looked(known: Tables, state: State) -> tuple[State, Saw] | None:
    """Note what the user sees now, and for how long something else was seen before; bars follow. None: the same as before."""
    top = top_rung(state.ladder) if state.phase is Phase.OPEN else None
    seen, bars = state.seen, state.bars
    if top is None:
        if not seen.serial:
            return None
        now = Seen(None, 0, state.clock)
    else:
        if top.serial == seen.serial and seen.face is not None and seen.face.same_place(top.face):
            return None
        now = Seen(Face(top.face.screen, top.face.arguments), top.serial, state.clock)
        above, below = known.bars[top.face.screen]
        bars = (bars[0] if above is None else above, bars[1] if below is None else below)
    return _at(state, 0, now, bars), Saw(seen.face, seen.since, state.clock)


def _let_time_pass(plan: Plan, state: State, time: int) -> Step:
    until = state.clock + time
    happened: list[Happening] = []
    taken: list[Move] = []
    fired = at_once = 0
    while state.pending and state.pending[0].due <= until:
        due = state.pending[0].due
        at_once = at_once + 1 if due == state.clock else 0
        fired += 1
        if at_once > MOST_AT_ONCE or fired > MOST_FIRED:
            words = "timers start each other without end" if at_once > MOST_AT_ONCE else f"over {MOST_FIRED} timers in one wait"
            happened.append(Finding("runaway", words))
            state = replace(state, pending=())
            break
        state = replace(_with_eyes(plan, state, happened) if due > state.clock else state, clock=due)
        done = _done(plan, state, None)
        happened += done.happened
        taken += done.taken
        state = _at(done.state, state.clock, state.seen, state.bars)
    state = replace(_with_eyes(plan, state, happened), clock=until)
    if not fired and state.phase is Phase.OUTSIDE:
        happened.append(Nothing("the app does not run"))
    return Step(state, tuple(happened), tuple(taken))


def _with_eyes(plan: Plan, state: State, happened: list[Happening]) -> State:
    seen = _looked(tables(plan), state)
    if seen is None:
        return state
    happened.append(seen[1])
    return seen[0]
