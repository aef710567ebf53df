"""What choices usually look at next: where it was always the same so far, it is not found out by trying again.

To look at something in vain only tells cases apart that come to the same.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.rules.in_flight import InFlight
from wise_ladder.semantics.opaque import OpaqueLadder
from wise_ladder.semantics.symbolic import OF_ALL, SymbolicFact, answered, each_cut

if TYPE_CHECKING:
    from collections.abc import Hashable

    from wise_ladder.semantics.state import State
    from wise_ladder.semantics.symbolic import RefinementNeeded


class UsualLooks:
    """The looks of all choices so far, by the trail that led to each: the choice, where it was made, and what was seen."""

    def __init__(self) -> None:
        """Begin with none."""
        self._trails: dict[Hashable, int] = {}
        self._next: dict[int, RefinementNeeded | None] = {}
        """None: not always the same."""

    def begin(self, choice: Hashable, state: State) -> int:
        """Return the number of a trail on which nothing was looked at yet."""
        cuts = None if isinstance(state.ladder, OpaqueLadder) else tuple([cut.what for cut in each_cut(state.ladder)])
        guard = None if state.question is None else state.question.guard
        return self._trail((choice, cuts, guard, state.cover, tuple([layer.name for layer in state.overlays])))

    def after(self, trail: int, look: RefinementNeeded, seen: Hashable) -> int:
        """Return the number of a trail that goes on with a look and what is seen there."""
        told = seen if look.what != "rung" and not isinstance(seen, InFlight) else None
        return self._trail((trail, look.what, look.number, look.mark, look.sought, told))

    def _trail(self, trail: Hashable) -> int:
        return self._trails.setdefault(trail, len(self._trails))

    def note(self, trail: int, look: RefinementNeeded | None) -> None:
        """Note what a choice looked at next on a trail; None: nothing."""
        known = self._next.setdefault(trail, look)
        if known is not None and (look is None or known.args != look.args):
            self._next[trail] = None

    def guess(self, trail: int, state: State) -> RefinementNeeded | None:
        """Return what is usually looked at next on a trail, None if that is not known, or not left out of this state."""
        look = self._next.get(trail)
        return look if look is not None and _is_left_out(state, look) else None


def _is_left_out(state: State, look: RefinementNeeded) -> bool:
    """Whether a state leaves out what a look asks for: a fact of the app, the highest rung of a row, what can come of rows."""
    if look.what == "fact":
        return look.number < len(state.facts) and isinstance(state.facts[look.number], SymbolicFact)
    if isinstance(state.ladder, OpaqueLadder):
        return False
    cuts = list(each_cut(state.ladder))
    if look.what == "rests":
        return any(answered(cut.rest, look.mark) is None and answered(cut.rest, look.mark | OF_ALL) is None for cut in cuts)
    if look.what == "sought anywhere":
        return any(look.sought not in cut.lacks and look.sought not in cut.tried for cut in cuts)
    if look.what == "rest":
        return any(cut.number == look.number and answered(cut.rest, look.mark) is None for cut in cuts)
    return look.what == "rung" and any(cut.number == look.number and cut.what == "rung" for cut in cuts)
