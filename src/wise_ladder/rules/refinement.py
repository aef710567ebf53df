"""Putting back what a shape left out: rungs, values of facts, and callers."""

from __future__ import annotations

from itertools import count
from typing import TYPE_CHECKING, TypeAlias, cast

from msgspec.structs import replace

from wise_ladder.rules.in_flight import NOBODY, OWN, InFlight
from wise_ladder.semantics.state import Rung
from wise_ladder.semantics.symbolic import (
    ASKERS,
    OF_ALL,
    UNKNOWN_CALLER,
    RestAnswer,
    SymbolicFact,
    SymbolicLadder,
    SymbolicPart,
    answered,
    cut,
    untold,
)

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from wise_ladder.rules.abstraction import Abstraction, Valuation
    from wise_ladder.rules.zones import Zone
    from wise_ladder.semantics.state import Ladder, PendingCall, State
    from wise_ladder.semantics.symbolic import SearchTarget, SymbolicRungs


class Refiner:
    """Puts rungs back in the place of cuts, and names them to the calls they made."""

    def __init__(self, marks: dict[str, int], state: State) -> None:
        """Take a state, and the marks of its plan's calls."""
        self._marks, self._state, self._free = marks, state, _free(state)
        self._askers: dict[int, Rung] = {}

    def with_top(self, number: int, rung: Rung, *, rest: bool) -> State:
        """Put the highest rung of a cut back; `rest`: whether there is more beneath."""
        return self._instead(number, ((rest, number),), (rung,))

    def parted(  # noqa: PLR0913 - the parts of a row
        self,
        number: int,
        rungs: Ladder,
        lower: bool,
        upper: bool,
        new: int,
        sought: SearchTarget | None,
        *,
        whole: bool,
    ) -> State:
        """Put a rung back that lies inside a cut, and give what is over it a new number; what was sought is not there.

        For a `whole` ladder it is the top, if there is one, and the new number is for the rungs between that and the lowest.
        """
        if whole:
            return self._instead(number, ((lower, number), (upper, new)), rungs)
        return self._instead(number, ((lower, number),), rungs, ((upper, new),), frozenset({sought} if sought else ()))

    def with_absent(self, number: int, sought: SearchTarget | None) -> State:
        """Note that what was sought in a cut is not there."""
        assert sought is not None  # noqa: S101 - only what was sought can be lacking

        def without(cut: SymbolicRungs) -> Ladder | None:
            return (cast("Rung", cut.without(sought)),) if cut.number == number else None

        return self._done(_each_cut(self._state.ladder, without))

    def with_answer(self, number: int, answer: RestAnswer) -> State:
        """Note what can come of a cut."""

        def told(cut: SymbolicRungs) -> Ladder | None:
            return (cast("Rung", cut.with_answer(answer)),) if cut.number == number else None

        return self._done(_each_cut(self._state.ladder, told))

    def with_answer_of_all(self, answer: RestAnswer) -> State:
        """Note what can come of all that is left out: it is so of each cut, or it is not known of which."""
        of_each = not answer.value if answer.mark == ASKERS else bool(answer.value)
        noted = answer if of_each else RestAnswer(answer.mark | OF_ALL, 0)

        def told(cut: SymbolicRungs) -> Ladder | None:
            return (cast("Rung", cut.with_answer(noted)),) if answered(cut.rest, answer.mark) is None else None

        return self._done(_each_cut(self._state.ladder, told))

    def with_found(self, sought: SearchTarget, *, anywhere: bool) -> State:
        """Note whether something is anywhere in what is left out."""

        def told(cut: SymbolicRungs) -> Ladder:
            return (cast("Rung", cut.with_try(sought) if anywhere else cut.without(sought)),)

        return self._done(_each_cut(self._state.ladder, told))

    def concrete(self, left_out: Callable[[SymbolicRungs], Ladder]) -> State:
        """Put back all that was left out."""
        return self._done(_each_cut(self._state.ladder, lambda cut: self._named(left_out(cut))))

    def _instead(
        self, number: int, lower: _Rests, rungs: Ladder, upper: _Rests = (), lacks: frozenset[SearchTarget] = frozenset()
    ) -> State:
        back = (*_still_cut(lower), *self._named(rungs), *_still_cut(upper, lacks))
        return self._done(_each_cut(self._state.ladder, lambda cut: back if cut.number == number else None))

    def _named(self, ladder: Ladder) -> Ladder:
        rungs = []
        for rung in ladder:
            serial = next(self._free)
            inner = tuple(self._named(part) for part in rung.inner)
            rungs.append(Rung(rung.data, serial, inner, rung.overlays))
            if rung.serial:
                self._askers[rung.serial] = rungs[-1]
        return tuple(rungs)

    def _done(self, ladder: Ladder) -> State:
        calls = self._state.calls
        if isinstance(calls, SymbolicPart):
            if self._askers:
                raise calls.look()
            return replace(self._state, ladder=ladder)
        return replace(self._state, ladder=ladder, calls=tuple(self._told(call) for call in calls))

    def _told(self, call: PendingCall) -> PendingCall:
        for marks, rung in self._askers.items():
            if call.serial == UNKNOWN_CALLER and marks & self._marks[call.name]:
                where = rung.data.screen if call.data == OWN else call.where
                return replace(call, serial=rung.serial, where=where, data=NOBODY)
        return call


