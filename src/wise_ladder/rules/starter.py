"""The starter set: the rules that most apps want, with what they are about recognised in the plan."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from msgspec.structs import replace

from wise_ladder.plan import operations
from wise_ladder.plan.model import Rule, Starter
from wise_ladder.plan.rules import FLASH

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.model import Plan, Redirect, Screen

_PUTS = (operations.Push, operations.Replace, operations.Reach, operations.GoToWanted, operations.Follow)
ALWAYS = (
    "no twins", "no pile-up", "no traps", "waiting ends", "results come back", "redirects end", "links have a way back",
)  # fmt: skip


class Recognised(NamedTuple):
    """What the starter set takes the screens of a plan for."""

    splash: tuple[str, ...]
    """They only go on by themselves."""
    sign_in: tuple[str, ...]
    """Where redirects that remember send to."""
    protected: tuple[Redirect, ...]
    """The redirects that remember: what they turn away is protected."""


def recognised(plan: Plan, starter: Starter = Starter()) -> Recognised:  # noqa: B008 - it is frozen
    """Say what is a splash, a sign-in, and what lies behind that."""
    splash = (screen.name for screen in plan.screens if _goes_on_by_itself(screen))
    remembering = [redirect for redirect in plan.redirects if redirect.remember and redirect.condition is not None]
    sign_in = dict.fromkeys(redirect.target.screen for redirect in remembering)
    return Recognised(
        tuple(name for name in splash if name not in starter.not_splash),
        tuple(name for name in sign_in if name not in starter.not_sign_in),
        tuple(redirect for redirect in remembering if redirect.only),
    )


def _goes_on_by_itself(screen: Screen) -> bool:
    triggers = [move.trigger for move in screen.moves]
    puts = any(isinstance(done, _PUTS) for move in screen.moves for done in move.operations)
    return puts and not screen.inside and all(isinstance(trigger, operations.BY_ITSELF) for trigger in triggers)


def rules_in_force(plan: Plan) -> tuple[Rule, ...]:
    """List the rules of a plan, those of the starter set in its place."""
    found: list[Rule] = []
    for rule in plan.rules:
        if isinstance(rule, Starter):
            said = [other.name for other in plan.rules if isinstance(other, Rule)]
            found += [one for one in _starter(plan, rule) if one.screens or one.name not in said]
        else:
            found.append(rule)
    return tuple(found)


def _starter(plan: Plan, starter: Starter) -> Iterator[Rule]:
    about = recognised(plan, starter)
    rules: list[Rule] = []
    if about.splash:
        rules.append(Rule("never beneath", about.splash, note="a splash goes on by itself"))
        rules.append(Rule("never land on", about.splash, note="a splash goes on by itself"))
    for redirect in about.protected:
        assert redirect.condition is not None  # noqa: S101 - only such are recognised
        names = tuple(name for name in redirect.only if name not in starter.not_protected)
        allowed = operations.Not(redirect.condition)
        rules.append(Rule("protected", names, condition=allowed, condition_text="allowed", note="behind a sign-in"))
    if about.sign_in and about.protected:
        signed_in = operations.All(tuple(operations.Not(part) for part in _conditions(about.protected)))
        rules.append(
            Rule("never land on", about.sign_in, condition=signed_in, condition_text="signed in", note="a sign-in is done with")
        )
    rules += [Rule(name) for name in ALWAYS]
    if any(guard.at_press for guard in plan.guard.values()):
        rules.append(Rule("forecast is known"))
    rules.append(Rule("no flash", limit=FLASH))
    yield from (replace(rule, starter=True, at=starter.at) for rule in rules if rule.name not in starter.without)


def _conditions(redirects: tuple[Redirect, ...]) -> Iterator[operations.Condition]:
    return (redirect.condition for redirect in redirects if redirect.condition is not None)
