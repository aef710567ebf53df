"""Taking one state apart: which rungs stay in its shape, and how the rows of those that do not are made."""

from __future__ import annotations

from collections import Counter
from functools import reduce
from operator import or_
from typing import TYPE_CHECKING, TypeAlias, cast

from msgspec.structs import replace

from wise_ladder.plan import operations, triggers
from wise_ladder.rules.in_flight import NOBODY, OWN, InFlight, by_name
from wise_ladder.semantics.conditions import uses_only_facts
from wise_ladder.semantics.opaque import OpaqueLadder
from wise_ladder.semantics.serials import serials_of
from wise_ladder.semantics.state import OverlayInstance, PendingCall, Rung, State, all_rungs
from wise_ladder.semantics.symbolic import (
    ASKERS,
    UNKNOWN_CALLER,
    RefinementNeeded,
    SymbolicLadder,
    SymbolicPart,
    answered,
    cut,
    each_cut,
    hidden,
)

if TYPE_CHECKING:
    from collections.abc import Iterable

    from wise_ladder.plan.model import Move, Plan
    from wise_ladder.semantics.opaque import OpaqueRung
    from wise_ladder.semantics.state import Ladder
    from wise_ladder.semantics.symbolic import PendingKnowledge, SymbolicRungs

StackRecipe: TypeAlias = "tuple[int, tuple[Rung | int, ...]]"
"""A tail as it is made: the number of the cut it grows from (-1: none), and what is put over that: rungs, or whole tails.

Where rungs of a cut made calls that are over, the marks of these stand `MARKS` bits above its number; where they are saved,
`AS_SAVED` is added.
"""
MARKS = 16
AS_SAVED = 1 << MARKS - 1
LAYERS = 1 << 20
"""The lowest serial of an overlay in a shape, so that it does not depend on how many rungs there are."""


class Callers:
    """Tells which rungs made the calls that are pending, and which rungs guards and questions refer to."""

    def __init__(self, plan: Plan) -> None:
        """Look which places take which replies."""
        self._first_shown = any(move.trigger == triggers.ShownTrigger(first=True) for move in plan.moves)
        wanted: dict[tuple[str | None, str], frozenset[str]] = {}
        bound: set[tuple[str | None, str]] = set()
        for move in plan.moves:
            if isinstance(move.trigger, triggers.ReplyTrigger):
                key = move.owner, move.trigger.call
                wanted[key] = wanted.get(key, frozenset()) | {move.trigger.outcome}
                bound |= set() if _free_of_place(move) else {key}
        first: dict[tuple[str, frozenset[str]], str | None] = {}
        self.alike = {(where, name): first.setdefault((name, outcomes), where) for (where, name), outcomes in wanted.items()}
        """By place and call: the place that stands for all that want the same replies."""
        stands_for = Counter((where, name) for (_, name), where in self.alike.items())
        self.free_of_place = {key for key, places in stands_for.items() if places == 1} - bound
        """The places and calls whose replies do the same wherever the caller stands."""
        self.marks = {call.name: 1 << place for place, call in enumerate(plan.calls)}

    def callers_gone(self, under_way: InFlight, lost: int) -> InFlight:
        """Return what is pending where rungs that were left out and made calls of these marks are gone."""
        calls = [
            replace(call, serial=-1, where=self.alike.get((call.where, call.name), call.where), data=NOBODY)
            if call.serial == UNKNOWN_CALLER and self.marks[call.name] & lost
            else call
            for call in under_way.calls
        ]
        return InFlight(under_way.pending, tuple(calls), under_way.zone)

    def asked(self, call: PendingCall) -> PendingCall:
        """Forget the caller of a call if no move there takes its reply."""
        if call.serial == 0:
            return call
        if (call.where, call.name) in self.alike:
            return call if call.data == OWN else replace(call, data=NOBODY)
        return replace(call, serial=-1, where="", data=NOBODY)

    def by_itself(self, call: PendingCall) -> bool:
        """Whether the reply to a call can be decided without a word about its caller, as it stands in a shape."""
        return call.serial <= 0 and (call.serial != UNKNOWN_CALLER or (call.where, call.name) in self.free_of_place)

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


def _free_of_place(move: Move) -> bool:
    """Whether a move does the same wherever it stands: it asks only for facts of the app, and only sets such facts."""
    sets = all(isinstance(each, operations.SetFact) and isinstance(each.value, str) for each in move.operations)
    return sets and (move.condition is None or uses_only_facts(move.condition))


class Cutting:
    """One state that is taken apart."""

    def __init__(self, shaping: Callers, state: State, before: State | None) -> None:
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
            self._over = self._over_by_now(cast("SymbolicPart", state.calls).known)
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
        calls = sorted(state.calls, key=by_name)
        self.calls = [self.shaping.asked(call if call.serial in standing else replace(call, serial=-1)) for call in calls]
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

    def _over_by_now(self, known: PendingKnowledge) -> int:
        """Return the marks of calls that are known to be over, where what else is pending was not looked at."""
        names, replied = [*known.dropped], known.replied
        if replied is not None and replied.call.serial == UNKNOWN_CALLER:
            names.append(replied.call.name)
        return reduce(or_, [self.shaping.marks[name] for name in names], 0)

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


def rungs_numbered(ladder: Ladder, numbers: dict[int, int]) -> Ladder:
    """Number the overlays of rungs that are numbered already."""
    if isinstance(ladder, SymbolicLadder):
        return ladder
    return tuple(
        rung
        if rung.cut
        else Rung(
            rung.data,
            rung.serial,
            tuple(rungs_numbered(inner, numbers) for inner in rung.inner),
            layers_numbered(rung.overlays, numbers),
        )
        for rung in ladder
    )


def layers_numbered(layers: Iterable[OverlayInstance], numbers: dict[int, int]) -> tuple[OverlayInstance, ...]:
    return tuple([replace(layer, serial=numbers[layer.serial], asker=numbers.get(layer.asker, 0)) for layer in layers])
