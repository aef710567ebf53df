"""What a sweep can choose to do next: an event, or to let time pass."""

from __future__ import annotations

from typing import TypeAlias

from msgspec import Struct

from wise_ladder.plan.events import Event


class Elapse(Struct, frozen=True):
    """Time passes until the timer of this number falls due, and whatever falls due at the same instant."""

    timer: int


class Stay(Struct, frozen=True):
    """Nothing happens: what can be judged of a state alone is judged once, and not by each step that leads there."""


Action: TypeAlias = Event | Elapse | Stay
