"""What a state leaves out: the rest of a ladder that nobody looked at, and facts that nobody read.

The sweep runs `step`'s own two halves on states in which all but the head is left out. Whatever looks at something that is
left out is stopped by `Look`, and is run again with that one thing put in. What it does without a look it does for every
state that differs in nothing else: so each decision is made once.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, NoReturn, Self

if TYPE_CHECKING:
    from wise_ladder.ladder.state import Face, Ladder, Layer


class Look(Exception):  # noqa: N818 - a question is no error
    """Something that was left out is looked at: a fact's value, the highest rung of a part of a ladder, or the asker in it."""

    def __init__(self, what: Literal["fact", "rung", "asker"], number: int, mark: int = 0) -> None:
        """Name it by the place of the fact, or the number of the cut; `mark`: of which call the asker is."""
        super().__init__(what, number, mark)
        self.what, self.number, self.mark = what, number, mark


class Cut:
    """Stands in a ladder for rungs that were left out: for one where it is the lowest, else for one or several.

    None of them is known to timers, overlays or guards that come first; `askers` are the marks of the calls under way that
    they made, one bit each. `quiet` says what else can come of them: 0 who knows, 1 they can be saved as they are, 2 they can
    go too: nothing is awaited, nothing held, and no move at `left` and no guard that must be asked stands on them.
    """

    __slots__ = ("askers", "number", "plain", "quiet", "saved", "serial")

    cut = True
    inner: tuple[Ladder, ...] = ()
    layers: tuple[Layer, ...] = ()

    def __init__(self, number: int, quiet: int, askers: int = 0) -> None:
        """Number the cuts of a state from 0."""
        self.number, self.quiet, self.askers, self.serial = number, quiet, askers, -2 - number
        self.saved, self.plain = quiet >= 1, quiet == 2

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Cut) and (self.number, self.quiet, self.askers) == (other.number, other.quiet, other.askers)

    def __hash__(self) -> int:
        return hash((self.number, self.quiet, self.askers))

    @property
    def face(self) -> Face:
        """Whoever wants to see it must look."""
        self._look()

    @property
    def front(self) -> Ladder:
        """Whoever goes through it must look."""
        self._look()

    def _look(self) -> NoReturn:
        raise Look("rung", self.number)


class Unread(str):
    """Stands for the value of a fact that nobody read; it can be kept and replaced, but compared with nothing but itself."""

    __slots__ = ("place",)

    place: int

    def __new__(cls, place: int) -> Self:
        """Stand for the fact at a place."""
        found = super().__new__(cls, f"\0{place}")
        found.place = place
        return found

    def __eq__(self, other: object) -> bool:
        if other is self:
            return True
        raise Look("fact", self.place)

    def __ne__(self, other: object) -> bool:
        return not self == other

    __hash__ = str.__hash__


UNREAD = tuple(Unread(place) for place in range(256))
"""One for each place, so that two states that left out the same fact are equal."""
