"""Conditions of moves, guards and redirects: what their phrases mean, as plain data."""

from __future__ import annotations

from typing import TypeAlias

from msgspec import Struct

from wise_ladder.plan.values import Value

# Conditions. Each is a question about the head, but for those that say they look beneath.


class FactIs(Struct, frozen=True, tag=True):
    """A fact of the app has this value."""

    name: str
    value: str


class RungFactIs(Struct, frozen=True, tag=True):
    """A fact of the rung the move stands on has this value."""

    name: str
    value: str


class ArgumentIs(Struct, frozen=True, tag=True):
    """An argument of the rung, or one the tap carries, has this value."""

    name: str
    value: Value


class Alone(Struct, frozen=True, tag=True):
    """The rung is the lowest of its ladder."""


class DepthOver(Struct, frozen=True, tag=True):
    """More than so many rungs are on the visible path. Looks beneath."""

    rungs: int


class OnLadder(Struct, frozen=True, tag=True):
    """Some rung of this ladder shows the screen. Looks beneath."""

    screen: str


class BeneathIs(Struct, frozen=True, tag=True):
    """The rung right beneath shows the screen. Looks beneath."""

    screen: str


class TabInFront(Struct, frozen=True, tag=True):
    """The tab is in front, in the nearest tabs around that have it."""

    tab: str


class TabAtRoot(Struct, frozen=True, tag=True):
    """The ladder of the tab has at most one rung, in the nearest tabs around that have it. Looks beneath."""

    tab: str


class TimerRuns(Struct, frozen=True, tag=True):
    """A timer of the app was started, and has neither run out nor been stopped. Looks at what is pending."""

    timer: str


class Not(Struct, frozen=True, tag=True):
    """The condition does not hold."""

    condition: Condition


class AllOf(Struct, frozen=True, tag=True):
    """Every one of the conditions holds."""

    conditions: tuple[Condition, ...]


class AnyOf(Struct, frozen=True, tag=True):
    """At least one of the conditions holds."""

    conditions: tuple[Condition, ...]


LadderCondition: TypeAlias = Alone | DepthOver | OnLadder | BeneathIs | TabInFront | TabAtRoot
"""A condition about rungs, and no value."""
Condition: TypeAlias = FactIs | RungFactIs | ArgumentIs | LadderCondition | TimerRuns | Not | AllOf | AnyOf
