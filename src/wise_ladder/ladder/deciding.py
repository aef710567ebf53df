"""The first half of a step: deciding, at the head and nowhere else.

`decide` answers an event, or what follows from one, with small steps. It sees the head only. What lies beneath it can ask
for, by raising a question; `step` looks the answer up and asks again with it. So each decision is a function of the plan, the
matter, the head and the answers, and is made once.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from msgspec.structs import replace

from wise_ladder.ladder import matters, small, starting
from wise_ladder.ladder.asked import Asked, chosen, move_words, why_not
from wise_ladder.ladder.conditions import Beneath, View
from wise_ladder.ladder.guarding import Guards
from wise_ladder.ladder.happenings import Finding, LeftUnasked, Nothing, ReplyDropped
from wise_ladder.ladder.matters import Cause, Do
from wise_ladder.ladder.operating import OPERATIONS, Operating
from wise_ladder.ladder.state import Phase
from wise_ladder.ladder.tables import filled, tables
from wise_ladder.ladder.words import face_words, named, screen_words
from wise_ladder.plan import events, operations
from wise_ladder.plan.addresses import filled_in

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable, Iterator, Sequence

    from wise_ladder.ladder.asked import Kind, Thing, Verdict
    from wise_ladder.ladder.matters import Matter
    from wise_ladder.ladder.small import Decision, Known, Small
    from wise_ladder.ladder.state import Head
    from wise_ladder.plan.model import GuardId, Move, OnBack, Plan, Way
    from wise_ladder.plan.operations import Operation
    from wise_ladder.plan.values import Value

__all__ = ["Beneath", "decide", "for_screen", "taps_offered"]


def decide(plan: Plan, head: Head, matter: Matter, passed: tuple[GuardId, ...] = (), known: Known = ()) -> Decision:
    """Return the small steps that answer a matter at this head, or a refusal; `passed` are guards not to be asked again.

    Raises Beneath where the answer hangs on what lies beneath and `known` does not hold it yet.
    """
    return _DECIDERS[type(matter)](Deciding(plan, head, known, passed), matter)


class Deciding:
    """One decision: the head and the answers at hand."""

    def __init__(self, plan: Plan, head: Head, known: Known, passed: tuple[GuardId, ...]) -> None:
        self.plan, self.head, self.passed = plan, head, passed
        self.view, self.tables = View(plan, head, known), tables(plan)
        self.guards = Guards(self.view, self.tables)

    def cause(self, way: Way, taken_by: str = "") -> Cause:
        return Cause(way, self.passed, taken_by)

    def hear(self, kind: Kind, name: str, verdict: Verdict, because: str = "", thing: Thing | None = None) -> None:
        """Note who was asked, where somebody listens."""
        if self.tables.asked is not None:
            self.tables.asked.append(Asked(kind, name, verdict, because, thing))

    def _chosen(self, moves: Iterable[Move], view: View) -> Move | None:
        return chosen(self.tables.asked, moves, view)

    def not_open(self) -> small.Refusal | None:
        if self.head.phase is Phase.OUTSIDE:
            return small.Refusal(f"{self.plan.app} does not run: launch it first")
        if self.head.phase is Phase.AWAY:
            return small.Refusal(f"{self.plan.app} is in the background: reopen it first")
        if self.head.phase is Phase.KILLED:
            return small.Refusal(f"{self.plan.app} was ended by the phone: reopen it first")
        return None

    def _not_seen(self) -> small.Refusal | None:
        """Why what is on the screen cannot be touched."""
        if refusal := self.not_open():
            return refusal
        return small.Refusal("the cover is still up") if self.head.cover else None

    def _asking(self) -> small.Refusal | None:
        if self.head.question is None:
            return None
        guard = self.plan.guard[self.head.question]
        answers = ", ".join(answer.name for answer in guard.answers)
        return small.Refusal(f'"{guard.name}" asks first; answers: {answers}')

    def _covered(self) -> tuple[str, int] | None:
        """The overlay that takes what is tapped: of those that do, the one opened last."""
        for name, place in reversed(self.head.layers):
            if self.plan.overlay[name].modal:
                return name, place
        return None

    # Back, arrow, answers

    def back(self, event: events.Back) -> Decision:
        if refusal := self.not_open():
            return refusal
        if self.plan.policies.system_back == "no":
            return small.Refusal("this phone has no Back of its own")
        if self.head.cover:
            return (small.GoOut("by Back"),)
        if self.head.question is not None:
            return self.answered(self.plan.guard[self.head.question].answers[0].name)
        cause = self.cause("system", event.taken_by)
        if found := self.guards.first_in_line(cause):
            return found
        for name, place in reversed(self.head.layers):
            back = self.plan.overlay[name].back
            self.hear("overlay", name, *_OVERLAY_SAYS[back])
            if back == "blocked":
                return (small.Say(Nothing(f"{named(name)} does not let Back through")),)
            if back == "closes":
                return (small.Then(Do(operations.Close(overlay=name), max(place, 0), cause)),)
        return self._goal(cause)

    def _goal(self, cause: Cause) -> tuple[Small, ...]:
        """Go inside out: the first ladder with more than one rung pops, tabs may go to another tab, then outwards."""
        path = self.head.path
        for level in reversed(range(len(path))):
            if not path[level].lowest:
                self.hear("ladder", face_words(path[level].face), "took it", "something lies beneath it")
                return (small.Then(Do(operations.Pop(), level, cause)),)
            self.hear("ladder", face_words(path[level].face), "passed", "it is the lowest of its ladder")
            if level and (tab := self._tab_back(level - 1)) is not None:
                self.hear("ladder", path[level - 1].face.screen, "took it", f"Back goes to the tab {tab} first")
                return (small.Then(Do(operations.Switch(tab, going_back=True), level, cause)),)
        self.hear("ladder", "the phone", "took it", f"at the root Back is to {self.plan.policies.back_at_root}")
        match self.plan.policies.back_at_root:
            case "leave":
                return (small.Then(Do(operations.Leaving(), 0, cause)),)
            case "away":
                return (small.Then(Do(operations.Leaving(away=True), 0, cause)),)
            case "stay":
                return (small.Say(Nothing("Back at the root does nothing on this phone")),)

    def _tab_back(self, place: int) -> str | None:
        face = self.head.path[place].face
        screen = self.plan.screen[face.screen]
        policy = self.plan.policies.tab_back
        if not screen.tabs or policy == "outwards":
            return None
        if policy == "last used":
            return screen.inside[face.used[-2]][0] if len(face.used) > 1 else None
        return screen.inside[0][0] if face.used[-1] != 0 else None

    def header_back(self, _event: events.HeaderBack) -> Decision:
        if refusal := self._not_seen() or self._asking():
            return refusal
        if (covered := self._covered()) is not None:
            return small.Refusal(f"{named(covered[0])} lies over the header")
        level = len(self.head.path) - 1
        screen = self.plan.screen[self.head.path[level].face.screen]
        cause = self.cause("header")
        if screen.header == "menu":
            if not screen.menu:
                return small.Refusal("the header has a menu here that opens nothing")
            return (small.Then(Do(operations.Open(screen.menu), level, cause)),)
        if screen.header == "none":
            return small.Refusal("the header is empty here")
        view = self.view.at(level)
        for arrow in screen.arrow:
            why = why_not(view, arrow.condition)
            self.hear("arrow", f"the arrow of {screen.name} to {arrow.target.screen}", "passed" if why else "took it", why)
            if not why:
                return self._arrow(filled(arrow.target, view.values), level, cause, fresh=arrow.fresh)
        for out in reversed(range(level + 1)):
            if not self.head.path[out].lowest:
                return (small.Then(Do(operations.Pop(), out, cause)),)
            if out and self.plan.screen[self.head.path[out - 1].face.screen].tabs:
                break
        return small.Refusal("there is no arrow: nothing lies beneath")

    def _arrow(self, target: operations.Target, level: int, cause: Cause, *, fresh: bool) -> tuple[Small, ...]:
        there = self.view.ask(small.IsThere(level, target.screen, self.tables.build(target).face.arguments))
        put = small.Then(Do(operations.Replace(target), level, cause))
        if not there:
            return (put,)
        down = small.Then(Do(operations.PopTo(target), level, cause))
        return (down, put) if fresh else (down,)

    def answer(self, event: events.Answer) -> Decision:
        if refusal := self.not_open():
            return refusal
        if self.head.question is None:
            return small.Refusal("nothing is asked")
        return self.answered(event.name)

    def answered(self, name: str) -> Decision:
        assert self.head.question is not None  # noqa: S101 - both who call have looked
        guard = self.plan.guard[self.head.question]
        for answer in guard.answers:
            if answer.name == name:
                level = max(len(self.head.path) - 1, 0) if answer.operations else 0
                dos = (small.Then(Do(done, level)) for done in answer.operations)
                end = () if answer.stays else (small.GoOn(),)
                return small.AnswerQuestion(guard.name, name), *dos, *end
        there = ", ".join(answer.name for answer in guard.answers)
        return small.Refusal(f'"{guard.name}" has no answer "{name}"; answers: {there}')

    # Taps

    def tap(self, event: events.Tap) -> Decision:
        if refusal := self._not_seen() or self._asking():
            return refusal
        values = dict(event.arguments)
        offered, heard = False, self.tables.asked
        rest = self._tap_moves(event.name, values)
        for move, place, view, way in rest:
            offered = True
            if not _carries(move, values):
                self.hear("move", move_words(move), "passed", "it carries something else", move)
            elif chosen(heard, (move,), view) is not None:
                if heard is not None:
                    heard += (Asked("move", move_words(later), "not asked", thing=later) for later, *_ in rest)
                return self._taken(move, view.values, self._level(move, place), place, self.cause(way))
        return self._no_tap(event, offered=offered)

    def _tap_moves(self, tap: str, values: dict[str, Value]) -> Iterator[tuple[Move, int, View, Way]]:
        """Go through the moves of a tap from the innermost place outwards: move, place, what it sees, which way it is."""
        if (covered := self._covered()) is not None:
            name, place = covered
            way: Way = "in-app" if place == len(self.head.path) - 1 else "aside"
            view = self.view.of((), values, max(place, 0), lowest=False)
            yield from ((move, place, view, way) for move in self.tables.taps.get((name, tap), ()))
            return
        path = self.head.path
        for place in reversed(range(len(path))):
            found = self.tables.taps.get((path[place].face.screen, tap))
            if found:
                view = self.view.at(place, values)
                way = "in-app" if place == len(path) - 1 else "aside"
                yield from ((move, place, view, way) for move in found)
        seen = path[-1].face.screen
        view = self.view.of((), values, 0, lowest=path[0].lowest)
        yield from ((move, -1, view, "aside") for move in self.tables.taps.get((None, tap), ()) if for_screen(move, seen))

    def _level(self, move: Move, place: int) -> int:
        """The ladder a move acts on: of a screen or overlay its rung's, of a flow or tabs the one inside."""
        if place < 0:
            return 0
        screen = self.plan.screen.get(move.where or "")
        return place + 1 if screen is not None and screen.inside else place

    def _no_tap(self, event: events.Tap, *, offered: bool) -> Decision:
        covered = self._covered()
        seen = named(covered[0]) if covered else face_words(self.head.path[-1].face)
        if offered:
            return small.Refusal(f'"{event.name}" does nothing on {seen} as things stand')
        there = ", ".join(dict.fromkeys(trigger.name for _, trigger in taps_offered(self.plan, self.head))) or "none"
        return small.Refusal(f'{seen} has no tap "{event.name}"; taps here: {there}')

    def _taken(
        self, move: Move, values: dict[str, Value], level: int, place: int | None, cause: Cause | None
    ) -> tuple[Small, ...]:
        dos = (small.Then(Do(_bound(operation, values), level, cause)) for operation in move.operations)
        return small.Take(move, place if place is not None and place >= 0 else None), *dos

    # Timers, and what follows from a move

    def due(self, due: matters.Due) -> Decision:
        """A timer is due, or a call was answered: the place that began it reacts."""
        timer = due.trigger if isinstance(due.trigger, operations.TimerTrigger) else None
        moves = self.tables.due.get((due.where, due.trigger), ())
        if due.gone and timer is None:
            return self._answer_for_nobody(due, bool(moves))
        values = dict(due.arguments)
        view = self.view.of(due.own, values, due.level, lowest=due.lowest)
        seen = self.head.path[-1].face.screen if self.head.path else ""
        whose = screen_words(due.screen, due.arguments) or self.plan.app
        move = self._chosen((move for move in moves if due.where is not None or for_screen(move, seen)), view)
        if move is not None:
            steps = self._taken(move, values, self._inside(due.where, due.level), None, self.cause("by itself"))
            if all(isinstance(done, _QUIET) for done in move.operations):
                return steps
            if self.head.phase is Phase.OUTSIDE:
                return self._after_leaving(move, steps, whose)
            if due.hidden:
                what = "the timer" if timer else "a reply"
                said = f"{what} of {whose} acted " + ("after it had gone" if due.gone else "while another screen was seen")
                return (*steps, small.Say(Finding("acted while hidden", said)))
            return steps
        return (small.Say(Nothing(f"no move of {whose} wants it now")),)

    def _answer_for_nobody(self, due: matters.Due, wanted: bool) -> tuple[Small, ...]:
        assert isinstance(due.trigger, operations.ReplyTrigger)  # noqa: S101
        call, outcome = due.trigger.call, due.trigger.outcome
        if not wanted:
            return (small.Say(ReplyDropped(call, outcome)),)
        words = f"{call} gave {outcome} to {screen_words(due.screen, due.arguments)}, which is gone"
        return (small.Say(Finding("reply to a gone screen", words)),)

    def _after_leaving(self, move: Move, steps: tuple[Small, ...], whose: str) -> tuple[Small, ...]:
        """What runs whatever happens puts something although the app was left: it jumps to the front."""
        said = small.Say(Finding("acted after leaving", f"the timer of {whose} acted after the app was left"))
        puts = (operations.Push, operations.Replace, operations.Reach)
        if any(isinstance(done, puts) for done in move.operations):
            return small.ComeBack(launched=False), *steps, said
        return (said,)

    def world(self, due: matters.World) -> Decision:
        """The world did something, and a place of the visible path reacts, or the app itself."""
        if due.place >= 0:
            return self._first(self.tables.due.get((self.head.path[due.place].face.screen, due.what), ()), due.place, {})
        moves = self.tables.due.get((None, due.what), ())
        seen = self.head.path[-1].face.screen if self.head.path and any(move.only or move.but for move in moves) else ""
        move = self._chosen((move for move in moves if for_screen(move, seen)), self.view)
        return () if move is None else self._taken(move, {}, 0, None, self.cause("by itself"))

    def _inside(self, where: str | None, level: int) -> int:
        screen = self.plan.screen.get(where or "")
        return level + 1 if screen is not None and screen.inside else level

    def gone(self, due: matters.Gone) -> Decision:
        return (small.Lift(due.overlay, by_itself=True),)

    def shown(self, due: matters.Shown) -> Decision:
        face = self.head.path[due.place].face
        return self._first(self.tables.shown.get((face.screen, due.first), ()), due.place, {})

    def delivered(self, due: matters.Delivered) -> Decision:
        face = self.head.path[due.place].face
        values: dict[str, Value] = {} if due.value is None else {due.name: due.value}
        moves = self.tables.results.get((face.screen, due.name, due.value is None), ())
        return small.Deliver(due.place, due.name, due.value), *self._first(moves, due.place, values)

    def turned(self, due: matters.Turned) -> Decision:
        if due.hidden:
            view = self.view.of(due.own, dict(due.arguments), max(due.place, 0), lowest=False)
            moves = (
                move
                for move in self.tables.turned.get((due.hidden, due.fact, due.value), ())
                if isinstance(move.trigger, operations.BecomesTrigger) and move.trigger.even_hidden
            )
            move = self._chosen(moves, view)
            return () if move is None else self._taken(move, view.values, view.level, None, self.cause("by itself"))
        if due.place >= 0:
            screen = self.head.path[due.place].face.screen
            return self._first(self.tables.turned.get((screen, due.fact, due.value), ()), due.place, {})
        seen = self.head.path[-1].face.screen if self.head.path else ""
        moves = (move for move in self.tables.turned.get((None, due.fact, due.value), ()) if for_screen(move, seen))
        move = self._chosen(moves, self.view)
        return () if move is None else self._taken(move, {}, 0, None, self.cause("by itself"))

    def left(self, due: matters.Left) -> Decision:
        values = dict(due.arguments)
        view = self.view.of(due.own, values, due.level, lowest=False)
        move = self._chosen(self.tables.left.get(due.screen, ()), view)
        return () if move is None else self._taken(move, values, due.level, None, self.cause("by itself"))

    def _first(self, moves: Iterable[Move], place: int, values: dict[str, Value]) -> tuple[Small, ...]:
        view = self.view.at(place, values)
        move = self._chosen(moves, view)
        if move is None:
            return ()
        return self._taken(move, view.values, self._level(move, place), place, self.cause("by itself"))

    def unasked(self, due: matters.Unasked) -> Decision:
        view = self.view.of(due.own, dict(due.arguments), 0, lowest=False)
        guards = (guard for guard in self.tables.guards[due.screen] if guard.id not in due.passed)
        return tuple(small.Say(LeftUnasked(guard.name, due.screen)) for guard in guards if view.holds(guard.condition))

    def emptied(self, _due: matters.Emptied) -> Decision:
        """A flow whose ladder is empty goes; a tab gets its first rung again."""
        place = len(self.head.path) - 1
        face = self.head.path[place].face
        screen = self.plan.screen[face.screen]
        if not screen.tabs:
            return (small.Drop(place),)
        target = filled(screen.inside[face.used[-1]][1], dict(face.arguments))
        return (small.Put(place + 1, self.tables.build(target)),)

    def arming(self, _due: matters.Arming) -> Decision:
        armed: list[tuple[GuardId, int]] = []
        for place in range(-1, len(self.head.path)):
            where = self.head.path[place].face.screen if place >= 0 else None
            guards = (guard for guard in self.tables.guards[where] if guard.first_in_line or guard.outlives)
            armed += [(guard.id, place) for guard in guards if self.guards.armed(guard, place)]
        return (small.Arm(tuple(armed)),)

    # Operations

    def do(self, due: Do) -> Decision:
        return OPERATIONS[type(due.operation)](Operating(self.view, self.tables, self.guards, due), due.operation)


