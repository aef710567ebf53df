"""Which rungs and which Backs of two ladders drawn side by side are not the same."""

from __future__ import annotations

from difflib import SequenceMatcher
from typing import TYPE_CHECKING, NamedTuple, TypeAlias

from wise_ladder.semantics.state import visible_rungs

if TYPE_CHECKING:
    from wise_ladder.semantics import Descent, Forecast, Rung
    from wise_ladder.trials.matching import Names
    from wise_ladder.trials.noticed import Side

_Back: TypeAlias = tuple[object, ...]


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
    mine, others = [_hop(hop, old.names) for hop in before.hops], [_hop(hop, new.names) for hop in after.hops]
    return Marks(frozenset(odd[0]), _unlike_backs(mine, others)), Marks(frozenset(odd[1]), _unlike_backs(others, mine))


def _unlike_backs(mine: list[_Back], others: list[_Back]) -> frozenset[int]:
    return frozenset(number for number, hop in enumerate(mine, 1) if number > len(others) or others[number - 1] != hop)


def _rung(rung: Rung, names: Names) -> tuple[object, ...]:
    data = rung.data
    arguments = sorted((name, str(value)) for name, value in names.carried(data.screen, data.arguments))
    facts = sorted((names.facts.get(name, name), value) for name, value in data.facts)
    layers = [names.overlays.get(layer.name, layer.name) for layer in rung.overlays]
    return names.screens.get(data.screen, data.screen), tuple(arguments), tuple(facts), tuple(layers)


def _hop(hop: Forecast, names: Names) -> _Back:
    """What a Back does, as a user would tell it: where it lands by its screen and arguments, and what it asks."""
    if hop.data is None or hop.outcome not in {"lands", "stays"}:
        return hop.outcome, hop.question
    arguments = sorted((name, str(value)) for name, value in names.carried(hop.data.screen, hop.data.arguments))
    return hop.outcome, hop.question, names.screens.get(hop.data.screen, hop.data.screen), tuple(arguments)
