"""What must hold on every path, as plain data; what each rule means is in `wise_ladder.rules`."""

from __future__ import annotations

from msgspec import Struct

from wise_ladder.plan.conditions import Condition
from wise_ladder.plan.policies import Way
from wise_ladder.plan.values import NO_SPAN, Span


class Rule(Struct, frozen=True):
    """Something that must hold in every state the app can reach; which of the parameters count depends on the rule."""

    name: str
    screens: tuple[str, ...] = ()
    lands: tuple[str, ...] = ()
    """Where Back may land; THE_GROUND: out of the app."""
    condition: Condition | None = None
    condition_text: str = ""
    ways: tuple[Way, ...] = ()
    limit: int | None = None
    """Rungs, bytes or milliseconds."""
    once_left: bool = False
    any_arguments: bool = False
    twice: bool = False
    """Whether taps twice in quick succession are tried."""
    note: str = ""
    title: str = ""
    """The name that the plan gives it."""
    called: str = ""
    """For rules in force: the title, or else what the rule says; no other rule has the same name."""
    starter: bool = False
    """Whether it comes from the starter set."""
    at: Span = NO_SPAN

    @property
    def short(self) -> str:
        """Its title, else which rule it is."""
        return self.title or self.name


class StarterSet(Struct, frozen=True):
    """The starter set as the plan wants it: which of its rules are left out, and what was recognised wrongly."""

    without: tuple[str, ...] = ()
    not_splash: tuple[str, ...] = ()
    not_sign_in: tuple[str, ...] = ()
    not_protected: tuple[str, ...] = ()
    at: Span = NO_SPAN
