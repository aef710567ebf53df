"""What of a plan no walk uses: moves, guards, redirects, links, replies of calls."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias

from wise_ladder.plan.link_match import match_link
from wise_ladder.semantics.log import LinkFollowed, Replied
from wise_ladder.semantics.reasons import move_words, redirect_words
from wise_ladder.walks.exploration import parts_used
from wise_ladder.walks.running import run_walk

if TYPE_CHECKING:
    from collections.abc import Iterable

    from wise_ladder.plan import Plan
    from wise_ladder.plan.values import Span
    from wise_ladder.walks.running import WalkRun

CoverageKind: TypeAlias = Literal["move", "guard", "redirect", "link", "reply"]


class CoverageItem(NamedTuple):
    """A part of a plan that a walk can use, and in how many walks it is."""

    kind: CoverageKind
    name: str
    at: Span
    walks: int


def coverage(plan: Plan, results: Iterable[WalkRun] = ()) -> list[CoverageItem]:
    """Count for each part of a plan the walks that use it; `results` are those of walks that were run on it already."""
    counts: dict[object, int] = {}
    known = {result.walk.name: result for result in results}
    for walk in plan.walks:
        for part in _used(plan, known.get(walk.name) or run_walk(plan, walk)):
            counts[part] = counts.get(part, 0) + 1
    items = [CoverageItem("move", move_words(move), move.at, counts.get(move, 0)) for move in plan.moves]
    items += [CoverageItem("guard", guard.name, guard.at, counts.get(guard, 0)) for guard in plan.guard.values()]
    items += [CoverageItem("redirect", redirect_words(each), each.at, counts.get(each, 0)) for each in plan.redirects]
    items += [CoverageItem("link", link.address, link.at, counts.get(link.address, 0)) for link in plan.links]
    items += [
        CoverageItem("reply", f"{call.name} gives {outcome.name}", call.at, counts.get((call.name, outcome.name), 0))
        for call in plan.calls
        for outcome in call.outcomes
    ]
    return items


def _used(plan: Plan, result: WalkRun) -> set[object]:
    used: set[object] = set()
    for played in result.played:
        if played.step is None:
            continue
        used |= {each[0] if isinstance(each, tuple) else each for each in parts_used(plan, played.step.moves, played.step.log)}
        for happening in played.step.log:
            if isinstance(happening, LinkFollowed) and (link := match_link(plan.links, happening.address).link) is not None:
                used.add(link.address)
            elif isinstance(happening, Replied):
                used.add((happening.call, happening.outcome))
    return used
