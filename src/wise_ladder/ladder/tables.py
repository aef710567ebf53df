"""What of a plan is looked up at each step, laid out once for each plan."""

from __future__ import annotations

from typing import TYPE_CHECKING, TypeVar
from weakref import WeakKeyDictionary

from wise_ladder.ladder.small import Build
from wise_ladder.ladder.state import Face
from wise_ladder.plan import operations

if TYPE_CHECKING:
    from wise_ladder.ladder.matters import Matter
    from wise_ladder.ladder.small import Decision, Known
    from wise_ladder.ladder.state import Head, State
    from wise_ladder.ladder.step import Step
    from wise_ladder.plan.events import Event
    from wise_ladder.plan.model import Guard, GuardId, Move, Plan
    from wise_ladder.plan.operations import Target
    from wise_ladder.plan.values import Value

_Key = TypeVar("_Key")

MOST_REMEMBERED = 200_000


class Tables:
    """Moves by place and trigger, and the decisions made so far (deciding is a function of the head, so they stay true)."""

    def __init__(self, plan: Plan) -> None:
        """Lay out the moves of a plan."""
        self.plan = plan
        self.decided: dict[tuple[Matter, tuple[GuardId, ...], Head, Known], Decision] = {}
        self.done: dict[tuple[Event | None, State], Step] = {}
        self.taps: dict[tuple[str | None, str], list[Move]] = {}
        self.fires: dict[tuple[str | None, int], list[Move]] = {}
        self.timers: dict[str | None, tuple[int, ...]] = {}
        self.shown: dict[tuple[str | None, bool], list[Move]] = {}
        self.left: dict[str | None, list[Move]] = {}
        self.turned: dict[tuple[str | None, str, str], list[Move]] = {}
        self.turned_hidden: set[tuple[str | None, str, str]] = set()
        self.results: dict[tuple[str | None, str, bool], list[Move]] = {}
        for move in plan.moves:
            self._lay_out(move)
        self.facts_that_matter = {(fact, value) for _, fact, value in self.turned}
        self.guards: dict[str | None, tuple[Guard, ...]] = {place.name: place.guards for place in plan.places}
        self.guards[None] = plan.guards
        self.bars = {screen.name: (self._bar(screen.top_bar), self._bar(screen.bottom_bar)) for screen in plan.screens}
        """Whether a screen shows each bar; None: as it was."""
        self.comes_first = any(guard.first_in_line or guard.outlives for guard in plan.guard.values())
        self._own = {screen.name: tuple((fact.name, fact.values[0]) for fact in screen.holds) for screen in plan.screens}

    def _bar(self, said: str) -> bool | None:
        return {"shown": True, "hidden": False}.get(self.plan.policies.bars_left_unsaid if said == "unsaid" else said)

    def _lay_out(self, move: Move) -> None:
        where = move.where
        match move.trigger:
            case operations.TapTrigger(name):
                _add(self.taps, (where, name), move)
            case operations.TimerTrigger(after):
                _add(self.fires, (where, after), move)
                self.timers[where] = tuple(dict.fromkeys((*self.timers.get(where, ()), after)))
            case operations.ShownTrigger(first):
                _add(self.shown, (where, first), move)
            case operations.LeftTrigger():
                _add(self.left, where, move)
            case operations.BecomesTrigger(fact, value, even_hidden):
                _add(self.turned, (where, fact, value), move)
                if even_hidden:
                    self.turned_hidden.add((where, fact, value))
            case operations.ResultTrigger(name, cancelled):
                _add(self.results, (where, name, cancelled), move)

    def build(self, target: Target, *, redirected: bool = False) -> Build:
        """Say how the rung of a target is made: facts it holds at first values, flows and tabs with their first rung."""
        screen = self.plan.screen[target.screen]
        timers = self.timers.get(screen.name, ())
        if not screen.inside:
            return Build(Face(screen.name, target.fixed, self._own[screen.name], redirected=redirected), timers)
        face = Face(screen.name, target.fixed, self._own[screen.name], (0,), redirected=redirected)
        first = self.build(filled(screen.inside[0][1], dict(face.arguments)))
        return Build(face, timers, len(screen.inside), first)


def _add(moves: dict[_Key, list[Move]], key: _Key, move: Move) -> None:
    moves.setdefault(key, []).append(move)


_tables: WeakKeyDictionary[Plan, Tables] = WeakKeyDictionary()


def tables(plan: Plan) -> Tables:
    """Return the tables of a plan, laid out at the first call."""
    found = _tables.get(plan)
    if found is None:
        found = _tables[plan] = Tables(plan)
    return found


def filled(target: Target, values: dict[str, Value]) -> Target:
    """Return the target with each variable filled in."""
    if not target.arguments:
        return target
    arguments = tuple(
        (name, value if isinstance(value, (str, int)) else values[value.name]) for name, value in target.arguments
    )
    return operations.Target(target.screen, arguments)
