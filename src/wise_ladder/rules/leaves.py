"""What comes of a choice as far as it was looked at, as trees and rows: what `graph` keeps of all it finds out."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple, TypeAlias

from wise_ladder.ladder.cutting import Untold
from wise_ladder.ladder.veiling import BEHIND
from wise_ladder.rules.putting_back import changes
from wise_ladder.rules.tails import EMPTY, TAIL_BITS

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.ladder.cutting import Look
    from wise_ladder.ladder.state import Phase, State
    from wise_ladder.plan.model import Plan
    from wise_ladder.rules.choices import Choice
    from wise_ladder.rules.doings import Done
    from wise_ladder.rules.edges import Guilt
    from wise_ladder.rules.putting_back import PuttingBack
    from wise_ladder.rules.shapes import Facts, Shaped
    from wise_ladder.rules.tails import Made, Tails
    from wise_ladder.rules.zones import Zone

Comes: TypeAlias = "tuple[int, Shaped]"
"""The shape's number, `BEHIND` where it is still behind a veil, and all parts: where they are equal, so is what can come."""


class Found(NamedTuple):
    """A choice at a state as far as it was looked at, and what came of it; what was not looked at is left out of both."""

    plan: Plan
    before: State
    choice: Choice
    done: Done
    comes_to: Comes


class Suspect(NamedTuple):
    """A break as it was found: of which rule, by its number, by whom, and the step."""

    rule: int
    guilt: Guilt
    found: Found


class Leaf:
    """What a choice comes to, wherever the same was looked at: another shape, facts that turn, tails that grow."""

    __slots__ = ("choice", "done", "ends", "facts", "push", "shape", "steady", "suspects", "tails", "turns", "veiled")

    def __init__(
        self,
        choice: Choice,
        done: Done,
        comes_to: Comes,
        before: int | None,
        tails: Tails,
        suspects: tuple[Suspect, ...],
    ) -> None:
        """Lay out how so many tails become others; None: there may be any number of them, behind a veil."""
        self.choice, self.done = choice, done
        self.suspects = suspects
        """Which rules it may break; each state it comes from may show that, or may not."""
        self.shape, (_, facts, found) = comes_to
        self.facts = changes(facts)
        """The facts that have a value now whatever they had before: place and value."""
        self.turns = isinstance(facts[-1], Untold) and facts[-1].turned
        """Whether something else is seen after it, and what is under way was not looked at."""
        self.tails = tuple(
            (source, tuple(part if isinstance(part, int) else ~tails.rung(part) for part in over)) for source, over in found
        )
        """How each tail is made, as `Tail` says it, rungs by the complements of their numbers."""
        self.veiled = comes_to[1].shape if self.shape == BEHIND else None
        """What it comes to where all ladders stay behind their veil."""
        self.steady = self.veiled is not None or (before is not None and self.tails == _same(before))
        """Whether the tails stay as they are."""
        self.ends = -1
        """The tails it comes to whatever there were before; -1: they hang on those."""
        if self.veiled is None and all(source < 0 and all(part < 0 for part in over) for source, over in self.tails):
            (self.ends,) = tails.after([EMPTY], self.tails)
        self.push = None if before is None else _push(before, self.tails)
        """Where one tail gets one rung more, or a last one is begun: how far up it stands, and the number of the rung."""


def _same(tails: int) -> Made:
    return tuple((place, ()) for place in range(tails))


def _push(before: int, made: Made) -> tuple[int, int] | None:
    same = _same(before)
    for place, (_, over) in enumerate(made):
        if len(over) == 1 and over[0] < 0:
            begun = (*same, (-1, over)) if place == before else (*same[:place], (place, over), *same[place + 1 :])
            if made == begun:
                return TAIL_BITS * place, ~over[0]
    return None


class Node:
    """A choice at a shape: what it comes to, or what it looks at and how it goes on from there.

    `likely`: the places of facts to look at before it is tried at all.
    """

    __slots__ = ("children", "choice", "habit", "leaves", "likely", "look", "put_back", "state", "zone")

    def __init__(self, choice: Choice, state: State, zone: Zone, habit: Habit, likely: tuple[int, ...]) -> None:
        self.choice, self.state, self.zone, self.habit, self.likely = choice, state, zone, habit, likely
        self.look: Look | None = None
        self.put_back: Callable[[PuttingBack], State] | None = None
        """What is to be put back once it is known what is under way."""
        self.leaves: tuple[Leaf, ...] | None = None
        self.children: dict[object, Node] = {}


Habit: TypeAlias = "tuple[Choice | str, Phase, str]"
"""A choice, of links the address as the plan writes it, and where it is made: facts it always looked at it looks at first."""


class Row:
    """All that can come of a core, by what it costs: what keeps the tails, what puts a rung, what ends them all, the rest."""

    __slots__ = ("cores", "deep", "ends", "others", "parted", "pushes", "suspects", "ways")

    def __init__(self, ways: list[tuple[Leaf, int]], deep: list[Deep]) -> None:
        """Sort the ways, each what a choice comes to and the core that leads to; what leads to the same is kept once."""
        self.ways = ways
        self.suspects = [suspect for leaf, _ in ways for suspect in leaf.suspects]
        self.deep = [each for each in deep if not each.parts]
        self.parted = [each for each in deep if each.parts]
        self.cores = list(dict.fromkeys(core for leaf, core in ways if leaf.steady))
        self.ends = [(core, leaf.ends) for leaf, core in ways if leaf.ends >= 0 and not leaf.steady]
        """States, each the same from whichever this is the row of."""
        self.pushes = list(dict.fromkeys((core, *leaf.push) for leaf, core in ways if leaf.push and leaf.ends < 0))
        """The core, how far up the tail stands that gets one rung more, and the number of the rung."""
        rest = ((core, leaf.tails) for leaf, core in ways if not leaf.steady and leaf.ends < 0 and not leaf.push)
        self.others = list(dict.fromkeys(rest))


class Deep:
    """Choices that look at the highest rung of a tail, at the one that made a call or is sought, or at a hidden ladder."""

    __slots__ = ("facts", "mark", "new", "nodes", "number", "parts", "rows", "shape", "shift", "sought", "tails", "whole")

    def __init__(self, look: Look, mark: int, shape: int, facts: Facts, tails: int) -> None:
        self.number, self.mark, self.shape, self.facts, self.tails = look.number, mark, shape, facts, tails
        self.sought, self.whole = look.sought, look.what in {"ladder", "sought in ladder"}
        self.parts = look.what != "rung"
        """Whether the tail is parted: what lies over what is looked at becomes one more."""
        self.shift = TAIL_BITS * look.number
        self.new = TAIL_BITS * tails
        """How far up one tail more would stand."""
        self.nodes: list[Node] = []
        self.rows: dict[object, Row] = {}
        """By the number of what is seen there."""
