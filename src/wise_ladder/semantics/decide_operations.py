"""Deciding an operation of a move: its effects at this head, and which guards stand before it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from wise_ladder.plan import operations
from wise_ladder.plan.operations import Target
from wise_ladder.semantics import effects, messages, stack_queries
from wise_ladder.semantics.decide_puts import PutDecider, Steps
from wise_ladder.semantics.log import Finding, NoEffect
from wise_ladder.semantics.plan_index import filled
from wise_ladder.semantics.state import COVERED, VISIBLE
from wise_ladder.semantics.taps import bound, returned_words
from wise_ladder.semantics.text import named, rung_text

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.semantics.state import RungData


class OperationDecider(PutDecider):
    """Decides any operation."""

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
        if not self.view.ask(stack_queries.TimerIsRunning(operation.timer)):
            return (effects.AddEntry(NoEffect(messages.TIMER_RUNS_NOT.format(timer=operation.timer))),)
        return (effects.EndTimer(operation.timer),)

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

    def _at_root_with(self, value: effects.ReturnedValue) -> Steps:
        """A return at the lowest rung: no rung can get the value."""
        entry = effects.AddEntry(Finding("nobody waits", messages.RESULT_NO_RUNG_BENEATH.format(value=returned_words(value))))
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
        if self.view.ask(stack_queries.IsThere(self.level, screen, arguments)):
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
                return (self._then(operations.Return(operation.value), place),)
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
        if not self.view.ask(stack_queries.TabIsEmpty(place, tab)):
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
        return (effects.SetFactValue(self.plan.fact_index[operation.name], operation.name, str(bound(operation.value))),)

    def set_own(self, operation: operations.SetRungFact) -> Steps:
        """Give a fact of the rung that the move stands on a value."""
        return (effects.SetRungFactValue(operation.name, str(bound(operation.value))),)

    def take_back(self, _operation: operations.TakeBack) -> Steps:
        """Take back what the move set that opened the overlay."""
        return (effects.TakeBackSet(),)

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
    operations.TakeBack: OperationDecider.take_back,
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
