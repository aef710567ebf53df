"""What a sweep can choose to do next: an event, or to let time pass."""

from __future__ import annotations

from typing import TypeAlias

from msgspec import Struct

from wise_ladder.plan.events import Event


class Elapse(Struct, frozen=True):
    """Time passes until the timer of this number falls due, and whatever falls due at the same instant."""

    timer: int


class Stay(Struct, frozen=True):
    """Nothing happens. Rules that look at a state alone are judged here, once for each state."""


Action: TypeAlias = Event | Elapse | Stay
