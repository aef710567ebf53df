"""A state as the sweep keeps it: a shape, the values of the facts, and what of the ladders is left out.

A shape is a state without facts, clock and serials, without the wanted place, the address that waits and what is pending, in
which each ladder keeps what timers, overlays and guards know of, and its top if that is seen. The lowest rung of all is left
out, and so is each row of rungs between (`SymbolicRungs`). What is left out stands in symbolic stacks: each is a number for a
row of rungs, so that two states with equal ladders share them.
"""

from __future__ import annotations

from functools import reduce
from operator import and_
from typing import TYPE_CHECKING, NamedTuple, TypeAlias, cast

from msgspec.structs import replace

from wise_ladder.plan import triggers
from wise_ladder.rules.cutting import LAYERS, Callers, Cutting, StackRecipe, layers_numbered, rungs_numbered
from wise_ladder.rules.in_flight import (
    SEEN_SINCE,
    InFlight,
    by_caller,
    few_alike,
    more_alike,
    numbered,
)
from wise_ladder.rules.zones import NOTHING, Zone, any_time, delay, remap
from wise_ladder.semantics.apply_phone import all_saved
from wise_ladder.semantics.serials import renumbered_question, serials_of_stopped
from wise_ladder.semantics.state import (
    Deadline,
    PendingCall,
    Rung,
    RungData,
    Seen,
    State,
)
from wise_ladder.semantics.symbolic import (
    PLAIN,
    QUIET,
    SAVED,
    SETTLED,
    UNREAD,
    SymbolicPart,
    untold,
)

if TYPE_CHECKING:
    from collections.abc import Container, Iterable

    from wise_ladder.plan.model import Plan
    from wise_ladder.rules.zones import Clocks
    from wise_ladder.semantics.state import Question, StoppedMove, Wanted

UNSEEN = Seen(None, 0, 0)
BESIDES_FACTS = 4
"""So many values of a valuation are none of facts."""
Valuation: TypeAlias = tuple[object, ...]
"""The values of the facts; after them the address that waits, the wanted place, what a question stopped, what is pending."""


class AbstractState(NamedTuple):
    """A state in parts: the shape (its facts are all unread), the facts, and how each tail is made.

    The serial of a rung that was left out is made of the marks of the calls it made.
    """

    skeleton: State
    facts: Valuation
    tails: tuple[StackRecipe, ...]