_OVERLAY_SAYS: dict[OnBack, tuple[Verdict, str]] = {
    "closes": ("took it", "Back closes it"),
    "blocked": ("took it", "it does not let Back through"),
    "passes": ("passed", "it lets Back through"),
}
_QUIET = (operations.SetFact, operations.SetOwn, operations.StartCall, operations.CancelCall)
"""What can be done without anybody seeing it."""


def for_screen(move: Move, screen: str) -> bool:
    """Whether a move that stands anywhere is for this screen."""
    return (not move.only or screen in move.only) and screen not in move.but


def taps_offered(plan: Plan, head: Head) -> Iterator[tuple[Move, operations.TapTrigger]]:
    """Go through the moves that a tap can set off at a head: of an overlay that takes the taps, or innermost place first."""
    covering = [name for name, _ in head.layers if plan.overlay[name].modal]
    found: Sequence[Move]
    if covering:
        found = plan.overlay[covering[-1]].moves
    else:
        found = [move for spot in reversed(head.path) for move in plan.screen[spot.face.screen].moves]
        found += [move for move in plan.anywhere if for_screen(move, head.path[-1].face.screen)]
    for move in found:
        if isinstance(move.trigger, operations.TapTrigger):
            yield move, move.trigger


def _carries(move: Move, values: dict[str, Value]) -> bool:
    trigger = move.trigger
    return isinstance(trigger, operations.TapTrigger) and all(carried.name in values for carried in trigger.carries)


