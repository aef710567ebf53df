"""What a plan says, as plain data: the input of every other package.

Times are whole milliseconds, weights whole bytes. Nothing here knows of files or of YAML; a `Span` says where in the text a
thing stands, so that messages and edits find it again.

The data are msgspec structs: they are made, compared and hashed at C speed, and sixty such classes cost no start-up time.
"""

from __future__ import annotations

from functools import cached_property
from typing import Literal, NamedTuple, TypeAlias

from msgspec import Struct

Value: TypeAlias = str | int
"""A value of an argument: whole numbers are numbers, anything else is text (`yes` and `no` are words)."""

Arguments: TypeAlias = tuple[tuple[str, Value], ...]
"""Name and value of each argument, in the order in which the screen takes them."""


class Span(NamedTuple):
    """A stretch of the plan's text: line and column count from 1, start and end are offsets in characters."""

    line: int
    column: int
    start: int
    end: int


NOWHERE = Span(0, 0, 0, 0)


class Variable(Struct, frozen=True):
    """`$id` in a phrase: the argument of that name where the move stands, or one that its tap carries."""

    name: str


class Parameter(Struct, frozen=True):
    """An argument that a screen takes; `samples` are tried where a tool has to make up a value."""

    name: str
    kind: Literal["whole number", "text", "one of"]
    samples: tuple[Value, ...]
    default: Value | None = None


def as_value(parameter: Parameter, text: str) -> Value | None:
    """Read a word as a value of an argument; None where its type has no such value."""
    if parameter.kind == "whole number":
        digits = text.removeprefix("-")
        return int(text) if digits.isascii() and digits.isdigit() and len(digits) < 16 else None
    return None if parameter.kind == "one of" and text not in parameter.samples else text


Kept: TypeAlias = Literal["memory", "disk", "ladder"]
KEPT: tuple[Kept, ...] = ("memory", "disk", "ladder")


class Fact(Struct, frozen=True):
    """A named piece of state with a few possible values; the first is what it starts with."""

    name: str
    values: tuple[str, ...]
    kept: Kept = "memory"
    outside: tuple[tuple[str, str], ...] = ()
    """The changes the world may make, each from a value to a value."""
    at: Span = NOWHERE


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

# Moves and screens


class TapTrigger(Struct, frozen=True):
    """The user taps this; `carries` are the arguments that the tap brings along."""

    name: str
    carries: tuple[Parameter, ...] = ()


class TimerTrigger(Struct, frozen=True):
    """So long after the rung was put; cancelled with its rung, runs while it is hidden."""

    after: int


Trigger: TypeAlias = TapTrigger | TimerTrigger


class Move(Struct, frozen=True):
    """What happens on a screen: a trigger, a condition, operations done as one."""

    trigger: Trigger
    condition: Condition | None
    operations: tuple[Operation, ...]
    where: str | None
    """The screen it stands on; None for `anywhere`."""
    number: int
    """Its place among the moves of its screen, from 0."""
    only: tuple[str, ...] = ()
    """Of a move that stands anywhere: the only screens it is for, none given means all."""
    but: tuple[str, ...] = ()
    """Of a move that stands anywhere: the screens it is not for."""
    when: str = ""
    """The trigger as it was written."""
    text: str = ""
    """The operations as they were written."""
    at: Span = NOWHERE


Header: TypeAlias = Literal["arrow", "menu", "none"]


class Screen(Struct, frozen=True):
    """One screen of the app; `holds` are facts that each of its rungs has for itself."""

    name: str
    takes: tuple[Parameter, ...] = ()
    holds: tuple[Fact, ...] = ()
    moves: tuple[Move, ...] = ()
    weight: int = 0
    top_bar: Literal["shown", "hidden"] = "shown"
    bottom_bar: Literal["shown", "hidden"] = "shown"
    header: Header = "arrow"
    at: Span = NOWHERE


class StartChoice(Struct, frozen=True):
    """The screen that is put at launch where the condition holds; the first that does is taken."""

    target: Target
    condition: Condition | None = None


class Policies(Struct, frozen=True):
    """How the phone and the app's frame behave where the plan's moves leave it open."""

    back_at_root: Literal["leave", "away", "stay"] = "leave"
    pop_at_root: Literal["finding", "nothing", "leave"] = "finding"
    push_of_a_twin: Literal["stack", "nothing"] = "stack"


class Plan(Struct, frozen=True, eq=False, weakref=True, dict=True):
    """One app. Two plans are the same only where they are the very same object, so that tables can be kept for each."""

    app: str
    start: tuple[StartChoice, ...]
    policies: Policies
    facts: tuple[Fact, ...]
    screens: tuple[Screen, ...]
    anywhere: tuple[Move, ...] = ()
    walks: tuple[Walk, ...] = ()
    doubts: tuple[str, ...] = ()
    """What may be meant and probably is not, ready to print."""

    @cached_property
    def screen(self) -> dict[str, Screen]:
        """Each screen by its name."""
        return {screen.name: screen for screen in self.screens}

    @cached_property
    def place_of_fact(self) -> dict[str, int]:
        """Where in a state's facts the value of each fact stands."""
        return {fact.name: place for place, fact in enumerate(self.facts)}

    @property
    def moves(self) -> tuple[Move, ...]:
        """Every move, screen by screen in the order of the file, those that stand anywhere last."""
        return tuple(move for screen in self.screens for move in screen.moves) + self.anywhere


# What happens to a running app, and what a walk expects


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
