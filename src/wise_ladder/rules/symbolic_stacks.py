"""Rows of rungs as numbers, so that equal ones are one, and what is done with many of them at once.

A tail is the number of a row of rungs: of another tail, its rest, and the number of a rung on top (hash consing; Ershov
1958). The tails of a state are packed into one whole number, its bundle, `STACK_BITS` for each.
"""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, NamedTuple, TypeAlias

from wise_ladder.rules.cutting import AS_SAVED, MARKS
from wise_ladder.semantics.paths import rung_matches
from wise_ladder.semantics.state import Rung, RungData, all_rungs
from wise_ladder.semantics.symbolic import QUIET, StackRest

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.rules.abstraction import Abstraction
    from wise_ladder.semantics.state import Ladder
    from wise_ladder.semantics.symbolic import RestAnswer, SearchTarget

STACK_BITS = 24
STACK_MASK = (1 << STACK_BITS) - 1
NUMBER = AS_SAVED - 1
EMPTY = 0
"""The tail without rungs."""
StackRecipes: TypeAlias = "tuple[tuple[int, tuple[int, ...]], ...]"
"""How tails are made of others, each as `StackRecipe` says it, but rungs by the complements of their numbers."""
SplitKey: TypeAlias = "tuple[int, bool, bool]"
"""A rung's number, and whether there are rungs beneath it and over it."""


WHOLE = 0
"""Stands for the mark of a call where a tail is a whole ladder: it is parted between the lowest rung and the rest."""
ABSENT: SplitKey = (-2, False, False)
"""What is seen of a tail in which something is sought that is not there."""


class Found(NamedTuple):
    """Whether what is sought is anywhere in what is left out."""

    anywhere: bool


class Split(NamedTuple):
    """A tail that is split at a rung: the tail beneath the rung, the tail over it, and what is seen there.

    For a whole ladder: the lowest rung, the rungs between, and what is seen at its top; a rung that stands alone is in neither.
    """

    lower: int
    upper: int
    seen: SplitKey