_Rests: TypeAlias = "tuple[tuple[bool, int], ...]"
"""For each cut whether there are rungs that it stands for, and its number."""


def _still_cut(rests: _Rests, lacks: frozenset[SearchTarget] = frozenset()) -> Ladder:
    return tuple(cut(number, lacks) for rest, number in rests if rest)


def _free(state: State) -> Iterator[int]:
    highest = max((layer.serial for layer in state.overlays), default=0)
    return count(max(highest, _highest(state.ladder)) + 1)


def _each_cut(ladder: Ladder, instead: Callable[[SymbolicRungs], Ladder | None]) -> Ladder:
    if isinstance(ladder, SymbolicLadder):
        (rung,) = ladder
        other = instead(cast("SymbolicRungs", rung))
        if other is not None and len(other) == 1 and other[0].cut and cast("SymbolicRungs", other[0]).what == "ladder":
            return SymbolicLadder(other)
        return ladder if other is None else other
    rungs: list[Rung] = []
    for rung in ladder:
        if rung.cut:
            other = instead(cast("SymbolicRungs", rung))
            rungs += (rung,) if other is None else other
        elif rung.inner:
            inner = tuple(_each_cut(part, instead) for part in rung.inner)
            rungs.append(Rung(rung.data, rung.serial, inner, rung.overlays))
        else:
            rungs.append(rung)
    return tuple(rungs)


def _highest(ladder: Ladder) -> int:
    """Return the highest serial of rungs and overlays."""
    highest = 0
    for rung in ladder:
        if not rung.cut:
            highest = max(
                highest, rung.serial, *(layer.serial for layer in rung.overlays), *(_highest(inner) for inner in rung.inner)
            )
    return highest


def put_in(shaping: Abstraction, state: State, place: int, value: object) -> tuple[State, Zone]:
    """Put in the value of what was left out; of what is pending since when comes with it."""
    if isinstance(value, InFlight):
        return replace(state, deadlines=value.pending, calls=value.calls), value.zone
    if isinstance(value, frozenset):
        known = cast("SymbolicPart", state.calls).known
        assert known.names is None, "nobody asks twice"  # noqa: S101 - or it would never end
        return replace(state, calls=untold(place, known=known._replace(names=value))), ()
    if place == shaping.held:
        return replace(state, held_link=value), ()
    if place == shaping.wanted:
        return replace(state, wanted=value), ()
    if place == shaping.stopped:
        assert state.question is not None, "nobody asks without a question"  # noqa: S101 - no value of a state without one
        return replace(state, question=replace(state.question, stopped=value)), ()
    return replace(state, facts=(*state.facts[:place], str(value), *state.facts[place + 1 :])), ()


def changes(facts: Valuation) -> tuple[tuple[int, object], ...]:
    """List the facts that have a value now whatever they had before: place and value."""
    return tuple([(place, value) for place, value in enumerate(facts) if not isinstance(value, (SymbolicFact, SymbolicPart))])
