"""Veils over shapes: what can happen whatever is seen is found out once for all shapes that are one behind a veil."""

from __future__ import annotations

from functools import reduce
from operator import and_
from typing import TYPE_CHECKING, cast

from msgspec.structs import replace

from wise_ladder.plan.events import Reply
from wise_ladder.rules.abstraction import Abstraction, AbstractState
from wise_ladder.rules.in_flight import InFlight
from wise_ladder.semantics.conditions import simplify, uses_only_facts
from wise_ladder.semantics.opaque import OPAQUE_SERIAL, OpaqueLadder, OpaquePath, OpaqueRung, VeilKnowledge
from wise_ladder.semantics.plan_index import index_of
from wise_ladder.semantics.state import State, all_rungs, visible_path
from wise_ladder.semantics.symbolic import (
    ASKERS,
    PLAIN,
    QUIET,
    SAVED,
    SETTLED,
    UNREAD,
    RefinementNeeded,
    StackRest,
    SymbolicPart,
    each_cut,
)

if TYPE_CHECKING:
    from wise_ladder.plan.model import Guard, Plan, Redirect
    from wise_ladder.plan.policies import Way
    from wise_ladder.rules.actions import Action
    from wise_ladder.rules.successors import Successor
    from wise_ladder.semantics.state import PendingCall, Question, Rung


class Veils:
    """Puts veils over the shapes of a plan."""

    def __init__(self, plan: Plan, shaping: Abstraction) -> None:
        """Take what says how quiet a rung is."""
        self._plan, self._shaping = plan, shaping
        self._waking = index_of(plan).waking
        self._guards = {place.name: place.guards for place in plan.owners}
        self._paths: dict[tuple[tuple[Guard, ...], frozenset[Way], tuple[Redirect, ...]], OpaquePath] = {}
        self._ladders: dict[VeilKnowledge, OpaqueLadder] = {}
        """What was put over shapes, each but once, so that equal ones are one."""

    def hide_ladders(self, shape: State) -> State | None:
        """Put a veil over the ladders of a shape, None if that cannot be."""
        path = visible_path(shape.ladder)
        if not path or path[-1].undelivered or shape.overlays or shape.armed or shape.never_shown or shape.begun:
            return None
        quiet = reduce(and_, [self._shaping.quiet(rung, layered=True) for rung in shape.ladder])
        nothing = StackRest(QUIET, 0)
        rest = () if any(True for _ in each_cut(shape.ladder)) else tuple(map(nothing.answer, (SAVED, PLAIN, SETTLED, ASKERS)))
        layered = any(rung.overlays for rung in all_rungs(shape.ladder))
        quiet &= ~SAVED if layered else QUIET
        names = (name for rung in path for name in (rung.data.screen, *(layer.name for layer in rung.overlays)))
        wakes = not self._waking.isdisjoint(names)
        watched = any(rung.data.screen in self._shaping.guarded for rung in path)
        timed = cast("SymbolicPart", shape.deadlines).timed
        known = VeilKnowledge(quiet, self._path(path), timed, wakes, layered, watched, rest)
        ladder = self._ladders.get(known)
        if ladder is None:
            ladder = self._ladders[known] = OpaqueLadder((cast("Rung", OpaqueRung(known)),))
        question = shape.question
        if question is not None:
            question = replace(question, serial=OPAQUE_SERIAL, rung=question.rung and OPAQUE_SERIAL)
        return replace(shape, ladder=ladder, question=question)

    def _path(self, path: list[Rung]) -> OpaquePath:
        """List the guards asked when all is left; what depends on the facts and arguments of a rung is known by now."""
        guards: list[Guard] = []
        hazy: set[Way] = set()
        for rung in reversed(path):
            data, layers = rung.data, sorted(rung.overlays, key=lambda layer: -layer.serial)
            for name in (*(layer.name for layer in layers), data.screen):
                for guard in self._guards[name]:
                    condition = simplify(guard.condition, data.facts, dict(data.arguments))
                    if not uses_only_facts(condition) or guard.decision == "do":
                        hazy.update(guard.ways)
                    elif condition is not False:
                        guards.append(replace(guard, condition=None if condition is True else condition))
        seen = self._plan.screen[path[-1].data.screen]
        redirects = tuple(each for each in self._plan.redirects if not seen.foreign and each.is_for(seen.name))
        key = tuple(guards), frozenset(hazy), redirects
        return self._paths.get(key) or self._paths.setdefault(key, OpaquePath(*key))


