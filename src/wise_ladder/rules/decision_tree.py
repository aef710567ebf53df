"""Decision trees and rows: what the graph stores about each choice, as far as it was looked at."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, NamedTuple, TypeAlias

from wise_ladder.rules.refinement import changes
from wise_ladder.rules.symbolic_stacks import EMPTY, STACK_BITS
from wise_ladder.semantics.opaque import OPAQUE_SERIAL
from wise_ladder.semantics.symbolic import NOTHING_PENDING_KNOWN, SymbolicPart

if TYPE_CHECKING:
    from collections.abc import Callable, Collection, Hashable

    from wise_ladder.plan.model import Plan
    from wise_ladder.rules.abstraction import AbstractState, Valuation
    from wise_ladder.rules.actions import Action
    from wise_ladder.rules.refinement import Refiner
    from wise_ladder.rules.successors import Successor
    from wise_ladder.rules.symbolic_stacks import StackRecipes, StackTable
    from wise_ladder.rules.transition import Violation
    from wise_ladder.rules.witnesses import Goal
    from wise_ladder.rules.zones import Zone
    from wise_ladder.semantics.state import State
    from wise_ladder.semantics.symbolic import RefinementNeeded

AbstractKey: TypeAlias = "tuple[int, AbstractState]"
"""The number of the skeleton, `OPAQUE_SERIAL` for opaque ladders, and all parts: equal keys have equal successors."""


class NewTransition(NamedTuple):
    """A choice at a state as far as it was looked at, and what came of it; what was not looked at is left out of both."""

    plan: Plan
    before: State
    action: Action
    successor: Successor
    comes_to: AbstractKey


class Candidate(NamedTuple):
    """A break as it was found: of which rule, by its number, by whom, and the step."""

    rule: int
    guilt: Violation
    found: NewTransition


class Judgement(NamedTuple):
    """What a step that is new may break, and which goals of the sweep it reaches."""

    candidates: tuple[Candidate, ...] = ()
    goals: tuple[Goal, ...] = ()


class DecisionLeaf:
    """What a choice comes to, wherever the same was looked at: another shape, facts that turn, tails that grow."""

    __slots__ = (
        "action",
        "candidates",
        "facts",
        "fixed_stacks",
        "goals",
        "keeps_stacks",
        "pending",
        "push",
        "shape",
        "successor",
        "tails",
        "veiled",
    )

    def __init__(self, found: NewTransition, judgement: Judgement, before: int | None, tails: StackTable) -> None:
        """Lay out how so many tails become others; None: there may be any number of them, behind a veil."""
        self.action, self.successor = found.action, found.successor
        self.candidates, self.goals = judgement
        """Which rules it may break; each state it comes from may show that, or may not."""
        self.shape, (skeleton, facts, entries) = found.comes_to
        self.facts = changes(facts)
        """The facts that have a value now whatever they had before: place and value."""
        pending = facts[-1].known if isinstance(facts[-1], SymbolicPart) else NOTHING_PENDING_KNOWN
        self.pending = pending._replace(names=None)
        """What becomes of what is pending, where it was not looked at."""
        self.tails = tuple(
            (source, tuple(part if isinstance(part, int) else ~tails.intern_rung(part) for part in over))
            for source, over in entries
        )
        """How each tail is made, as `StackRecipe` says it, rungs by the complements of their numbers."""
        self.veiled = skeleton if self.shape == OPAQUE_SERIAL else None
        """What it comes to where all ladders stay behind their veil."""
        self.keeps_stacks = self.veiled is not None or (before is not None and self.tails == _same(before))
        """Whether the tails stay as they are."""
        self.fixed_stacks = -1
        """The tails it comes to whatever there were before; -1: they depend on those."""
        if self.veiled is None and all(source < 0 and all(part < 0 for part in over) for source, over in self.tails):
            (self.fixed_stacks,) = tails.rebuild([EMPTY], self.tails)
        self.push = None if before is None else _push(before, self.tails)
        """Where one tail gets one rung more, or a last one is begun: how far up it stands, and the number of the rung."""

    def breaks(self, rules: Collection[int]) -> int | None:
        """Return the first of some rules that it may break, None if it breaks none of them."""
        return next((suspect.rule for suspect in self.candidates if suspect.rule in rules), None)


def _same(tails: int) -> StackRecipes:
    return tuple((place, ()) for place in range(tails))


def _push(before: int, made: StackRecipes) -> tuple[int, int] | None:
    same = _same(before)
    for place, (_, over) in enumerate(made):
        if len(over) == 1 and over[0] < 0:
            begun = (*same, (-1, over)) if place == before else (*same[:place], (place, over), *same[place + 1 :])
            if made == begun:
                return STACK_BITS * place, ~over[0]
    return None


class DecisionNode:
    """A choice at a shape: what it comes to, or what it looks at and how it goes on from there.

    `trail`: the number of what was looked at until now, as `UsualLooks` has it.
    """

    __slots__ = ("children", "choice", "leaves", "look", "put_back", "read", "state", "trail", "zone")

    def __init__(self, choice: Action, state: State, zone: Zone, trail: int) -> None:
        self.choice, self.state, self.zone, self.trail = choice, state, zone, trail
        self.look: RefinementNeeded | None = None
        self.put_back: Callable[[Refiner], State] | None = None
        """What is to be put back once it is known what is pending."""
        self.leaves: tuple[DecisionLeaf, ...] | None = None
        self.children: dict[object, DecisionNode] = {}
        self.read = 0
        """The bits of the moves that were read, as `PlanIndex.read` has them."""

    def forget(self, moves: int, gone: list[DecisionLeaf]) -> bool:
        """Forget what came of reading some moves, and all beneath; add its leaves to `gone`; return whether any was."""
        if self.read & moves:
            waiting = [self]
            while waiting:
                node = waiting.pop()
                gone += node.leaves or ()
                waiting += node.children.values()
            self.look = self.leaves = None
            self.children, self.read = {}, 0
            return True
        forgot = False
        for child in self.children.values():
            forgot |= child.forget(moves, gone)
        return forgot


class SuccessorRow:
    """All that can come of a core, by what it costs: what keeps the tails, what puts a rung, what ends them all, the rest."""

    __slots__ = ("candidates", "cores", "deep", "ends", "goals", "others", "pushes", "ways")

    def __init__(self, ways: list[tuple[DecisionLeaf, int]], deep: list[StackRead]) -> None:
        """Sort the ways, each what a choice comes to and the core that leads to; what leads to the same is kept once."""
        self.ways = ways
        self.candidates = [suspect for leaf, _ in ways for suspect in leaf.candidates]
        self.goals = [(goal, leaf) for leaf, _ in ways for goal in leaf.goals]
        self.deep = deep
        self.cores = list(dict.fromkeys(core for leaf, core in ways if leaf.keeps_stacks))
        self.ends = [(core, leaf.fixed_stacks) for leaf, core in ways if leaf.fixed_stacks >= 0 and not leaf.keeps_stacks]
        """States, each the same from whichever this is the row of."""
        self.pushes = list(dict.fromkeys((core, *leaf.push) for leaf, core in ways if leaf.push and leaf.fixed_stacks < 0))
        """The core, how far up the tail stands that gets one rung more, and the number of the rung."""
        rest = ((core, leaf.tails) for leaf, core in ways if not leaf.keeps_stacks and leaf.fixed_stacks < 0 and not leaf.push)
        self.others = list(dict.fromkeys(rest))


class StackRead:
    """Choices that look at the highest rung of a tail, at the one that made a call or is sought, at a hidden ladder.

    Or at what can come of one tail, or of all.
    """

    __slots__ = ("facts", "mark", "new", "nodes", "number", "rows", "shape", "shift", "sought", "tails", "what", "whole")

    def __init__(self, look: RefinementNeeded, mark: int, shape: int, facts: Valuation, tails: int) -> None:
        self.number, self.mark, self.shape, self.facts, self.tails = look.number, mark, shape, facts, tails
        self.what, self.sought, self.whole = look.what, look.sought, look.what in {"ladder", "sought in ladder"}
        self.shift = STACK_BITS * look.number
        self.new = STACK_BITS * tails
        """How far up one tail more would stand."""
        self.nodes: list[DecisionNode] = []
        self.rows: dict[Hashable, SuccessorRow] = {}
        """By what is seen there."""

    def grouped(self, tails: StackTable, bundles: list[int]) -> dict[Any, list[int]]:
        """Sort bundles by what is seen; what was looked at is taken off, and what is over it becomes a tail of its own."""
        if self.what == "rung":
            return tails.pop_grouped(bundles, self.shift)
        if self.what in {"rest", "rests"}:
            return tails.rest_grouped(bundles, self.shift, self.tails if self.what == "rests" else 1, self.mark)
        if self.what == "sought anywhere":
            return tails.found_grouped(bundles, self.tails, self.mark)
        return tails.split_grouped(bundles, self.shift, self.mark, self.new)
