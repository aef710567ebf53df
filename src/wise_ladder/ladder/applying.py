"""Which function does which small step, and what is due when a timer is."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from wise_ladder.ladder import happenings, matters, overlays, rungs, small, world
from wise_ladder.ladder.doing import Doing
from wise_ladder.ladder.state import Phase, all_rungs
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
    small.Arm: world.arm,
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
    doing.pending = tuple(other for other in doing.pending if other != timer)
    match timer.kind:
        case "overlay":
            name = next(layer.name for layer, _ in overlays.layers_of(doing) if layer.serial == timer.serial)
            return matters.Gone(name)
        case "cover most":
            return matters.Uncover(over=True)
        case "cover least":
            return None
        case "first frame" | "frame":
            place = next((place for place, rung in enumerate(doing.path) if rung.serial == timer.serial), None)
            seen = doing.phase is Phase.OPEN and place is not None
            return matters.Shown(place, timer.kind == "first frame") if seen and place is not None else None
        case "reply":
            call = next(call for call in doing.calls if call.number == timer.serial)
            return events.Reply(call.name, call.reply)
        case "on ladder" | "shown" | "whatever happens":
            trigger = operations.TimerTrigger(timer.after, timer.kind)
            return _of_rung(doing, timer.serial, timer.face, trigger, "")


def take_reply(doing: Doing, reply: events.Reply) -> matters.Due:
    """Take the call that was made first off the list, and say whose it is."""
    call = next(call for call in doing.calls if call.name == reply.call)
    doing.calls = tuple(other for other in doing.calls if other != call)
    doing.pending = tuple(timer for timer in doing.pending if timer.kind != "reply" or timer.serial != call.number)
    doing.happened.append(happenings.Replied(reply.call, reply.outcome))
    trigger = operations.ReplyTrigger(reply.call, reply.outcome)
    if call.serial == 0:
        return matters.Due(trigger, None)
    return _of_rung(doing, call.serial, call.face, trigger, call.where or "")


def _of_rung(doing: Doing, serial: int, was: Face | None, trigger: operations.Trigger, where: str) -> matters.Due:
    """Say whose a timer or a reply is; `was` is its rung's face where it may be gone by now."""
    doing.owner = serial
    rung = next((rung for rung in all_rungs(doing.ladder) if rung.serial == serial), None)
    face = rung.face if rung is not None else was
    assert face is not None, "timers that stop with their rung have stopped"  # noqa: S101
    hidden = doing.phase is not Phase.OPEN or all(seen.serial != serial for seen in doing.path)
    level, lowest = _standing(doing, serial)
    return matters.Due(
        trigger, where or face.screen, face.screen, face.arguments, face.own, level, lowest, hidden, gone=rung is None
    )


def _standing(doing: Doing, serial: int) -> tuple[int, bool]:
    """Return the level of the visible path nearest to a rung, the outermost for one that is gone, and whether it is lowest."""
    level = 0
    while ladder := doing.ladder_at(level):
        if any(rung.serial == serial for rung in ladder):
            return level, ladder[0].serial == serial
        if all(rung.serial != serial for rung in all_rungs(ladder[-1].front)):
            break
        level += 1
    return level, False
