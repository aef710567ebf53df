"""Which function does which small step, and what is due when a timer is."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from wise_ladder.ladder import matters, overlays, rungs, small, world
from wise_ladder.ladder.doing import Doing
from wise_ladder.ladder.state import Phase, all_rungs

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.ladder.state import Pending

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
    small.Take: Doing.take,
    small.Pass: Doing.let_pass,
    small.Ask: Doing.ask,
    small.Stop: Doing.stop,
    small.Undo: Doing.undo,
    small.AnswerQuestion: Doing.answer_question,
    small.Say: lambda doing, do: doing.happened.append(do.happening),
}


def take_due(doing: Doing, timer: Pending) -> matters.Fire | matters.Gone:
    """Take a due timer off the list and say whose it is."""
    doing.pending = tuple(other for other in doing.pending if other != timer)
    for layer, _ in overlays.layers_of(doing):
        if layer.serial == timer.serial:
            return matters.Gone(layer.name)
    doing.owner = timer.serial
    face = next(rung for rung in all_rungs(doing.ladder) if rung.serial == timer.serial).face
    hidden = doing.phase is not Phase.OPEN or all(seen.serial != timer.serial for seen in doing.path)
    level, lowest = _standing(doing, timer.serial)
    return matters.Fire(face.screen, face.arguments, face.own, timer.after, level, lowest, hidden)


def _standing(doing: Doing, serial: int) -> tuple[int, bool]:
    """Return the level of the visible path nearest to a rung, and whether it is the lowest there."""
    level = 0
    while ladder := doing.ladder_at(level):
        if any(rung.serial == serial for rung in ladder):
            return level, ladder[0].serial == serial
        if all(rung.serial != serial for rung in all_rungs(ladder[-1].front)):
            break
        level += 1
    return level, False
