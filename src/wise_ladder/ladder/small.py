"""What deciding answers with: small steps for doing, questions about what lies beneath, or a refusal.

A `level` counts the ladders of the visible path from the outside in; a small step works on the ladder of that level.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, TypeAlias

from msgspec import Struct

if TYPE_CHECKING:
    from wise_ladder.ladder.happenings import Finding, Happening
    from wise_ladder.ladder.state import Face
    from wise_ladder.plan.events import Event
    from wise_ladder.plan.model import Move
    from wise_ladder.plan.operations import Operation
    from wise_ladder.plan.values import Arguments

# Questions about what a head does not show


class IsThere(Struct, frozen=True):
    """Is a rung of the screen on the ladder, given arguments compared?"""

    level: int
    screen: str
    arguments: Arguments = ()


class IsBeneath(Struct, frozen=True):
    """Does the rung right beneath the top one show the screen?"""

    level: int
    screen: str


class DeeperThan(Struct, frozen=True):
    """Are more than so many rungs on the visible path?"""

    rungs: int


Question: TypeAlias = IsThere | IsBeneath | DeeperThan
Known: TypeAlias = tuple[tuple[Question, bool], ...]
"""The questions that were answered already, each with its answer."""

# What is to be decided


class Do(Struct, frozen=True):
    """An operation of a move, its variables filled in, on the ladder of a level."""

    operation: Operation
    level: int


class Fire(Struct, frozen=True):
    """The timers of a rung that took so long are due; `hidden`: another rung is above it."""

    face: Face
    after: int
    level: int
    lowest: bool
    hidden: bool


Matter: TypeAlias = "Event | Do | Fire"

# Small steps


class Put(Struct, frozen=True):
    """A new rung on top, with timers of so many milliseconds."""

    level: int
    face: Face
    timers: tuple[int, ...]


class Swap(Struct, frozen=True):
    """The top rung goes and a new one takes its place."""

    level: int
    face: Face
    timers: tuple[int, ...]


class Drop(Struct, frozen=True):
    """The top rung goes."""

    level: int


class DropTo(Struct, frozen=True):
    """Rungs go down to the nearest one of the screen; `drop`: that one too. Looks beneath."""

    level: int
    screen: str
    arguments: Arguments
    drop: bool


class DropToLowest(Struct, frozen=True):
    """All rungs but the lowest go."""

    level: int


class DropAll(Struct, frozen=True):
    """All rungs go."""

    level: int


class HandTop(Struct, frozen=True):
    """The top rung gets these arguments."""

    level: int
    arguments: Arguments


class SetTo(Struct, frozen=True):
    """The fact of the app at this place gets a value."""

    place: int
    name: str
    value: str


class SetOwnTo(Struct, frozen=True):
    """A fact of the rung the move stands on gets a value; nothing where that rung is gone."""

    name: str
    value: str


class GoOut(Struct, frozen=True):
    """The app is left, and how."""

    how: str


class GoAway(Struct, frozen=True):
    """The app goes to the background."""

    by_back: bool


class ComeBack(Struct, frozen=True):
    """The app comes to the front, from the background or for the first time."""

    launched: bool


class Say(Struct, frozen=True):
    """Something to be told and nothing to be done."""

    happening: Happening


class Undo(Struct, frozen=True):
    """The whole move is undone, with a finding."""

    finding: Finding


class Then(Struct, frozen=True):
    """Something to be decided next, at the head as it is then."""

    do: Do


class Take(Struct, frozen=True):
    """A move was found for the event; it stands on the rung of this place of the visible path, None for a hidden one."""

    move: Move
    place: int | None


Small: TypeAlias = (
    Put
    | Swap
    | Drop
    | DropTo
    | DropToLowest
    | DropAll
    | HandTop
    | SetTo
    | SetOwnTo
    | GoOut
    | GoAway
    | ComeBack
    | Say
    | Undo
    | Then
    | Take
)

# Answers


class Refusal(Struct, frozen=True):
    """The event does not apply now, and why."""

    why: str


Decision: TypeAlias = "tuple[Small, ...] | Refusal"
