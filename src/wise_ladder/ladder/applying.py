"""Which function does which small step, and what is due when a timer is."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from msgspec.structs import replace

from wise_ladder.ladder import happenings, matters, overlays, paths, rungs, small, world
from wise_ladder.ladder.doing import Doing
from wise_ladder.ladder.state import GONE, Phase
from wise_ladder.plan import events, operations

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.ladder.state import Face, Pending

APPLY: dict[type, Callable[[Doing, Any], None]] = {
    small.Put: rungs.put,
    small.Swap: rungs.swap,
    small.Drop: rungs.drop,
    small.DropTo: rungs.drop_to,
    small.DropToLowest: rungs.drop_to_lowest,
    small.DropAll: rungs.drop_all,
    small.HandTop: rungs.hand_top,
    small.Front: rungs.front,
    small.Deliver: rungs.deliver,
    small.Lay: overlays.lay,
    small.Lift: overlays.lift,
    small.SetTo: world.set_to,
    small.SetOwnTo: world.set_own_to,
    small.Want: world.want,
    small.Forget: world.forget,
    small.StandIn: world.stand_in,
    small.GoOut: world.go_out,
    small.GoAway: world.go_away,
    small.ComeBack: world.come_back,
    small.RaiseCover: world.raise_cover,
    small.LiftCover: world.lift_cover,
    small.Arrive: world.arrive,
    small.MakeCall: world.make_call,
    small.DropCalls: world.drop_calls,
    small.Die: world.die,
    small.Restore: world.restore,
    small.Free: world.free,
    small.Next: Doing.follow_next,
    small.Take: Doing.take,
    small.Pass: Doing.let_pass,
    small.Ask: Doing.ask,
    small.Stop: Doing.stop,
    small.Undo: Doing.undo,
    small.AnswerQuestion: Doing.answer_question,
    small.Say: lambda doing, do: doing.happened.append(do.happening),
}


def due_timer(doing: Doing, timer: Pending) -> matters.Matter | None:
    """Take what is due off the list, and say what it is about; None: nothing has to be decided about it."""
    doing.begin_matter()
    doing.pending = tuple(other for other in doing.pending if other != timer)
    match timer.kind:
        case "overlay":
            doing.layer = timer.serial
            name = next(layer.name for layer, _ in overlays.layers_of(doing) if layer.serial == timer.serial)
            return matters.Gone(name)
        case "cover most":
            return matters.Uncover(over=True)
        case "cover least":
            doing.least = False
            return None
        case "first frame" | "frame":
            return _first_frame(doing, timer)
        case "reply":
            call = next(call for call in doing.calls if call.number == timer.serial)
            return events.Reply(call.name, call.reply)
        case "on ladder" | "shown" | "whatever happens":
            trigger = operations.TimerTrigger(timer.after, timer.kind)
            return of_place(doing, timer.serial, timer.face, trigger, "")


def _first_frame(doing: Doing, timer: Pending) -> matters.Shown | None:
    first = timer.kind == "first frame"
    if doing.phase is Phase.OPEN:
        for place, rung in enumerate(doing.path):
            if rung.serial == timer.serial:
                return matters.Shown(place, first)
        for layer, place in world.visible_overlays(doing):
            if layer.serial == timer.serial:
                return matters.Shown(place, first, layer.name)
    return None


def take_reply(doing: Doing, reply: events.Reply) -> matters.Due:
    """Take the call that was made first off the list, and say whose it is."""
    doing.begin_matter()
    call = next(call for call in doing.calls if call.name == reply.call)
    doing.calls = tuple(other for other in doing.calls if other != call)
    doing.pending = tuple(timer for timer in doing.pending if timer.kind != "reply" or timer.serial != call.number)
    doing.happened.append(happenings.Replied(reply.call, reply.outcome))
    trigger = operations.ReplyTrigger(reply.call, reply.outcome)
    if call.where is None:
        return matters.Due(trigger, None)
    return of_place(doing, call.serial, call.face, trigger, call.where)


def of_place(doing: Doing, serial: int, was: Face | None, trigger: operations.Trigger, where: str) -> matters.Due:
    """Say whose a timer or a reply is: of a rung, or of an overlay; `was` is its face if it may be gone by now."""
    found = paths.find_overlay(doing.ladder, serial)
    own = next((layer for layer in doing.layers if layer.serial == serial), None)
    if found is None and own is None and where not in doing.plan.overlay:
        return _of_rung(doing, serial, was, trigger, where)
    if found is None and own is None:
        doing.owner = GONE
        return matters.Due(trigger, where, where, lowest=not doing.ladder, hidden=True, gone=True)
    doing.layer = serial
    if found is None:
        assert own is not None  # noqa: S101 - one of both was found
        return matters.Due(trigger, own.name, own.name, hidden=doing.phase is not Phase.OPEN)
    layer, (rung, _) = found
    due = _of_rung(doing, rung.serial, None, trigger, layer.name)
    return replace(due, screen=layer.name, arguments=(), own=())


def _of_rung(doing: Doing, serial: int, was: Face | None, trigger: operations.Trigger, where: str) -> matters.Due:
    doing.owner = serial
    found = paths.find(doing.ladder, serial)
    if found is None:
        assert was is not None, "timers that stop with their rung have stopped"  # noqa: S101
        doing.owner, lowest = GONE, not doing.ladder
        where = where or was.screen
        return matters.Due(trigger, where, was.screen, was.arguments, was.own, 0, lowest, hidden=True, gone=True)
    face, (level, lowest) = found.rung.face, stand_at(doing, found)
    hidden = doing.phase is not Phase.OPEN or all(seen.serial != serial for seen in doing.path)
    return matters.Due(trigger, where or face.screen, face.screen, face.arguments, face.own, level, lowest, hidden)


def stand_at(doing: Doing, found: paths.Spotted) -> tuple[int, bool]:
    """Let a move act on the ladder of a rung, wherever that is; return its level, and whether the rung is the lowest there."""
    rung, chain = found
    inside = ((rung.serial, rung.face.used[-1]),) if rung.inner else ()
    doing.owner, doing.chain = rung.serial, (*chain, *inside)
    return len(chain), paths.is_lowest(doing.ladder, found)
