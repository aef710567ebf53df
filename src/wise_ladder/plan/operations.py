"""Conditions, operations and triggers: what the phrases of a move mean, as plain data."""

from __future__ import annotations

from typing import TypeAlias

from msgspec import Struct

from wise_ladder.plan.values import Parameter, Value


class Variable(Struct, frozen=True):
    """`$id` in a phrase: the argument of that name where the move stands, or one that its tap carries."""

    name: str


# Conditions. Each is a question about the head, but for those that say they look beneath.


class FactIs(Struct, frozen=True):
    """A fact of the app has this value."""

    name: str
    value: str


class OwnIs(Struct, frozen=True):
    """A fact of the rung the move stands on has this value."""

    name: str
    value: str


class ArgumentIs(Struct, frozen=True):
    """An argument of the rung, or one the tap carries, has this value."""

    name: str
    value: Value


class Alone(Struct, frozen=True):
    """The rung is the lowest of its ladder."""


class DepthOver(Struct, frozen=True):
    """More than so many rungs are on the visible path. Looks beneath."""

    rungs: int


class OnLadder(Struct, frozen=True):
    """Some rung of this ladder shows the screen. Looks beneath."""

    screen: str


class BeneathIs(Struct, frozen=True):
    """The rung right beneath shows the screen. Looks beneath."""

    screen: str


class Not(Struct, frozen=True):
    """The condition does not hold."""

    condition: Condition


class All(Struct, frozen=True):
    """Every one of the conditions holds."""

    conditions: tuple[Condition, ...]


class Either(Struct, frozen=True):
    """At least one of the conditions holds."""

    conditions: tuple[Condition, ...]


Condition: TypeAlias = FactIs | OwnIs | ArgumentIs | Alone | DepthOver | OnLadder | BeneathIs | Not | All | Either

# Operations


class Target(Struct, frozen=True):
    """A screen with the arguments it is to get."""

    screen: str
    arguments: tuple[tuple[str, Value | Variable], ...] = ()


class Push(Struct, frozen=True):
    """A new rung on top; `once`: nothing where it would stand on its twin."""

    target: Target
    once: bool = False


class Replace(Struct, frozen=True):
    """The top rung goes and the new one takes its place."""

    target: Target


class Pop(Struct, frozen=True):
    """So many rungs go, one after the other; `otherwise` is done at the lowest of the ladder."""

    rungs: int = 1
    otherwise: Operation | None = None


class PopTo(Struct, frozen=True):
    """Down to the nearest rung of the screen, given arguments compared; `drop`: that one goes too. Looks beneath."""

    target: Target
    drop: bool = False
    otherwise: Operation | None = None


class PopToRoot(Struct, frozen=True):
    """All rungs of this ladder but the lowest go."""


class Clear(Struct, frozen=True):
    """All rungs of this ladder go."""


class Reach(Struct, frozen=True):
    """Back to the nearest rung of the screen, which gets the arguments; a push where there is none. Looks beneath."""

    target: Target
    exactly: bool = False


class SetFact(Struct, frozen=True):
    """A fact of the app gets a value."""

    name: str
    value: str


class SetOwn(Struct, frozen=True):
    """A fact of the rung the move stands on gets a value."""

    name: str
    value: str


class Leave(Struct, frozen=True):
    """The app is left by its own code."""


Operation: TypeAlias = Push | Replace | Pop | PopTo | PopToRoot | Clear | Reach | SetFact | SetOwn | Leave


# Triggers


class TapTrigger(Struct, frozen=True):
    """The user taps this; `carries` are the arguments that the tap brings along."""

    name: str
    carries: tuple[Parameter, ...] = ()


class TimerTrigger(Struct, frozen=True):
    """So long after the rung was put; cancelled with its rung, runs while it is hidden."""

    after: int


Trigger: TypeAlias = TapTrigger | TimerTrigger
