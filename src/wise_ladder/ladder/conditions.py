"""Whether a condition holds at a head; what lies beneath is asked for."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.ladder import small
from wise_ladder.ladder.state import COVERED
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
        case operations.FactIs() | operations.Alone() | operations.DepthOver() | operations.OnLadder() | operations.BeneathIs():
            return condition


def is_about_facts(condition: Condition | bool) -> bool:
    """Whether a condition hangs on nothing but facts of the app."""
    match condition:
        case operations.Not(inner):
            return is_about_facts(inner)
        case operations.All(parts) | operations.Either(parts):
            return all(is_about_facts(part) for part in parts)
        case bool() | operations.FactIs():
            return True
        case (
            operations.OwnIs()
            | operations.ArgumentIs()
            | operations.Alone()
            | operations.DepthOver()
            | operations.OnLadder()
            | operations.BeneathIs()
        ):
            return False


def facts_of(condition: Condition | None) -> set[str]:
    """Return the facts of the app that a condition asks for."""
    match condition:
        case operations.FactIs(name, _):
            return {name}
        case operations.Not(inner):
            return facts_of(inner)
        case operations.All(parts) | operations.Either(parts):
            return set[str]().union(*map(facts_of, parts))
        case (
            None
            | operations.OwnIs()
            | operations.ArgumentIs()
            | operations.Alone()
            | operations.DepthOver()
            | operations.OnLadder()
            | operations.BeneathIs()
        ):
            return set()


class View:
    """A head as one place sees it: with the place's own facts, its arguments, where it stands, and the answers from beneath."""

    def __init__(self, plan: Plan, head: Head, known: Known) -> None:
        """Begin at no place, as the app: no facts of its own."""
        self.plan, self.head, self.known = plan, head, known
        self.own: tuple[tuple[str, str], ...] = ()
        self.values: dict[str, Value] = {}
        self.place: int | None = -1
        """Where on the path it is; None: on a rung that is not on it."""
        self.lowest: bool | None = None
        """Whether the place is the lowest of its ladder; None: the app's own ladder is what counts."""

    def at(self, place: int, values: dict[str, Value] | None = None) -> View:
        """See the head from a place of the path, -1: as the app; `values` come on top of the rung's arguments."""
        found = View(self.plan, self.head, self.known)
        found.values = values or {}
        if place >= 0:
            spot = self.head.path[place]
            found.own, found.place, found.lowest = spot.face.own, place, spot.lowest
            found.values = {**dict(spot.face.arguments), **found.values}
        return found

    def of(self, own: tuple[tuple[str, str], ...], values: dict[str, Value], *, lowest: bool) -> View:
        """See the head as the rung does that the matter is about, and that is not on the path."""
        found = View(self.plan, self.head, self.known)
        found.own, found.values, found.place, found.lowest = own, values, None, lowest
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
                alone = bool(path) and path[0].lowest and path[0].stands != COVERED
                return alone if self.lowest is None else self.lowest
            case operations.Not(inner):
                return not self.holds(inner)
            case operations.All(parts):
                return all(self.holds(part) for part in parts)
            case operations.Either(parts):
                return any(self.holds(part) for part in parts)
            case operations.DepthOver(rungs):
                return self.ask(small.DeeperThan(rungs))
            case operations.OnLadder(screen):
                return self.ask(small.OnPath(self.place, screen))
            case operations.BeneathIs(screen):
                return self.ask(small.IsBeneath(self.place, screen))
