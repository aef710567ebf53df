"""Triggers: what sets a move off."""

from __future__ import annotations

from typing import ClassVar, Literal, NamedTuple, TypeAlias, get_args

from msgspec import Struct

from wise_ladder.plan.values import Parameter


class TriggerRecord(NamedTuple):
    """What is known of all triggers of a kind."""

    phrases: tuple[str, ...]
    """How a plan says them."""
    anywhere: bool = False
    """Whether a move that stands anywhere may have it."""
    by_itself: bool = False
    """Whether it happens without the user."""


class TapTrigger(Struct, frozen=True, tag=True):
    """The user taps this; `carries` are the arguments that the tap brings along."""

    record: ClassVar = TriggerRecord(("tap NAME",), anywhere=True)

    name: str
    carries: tuple[Parameter, ...] = ()


TimerScope: TypeAlias = Literal["on ladder", "shown", "whatever happens"]
TIMER_SCOPES: tuple[TimerScope, ...] = ("on ladder", "shown", "whatever happens")


class TimerTrigger(Struct, frozen=True, tag=True):
    """So long after the rung was put, also while it is hidden, until it goes.

    `shown`: after it was shown, until it is covered; `whatever happens`: even after it went.
    """

    record: ClassVar = TriggerRecord(("1500ms on ladder", "1500ms shown", "1500ms whatever happens"), by_itself=True)

    after: int
    runs: TimerScope = "on ladder"


class ShownTrigger(Struct, frozen=True, tag=True):
    """The rung becomes visible; `first`: for the first time only."""

    record: ClassVar = TriggerRecord(("shown", "first shown"), by_itself=True)

    first: bool = False


class LeftTrigger(Struct, frozen=True, tag=True):
    """The rung went."""

    record: ClassVar = TriggerRecord(("left",))


class BecomesTrigger(Struct, frozen=True, tag=True):
    """A fact changes to this value; `even_hidden`: a rung that is not seen reacts too."""

    record: ClassVar = TriggerRecord(("FACT becomes VALUE",), anywhere=True, by_itself=True)

    fact: str
    value: str
    even_hidden: bool = False


class ResultTrigger(Struct, frozen=True, tag=True):
    """An awaited result comes back, or is cancelled."""

    record: ClassVar = TriggerRecord(("NAME comes back", "NAME is cancelled"))

    name: str
    cancelled: bool = False


class ReplyTrigger(Struct, frozen=True, tag=True):
    """A call that was made here is answered so."""

    record: ClassVar = TriggerRecord(("CALL gives OUTCOME",), anywhere=True, by_itself=True)

    call: str
    outcome: str


class PhaseTrigger(Struct, frozen=True, tag=True):
    """The app has just started, the cover has gone, or the phone is short of memory."""

    record: ClassVar = TriggerRecord(("launched", "cover gone", "low memory"), anywhere=True, by_itself=True)

    what: Literal["launched", "cover gone", "low memory"]


class RunsOutTrigger(Struct, frozen=True, tag=True):
    """A timer of the app has run out."""

    record: ClassVar = TriggerRecord(("TIMER runs out",), anywhere=True, by_itself=True)

    timer: str


Trigger: TypeAlias = (
    TapTrigger
    | TimerTrigger
    | ShownTrigger
    | LeftTrigger
    | BecomesTrigger
    | ResultTrigger
    | ReplyTrigger
    | PhaseTrigger
    | RunsOutTrigger
)
TRIGGERS: tuple[type[Trigger], ...] = get_args(Trigger)
"""Every kind of trigger."""
