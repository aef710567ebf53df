"""What deciding asks about rungs that it does not see, and about what is pending.

A `level` counts the ladders of the path from the outside in, a `place` the rungs of the path in the same way.
"""

from __future__ import annotations

from typing import TypeAlias

from msgspec import Struct

from wise_ladder.plan.values import Arguments


class IsThere(Struct, frozen=True):
    """Is a rung of the screen on the ladder of a level, given arguments compared?"""

    level: int
    screen: str
    arguments: Arguments = ()


class OnPath(Struct, frozen=True):
    """Is a rung of the screen on any of the ladders that the path goes through?

    `place`: -1 for the visible path, None for the path to the rung that the matter is about, which is not on it.
    """

    place: int | None
    screen: str


class IsBeneath(Struct, frozen=True):
    """Does what is right beneath a place show the screen?

    -1: beneath the innermost visible rung; None: beneath the rung that the matter is about, wherever it stands.
    """

    place: int | None
    screen: str


class DeeperThan(Struct, frozen=True):
    """Are more than so many rungs on the visible path?"""

    rungs: int


class TabIsEmpty(Struct, frozen=True):
    """Was the tab of the tabs at a place never in front?"""

    place: int
    tab: int


class IsInFront(Struct, frozen=True):
    """Is a tab in front, of the nearest tabs around a place that have it? The place is as for `IsBeneath`."""

    place: int | None
    tab: str


class IsAtRoot(Struct, frozen=True):
    """Has a tab no more than one rung, of the nearest tabs around a place that have it? The place is as for `IsBeneath`."""

    place: int | None
    tab: str


class TimerIsRunning(Struct, frozen=True):
    """Does a timer of the app run?"""

    timer: str


class ArmedHolds(Struct, frozen=True):
    """Does the condition hold of a guard that comes first, whose rung is not on the path? By its number among those armed."""

    number: int


StackQuery: TypeAlias = (
    IsThere | OnPath | IsBeneath | DeeperThan | TabIsEmpty | IsInFront | IsAtRoot | TimerIsRunning | ArmedHolds
)
StackAnswers: TypeAlias = tuple[tuple[StackQuery, bool], ...]
"""The questions that were answered already, each with its answer."""