class StackTable:
    """The rows of rungs that a plan's states leave out."""

    def __init__(self, shaping: Abstraction) -> None:
        """Begin with the empty one."""
        self._shaping = shaping
        self.rungs: list[Rung] = []
        self._kinds: list[tuple[int, int]] = []
        """For each rung: which calls it made, and how quiet it is."""
        self._rung_of: dict[Rung, int] = {}
        self._rests, self._tops = [EMPTY], [-1]
        self._sights = [-1]
        """For each tail: what is seen at its top."""
        self._can: list[StackRest] = [StackRest(QUIET, 0)]
        """For each tail: what can come of it, equal ones but once."""
        self._once = {self._can[0]: self._can[0]}
        self._tail_of: dict[int, int] = {}
        """The tail with a given rest and top rung; the key is both numbers in one."""
        self._parted: dict[int, Split] = {}
        """The split of a tail at the rung of a mark; the key is both numbers in one."""
        self._seen: dict[SplitKey, SplitKey] = {}
        self._sought: list[tuple[SearchTarget, bool]] = []
        self._mark_of: dict[tuple[SearchTarget, bool], int] = {}
        self._joints: dict[int, int] = {}
        self._changed: dict[tuple[int, int], int] = {}

    def intern_rung(self, rung: Rung) -> int:
        """Number a rung of a tail."""
        number = self._rung_of.get(rung)
        if number is None:
            number = self._rung_of[rung] = len(self.rungs)
            self.rungs.append(rung)
            self._kinds.append((rung.serial, self._shaping.quiet(rung)))
        return number

    def kind(self, number: int) -> tuple[int, int]:
        """Return the marks of the calls that a rung made, and how quiet it is."""
        return self._kinds[number]

    def changed(self, number: int, part: int) -> int:
        """Number a rung as a part of a recipe says it: without the marks of calls that are over, or as it is saved."""
        rung = self.rungs[number]
        if part & AS_SAVED:
            rung = self._shaping.as_saved(rung)
        return self.intern_rung(Rung(rung.data, rung.serial & ~(part >> MARKS), rung.inner))

    def sought(self, mark: int) -> tuple[SearchTarget, bool]:
        """Return what a negative mark stands for, and whether it is sought in a whole ladder."""
        return self._sought[~mark]

    def finder(self, mark: int) -> Callable[[int], bool]:
        """Return what tells of the number of a rung whether it is the one of a mark: the asker, or what is sought."""
        if mark >= 0:
            return lambda number: bool(self.rungs[number].serial & mark)
        return partial(self._fits, self.sought(mark)[0])

    def sight(self, number: int, *, rest: bool) -> int:
        """Return the number of what is seen at the top of a tail: its rung, and whether there is more beneath."""
        return number << 1 | rest

    def rest(self, above: StackRest, number: int) -> StackRest:
        """Return what can come of rungs and of the rung of a number over them."""
        made, quiet = self._kinds[number]
        can = StackRest(above.quiet & quiet, above.askers | made)
        return self._once.setdefault(can, can)

    def _new(self, rest: int, number: int) -> int:
        """Make the tail that has the rung of a number on top of another tail."""
        tail = self._tail_of[rest << STACK_BITS | number] = len(self._rests)
        self._rests.append(rest)
        self._tops.append(number)
        self._sights.append(self.sight(number, rest=rest != EMPTY))
        self._can.append(self.rest(self._can[rest], number))
        return tail

    def ladder(self, bundle: int, place: int) -> Ladder:
        """Return the rungs of one tail of a bundle, lowest first."""
        return tuple(self.rungs[number] for number in self.numbers(bundle, place))

    def numbers(self, bundle: int, place: int) -> list[int]:
        """List the numbers of the rungs of one tail of a bundle, lowest first."""
        return self._numbers(bundle >> STACK_BITS * place & STACK_MASK)

    def top(self, sight: int) -> tuple[Rung, bool]:
        """Return what is seen at the top of a tail: its rung, and whether there is more beneath."""
        return self.rungs[sight >> 1], bool(sight & 1)

    def rebuild(self, bundles: list[int], made: StackRecipes) -> list[int]:
        """Make tails so from others."""
        kept = 0
        while kept < len(made) and made[kept] == (kept, ()):
            kept += 1
        mask = (1 << STACK_BITS * kept) - 1
        rest = [(STACK_BITS * place, source, over) for place, (source, over) in enumerate(made[kept:], kept)]
        tail_of, numbers = self._tail_of, []
        for bundle in bundles:
            now = bundle & mask
            for shift, source, over in rest:
                tail = EMPTY if source < 0 else self._named(bundle, source)
                for part in over:
                    if part < 0:
                        tail = tail_of.get(tail << STACK_BITS | ~part) or self._new(tail, ~part)
                    else:
                        tail = self._joined(tail, self._named(bundle, part))
                now |= tail << shift
            numbers.append(now)
        return numbers

    def _named(self, bundle: int, part: int) -> int:
        """Return the tail that a part speaks of, as it says."""
        tail, other = bundle >> STACK_BITS * (part & NUMBER) & STACK_MASK, part & ~NUMBER
        if not other:
            return tail
        changed = self._changed.get((tail, other))
        if changed is None:
            numbers = [self.changed(number, other) for number in self._numbers(tail)]
            changed = self._changed[tail, other] = self._over(EMPTY, numbers)
        return changed

    def _joined(self, lower: int, upper: int) -> int:
        """Return the tail that has the rungs of one over those of another."""
        number = self._joints.get(lower << STACK_BITS | upper)
        if number is None:
            number = self._joints[lower << STACK_BITS | upper] = self._over(lower, self._numbers(upper))
        return number

    def _over(self, tail: int, numbers: list[int]) -> int:
        for number in numbers:
            tail = self._tail_of.get(tail << STACK_BITS | number) or self._new(tail, number)
        return tail

    def search_key(self, sought: SearchTarget, *, whole: bool) -> int:
        """Return a mark for what is sought: where it is, a tail is parted at the highest one, a whole ladder as ever.

        It is negative: those of calls are not.
        """
        mark = self._mark_of.get((sought, whole))
        if mark is None:
            mark = self._mark_of[sought, whole] = ~len(self._sought)
            self._sought.append((sought, whole))
        return mark

    def _part(self, tail: int, mark: int) -> Split:
        """Part a tail at the rung of a mark, or a whole ladder."""
        lower, upper, whole = tail, [], mark == WHOLE
        has_mark = self.finder(mark)
        if mark < 0:
            whole = self.sought(mark)[1]
            if not any(map(has_mark, self._numbers(tail))):
                split = self._parted[mark << STACK_BITS | tail] = Split(tail, EMPTY, ABSENT)
                return split
        if whole:
            number, numbers = self._tops[tail], self._numbers(self._rests[tail])
            lower, over = self._over(EMPTY, numbers[:1]), self._over(EMPTY, numbers[1:])
        else:
            while not has_mark(self._tops[lower]):
                upper.append(self._tops[lower])
                lower = self._rests[lower]
            number, lower, over = self._tops[lower], self._rests[lower], self._over(EMPTY, upper[::-1])
        seen = number, lower != EMPTY, over != EMPTY
        split = self._parted[mark << STACK_BITS | tail] = Split(lower, over, self._seen.setdefault(seen, seen))
        return split

    def found_grouped(self, bundles: list[int], count: int, mark: int) -> dict[Found, list[int]]:
        """Sort bundles by whether what is sought is in any of so many tails."""
        groups: dict[Found, list[int]] = {}
        for bundle in bundles:
            tails = (bundle >> STACK_BITS * place & STACK_MASK for place in range(count))
            anywhere = any(
                (self._parted.get(mark << STACK_BITS | tail) or self._part(tail, mark)).seen != ABSENT for tail in tails
            )
            groups.setdefault(Found(anywhere), []).append(bundle)
        return groups

    def _fits(self, sought: SearchTarget, number: int) -> bool:
        """Whether a rung, or one inside it, is what is sought."""
        rungs = all_rungs((self.rungs[number],))
        if isinstance(sought, RungData):
            return any(rung.data == sought for rung in rungs)
        if isinstance(sought, frozenset):
            return any(rung.data.screen in sought for rung in rungs)
        return any(rung_matches(rung, *sought) for rung in rungs)

    def _numbers(self, tail: int) -> list[int]:
        """List the numbers of a tail's rungs, lowest first."""
        numbers: list[int] = []
        while tail != EMPTY:
            numbers.append(self._tops[tail])
            tail = self._rests[tail]
        return numbers[::-1]

    def push(self, bundles: list[int], shift: int, rung: int) -> list[int]:
        """Put a rung on the tail that stands so far up."""
        tail_of, new_tail = self._tail_of, self._new
        return [
            bundle
            + (
                (tail_of.get((tail := bundle >> shift & STACK_MASK) << STACK_BITS | rung) or new_tail(tail, rung)) - tail
                << shift
            )
            for bundle in bundles
        ]

    def pop_grouped(self, bundles: list[int], shift: int) -> dict[int, list[int]]:
        """Sort tails by what is seen at the top of one of them, and take that off."""
        sights, rests = self._sights, self._rests
        groups: dict[int, list[int]] = {}
        for bundle in bundles:
            tail = bundle >> shift & STACK_MASK
            sight = sights[tail]
            if sight in groups:
                groups[sight].append(bundle - (tail - rests[tail] << shift))
            else:
                groups[sight] = [bundle - (tail - rests[tail] << shift)]
        return groups

    def split_grouped(self, bundles: list[int], shift: int, mark: int, new: int) -> dict[SplitKey, list[int]]:
        """Part one tail of each at the rung of a mark, and sort them by what is seen there.

        The upper part becomes one tail more, so far up.
        """
        key = mark << STACK_BITS
        groups: dict[SplitKey, list[int]] = {}
        for bundle in bundles:
            tail = bundle >> shift & STACK_MASK
            part = self._parted.get(key | tail) or self._part(tail, mark)
            groups.setdefault(part.seen, []).append(bundle + (part.lower - tail << shift) + (part.upper << new))
        return groups

    def rest_grouped(self, bundles: list[int], shift: int, count: int, mark: int) -> dict[RestAnswer, list[int]]:
        """Sort tails by what is asked by a mark of one of them, or of so many together."""
        groups: dict[RestAnswer, list[int]] = {}
        for bundle in bundles:
            can = self._can[bundle >> shift & STACK_MASK]
            for place in range(1, count):
                other = self._can[bundle >> shift + STACK_BITS * place & STACK_MASK]
                can = StackRest(can.quiet & other.quiet, can.askers | other.askers)
            groups.setdefault(can.answer(mark), []).append(bundle)
        return groups