def abstract_hidden(before: State, done: Successor, shaping: Abstraction) -> AbstractState:
    """Abstract a state whose ladders stayed opaque; raises RefinementNeeded if more than the rest of it changed."""
    after = done.state
    under_way = cast("SymbolicPart | InFlight", after.calls)
    if isinstance(after.calls, SymbolicPart) and after.calls.known.dropped:
        raise RefinementNeeded("shape", 0)
    if not isinstance(after.deadlines, SymbolicPart):
        left_out = before.deadlines
        if isinstance(left_out, SymbolicPart):
            spoken_of = left_out.timed or left_out.callers or cast("OpaqueRung", before.ladder[-1]).askers
            if spoken_of or after.deadlines or after.calls:
                raise RefinementNeeded("shape", 0)
        elif any(timer.serial for timer in (*left_out, *after.deadlines)) or _of_rungs(before) != _of_rungs(after):
            raise RefinementNeeded("shape", 0)
        under_way = InFlight(after.deadlines, after.calls, done.zone)
        after = replace(after, deadlines=(), calls=())
    if after.overlays or after.armed or after.never_shown:
        raise RefinementNeeded("shape", 0)
    question, stopped = shaping.asked_about(after.question, {OPAQUE_SERIAL: OPAQUE_SERIAL})
    facts = (*after.facts, after.held_link, after.wanted, stopped, under_way)
    held = UNREAD[shaping.held] if after.cover or after.held_link else ""
    return AbstractState(replace(after, held_link=held, question=question), facts, ())


def _of_rungs(state: State) -> list[PendingCall]:
    """List the pending calls of rungs that still stand."""
    return [replace(call, number=0) for call in state.calls if call.serial not in {0, -1}]


def of_the_app(choice: Action, under_way: InFlight) -> bool:
    """Whether something pending has to do with no rung, nor has anything that may fall due with it."""
    if isinstance(choice, Reply):
        return next(call for call in under_way.calls if call.name == choice.call).serial in {0, -1}
    return not any(timer.serial for timer in under_way.pending)


def apply_hidden(hidden: State, shape: State) -> State:
    """Give a shape what was found out behind its veil, where its ladders stay as they are."""
    path, question = visible_path(shape.ladder), hidden.question
    return replace(
        shape,
        phase=hidden.phase,
        cover=hidden.cover,
        held_link=hidden.held_link,
        alive=hidden.alive,
        restored=hidden.restored,
        least=hidden.least,
        question=question and replace(question, serial=path[-1].serial, rung=_rung_of(question, path)),
    )


def _rung_of(question: Question, path: list[Rung]) -> int:
    """Return the serial of the rung that a question's guard stands on, or whose overlay has it; 0 for one of the app."""
    where = question.guard.owner
    for rung in reversed(path):
        if where == rung.data.screen or any(layer.name == where for layer in rung.overlays):
            return rung.serial
    return 0


def reveal(hidden: State, shape: State) -> State:
    """Lift the veil from a shape; what was put in stays."""
    pending = shape.deadlines if isinstance(hidden.deadlines, SymbolicPart) else hidden.deadlines
    question = shape.question and hidden.question and replace(shape.question, stopped=hidden.question.stopped)
    told = {"facts": hidden.facts, "held_link": hidden.held_link, "wanted": hidden.wanted, "calls": hidden.calls}
    return replace(shape, deadlines=pending, question=question, **told)
