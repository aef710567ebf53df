"""Indexes of a plan for use at each step, built once."""

from __future__ import annotations

from typing import TYPE_CHECKING, TypeVar, assert_never, cast

from msgspec.structs import replace

from wise_ladder.plan import operations, triggers
from wise_ladder.plan.link_match import match_link
from wise_ladder.plan.model import tab_for
from wise_ladder.plan.operations import TakeBack, all_of
from wise_ladder.semantics.effects import RungSpec
from wise_ladder.semantics.state import RungData

if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator

    from wise_ladder.plan.events import Event
    from wise_ladder.plan.link_match import LinkMatch
    from wise_ladder.plan.model import Guard, Move, Plan
    from wise_ladder.plan.operations import Target
    from wise_ladder.plan.triggers import TimerScope, Trigger
    from wise_ladder.plan.values import Value
    from wise_ladder.semantics.effects import Decision
    from wise_ladder.semantics.log import Step
    from wise_ladder.semantics.reasons import Reason
    from wise_ladder.semantics.stack_queries import StackAnswers
    from wise_ladder.semantics.state import Head, State
    from wise_ladder.semantics.tasks import Task

_Key = TypeVar("_Key")

MAX_DECISIONS = 200_000


class PlanIndex:
    """Moves by place and trigger, and the decisions made so far (deciding is a function of the head, so they stay true)."""

    def __init__(self, plan: Plan) -> None:
        """Lay out the moves of a plan."""
        # Not the plan itself: it keeps these tables, and both must be freed as soon as the plan is no longer used.
        self._screen, self._links, self._unsaid = plan.screen, plan.links, plan.policies.bars_left_unsaid
        self.decisions: dict[tuple[Task, Head, StackAnswers], tuple[Decision, int]] = {}
        """Each with the moves that it read, as `read` has them."""
        self.steps: dict[tuple[Event | None, State], Step] = {}
        self.asked: list[Reason] | None = None
        """Where deciding notes what it asks; only `explain` sets it."""
        self.taps: dict[tuple[str | None, str], list[Move]] = {}
        self.due: dict[tuple[str | None, Trigger], list[Move]] = {}
        """Moves by timers, replies and the world."""
        self.timers: dict[str | None, tuple[tuple[int, TimerScope], ...]] = {}
        """The timers that a put starts."""
        self.shown_timers: dict[str | None, tuple[int, ...]] = {}
        self.shown: dict[tuple[str | None, bool], list[Move]] = {}
        self.left: dict[str | None, list[Move]] = {}
        self.turned: dict[tuple[str | None, str, str], list[Move]] = {}
        self.turned_hidden: set[tuple[str | None, str, str]] = set()
        self.results: dict[tuple[str | None, str, bool], list[Move]] = {}
        self.move = {move.id: move for move in plan.moves}
        self._bit = {name: 1 << place for place, name in enumerate(self.move)}
        self.read = 0
        """A bit for each move whose condition or operations were read since this was last set to 0."""
        for move in plan.moves:
            self._lay_out(move)
        self.world_in_places = {trigger for where, trigger in self.due if where is not None}
        """What screens and overlays react to by themselves."""
        self.waking = frozenset([*(where for where, _ in self.shown), *self.shown_timers])
        """What reacts when it comes to be seen."""
        self.facts_in_places = {(fact, value) for where, fact, value in self.turned if where is not None}
        """What facts become that screens and overlays react to."""
        self.facts_that_matter = {(fact, value) for _, fact, value in self.turned}
        self.guards: dict[str | None, tuple[Guard, ...]] = {place.name: place.guards for place in plan.owners}
        self.guards[None] = plan.guards
        self.guarded = any(screen.guards for screen in plan.screens)
        """Whether any screen has a guard."""
        self.bars = {screen.name: (self._bar(screen.top_bar), self._bar(screen.bottom_bar)) for screen in plan.screens}
        """Whether a screen shows each bar; None: as it was."""
        self.wait_overlays = {overlay.name for overlay in plan.overlays if overlay.kind == "wait"}
        self.comes_first: dict[str | None, list[Guard]] = {}
        """By place the guards that are first in line, or belong to the app."""
        for guard in plan.guard.values():
            if guard.first_in_line or guard.app_scoped:
                self.comes_first.setdefault(guard.id.owner, []).append(guard)
        self.foreign = frozenset(screen.name for screen in plan.screens if screen.foreign)
        """The screens of other apps."""
        self.take_back = {
            overlay.name for overlay in plan.overlays if any(TakeBack() in all_of(move.operations) for move in overlay.moves)
        }
        """The overlays that can take back what was done when they were opened."""
        self.with_parts = {given.name for place in plan.owners for given in place.gives if given.parts}
        """The results that have several parts."""
        self._linked: dict[str, LinkMatch] = {}
        self.own = {place.name: tuple((fact.name, fact.values[0]) for fact in place.holds) for place in plan.owners}
        """The facts that each place holds, at first values."""

    def link_of(self, address: str) -> LinkMatch:
        """Return the link that an address belongs to; each address is looked up once."""
        match = self._linked.get(address)
        if match is None:
            if len(self._linked) >= MAX_DECISIONS:
                self._linked.clear()
            match = self._linked[address] = match_link(self._links, address)
        return match

    def reading(self, moves: Iterable[Move]) -> Iterator[Move]:
        """Go through moves, and note that they were read."""
        for move in moves:
            self.read |= self._bit[move.id]
            yield move

    def _bar(self, setting: str) -> bool | None:
        return {"shown": True, "hidden": False}.get(self._unsaid if setting == "unsaid" else setting)

    def _lay_out(self, move: Move) -> None:
        where = move.owner
        match move.trigger:
            case triggers.TapTrigger(name):
                _add(self.taps, (where, name), move)
            case triggers.TimerTrigger(after, runs):
                _add(self.due, (where, move.trigger), move)
                if runs == "shown":
                    self.shown_timers[where] = tuple(dict.fromkeys((*self.shown_timers.get(where, ()), after)))
                else:
                    self.timers[where] = tuple(dict.fromkeys((*self.timers.get(where, ()), (after, runs))))
            case triggers.ReplyTrigger() | triggers.PhaseTrigger() | triggers.RunsOutTrigger():
                _add(self.due, (where, move.trigger), move)
            case triggers.ShownTrigger(first):
                _add(self.shown, (where, first), move)
            case triggers.LeftTrigger():
                _add(self.left, where, move)
            case triggers.BecomesTrigger(fact, value, even_hidden):
                _add(self.turned, (where, fact, value), move)
                if even_hidden:
                    self.turned_hidden.add((where, fact, value))
            case triggers.ResultTrigger(name, cancelled):
                _add(self.results, (where, name, cancelled), move)
            case _:
                assert_never(move.trigger)

    def data(self, target: Target, *, redirected: bool = False) -> RungData:
        """Return what the rung of a target shows: the facts it holds at first values."""
        return RungData(target.screen, target.fixed, self.own[target.screen], redirected=redirected)

    def build(self, target: Target, *, redirected: bool = False) -> RungSpec:
        """Say how the rung of a target is made that holds no ladder."""
        return RungSpec(self.data(target, redirected=redirected), self.timers.get(target.screen, ()))

    def holding(self, target: Target, place: int, rungs: tuple[RungSpec, ...], *, redirected: bool = False) -> RungSpec:
        """Say how the rung of a flow or tabs is made with these rungs on the ladder of a place, which is in front."""
        screen = self._screen[target.screen]
        inner = tuple(rungs if number == place else () for number in range(len(screen.inside)))
        data = replace(self.data(target, redirected=redirected), tab_order=(place,))
        return RungSpec(data, self.timers.get(screen.name, ()), inner)

    def path_built(self, targets: tuple[Target, ...], last: RungSpec) -> tuple[RungSpec, ...]:
        """Say how the rungs of a path are made, the last one so: after a flow or tabs the next stand inside."""
        rungs: list[RungSpec] = []
        for number, target in enumerate(targets[:-1]):
            rest = targets[number + 1 :]
            if (place := tab_for(self._screen[target.screen], rest[0].screen)) is not None:
                return (*rungs, self.holding(target, place, self.path_built(rest, last)))
            rungs.append(self._with_its_first(target))
        return (*rungs, last)

    def _with_its_first(self, target: Target) -> RungSpec:
        """Say how a rung is made beneath others: of a flow or tabs with what is first inside."""
        inside = self._screen[target.screen].inside
        if not inside:
            return self.build(target)
        return self.holding(target, 0, (self._with_its_first(filled(inside[0][1], dict(target.fixed))),))


def _add(moves: dict[_Key, list[Move]], key: _Key, move: Move) -> None:
    moves.setdefault(key, []).append(move)


def index_of(plan: Plan) -> PlanIndex:
    """Return the tables of a plan, laid out at the first call; they are kept with the plan, and go with it."""
    kept = plan.__dict__
    index = kept.get("_tables")
    if index is None:
        index = kept["_tables"] = PlanIndex(plan)
    return cast("PlanIndex", index)


def filled(target: Target, values: dict[str, Value]) -> Target:
    """Return the target with each variable filled in."""
    if not target.arguments:
        return target
    arguments = tuple(
        (name, value if isinstance(value, (str, int)) else values[value.name]) for name, value in target.arguments
    )
    return operations.Target(target.screen, arguments)
