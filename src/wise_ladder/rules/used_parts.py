"""The parts of a plan that can be used or not, their names, and which of them a step uses."""

from __future__ import annotations

from typing import TYPE_CHECKING, TypeAlias

from wise_ladder.plan.events import Reply
from wise_ladder.plan.model import Guard, Move, Redirect
from wise_ladder.plan.world import Link
from wise_ladder.rules.transition import PlanRef, move_place
from wise_ladder.semantics.log import LinkFollowed
from wise_ladder.semantics.plan_index import index_of
from wise_ladder.semantics.reasons import redirect_words
from wise_ladder.semantics.state import visible_path
from wise_ladder.walks.exploration import parts_used

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan import Plan
    from wise_ladder.rules.transition import Transition

PartKey: TypeAlias = Move | Guard | Redirect | Link | tuple[str, str] | str
"""A part: a reply by its call and outcome, a screen by its name."""


def parts_of(plan: Plan) -> Iterator[tuple[PartKey, PlanRef]]:
    """Go through all that can be used, with its name: screens, moves, guards, redirects, links and replies."""
    yield from ((screen.name, PlanRef(f"screen {screen.name}", screen.at)) for screen in plan.screens)
    yield from ((move, move_place(move)) for move in plan.moves)
    yield from ((guard, PlanRef(f"guard {guard.name}", guard.at)) for guard in plan.guard.values())
    for redirect in plan.redirects:
        yield redirect, PlanRef(f"redirect of {redirect_words(redirect)}", redirect.at)
    yield from ((link, PlanRef(f"link {link.address}", link.at)) for link in plan.links)
    for call in plan.calls:
        for outcome in call.outcomes:
            yield (call.name, outcome.name), PlanRef(f"reply {call.name} gives {outcome.name}", call.at)


def parts_in(edge: Transition) -> Iterator[PartKey]:
    """Go through all that a step uses; a screen is used where it comes to be seen, or lies beneath what does."""
    for part in parts_used(edge.plan, edge.moves, edge.log):
        if isinstance(part, tuple):
            yield part[0]
        else:
            yield part
    for happening in edge.all_of(LinkFollowed):
        link = index_of(edge.plan).link_of(happening.address).link
        if link is not None:
            yield link
    if isinstance(edge.action, Reply):
        yield edge.action.call, edge.action.outcome
    if edge.moved and edge.top_after is not None:
        yield from (rung.data.screen for rung in visible_path(edge.after.ladder))
