"""The fewest sets that together have all that any of them has (the set cover problem)."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

if TYPE_CHECKING:
    from collections.abc import Hashable, Sequence

MOST_TRIED = 20_000
"""So many choices are tried to prove that fewer sets are not enough."""


class Cover(NamedTuple):
    """The places of the chosen sets, in order; `least`: it is proved that no fewer sets are enough."""

    chosen: tuple[int, ...]
    least: bool


def least_cover(sets: Sequence[frozenset[Hashable]]) -> Cover:
    """Choose the fewest sets that have all elements; where several choices are as good, one of them.

    Branch and bound over the element that is in the fewest sets, from the greedy choice (Chvátal 1979) as the first bound.
    """
    search = _Search(sets)
    search.run(frozenset().union(*sets), [])
    return Cover(tuple(sorted(search.best)), search.tried <= MOST_TRIED)


class _Search:
    def __init__(self, sets: Sequence[frozenset[Hashable]]) -> None:
        self.sets, self.tried = sets, 0
        self.holders: dict[Hashable, list[int]] = {}
        for place, each in enumerate(sets):
            for element in each:
                self.holders.setdefault(element, []).append(place)
        self.best = self._greedy()

    def _greedy(self) -> list[int]:
        left, chosen = set(self.holders), list[int]()
        while left:
            chosen.append(max(range(len(self.sets)), key=lambda place: len(self.sets[place] & left)))
            left -= self.sets[chosen[-1]]
        return chosen

    def run(self, left: frozenset[Hashable], chosen: list[int]) -> None:
        """Look for a smaller choice that begins with these sets."""
        if not left:
            if len(chosen) < len(self.best):
                self.best = list(chosen)
            return
        self.tried += 1
        largest = max(len(each & left) for each in self.sets)
        if self.tried > MOST_TRIED or len(chosen) - (-len(left) // largest) >= len(self.best):
            return
        rarest = min(left, key=lambda element: (len(self.holders[element]), repr(element)))
        for place in sorted(self.holders[rarest], key=lambda place: (-len(self.sets[place] & left), place)):
            self.run(left - self.sets[place], [*chosen, place])
