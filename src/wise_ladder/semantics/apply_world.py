"""Doing: facts, the wanted place, guards that come first, the app's phases, its cover, calls and timers."""

from __future__ import annotations

from typing import TYPE_CHECKING, cast

from msgspec.structs import replace

from wise_ladder.plan.triggers import PhaseTrigger, RunsOutTrigger
from wise_ladder.semantics import effects, log, messages
from wise_ladder.semantics.log import Finding
from wise_ladder.semantics.opaque import OpaqueLadder
from wise_ladder.semantics.paths import find, find_overlay, rung_matches, spotted
from wise_ladder.semantics.state import (
    ArmedGuard,
    Deadline,
    PendingCall,
    Phase,
    RungData,
    Wanted,
    all_rungs,
    is_app_timer,
)
from wise_ladder.semantics.symbolic import RefinementNeeded, SymbolicPart
from wise_ladder.semantics.text import rung_text

if TYPE_CHECKING:
    from wise_ladder.plan.model import Fact
    from wise_ladder.plan.triggers import TimerScope
    from wise_ladder.semantics.paths import Spotted
    from wise_ladder.semantics.state import DeadlineKind, OverlayInstance, Result
    from wise_ladder.semantics.tasks import Own
    from wise_ladder.semantics.working_state import Applier, WorkingState

# Facts, the wanted place, armed guards


def set_to(doing: WorkingState, do: effects.SetFactValue) -> None:
    """A fact of the app gets a value; one that is kept in memory none while the app has no memory."""
    was = doing.facts[do.place]
    if was == do.value:
        return
    if not _has_memory(doing, doing.plan.facts[do.place]):
        doing.log.append(log.NoEffect(messages.NO_MEMORY.format(app=doing.plan.app, fact=do.name)))
    else:
        doing.facts = (*doing.facts[: do.place], do.value, *doing.facts[do.place + 1 :])
        doing.log.append(log.FactChanged(do.name, was, do.value))


def _has_memory(doing: WorkingState, fact: Fact) -> bool:
    if fact.lifetime == "disk" or doing.phase in {Phase.OPEN, Phase.AWAY}:
        return True
    return doing.alive if doing.phase is Phase.OUTSIDE else fact.lifetime == "ladder"


def set_own_to(doing: WorkingState, do: effects.SetRungFactValue) -> None:
    """A fact of the overlay or the rung that the move stands on gets a value."""
    if doing.where in doing.plan.overlay:
        _set_on_overlay(doing, do)
    elif (rung := doing.owner_rung()) is not None:
        set_on_rung(doing, rung.serial, do.name, do.value)


def set_on_rung(doing: WorkingState, serial: int, fact: str, value: str) -> None:
    """A fact of a rung gets a value, if it is there and holds one."""
    spotted_rung = find(doing.ladder, serial)
    was = None if spotted_rung is None else dict(spotted_rung.rung.data.facts).get(fact)
    if spotted_rung is not None and was is not None and was != value:
        data = spotted_rung.rung.data
        own = tuple((name, value if name == fact else old) for name, old in data.facts)
        doing.set_data(spotted_rung.rung, replace(data, facts=own))
        _own_changed(doing, serial, fact, was, value)


def _set_on_overlay(doing: WorkingState, do: effects.SetRungFactValue) -> None:
    hit = open_overlay_of(doing, doing.layer)
    was = None if hit is None else dict(hit[0].facts).get(do.name)
    if hit is None or was is None or was == do.value:
        return
    layer, _ = hit
    layer = replace(layer, facts=tuple((name, do.value if name == do.name else old) for name, old in layer.facts))
    put_layer(doing, layer)
    _own_changed(doing, layer.serial, do.name, was, do.value)


def open_overlay_of(doing: WorkingState, serial: int) -> tuple[OverlayInstance, Spotted | None] | None:
    """Return the open overlay of a serial with the rung it is over (None: it is the app's), None if there is none."""
    own = next((layer for layer in doing.overlays if layer.serial == serial), None)
    if own is not None or not serial:
        return None if own is None else (own, None)
    return find_overlay(doing.ladder, serial)


def facts_held_by(doing: WorkingState, serial: int) -> Own:
    """Return the facts that the open overlay of a serial holds, none if there is no such overlay."""
    hit = open_overlay_of(doing, serial)
    return () if hit is None else hit[0].facts


