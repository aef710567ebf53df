"""Deciding an operation of a move: which small steps it is made of at this head, and which guards stand before it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from wise_ladder.ladder import small
from wise_ladder.ladder.asked import Asked, links_asked, redirect_words, why_not
from wise_ladder.ladder.happenings import Finding, LinkFollowed, Nothing, Redirected, UnknownAddress
from wise_ladder.ladder.matters import Do
from wise_ladder.ladder.tables import filled
from wise_ladder.ladder.words import face_words, named
from wise_ladder.plan import operations
from wise_ladder.plan.model import MOST_NESTED
from wise_ladder.plan.operations import Target

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.ladder.conditions import View
    from wise_ladder.ladder.guarding import Guards
    from wise_ladder.ladder.small import Build, Small
    from wise_ladder.ladder.state import Face
    from wise_ladder.ladder.tables import Tables
    from wise_ladder.plan.model import Redirect
    from wise_ladder.plan.operations import Operation

Steps = tuple[small.Small, ...]


class Operating:
    """One operation at a head, on the ladder of a level, perhaps with a cause that guards are asked about."""

    def __init__(self, view: View, tables: Tables, guards: Guards, due: Do) -> None:
        """Take the operation as it is due."""
        self.view, self.tables, self.guards = view, tables, guards
        self.plan, self.path, self.level, self.cause = view.plan, view.head.path, due.level, due.cause

    def _then(self, operation: Operation, level: int | None = None) -> small.Then:
        return small.Then(Do(operation, self.level if level is None else level, self.cause))

    def _top(self) -> Face | None:
        return self.path[self.level].face if self.level < len(self.path) else None

    def _guarded(self, steps: Steps, *, app: bool = False, keeps_holder: bool = False) -> Steps:
        """Ask the guards of what these steps leave; where one stands in the way, what it decides takes their place."""
        there = app or (self.level < len(self.path) if self.level else bool(self.path))
        if self.cause is None or not there:
            return steps
        met = self.guards.leaving(self.cause, 0 if app else self.level, app=app, keeps_holder=keeps_holder)
        return met if met is not None else (small.Pass(), *steps)

    # Puts

    def push(self, operation: operations.Push) -> Steps:
        build, before = self._redirected(operation.target)
        if (deep := self._too_deep(build)) is not None:
            return deep
        top = self._top()
        twin = top is not None and top.same_place(build.face)
        once = operation.once or self.plan.policies.push_of_a_twin == "nothing" or bool(before)
        if twin and once:
            said = (_here_already(build.face),)
            if operation.awaiting:
                words = f"nothing was put, so nobody gives {operation.awaiting}"
                return *before, *said, small.Say(Finding("awaits nothing", words))
            return *before, *said
        if self.cause is not None and (met := self.guards.covering(self.cause, self.level)) is not None:
            return met
        return *before, small.Put(self.level, build, operation.awaiting)

    def _too_deep(self, build: Build) -> Steps | None:
        if not build.inner or self.level < MOST_NESTED:
            return None
        words = f"{build.face.screen} would stand inside more than {MOST_NESTED} others; the whole move was undone"
        return (small.Undo(Finding("nested too deep", words)),)

    def replace(self, operation: operations.Replace) -> Steps:
        build, before = self._redirected(operation.target)
        if (deep := self._too_deep(build)) is not None:
            return deep
        if self._top() is None:
            return *before, small.Put(self.level, build)
        return self._guarded((*before, small.Swap(self.level, build)))

    def reach(self, operation: operations.Reach) -> Steps:
        build, before = self._redirected(operation.target)
        if (deep := self._too_deep(build)) is not None:
            return deep
        face, top = build.face, self._top()
        if top is not None and top.same_place(face):
            return *before, _here_already(face)
        wanted = face.arguments if operation.exactly else ()
        if not self.view.ask(small.IsThere(self.level, face.screen, wanted)):
            return *before, small.Put(self.level, build)
        hand = small.HandTop(self.level, face.arguments)
        if top is not None and top.screen == face.screen and not operation.exactly:
            return *before, hand
        return self._guarded((*before, small.DropTo(self.level, face.screen, wanted, drop=False), hand))

    def _redirected(self, target: Target, address: str = "") -> tuple[Build, Steps]:
        """Follow the redirects from a target to where it is sent, and say what of them is to be told and remembered."""
        met: set[tuple[str, Any]] = set()
        said: list[Small] = []
        wanted, remembers = target, False
        while (sent := self._sent(target)) is not None:
            key = (target.screen, target.arguments)
            if key in met:
                said.append(small.Say(Finding("redirects never end", f"{target.screen} was sent on and came round again")))
                break
            met.add(key)
            said.append(small.Say(Redirected(target.screen, sent.target.screen)))
            remembers = remembers or sent.remember
            target = sent.target
        if remembers:
            said.append(small.Want(self.tables.build(wanted).face, address))
        return self.tables.build(target, redirected=remembers), tuple(said)

    def readmit(self, _operation: operations.Readmit) -> Steps:
        """Send a ladder that comes back through the redirects, its top alone; where one is met, its screen stands alone."""
        face = self.path[-1].face
        build, before = self._redirected(Target(face.screen, face.arguments))
        return (*before, small.DropAll(0), small.Put(0, build)) if before else ()

    def follow(self, operation: operations.Follow) -> Steps:
        """Open an address: rebuild the ladder, or put the last of the build on the one that is seen."""
        found = self.tables.link_of(operation.address)
        if (heard := self.tables.asked) is not None:
            heard += links_asked(self.plan.links, found, operation.address)
        if found.link is None:
            return self._nowhere(operation.address, found.why)
        self.level = 0
        said = small.Say(LinkFollowed(operation.address))
        path = tuple(filled(target, found.values) for target in found.link.build)
        last = path[-1]
        if found.link.mode == "rebuild" or not self.path:
            build, before = self._redirected(last, address=operation.address)
            rungs = (build,) if before else self.tables.path_built(path)
            return (said, *before, *self._guarded(self._rebuilt(rungs)))
        level = len(self.path) - 1
        put = operations.Push(last) if found.link.mode == "on top" else operations.Reach(last)
        return said, self._then(put, level)

    def _rebuilt(self, rungs: tuple[Build, ...]) -> Steps:
        puts = (small.Put(0, rung) for rung in rungs)
        return (small.DropAll(0), *puts) if self.path else tuple(puts)

    def _nowhere(self, address: str, why: str) -> Steps:
        said = small.Say(UnknownAddress(address, why))
        target = self.plan.unknown
        if target is None:
            return (said,)
        return said, self._then(operations.Push(filled(target, {"address": address})), max(len(self.path) - 1, 0))

    def call(self, operation: operations.StartCall) -> Steps:
        again = self.plan.call[operation.call].again
        under_way = operation.call in self.view.head.calling
        if under_way and again == "ignore":
            return (small.Say(Nothing(f"{operation.call} is under way already")),)
        return (small.MakeCall(operation.call, again=under_way and again == "restart"),)

    def cancel(self, operation: operations.CancelCall) -> Steps:
        if operation.call not in self.view.head.calling:
            return (small.Say(Nothing(f"{operation.call} is not under way")),)
        return (small.DropCalls(operation.call),)

    def _sent(self, target: Target) -> Redirect | None:
        names = self.plan.opens_on(target.screen)
        heard = self.tables.asked
        for redirect in self.plan.redirects:
            passes = self._lets_put(redirect, names)
            if heard is not None:
                heard.append(Asked("redirect", redirect_words(redirect), "passed" if passes else "took it", passes, redirect))
            if not passes:
                return redirect
        return None

    def _lets_put(self, redirect: Redirect, names: list[str]) -> str:
        """Say why a redirect does not turn a put of these screens away; nothing where it does."""
        if not any((not redirect.only or name in redirect.only) and name not in redirect.but for name in names):
            return f"it is not for {names[0]}"
        if redirect.target.screen in names:
            return f"{names[0]} is where it sends to"
        return why_not(self.view, redirect.condition)

    # Drops

    def pop(self, operation: operations.Pop) -> Steps:
        if (closing := self._closes_instead()) is not None:
            return closing
        if self.level < len(self.path) and not self.path[self.level].lowest:
            more = (self._then(operations.Pop(operation.rungs - 1, operation.otherwise)),) if operation.rungs > 1 else ()
            return self._guarded((small.Drop(self.level), *more))
        if operation.otherwise is not None:
            return (self._then(operation.otherwise),)
        if self._in_flow():
            return (self._then(operation, self.level - 1),)
        return self._at_root()

    def _in_flow(self) -> bool:
        return self.level > 0 and not self.plan.screen[self.path[self.level - 1].face.screen].tabs

    def _at_root(self) -> Steps:
        match self.plan.policies.pop_at_root:
            case "finding":
                return (small.Say(Finding("pop at the root", "a pop found no rung to go to and did nothing")),)
            case "nothing":
                return (small.Say(Nothing("a pop at the root does nothing")),)
            case "leave":
                return self._guarded((small.GoOut("by a pop at the root"),), app=True)

    def _closes_instead(self) -> Steps | None:
        if self.plan.policies.pop_meets_overlay != "closes instead":
            return None
        for overlay, place in reversed(self.view.head.layers):
            if place >= self.level and self.plan.overlay[overlay].modal:
                return (self._then(operations.Close(overlay=overlay)),)
        return None

    def pop_to(self, operation: operations.PopTo) -> Steps:
        arguments = operation.target.fixed
        screen, top = operation.target.screen, self._top()
        if self.view.ask(small.IsThere(self.level, screen, arguments)):
            down = (small.DropTo(self.level, screen, arguments, operation.drop),)
            there = top is not None and top.screen == screen and all(argument in top.arguments for argument in arguments)
            return down if there and not operation.drop else self._guarded(down)
        if operation.otherwise is not None:
            return (self._then(operation.otherwise),)
        words = f"{screen} is not on the ladder, so the whole move was undone"
        return (small.Undo(Finding("nothing to pop to", words)),)

    def pop_to_root(self, _operation: operations.PopToRoot) -> Steps:
        if self.level < len(self.path) and self.path[self.level].lowest:
            return (small.Say(Nothing(f"{face_words(self.path[self.level].face)} is the lowest already")),)
        return self._guarded((small.DropToLowest(self.level),))

    def clear(self, _operation: operations.Clear) -> Steps:
        return self._guarded((small.DropAll(self.level),))

    def give(self, operation: operations.Return) -> Steps:
        level = self.level
        if operation.flow:
            place = self._place_of(operation.flow)
            if place is None:
                return (small.Undo(Finding("no such flow here", f"{operation.flow} is not around this place")),)
            level = place
        while level < len(self.path) and self.path[level].lowest and level > 0:
            if self.plan.screen[self.path[level - 1].face.screen].tabs:
                break
            level -= 1
        if level >= len(self.path) or self.path[level].lowest:
            return self._at_root()
        self.level = level
        return self._guarded((small.Drop(level, operation.value),))

    def close_flow(self, operation: operations.CloseFlow) -> Steps:
        place = self._place_of(operation.flow)
        if place is None:
            return (small.Undo(Finding("no such flow here", f"{operation.flow} is not around this place")),)
        self.level = place
        return self._guarded((small.Drop(place),))

    def _place_of(self, flow: str) -> int | None:
        return next((place for place in reversed(range(len(self.path))) if self.path[place].face.screen == flow), None)

    # Overlays

    def open(self, operation: operations.Open) -> Steps:
        overlay = self.plan.overlay[operation.overlay]
        place: int | None = len(self.path) - 1
        if overlay.of == "app":
            place = -1
        elif overlay.of:
            place = self._place_of(overlay.of)
        if place is None or not self.path:
            return (small.Say(Finding("nowhere to open", f"{overlay.name} belongs to {overlay.of}, which is not here")),)
        if any(name == overlay.name for name, _ in self.view.head.layers):
            return (small.Say(Nothing(f"{named(overlay.name)} is open already")),)
        return (small.Lay(overlay.name, place, overlay.time, operation.awaiting),)

    def close(self, operation: operations.Close) -> Steps:
        layers = [(name, place) for name, place in self.view.head.layers if not operation.overlay or name == operation.overlay]
        modal = [(name, place) for name, place in layers if self.plan.overlay[name].modal or operation.overlay]
        if not modal:
            return (small.Say(Nothing("no overlay is open")),)
        name, place = modal[-1]
        lift = small.Lift(name, operation.value or None)
        if self.cause is not None and (met := self.guards.closing(self.cause, name, place)) is not None:
            return met
        return small.Pass(), lift

    # Tabs, wanted place, facts

    def switch(self, operation: operations.Switch) -> Steps:
        for place in reversed(range(min(self.level + 1, len(self.path)))):
            face = self.path[place].face
            tabs = [tab for tab, _ in self.plan.screen[face.screen].inside]
            if operation.tab in tabs:
                return self._switched(operation, place, tabs.index(operation.tab), face)
        return (small.Undo(Finding("no such tab here", f"{operation.tab} is no tab around this place")),)

    def _switched(self, operation: operations.Switch, place: int, tab: int, face: Face) -> Steps:
        first = self.tables.build(filled(self.plan.screen[face.screen].inside[tab][1], dict(face.arguments)))
        front = small.Front(place, tab, operation.tab, first, operation.to_root, operation.going_back)
        if tab == face.used[-1]:
            if not operation.to_root:
                return (small.Say(Nothing(f"{operation.tab} is in front already")),)
            self.level = place + 1
            return self._guarded((front,))
        self.level = place
        return self._guarded((front,), keeps_holder=True)

    def remember(self, _operation: operations.Remember) -> Steps:
        return (small.Want(self.path[-1].face),) if self.path else ()

    def go_to_wanted(self, operation: operations.GoToWanted) -> Steps:
        wanted = self.view.head.wanted
        if wanted is None:
            if operation.otherwise is not None:
                return (self._then(operation.otherwise),)
            return (small.Say(Nothing("there is no wanted place")),)
        if wanted.address:
            return small.Forget("it is used now"), self._then(operations.Follow(wanted.address))
        return small.Forget("it is used now"), self._then(operations.Replace(Target(wanted.screen, wanted.arguments)))

    def set_fact(self, operation: operations.SetFact) -> Steps:
        return (small.SetTo(self.plan.place_of_fact[operation.name], operation.name, operation.value),)

    def set_own(self, operation: operations.SetOwn) -> Steps:
        return (small.SetOwnTo(operation.name, operation.value),)

    # Out of the app, and elsewhere

    def leave(self, _operation: operations.Leave) -> Steps:
        return self._guarded((small.GoOut("by its own code"),), app=True)

    def leaving(self, operation: operations.Leaving) -> Steps:
        return self._guarded((small.GoAway(by_back=True) if operation.away else small.GoOut("by Back"),), app=True)

    def elsewhere(self, operation: operations.On) -> Steps:
        if operation.place == "app":
            return (self._then(operation.operation, 0),)
        place = self._place_of(operation.place)
        if place is None:
            return (small.Undo(Finding("no such flow here", f"{operation.place} is not around this place")),)
        return (self._then(operation.operation, place + 1),)


def _here_already(face: Face) -> small.Say:
    return small.Say(Nothing(f"{face_words(face)} is here already"))


OPERATIONS: dict[type, Callable[[Operating, Any], Steps]] = {
    operations.Push: Operating.push,
    operations.Replace: Operating.replace,
    operations.Reach: Operating.reach,
    operations.Pop: Operating.pop,
    operations.PopTo: Operating.pop_to,
    operations.PopToRoot: Operating.pop_to_root,
    operations.Clear: Operating.clear,
    operations.Return: Operating.give,
    operations.CloseFlow: Operating.close_flow,
    operations.Open: Operating.open,
    operations.Close: Operating.close,
    operations.Switch: Operating.switch,
    operations.Remember: Operating.remember,
    operations.GoToWanted: Operating.go_to_wanted,
    operations.SetFact: Operating.set_fact,
    operations.SetOwn: Operating.set_own,
    operations.Leave: Operating.leave,
    operations.Leaving: Operating.leaving,
    operations.StartCall: Operating.call,
    operations.CancelCall: Operating.cancel,
    operations.Follow: Operating.follow,
    operations.Readmit: Operating.readmit,
    operations.On: Operating.elsewhere,
}
