"""Which rungs and which Backs of two ladders drawn side by side are not the same."""

from __future__ import annotations

from difflib import SequenceMatcher
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.semantics.state import visible_rungs
from wise_ladder.trials.noticed import screen_name, shown_arguments, way_back

if TYPE_CHECKING:
    from wise_ladder.semantics import Descent, Rung
    from wise_ladder.trials.matching import Names
    from wise_ladder.trials.noticed import Side, WayBack


class Marks(NamedTuple):
    """What of one ladder is not so on the other: the serials of rungs, and the numbers of Backs, counted from 1."""

    rungs: frozenset[int] = frozenset()
    backs: frozenset[int] = frozenset()


def unlike(old: Side, new: Side, before: Descent, after: Descent) -> tuple[Marks, Marks]:
    """Mark what differs on both sides: rungs that the other ladder has not, and Backs that lead elsewhere.

    Rungs are paired by the longest runs that both ladders share (Ratcliff and Metzener 1988).
    """
    ladders = [[rung for rung, _ in visible_rungs(side.state.ladder)] for side in (old, new)]
    one, two = ([_rung(rung, side.names) for rung in ladder] for ladder, side in zip(ladders, (old, new), strict=True))
    odd: tuple[set[int], set[int]] = (set(), set())
    for tag, begin, end, first, last in SequenceMatcher(None, one, two, autojunk=False).get_opcodes():
        if tag != "equal":
            odd[0].update(rung.serial for rung in ladders[0][begin:end])
            odd[1].update(rung.serial for rung in ladders[1][first:last])
    mine, others = [way_back(hop, old.names) for hop in before.hops], [way_back(hop, new.names) for hop in after.hops]
    return Marks(frozenset(odd[0]), _unlike_backs(mine, others)), Marks(frozenset(odd[1]), _unlike_backs(others, mine))


def _unlike_backs(mine: list[WayBack], others: list[WayBack]) -> frozenset[int]:
    return frozenset(number for number, hop in enumerate(mine, 1) if number > len(others) or others[number - 1] != hop)


def _rung(rung: Rung, names: Names) -> tuple[object, ...]:
    data = rung.data
    facts = sorted((names.facts.get(name, name), value) for name, value in data.facts)
    layers = [names.overlays.get(layer.name, layer.name) for layer in rung.overlays]
    return screen_name(data, names), shown_arguments(data, names), tuple(facts), tuple(layers)
