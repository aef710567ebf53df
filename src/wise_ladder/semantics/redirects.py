"""Where redirects send what is put, and how the rung of the final target is made."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, NamedTuple, TypeAlias

from wise_ladder.plan.values import let_through
from wise_ladder.semantics import effects, messages
from wise_ladder.semantics.log import Finding, Redirected
from wise_ladder.semantics.plan_index import filled
from wise_ladder.semantics.reasons import Reason, redirect_words, unmet_part

if TYPE_CHECKING:
    from wise_ladder.plan.model import Redirect
    from wise_ladder.plan.operations import Target
    from wise_ladder.semantics.conditions import EvalContext
    from wise_ladder.semantics.effects import Effect, RungSpec
    from wise_ladder.semantics.plan_index import PlanIndex

Steps: TypeAlias = tuple[effects.Effect, ...]

Chained: TypeAlias = "frozenset[tuple[str, Any]]"
"""The targets that a chain of redirects has met."""


class Sent(NamedTuple):
    """How the rung of a target is made, what redirects did to it, and to what is inside it."""

    build: RungSpec
    sent: bool
    """Whether it was sent elsewhere."""
    remembers: bool
    """Whether it stands in the stead of the wanted place."""
    inside: Steps = ()


class Redirects:
    """The redirects of a plan at one head."""

    def __init__(self, view: EvalContext, tables: PlanIndex) -> None:
        """Read conditions in a context."""
        self.plan, self.view, self.tables = view.plan, view, tables

    def resolve(self, target: Target, address: str = "", around: Chained = frozenset()) -> tuple[Sent, Steps]:
        """Follow the redirects from a target to where it is sent, and say what of them is to be told and remembered.

        `around`: the targets that were met on the way to the flow or tabs that it is first in.
        """
        met = set(around)
        steps: list[Effect] = []
        wanted, remembers = target, False
        while (sent := self._redirect_for(target)) is not None:
            key = (target.screen, target.arguments)
            if key in met:
                words = messages.REDIRECT_LOOP.format(screen=target.screen)
                steps.append(effects.AddEntry(Finding("redirects never end", words)))
                break
            met.add(key)
            steps.append(effects.AddEntry(Redirected(target.screen, sent.target.screen)))
            remembers = remembers or sent.remember
            target = sent.target
        if remembers:
            steps.append(effects.SetWanted(self.tables.data(wanted), address))
        return self._built(target, frozenset(met), sent=target is not wanted, redirected=remembers), tuple(steps)

    def _built(self, target: Target, met: Chained, *, sent: bool = False, redirected: bool = False) -> Sent:
        """Say how the rung of a target is made; what is first inside it is put like anything else."""
        inside = self.plan.screen[target.screen].inside
        if not inside:
            return Sent(self.tables.build(target, redirected=redirected), sent, redirected)
        first, steps = self.resolve(filled(inside[0][1], dict(target.fixed)), around=met)
        newer = redirected and not any(isinstance(step, effects.SetWanted) for step in (*steps, *first.inside))
        build = self.tables.holding(target, 0, (first.build,), redirected=newer)
        return Sent(build, sent, redirected, (*steps, *first.inside))

    def _redirect_for(self, target: Target) -> Redirect | None:
        heard = self.tables.asked
        for redirect in self.plan.redirects if not self.plan.screen[target.screen].foreign else ():
            sends = self._sends(redirect, target.screen)
            if heard is not None:
                heard.append(self._reason(redirect, target.screen))
            if sends:
                return redirect
        return None

    def _sends(self, redirect: Redirect, name: str) -> bool:
        """Whether a redirect turns a put of a screen away."""
        return redirect.is_for(name) and self.view.holds(redirect.condition)

    def _reason(self, redirect: Redirect, name: str) -> Reason:
        """Explain whether a redirect turns a put of a screen away."""
        words = redirect_words(redirect)
        if self._sends(redirect, name):
            return Reason("redirect", words, "took it", "", redirect)
        if not let_through(name, redirect.only, redirect.excluded):
            return Reason("redirect", words, "passed", f"it is not for {name}", redirect, other_screen=True)
        if redirect.target.screen == name:
            return Reason("redirect", words, "passed", f"{name} is its target", redirect)
        return Reason("redirect", words, "passed", unmet_part(self.view, redirect.condition), redirect)
