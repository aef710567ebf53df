"""A state as the sweep keeps it: a shape, the values of the facts, and what of the ladders is left out.

A shape is a state without facts, clock and serials, without the wanted place, the address that waits and what is pending, in
which each ladder keeps what timers, overlays and guards know of, and its top if that is seen. The lowest rung of all is left
out, and so is each row of rungs between (`SymbolicRungs`). What is left out stands in symbolic stacks: each is a number for a
row of rungs, so that two states with equal ladders share them.
"""

from __future__ import annotations

from functools import reduce
from operator import and_, or_
from typing import TYPE_CHECKING, NamedTuple, TypeAlias, cast

from msgspec.structs import replace

from wise_ladder.plan import triggers
from wise_ladder.rules.in_flight import NOBODY, OWN, SEEN_SINCE, UNKNOWN_CALLER, InFlight, numbered
from wise_ladder.rules.zones import NOTHING, Zone, any_time, delay, remap
from wise_ladder.semantics.apply_phone import all_saved
from wise_ladder.semantics.opaque import OpaqueLadder
from wise_ladder.semantics.serials import renumbered_question, serials_of, serials_of_stopped
from wise_ladder.semantics.state import (
    Deadline,
    OverlayInstance,
    PendingCall,
    Rung,
    RungData,
    Seen,
    State,
    all_rungs,
)
from wise_ladder.semantics.symbolic import (
    ASKERS,
    PLAIN,
    QUIET,
    SAVED,
    SETTLED,
    UNREAD,
    RefinementNeeded,
    SymbolicLadder,
    SymbolicPart,
    answered,
    cut,
    each_cut,
    hidden,
    untold,
)

if TYPE_CHECKING:
    from collections.abc import Container, Iterable

    from wise_ladder.plan.model import Plan
    from wise_ladder.rules.zones import Clocks
    from wise_ladder.semantics.opaque import OpaqueRung
    from wise_ladder.semantics.state import Ladder, Question, StoppedMove, Wanted
    from wise_ladder.semantics.symbolic import SymbolicRungs

StackRecipe: TypeAlias = "tuple[int, tuple[Rung | int, ...]]"
"""A tail as it is made: the number of the cut it grows from (-1: none), and what is put over that: rungs, or whole tails.

Where rungs of a cut made calls that are over, the marks of these stand `MARKS` bits above its number; where they are saved,
`AS_SAVED` is added.
"""
MARKS = 16
AS_SAVED = 1 << MARKS - 1
UNSEEN = Seen(None, 0, 0)
LAYERS = 1 << 20
"""The lowest serial of an overlay in a shape, so that it does not depend on how many rungs there are."""
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