def put_layer(doing: WorkingState, layer: OverlayInstance) -> None:
    """Put a changed overlay in the place of the one of its serial."""
    hit = open_overlay_of(doing, layer.serial)
    over = None if hit is None else hit[1]
    if over is None:
        doing.overlays = tuple(layer if other.serial == layer.serial else other for other in doing.overlays)
    else:
        layers = tuple(layer if other.serial == layer.serial else other for other in over.rung.overlays)
        doing.put_rung(replace(over.rung, overlays=layers))


def _own_changed(doing: WorkingState, serial: int, fact: str, was: str, value: str) -> None:
    doing.own_was.setdefault((serial, fact), was)
    doing.log.append(log.FactChanged(fact, was, value, own=True))


def want(doing: WorkingState, do: effects.SetWanted) -> None:
    """The wanted place is remembered; what stood in the stead of another you stand for itself from now on."""
    standing_in = [rung for rung in all_rungs(doing.ladder) if not rung.settled and rung.data.redirected]
    if standing_in and doing.wanted:
        for rung in standing_in:
            doing.set_data(rung, replace(rung.data, redirected=False))
    doing.wanted = Wanted(do.data.screen, do.data.arguments, do.address)
    doing.log.append(log.Remembered(do.data))


def stand_in(doing: WorkingState, do: effects.StandIn) -> None:
    """The top rung stands in the stead of the wanted place."""
    top = doing.ladder_at(do.level)[-1]
    doing.set_data(top, replace(top.data, redirected=True))


def forget(doing: WorkingState, do: effects.ClearWanted) -> None:
    """The wanted place is forgotten."""
    if doing.wanted:
        doing.wanted = None
        doing.log.append(log.Forgotten(do.why))


def arm(doing: WorkingState) -> None:
    """Guards that come first are armed while their conditions hold, hidden or not; those that outlive their rung stay so."""
    now = [ArmedGuard(guard.id, 0) for guard in doing.tables.comes_first.get(None, ()) if doing.guard_holds(guard, 0, None)]
    for rung, _ in spotted(doing.ladder):
        for screen, guards in doing.tables.comes_first.items():
            if screen is not None and rung_matches(rung, screen):
                now += [
                    ArmedGuard(guard.id, rung.serial) for guard in guards if doing.guard_holds(guard, rung.serial, rung.data)
                ]
    gone = [entry for entry in doing.armed if entry.gone and doing.plan.guard[entry.guard].app_scoped]
    # Two that are alike are one: which of their rungs it was makes no difference any more.
    outlived = {(entry.guard, entry.data): entry for entry in reversed(gone)}
    known = {(entry.guard, entry.data) for entry in doing.before.armed if entry.gone}
    kept = [entry for entry in doing.armed if entry in now]
    for name in reversed(outlived):
        if name not in known:
            guard = doing.plan.guard[name[0]]
            words = messages.GUARD_OUTLIVED_SCREEN.format(guard=guard.name, screen=guard.id.owner)
            doing.log.append(Finding("handler outlived its screen", words))
    doing.armed = tuple(dict.fromkeys((*reversed(outlived.values()), *kept, *now)))


# Phases


def go_out(doing: WorkingState, do: effects.ExitApp) -> None:
    """The app is left; facts on disk stay, and what outlives the screens if the phone lets it."""
    lives_on = doing.plan.policies.leaving_ends == "screens" and not do.whole
    for rung in (rung for rung in all_rungs(doing.ladder) if not rung.settled):
        for result in rung.data.undelivered:
            tell_lost(doing, rung.data, result)
    if not do.whole and doing.tables.left:
        doing.gone += [(each.rung, each.chain) for each in spotted(doing.ladder) if not each.rung.plain]
    doing.phase, doing.ladder, doing.path, doing.overlays, doing.calls = Phase.OUTSIDE, (), [], (), ()
    doing.turn(())
    doing.question, doing.wanted, doing.armed, doing.never_shown = None, None, (), ()
    doing.cover, doing.least, doing.held_link, doing.restored, doing.begun = False, False, "", False, None
    doing.freed, doing.alive = (), lives_on
    doing.emptied, doing.made, doing.opened = [], [], []
    timers = doing.deadlines if lives_on else ()
    doing.deadlines = tuple(timer for timer in timers if timer.kind == "whatever happens")
    if not lives_on:
        facts_stay(doing, ("disk",))
    doing.log.append(log.AppLeft(do.cause))


def facts_stay(doing: WorkingState, kept: tuple[str, ...]) -> None:
    """Facts of the app that are not kept so have their first values again."""
    doing.facts = tuple(
        value if fact.lifetime in kept else fact.values[0] for fact, value in zip(doing.plan.facts, doing.facts, strict=True)
    )


