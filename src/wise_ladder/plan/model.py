"""What a plan says, as plain data: the input of every other package.

Times are whole milliseconds, weights whole bytes. Nothing here knows of files or of YAML; a `Span` says where in the text a
thing stands, so that messages and edits find it again.

The data are msgspec structs: they are made, compared and hashed at C speed, and sixty such classes cost no start-up time.
"""

from __future__ import annotations

from functools import cached_property
from typing import Literal, TypeAlias

from msgspec import Struct

from wise_ladder.plan.events import Walk
from wise_ladder.plan.operations import Condition, Operation, Target, Trigger
from wise_ladder.plan.values import NOWHERE, Parameter, Span

Kept: TypeAlias = Literal["memory", "disk", "ladder"]
KEPT: tuple[Kept, ...] = ("memory", "disk", "ladder")


class Fact(Struct, frozen=True):
    """A named piece of state with a few possible values; the first is what it starts with."""

    name: str
    values: tuple[str, ...]
    kept: Kept = "memory"
    outside: tuple[tuple[str, str], ...] = ()
    """The changes the world may make, each from a value to a value."""
    at: Span = NOWHERE


# Moves and screens


class Move(Struct, frozen=True):
    """What happens on a screen: a trigger, a condition, operations done as one."""

    trigger: Trigger
    condition: Condition | None
    operations: tuple[Operation, ...]
    where: str | None
    """The screen it stands on; None for `anywhere`."""
    number: int
    """Its place among the moves of its screen, from 0."""
    only: tuple[str, ...] = ()
    """Of a move that stands anywhere: the only screens it is for, none given means all."""
    but: tuple[str, ...] = ()
    """Of a move that stands anywhere: the screens it is not for."""
    when: str = ""
    """The trigger as it was written."""
    text: str = ""
    """The operations as they were written."""
    at: Span = NOWHERE


Header: TypeAlias = Literal["arrow", "menu", "none"]


class Screen(Struct, frozen=True):
    """One screen of the app; `holds` are facts that each of its rungs has for itself."""

    name: str
    takes: tuple[Parameter, ...] = ()
    holds: tuple[Fact, ...] = ()
    moves: tuple[Move, ...] = ()
    weight: int = 0
    top_bar: Literal["shown", "hidden"] = "shown"
    bottom_bar: Literal["shown", "hidden"] = "shown"
    header: Header = "arrow"
    at: Span = NOWHERE


class StartChoice(Struct, frozen=True):
    """The screen that is put at launch where the condition holds; the first that does is taken."""

    target: Target
    condition: Condition | None = None


class Policies(Struct, frozen=True):
    """How the phone and the app's frame behave where the plan's moves leave it open."""

    back_at_root: Literal["leave", "away", "stay"] = "leave"
    pop_at_root: Literal["finding", "nothing", "leave"] = "finding"
    push_of_a_twin: Literal["stack", "nothing"] = "stack"


class Plan(Struct, frozen=True, eq=False, weakref=True, dict=True):
    """One app. Two plans are the same only where they are the very same object, so that tables can be kept for each."""

    app: str
    start: tuple[StartChoice, ...]
    policies: Policies
    facts: tuple[Fact, ...]
    screens: tuple[Screen, ...]
    anywhere: tuple[Move, ...] = ()
    walks: tuple[Walk, ...] = ()
    doubts: tuple[str, ...] = ()
    """What may be meant and probably is not, ready to print."""

    @cached_property
    def screen(self) -> dict[str, Screen]:
        """Each screen by its name."""
        return {screen.name: screen for screen in self.screens}

    @cached_property
    def place_of_fact(self) -> dict[str, int]:
        """Where in a state's facts the value of each fact stands."""
        return {fact.name: place for place, fact in enumerate(self.facts)}

    @property
    def moves(self) -> tuple[Move, ...]:
        """Every move, screen by screen in the order of the file, those that stand anywhere last."""
        return tuple(move for screen in self.screens for move in screen.moves) + self.anywhere
