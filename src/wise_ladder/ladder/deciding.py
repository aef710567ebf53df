"""The first half of a step: deciding, at the head and nowhere else.

`decide` answers an event, an operation or a due timer with small steps. It sees the head only. What lies beneath it can ask
for, by raising a question; `step` looks the answer up and asks again with it. So each decision is a function of the plan, the
matter, the head and the answers, and is made once.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from msgspec.structs import replace

from wise_ladder.ladder import small
from wise_ladder.ladder.happenings import Finding, Nothing
from wise_ladder.ladder.state import Phase
from wise_ladder.ladder.tables import filled, tables
from wise_ladder.ladder.words import face_words
from wise_ladder.plan import events, operations, values

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator, Sequence

    from wise_ladder.ladder.small import Decision, Known, Matter, Question, Small
    from wise_ladder.ladder.state import Face, Head
    from wise_ladder.plan.model import Move, Plan
    from wise_ladder.plan.operations import Condition, Operation
    from wise_ladder.plan.values import Value


class Beneath(Exception):  # noqa: N818 - a question is no error
    """Deciding needs to know something that the head does not show."""

    def __init__(self, question: Question) -> None:
        """Carry the question to whoever can look."""
        super().__init__(question)
        self.question = question


def decide(plan: Plan, head: Head, matter: Matter, known: Known = ()) -> Decision:
    """Return the small steps that answer a matter at this head, or a refusal.

    Raises Beneath where the answer hangs on what lies beneath and `known` does not hold it yet.
    """
    return _DECIDERS[type(matter)](_Deciding(plan, head, known), matter)


class _Deciding:
    """One decision: the head and the answers at hand."""

    def __init__(self, plan: Plan, head: Head, known: Known) -> None:
        self.plan, self.head, self.known, self.tables = plan, head, known, tables(plan)

    def ask(self, question: Question) -> bool:
        for asked, answer in self.known:
            if asked == question:
                return answer
        raise Beneath(question)

    # Conditions

    def holds(self, condition: Condition | None, face: Face | None, values: dict[str, Value], level: int, lowest: bool) -> bool:
        match condition:
            case None:
                return True
            case operations.FactIs(name, value):
                return self.head.facts[self.plan.place_of_fact[name]] == value
            case operations.OwnIs(name, value):
                return face is not None and (name, value) in face.own
            case operations.ArgumentIs(name, value):
                return values.get(name) == value
            case operations.Alone():
                return lowest
            case operations.Not(inner):
                return not self.holds(inner, face, values, level, lowest)
            case operations.All(parts):
                return all(self.holds(part, face, values, level, lowest) for part in parts)
            case operations.Either(parts):
                return any(self.holds(part, face, values, level, lowest) for part in parts)
            case operations.DepthOver(rungs):
                return self.ask(small.DeeperThan(rungs))
            case operations.OnLadder(screen):
                return self.ask(small.IsThere(level, screen))
            case operations.BeneathIs(screen):
                return self.ask(small.IsBeneath(level, screen))

    # Events

    def launch(self, _event: events.Launch) -> Decision:
        if self.head.phase is not Phase.OUTSIDE:
            return small.Refusal(f"{self.plan.app} runs already")
        for choice in self.plan.start:
            if self.holds(choice.condition, None, {}, 0, True):
                put = small.Do(operations.Push(choice.target), 0)
                return small.ComeBack(launched=True), small.Then(put)
        return small.Refusal("no start whose condition holds")

    def back(self, _event: events.Back) -> Decision:
        if refusal := self._not_open():
            return refusal
        level = self._level_to_pop()
        if level is not None:
            return (small.Then(small.Do(operations.Pop(), level)),)
        match self.plan.policies.back_at_root:
            case "leave":
                return (small.GoOut("by Back"),)
            case "away":
                return (small.GoAway(by_back=True),)
            case "stay":
                return (small.Say(Nothing("Back at the root does nothing on this phone")),)

    def header_back(self, _event: events.HeaderBack) -> Decision:
        if refusal := self._not_open():
            return refusal
        header = self.plan.screen[self.head.path[-1].face.screen].header
        if header != "arrow":
            return small.Refusal("the header has a menu here, no arrow" if header == "menu" else "the header is empty here")
        level = self._level_to_pop()
        if level is None:
            return small.Refusal("there is no arrow: nothing lies beneath")
        return (small.Then(small.Do(operations.Pop(), level)),)

    def _level_to_pop(self) -> int | None:
        path = self.head.path
        return next((level for level in reversed(range(len(path))) if not path[level].lowest), None)

    def home(self, _event: events.Home) -> Decision:
        return self._not_open() or (small.GoAway(by_back=False),)

    def reopen(self, _event: events.Reopen) -> Decision:
        if self.head.phase is not Phase.AWAY:
            return small.Refusal(f"{self.plan.app} is not in the background")
        return (small.ComeBack(launched=False),)

    def outside_change(self, event: events.OutsideChange) -> Decision:
        place = self.plan.place_of_fact.get(event.fact)
        if place is None:
            return small.Refusal(f"{event.fact} is no fact of the app")
        change = (self.head.facts[place], event.value)
        if change not in self.plan.facts[place].outside:
            return small.Refusal(f"the plan says of {event.fact} no change from outside from {change[0]} to {change[1]}")
        return (small.SetTo(place, event.fact, event.value),)

    def tap(self, event: events.Tap) -> Decision:
        if refusal := self._not_open():
            return refusal
        values = dict(event.arguments)
        path = self.head.path
        offered = False
        for place in reversed(range(len(path))):
            spot = path[place]
            for move in self.tables.taps.get((spot.face.screen, event.name), ()):
                offered = True
                mine = dict(spot.face.arguments) | values
                if _carries(move, values) and self.holds(move.condition, spot.face, mine, place, spot.lowest):
                    return self._taken(move, mine, place, place)
        for move in anywhere_moves(self.plan, path[-1].face.screen, event.name):
            offered = True
            if _carries(move, values) and self.holds(move.condition, None, values, 0, path[0].lowest):
                return self._taken(move, values, 0, None)
        return self._no_tap(event, offered=offered)

    def _no_tap(self, event: events.Tap, *, offered: bool) -> Decision:
        seen = self.head.path[-1].face
        if offered:
            return small.Refusal(f'"{event.name}" does nothing on {face_words(seen)} as things stand')
        names = dict.fromkeys(tap_names(self.plan, [spot.face.screen for spot in self.head.path]))
        there = ", ".join(names) or "none"
        return small.Refusal(f'{face_words(seen)} has no tap "{event.name}"; taps here: {there}')

    def _not_open(self) -> small.Refusal | None:
        if self.head.phase is Phase.OUTSIDE:
            return small.Refusal(f"{self.plan.app} does not run: launch it first")
        if self.head.phase is Phase.AWAY:
            return small.Refusal(f"{self.plan.app} is in the background: reopen it first")
        return None

    def _taken(self, move: Move, values: dict[str, Value], level: int, place: int | None) -> tuple[Small, ...]:
        dos = (small.Then(small.Do(_bound(operation, values), level)) for operation in move.operations)
        return (small.Take(move, place), *dos)

    # Timers

    def fire(self, due: small.Fire) -> Decision:
        values = dict(due.face.arguments)
        for move in self.tables.fires[due.face.screen, due.after]:
            if self.holds(move.condition, due.face, values, due.level, due.lowest):
                steps = self._taken(move, values, due.level, None)
                if due.hidden and any(
                    not isinstance(done, (operations.SetFact, operations.SetOwn)) for done in move.operations
                ):
                    words = f"the timer of {face_words(due.face)} acted while another screen was seen"
                    return (*steps, small.Say(Finding("acted while hidden", words)))
                return steps
        return (small.Say(Nothing(f"no move of {face_words(due.face)} wants it now")),)

    # Operations

    def do(self, due: small.Do) -> Decision:
        return _OPERATIONS[type(due.operation)](self, due.operation, due.level)

    def _top(self, level: int) -> Face | None:
        return self.head.path[level].face if level < len(self.head.path) else None

    def push(self, operation: operations.Push, level: int) -> Decision:
        face = self._new_face(operation.target)
        top = self._top(level)
        twin = top is not None and top[:2] == face[:2]
        if twin and (operation.once or self.plan.policies.push_of_a_twin == "nothing"):
            return (_here_already(face),)
        return (small.Put(level, face, self.tables.timers[face.screen]),)

    def replace(self, operation: operations.Replace, level: int) -> Decision:
        face = self._new_face(operation.target)
        kind = small.Put if self._top(level) is None else small.Swap
        return (kind(level, face, self.tables.timers[face.screen]),)

    def pop(self, operation: operations.Pop, level: int) -> Decision:
        if level < len(self.head.path) and not self.head.path[level].lowest:
            if operation.rungs == 1:
                return (small.Drop(level),)
            rest = operations.Pop(operation.rungs - 1, operation.otherwise)
            return small.Drop(level), small.Then(small.Do(rest, level))
        if operation.otherwise is not None:
            return (small.Then(small.Do(operation.otherwise, level)),)
        match self.plan.policies.pop_at_root:
            case "finding":
                return (small.Say(Finding("pop at the root", "a pop found no rung to go to and did nothing")),)
            case "nothing":
                return (small.Say(Nothing("a pop at the root does nothing")),)
            case "leave":
                return (small.GoOut("by a pop at the root"),)

    def pop_to(self, operation: operations.PopTo, level: int) -> Decision:
        target = operations.Target(operation.target.screen, operation.target.arguments)
        arguments = _fixed(target)
        if self.ask(small.IsThere(level, target.screen, arguments)):
            return (small.DropTo(level, target.screen, arguments, operation.drop),)
        if operation.otherwise is not None:
            return (small.Then(small.Do(operation.otherwise, level)),)
        words = f"{target.screen} is not on the ladder, so the whole move was undone"
        return (small.Undo(Finding("nothing to pop to", words)),)

    def pop_to_root(self, _operation: operations.PopToRoot, level: int) -> Decision:
        top = self.head.path[level] if level < len(self.head.path) else None
        if top is not None and top.lowest:
            return (small.Say(Nothing(f"{face_words(top.face)} is the lowest already")),)
        return (small.DropToLowest(level),)

    def clear(self, _operation: operations.Clear, level: int) -> Decision:
        return (small.DropAll(level),)

    def reach(self, operation: operations.Reach, level: int) -> Decision:
        face = self._new_face(operation.target)
        top = self._top(level)
        if top is not None and top[:2] == face[:2]:
            return (_here_already(face),)
        wanted = face.arguments if operation.exactly else ()
        if self.ask(small.IsThere(level, face.screen, wanted)):
            down = small.DropTo(level, face.screen, wanted, drop=False)
            return down, small.HandTop(level, face.arguments)
        return (small.Put(level, face, self.tables.timers[face.screen]),)

    def set_fact(self, operation: operations.SetFact, _level: int) -> Decision:
        place = self.plan.place_of_fact[operation.name]
        return (small.SetTo(place, operation.name, operation.value),)

    def set_own(self, operation: operations.SetOwn, _level: int) -> Decision:
        return (small.SetOwnTo(operation.name, operation.value),)

    def leave(self, _operation: operations.Leave, _level: int) -> Decision:
        return (small.GoOut("by its own code"),)

    def _new_face(self, target: operations.Target) -> Face:
        return self.tables.face(target.screen, _fixed(target))


def anywhere_moves(plan: Plan, screen: str, tap: str) -> Iterator[Move]:
    """Go through the moves that stand anywhere and are for this screen and tap."""
    for move in plan.anywhere:
        if isinstance(move.trigger, operations.TapTrigger) and move.trigger.name == tap and for_screen(move, screen):
            yield move


def for_screen(move: Move, screen: str) -> bool:
    """Whether a move that stands anywhere is for this screen."""
    return (not move.only or screen in move.only) and screen not in move.but


def tap_names(plan: Plan, screens: Sequence[str]) -> Iterator[str]:
    """Go through the taps that a visible path of screens offers, innermost first, those of `anywhere` last."""
    moves = [move for screen in reversed(screens) for move in plan.screen[screen].moves]
    moves += [move for move in plan.anywhere if for_screen(move, screens[-1])]
    for move in moves:
        if isinstance(move.trigger, operations.TapTrigger):
            yield move.trigger.name


def _carries(move: Move, values: dict[str, Value]) -> bool:
    trigger = move.trigger
    return isinstance(trigger, operations.TapTrigger) and all(carried.name in values for carried in trigger.carries)


def _here_already(face: Face) -> small.Say:
    return small.Say(Nothing(f"{face_words(face)} is here already"))


def _fixed(target: operations.Target) -> values.Arguments:
    return tuple((name, value) for name, value in target.arguments if isinstance(value, (str, int)))


def _bound(operation: Operation, values: dict[str, Value]) -> Operation:
    if isinstance(operation, (operations.Push, operations.Replace, operations.Reach)):
        return replace(operation, target=filled(operation.target, values))
    if isinstance(operation, (operations.Pop, operations.PopTo)):
        otherwise = operation.otherwise and _bound(operation.otherwise, values)
        if isinstance(operation, operations.Pop):
            return replace(operation, otherwise=otherwise)
        return replace(operation, target=filled(operation.target, values), otherwise=otherwise)
    return operation


_DECIDERS: dict[type, Callable[[_Deciding, Any], Decision]] = {
    events.Launch: _Deciding.launch,
    events.Tap: _Deciding.tap,
    events.Back: _Deciding.back,
    events.HeaderBack: _Deciding.header_back,
    events.Home: _Deciding.home,
    events.Reopen: _Deciding.reopen,
    events.OutsideChange: _Deciding.outside_change,
    small.Do: _Deciding.do,
    small.Fire: _Deciding.fire,
}
_OPERATIONS: dict[type, Callable[[_Deciding, Any, int], Decision]] = {
    operations.Push: _Deciding.push,
    operations.Replace: _Deciding.replace,
    operations.Pop: _Deciding.pop,
    operations.PopTo: _Deciding.pop_to,
    operations.PopToRoot: _Deciding.pop_to_root,
    operations.Clear: _Deciding.clear,
    operations.Reach: _Deciding.reach,
    operations.SetFact: _Deciding.set_fact,
    operations.SetOwn: _Deciding.set_own,
    operations.Leave: _Deciding.leave,
}
