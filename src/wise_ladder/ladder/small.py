"""What deciding answers with: small steps for doing, questions about what lies beneath, or a refusal.

A `level` counts the ladders of the visible path from the outside in; a small step works on the ladder of that level.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, TypeAlias

if TYPE_CHECKING:
    from wise_ladder.ladder.happenings import Finding, Happening
    from wise_ladder.ladder.state import Face
    from wise_ladder.plan.model import Arguments, Event, Move, Operation

# Questions about what a head does not show


@dataclass(frozen=True, slots=True)
class IsThere:
    """Is a rung of the screen on the ladder, given arguments compared?"""

    level: int
    screen: str
    arguments: Arguments = ()


@dataclass(frozen=True, slots=True)
class IsBeneath:
    """Does the rung right beneath the top one show the screen?"""

    level: int
    screen: str


@dataclass(frozen=True, slots=True)
class DeeperThan:
    """Are more than so many rungs on the visible path?"""

    rungs: int


Question: TypeAlias = IsThere | IsBeneath | DeeperThan
Known: TypeAlias = tuple[tuple[Question, bool], ...]
"""The questions that were answered already, each with its answer."""

# What is to be decided


@dataclass(frozen=True, slots=True)
class Do:
    """An operation of a move, its variables filled in, on the ladder of a level."""

    operation: Operation
    level: int


@dataclass(frozen=True, slots=True)
class Fire:
    """The timers of a rung that took so long are due; `hidden`: another rung is above it."""

    face: Face
    after: int
    level: int
    lowest: bool
    hidden: bool


Matter: TypeAlias = "Event | Do | Fire"

# Small steps


@dataclass(frozen=True, slots=True)
class Put:
    """A new rung on top, with timers of so many milliseconds."""

    level: int
    face: Face
    timers: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Swap:
    """The top rung goes and a new one takes its place."""

    level: int
    face: Face
    timers: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Drop:
    """The top rung goes."""

    level: int


@dataclass(frozen=True, slots=True)
class DropTo:
    """Rungs go down to the nearest one of the screen; `drop`: that one too. Looks beneath."""

    level: int
    screen: str
    arguments: Arguments
    drop: bool


@dataclass(frozen=True, slots=True)
class DropToLowest:
    """All rungs but the lowest go."""

    level: int


@dataclass(frozen=True, slots=True)
class DropAll:
    """All rungs go."""

    level: int


@dataclass(frozen=True, slots=True)
class HandTop:
    """The top rung gets these arguments."""

    level: int
    arguments: Arguments


@dataclass(frozen=True, slots=True)
class SetTo:
    """The fact of the app at this place gets a value."""

    place: int
    name: str
    value: str


@dataclass(frozen=True, slots=True)
class SetOwnTo:
    """A fact of the rung the move stands on gets a value; nothing where that rung is gone."""

    name: str
    value: str


@dataclass(frozen=True, slots=True)
class GoOut:
    """The app is left, and how."""

    how: str


@dataclass(frozen=True, slots=True)
class GoAway:
    """The app goes to the background."""

    by_back: bool


@dataclass(frozen=True, slots=True)
class ComeBack:
    """The app comes to the front, from the background or for the first time."""

    launched: bool


@dataclass(frozen=True, slots=True)
class Say:
    """Something to be told and nothing to be done."""

    happening: Happening


@dataclass(frozen=True, slots=True)
class Undo:
    """The whole move is undone, with a finding."""

    finding: Finding


@dataclass(frozen=True, slots=True)
class Then:
    """Something to be decided next, at the head as it is then."""

    do: Do


@dataclass(frozen=True, slots=True)
class Take:
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


@dataclass(frozen=True, slots=True)
class Refusal:
    """The event does not apply now, and why."""

    why: str


Decision: TypeAlias = "tuple[Small, ...] | Refusal"
