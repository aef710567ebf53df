"""Whom deciding asks, noted in order for whoever wants to know why: what each said, and because of what."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias

from wise_ladder.plan import operations
from wise_ladder.plan.linking import link_of

if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator

    from wise_ladder.ladder.conditions import View
    from wise_ladder.plan.linking import Found
    from wise_ladder.plan.model import Guard, Link, Move, Redirect, StartChoice
    from wise_ladder.plan.operations import Condition

Kind: TypeAlias = Literal["move", "guard", "redirect", "link", "overlay", "start", "arrow", "ladder"]
Verdict: TypeAlias = Literal["took it", "passed", "not asked"]


Thing: TypeAlias = "Move | Guard | Redirect | Link | StartChoice"


class Asked(NamedTuple):
    """One that was asked, or would have been: what it said, and why."""

    kind: Kind
    name: str
    verdict: Verdict
    because: str = ""
    thing: Thing | None = None
    """What of the plan it is."""


def move_words(move: Move) -> str:
    """Name a move by where it stands and what sets it off."""
    return f"{move.where or 'anywhere'}, {move.when}"


def redirect_words(redirect: Redirect) -> str:
    """Name a redirect by what it turns away and where it sends it."""
    return f"{', '.join(redirect.only) or 'anything'} to {redirect.target.screen}"


def chosen(heard: list[Asked] | None, moves: Iterable[Move], view: View) -> Move | None:
    """Return the first move whose condition holds, None where none does; who listens hears of each."""
    rest = iter(moves)
    for move in rest:
        if view.holds(move.condition):
            if heard is not None:
                heard.append(Asked("move", move_words(move), "took it", thing=move))
                heard += (Asked("move", move_words(later), "not asked", thing=later) for later in rest)
            return move
        if heard is not None:
            heard.append(Asked("move", move_words(move), "passed", why_not(view, move.condition), move))
    return None


def links_asked(links: Iterable[Link], found: Found, address: str) -> Iterator[Asked]:
    """Tell of each link whether an address belongs to it."""
    taken = False
    for link in links:
        if taken:
            yield Asked("link", link.address, "not asked", thing=link)
        else:
            taken = link is found.link
            because = "" if taken else link_of((link,), address).why
            yield Asked("link", link.address, "took it" if taken else "passed", because, link)


def why_not(view: View, condition: Condition | None) -> str:
    """Say which part of a condition does not hold, and what is there instead; nothing where it holds."""
    if view.holds(condition):
        return ""
    match condition:
        case operations.All(parts):
            return next(why_not(view, part) for part in parts if not view.holds(part))
        case operations.Either(parts):
            return " and ".join(dict.fromkeys(why_not(view, part).partition(", not ")[0] for part in parts))
        case operations.Not(inner):
            return _holds_words(inner)
        case operations.FactIs(name, value):
            return f"{name} is {view.head.facts[view.plan.place_of_fact[name]]}, not {value}"
        case operations.OwnIs(name, value):
            return f"{name} is {dict(view.own).get(name, 'unknown')}, not {value}"
        case operations.ArgumentIs(name, value):
            return f"{name} is {view.values.get(name, 'not given')}, not {value}"
        case operations.Alone():
            return "something lies beneath"
        case operations.DepthOver(rungs):
            return f"no more than {rungs} rungs are there"
        case operations.OnLadder(screen):
            return f"{screen} is not on the ladder"
        case operations.BeneathIs(screen):
            return f"{screen} does not lie right beneath"
        case None:
            return ""


def _holds_words(condition: Condition) -> str:
    match condition:
        case operations.FactIs(name, value) | operations.OwnIs(name, value) | operations.ArgumentIs(name, value):
            return f"{name} is {value}"
        case operations.Alone():
            return "nothing lies beneath"
        case operations.DepthOver(rungs):
            return f"more than {rungs} rungs are there"
        case operations.OnLadder(screen):
            return f"{screen} is on the ladder"
        case operations.BeneathIs(screen):
            return f"{screen} lies right beneath"
        case operations.Not() | operations.All() | operations.Either():
            return "what must not hold does"
