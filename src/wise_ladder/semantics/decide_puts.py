"""Deciding what puts rungs: push, replace, reach, links; and what stands before it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.plan import operations
from wise_ladder.plan.model import MAX_NESTED
from wise_ladder.plan.operations import Target
from wise_ladder.semantics import effects, messages, stack_queries
from wise_ladder.semantics.log import Finding, LinkFollowed, NoEffect, UnknownAddress
from wise_ladder.semantics.opaque import OpaquePath
from wise_ladder.semantics.plan_index import filled
from wise_ladder.semantics.reasons import links_asked
from wise_ladder.semantics.redirects import Redirects
from wise_ladder.semantics.state import VISIBLE
from wise_ladder.semantics.tasks import OperationTask
from wise_ladder.semantics.text import rung_text

if TYPE_CHECKING:
    from wise_ladder.plan.operations import Operation
    from wise_ladder.semantics.conditions import EvalContext
    from wise_ladder.semantics.effects import RungSpec
    from wise_ladder.semantics.guards import GuardCheck
    from wise_ladder.semantics.plan_index import PlanIndex
    from wise_ladder.semantics.state import RungData

Steps = tuple[effects.Effect, ...]


class PutDecider:
    """Decides operations that put rungs, on the ladder of a level; guards are asked if the operation has a cause."""

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
        if not self.view.ask(stack_queries.IsThere(self.level, data.screen, wanted)):
            return self.push(operations.Push(operation.target))
        hand = effects.SetTopArguments(self.level, data.arguments)
        if top is not None and top.screen == data.screen and not operation.exactly:
            return (hand,)
        return self._guarded((effects.PopDownTo(self.level, data.screen, wanted, drop=False), hand))

    def readmit(self, _operation: operations.RecheckRedirects) -> Steps:
        """Send a ladder that comes back through the redirects, only its top; if one applies, its target stands alone."""
        behind = self.path.redirects if isinstance(self.path, OpaquePath) else None
        if behind is not None and not any(self.view.holds(redirect.condition) for redirect in behind):
            return ()
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

    def _hidden(self) -> bool:
        """Whether the path is not the visible one."""
        return bool(self.path) and not isinstance(self.path, OpaquePath) and self.path[-1].stands != VISIBLE


def _already_here(data: RungData) -> effects.AddEntry:
    return effects.AddEntry(NoEffect(messages.HERE_ALREADY.format(rung=rung_text(data)), already_here=True))
