"""When pending things began, as far as it matters: which of them can fall due next, and when a call can be answered.

A zone holds, for each two of `now` and the beginnings of all that is pending, by how much the first can be later than
the second at most (difference bound matrix; Dill 1989): `bounds[a * (n + 1) + b]`, `now` is 0, the n things follow. Bounds are
whole milliseconds, so all is exact. Zones are tight (shortest paths; Floyd, Warshall 1962) and equal where they mean the same.
"""

from __future__ import annotations

from functools import lru_cache
from typing import TypeAlias

Zone: TypeAlias = tuple[int, ...]
UNBOUNDED = 1 << 60
"""No bound."""
NOTHING: Zone = (0,)
"""The zone of a state in which nothing is pending."""
Clocks: TypeAlias = tuple[tuple[bool, int], ...]
"""For each pending thing: whether it is a timer, and after how long it falls due; for a call, what its slowest reply takes."""


def _canonical(bounds: list[int], size: int) -> Zone | None:
    """Tighten all bounds; None if they conflict."""
    for middle in range(size):
        for first in range(size):
            through = bounds[first * size + middle]
            if through >= UNBOUNDED:
                continue
            for second in range(size):
                further = bounds[middle * size + second]
                if further < UNBOUNDED and through + further < bounds[first * size + second]:
                    bounds[first * size + second] = through + further
    return tuple(bounds) if all(bounds[place * size + place] >= 0 for place in range(size)) else None


@lru_cache(maxsize=10_000)
def any_time(clocks: Clocks) -> Zone:
    """Return the zone of all times at which these things can be pending."""
    size = len(clocks) + 1
    bounds = [0 if place % size == place // size or place % size == 0 else UNBOUNDED for place in range(size * size)]
    return delay(tuple(bounds), clocks)


@lru_cache(maxsize=100_000)
def delay(zone: Zone, clocks: Clocks) -> Zone:
    """Let any time pass that lets nothing fall due."""
    size = len(clocks) + 1
    if size == 1:
        return NOTHING
    bounds = list(zone)
    for place, (timer, after) in enumerate(clocks, 1):
        bounds[place] = UNBOUNDED if not timer else after - 1 if after else 0
        if not timer and -bounds[place * size] >= after:
            # All its replies are ready; its start time no longer matters.
            for other in range(1, size):
                if other != place:
                    bounds[place * size + other] = bounds[other * size + place] = UNBOUNDED
            bounds[place * size] = -after
    delayed = _canonical(bounds, size)
    assert delayed is not None, "a state at rest has its time"  # noqa: S101
    return delayed


@lru_cache(maxsize=100_000)
def fire_first(zone: Zone, clocks: Clocks, which: int) -> Zone | None:
    """Let time pass until a timer falls due, before any other does; None if it cannot be the first."""
    bounds = list(zone)
    bounds[1 : len(clocks) + 1] = [UNBOUNDED] * len(clocks)
    return _due_now(bounds, clocks, which)


@lru_cache(maxsize=100_000)
def fire_next(zone: Zone, clocks: Clocks, which: int) -> Zone | None:
    """Let a timer fall due at the very same instant, as the next one; None if it cannot."""
    return _due_now(list(zone), clocks, which)


def _due_now(bounds: list[int], clocks: Clocks, which: int) -> Zone | None:
    size = len(clocks) + 1
    for place, (timer, after) in enumerate(clocks, 1):
        if timer:
            # Of what is due at one instant what was started first comes first.
            bounds[place] = min(bounds[place], after - 1 if place <= which else after)
    after = clocks[which][1]
    bounds[(which + 1) * size] = min(bounds[(which + 1) * size], -after)
    return _canonical(bounds, size)


@lru_cache(maxsize=100_000)
def none_due(zone: Zone, clocks: Clocks) -> Zone | None:
    """Let no other timer fall due at this instant; None if one must."""
    bounds = list(zone)
    for place, (timer, after) in enumerate(clocks, 1):
        if timer:
            bounds[place] = min(bounds[place], after - 1)
    return _canonical(bounds, len(clocks) + 1)


@lru_cache(maxsize=100_000)
def elapsed_at_least(zone: Zone, size: int, which: int, takes: int) -> Zone | None:
    """Let a call be pending for so long already; None if something else falls due before."""
    bounds = list(zone)
    place = (which + 1) * (size + 1)
    bounds[place] = min(bounds[place], -takes)
    return _canonical(bounds, size + 1)


def elapsed_at_most(zone: Zone, size: int, which: int, takes: int) -> Zone | None:
    """Let a call have been pending for no longer than this; None if it has."""
    bounds = list(zone)
    bounds[which + 1] = min(bounds[which + 1], takes)
    return _canonical(bounds, size + 1)


def remap(zone: Zone, kept: tuple[int, ...]) -> Zone:
    """Return the zone of what is pending after a step: of each thing its old number, -1 for what began just now."""
    old = round(len(zone) ** 0.5)
    places = (0, *(number + 1 for number in kept))
    return tuple(zone[first * old + second] for first in places for second in places)
