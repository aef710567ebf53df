"""What happens to a running app, and what a walk expects of it, as plain data."""

from __future__ import annotations

from typing import TypeAlias

from msgspec import Struct

from wise_ladder.plan.values import NOWHERE, Arguments, Span


class Launch(Struct, frozen=True):
    """The user starts the app."""


class Tap(Struct, frozen=True):
    """The user taps something on what is seen."""

    name: str
    arguments: Arguments = ()


class Back(Struct, frozen=True):
    """The system's Back."""


class HeaderBack(Struct, frozen=True):
    """The button in the header."""


class Home(Struct, frozen=True):
    """The user goes to the phone's own home; the app stays in the background."""


class Reopen(Struct, frozen=True):
    """The user comes back to the app in the background."""


class Wait(Struct, frozen=True):
    """So many milliseconds pass; what falls due on the way happens."""

    time: int


class OutsideChange(Struct, frozen=True):
    """The world changes a fact."""

    fact: str
    value: str


Event: TypeAlias = Launch | Tap | Back | HeaderBack | Home | Reopen | Wait | OutsideChange


class See(Struct, frozen=True):
    """The screen is what the user sees; arguments that are not named may be anything."""

    screen: str
    arguments: Arguments = ()


class LadderIs(Struct, frozen=True):
    """These rungs and no others are on the ladder, lowest first; arguments that are not named may be anything."""

    rungs: tuple[See, ...]


class DepthIs(Struct, frozen=True):
    """So many rungs are on the visible path."""

    rungs: int


class Outside(Struct, frozen=True):
    """The app does not run."""


class Away(Struct, frozen=True):
    """The app is in the background."""


class ValueIs(Struct, frozen=True):
    """A fact of the app, or of the rung that is seen, has this value."""

    fact: str
    value: str


class NeverSaw(Struct, frozen=True):
    """The screen was not seen since the walk began."""

    screen: str


class BackLandsOn(Struct, frozen=True):
    """Back, pressed now, would land on the screen; nothing is done."""

    rung: See


class BackLeaves(Struct, frozen=True):
    """Back, pressed now, would leave the app; nothing is done."""


Expectation: TypeAlias = See | LadderIs | DepthIs | Outside | Away | ValueIs | NeverSaw | BackLandsOn | BackLeaves


class WalkStep(Struct, frozen=True):
    """One line of a walk: something done or something expected, and how it was written."""

    what: Event | Expectation
    text: str = ""
    at: Span = NOWHERE


class Repeat(Struct, frozen=True):
    """Steps that are done so many times."""

    times: int
    steps: tuple[WalkStep | Repeat, ...]


class Walk(Struct, frozen=True):
    """A written path: what is done and what must be seen on it."""

    name: str
    steps: tuple[WalkStep | Repeat, ...]
    given: tuple[tuple[str, str], ...] = ()
    """Facts and the values they have before the first step."""
    at: Span = NOWHERE