def tell_lost(doing: WorkingState, data: RungData, result: Result) -> None:
    """A result that came and was not delivered goes with its rung; of one that was cancelled nothing is lost."""
    if result.value is not None:
        words = messages.RESULT_CAME_TOO_LATE.format(result=result.name, rung=rung_text(data))
        doing.log.append(Finding("result lost", words))


def go_away(doing: WorkingState, do: effects.ToBackground) -> None:
    """The app goes to the background."""
    doing.phase, doing.begun = Phase.AWAY, None
    doing.log.append(log.WentToBackground(do.by_back))


def come_back(doing: WorkingState, do: effects.ToForeground) -> None:
    """The app comes to the front."""
    doing.phase, doing.alive = Phase.OPEN, False
    app = doing.plan.app
    doing.log.append(log.Launched(app) if do.launched else log.CameToFront(app))
    if do.launched:
        doing.world.append(PhaseTrigger("launched"))
        doing.starting = True


def raise_cover(doing: WorkingState, do: effects.RaiseCover) -> None:
    """The cover goes up."""
    doing.cover, doing.least = True, bool(do.least)
    if do.least:
        add_pending(doing, 0, do.least, "cover least")
    if do.most is not None:
        add_pending(doing, 0, do.most, "cover most")
    doing.log.append(log.CoverUp())


def lift_cover(doing: WorkingState, do: effects.LiftCover) -> None:
    """The cover goes."""
    doing.cover, doing.least, doing.held_link, doing.restored = False, False, "", False
    doing.deadlines = tuple(timer for timer in doing.deadlines if not timer.kind.startswith("cover"))
    doing.world.append(PhaseTrigger("cover gone"))
    doing.log.append(log.CoverGone(do.over))


def arrive(doing: WorkingState, do: effects.HoldLink) -> None:
    """An address, or a ladder that came back, waits for the cover to go."""
    doing.held_link, doing.restored = do.address, do.restored


# Calls


def make_call(doing: WorkingState, do: effects.MakeCall) -> None:
    """A call is pending, made by the place that the move stands on."""
    if do.again:
        drop_calls(doing, effects.DropCalls(do.call))
    number = max((call.number for call in doing.calls), default=0) + 1
    coming = [outcome for call, outcome in doing.scripted_replies if call == do.call]
    if len(coming) > 1:
        given = list(doing.scripted_replies)
        given.remove((do.call, coming[0]))
        doing.scripted_replies = tuple(given)
    reply = coming[0] if coming else ""
    rung = doing.owner_rung() if doing.where is not None else None
    serial = doing.layer or max(doing.owner, 0)
    data = rung.data if rung is not None else RungData(doing.where) if doing.where is not None else None
    call = PendingCall(do.call, number, doing.clock, serial, doing.where, data, reply)
    doing.calls = (*doing.calls, call)
    doing.log.append(log.CallMade(do.call))
    outcome = doing.plan.call[do.call].outcome(reply)
    if outcome is not None:
        add_pending(doing, number, outcome.takes, "reply")


def drop_calls(doing: WorkingState, do: effects.DropCalls) -> None:
    """Cancel the calls of a name."""
    left_out = doing.deadlines
    if isinstance(left_out, SymbolicPart):
        if left_out.callers or left_out.timed:
            # Whose they are makes a difference to what must stay in sight.
            raise left_out.look()
        doing.calls = cast("tuple[PendingCall, ...]", cast("SymbolicPart", doing.calls).without(do.call))
        doing.log.append(log.CallDropped(do.call))
        return
    gone = {call.number for call in doing.calls if call.name == do.call}
    doing.calls = tuple(call for call in doing.calls if call.number not in gone)
    doing.deadlines = tuple(timer for timer in doing.deadlines if timer.kind != "reply" or timer.serial not in gone)
    doing.log.extend(log.CallDropped(do.call) for _ in gone)


# Timers


def begin_timer(doing: WorkingState, do: effects.BeginTimer) -> None:
    """A timer of the app begins; one that runs begins anew."""
    _forget_timer(doing, do.timer)
    data = RungData(do.timer)
    add_pending(doing, 0, do.after, "of the app", data)
    doing.log.append(log.TimerStarted(data, do.after))


def end_timer(doing: WorkingState, do: effects.EndTimer) -> None:
    """A timer of the app stops."""
    left = _forget_timer(doing, do.timer)
    doing.log += [log.TimerCancelled(RungData(do.timer), each.due - doing.clock) for each in left]


def _forget_timer(doing: WorkingState, name: str) -> list[Deadline]:
    runs = [timer for timer in doing.deadlines if is_app_timer(timer, name)]
    if runs:
        doing.deadlines = tuple(timer for timer in doing.deadlines if timer not in runs)
    return runs


