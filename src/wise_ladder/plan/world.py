"""What an app meets from outside, as plain data: calls and timers, the cover, links, memory, and what it begins with."""

from __future__ import annotations

from typing import Literal, TypeAlias

from msgspec import Struct

from wise_ladder.plan.conditions import Condition
from wise_ladder.plan.operations import Target
from wise_ladder.plan.values import NO_SPAN, Parameter, Span


class Outcome(Struct, frozen=True):
    """A reply that a call may get: at the earliest after `takes` milliseconds, and only if the condition holds."""

    name: str
    takes: int = 0
    condition: Condition | None = None


OnRepeat: TypeAlias = Literal["both", "ignore", "restart"]
ON_REPEAT: tuple[OnRepeat, ...] = ("both", "ignore", "restart")


class Call(Struct, frozen=True):
    """A request with its possible replies; `again`: what a second one does while the first is pending."""

    name: str
    outcomes: tuple[Outcome, ...]
    again: OnRepeat = "both"
    silent: bool = True
    """Whether it may stay without any reply."""
    at: Span = NO_SPAN

    def outcome(self, name: str) -> Outcome | None:
        """Return the outcome of a name, None if there is none."""
        return next((outcome for outcome in self.outcomes if outcome.name == name), None)


class Timer(Struct, frozen=True):
    """A timer of the app, which moves start and stop by name; it runs out after so many milliseconds."""

    name: str
    after: int
    anew_when_touched: bool = False
    """Whether everything that the user does in the app starts it anew, while it runs."""
    at: Span = NO_SPAN


class Cover(Struct, frozen=True):
    """What the system shows while the app starts: at least so long, then until the condition holds, or at most so long."""

    least: int = 0
    until: Condition | None = None
    most: int | None = None
    at: Span = NO_SPAN


LinkMode: TypeAlias = Literal["rebuild", "on top", "reach", "over all"]
LINK_MODES: tuple[LinkMode, ...] = ("rebuild", "on top", "reach", "over all")


class Link(Struct, frozen=True):
    """An address from outside, as a URI template, and the path it builds.

    What follows a flow stands inside it. What follows tabs stands in the tab that begins with the next screen, or over the tabs
    if no tab begins with it.
    """

    address: str
    build: tuple[Target, ...]
    mode: LinkMode = "rebuild"
    carries: tuple[Parameter, ...] = ()
    """What the address brings along, with types and defaults."""
    at: Span = NO_SPAN


class MemoryLimits(Struct, frozen=True):
    """How many bytes all rungs may weigh before the phone warns, and before it ends the app; None: no such limit."""

    warn: int | None = None
    dies: int | None = None


Replies: TypeAlias = tuple[tuple[str, str], ...]
"""Calls, each with the outcome that comes by itself."""


class Given(Struct, frozen=True):
    """What an app may begin with, by a name: facts, each with a value, and replies that come by themselves."""

    name: str = ""
    facts: tuple[tuple[str, str], ...] = ()
    replies: Replies = ()
    at: Span = NO_SPAN
