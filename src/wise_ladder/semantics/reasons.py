"""What deciding asked, in order: the answer of each, and its reason."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias

from wise_ladder.plan import conditions
from wise_ladder.plan.link_match import match_link

if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator

    from wise_ladder.plan.conditions import Condition
    from wise_ladder.plan.link_match import LinkMatch
    from wise_ladder.plan.model import Guard, Move, Redirect, StartChoice
    from wise_ladder.plan.world import Link
    from wise_ladder.semantics.conditions import EvalContext

ReasonKind: TypeAlias = Literal["move", "guard", "redirect", "link", "overlay", "start", "arrow", "ladder"]
Response: TypeAlias = Literal["took it", "passed", "not asked"]


ReasonPart: TypeAlias = "Move | Guard | Redirect | Link | StartChoice"


class Reason(NamedTuple):
    """One that was asked, or would have been: what it said, and why."""

    kind: ReasonKind
    name: str
    verdict: Response
    because: str = ""
    thing: ReasonPart | None = None
    """What of the plan it is."""
    other_screen: bool = False
    """Whether it passed because it is for other screens."""


def move_words(move: Move) -> str:
    """Name a move by where it stands and what sets it off."""
    return f"{move.owner or 'anywhere'}, {move.when}"


def redirect_words(redirect: Redirect) -> str:
    """Name a redirect by what it turns away and where it sends it."""
    return f"{', '.join(redirect.only) or 'anything'} to {redirect.target.screen}"


def first_that_holds(heard: list[Reason] | None, moves: Iterable[Move], view: EvalContext) -> Move | None:
    """Return the first move whose condition holds, None if none does; each is noted as a reason."""
    rest = iter(moves)
    for move in rest:
        if view.holds(move.condition):
            if heard is not None:
                heard.append(Reason("move", move_words(move), "took it", thing=move))
                heard += (Reason("move", move_words(later), "not asked", thing=later) for later in rest)
            return move
        if heard is not None:
            heard.append(Reason("move", move_words(move), "passed", unmet_part(view, move.condition), move))
    return None


def links_asked(links: Iterable[Link], match: LinkMatch, address: str) -> Iterator[Reason]:
    """Report for each link whether an address matches it."""
    taken = False
    for link in links:
        if taken:
            yield Reason("link", link.address, "not asked", thing=link)
        else:
            taken = link is match.link
            because = "" if taken else match_link((link,), address).why
            yield Reason("link", link.address, "took it" if taken else "passed", because, link)


def unmet_part(view: EvalContext, condition: Condition | None) -> str:
    """Say which part of a condition does not hold, and what is there instead; nothing if it holds."""
    if view.holds(condition):
        return ""
    match condition:
        case conditions.AllOf(parts):
            return next(unmet_part(view, part) for part in parts if not view.holds(part))
        case conditions.AnyOf(parts):
            return " and ".join(dict.fromkeys(unmet_part(view, part).partition(", not ")[0] for part in parts))
        case conditions.Not(inner):
            return _holds_words(inner)
        case conditions.FactIs(name, value):
            return f"{name} is {view.head.facts[view.plan.fact_index[name]]}, not {value}"
        case conditions.RungFactIs(name, value):
            return f"{name} is {dict(view.own).get(name, 'unknown')}, not {value}"
        case conditions.ArgumentIs(name, value):
            return f"{name} is {view.values.get(name, 'not given')}, not {value}"
        case conditions.Alone():
            return "a rung is beneath"
        case conditions.DepthOver(rungs):
            return f"at most {rungs} rungs are visible"
        case conditions.OnLadder(screen):
            return f"{screen} is not on the ladder"
        case conditions.BeneathIs(screen):
            return f"{screen} is not right beneath"
        case conditions.TabInFront(tab):
            return f"{tab} is not in front"
        case conditions.TabAtRoot(tab):
            return f"{tab} is not at its root"
        case conditions.TimerRuns(timer):
            return f"the timer {timer} does not run"
        case None:
            return ""


def _holds_words(condition: Condition) -> str:
    match condition:
        case conditions.FactIs(name, value) | conditions.RungFactIs(name, value) | conditions.ArgumentIs(name, value):
            return f"{name} is {value}"
        case conditions.Alone():
            return "no rung is beneath"
        case conditions.DepthOver(rungs):
            return f"more than {rungs} rungs are visible"
        case conditions.OnLadder(screen):
            return f"{screen} is on the ladder"
        case conditions.BeneathIs(screen):
            return f"{screen} is right beneath"
        case conditions.TabInFront(tab):
            return f"{tab} is in front"
        case conditions.TabAtRoot(tab):
            return f"{tab} is at its root"
        case conditions.TimerRuns(timer):
            return f"the timer {timer} runs"
        case conditions.Not() | conditions.AllOf() | conditions.AnyOf():
            return "what must not hold, holds"