def touch(doing: WorkingState) -> None:
    """The user did something in the app: the timers that wait for a touch begin anew, while they run."""
    for timer in doing.plan.timers:
        if timer.anew_when_touched and _forget_timer(doing, timer.name):
            add_pending(doing, 0, timer.after, "of the app", RungData(timer.name))


def run_out(doing: WorkingState, do: effects.ReportRunOut) -> None:
    """A timer of the app has run out."""
    doing.world.append(RunsOutTrigger(do.timer))
    doing.log.append(log.TimerFired(do.timer, doing.plan.timer[do.timer].after))


OF_RUNGS: tuple[DeadlineKind, ...] = ("on ladder", "shown", "first frame", "frame")
"""What falls due for a rung and stops when it goes."""
WHILE_SHOWN: tuple[DeadlineKind, ...] = ("shown", "first frame", "frame")
"""What stops when its rung or overlay is no longer seen."""


def add_pending(doing: WorkingState, serial: int, after: int, kind: DeadlineKind, data: RungData | None = None) -> None:
    """Let something fall due for a rung, an overlay or a call."""
    order = max((timer.order for timer in doing.deadlines), default=0) + 1
    timer = Deadline(doing.clock + after, order, serial, after, kind, data)
    doing.deadlines = tuple(sorted((*doing.deadlines, timer)))


def start_timer(doing: WorkingState, data: RungData, serial: int, after: int, runs: TimerScope) -> None:
    """Start a timer of a rung or overlay, and say so."""
    add_pending(doing, serial, after, runs, data if runs == "whatever happens" else None)
    doing.log.append(log.TimerStarted(data, after))


def follow_the_eyes(doing: WorkingState) -> None:
    """Stop `shown` timers of rungs now covered; rungs visible again weigh their full weight."""
    late = doing.tables.shown and doing.plan.policies.shown_acts == "after it"
    timers = doing.deadlines if doing.tables.shown_timers or late else ()
    if isinstance(timers, SymbolicPart) and not timers.timed:
        # None of them is one of a rung or an overlay.
        timers = ()
    if not timers and not doing.freed:
        return
    seen = {rung.serial for rung in doing.path} if doing.phase is Phase.OPEN else set()
    if timers and doing.phase is Phase.OPEN:
        seen |= {layer.serial for layer, _ in visible_overlays(doing)}
    stopped = [timer for timer in timers if timer.kind in WHILE_SHOWN and timer.serial not in seen]
    if stopped and isinstance(doing.ladder, OpaqueLadder):
        # Behind a veil nobody knows whose they are.
        raise RefinementNeeded("shape", 0)
    if stopped:
        whose = {timer.serial for timer in stopped}
        faces = {rung.serial: rung.data for rung in all_rungs(doing.ladder) if rung.serial in whose}
        faces |= {layer.serial: RungData(layer.name) for rung in all_rungs(doing.ladder) for layer in rung.overlays}
        faces |= {layer.serial: RungData(layer.name) for layer in doing.overlays}
        own = (timer for timer in stopped if timer.kind == "shown")
        doing.log.extend(log.TimerCancelled(faces[timer.serial], timer.due - doing.clock) for timer in own)
        doing.deadlines = tuple(timer for timer in doing.deadlines if timer not in stopped)
    if doing.freed:
        doing.freed = tuple(serial for serial in doing.freed if serial not in seen)


def visible_overlays(doing: WorkingState) -> list[tuple[OverlayInstance, int]]:
    """List the overlays over what is on the visible path, opened last at the end, each with its place (-1: the app)."""
    layers = [(layer, -1) for layer in doing.overlays]
    layers += [(layer, place) for place, rung in enumerate(doing.path) for layer in rung.overlays]
    return sorted(layers, key=lambda each: each[0].serial)


APPLY: dict[type, Applier] = {
    effects.SetFactValue: set_to,
    effects.SetRungFactValue: set_own_to,
    effects.SetWanted: want,
    effects.ClearWanted: forget,
    effects.StandIn: stand_in,
    effects.ExitApp: go_out,
    effects.ToBackground: go_away,
    effects.ToForeground: come_back,
    effects.RaiseCover: raise_cover,
    effects.LiftCover: lift_cover,
    effects.HoldLink: arrive,
    effects.MakeCall: make_call,
    effects.DropCalls: drop_calls,
    effects.BeginTimer: begin_timer,
    effects.EndTimer: end_timer,
    effects.ReportRunOut: run_out,
}
