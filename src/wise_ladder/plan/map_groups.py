"""On which ladder of a plan each screen is at home: the outermost, or that of a flow or tab."""

from __future__ import annotations

from collections import deque
from itertools import chain
from typing import TYPE_CHECKING, TypeAlias

from wise_ladder.plan import operations
from wise_ladder.plan.model import tab_for

if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator

    from wise_ladder.plan.model import Plan
    from wise_ladder.plan.operations import Operation

Group: TypeAlias = tuple[str, ...]
"""A flow or tab by the flows and tabs around it, outermost first; nothing: the outermost ladder."""


def home_groups(plan: Plan) -> dict[str, Group]:
    """Return for each screen, flow and overlay the ladder on which it is first put, by the fewest moves from its lowest rung.

    A screen that nothing puts is on the outermost ladder.
    """
    groups: dict[str, Group] = {}
    waiting: deque[tuple[str, Group]] = deque((name, ()) for name in _outermost(plan))
    while waiting:
        name, group = waiting.popleft()
        if name in groups:
            continue
        groups[name] = group
        screen = plan.screen.get(name)
        inside = screen.inside if screen is not None else ()
        for tab, first in inside:
            waiting.append((first.screen, (*group, name, tab) if tab else (*group, name)))
        own: Group = (*group, name) if inside else group
        waiting.extend(_put_from(plan, name, own))
        waiting.extend((overlay.name, own) for overlay in plan.overlays if overlay.of == name)
    return {**dict.fromkeys((*plan.screen, *plan.overlay), ()), **groups}


def _outermost(plan: Plan) -> Iterator[str]:
    yield from (choice.target.screen for choice in plan.start)
    for move in plan.anywhere:
        yield from (target for target, _ in _puts(plan, move.operations, ()))
    if plan.unknown_target is not None:
        yield plan.unknown_target.screen


def _put_from(plan: Plan, name: str, group: Group) -> Iterator[tuple[str, Group]]:
    """Go through what is put while a place is seen, and through what links put after it."""
    owner = plan.screen.get(name) or plan.overlay.get(name)
    if owner is not None:
        for move in owner.moves:
            yield from _puts(plan, move.operations, group)
        for guard in owner.guards:
            yield from _puts(plan, chain(guard.operations, *(answer.operations for answer in guard.answers)), group)
    yield from ((redirect.target.screen, group) for redirect in plan.redirects if name in redirect.only)
    for link in plan.links:
        for below, above in zip(link.build, link.build[1:], strict=False):
            # What stands first inside a flow is put there already.
            if below.screen == name and tab_for(plan.screen[name], above.screen) is None:
                yield above.screen, group


def _puts(plan: Plan, done: Iterable[Operation], group: Group) -> Iterator[tuple[str, Group]]:
    for operation in done:
        if isinstance(operation, operations.OnFlow):
            flow = group[: group.index(operation.place) + 1] if operation.place in group else ()
            yield from _puts(plan, [operation.operation], flow)
            continue
        if isinstance(operation, operations.Switch):
            around = [place for place, name in enumerate(group) if _has_tab(plan, name, operation.tab)]
            # What follows is put in that tab.
            group = (*group[: around[-1] + 1], operation.tab) if around else group
        if isinstance(operation, operations.Put):
            yield operation.target.screen, group
        elif isinstance(operation, operations.Open):
            yield operation.overlay, group
        if (otherwise := operations.fallback_of(operation)) is not None:
            yield from _puts(plan, [otherwise], group)


def _has_tab(plan: Plan, name: str, tab: str) -> bool:
    return name in plan.screen and any(known == tab for known, _ in plan.screen[name].inside)
