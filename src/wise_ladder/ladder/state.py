"""The state of a running app: immutable, hashable, a tree of ladders.

These are named tuples and not dataclasses because a sweep makes millions of them and a tuple is built and hashed at C speed.
A ladder is a tuple of rungs, lowest first. Times are milliseconds.
"""

from __future__ import annotations

from enum import Enum
from typing import TYPE_CHECKING, NamedTuple, TypeAlias

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.model import Plan
    from wise_ladder.plan.values import Arguments


class Phase(Enum):
    """Where the app is: not running, in front, or in the background."""

    OUTSIDE = "outside"
    OPEN = "open"
    AWAY = "away"

    # An enum member is one object for ever; its identity is the cheapest hash, and heads are hashed at every step.
    __hash__ = object.__hash__


class Face(NamedTuple):
    """What deciding may see of a rung: its screen, its arguments and the facts it holds itself."""

    screen: str
    arguments: Arguments = ()
    own: tuple[tuple[str, str], ...] = ()


class Rung(NamedTuple):
    """One entry of a ladder: `serial` tells apart rungs of one face, `inner` are the ladders it holds, `front` the one seen."""

    face: Face
    serial: int
    inner: tuple[Ladder, ...] = ()
    front: int = 0


Ladder: TypeAlias = tuple[Rung, ...]


class Pending(NamedTuple):
    """A timer that runs: when it is due, in which order it was started, for the rung of which serial and how long it took."""

    due: int
    order: int
    serial: int
    after: int


class Seen(NamedTuple):
    """What the user sees, None for the ground, the rung's serial, and since when."""

    face: Face | None
    serial: int
    since: int


class State(NamedTuple):
    """Everything there is of a running app between two events."""

    phase: Phase
    ladder: Ladder
    facts: tuple[str, ...]
    """The values in the order of the plan's facts."""
    pending: tuple[Pending, ...]
    """In the order in which they fall due."""
    clock: int
    serials: int
    """How many serials were given out, to rungs and to timers."""
    seen: Seen


class Spot(NamedTuple):
    """A rung of the visible path as the head shows it."""

    face: Face
    lowest: bool


class Head(NamedTuple):
    """What decides the next step, and nothing else of the state: phase, facts, the visible path from the outside in."""

    phase: Phase
    facts: tuple[str, ...]
    path: tuple[Spot, ...]


def first_state(plan: Plan, given: tuple[tuple[str, str], ...] = ()) -> State:
    """Return the state before the first launch; `given` are facts that differ from their first value."""
    values = {fact.name: fact.values[0] for fact in plan.facts} | dict(given)
    facts = tuple(values[fact.name] for fact in plan.facts)
    return State(Phase.OUTSIDE, (), facts, (), 0, 0, Seen(None, 0, 0))


def visible_path(ladder: Ladder) -> Iterator[Rung]:
    """Go from the outermost top rung inwards to the innermost one."""
    while ladder:
        top = ladder[-1]
        yield top
        ladder = top.inner[top.front] if top.inner else ()


def head_of(phase: Phase, ladder: Ladder, facts: tuple[str, ...]) -> Head:
    """Return the head: all that deciding may look at."""
    path: list[Spot] = []
    while ladder:
        top = ladder[-1]
        path.append(Spot(top.face, len(ladder) == 1))
        ladder = top.inner[top.front] if top.inner else ()
    return Head(phase, facts, tuple(path))


def top_rung(ladder: Ladder) -> Rung | None:
    """Return the innermost visible rung, None where there is none."""
    while ladder:
        top = ladder[-1]
        if not top.inner:
            return top
        ladder = top.inner[top.front]
    return None


def top_of(state: State) -> Rung | None:
    """Return the innermost rung on the visible path of a state, None where there is none."""
    return top_rung(state.ladder)


def rungs_beneath(ladder: Ladder) -> Iterator[Rung]:
    """Go through the ladders of the visible path, lowest rung first, each holder before what it holds."""
    while ladder:
        yield from ladder
        top = ladder[-1]
        ladder = top.inner[top.front] if top.inner else ()


def all_rungs(ladder: Ladder) -> Iterator[Rung]:
    """Go through every rung there is, hidden ladders included."""
    for rung in ladder:
        yield rung
        for inner in rung.inner:
            yield from all_rungs(inner)


def depth(state: State) -> int:
    """Count the rungs of the visible path that hold no ladder themselves."""
    return sum(not rung.inner for rung in rungs_beneath(state.ladder))


def fact_value(plan: Plan, state: State, name: str) -> str | None:
    """Return the value of a fact: of the visible rung where it holds one of that name, else of the app."""
    top = top_of(state)
    if top is not None:
        for own, value in top.face.own:
            if own == name:
                return value
    place = plan.place_of_fact.get(name)
    return None if place is None else state.facts[place]


def without_time(state: State) -> State:
    """Return the state without clock, serials and what was seen since when: two that are equal so go on alike."""
    numbers: dict[int, int] = {}
    ladder = _renumbered(state.ladder, numbers)
    pending = tuple(Pending(timer.due - state.clock, 0, numbers.get(timer.serial, -1), timer.after) for timer in state.pending)
    return State(state.phase, ladder, state.facts, pending, 0, 0, Seen(None, 0, 0))


def _renumbered(ladder: Ladder, numbers: dict[int, int]) -> Ladder:
    found: list[Rung] = []
    for rung in ladder:
        serial = numbers.setdefault(rung.serial, len(numbers))
        found.append(Rung(rung.face, serial, tuple(_renumbered(inner, numbers) for inner in rung.inner), rung.front))
    return tuple(found)
