"""Ways through a tree of ladders: to a rung that is not on the visible path, and to what is right beneath one.

A ladder that is not seen is named by a chain: the serials of the flows and tabs around it, from the outside in, each with the
number of the ladder inside that leads on.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple, cast

from msgspec.structs import replace

from wise_ladder.semantics.state import Chain, Ladder, OverlayInstance, Rung, visible_path

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.values import Arguments
    from wise_ladder.semantics.symbolic import SymbolicRungs


class Spotted(NamedTuple):
    """A rung, and the way to the ladder it stands in."""

    rung: Rung
    chain: Chain


def spotted(ladder: Ladder, chain: Chain = ()) -> Iterator[Spotted]:
    """Go through every rung there is, each with the way to its ladder."""
    for rung in ladder:
        yield Spotted(rung, chain)
        for number, inner in enumerate(rung.inner):
            yield from spotted(inner, (*chain, (rung.serial, number)))


def find(ladder: Ladder, serial: int) -> Spotted | None:
    """Return the rung of a serial, None if it is on no ladder."""
    return next((each for each in spotted(ladder) if each.rung.serial == serial), None)


def find_overlay(ladder: Ladder, serial: int) -> tuple[OverlayInstance, Spotted] | None:
    """Return the overlay of a serial that is over a rung, None if there is none."""
    for each in spotted(ladder):
        if not each.rung.cut:
            for layer in each.rung.overlays:
                if layer.serial == serial:
                    return layer, each
    return None


def front_chain(path: list[Rung]) -> Chain:
    """Return the way to the innermost ladder of a visible path."""
    return tuple((rung.serial, rung.data.tab_order[-1]) for rung in path if rung.inner)


def ladder_of(ladder: Ladder, chain: Chain) -> Ladder | None:
    """Return the ladder that a chain leads to, None if something on the way is gone."""
    for serial, inside in chain:
        holder = next((rung for rung in ladder if rung.serial == serial), None)
        if holder is None:
            return None
        ladder = holder.inner[inside]
    return ladder


def has_at_most_one(ladder: Ladder) -> bool:
    """Whether a ladder has no more than one rung."""
    # What was left out may be several: reading its face looks.
    return not ladder or (len(ladder) == 1 and bool(ladder[0].data.screen))


def is_lowest(ladder: Ladder, spotted_rung: Spotted) -> bool:
    """Whether a rung is the lowest of the ladder it stands in."""
    return (ladder_of(ladder, spotted_rung.chain) or (spotted_rung.rung,))[0].serial == spotted_rung.rung.serial


def open_path(ladder: Ladder, chain: Chain) -> tuple[Chain, list[Rung]]:
    """Return the path that a chain leads along and then the tops, with as much of the chain as is still there."""
    path: list[Rung] = []
    for place, (serial, inside) in enumerate(chain):
        holder = next((rung for rung in ladder if rung.serial == serial), None)
        if holder is None:
            return chain[:place], path + visible_path(ladder)
        path.append(holder)
        ladder = holder.inner[inside]
    return chain, path + visible_path(ladder)


def right_beneath(way: list[tuple[Ladder, int]]) -> list[Rung]:
    """Return what is right beneath a rung: the next lower one and what is seen inside it, else what is beneath its flow.

    `way`: the ladders from the outside in, each with the serial of the rung that leads on, 0 for one over the top.
    """
    for ladder, serial in reversed(way):
        place = next((place for place, rung in enumerate(ladder) if rung.serial == serial), len(ladder))
        if place:
            return visible_path((ladder[place - 1],))
    return []


def rung_matches(rung: Rung, screen: str, arguments: Arguments = ()) -> bool:
    """Whether a rung is of a screen and has these arguments, among others."""
    if rung.cut:
        return cast("SymbolicRungs", rung).holds((screen, arguments))
    return rung.data.screen == screen and all(argument in rung.data.arguments for argument in arguments)


def exchanged(ladder: Ladder, new: Rung) -> Ladder:
    """Return a ladder with a changed rung in the place of the one of its serial, wherever it stands."""
    if all(rung.cut for rung in ladder):
        return ladder
    rungs = []
    for rung in ladder:
        if rung.serial == new.serial:
            rungs.append(new)
        elif rung.inner:
            rungs.append(replace(rung, inner=tuple(exchanged(inner, new) for inner in rung.inner)))
        else:
            rungs.append(rung)
    return tuple(rungs)
