"""Whether a condition holds at a head; what is beneath is asked for."""

from __future__ import annotations

from typing import TYPE_CHECKING, TypeVar

from wise_ladder.plan import conditions
from wise_ladder.semantics import stack_queries
from wise_ladder.semantics.state import COVERED

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.plan.conditions import Condition
    from wise_ladder.plan.model import Plan
    from wise_ladder.plan.values import Value
    from wise_ladder.semantics.stack_queries import StackAnswers, StackQuery
    from wise_ladder.semantics.state import Head

_T = TypeVar("_T")


class QueryNeeded(Exception):  # noqa: N818 - a question is no error
    """Deciding needs to know something that the head does not show."""

    def __init__(self, question: StackQuery) -> None:
        """Carry the question to the caller, which can look."""
        super().__init__(question)
        self.question = question


def with_answers(ask: Callable[[StackAnswers], _T], answer: Callable[[StackQuery], bool]) -> _T:
    """Return what `ask` returns once it has the answers to all the queries that it raises."""
    known: StackAnswers = ()
    while True:
        try:
            return ask(known)
        except QueryNeeded as needed:
            known = (*known, (needed.question, answer(needed.question)))


def simplify(condition: Condition | None, own: tuple[tuple[str, str], ...], values: dict[str, Value]) -> Condition | bool:
    """Return what of a condition is still open where the facts and arguments of its place are known."""
    match condition:
        case None:
            return True
        case conditions.RungFactIs(name, value):
            return (name, value) in own
        case conditions.ArgumentIs(name, value):
            return values.get(name) == value
        case conditions.Not(inner):
            simpler = simplify(inner, own, values)
            return not simpler if isinstance(simpler, bool) else conditions.Not(simpler)
        case conditions.AllOf(parts) | conditions.AnyOf(parts):
            decides = isinstance(condition, conditions.AnyOf)
            open_parts = [simplify(part, own, values) for part in parts]
            if any(part is decides for part in open_parts):
                return decides
            rest = tuple(part for part in open_parts if not isinstance(part, bool))
            return type(condition)(rest) if rest else not decides
        case (
            conditions.FactIs()
            | conditions.Alone()
            | conditions.DepthOver()
            | conditions.OnLadder()
            | conditions.BeneathIs()
            | conditions.TabInFront()
            | conditions.TabAtRoot()
            | conditions.TimerRuns()
        ):
            return condition


def uses_only_facts(condition: Condition | bool) -> bool:
    """Whether a condition depends on nothing but facts of the app."""
    match condition:
        case conditions.Not(inner):
            return uses_only_facts(inner)
        case conditions.AllOf(parts) | conditions.AnyOf(parts):
            return all(uses_only_facts(part) for part in parts)
        case bool() | conditions.FactIs():
            return True
        case (
            conditions.RungFactIs()
            | conditions.ArgumentIs()
            | conditions.Alone()
            | conditions.DepthOver()
            | conditions.OnLadder()
            | conditions.BeneathIs()
            | conditions.TabInFront()
            | conditions.TabAtRoot()
            | conditions.TimerRuns()
        ):
            return False


def facts_of(condition: Condition | None) -> set[str]:
    """Return the facts of the app that a condition asks for."""
    match condition:
        case conditions.FactIs(name, _):
            return {name}
        case conditions.Not(inner):
            return facts_of(inner)
        case conditions.AllOf(parts) | conditions.AnyOf(parts):
            return set[str]().union(*map(facts_of, parts))
        case (
            None
            | conditions.RungFactIs()
            | conditions.ArgumentIs()
            | conditions.Alone()
            | conditions.DepthOver()
            | conditions.OnLadder()
            | conditions.BeneathIs()
            | conditions.TabInFront()
            | conditions.TabAtRoot()
            | conditions.TimerRuns()
        ):
            return set()


class EvalContext:
    """A head as one place sees it: with the place's own facts, its arguments, where it stands, and the answers from beneath."""

    def __init__(self, plan: Plan, head: Head, known: StackAnswers) -> None:
        """Begin at no place, as the app: no facts of its own."""
        self.plan, self.head, self.known = plan, head, known
        self.own: tuple[tuple[str, str], ...] = ()
        self.values: dict[str, Value] = {}
        self.place: int | None = -1
        """Where on the path it is; None: on a rung that is not on it."""
        self.lowest: bool | None = None
        """Whether the place is the lowest of its ladder; None: the app's own ladder is what counts."""

    def at(self, place: int, values: dict[str, Value] | None = None) -> EvalContext:
        """See the head from a place of the path, -1: as the app; `values` come on top of the rung's arguments."""
        context = EvalContext(self.plan, self.head, self.known)
        context.values = values or {}
        if place >= 0:
            spot = self.head.path[place]
            context.own, context.place, context.lowest = spot.data.facts, place, spot.lowest
            context.values = {**dict(spot.data.arguments), **context.values}
        return context

    def over(self, overlay: str, place: int, values: dict[str, Value] | None = None) -> EvalContext:
        """See the head from an overlay over a place: as its rung does, but with the facts that the overlay holds itself."""
        context = self.at(place, values)
        context.own = dict(self.head.held).get(overlay, ())
        return context

    def of(self, own: tuple[tuple[str, str], ...], values: dict[str, Value], *, lowest: bool) -> EvalContext:
        """See the head as the rung does that the matter is about, and that is not on the path."""
        context = EvalContext(self.plan, self.head, self.known)
        context.own, context.values, context.place, context.lowest = own, values, None, lowest
        return context

    def ask(self, question: StackQuery) -> bool:
        """Return what is beneath; raises QueryNeeded if it is not known yet."""
        for asked, answer in self.known:
            if asked == question:
                return answer
        raise QueryNeeded(question)

    def holds(self, condition: Condition | None) -> bool:
        """Whether a condition holds; none always does."""
        match condition:
            case None:
                return True
            case conditions.FactIs(name, value):
                return self.head.facts[self.plan.fact_index[name]] == value
            case conditions.RungFactIs(name, value):
                return (name, value) in self.own
            case conditions.ArgumentIs(name, value):
                return self.values.get(name) == value
            case conditions.Alone():
                path = self.head.path
                alone = bool(path) and path[0].lowest and path[0].stands != COVERED
                return alone if self.lowest is None else self.lowest
            case conditions.Not(inner):
                return not self.holds(inner)
            case conditions.AllOf(parts):
                return all(self.holds(part) for part in parts)
            case conditions.AnyOf(parts):
                return any(self.holds(part) for part in parts)
            case conditions.DepthOver(rungs):
                return self.ask(stack_queries.DeeperThan(rungs))
            case conditions.OnLadder(screen):
                return self.ask(stack_queries.OnPath(self.place, screen))
            case conditions.BeneathIs(screen):
                return self.ask(stack_queries.IsBeneath(self.place, screen))
            case conditions.TabInFront(tab):
                return self.ask(stack_queries.IsInFront(self.place, tab))
            case conditions.TabAtRoot(tab):
                return self.ask(stack_queries.IsAtRoot(self.place, tab))
            case conditions.TimerRuns(timer):
                return self.ask(stack_queries.TimerIsRunning(timer))
