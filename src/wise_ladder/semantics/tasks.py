"""What is to be decided: an event, an operation of a move, a due timer, or what follows from a move."""

from __future__ import annotations

from typing import TypeAlias

from msgspec import Struct

from wise_ladder.plan.events import Event
from wise_ladder.plan.model import GuardId
from wise_ladder.plan.operations import Operation
from wise_ladder.plan.policies import Way
from wise_ladder.plan.triggers import Trigger
from wise_ladder.plan.values import Arguments, ResultValue

Own: TypeAlias = tuple[tuple[str, str], ...]


class Cause(Struct, frozen=True):
    """Why an operation is done, as guards see it: by which way, and which guard takes it at the press."""

    way: Way
    taken_by: str = ""
    passed: tuple[GuardId, ...] = ()
    """The guards whose questions were answered by going on, each as often as that was."""
    asked: tuple[tuple[GuardId, int], ...] = ()
    """The guards that this move has asked already, each with its place on the path, as `Head.armed` gives it."""


class OperationTask(Struct, frozen=True, tag=True, cache_hash=True):
    """An operation of a move, its variables filled in, on the ladder of a level. No cause: guards are not asked."""

    operation: Operation
    level: int
    cause: Cause | None = None


class TriggerTask(Struct, frozen=True, tag=True):
    """A timer is due or a call is answered, and the place that began it reacts; no place: the app itself.

    `hidden`: its rung is not on the visible path; `gone`: it is on no ladder any more, or the overlay has closed.
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


class SecondTap(Struct, frozen=True, tag=True):
    """The second tap of two in quick succession, on the very place that took the first.

    `where`: that place, None for `anywhere`; `own` and `arguments`: of its rung, what the tap carries included.
    """

    tap: str
    way: Way
    where: str | None
    arguments: Arguments = ()
    own: Own = ()
    level: int = 0
    lowest: bool = False


class PhaseTask(Struct, frozen=True, tag=True):
    """The app was launched, the cover has gone, the phone is short of memory: for a place of the visible path, -1: the app.

    `overlay`: for an overlay over that place.
    """

    what: Trigger
    place: int
    overlay: str = ""


class PutStart(Struct, frozen=True, tag=True):
    """The app has started, and what it does before its first screen is done."""


class CheckCover(Struct, frozen=True, tag=True):
    """May the cover go? `over`: its longest time is over."""

    over: bool = False


class AppTimerDue(Struct, frozen=True, tag=True):
    """A timer of the app runs out."""

    timer: str


class OverlayExpired(Struct, frozen=True, tag=True):
    """An overlay's time is over."""

    overlay: str


class BecameVisible(Struct, frozen=True, tag=True):
    """A rung at a place of the visible path became visible, or an overlay over it."""

    place: int
    first: bool
    overlay: str = ""


class RungLeft(Struct, frozen=True, tag=True):
    """A rung went, from the ladder of a level, or an overlay closed; `out`: the app was left."""

    where: str
    arguments: Arguments
    own: Own
    level: int
    lowest: bool = False
    out: bool = False


class FactTask(Struct, frozen=True, tag=True):
    """A fact has another value, and a place of the visible path may react (-1: the app), an overlay, or a hidden rung."""

    fact: str
    value: str
    place: int
    overlay: str = ""
    hidden: str = ""
    arguments: Arguments = ()
    own: Own = ()
    level: int = 0
    lowest: bool = False


class ResultArrived(Struct, frozen=True, tag=True):
    """A result reaches the rung that is on top of a ladder, by its place on the path; no value: it was cancelled."""

    name: str
    value: ResultValue | None
    place: int


class CheckUnasked(Struct, frozen=True, tag=True):
    """A rung goes without its guards being asked; those of `asked` were."""

    screen: str
    arguments: Arguments
    own: Own
    lowest: bool
    asked: tuple[GuardId, ...]


Task: TypeAlias = (
    Event
    | OperationTask
    | TriggerTask
    | SecondTap
    | PhaseTask
    | PutStart
    | CheckCover
    | AppTimerDue
    | OverlayExpired
    | BecameVisible
    | RungLeft
    | FactTask
    | ResultArrived
    | CheckUnasked
)
