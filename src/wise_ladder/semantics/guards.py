"""Which guards stand in the way of leaving, and what they decide."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.semantics import effects, log, messages, stack_queries
from wise_ladder.semantics.opaque import OpaquePath
from wise_ladder.semantics.reasons import Reason, unmet_part
from wise_ladder.semantics.state import OUT_OF_SIGHT, VISIBLE
from wise_ladder.semantics.tasks import OperationTask

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.model import Guard, GuardId
    from wise_ladder.plan.operations import Operation
    from wise_ladder.semantics.conditions import EvalContext
    from wise_ladder.semantics.effects import Effect
    from wise_ladder.semantics.plan_index import PlanIndex
    from wise_ladder.semantics.tasks import Cause

APP = -1
"""The place of the guards of the app."""
WHOLE_WAY = -1
"""The level of what acts on the ladder of a guard's place, wherever that is."""


class GuardCheck:
    """The guards of a plan at a head."""

    def __init__(self, view: EvalContext, tables: PlanIndex) -> None:
        """Look from no place in particular."""
        self.view, self.tables = view, tables

    def leaving(self, cause: Cause, place: int, *, app: bool = False) -> Met:
        """Ask the guards of what goes when the rung of a place goes, inside out.

        `app`: the app is left, or goes away by Back.
        """
        return self._first(cause, self._left(cause, place, app=app))

    def covering(self, cause: Cause, level: int) -> Met:
        """Ask the guards that watch what is put over their place."""
        places = range(len(self.view.head.path) - 1, level - 1, -1)
        guards = ((guard, place) for place in places for guard in self._at(place) if guard.watches == "what is put over it")
        return self._first(cause, guards)

    def first_in_line(self, cause: Cause) -> Met:
        """Ask the guards that come before the goal of Back is chosen, the latest armed first."""
        return self._first(cause, ((guard, place) for guard, place in self._armed_first() if guard.first_in_line))

    def closing(self, cause: Cause, overlay: str, place: int) -> Met:
        """Ask the guards of an overlay that closes."""
        return self._first(cause, ((guard, place) for guard in self.tables.guards[overlay]))

    def _armed_first(self) -> Iterator[tuple[Guard, int]]:
        armed = self.view.head.armed
        for number in reversed(range(len(armed))):
            guard, place = armed[number]
            if place > OUT_OF_SIGHT or self.view.ask(stack_queries.ArmedHolds(number)):
                yield self.view.plan.guard[guard], place

    def _left(self, cause: Cause, place: int, *, app: bool) -> Iterator[tuple[Guard, int]]:
        head = self.view.head
        yield from ((guard, at) for guard, at in self._armed_first() if at <= OUT_OF_SIGHT and guard.app_scoped)
        if isinstance(head.path, OpaquePath):
            yield from ((guard, APP) for guard in head.path.asked(cause.way))
        else:
            yield from self._on_path(place)
        if app:
            for overlay, over in reversed(head.layers):
                if over == APP:
                    yield from ((guard, APP) for guard in self.tables.guards[overlay])
        for guard in self.tables.guards[None]:
            if app or guard.watches == "everything inside":
                yield guard, APP

    def _on_path(self, first: int) -> Iterator[tuple[Guard, int]]:
        """Go through what stands on the visible rungs; hidden ones are not asked."""
        head = self.view.head
        for place in range(len(head.path) - 1, -1, -1):
            if head.path[place].stands != VISIBLE:
                continue
            own = place >= first
            for overlay, over in reversed(head.layers):
                if over == place and own:
                    yield from ((guard, place) for guard in self.tables.guards[overlay])
            for guard in self._at(place):
                if own or guard.watches == "everything inside":
                    yield guard, place

    def _at(self, place: int) -> tuple[Guard, ...]:
        spot = self.view.head.path[place]
        return self.tables.guards[spot.data.screen] if spot.stands == VISIBLE else ()

    def _first(self, cause: Cause, guards: Iterator[tuple[Guard, int]]) -> Met:
        heard, granted = self.tables.asked, list(cause.passed)
        asked: list[tuple[GuardId, int]] = []
        for guard, place in guards:
            if (guard.id, place) in cause.asked:
                continue
            asked.append((guard.id, place))
            if guard.id in granted:
                granted.remove(guard.id)
                if heard is not None:
                    heard.append(Reason("guard", guard.name, "passed", messages.ASKED_ALREADY, guard))
                continue
            stands = self._stands_in_the_way(guard, place, cause)
            if heard is not None:
                because = "" if stands else self._why_not(guard, place, cause)
                heard.append(Reason("guard", guard.name, "took it" if stands else "passed", because, guard))
            if stands:
                if heard is not None:
                    heard += (Reason("guard", later.name, "not asked", thing=later) for later, _ in guards)
                return Met(self._decided(guard, place, (*cause.asked, *asked)), ())
        return Met(None, tuple(asked))

    def _stands_in_the_way(self, guard: Guard, place: int, cause: Cause) -> bool:
        """Whether a guard stands in the way; of one that is armed out of sight the condition holds."""
        sees = cause.way in guard.ways and cause.way in self.view.plan.policies.guards_see
        if not sees or (guard.at_press and guard.name != cause.taken_by):
            return False
        return place <= OUT_OF_SIGHT or self._seen_by(guard, place).holds(guard.condition)

    def _seen_by(self, guard: Guard, place: int) -> EvalContext:
        if guard.id.owner in self.view.plan.overlay:
            return self.view.over(guard.id.owner or "", place)
        return self.view.at(place) if place >= 0 else self.view

    def _why_not(self, guard: Guard, place: int, cause: Cause) -> str:
        """Say why a guard does not stand in the way."""
        if cause.way not in guard.ways:
            return messages.DOES_NOT_WATCH.format(way=cause.way)
        if cause.way not in self.view.plan.policies.guards_see:
            return messages.UNSEEN_ON_PHONE.format(way=cause.way)
        if guard.at_press and guard.name != cause.taken_by:
            return messages.DECIDES_AT_PRESS
        return unmet_part(self._seen_by(guard, place), guard.condition)

    @staticmethod
    def _decided(guard: Guard, place: int, asked: effects.Consulted) -> tuple[Effect, ...]:
        if guard.decision == "ask":
            return (effects.OpenQuestion(guard.id, place, guard.name, guard.text),)
        if guard.decision == "block":
            return (effects.Block(log.Blocked(guard.name), asked),)
        stop = effects.Block(log.GuardActed(guard.name), asked)
        return stop, *acting_for(guard.id, guard.operations)


def acting_for(guard: GuardId, done: tuple[Operation, ...]) -> tuple[Effect, ...]:
    """Do what a guard does, for its own place; no guard is asked about that."""
    return effects.ActFor(guard.owner), *(effects.DecideNext(OperationTask(operation, WHOLE_WAY)) for operation in done)


class Met(NamedTuple):
    """What became of guards that were asked: what one decides that stands in the way, or all that let pass."""

    stopped: tuple[Effect, ...] | None
    passed: effects.Consulted
