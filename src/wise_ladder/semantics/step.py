"""One step of a running app: what an event sets off, what is seen then and for how long, and the passing of time.

`step` is the only reading of the semantics there is. It is a pure function: no clock, no file, no chance. What a ladder does
without regard to the time on the clock is remembered: the same ladder under the same event does the same.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace

from wise_ladder.plan.events import OutsideChange, Reply, Wait
from wise_ladder.semantics import messages
from wise_ladder.semantics.log import Came, Finding, LogEntry, NoEffect, Replaced, SeenFor, Step
from wise_ladder.semantics.plan_index import index_of
from wise_ladder.semantics.run import MAX_AT_ONCE, run_due, run_event
from wise_ladder.semantics.state import (
    Deadline,
    Phase,
    RungData,
    Seen,
    State,
    WaitKind,
    all_rungs,
    open_layers,
    visible_path,
)
from wise_ladder.semantics.text import duration_text
from wise_ladder.semantics.working_state import WorkingState

if TYPE_CHECKING:
    from wise_ladder.plan import Plan
    from wise_ladder.plan.events import Event
    from wise_ladder.plan.model import Move

MOST_FIRED = 10_000
"""So many timers may fall due within one wait."""
MAX_STEPS_CACHED = 20_000
"""So many steps of a plan are remembered, at about two kilobytes each."""
_WORLD = (OutsideChange, Reply)
_NOTHING: WaitKind = ""
_UNSEEN = Seen(None, 0, 0)
_BARS = (True, True)


def step(plan: Plan, state: State, event: Event) -> Step:
    """Run one event. If refused, the state is unchanged; oddities are findings, never errors."""
    if type(event) is Wait:
        return _advance(plan, state, event.time)
    if type(event) is Reply and (time := _too_early(plan, state, event)):
        waited = _advance(plan, state, time)
        done = step(plan, waited.state, event)
        if done.refused is not None:
            return Step(state, (), (), done.refused)
        return Step(done.state, waited.log + done.log, waited.moves + done.moves)
    done = _cached_step(plan, state, event)
    if done.refused is not None:
        return Step(state, (), (), done.refused)
    happened = list(done.log)
    now = _update_seen(
        plan, _shifted(done.state, state.clock, state.seen, state.bars), happened, by_itself=isinstance(event, _WORLD)
    )
    return Step(now, tuple(happened), done.moves)


def _too_early(plan: Plan, state: State, reply: Reply) -> int:
    """Return how long it takes yet before a call can be answered so."""
    call = next((call for call in state.calls if call.name == reply.call), None)
    outcome = plan.call[reply.call].outcome(reply.outcome) if call is not None and reply.call in plan.call else None
    return 0 if call is None or outcome is None else max(call.started + outcome.takes - state.clock, 0)


def _cached_step(plan: Plan, state: State, event: Event | None) -> Step:
    """Run an event, or the first pending timer if None, on the state without clock and view; cached."""
    remembered = index_of(plan).steps
    timeless = _shifted(state, -state.clock, _UNSEEN, _BARS)
    cached = remembered.get((event, timeless))
    if cached is None:
        doing = WorkingState(plan, timeless)
        refused = None
        if event is None:
            run_due(doing)
        else:
            refused = run_event(doing, event)
        cached = Step(doing.state(), tuple(doing.log), tuple(doing.moves), refused)
        if len(remembered) >= MAX_STEPS_CACHED:
            remembered.clear()
        remembered[event, timeless] = cached
    return cached


def _shifted(state: State, later: int, seen: Seen, bars: tuple[bool, bool]) -> State:
    """Return the state moved in time, pending things too, with another view."""
    pending, calls = state.deadlines, state.calls
    if later and pending:
        pending = tuple(
            Deadline(timer.due + later, timer.order, timer.serial, timer.after, timer.kind, timer.data) for timer in pending
        )
    if later and calls:
        calls = tuple(replace(call, started=call.started + later) for call in calls)
    return replace(state, deadlines=pending, clock=state.clock + later, seen=seen, bars=bars, calls=calls)


def _came(happened: list[LogEntry], serial: int) -> bool:
    """Whether a rung of this serial came since something was seen last: serials are used again, so it is another one."""
    for happening in reversed(happened):
        if isinstance(happening, SeenFor):
            return False
        came = happening.rung if isinstance(happening, Came) else happening.came if isinstance(happening, Replaced) else None
        if came is not None and any(rung.serial == serial for rung in all_rungs((came,))):
            return True
    return False


def _advance(plan: Plan, state: State, time: int) -> Step:
    until = state.clock + time
    happened: list[LogEntry] = []
    taken: list[Move] = []
    fired = at_once = 0
    instant = -1
    while state.deadlines and state.deadlines[0].due <= until:
        due = state.deadlines[0].due
        at_once = at_once + 1 if due == instant else 1
        instant = due
        fired += 1
        if at_once > MAX_AT_ONCE or fired > MOST_FIRED:
            words = messages.TIMERS_WITHOUT_END if at_once > MAX_AT_ONCE else messages.TOO_MANY_TIMERS.format(most=MOST_FIRED)
            happened.append(Finding("runaway", words))
            state = replace(state, deadlines=())
            break
        if due > state.clock:
            state = replace(_update_seen(plan, state, happened, by_itself=fired > 1), clock=due)
        done = _cached_step(plan, state, None)
        happened += done.log
        taken += done.moves
        state = _shifted(done.state, state.clock, state.seen, state.bars)
    state = replace(_update_seen(plan, state, happened, by_itself=fired > 0), clock=until)
    if not fired and state.phase in {Phase.OUTSIDE, Phase.KILLED}:
        happened.append(NoEffect(messages.NOT_RUNNING.format(app=plan.app)))
    return Step(state, tuple(happened), tuple(taken))


def _update_seen(plan: Plan, state: State, happened: list[LogEntry], *, by_itself: bool) -> State:
    """Update what the user sees and the bars; log how long the previous view lasted."""
    known, look = index_of(plan), _NOTHING
    path = visible_path(state.ladder) if state.phase is Phase.OPEN and not state.cover else []
    if state.phase is Phase.OPEN and state.cover:
        look = "cover"
    elif known.wait_overlays and any(name in known.wait_overlays for _, name, _ in open_layers(state.overlays, path)):
        look = "wait"
    top = path[-1] if path else None
    was, bars = state.seen, state.bars
    another = _came(happened, was.serial)
    same = top is None or (was.data is not None and was.data.same_screen(top.data) and not another)
    if same and look == was.waiting and (top.serial if top is not None else 0) == was.serial:
        return state
    happened.append(SeenFor(was.data, was.since, state.clock, was.waiting))
    time = state.clock - was.since
    plays = plan.screen[was.data.screen].plays if by_itself and was.data is not None else 0
    if (
        was.data is not None
        and plays > time
        and (another or all(rung.serial != was.serial for rung in all_rungs(state.ladder)))
    ):
        words = messages.CUT_SHORT.format(screen=was.data.screen, plays=duration_text(plays), time=duration_text(time))
        happened.append(Finding("cut short", words))
    if top is None:
        return _shifted(state, 0, Seen(None, 0, state.clock, look), bars)
    above, below = known.bars[top.data.screen]
    bars = (bars[0] if above is None else above, bars[1] if below is None else below)
    return _shifted(state, 0, Seen(RungData(top.data.screen, top.data.arguments), top.serial, state.clock, look), bars)
