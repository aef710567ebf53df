"""Sets of values, each value a bit of a number: what a step leaves alone passes on at once, however much it is."""

from __future__ import annotations

from typing import TYPE_CHECKING, TypeAlias

if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator

Bits: TypeAlias = int
"""For each place of a valuation the values it may have."""


class ValueBits:
    """Which bit stands for which value at which place of a valuation."""

    def __init__(self, places: int) -> None:
        """Begin without a value."""
        self._bit: dict[tuple[int, object], Bits] = {}
        self._value: list[object] = []
        self._of_place: list[Bits] = [0] * places
        self._of_places: dict[frozenset[int], Bits] = {}

    def bit(self, place: int, value: object) -> Bits:
        """Return the bit of a value."""
        bit = self._bit.get((place, value))
        if bit is None:
            bit = self._bit[place, value] = 1 << len(self._value)
            self._value.append(value)
            self._of_place[place] |= bit
            self._of_places.clear()
        return bit

    def bits(self, values: Iterable[tuple[int, object]]) -> Bits:
        """Return the bits of values, each with its place."""
        bits = 0
        for place, value in values:
            bits |= self.bit(place, value)
        return bits

    def all_at(self, places: frozenset[int]) -> Bits:
        """Return the bits of all values at some places."""
        bits = self._of_places.get(places)
        if bits is None:
            bits = 0
            for place in places:
                bits |= self._of_place[place]
            self._of_places[places] = bits
        return bits

    def values(self, bits: Bits, place: int) -> Iterator[object]:
        """Go through the values at a place."""
        left = bits & self._of_place[place]
        while left:
            lowest = left & -left
            yield self._value[lowest.bit_length() - 1]
            left ^= lowest
