"""Veils over shapes: what can happen whatever is seen is found out once for all shapes that are one behind a veil."""

from __future__ import annotations

from functools import reduce
from operator import and_
from typing import TYPE_CHECKING, cast

from msgspec.structs import replace

from wise_ladder.ladder.conditions import is_about_facts, left_open
from wise_ladder.ladder.cutting import PLAIN, SAVED, Look, Untold
from wise_ladder.ladder.state import State, all_rungs, visible_path
from wise_ladder.ladder.veiling import BEHIND, Veil, Veiled, VeiledPath
from wise_ladder.rules.shapes import Shaped, Shaping, UnderWay
from wise_ladder.rules.zones import NOTHING

if TYPE_CHECKING:
    from wise_ladder.ladder.state import Question, Rung
    from wise_ladder.plan.model import Guard, Plan, Way


class Veils:
    """Puts veils over the shapes of a plan."""

    def __init__(self, plan: Plan, shaping: Shaping) -> None:
        """Take what says how quiet a rung is."""
        self._shaping = shaping
        self._guards = {place.name: place.guards for place in plan.places}
        self._paths: dict[tuple[tuple[Guard, ...], frozenset[Way]], VeiledPath] = {}
        self._ladders: dict[tuple[bool, bool, VeiledPath, frozenset[int]], Veiled] = {}
        """What was put over shapes, each but once, so that equal ones are one."""

    def over(self, shape: State) -> State | None:
        """Put a veil over the ladders of a shape, None where that cannot be."""
        path = visible_path(shape.ladder)
        if not path or path[-1].undelivered or shape.layers or shape.armed or shape.unseen:
            return None
        quiet = reduce(and_, [self._shaping.quiet(rung, layered=True) for rung in shape.ladder])
        layered = any(rung.layers for rung in all_rungs(shape.ladder))
        timed = cast("Untold", shape.pending).timed
        key = bool(quiet & PLAIN), bool(quiet & SAVED) and not layered, self._path(path), timed
        ladder = self._ladders.get(key)
        if ladder is None:
            ladder = self._ladders[key] = Veiled((cast("Rung", Veil(*key)),))
        return replace(shape, ladder=ladder, question=shape.question and replace(shape.question, serial=BEHIND))

    def _path(self, path: list[Rung]) -> VeiledPath:
        """Say who is asked when all is left; what hangs on the facts and arguments of a rung is known by now."""
        found: list[Guard] = []
        hazy: set[Way] = set()
        for rung in reversed(path):
            face, layers = rung.face, sorted(rung.layers, key=lambda layer: -layer.serial)
            for name in (*(layer.name for layer in layers), face.screen):
                for guard in self._guards[name]:
                    condition = left_open(guard.condition, face.own, dict(face.arguments))
                    if not is_about_facts(condition) or guard.decision == "do":
                        hazy.update(guard.ways)
                    elif condition is not False:
                        found.append(replace(guard, condition=None if condition is True else condition))
        key = tuple(found), frozenset(hazy)
        return self._paths.get(key) or self._paths.setdefault(key, VeiledPath(*key))


def still_veiled(before: State, after: State) -> Shaped:
    """Take a state apart whose ladders stayed behind their veil; raises Look where more changed than can be seen so."""
    under_way = cast("Untold | UnderWay", after.calls)
    if not isinstance(after.pending, Untold):
        left_out = before.pending
        spoken_of = not isinstance(left_out, Untold) or left_out.timed or left_out.callers or left_out.askers
        if spoken_of or after.pending or after.calls:
            raise Look("shape", 0)
        under_way = UnderWay((), (), NOTHING)
    if after.layers or after.armed or after.unseen:
        raise Look("shape", 0)
    return Shaped(after, (*after.facts, after.wanted, under_way), ())


def carried_over(found: State, shape: State) -> State:
    """Give a shape what was found out behind its veil, where its ladders stay as they are."""
    path, question = visible_path(shape.ladder), found.question
    return replace(
        shape,
        phase=found.phase,
        cover=found.cover,
        arriving=found.arriving,
        alive=found.alive,
        restored=found.restored,
        least=found.least,
        question=question and replace(question, serial=path[-1].serial, rung=_rung_of(question, path)),
    )


def _rung_of(question: Question, path: list[Rung]) -> int:
    """Return the serial of the rung that a question's guard stands on, or whose overlay has it; 0 for one of the app."""
    where = question.guard.where
    for rung in reversed(path):
        if where == rung.face.screen or any(layer.name == where for layer in rung.layers):
            return rung.serial
    return 0


def lifted(found: State, shape: State) -> State:
    """Lift the veil from a shape; what was put in stays."""
    pending = shape.pending if isinstance(found.pending, Untold) else found.pending
    return replace(shape, facts=found.facts, wanted=found.wanted, pending=pending, calls=found.calls)
