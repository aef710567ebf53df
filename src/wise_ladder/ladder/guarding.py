"""Which guards stand in the way of leaving, and what they decide."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.ladder import happenings, small
from wise_ladder.ladder.asked import Asked, why_not
from wise_ladder.ladder.matters import Do
from wise_ladder.ladder.veiling import VeiledPath

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.ladder.conditions import View
    from wise_ladder.ladder.matters import Cause
    from wise_ladder.ladder.small import Small
    from wise_ladder.ladder.tables import Tables
    from wise_ladder.plan.model import Guard

APP, GONE = -1, -2
"""Places of guards that stand on no rung of the visible path: those of the app, and those that outlived theirs."""


class Guards:
    """The guards of a plan at a head."""

    def __init__(self, view: View, tables: Tables) -> None:
        """Look from no place in particular."""
        self.view, self.tables = view, tables

    def leaving(self, cause: Cause, level: int, *, app: bool = False, keeps_holder: bool = False) -> tuple[Small, ...] | None:
        """Ask the guards of what goes when the top rung of a level does, inside out; None where all let it pass.

        `app`: the app is left, or goes away by Back; `keeps_holder`: a tab goes out of the front, and its tabs stay.
        """
        return self._first(cause, self._left(cause, level + 1 if keeps_holder else level, app=app))

    def covering(self, cause: Cause, level: int) -> tuple[Small, ...] | None:
        """Ask the guards that watch what is put over their place."""
        places = range(len(self.view.head.path) - 1, level - 1, -1)
        found = ((guard, place) for place in places for guard in self._at(place) if guard.watches == "what is put over it")
        return self._first(cause, found)

    def first_in_line(self, cause: Cause) -> tuple[Small, ...] | None:
        """Ask the guards that come before the goal of Back is chosen, the latest armed first."""
        armed = ((self.view.plan.guard[guard], place) for guard, place in reversed(self.view.head.armed))
        return self._first(cause, ((guard, place) for guard, place in armed if guard.first_in_line))

    def closing(self, cause: Cause, overlay: str, place: int) -> tuple[Small, ...] | None:
        """Ask the guards of an overlay that closes."""
        return self._first(cause, ((guard, place) for guard in self.tables.guards[overlay]))

    def _left(self, cause: Cause, level: int, *, app: bool) -> Iterator[tuple[Guard, int]]:
        head = self.view.head
        armed = ((self.view.plan.guard[known], place) for known, place in head.armed)
        yield from ((guard, place) for guard, place in armed if place == GONE and guard.outlives)
        if isinstance(head.path, VeiledPath):
            yield from ((guard, APP) for guard in head.path.asked(cause.way))
        else:
            yield from self._on_path(level)
        for guard in self.tables.guards[None]:
            if app or guard.watches == "everything inside":
                yield guard, APP

    def _on_path(self, level: int) -> Iterator[tuple[Guard, int]]:
        head = self.view.head
        for place in range(len(head.path) - 1, -1, -1):
            own = place >= level
            for overlay, over in reversed(head.layers):
                if over == place and own:
                    yield from ((guard, place) for guard in self.tables.guards[overlay])
            for guard in self._at(place):
                if own or guard.watches == "everything inside":
                    yield guard, place

    def _at(self, place: int) -> tuple[Guard, ...]:
        return self.tables.guards[self.view.head.path[place].face.screen]

    def _first(self, cause: Cause, guards: Iterator[tuple[Guard, int]]) -> tuple[Small, ...] | None:
        heard = self.tables.asked
        for guard, place in guards:
            passes = self._lets_pass(guard, place, cause)
            if heard is not None:
                heard.append(Asked("guard", guard.name, "passed" if passes else "took it", passes, guard))
            if not passes:
                if heard is not None:
                    heard += (Asked("guard", later.name, "not asked", thing=later) for later, _ in guards)
                return self._decided(guard, place)
        return None

    def _lets_pass(self, guard: Guard, place: int, cause: Cause) -> str:
        """Say why a guard does not stand in the way; nothing where it does."""
        if guard.id in cause.passed:
            return "it was asked already"
        if cause.way not in guard.ways:
            return f"it does not watch the way {cause.way}"
        if cause.way not in self.view.plan.policies.guards_see:
            return f"guards do not see the way {cause.way} on this phone"
        if guard.at_press and guard.name != cause.taken_by:
            return "it decides at the press, and did not take this one"
        return "" if place == GONE else why_not(self.view.at(place) if place >= 0 else self.view, guard.condition)

    def armed(self, guard: Guard, place: int) -> bool:
        """Whether a guard's condition holds at its place."""
        return (self.view.at(place) if place >= 0 else self.view).holds(guard.condition)

    @staticmethod
    def _decided(guard: Guard, place: int) -> tuple[Small, ...]:
        if guard.decision == "ask":
            return (small.Ask(guard.id, guard.name, guard.text),)
        if guard.decision == "block":
            return (small.Stop(happenings.Blocked(guard.name)),)
        level = max(place, 0)
        return small.Stop(happenings.DidInstead(guard.name)), *(small.Then(Do(done, level)) for done in guard.operations)
