"""What of a plan is looked up at each step, laid out once for each plan."""

from __future__ import annotations

from collections import defaultdict
from typing import TYPE_CHECKING
from weakref import WeakKeyDictionary

from wise_ladder.ladder.state import Face
from wise_ladder.plan.operations import TapTrigger, Target

if TYPE_CHECKING:
    from wise_ladder.ladder.small import Decision, Known, Matter
    from wise_ladder.ladder.state import Head
    from wise_ladder.plan.model import Move, Plan
    from wise_ladder.plan.values import Arguments, Value

MOST_REMEMBERED = 200_000


class Tables:
    """Moves by screen and trigger, and the decisions made so far (deciding is a function of the head, so they stay true)."""

    def __init__(self, plan: Plan) -> None:
        """Lay out the moves of a plan."""
        self.taps: dict[tuple[str, str], list[Move]] = defaultdict(list)
        self.fires: dict[tuple[str, int], list[Move]] = defaultdict(list)
        self.timers: dict[str, tuple[int, ...]] = {}
        self.decided: dict[tuple[Matter, Head, Known], Decision] = {}
        self._own = {screen.name: tuple((fact.name, fact.values[0]) for fact in screen.holds) for screen in plan.screens}
        for screen in plan.screens:
            timers: dict[int, None] = {}
            for move in screen.moves:
                if isinstance(trigger := move.trigger, TapTrigger):
                    self.taps[screen.name, trigger.name].append(move)
                else:
                    self.fires[screen.name, trigger.after].append(move)
                    timers[trigger.after] = None
            self.timers[screen.name] = tuple(timers)

    def face(self, screen: str, arguments: Arguments) -> Face:
        """Return a new rung's face: the facts it holds have their first values."""
        return Face(screen, arguments, self._own[screen])


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
    return Target(target.screen, arguments)
