"""On which ladders each place of a plan can come to stand, taking every condition as one that may hold.

A ladder is named by what holds it: the flow or tabs and the tab, nothing for the outermost. The answer errs on the side of too
much: what is not in it can never happen, what is in it perhaps can.
"""

from __future__ import annotations

from collections import defaultdict
from itertools import chain, zip_longest
from typing import TYPE_CHECKING, TypeAlias

from wise_ladder.plan import operations, triggers
from wise_ladder.plan.model import tab_for

if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator

    from wise_ladder.plan.model import Guard, Move, Plan, Redirect
    from wise_ladder.plan.operations import Operation, Target
    from wise_ladder.plan.world import Link

LadderName: TypeAlias = tuple[str, str]
OUTERMOST: LadderName = ("", "")
Ladders: TypeAlias = frozenset[LadderName]


class Reachability:
    """Where everything of a plan can stand; `stands` lists the ladders of each screen, flow and overlay that is ever there."""

    def __init__(self, plan: Plan) -> None:
        """Follow every put from the start until nothing new comes to stand anywhere."""
        self.plan = plan
        self.stands: dict[str, set[LadderName]] = defaultdict(set)
        self._sent: dict[str, list[Redirect]] = {}
        self._new = True
        while self._new:
            self._new = False
            self._go_round()

    def inside(self, flow: str) -> Ladders:
        """Return the ladders that a flow or tabs hold."""
        return frozenset((flow, tab) for tab, _ in self.plan.screen[flow].inside)

    def on(self, ladders: Iterable[LadderName]) -> set[str]:
        """Return the screens that can stand on one of these ladders."""
        wanted = set(ladders)
        return {name for name, ladders_of in self.stands.items() if ladders_of & wanted and name in self.plan.screen}

    def enclosing_flows(self, ladders: Iterable[LadderName]) -> set[str]:
        """Return the flows and tabs that hold one of these ladders, or hold what holds them."""
        flows: set[str] = set()
        waiting = [flow for flow, _ in ladders if flow]
        while waiting:
            flow = waiting.pop()
            if flow not in flows:
                flows.add(flow)
                waiting += [outer for outer, _ in self.stands[flow] if outer]
        return flows

    def move_ladders(self, move: Move) -> Ladders:
        """Return the ladders that a move can act on."""
        if move.owner is None:
            return frozenset([OUTERMOST])
        own = frozenset(self.stands[move.owner])
        screen = self.plan.screen.get(move.owner)
        if screen is not None and screen.inside:
            inside = self.inside(move.owner)
            own = inside | own if isinstance(move.trigger, triggers.LeftTrigger) else inside
        if isinstance(move.trigger, triggers.TimerTrigger) and move.trigger.runs == "whatever happens":
            # What acts when it is gone acts on the app's own ladder.
            return own | {OUTERMOST}
        return own

    def operation_ladders(self, done: Iterable[Operation], ladders: Ladders) -> Iterator[tuple[Operation, Ladders]]:
        """Go through operations, each with the ladders it acts on; `on` is taken off, a tab change turns what follows."""
        for operation in done:
            if isinstance(operation, operations.OnFlow):
                flow = operation.place
                within = frozenset([OUTERMOST]) if flow == "app" else self.inside(flow)
                yield from self.operation_ladders([operation.operation], within)
                continue
            yield operation, ladders
            if otherwise := operations.fallback_of(operation):
                yield from self.operation_ladders([otherwise], ladders)
            if operation.record.ends_flow:
                # Where a flow goes with its last rung, the rest acts on the ladder around it.
                ladders |= frozenset(chain.from_iterable(self.stands[flow] for flow in self.enclosing_flows(ladders)))
            elif isinstance(operation, operations.Switch):
                tabs = (screen.name for screen in self.plan.screens if operation.tab in dict(screen.inside))
                ladders = frozenset((name, operation.tab) for name in tabs)

    # Following

    def _go_round(self) -> None:
        plan = self.plan
        for choice in plan.start:
            self._put(choice.target, [OUTERMOST])
        for screen in plan.screens:
            if self.stands[screen.name]:
                for tab, first in screen.inside:
                    self._put(first, [(screen.name, tab)])
                for arrow in screen.arrow:
                    self._put(arrow.target, self.stands[screen.name])
                self._open(screen.menu, frozenset(self.stands[screen.name]))
        for move in plan.moves:
            if move.owner is None or self.stands[move.owner]:
                self._done(move.operations, self.move_ladders(move))
        everywhere = frozenset(chain([OUTERMOST], *self.stands.values()))
        for link in plan.links:
            self._link(link, everywhere)
        if plan.unknown_target is not None:
            self._put(plan.unknown_target, everywhere)
        for guard in plan.guard.values():
            where = guard.id.owner
            self._guard(guard, everywhere if where is None else frozenset(self.stands[where]))

    def _guard(self, guard: Guard, ladders: Ladders) -> None:
        if not ladders:
            return
        if guard.id.owner in self.plan.screen:
            ladders |= self.inside(guard.id.owner or "")
        self._done(guard.operations, ladders)
        for answer in guard.answers:
            self._done(answer.operations, ladders)

    def _done(self, done: Iterable[Operation], ladders: Ladders) -> None:
        for operation, where in self.operation_ladders(done, ladders):
            if isinstance(operation, operations.Put):
                self._put(operation.target, where)
            elif isinstance(operation, operations.GoToWanted):
                for name in self._wanted():
                    self._stand(name, where)
            elif isinstance(operation, operations.Open):
                self._open(operation.overlay, where)

    def _put(self, target: Target, ladders: Iterable[LadderName]) -> None:
        names = [target.screen]
        for name in names:
            self._stand(name, ladders)
            names += [redirect.target.screen for redirect in self._redirects(name) if redirect.target.screen not in names]

    def _link(self, link: Link, everywhere: Ladders) -> None:
        """A build stands on the outermost ladder, after a flow or tabs perhaps inside them; its last perhaps on any ladder."""
        ladders: Ladders = frozenset([OUTERMOST])
        for target, following in zip_longest(link.build, link.build[1:]):
            self._put(target, ladders)
            if following is not None and tab_for(self.plan.screen[target.screen], following.screen) is not None:
                ladders = self.inside(target.screen)
        if link.mode == "over all":
            self._put(link.build[-1], [OUTERMOST])
        elif link.mode != "rebuild":
            self._put(link.build[-1], everywhere)

    def _redirects(self, name: str) -> list[Redirect]:
        """List the redirects that may send a put of a screen elsewhere."""
        if name not in self._sent:
            self._sent[name] = [redirect for redirect in self.plan.redirects if redirect.is_for(name)]
        return self._sent[name]

    def _wanted(self) -> set[str]:
        reached = {name for name in list(self.stands) if self.stands[name] and name in self.plan.screen}
        if any(isinstance(done, operations.Remember) for move in self.plan.moves for done in move.operations):
            return reached
        return {name for name in reached if any(redirect.remember for redirect in self._redirects(name))}

    def _open(self, overlay: str, ladders: Ladders) -> None:
        if overlay:
            of = self.plan.overlay[overlay].of
            home = frozenset([OUTERMOST]) if of == "app" else frozenset(self.stands[of]) if of else ladders
            self._stand(overlay, home)

    def _stand(self, name: str, ladders: Iterable[LadderName]) -> None:
        fresh = set(ladders) - self.stands[name]
        if fresh:
            self.stands[name] |= fresh
            self._new = True
