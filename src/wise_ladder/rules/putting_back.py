"""Putting back into a shape what was left out: rungs, the values of facts, and who made a call."""

from __future__ import annotations

from itertools import count
from typing import TYPE_CHECKING, TypeAlias, cast

from msgspec.structs import replace

from wise_ladder.ladder.cutting import Hidden, Unread, Untold, cut
from wise_ladder.ladder.state import Rung
from wise_ladder.rules.shapes import ELSEWHERE, NOBODY, OWN, Rest

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from wise_ladder.ladder.cutting import Cut, Sought
    from wise_ladder.ladder.state import Calling, Ladder, State
    from wise_ladder.rules.shapes import Facts


class PuttingBack:
    """Puts rungs back in the place of cuts, and names them to the calls they made."""

    def __init__(self, marks: dict[str, int], state: State) -> None:
        """Take a state, and the marks of its plan's calls."""
        self._marks, self._state, self._free = marks, state, _free(state)
        self._askers: dict[int, Rung] = {}

    def opened(self, number: int, rung: Rung, rest: Rest | None) -> State:
        """Put the highest rung of a cut back; None: there is no rest."""
        return self._instead(number, ((rest, number),), (rung,))

    def parted(  # noqa: PLR0913 - the parts of a row
        self,
        number: int,
        rungs: Ladder,
        lower: Rest | None,
        upper: Rest | None,
        new: int,
        sought: Sought | None,
        *,
        whole: bool,
    ) -> State:
        """Put a rung back that lies inside a cut, and give what lies over it a new number; what was sought is not there.

        Of a `whole` ladder it is the top, if it has one, and the new number is for what lies between that and the lowest.
        """
        if whole:
            return self._instead(number, ((lower, number), (upper, new)), rungs)
        return self._instead(number, ((lower, number),), rungs, ((upper, new),), frozenset({sought} if sought else ()))

    def lacking(self, number: int, sought: Sought | None) -> State:
        """Note that what was sought in a cut is not there."""
        assert sought is not None  # noqa: S101 - only what was sought can be lacking

        def without(cut: Cut) -> Ladder | None:
            return (cast("Rung", cut.without(sought)),) if cut.number == number else None

        return self._done(_each_cut(self._state.ladder, without))

    def whole(self, left_out: Callable[[Cut], Ladder]) -> State:
        """Put back all that was left out."""
        return self._done(_each_cut(self._state.ladder, lambda cut: self._named(left_out(cut))))

    def _instead(
        self, number: int, lower: _Rests, rungs: Ladder, upper: _Rests = (), lacks: frozenset[Sought] = frozenset()
    ) -> State:
        back = (*_still_cut(lower), *self._named(rungs), *_still_cut(upper, lacks))
        return self._done(_each_cut(self._state.ladder, lambda cut: back if cut.number == number else None))

    def _named(self, ladder: Ladder) -> Ladder:
        found = []
        for rung in ladder:
            serial = next(self._free)
            inner = tuple(self._named(part) for part in rung.inner)
            found.append(Rung(rung.face, serial, inner, rung.layers))
            if rung.serial:
                self._askers[rung.serial] = found[-1]
        return tuple(found)

    def _done(self, ladder: Ladder) -> State:
        calls = self._state.calls
        if isinstance(calls, Untold):
            if self._askers:
                raise calls.look()
            return replace(self._state, ladder=ladder)
        return replace(self._state, ladder=ladder, calls=tuple(self._told(call) for call in calls))

    def _told(self, call: Calling) -> Calling:
        for marks, rung in self._askers.items():
            if call.serial == ELSEWHERE and marks & self._marks[call.name]:
                where = rung.face.screen if call.face == OWN else call.where
                return replace(call, serial=rung.serial, where=where, face=NOBODY)
        return call


_Rests: TypeAlias = "tuple[tuple[Rest | None, int], ...]"


def _still_cut(rests: _Rests, lacks: frozenset[Sought] = frozenset()) -> Ladder:
    return tuple(cut(number, *rest, lacks) for rest, number in rests if rest is not None)


def _free(state: State) -> Iterator[int]:
    highest = max((layer.serial for layer in state.layers), default=0)
    return count(max(highest, _highest(state.ladder)) + 1)


def _each_cut(ladder: Ladder, instead: Callable[[Cut], Ladder | None]) -> Ladder:
    if isinstance(ladder, Hidden):
        (rung,) = ladder
        other = instead(cast("Cut", rung))
        if other is not None and len(other) == 1 and other[0].cut and cast("Cut", other[0]).what == "ladder":
            return Hidden(other)
        return ladder if other is None else other
    found: list[Rung] = []
    for rung in ladder:
        if rung.cut:
            other = instead(cast("Cut", rung))
            found += (rung,) if other is None else other
        elif rung.inner:
            inner = tuple(_each_cut(part, instead) for part in rung.inner)
            found.append(Rung(rung.face, rung.serial, inner, rung.layers))
        else:
            found.append(rung)
    return tuple(found)


def _highest(ladder: Ladder) -> int:
    """Return the highest serial of rungs and overlays."""
    found = 0
    for rung in ladder:
        if not rung.cut:
            found = max(
                found, rung.serial, *(layer.serial for layer in rung.layers), *(_highest(inner) for inner in rung.inner)
            )
    return found


def read(state: State, place: int, value: str) -> State:
    """Put in the value of a fact that was left out."""
    return replace(state, facts=(*state.facts[:place], value, *state.facts[place + 1 :]))


def changes(facts: Facts) -> tuple[tuple[int, object], ...]:
    """List the facts that have a value now whatever they had before: place and value."""
    return tuple([(place, value) for place, value in enumerate(facts) if not isinstance(value, (Unread, Untold))])