class Abstraction(Callers):
    """Takes the states of a plan apart."""

    def __init__(self, plan: Plan, flash: int = 0, guarded: Container[str] = ()) -> None:
        """Look what of a rung can make a difference when it goes.

        `flash`: how long it matters since when something is seen. `guarded`: screens that must not go without being asked.
        """
        super().__init__(plan)
        self._plan = plan
        self._first = {screen.name: tuple((fact.name, fact.values[0]) for fact in screen.holds) for screen in plan.screens}
        self._kept = {screen.name: tuple(fact.lifetime for fact in screen.holds) for screen in plan.screens}
        self._timed = {move.owner for move in plan.moves if isinstance(move.trigger, triggers.TimerTrigger)}
        left = {move.owner for move in plan.moves if isinstance(move.trigger, triggers.LeftTrigger)}
        matters = (screen for screen in plan.screens if screen.name in left or (screen.guards and screen.name in guarded))
        self._matters, self.guarded = {screen.name for screen in matters}, guarded
        self._quiet: dict[RungData, int] = {}
        self._unread = UNREAD[: len(plan.facts)]
        self.held, self.wanted, self.stopped, self.under_way = (len(plan.facts) + more for more in range(BESIDES_FACTS))
        """Where these stand after the facts."""
        self._held = UNREAD[self.held]
        self._unwanted, self._calls = (
            cast("Wanted", untold(self.wanted)),
            cast("tuple[PendingCall, ...]", untold(self.under_way)),
        )
        # One more than the slowest reply takes: whether it came as soon as it could is of interest too.
        self._takes = {call.name: max((outcome.takes for outcome in call.outcomes), default=0) + 1 for call in plan.calls}
        self._takes[SEEN_SINCE] = flash

    def clocks(self, state: State) -> Clocks:
        """List what is pending in a state: its timers, then its calls."""
        return self._clocks(state.deadlines, state.calls)

    def _clocks(self, pending: Iterable[Deadline], calls: Iterable[PendingCall]) -> Clocks:
        timers = tuple((True, timer.after) for timer in pending)
        return (*timers, *((False, self._takes[call.name]) for call in calls))

    def abstract(self, state: State, zone: Zone = NOTHING, before: State | None = None) -> AbstractState:
        """Take a state apart; `before`: the one that a step led from, in which cuts have the same numbers."""
        cutting = Cutting(self, state, before)
        ladder = cutting.ladder(state.ladder, seen=True)
        numbers = cutting.numbers
        for number, serial in enumerate(sorted(cutting.layers), LAYERS):
            numbers[serial] = number
        if cutting.layers:
            ladder = rungs_numbered(ladder, numbers)
        question, stopped = self.asked_about(state.question, numbers)
        under_way, pending = self._told(state, cutting, zone)
        shape = State(
            phase=state.phase,
            ladder=ladder,
            facts=self._unread,
            deadlines=pending,
            clock=0,
            seen=UNSEEN,
            overlays=layers_numbered(state.overlays, numbers),
            question=question,
            wanted=self._unwanted,
            armed=tuple([replace(entry, serial=numbers.get(entry.serial, -1)) for entry in state.armed]),
            never_shown=tuple(sorted(numbers[serial] for serial in state.never_shown)) if self._first_shown else (),
            bars=(True, True),
            cover=state.cover,
            calls=self._calls,
            held_link=self._held if state.cover or state.held_link else "",
            alive=state.alive,
            restored=state.restored,
            least=state.least,
            begun=state.begun,
        )
        return AbstractState(shape, (*state.facts, state.held_link, state.wanted, stopped, under_way), tuple(cutting.tails))

    def asked_about(self, question: Question | None, numbers: dict[int, int]) -> tuple[Question | None, StoppedMove | None]:
        """Return an open question as it stands in a shape where serials have other numbers, and what it stopped."""
        question = renumbered_question(question, numbers)
        if question is None or isinstance(question.stopped, SymbolicPart):
            return question, None if question is None else question.stopped
        known = frozenset([serial for serial in serials_of_stopped(question.stopped) if serial > 0])
        return replace(question, stopped=cast("StoppedMove", untold(self.stopped, known))), question.stopped

    def _told(self, state: State, cutting: Cutting, zone: Zone) -> tuple[InFlight | SymbolicPart, tuple[Deadline, ...]]:
        """Return what is pending, and what stands for it in the shape."""
        numbers, left_out = cutting.numbers, state.deadlines
        if isinstance(left_out, SymbolicPart):
            same = all(numbers.get(serial) == serial for serial in left_out.timed | left_out.callers)
            if not same:
                raise left_out.look()
            calls = cast("SymbolicPart", state.calls)
            known = calls.known._replace(lost=calls.known.lost | cutting.gone_askers())
            return untold(calls.place, calls.timed, calls.callers, known), left_out
        pending = [replace(timer, serial=numbers.get(timer.serial, -1)) for timer in state.deadlines]
        if cutting.elsewhere:
            cutting.hidden |= cutting.elsewhere & ~cutting.gone_askers()
        timers, calls = numbered(pending, [cutting.asked(call) for call in cutting.calls])
        timed = frozenset([numbers[serial] for serial in cutting.timed if serial and serial in numbers])
        callers = frozenset([call.serial for call in calls if call.serial > 0]) - timed
        stands_for = untold(self.under_way, timed, callers)
        return InFlight(timers, calls, zone), cast("tuple[Deadline, ...]", stands_for)

    def without_calls(self, under_way: InFlight, names: frozenset[str]) -> tuple[InFlight, tuple[int, ...]]:
        """Return what is pending without the calls of some names, and of each thing its old number."""
        timers = under_way.pending
        still = [number for number, call in enumerate(under_way.calls) if call.name not in names]
        kept = (*range(len(timers)), *(len(timers) + number for number in still))
        timers, calls = numbered(timers, [under_way.calls[number] for number in still])
        zone = delay(remap(under_way.zone, kept), self._clocks(timers, calls)) if kept else NOTHING
        return InFlight(timers, calls, zone), kept

    def timeless(self, under_way: InFlight) -> InFlight:
        """Return what is pending without a word about since when, nor about which call of a name was made first.

        Nor how many more than `MOST_ALIKE` calls are alike.
        """
        return self.timeless_as_is(under_way, sorted(few_alike(under_way.calls), key=by_caller))

    def timeless_as_is(self, under_way: InFlight, calls: Iterable[PendingCall]) -> InFlight:
        """Return what is pending with these calls, without a word about since when."""
        timers, made = numbered(under_way.pending, calls)
        return InFlight(timers, made, any_time(self._clocks(timers, made)))

    def without(self, under_way: InFlight, call: PendingCall) -> InFlight:
        """Return what else is pending besides a call, without a word about since when."""
        gone = next(each for each in under_way.calls if replace(each, number=0) == call)
        calls = tuple(each for each in under_way.calls if each is not gone)
        return self.timeless(InFlight(under_way.pending, calls, NOTHING))

    def with_more_alike(self, before: InFlight, after: InFlight, old: tuple[int, ...]) -> list[InFlight]:
        """Return what else may be pending after a step, since of calls that are alike only some are kept.

        `old`: of each thing that is pending after it, timers first, the number it had before, negative for new ones.
        """
        made = [number - len(before.pending) for number in old[len(after.pending) :]]
        more = more_alike(before.calls, after.calls, made)
        return [self.timeless(InFlight(after.pending, (*after.calls, call), NOTHING)) for call in more]

    def as_saved(self, rung: Rung) -> Rung:
        """Return a rung of a row that is left out as it is saved."""
        (saved,) = all_saved(self._plan, (rung,))
        return saved

    def quiet(self, rung: Rung, *, layered: bool = False) -> int:
        """Say what cannot come of a rung, as `SymbolicRungs` does; `layered`: without its overlays.

        Of rungs that are left out nothing is said.
        """
        if rung.cut:
            return QUIET
        if rung.overlays and not layered:
            return 0
        quiet = self._quiet.get(rung.data)
        if quiet is None:
            quiet = self._quiet[rung.data] = self._of_face(rung.data)
        if not rung.inner:
            return quiet
        return reduce(and_, [self.quiet(part, layered=layered) for inner in rung.inner for part in inner], quiet)

    def _of_face(self, data: RungData) -> int:
        if data.undelivered or data.redirected or data.owes:
            return 0
        plain = SETTLED if data.screen in self._matters else SETTLED | PLAIN
        still = data.facts == self._first[data.screen] or all(
            value == was or kept not in {"none", "memory"}
            for (_, value), (_, was), kept in zip(data.facts, self._first[data.screen], self._kept[data.screen], strict=True)
        )
        return plain | SAVED if still and not data.awaits and data.screen not in self._timed else plain