class Abstraction:
    """Takes the states of a plan apart."""

    def __init__(self, plan: Plan, flash: int = 0, guarded: Container[str] = ()) -> None:
        """Look what of a rung can make a difference when it goes.

        `flash`: how long it matters since when something is seen. `guarded`: screens that must not go without being asked.
        """
        self._plan = plan
        self._first = {screen.name: tuple((fact.name, fact.values[0]) for fact in screen.holds) for screen in plan.screens}
        self._kept = {screen.name: tuple(fact.lifetime for fact in screen.holds) for screen in plan.screens}
        self._timed = {move.owner for move in plan.moves if isinstance(move.trigger, triggers.TimerTrigger)}
        left = {move.owner for move in plan.moves if isinstance(move.trigger, triggers.LeftTrigger)}
        matters = (screen for screen in plan.screens if screen.name in left or (screen.guards and screen.name in guarded))
        self._matters, self.guarded = {screen.name for screen in matters}, guarded
        self._quiet: dict[RungData, int] = {}
        self._first_shown = any(move.trigger == triggers.ShownTrigger(first=True) for move in plan.moves)
        wanted: dict[tuple[str | None, str], frozenset[str]] = {}
        for move in plan.moves:
            if isinstance(move.trigger, triggers.ReplyTrigger):
                key = move.owner, move.trigger.call
                wanted[key] = wanted.get(key, frozenset()) | {move.trigger.outcome}
        first: dict[tuple[str, frozenset[str]], str | None] = {}
        self.alike = {(where, name): first.setdefault((name, outcomes), where) for (where, name), outcomes in wanted.items()}
        """By place and call: the place that stands for all that want the same replies."""
        self.marks = {call.name: 1 << place for place, call in enumerate(plan.calls)}
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
        cutting = _Cutting(self, state, before)
        ladder = cutting.ladder(state.ladder, seen=True)
        numbers = cutting.numbers
        for number, serial in enumerate(sorted(cutting.layers), LAYERS):
            numbers[serial] = number
        if cutting.layers:
            ladder = _renumbered(ladder, numbers)
        question, stopped = self.asked_about(state.question, numbers)
        under_way, pending = self._told(state, cutting, zone)
        shape = State(
            phase=state.phase,
            ladder=ladder,
            facts=self._unread,
            deadlines=pending,
            clock=0,
            seen=UNSEEN,
            overlays=_layers(state.overlays, numbers),
            question=question,
            wanted=self._unwanted,
            armed=tuple([replace(entry, serial=numbers.get(entry.serial, -1)) for entry in state.armed]),
            never_shown=tuple(sorted(numbers[serial] for serial in state.never_shown)) if self._first_shown else (),
            bars=(True, True),
            cover=state.cover,
            calls=self._calls,
            held_link=self._held if state.held_link else "",
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

    def _told(self, state: State, cutting: _Cutting, zone: Zone) -> tuple[InFlight | SymbolicPart, tuple[Deadline, ...]]:
        """Return what is pending, and what stands for it in the shape."""
        numbers, left_out = cutting.numbers, state.deadlines
        if isinstance(left_out, SymbolicPart):
            same = all(numbers.get(serial) == serial for serial in left_out.timed | left_out.callers)
            if not same:
                raise left_out.look()
            calls = cast("SymbolicPart", state.calls)
            lost = calls.lost | cutting.gone_askers()
            return untold(calls.place, calls.timed, calls.callers, calls.names, turned=calls.turned, lost=lost), left_out
        pending = [replace(timer, serial=numbers.get(timer.serial, -1)) for timer in state.deadlines]
        if cutting.elsewhere:
            cutting.hidden |= cutting.elsewhere & ~cutting.gone_askers()
        timers, calls = numbered(pending, [cutting.asked(call) for call in cutting.calls])
        timed = frozenset([numbers[serial] for serial in cutting.timed if serial and serial in numbers])
        callers = frozenset([call.serial for call in calls if call.serial > 0]) - timed
        stands_for = untold(self.under_way, timed, callers)
        return InFlight(timers, calls, zone), cast("tuple[Deadline, ...]", stands_for)

    def seen_anew(self, under_way: InFlight) -> tuple[InFlight, tuple[int, ...]]:
        """Return what is pending where something else is seen now, and of each thing its old number."""
        pending = under_way.pending
        still = [number for number, call in enumerate(under_way.calls) if call.name != SEEN_SINCE]
        kept = (*range(len(pending)), *(len(pending) + number for number in still))
        timers, calls = numbered(pending, [under_way.calls[number] for number in still])
        return InFlight(timers, calls, delay(remap(under_way.zone, kept), self._clocks(timers, calls))), kept

    def timeless(self, under_way: InFlight) -> InFlight:
        """Return what is pending without a word about since when."""
        return InFlight(under_way.pending, under_way.calls, any_time(self._clocks(under_way.pending, under_way.calls)))

    def callers_gone(self, under_way: InFlight, lost: int) -> InFlight:
        """Return what is pending where rungs that were left out and made calls of these marks are gone."""
        calls = [
            replace(call, serial=-1, where=self.alike.get((call.where, call.name), call.where), data=NOBODY)
            if call.serial == UNKNOWN_CALLER and self.marks[call.name] & lost
            else call
            for call in under_way.calls
        ]
        return InFlight(under_way.pending, tuple(calls), under_way.zone)

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

    def asked(self, call: PendingCall) -> PendingCall:
        """Forget the caller of a call if no move there takes its reply."""
        if call.serial == 0:
            return call
        if (call.where, call.name) in self.alike:
            return call if call.data == OWN else replace(call, data=NOBODY)
        return replace(call, serial=-1, where="", data=NOBODY)

    def look_for_asker(self, state: State, name: str) -> RefinementNeeded | None:
        """Return the refinement that asks for the caller of a call that was left out; None: no such rung was.

        Then there is no such state: only where states are taken together may it seem so.
        """
        mark = self.marks[name]
        cut = next((cut for cut in each_cut(state.ladder) if cut.askers & mark), None)
        if cut is None:
            return None
        return RefinementNeeded("asker", cut.number, mark) if cut.what == "rung" else RefinementNeeded("ladder", cut.number)

    def known(self, state: State) -> set[int]:
        """Return the serials that something in a state knows of, besides timers and calls."""
        serials = {entry.serial for entry in state.armed}
        if state.question is not None:
            serials |= serials_of(state.question)
        if self._first_shown:
            serials.update(state.never_shown)
        return serials


class _Cutting:
    """One state that is taken apart."""

    def __init__(self, shaping: Abstraction, state: State, before: State | None) -> None:
        self.shaping, self.known, self._before = shaping, shaping.known(state), before
        self.timed: set[int] = set()
        """The serials that timers speak of, and calls that cannot be told apart otherwise."""
        self.calls: list[PendingCall] = []
        self.made: dict[int, int] = {}
        """The marks of the calls that a rung made, by its serial."""
        self.left_out: dict[int, str] = {}
        """The screens of the rungs that made calls and are left out, by serial."""
        self.elsewhere = self.hidden = self._over = 0
        """The marks of what was made by rungs that were left out before, and that are left out now; those that may be over."""
        if isinstance(left_out := state.deadlines, SymbolicPart):
            self.timed = {*left_out.timed}
        else:
            self._look_at(state)
            self._over = self._made_elsewhere() & ~self.elsewhere
        self.known |= self.timed
        self.numbers: dict[int, int] = {0: 0}
        self.layers = {layer.serial for layer in state.overlays}
        self.tails: list[StackRecipe] = []
        self._kept: set[int] = set()
        """The numbers of the cuts that are still there."""

    def _look_at(self, state: State) -> None:
        """Find whose the pending timers and calls are."""
        standing = {rung.serial for rung in all_rungs(state.ladder)} | {0, UNKNOWN_CALLER} if state.calls else set()
        over = {layer.serial for layer in state.overlays} if state.calls else set()
        over |= {layer.serial for rung in all_rungs(state.ladder) for layer in rung.overlays} if state.calls else set()
        standing |= over
        self.calls = [self.shaping.asked(call if call.serial in standing else replace(call, serial=-1)) for call in state.calls]
        self.timed = {timer.serial for timer in state.deadlines}
        for name in dict.fromkeys(call.name for call in self.calls):
            serials = {call.serial for call in self.calls if call.name == name} - {0, -1}
            self.timed |= serials & over
            serials -= over
            if UNKNOWN_CALLER in serials:
                if len(serials) > 1 and (look := self.shaping.look_for_asker(state, name)) is not None:
                    raise look
                self.elsewhere |= self.shaping.marks[name]
            elif len(serials) == 1:
                (serial,) = serials
                self.made[serial] = self.made.get(serial, 0) | self.shaping.marks[name]
            else:
                self.timed |= serials

    def _made_elsewhere(self) -> int:
        """Return the marks of what rungs may have made that were left out before the step."""
        calls = None if self._before is None else self._before.calls
        if calls is None or isinstance(calls, SymbolicPart):
            return reduce(or_, self.shaping.marks.values(), 0)
        return reduce(or_, [self.shaping.marks[call.name] for call in calls if call.serial == UNKNOWN_CALLER], 0)

    def gone_askers(self) -> int:
        """Return the marks of the calls that rungs made which were left out, and went."""
        if self._before is None:
            return 0
        ladder = self._before.ladder
        if isinstance(ladder, OpaqueLadder):
            return cast("OpaqueRung", ladder[-1]).askers
        return reduce(or_, [cut.askers for cut in each_cut(ladder) if cut.number not in self._kept], 0)

    def asked(self, call: PendingCall) -> PendingCall:
        """Name the rung that made a call as it stands in the shape, -1 where it is gone."""
        if call.serial == 0:
            return call
        alike = self.shaping.alike.get((call.where, call.name), call.where)
        if call.serial == UNKNOWN_CALLER and self.hidden & self.shaping.marks[call.name]:
            return call
        if call.serial in self.left_out:
            own = call.where == self.left_out[call.serial]
            return replace(call, serial=UNKNOWN_CALLER, where=alike, data=OWN) if own else replace(call, serial=UNKNOWN_CALLER)
        number = self.numbers.get(call.serial, -1)
        return replace(call, serial=number, where=alike if number < 0 else call.where, data=NOBODY)

    def ladder(self, ladder: Ladder, *, seen: bool, in_flow: bool = False) -> Ladder:
        if not ladder:
            return ()
        first, alone = ladder[0], seen and len(ladder) == 1
        stays = alone or in_flow or self._stays(first)
        rungs = [self._rung(first, seen=alone) if stays else self._cut([first])]
        run: list[Rung] = []
        for rung in ladder[1:]:
            top = seen and rung is ladder[-1]
            if not top and not self._stays(rung):
                run.append(rung)
                continue
            rungs += [self._cut(run)] if run else []
            rungs.append(self._rung(rung, seen=top))
            run = []
        return (*rungs, self._cut(run)) if run else tuple(rungs)

    def _stays(self, rung: Rung) -> bool:
        """Whether something knows of a rung, or of what is inside it, so that it cannot be left out."""
        if rung.cut:
            return False
        if rung.serial in self.known or rung.overlays or any(mark.overlay for mark in rung.data.awaits):
            return True
        # Whether something was left out inside already must make no difference.
        return any(
            len(rung.inner) > 1 or len(inner) > 1 or part.serial in self.made or self._stays(part)
            for inner in rung.inner
            for part in inner
        )

    def _part(self, rung: Rung) -> Rung | int:
        """Say what is left out: a rung without serials, or the number of a cut."""
        if not rung.cut:
            self.left_out[rung.serial] = rung.data.screen
            self.hidden |= self.made.get(rung.serial, 0)
            return Rung(rung.data, self.made.get(rung.serial, 0), _nameless(rung.inner) if rung.inner else ())
        left_out = cast("SymbolicRungs", rung)
        self._kept.add(left_out.number)
        made = answered(left_out.rest, ASKERS)
        kept = left_out.number if left_out.as_is else left_out.number | AS_SAVED
        return kept | (self._over if made is None or not left_out.as_is else self._over & made) << MARKS

    def _rung(self, rung: Rung, *, seen: bool) -> Rung:
        number = self.numbers[rung.serial] = len(self.numbers)
        if rung.cut:
            return rung
        if rung.overlays:
            self.layers.update(layer.serial for layer in rung.overlays)
        if not rung.inner:
            return Rung(rung.data, number, (), rung.overlays)
        front = rung.data.tab_order[-1]
        if len(rung.inner) == 1:
            return Rung(rung.data, number, (self.ladder(rung.front, seen=seen, in_flow=True),), rung.overlays)
        inner = tuple([self._tab(part, seen=seen and place == front) for place, part in enumerate(rung.inner)])
        return Rung(rung.data, number, inner, rung.overlays)

    def _tab(self, ladder: Ladder, *, seen: bool) -> Ladder:
        """Leave out a ladder inside tabs as a whole if it is not seen and nothing knows of it."""
        if seen or any(self._stays(rung) for rung in ladder):
            return self.ladder(ladder, seen=seen)
        return hidden(self._left_out(ladder))

    def _cut(self, middle: Iterable[Rung]) -> Rung:
        return cut(self._left_out(middle))

    def _left_out(self, middle: Iterable[Rung]) -> int:
        """Make a tail, and return its number."""
        parts = [self._part(rung) for rung in middle]
        first = parts[0] if parts else -1
        self.tails.append((first, tuple(parts[1:])) if isinstance(first, int) else (-1, tuple(parts)))
        return len(self.tails) - 1


def _nameless(ladders: tuple[Ladder, ...]) -> tuple[Ladder, ...]:
    """Return what is inside a rung without serials, as it stands in a tail."""
    return tuple(tuple(Rung(rung.data, 0, _nameless(rung.inner)) for rung in ladder) for ladder in ladders)


def _renumbered(ladder: Ladder, numbers: dict[int, int]) -> Ladder:
    """Number the overlays of rungs that are numbered already."""
    if isinstance(ladder, SymbolicLadder):
        return ladder
    return tuple(
        rung
        if rung.cut
        else Rung(
            rung.data,
            rung.serial,
            tuple(_renumbered(inner, numbers) for inner in rung.inner),
            _layers(rung.overlays, numbers),
        )
        for rung in ladder
    )


def _layers(layers: Iterable[OverlayInstance], numbers: dict[int, int]) -> tuple[OverlayInstance, ...]:
    return tuple([replace(layer, serial=numbers[layer.serial], asker=numbers.get(layer.asker, 0)) for layer in layers])
