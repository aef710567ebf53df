"""How large the ladders can get that abstract states stand for: how high, or how heavy.

A row of rungs is as large as the longest way through the names of what it can be made of (Bellman 1958, with the longest way in
the place of the shortest). Where such a way leads in a circle and grows, there is no limit that this could tell.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, cast

from wise_ladder.proofs.stack_names import NO_ROW
from wise_ladder.semantics.state import Rung, RungData
from wise_ladder.semantics.symbolic import lowest_cuts

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.proofs.fixpoint import Fixpoint
    from wise_ladder.proofs.stack_names import StackNames
    from wise_ladder.rules.predicates import Measure
    from wise_ladder.semantics.state import Ladder
    from wise_ladder.semantics.symbolic import SymbolicRungs


_STAND_IN = RungData("", ())


def largest(states: Fixpoint, measure: Measure) -> int | None:
    """Return an upper limit of what is measured in all states, in rungs or bytes; None if there is none."""
    graph = states.graph
    rungs = [sum(measure.size(graph.plan, part) for part in measure.rungs((rung,))) for rung in graph.tails.rungs]
    sizes = _largest_rows(states.names, rungs.__getitem__)
    found = 0
    for at, known in states.states.items():
        size, ladder = 0, graph.skeletons[at.shape].ladder
        lowest = frozenset(lowest_cuts(ladder))
        for rung in measure.rungs(_with_stand_ins(ladder)):
            if rung.data is not _STAND_IN:
                size += measure.size(graph.plan, rung)
                continue
            row = rung.serial
            # A name of a lowest rung may be one of higher rows too.
            of_row = [_of_top(states.names, name, rungs) if row in lowest else sizes[name] for name in known.rows[row]]
            limits = [each for each in of_row if each is not None]
            if len(limits) < len(of_row):
                return None
            size += max(limits, default=0)
        found = max(found, size)
    return found


def _with_stand_ins(ladder: Ladder) -> Ladder:
    """Return a ladder in which a rung stands for each row that is left out, the number of the row as its serial."""
    return tuple([_stand_in(rung) for rung in tuple.__iter__(ladder)])


def _stand_in(rung: Rung) -> Rung:
    if rung.cut:
        return Rung(_STAND_IN, cast("SymbolicRungs", rung).number)
    return Rung(rung.data, rung.serial, tuple([_with_stand_ins(inner) for inner in rung.inner]))


def _of_top(names: StackNames, name: int, rungs: list[int]) -> int:
    parts = names.parts[name]
    return 0 if parts is None else rungs[parts.top]


def _largest_rows(names: StackNames, size: Callable[[int], int]) -> list[int | None]:
    """Return the largest size of the rows of each name, None where they may grow for ever.

    `size` returns the size of the rung with a number.
    """
    ways = [[(size(rung), under) for rung, under in names.tops(name)] for name in range(len(names.parts))]
    found: list[int | None] = [0] * len(ways)
    for turn in range(2 * len(ways) + 1):
        grown = False
        for name, those in enumerate(ways):
            now = _longest(those, found) if name != NO_ROW else 0
            if now != found[name]:
                # What grows longer than every way without a circle grows for ever.
                found[name], grown = (now if turn < len(ways) else None), True
        if not grown:
            break
    return found


def _longest(ways: list[tuple[int, int]], found: list[int | None]) -> int | None:
    """Return the longest of several ways, each a step and where it leads to."""
    longest = 0
    for step, under in ways:
        rest = found[under]
        if rest is None:
            return None
        longest = max(longest, step + rest)
    return longest
