"""Back from everywhere: what each way back does on each screen, as a sweep meets it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias, get_args

from wise_ladder.plan import events
from wise_ladder.semantics import log
from wise_ladder.semantics.state import Phase, visible_rungs

if TYPE_CHECKING:
    from wise_ladder.rules.transition import Transition

WayName: TypeAlias = Literal["system", "header", "app"]
"""The system's Back, the header button, or a tap of the app that leads down."""
LandingKind: TypeAlias = Literal["lands", "leaves", "goes away", "asks", "blocked", "closes", "stays"]
WAYS: tuple[WayName, ...] = get_args(WayName)


class Landing(NamedTuple):
    """What one way back does on a screen: the kind, and the screen it lands on, or the guard that asks or blocks."""

    screen: str
    way: WayName
    kind: LandingKind
    name: str = ""


def landings_in(edge: Transition) -> tuple[Landing, ...]:
    """Return what a step did, if it was a way back, as goals of a sweep."""
    landing = landing_of(edge)
    return () if landing is None else (landing,)


def landing_of(edge: Transition) -> Landing | None:
    """Return what a way back did in a step; None if the step is no way back, or nothing is seen before it."""
    top = edge.top_before
    if top is None or edge.refused or (edge.before.question is not None and not isinstance(edge.action, events.Answer)):
        return None
    screen = top.data.screen
    match edge.meant:
        case events.Back():
            return _done_by(edge, screen, "system")
        case events.HeaderBack():
            return _done_by(edge, screen, "header")
        case events.Tap() if _leads_down(edge):
            return _done_by(edge, screen, "app")
    return None


def _done_by(edge: Transition, screen: str, way: WayName) -> Landing:
    after = edge.after
    if after.phase is not Phase.OPEN:
        return Landing(screen, way, "leaves" if after.phase is Phase.OUTSIDE else "goes away")
    if after.question is not None:
        return Landing(screen, way, "asks", edge.plan.guard[after.question.guard].name)
    if blocked := edge.all_of(log.Blocked):
        return Landing(screen, way, "blocked", blocked[0].guard)
    if edge.moved and edge.top_after is not None:
        return Landing(screen, way, "lands", edge.top_after.data.screen)
    return Landing(screen, way, "closes" if edge.all_of(log.Closed) else "stays")


def _leads_down(edge: Transition) -> bool:
    """Whether a tap leaves the app, or lands on what lay beneath."""
    after = edge.top_after
    if edge.out or after is None:
        return edge.out
    return edge.moved and any(rung.serial == after.serial for rung, _ in visible_rungs(edge.before.ladder) if not rung.cut)
