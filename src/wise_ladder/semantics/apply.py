"""The function that applies each kind of effect, and what a timer or reply brings when it is due."""

from __future__ import annotations

from typing import TYPE_CHECKING, cast

from msgspec.structs import replace

from wise_ladder.plan import events, triggers
from wise_ladder.semantics import (
    apply_guards,
    apply_overlays,
    apply_phone,
    apply_rungs,
    apply_world,
    effects,
    log,
    paths,
    tasks,
)
from wise_ladder.semantics.state import GONE, Phase
from wise_ladder.semantics.symbolic import UNKNOWN_CALLER, SymbolicPart

if TYPE_CHECKING:
    from wise_ladder.semantics.state import Deadline, PendingCall, RungData
    from wise_ladder.semantics.working_state import Applier, WorkingState

APPLY: dict[type, Applier] = {
    **apply_rungs.APPLY,
    **apply_overlays.APPLY,
    **apply_world.APPLY,
    **apply_phone.APPLY,
    **apply_guards.APPLY,
    effects.AddEntry: lambda doing, do: doing.log.append(do.happening),
}


def due_timer(doing: WorkingState, timer: Deadline) -> tasks.Task | None:
    """Take what is due off the list, and say what it is about; None: nothing has to be decided about it."""
    doing.begin_matter()
    doing.deadlines = tuple(other for other in doing.deadlines if other != timer)
    match timer.kind:
        case "overlay":
            doing.layer = timer.serial
            name = next(layer.name for layer, _ in apply_overlays.layers_of(doing) if layer.serial == timer.serial)
            return tasks.OverlayExpired(name)
        case "cover most":
            return tasks.CheckCover(over=True)
        case "cover least":
            doing.least = False
            return None
        case "of the app":
            assert timer.data is not None  # noqa: S101 - it has the name
            return tasks.AppTimerDue(timer.data.screen)
        case "first frame" | "frame":
            return _first_frame(doing, timer)
        case "reply":
            call = next(call for call in doing.calls if call.number == timer.serial)
            return events.Reply(call.name, call.reply)
        case "on ladder" | "shown" | "whatever happens":
            trigger = triggers.TimerTrigger(timer.after, timer.kind)
            return of_place(doing, timer.serial, timer.data, trigger, "")


def _first_frame(doing: WorkingState, timer: Deadline) -> tasks.BecameVisible | None:
    first = timer.kind == "first frame"
    if doing.phase is Phase.OPEN:
        for place, rung in enumerate(doing.path):
            if rung.serial == timer.serial:
                return tasks.BecameVisible(place, first)
        for layer, place in apply_world.visible_overlays(doing):
            if layer.serial == timer.serial:
                return tasks.BecameVisible(place, first, layer.name)
    return None


def take_reply(doing: WorkingState, reply: events.Reply) -> tasks.TriggerTask:
    """Take the call that was made first off the list, and say whose it is."""
    doing.begin_matter()
    if isinstance(doing.calls, SymbolicPart):
        call, rest = doing.calls.taken()
        doing.calls = cast("tuple[PendingCall, ...]", rest)
    else:
        call = next(call for call in doing.calls if call.name == reply.call)
        doing.calls = tuple(other for other in doing.calls if other != call)
        doing.deadlines = tuple(timer for timer in doing.deadlines if timer.kind != "reply" or timer.serial != call.number)
    doing.log.append(log.Replied(reply.call, reply.outcome))
    trigger = triggers.ReplyTrigger(reply.call, reply.outcome)
    if call.where is None:
        return tasks.TriggerTask(trigger, None)
    if call.serial == UNKNOWN_CALLER:
        # Such a call comes here only if its reply does the same wherever the caller stands.
        doing.owner = GONE
        return tasks.TriggerTask(trigger, call.where, call.where, hidden=True)
    return of_place(doing, call.serial, call.data, trigger, call.where)


def of_place(
    doing: WorkingState, serial: int, was: RungData | None, trigger: triggers.Trigger, where: str
) -> tasks.TriggerTask:
    """Say whose a timer or a reply is: of a rung, or of an overlay; `was` is its face if it may be gone by now."""
    overlay = apply_world.open_overlay_of(doing, serial)
    if overlay is None and where not in doing.plan.overlay:
        return _of_rung(doing, serial, was, trigger, where)
    if overlay is None:
        doing.owner = GONE
        held = () if was is None else was.facts
        return tasks.TriggerTask(trigger, where, where, own=held, lowest=not doing.ladder, hidden=True, gone=True)
    doing.layer = serial
    layer, over = overlay
    if over is None:
        return tasks.TriggerTask(trigger, layer.name, layer.name, own=layer.facts, hidden=doing.phase is not Phase.OPEN)
    due = _of_rung(doing, over.rung.serial, None, trigger, layer.name)
    return replace(due, screen=layer.name, arguments=(), own=layer.facts)


def _of_rung(
    doing: WorkingState, serial: int, was: RungData | None, trigger: triggers.Trigger, where: str
) -> tasks.TriggerTask:
    doing.owner = serial
    spotted = paths.find(doing.ladder, serial)
    if spotted is None:
        assert was is not None, "timers that stop with their rung have stopped"  # noqa: S101
        doing.owner, lowest = GONE, not doing.ladder
        where = where or was.screen
        return tasks.TriggerTask(trigger, where, was.screen, was.arguments, was.facts, 0, lowest, hidden=True, gone=True)
    data, (level, lowest) = spotted.rung.data, stand_at(doing, spotted)
    hidden = doing.phase is not Phase.OPEN or all(seen.serial != serial for seen in doing.path)
    return tasks.TriggerTask(trigger, where or data.screen, data.screen, data.arguments, data.facts, level, lowest, hidden)


def stand_at(doing: WorkingState, spotted: paths.Spotted) -> tuple[int, bool]:
    """Let a move act on the ladder of a rung, wherever that is; return its level, and whether the rung is the lowest there."""
    rung, chain = spotted
    inside = ((rung.serial, rung.data.tab_order[-1]),) if rung.inner else ()
    doing.owner, doing.chain = rung.serial, (*chain, *inside)
    return len(chain), paths.is_lowest(doing.ladder, spotted)
