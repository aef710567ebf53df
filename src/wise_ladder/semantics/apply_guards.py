"""Effects on the move that runs: where it stands, the guards that were asked, questions, taking all of it back."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.semantics import effects, log
from wise_ladder.semantics.opaque import OpaqueLadder
from wise_ladder.semantics.paths import find
from wise_ladder.semantics.state import GONE, NOBODY, OUT_OF_SIGHT, OverlayInstance, Question, StoppedMove

if TYPE_CHECKING:
    from wise_ladder.plan.model import GuardId
    from wise_ladder.semantics.state import Rung
    from wise_ladder.semantics.working_state import Applier, WorkingState


def take_move(doing: WorkingState, do: effects.TakeMove) -> None:
    """Note the move that is taken, and the rung it stands on."""
    doing.moves.append(do.move)
    if do.place is not None:
        _stand_on(doing, do.move.owner, do.place)
    else:
        doing.where = do.move.owner
        if not doing.layer and doing.where in doing.plan.overlay:
            _stand_over(doing, doing.overlays)


def act_for(doing: WorkingState, do: effects.ActFor) -> None:
    """What follows is done for the place of the guard that stood in the way, wherever that is now."""
    doing.where, doing.owner, doing.layer, doing.chain = do.where, NOBODY if doing.guards_rung == 0 else GONE, 0, ()
    spotted = find(doing.ladder, doing.guards_rung) if doing.guards_rung else None
    if spotted is not None:
        doing.owner = doing.guards_rung
        inside = spotted.rung.inner and do.where == spotted.rung.data.screen
        doing.chain = (*spotted.chain, (doing.owner, spotted.rung.data.tab_order[-1])) if inside else spotted.chain
    if do.where in doing.plan.overlay:
        _stand_over(doing, doing.overlays if spotted is None else spotted.rung.overlays)


def _stand_on(doing: WorkingState, where: str | None, place: int) -> None:
    doing.where = where
    if place >= 0:
        doing.owner = doing.track[place].serial
    if not doing.layer and where in doing.plan.overlay:
        _stand_over(doing, doing.overlays if place < 0 else doing.track[place].overlays)


def _stand_over(doing: WorkingState, layers: tuple[OverlayInstance, ...]) -> None:
    doing.layer = max((layer.serial for layer in layers if layer.name == doing.where), default=0)


def follow_next(doing: WorkingState, do: effects.Next) -> None:
    """A link is opened when all that follows from this move is done."""
    doing.next = do.address


def roll_back(doing: WorkingState, do: effects.Rollback) -> None:
    """The move meets what it cannot do."""
    doing.undo_move()
    doing.log.append(do.finding)


def block(doing: WorkingState, do: effects.Block) -> None:
    """A guard blocks the move."""
    asked = [(guard, _serial_at(doing, place)) for guard, place in do.asked]
    # Those whose rungs had gone by then were asked as well.
    asked = [*(each for each in doing.asked if each not in asked), *asked]
    doing.undo_move()
    doing.asked, doing.guards_rung = asked, asked[-1][1]
    doing.log.append(do.happening)
    # What the guard does instead may be undone in turn; that it did so stays.
    doing.log_before = len(doing.log)


def let_pass(doing: WorkingState, do: effects.GuardsPassed) -> None:
    """Guards let what follows pass."""
    for guard, place in do.guards:
        doing.asked.append((guard, _serial_at(doing, place)))
        if guard in doing.left_granted:
            doing.left_granted.remove(guard)
    if not isinstance(doing.ladder, OpaqueLadder):
        doing.consulted.update(rung.serial for rung in _in_sight(doing, do.place))


def _serial_at(doing: WorkingState, place: int) -> int:
    if place <= OUT_OF_SIGHT:
        return doing.armed[OUT_OF_SIGHT - place].serial
    return doing.track[place].serial if place >= 0 else 0


def _in_sight(doing: WorkingState, first: int = 0) -> list[Rung]:
    """Return the rungs around and on the move's ladder, from a place on, that are seen: hidden ones are not asked."""
    track = doing.track[first:]
    return track if doing.track is doing.path else [rung for rung in track if rung in doing.path]


def places_asked(doing: WorkingState) -> tuple[tuple[GuardId, int], ...]:
    """Return the guards that this move has asked already and that could be met again, each with its place on the path."""
    seen = _in_sight(doing)
    places = {rung.serial: place for place, rung in enumerate(doing.track) if rung in seen} | {0: -1}
    armed = {(entry.guard, entry.serial): OUT_OF_SIGHT - number for number, entry in enumerate(doing.armed)}
    asked = ((guard, places.get(serial, armed.get((guard, serial)))) for guard, serial in doing.asked)
    return tuple((guard, place) for guard, place in asked if place is not None)


def open_question(doing: WorkingState, do: effects.OpenQuestion) -> None:
    """A guard asks."""
    elsewhere = doing.chain is not None or doing.owner == GONE
    owner, chain = (doing.owner, doing.chain) if elsewhere else (NOBODY, None)
    rung, layer = _serial_at(doing, do.place), doing.layer
    doing.undo_move()
    assert doing.matter is not None, "guards are asked about something"  # noqa: S101
    serial = doing.path[-1].serial if doing.path else 0
    take = next((step for step in doing.steps if isinstance(step, effects.TakeMove)), None)
    does = tuple(step.do for step in doing.steps if isinstance(step, effects.DecideNext))
    move, stands = (take.move.id, take.place) if take is not None else (None, None)
    stopped = StoppedMove(doing.matter, does, doing.granted, move, stands, owner, chain, layer)
    doing.question = Question(do.guard, rung, serial, stopped)
    doing.log.append(log.QuestionOpened(do.name, do.text))


def answer_question(doing: WorkingState, do: effects.AnswerQuestion) -> None:
    """The question is answered."""
    doing.answered, doing.question = doing.question, None
    doing.guards_rung = 0 if doing.answered is None else doing.answered.rung
    doing.log.append(log.Answered(do.name, do.answer))


def drop_question(doing: WorkingState) -> None:
    """A question goes, its way untaken, when its rung is no longer the visible one."""
    if doing.question is not None and (not doing.path or doing.path[-1].serial != doing.question.serial):
        doing.log.append(log.QuestionGone(doing.plan.guard[doing.question.guard].name))
        doing.question = None


APPLY: dict[type, Applier] = {
    effects.Next: follow_next,
    effects.TakeMove: take_move,
    effects.GuardsPassed: let_pass,
    effects.OpenQuestion: open_question,
    effects.Block: block,
    effects.Rollback: roll_back,
    effects.AnswerQuestion: answer_question,
}
