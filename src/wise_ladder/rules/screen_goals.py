"""What a sweep watches for to tell all about screens: how each comes to be seen, and what a way back does on it over what."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias

from wise_ladder.rules.landings import Landing, landing_of
from wise_ladder.semantics.log import LinkFollowed, Restored
from wise_ladder.semantics.plan_index import index_of
from wise_ladder.semantics.state import visible_path, visible_screens

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.rules.transition import Transition
    from wise_ladder.rules.witnesses import Goal

HowReached: TypeAlias = Literal["any", "link", "death"]
"""In any way, by opening a link, or because a saved ladder came back."""


class Arrival(NamedTuple):
    """A screen comes to be seen; of a link also by which address, as the plan writes it."""

    screen: str
    how: HowReached
    address: str = ""


class LandingOver(NamedTuple):
    """What a way back does on a screen, and over which screen; no name: the screen is the lowest."""

    landing: Landing
    beneath: str


def screen_goals(edge: Transition) -> tuple[Goal, ...]:
    """Return what a step does for a page about a screen, as goals of a sweep."""
    return tuple(_goals(edge))


def _goals(edge: Transition) -> Iterator[Goal]:
    landing = landing_of(edge)
    if landing is not None:
        over = list(visible_screens(edge.before.ladder))[-2:-1]
        # What was left out of a state has no name.
        if not over or not over[0].cut:
            yield LandingOver(landing, over[0].data.screen if over else "")
    if edge.refused:
        return
    back_again = bool(edge.all_of(Restored))
    # A ladder that comes back may lie under the cover at first.
    if not back_again and (edge.top_after is None or not edge.moved):
        return
    names = [rung.data.screen for rung in visible_path(edge.after.ladder) if not rung.cut]
    yield from (Arrival(name, "any") for name in names if edge.top_after is not None)
    # A link that wakes the app is a way of its own.
    if back_again and not edge.all_of(LinkFollowed):
        yield from (Arrival(name, "death") for name in names)
    for happening in edge.all_of(LinkFollowed):
        link = index_of(edge.plan).link_of(happening.address).link
        if link is not None and edge.top_after is not None:
            yield from (Arrival(name, "link", link.address) for name in names)
