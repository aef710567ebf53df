"""Phrases that stand in no file but are read against a plan: what they may name, and the steps typed while climbing."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.errors import WalkError
from wise_ladder.plan import messages
from wise_ladder.plan.events import Event
from wise_ladder.plan.phrases import Scope
from wise_ladder.plan.steps import parse_step, taps_by_name
from wise_ladder.plan.tokens import PhraseError
from wise_ladder.plan.values import merged

if TYPE_CHECKING:
    from wise_ladder.plan.model import Plan
    from wise_ladder.plan.values import Parameter


def scope_of(plan: Plan, where: str | None = None, carried: tuple[Parameter, ...] = ()) -> Scope:
    """Return what a phrase may name that stands on a place of a plan; what is wrong in it goes unsaid."""
    guards = plan.guard.values()
    scope = Scope(
        lambda _at, _what, _instead="", _lacks=(): None,
        plan.screen,
        {fact.name: fact for fact in plan.facts},
        overlays=plan.overlay,
        results=merged(given for place in plan.owners for given in place.gives),
        calls={call.name: tuple(outcome.name for outcome in call.outcomes) for call in plan.calls},
        timers=tuple(plan.timer),
        guards=tuple(guard.name for guard in guards),
        answers=tuple(dict.fromkeys(answer.name for guard in guards for answer in guard.answers)),
        carried={parameter.name: parameter for parameter in carried},
    )
    place = plan.screen.get(where or "")
    if place is not None:
        scope.takes = {parameter.name: parameter for parameter in place.takes}
    either = place or plan.overlay.get(where or "")
    if either is not None:
        scope.own = {fact.name: fact for fact in either.holds}
        scope.gives = {given.name: given for given in either.gives}
    return scope


def parse_event(plan: Plan, typed: str) -> Event:
    """Read something that a walk can do; raises WalkError if it is not one, with what is wrong."""
    wrong: list[str] = []
    scope = scope_of(plan)
    scope.note = lambda _at, what, instead="", _lacks=(): wrong.append(f"{what}; {instead}" if instead else what)
    try:
        step = parse_step(typed, scope, taps_by_name(plan.moves))
    except PhraseError as error:
        raise WalkError(f"{error.what}; {error.instead}" if error.instead else error.what) from None
    if wrong:
        raise WalkError(wrong[0])
    if not isinstance(step, Event):
        raise WalkError(messages.ONLY_EXPECTED.format(text=typed))
    return step
