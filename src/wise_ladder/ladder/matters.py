"""What is to be decided: an event, an operation of a move, a due timer, or what follows from a move."""

from __future__ import annotations

from typing import TypeAlias

from msgspec import Struct

from wise_ladder.plan.events import Event
from wise_ladder.plan.model import GuardId, Way
from wise_ladder.plan.operations import Operation, Trigger
from wise_ladder.plan.values import Arguments

Own: TypeAlias = tuple[tuple[str, str], ...]


class Cause(Struct, frozen=True):
    """Why an operation is done, as the guards see it: by which way, who has let it pass, who takes it at the press."""

    way: Way
    passed: tuple[GuardId, ...] = ()
    taken_by: str = ""


class Do(Struct, frozen=True, tag=True, cache_hash=True):
    """An operation of a move, its variables filled in, on the ladder of a level. No cause: guards are not asked."""

    operation: Operation
    level: int
    cause: Cause | None = None


class Due(Struct, frozen=True, tag=True):
    """A timer is due or a call is answered, and the place that began it reacts; no place: the app itself.

    `hidden`: its rung is not on the visible path; `gone`: it is on no ladder any more.
    """

    trigger: Trigger
    where: str | None
    screen: str = ""
    arguments: Arguments = ()
    own: Own = ()
    level: int = 0
    lowest: bool = False
    hidden: bool = False
    gone: bool = False


class World(Struct, frozen=True, tag=True):
    """The app was launched, the cover has gone, the phone is short of memory: for a place of the visible path, -1 anywhere."""

    what: Trigger
    place: int


class Begin(Struct, frozen=True, tag=True):
    """The app has started, and what it does before its first screen is done."""


class Uncover(Struct, frozen=True, tag=True):
    """May the cover go? `over`: its longest time is over."""

    over: bool = False


class Gone(Struct, frozen=True, tag=True):
    """An overlay's time is over."""

    overlay: str


class Shown(Struct, frozen=True, tag=True):
    """A rung at a place of the visible path became visible."""

    place: int
    first: bool


class Left(Struct, frozen=True, tag=True):
    """A rung went, from the ladder of a level."""

    screen: str
    arguments: Arguments
    own: Own
    level: int


class Turned(Struct, frozen=True, tag=True):
    """A fact has another value: the place of the visible path that may react (-1: anywhere), or a hidden rung."""

    fact: str
    value: str
    place: int
    hidden: str = ""
    arguments: Arguments = ()
    own: Own = ()


class Delivered(Struct, frozen=True, tag=True):
    """A result reaches the rung at a place of the visible path; no value: it was cancelled."""

    name: str
    value: str | None
    place: int


class Unasked(Struct, frozen=True, tag=True):
    """A rung went without its guards being asked; `passed` had let it pass."""

    screen: str
    arguments: Arguments
    own: Own
    passed: tuple[GuardId, ...]


class Emptied(Struct, frozen=True, tag=True):
    """The ladder inside the last place of the visible path has no rung left."""


class Arming(Struct, frozen=True, tag=True):
    """Which guards that come first are armed now?"""


Matter: TypeAlias = (
    Event | Do | Due | World | Begin | Uncover | Gone | Shown | Left | Turned | Delivered | Unasked | Emptied | Arming
)
