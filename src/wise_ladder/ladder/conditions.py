"""Whether a condition holds at a head; what lies beneath is asked for."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.ladder import small
from wise_ladder.plan import operations

if TYPE_CHECKING:
    from wise_ladder.ladder.small import Known, Question
    from wise_ladder.ladder.state import Head
    from wise_ladder.plan.model import Plan
    from wise_ladder.plan.operations import Condition
    from wise_ladder.plan.values import Value


class Beneath(Exception):  # noqa: N818 - a question is no error
    """Deciding needs to know something that the head does not show."""

    def __init__(self, question: Question) -> None:
        """Carry the question to whoever can look."""
        super().__init__(question)
        self.question = question


def left_open(condition: Condition | None, own: tuple[tuple[str, str], ...], values: dict[str, Value]) -> Condition | bool:
    """Return what of a condition is still open where the facts and arguments of its place are known."""
    match condition:
        case None:
            return True
        case operations.OwnIs(name, value):
            return (name, value) in own
        case operations.ArgumentIs(name, value):
            return values.get(name) == value
        case operations.Not(inner):
            found = left_open(inner, own, values)
            return not found if isinstance(found, bool) else operations.Not(found)
        case operations.All(parts) | operations.Either(parts):
            decides = isinstance(condition, operations.Either)
            open_parts = [left_open(part, own, values) for part in parts]
            if any(part is decides for part in open_parts):
                return decides
            rest = tuple(part for part in open_parts if not isinstance(part, bool))
            return type(condition)(rest) if rest else not decides
        case _:
            return condition


def is_about_facts(condition: Condition | bool) -> bool:
    """Whether a condition hangs on nothing but facts of the app."""
    match condition:
        case operations.Not(inner):
            return is_about_facts(inner)
        case operations.All(parts) | operations.Either(parts):
            return all(is_about_facts(part) for part in parts)
        case _:
            return isinstance(condition, (bool, operations.FactIs))


class View:
    """A head as one place sees it: with the place's own facts, its arguments, its level, and the answers from beneath."""

    def __init__(self, plan: Plan, head: Head, known: Known) -> None:
        """Begin at no place: no facts of its own, the outermost ladder."""
        self.plan, self.head, self.known = plan, head, known
        self.own: tuple[tuple[str, str], ...] = ()
        self.values: dict[str, Value] = {}
        self.level = 0
        self.lowest: bool | None = None
        """Whether the place is the lowest of its ladder; None: the outermost place is what counts."""

    def at(self, place: int, values: dict[str, Value] | None = None) -> View:
        """See the head from a place of the visible path; `values` come on top of the rung's arguments."""
        spot = self.head.path[place]
        found = View(self.plan, self.head, self.known)
        found.own, found.level, found.lowest = spot.face.own, place, spot.lowest
        found.values = {**dict(spot.face.arguments), **(values or {})}
        return found

    def of(self, own: tuple[tuple[str, str], ...], values: dict[str, Value], level: int, *, lowest: bool) -> View:
        """See the head as a rung does that is not on the visible path."""
        found = View(self.plan, self.head, self.known)
        found.own, found.values, found.level, found.lowest = own, values, level, lowest
        return found

    def ask(self, question: Question) -> bool:
        """Return what lies beneath; raises Beneath where it is not known yet."""
        for asked, answer in self.known:
            if asked == question:
                return answer
        raise Beneath(question)

    def holds(self, condition: Condition | None) -> bool:
        """Whether a condition holds; none always does."""
        match condition:
            case None:
                return True
            case operations.FactIs(name, value):
                return self.head.facts[self.plan.place_of_fact[name]] == value
            case operations.OwnIs(name, value):
                return (name, value) in self.own
            case operations.ArgumentIs(name, value):
                return self.values.get(name) == value
            case operations.Alone():
                path = self.head.path
                return bool(path) and path[0].lowest if self.lowest is None else self.lowest
            case operations.Not(inner):
                return not self.holds(inner)
            case operations.All(parts):
                return all(self.holds(part) for part in parts)
            case operations.Either(parts):
                return any(self.holds(part) for part in parts)
            case operations.DepthOver(rungs):
                return self.ask(small.DeeperThan(rungs))
            case operations.OnLadder(screen):
                return self.ask(small.IsThere(self.level, screen))
            case operations.BeneathIs(screen):
                return self.ask(small.IsBeneath(self.level, screen))