def _bound(operation: Operation, values: dict[str, Value]) -> Operation:
    if isinstance(operation, (operations.Push, operations.Replace, operations.Reach)):
        return replace(operation, target=filled(operation.target, values))
    if isinstance(operation, operations.On):
        return replace(operation, operation=_bound(operation.operation, values))
    if isinstance(operation, operations.Follow):
        return operations.Follow(filled_in(operation.address, values))
    if isinstance(operation, (operations.Pop, operations.PopTo, operations.GoToWanted)):
        otherwise = operation.otherwise and _bound(operation.otherwise, values)
        if isinstance(operation, operations.PopTo):
            return replace(operation, target=filled(operation.target, values), otherwise=otherwise)
        return replace(operation, otherwise=otherwise)
    return operation


_DECIDERS: dict[type, Callable[[Deciding, Any], Decision]] = {
    events.Launch: starting.launch,
    events.Tap: Deciding.tap,
    events.Back: Deciding.back,
    events.HeaderBack: Deciding.header_back,
    events.Answer: Deciding.answer,
    events.Home: starting.home,
    events.Reopen: starting.reopen,
    events.OutsideChange: starting.outside_change,
    events.Reply: starting.reply,
    events.Link: starting.link,
    events.SwipedAway: starting.swiped_away,
    events.Killed: starting.killed,
    events.LowMemory: starting.low_memory,
    matters.Do: Deciding.do,
    matters.Due: Deciding.due,
    matters.World: Deciding.world,
    matters.Begin: starting.begin,
    matters.Uncover: starting.uncover,
    matters.Gone: Deciding.gone,
    matters.Shown: Deciding.shown,
    matters.Delivered: Deciding.delivered,
    matters.Turned: Deciding.turned,
    matters.Left: Deciding.left,
    matters.Unasked: Deciding.unasked,
    matters.Emptied: Deciding.emptied,
    matters.Arming: Deciding.arming,
}
