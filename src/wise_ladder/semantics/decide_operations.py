"""Deciding an operation of a move: its effects at this head, and which guards stand before it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from wise_ladder.plan import operations
from wise_ladder.plan.model import MAX_NESTED
from wise_ladder.plan.operations import Target
from wise_ladder.semantics import effects, messages
from wise_ladder.semantics.log import Finding, LinkFollowed, NoEffect, UnknownAddress
from wise_ladder.semantics.opaque import OpaquePath
from wise_ladder.semantics.plan_index import filled
from wise_ladder.semantics.reasons import links_asked
from wise_ladder.semantics.redirects import Redirects
from wise_ladder.semantics.state import COVERED, VISIBLE
from wise_ladder.semantics.taps import bound
from wise_ladder.semantics.tasks import OperationTask
from wise_ladder.semantics.text import named, rung_text

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.plan.operations import Operation
    from wise_ladder.plan.values import Value
    from wise_ladder.semantics.conditions import EvalContext
    from wise_ladder.semantics.effects import RungSpec
    from wise_ladder.semantics.guards import GuardCheck
    from wise_ladder.semantics.plan_index import PlanIndex
    from wise_ladder.semantics.state import RungData

Steps = tuple[effects.Effect, ...]


class OperationDecider:
    """One operation at a head, on the ladder of a level, perhaps with a cause that guards are asked about."""

    def __init__(self, view: EvalContext, tables: PlanIndex, guards: GuardCheck, due: OperationTask) -> None:
        """Take the operation as it is due."""
        self.view, self.tables, self.guards = view, tables, guards
        self.plan, self.path, self.level, self.cause = view.plan, view.head.path, due.level, due.cause
        self.redirects = Redirects(view, tables)

    def _then(self, operation: Operation, level: int | None = None) -> effects.DecideNext:
        return effects.DecideNext(OperationTask(operation, self.level if level is None else level, self.cause), part=True)

    def _top(self) -> RungData | None:
        return self.path[self.level].data if self.level < len(self.path) else None

    def _guarded(self, steps: Steps, place: int | None = None, *, app: bool = False) -> Steps:
        """Ask the guards of all that these steps leave, from a place on; what one in the way decides is done instead."""
        place = 0 if app else self.level if place is None else place
        exists = app or (place < len(self.path) if place else bool(self.path))
        if self.cause is None or not exists:
            return steps
        met = self.guards.leaving(self.cause, place, app=app)
        return met.stopped if met.stopped is not None else (effects.GuardsPassed(met.passed, place), *steps)

    # Puts

    def push(self, operation: operations.Push) -> Steps:
        """Put a rung on top, unless it would stand on its twin and must not; redirects and watching guards come first."""
        target, before = self.redirects.resolve(operation.target)
        top = self._top()
        once = operation.once or self.plan.policies.push_of_a_twin == "nothing" or target.sent
        if top is not None and once and top.same_screen(target.build.data):
            stands = (effects.StandIn(self.level),) if target.remembers else ()
            steps = (*before, *stands, _already_here(target.build.data))
            if operation.awaiting:
                words = messages.AWAITS_NOTHING.format(result=operation.awaiting)
                return *steps, effects.AddEntry(Finding("awaits nothing", words))
            return steps
        if (deep := self._too_deep(target.build)) is not None:
            return deep
        before = (*before, *target.inside, *self._put(target.build, operation.awaiting))
        if self.cause is None:
            return before
        met = self.guards.covering(self.cause, self.level)
        passed = (effects.GuardsPassed(met.passed, len(self.path)),) if met.passed else ()
        return met.stopped if met.stopped is not None else (*passed, *before)

    def _put(self, build: RungSpec, awaiting: str = "", *, level: int | None = None) -> Steps:
        """Put a rung on top of a ladder, this one if none is named, and drop the oldest that are too many then."""
        level = self.level if level is None else level
        return effects.PushRung(level, build, awaiting), *self._bounded(level, build)

    def _bounded(self, level: int, build: RungSpec) -> Steps:
        most = self.plan.screen[build.data.screen].most
        inside = (rung for rungs in build.inner for rung in rungs)
        steps = () if most is None else (effects.DropOldest(level, build.data.screen, most),)
        return *steps, *(step for rung in inside for step in self._bounded(level + 1, rung))

    def _too_deep(self, build: RungSpec) -> Steps | None:
        if not build.inner or self.level < MAX_NESTED:
            return None
        words = messages.NESTED_TOO_DEEP.format(screen=build.data.screen, most=MAX_NESTED)
        return (effects.Rollback(Finding("nested too deep", words)),)

    def replace(self, operation: operations.Replace) -> Steps:
        """Take the top rung off and put another in its place; on an empty ladder, push."""
        target, before = self.redirects.resolve(operation.target)
        if (deep := self._too_deep(target.build)) is not None:
            return deep
        if self._top() is None:
            return *before, *target.inside, *self._put(target.build)
        put = (effects.ReplaceTop(self.level, target.build), *self._bounded(self.level, target.build))
        return self._guarded((*before, *target.inside, *put))

    def reach(self, operation: operations.Reach) -> Steps:
        """Go down to the nearest rung of the screen and hand it the arguments; push if there is none."""
        data, top = self.tables.data(operation.target), self._top()
        if top is not None and top.same_screen(data):
            return (_already_here(data),)
        wanted = data.arguments if operation.exactly else ()
        if not self.view.ask(effects.IsThere(self.level, data.screen, wanted)):
            return self.push(operations.Push(operation.target))
        hand = effects.SetTopArguments(self.level, data.arguments)
        if top is not None and top.screen == data.screen and not operation.exactly:
            return (hand,)
        return self._guarded((effects.PopDownTo(self.level, data.screen, wanted, drop=False), hand))

    def readmit(self, _operation: operations.RecheckRedirects) -> Steps:
        """Send a ladder that comes back through the redirects, only its top; if one applies, its target stands alone."""
        data = self.path[-1].data
        target, before = self.redirects.resolve(Target(data.screen, data.arguments))
        return (*before, *target.inside, effects.PopAll(0), effects.PushRung(0, target.build)) if target.sent else ()

    def follow(self, operation: operations.Follow) -> Steps:
        """Open an address: rebuild the ladder, or put the last of the build on the one that is seen."""
        if self._hidden():
            return (self._then(operation, 0),)
        match = self.tables.link_of(operation.address)
        if (heard := self.tables.asked) is not None:
            heard += links_asked(self.plan.links, match, operation.address)
        if match.link is None:
            return self._nowhere(operation.address, match.why)
        self.level = 0
        entry = effects.AddEntry(LinkFollowed(operation.address))
        path = tuple(filled(target, match.values) for target in match.link.build)
        if match.link.mode == "rebuild" or operation.whole or not self.path:
            last, before = self.redirects.resolve(path[-1], address=operation.address)
            rungs = (last.build,) if last.sent else self.tables.path_built(path, last.build)
            return (entry, *self._guarded((*before, *last.inside, *self._rebuilt(rungs))))
        put = operations.Reach(path[-1]) if match.link.mode == "reach" else operations.Push(path[-1])
        return entry, self._then(put, 0 if match.link.mode == "over all" else self._innermost())

    def _innermost(self) -> int:
        """Return the level of the innermost ladder of the path, which may be empty in the middle of a move."""
        inside = bool(self.path) and bool(self.plan.screen[self.path[-1].data.screen].inside)
        return len(self.path) if inside else max(len(self.path) - 1, 0)

    def _rebuilt(self, rungs: tuple[RungSpec, ...]) -> Steps:
        puts = (step for rung in rungs for step in self._put(rung, level=0))
        return (effects.PopAll(0), *puts) if self.path else tuple(puts)

    def _nowhere(self, address: str, why: str) -> Steps:
        entry = effects.AddEntry(UnknownAddress(address, why))
        target = self.plan.unknown_target
        if target is None:
            return (entry,)
        return entry, self._then(operations.Push(filled(target, {"address": address})), self._innermost())

    def call(self, operation: operations.StartCall) -> Steps:
        """Send a request, as its `again` says if one of its name is pending."""
        again = self.plan.call[operation.call].again
        under_way = operation.call in self.view.head.calling
        if under_way and again == "ignore":
            return (effects.AddEntry(NoEffect(messages.PENDING_ALREADY.format(call=operation.call))),)
        return (effects.MakeCall(operation.call, again=under_way and again == "restart"),)

    def cancel(self, operation: operations.CancelCall) -> Steps:
        """Give up all requests of a name."""
        if operation.call not in self.view.head.calling:
            return (effects.AddEntry(NoEffect(messages.NOT_PENDING.format(call=operation.call))),)
        return (effects.DropCalls(operation.call),)

    def start_timer(self, operation: operations.StartTimer) -> Steps:
        """Let a timer of the app begin."""
        return (effects.BeginTimer(operation.timer, self.plan.timer[operation.timer].after),)

    def stop_timer(self, operation: operations.StopTimer) -> Steps:
        """Stop a timer of the app."""
        if not self.view.ask(effects.TimerIsRunning(operation.timer)):
            return (effects.AddEntry(NoEffect(messages.TIMER_RUNS_NOT.format(timer=operation.timer))),)
        return (effects.EndTimer(operation.timer),)

    def _hidden(self) -> bool:
        """Whether the path is not the visible one."""
        return bool(self.path) and not isinstance(self.path, OpaquePath) and self.path[-1].stands != VISIBLE

    # Drops

    def pop(self, operation: operations.Pop) -> Steps:
        """Take the top rung off, so many times; at the lowest rung what the ladder or the policy says."""
        if (closing := self._closes_instead()) is not None:
            return closing
        if self.level < len(self.path) and not self.path[self.level].lowest:
            return self._guarded((effects.PopTop(self.level), *self._more(operation, self.level)))
        if operation.fallback is not None:
            return (self._then(operation.fallback),)
        if not self._in_flow():
            return self._at_root()
        if self.path[self.level - 1].stands == COVERED:
            return self._guarded((effects.PopTop(self.level - 1), *self._more(operation, self.level - 1)), self.level - 1)
        return (self._then(operation, self.level - 1),)

    def _more(self, operation: operations.Pop, level: int) -> Steps:
        more = operations.Pop(operation.rungs - 1, operation.fallback)
        return (self._then(more, level),) if operation.rungs > 1 else ()

    def _in_flow(self) -> bool:
        return self.level > 0 and not self.plan.screen[self.path[self.level - 1].data.screen].tabs

    def _at_root(self) -> Steps:
        match self.plan.policies.pop_at_root:
            case "finding":
                return (effects.AddEntry(Finding("pop at the root", messages.POP_FOUND_NOTHING)),)
            case "nothing":
                return (effects.AddEntry(NoEffect(messages.POP_DOES_NOTHING)),)
            case "leave":
                return (self._then(operations.LeaveByBack(cause="pop"), 0),)

    def _at_root_with(self, value: Value) -> Steps:
        """A return at the lowest rung: no rung can get the value."""
        entry = effects.AddEntry(Finding("nobody waits", messages.RESULT_NO_RUNG_BENEATH.format(value=value)))
        leaves = self.plan.policies.pop_at_root == "leave"
        return (entry, *self._at_root()) if leaves else (entry,)

    def _closes_instead(self) -> Steps | None:
        if self.plan.policies.pop_meets_overlay != "closes instead":
            return None
        for overlay, place in reversed(self.view.head.layers):
            if place >= self.level and self.plan.overlay[overlay].modal:
                return (self._then(operations.Close(overlay=overlay)),)
        return None

    def pop_to(self, operation: operations.PopTo) -> Steps:
        """Drop what is above the nearest rung of the screen, and that one too if asked; undo the move if there is none."""
        arguments = operation.target.fixed
        screen, top = operation.target.screen, self._top()
        if self.view.ask(effects.IsThere(self.level, screen, arguments)):
            down = (effects.PopDownTo(self.level, screen, arguments, operation.drop),)
            on_top = top is not None and top.screen == screen and all(argument in top.arguments for argument in arguments)
            return down if on_top and not operation.drop else self._guarded(down)
        if operation.fallback is not None:
            return (self._then(operation.fallback),)
        words = messages.NOTHING_TO_POP_TO.format(screen=screen)
        return (effects.Rollback(Finding("nothing to pop to", words)),)

    def pop_to_root(self, _operation: operations.PopToRoot) -> Steps:
        """Drop every rung but the lowest."""
        if self.level < len(self.path) and self.path[self.level].lowest:
            return (effects.AddEntry(NoEffect(messages.LOWEST_ALREADY.format(rung=rung_text(self.path[self.level].data)))),)
        return self._guarded((effects.PopToLowest(self.level),))

    def clear(self, _operation: operations.Clear) -> Steps:
        """Drop every rung of the ladder."""
        return self._guarded((effects.PopAll(self.level),))

    def return_value(self, operation: operations.Return) -> Steps:
        """Pop, and hand a value to the rung that is uncovered."""
        level, value = self.level, bound(operation.value)
        if operation.flow:
            place = self._place_of(operation.flow)
            if place is None:
                return (effects.Rollback(Finding("no such flow here", messages.NOT_INSIDE_FLOW.format(flow=operation.flow))),)
            if self._seen_from_elsewhere(place):
                # Of that very flow, though another of its name may be seen inside.
                return (self._then(operations.Return(value), place),)
            level = place
        while level < len(self.path) and level > 0 and self._alone(level):
            if self.plan.screen[self.path[level - 1].data.screen].tabs:
                break
            level -= 1
        if level >= len(self.path) or self._alone(level):
            return self._at_root_with(value)
        return self._guarded((effects.PopTop(level, value),), level)

    def _alone(self, place: int) -> bool:
        """Whether the rung of a place stands alone on its ladder."""
        return self.path[place].lowest and self.path[place].stands != COVERED

    def _seen_from_elsewhere(self, place: int) -> bool:
        """Whether a place is visible, but what is seen inside it is not what the path goes through."""
        return self.path[place].stands == VISIBLE and self._hidden()

    def close_flow(self, operation: operations.CloseFlow) -> Steps:
        """Take off the rung of the nearest flow of a name, with all inside."""
        place = self._place_of(operation.flow) if operation.flow else self.level
        if place is None:
            return (effects.Rollback(Finding("no such flow here", messages.NOT_INSIDE_FLOW.format(flow=operation.flow))),)
        if self._seen_from_elsewhere(place):
            return (self._then(operations.CloseFlow(""), place),)
        return self._guarded((effects.PopTop(place),), place)

    def fill_empty(self, _operation: operations.FillEmpty) -> Steps:
        """A flow whose ladder is empty goes; a tab gets its first rung again; without a rung the app is left."""
        if self.level == 0:
            return self._guarded((effects.ExitApp("empty"),), app=True)
        spot = self.path[self.level - 1]
        screen = self.plan.screen[spot.data.screen]
        if not screen.tabs:
            return self._guarded((effects.PopTop(self.level - 1),), self.level - 1)
        first, before = self.redirects.resolve(filled(screen.inside[spot.inside][1], dict(spot.data.arguments)))
        return *before, *first.inside, effects.PushRung(self.level, first.build)

    def _place_of(self, flow: str) -> int | None:
        return next((place for place in reversed(range(len(self.path))) if self.path[place].data.screen == flow), None)

    # Overlays

    def open(self, operation: operations.Open) -> Steps:
        """Open an overlay over the nearest place that it belongs to."""
        overlay = self.plan.overlay[operation.overlay]
        place: int | None = len(self.path) - 1
        if overlay.of == "app":
            place = -1
        elif overlay.of:
            place = self._place_of(overlay.of)
        if place is None or not self.path:
            words = messages.NOWHERE_TO_OPEN.format(overlay=overlay.name, owner=overlay.of)
            return (effects.AddEntry(Finding("nowhere to open", words)),)
        if any(name == overlay.name for name, _ in self.view.head.layers):
            return (effects.AddEntry(NoEffect(messages.OPEN_ALREADY.format(overlay=named(overlay.name)))),)
        return (effects.OpenOverlay(overlay.name, place, overlay.time, operation.awaiting),)

    def close(self, operation: operations.Close) -> Steps:
        """Close the overlay opened last, or the one that is named, perhaps with a value."""
        layers = [(name, place) for name, place in self.view.head.layers if not operation.overlay or name == operation.overlay]
        modal = [(name, place) for name, place in layers if self.plan.overlay[name].modal or operation.overlay]
        if not modal:
            return (effects.AddEntry(NoEffect(messages.NO_OVERLAY)),)
        name, place = modal[-1]
        lift = effects.CloseOverlay(name, place, None if operation.value == "" else bound(operation.value))
        if self.cause is None or (place >= 0 and self._hidden()):
            return (lift,)
        met = self.guards.closing(self.cause, name, place)
        return met.stopped if met.stopped is not None else (effects.GuardsPassed(met.passed, len(self.path)), lift)

    # Tabs, wanted place, facts

    def switch(self, operation: operations.Switch) -> Steps:
        """Bring a tab of the nearest tabs to the front; guards of what is seen in the other are asked."""
        for place in reversed(range(min(self.level + 1, len(self.path)))):
            spot = self.path[place]
            tabs = [tab for tab, _ in self.plan.screen[spot.data.screen].inside]
            if operation.tab in tabs:
                if self._seen_from_elsewhere(place) and self.level > place:
                    return (self._then(operation, place),)
                return self._switched(operation, place, tabs.index(operation.tab), spot.data)
        return (effects.Rollback(Finding("no such tab here", messages.NO_SUCH_TAB.format(tab=operation.tab))),)

    def _switched(self, operation: operations.Switch, place: int, tab: int, data: RungData) -> Steps:
        front = effects.ShowTab(place, tab, operation.tab, operation.going_back)
        shrink = (effects.PopToLowest(place + 1),) if operation.to_root else ()
        if tab == data.tab_order[-1]:
            if not shrink:
                return effects.AddEntry(NoEffect(messages.TAB_IN_FRONT_ALREADY.format(tab=operation.tab))), front
            return self._guarded((front, *shrink), place + 1)
        if not self.view.ask(effects.TabIsEmpty(place, tab)):
            return self._guarded((front, *shrink), place + 1)
        return self._guarded((front, self._then(operations.FillEmpty(), place + 1)), place + 1)

    def remember(self, operation: operations.Remember) -> Steps:
        """Make the innermost visible rung the wanted place."""
        if self._hidden():
            return (self._then(operation, 0),)
        return (effects.SetWanted(self.path[-1].data),) if self.path else ()

    def go_to_wanted(self, operation: operations.GoToWanted) -> Steps:
        """Replace the top rung by the wanted place, or rebuild the ladder for a link; else do what is told instead."""
        wanted = self.view.head.wanted
        if wanted is None:
            if operation.fallback is not None:
                return (self._then(operation.fallback),)
            return (effects.AddEntry(NoEffect(messages.NO_WANTED_PLACE)),)
        if wanted.address:
            put: operations.Operation = operations.Follow(wanted.address, whole=True)
        else:
            put = operations.Replace(Target(wanted.screen, wanted.arguments))
        return effects.ClearWanted(messages.WANTED_USED), self._then(put)

    def set_fact(self, operation: operations.SetFact) -> Steps:
        """Give a fact of the app a value."""
        return (effects.SetFactValue(self.plan.fact_index[operation.name], operation.name, operation.value),)

    def set_own(self, operation: operations.SetRungFact) -> Steps:
        """Give a fact of the rung that the move stands on a value."""
        return (effects.SetRungFactValue(operation.name, operation.value),)

    # Out of the app, and elsewhere

    def leave(self, operation: operations.Leave) -> Steps:
        """Leave the app by its own code, once its guards let it."""
        if self._hidden():
            return (self._then(operation, 0),)
        return self._guarded((effects.ExitApp("own code"),), app=True)

    def leaving(self, operation: operations.LeaveByBack) -> Steps:
        """Leave the app or go to the background, as Back and pops at the root do."""
        return self._guarded(
            (effects.ToBackground(by_back=True) if operation.away else effects.ExitApp(operation.cause),), app=True
        )

    def on_flow(self, operation: operations.OnFlow) -> Steps:
        """Do an operation on the ladder of a flow around, or on that of the app."""
        if operation.place == "app":
            return (self._then(operation.operation, 0),)
        place = self._place_of(operation.place)
        if place is None:
            return (effects.Rollback(Finding("no such flow here", messages.NOT_INSIDE_FLOW.format(flow=operation.place))),)
        return (self._then(operation.operation, place + 1),)


def _already_here(data: RungData) -> effects.AddEntry:
    return effects.AddEntry(NoEffect(messages.HERE_ALREADY.format(rung=rung_text(data)), already_here=True))


OPERATIONS: dict[type, Callable[[OperationDecider, Any], Steps]] = {
    operations.Push: OperationDecider.push,
    operations.Replace: OperationDecider.replace,
    operations.Reach: OperationDecider.reach,
    operations.Pop: OperationDecider.pop,
    operations.PopTo: OperationDecider.pop_to,
    operations.PopToRoot: OperationDecider.pop_to_root,
    operations.Clear: OperationDecider.clear,
    operations.Return: OperationDecider.return_value,
    operations.CloseFlow: OperationDecider.close_flow,
    operations.Open: OperationDecider.open,
    operations.Close: OperationDecider.close,
    operations.Switch: OperationDecider.switch,
    operations.Remember: OperationDecider.remember,
    operations.GoToWanted: OperationDecider.go_to_wanted,
    operations.SetFact: OperationDecider.set_fact,
    operations.SetRungFact: OperationDecider.set_own,
    operations.Leave: OperationDecider.leave,
    operations.LeaveByBack: OperationDecider.leaving,
    operations.FillEmpty: OperationDecider.fill_empty,
    operations.StartCall: OperationDecider.call,
    operations.CancelCall: OperationDecider.cancel,
    operations.StartTimer: OperationDecider.start_timer,
    operations.StopTimer: OperationDecider.stop_timer,
    operations.Follow: OperationDecider.follow,
    operations.RecheckRedirects: OperationDecider.readmit,
    operations.OnFlow: OperationDecider.on_flow,
}
