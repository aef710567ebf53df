"""All that can come of all states of a plan, each state one whole number, each decision made once.

A state's lowest bits are its core: a shape with values for the facts. Above them stand its tails, each a number for a row of
rungs. What a choice does at a shape is found out once, with facts and tails left out; what it looks at makes a tree that is
grown as it is needed. A row is what these trees come to for the facts of one core.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple, TypeAlias

from wise_ladder.ladder.cutting import Look
from wise_ladder.ladder.state import State, first_state
from wise_ladder.rules.doings import Choice, Choices, Done, all_unread
from wise_ladder.rules.shapes import Tail, changes, opened, read, whole
from wise_ladder.rules.zones import NOTHING, Zone

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from wise_ladder.ladder.state import Ladder, Rung
    from wise_ladder.plan.model import Plan

CORE_BITS = 24
CORE = (1 << CORE_BITS) - 1
TAIL_BITS = 24
TAIL = (1 << TAIL_BITS) - 1
EMPTY = 0
"""The tail without rungs."""


class Found(NamedTuple):
    """A choice at a state as far as it was looked at, and what came of it; what was not looked at is left out of both."""

    plan: Plan
    before: State
    choice: Choice
    done: Done


class Leaf:
    """What a choice comes to, wherever the same was looked at: another shape, facts that turn, tails that grow."""

    __slots__ = ("choice", "done", "facts", "shape", "tails")

    def __init__(self, choice: Choice, done: Done, shape: int, facts: tuple[tuple[int, str], ...], tails: tuple[Tail, ...]) -> None:
        self.choice, self.done, self.shape, self.facts, self.tails = choice, done, shape, facts, tails


class Node:
    """A choice at a shape: what it comes to, or what it looks at and how it goes on from there."""

    __slots__ = ("children", "choice", "leaves", "look", "state", "zone")

    def __init__(self, choice: Choice, state: State, zone: Zone) -> None:
        self.choice, self.state, self.zone = choice, state, zone
        self.look: Look | None = None
        self.leaves: tuple[Leaf, ...] | None = None
        self.children: dict[object, Node] = {}


class Way:
    """What a choice comes to at a core: another core, and how the tails of the state become those of the next."""

    __slots__ = ("core", "leaf", "shifts", "steady")

    def __init__(self, leaf: Leaf, core: int, tails: int) -> None:
        self.leaf, self.core = leaf, core
        self.steady = len(leaf.tails) == tails and all(tail == (place, ()) for place, tail in enumerate(leaf.tails))
        """Whether the tails stay as they are."""
        self.shifts = tuple((CORE_BITS + TAIL_BITS * source if source >= 0 else -1, over) for source, over in leaf.tails)


class Deep:
    """A choice that looks at the highest rung of a tail: what it comes to for each."""

    __slots__ = ("children", "node", "shift")

    def __init__(self, node: Node, number: int) -> None:
        self.node, self.shift = node, CORE_BITS + TAIL_BITS * number
        self.children: dict[tuple[int, int], tuple[tuple[Way, ...], tuple[Deep, ...]]] = {}


class Row(NamedTuple):
    """All that can come of the states of a core: where the tails stay, where they do not, where one must be looked at."""

    steady: list[Way]
    cores: list[int]
    """Of the steady ones: where they lead."""
    others: list[Way]
    deep: list[Deep]


Judge: TypeAlias = "Callable[[Found], None]"


class Graph:
    """The states of a plan and what leads from each to which; `judge` looks once at each edge that is new."""

    def __init__(self, choices: Choices, judge: Judge = lambda _: None) -> None:
        """Begin with the state before the first launch, which is `first`."""
        self.plan, self.choices, self.judge = choices.plan, choices, judge
        self.shapes: list[tuple[State, Zone]] = []
        self._shape_of: dict[tuple[State, Zone], int] = {}
        self._nodes: list[list[Node] | None] = []
        self.cores: list[tuple[int, tuple[str, ...]]] = []
        self._core_of: dict[tuple[int, tuple[str, ...]], int] = {}
        self.rows: list[Row | None] = []
        self.parents, self.tops = [EMPTY], [-1]
        self._plain: list[bool] = [True]
        self._tail_of: dict[tuple[int, int], int] = {}
        self.rungs: list[Rung] = []
        self._rung_of: dict[Rung, int] = {}
        shaped = choices.shaping.shaped(first_state(self.plan))
        self.first = self.core(self.shape(shaped.shape, NOTHING), shaped.facts)

    # Numbers for everything

    def shape(self, state: State, zone: Zone) -> int:
        """Number a shape with its zone."""
        found = self._shape_of.get((state, zone))
        if found is None:
            found = self._shape_of[state, zone] = len(self.shapes)
            self.shapes.append((state, zone))
            self._nodes.append(None)
        return found

    def core(self, shape: int, facts: tuple[str, ...]) -> int:
        """Number a shape with values for its facts."""
        found = self._core_of.get((shape, facts))
        if found is None:
            found = self._core_of[shape, facts] = len(self.cores)
            self.cores.append((shape, facts))
            self.rows.append(None)
        return found

    def rung(self, rung: Rung) -> int:
        """Number a rung of a tail."""
        found = self._rung_of.get(rung)
        if found is None:
            found = self._rung_of[rung] = len(self.rungs)
            self.rungs.append(rung)
        return found

    def tail(self, parent: int, rung: Rung) -> int:
        """Number the tail that has a rung on top of another tail."""
        number = self.rung(rung)
        found = self._tail_of.get((parent, number))
        if found is None:
            found = self._tail_of[parent, number] = len(self.parents)
            self.parents.append(parent)
            self.tops.append(number)
            self._plain.append(self._plain[parent] and self.choices.shaping.plain(rung))
        return found

    # What leads where

    def row(self, core: int) -> Row:
        """Return all that can come of the states of a core."""
        found = self.rows[core]
        if found is None:
            shape, facts = self.cores[core]
            nodes = self._nodes[shape]
            if nodes is None:
                state, zone = self.shapes[shape]
                nodes = self._nodes[shape] = [Node(choice, state, zone) for choice in self.choices.of(state)]
            ways: list[Way] = []
            deep: list[Deep] = []
            for node in nodes:
                self._resolve(node, facts, ways, deep)
            steady = [way for way in ways if way.steady]
            others = [way for way in ways if not way.steady]
            found = self.rows[core] = Row(steady, [way.core for way in steady], others, deep)
        return found

    def _resolve(self, node: Node, facts: tuple[str, ...], ways: list[Way], deep: list[Deep]) -> None:
        """Find what a choice comes to where the facts are these."""
        while True:
            if node.leaves is None and node.look is None:
                self._grow(node)
            if node.leaves is not None:
                for leaf in node.leaves:
                    ways.append(self._way(leaf, facts, _count_cuts(node.state)))
                return
            look = node.look
            assert look is not None  # noqa: S101 - grown just now
            if look.what == "rung":
                deep.append(Deep(node, look.number))
                return
            value = facts[look.number]
            child = node.children.get(value)
            if child is None:
                child = node.children[value] = Node(node.choice, read(node.state, look.number, value), node.zone)
            node = child

    def _way(self, leaf: Leaf, facts: tuple[str, ...], tails: int) -> Way:
        if leaf.facts:
            turned = list(facts)
            for place, value in leaf.facts:
                turned[place] = value
            facts = tuple(turned)
        return Way(leaf, self.core(leaf.shape, facts), tails)

    def _grow(self, node: Node) -> None:
        try:
            leaves = []
            for done in self.choices.done(node.state, node.zone, node.choice):
                self.judge(Found(self.plan, node.state, node.choice, done))
                shaped = self.choices.shaping.shaped(done.state)
                shape = self.shape(shaped.shape, done.zone)
                leaves.append(Leaf(node.choice, done, shape, changes(shaped.facts), shaped.tails))
            node.leaves = tuple(leaves)
        except Look as look:
            node.look = look

    def looked(self, deep: Deep, state: int) -> tuple[int, tuple[tuple[Way, ...], tuple[Deep, ...]]]:
        """Look at the top of a tail: the state without it there, and what the choice comes to."""
        tail = state >> deep.shift & TAIL
        parent = self.parents[tail]
        top = self.tops[tail]
        rest = -1 if parent == EMPTY else self._plain[parent]
        found = deep.children.get((top, rest))
        if found is None:
            number = (deep.shift - CORE_BITS) // TAIL_BITS
            child = deep.node.children.get((top, rest))
            if child is None:
                plain = None if parent == EMPTY else self._plain[parent]
                more = opened(deep.node.state, number, self.rungs[top], plain=plain)
                child = deep.node.children[top, rest] = Node(deep.node.choice, more, deep.node.zone)
            ways: list[Way] = []
            deeper: list[Deep] = []
            self._resolve(child, self.cores[state & CORE][1], ways, deeper)
            found = deep.children[top, rest] = (tuple(ways), tuple(deeper))
        return state + (parent - tail << deep.shift), found

    def after(self, state: int, way: Way) -> int:
        """Return the state that a way leads to from a state."""
        found, shift = way.core, CORE_BITS
        for source, over in way.shifts:
            tail = state >> source & TAIL if source >= 0 else EMPTY
            for rung in over:
                tail = self.tail(tail, rung)
            found |= tail << shift
            shift += TAIL_BITS
        return found

    def edges(self, state: int) -> Iterator[tuple[Way, int]]:
        """Go through all that can come of a state: how, and which state."""
        row = self.row(state & CORE)
        for way in row.steady:
            yield way, state & ~CORE | way.core
        for way in row.others:
            yield way, self.after(state, way)
        waiting = [(state, deep) for deep in row.deep]
        while waiting:
            at, deep = waiting.pop()
            less, (ways, deeper) = self.looked(deep, at)
            for way in ways:
                yield way, self.after(less, way)
            waiting += [(less, further) for further in deeper]

    def state(self, number: int) -> State:
        """Return the whole state of a number, without clock; what is under way is said without times."""
        shape, facts = self.cores[number & CORE]
        tails = number >> CORE_BITS
        state, _ = self.shapes[shape]
        found = whole(state, lambda cut: self._rungs(tails >> TAIL_BITS * cut & TAIL))
        return State(
            found.phase, found.ladder, facts, found.pending, 0, found.seen, found.layers, found.question, found.wanted,
            found.armed, found.unseen, found.bars, found.cover, found.calls, (), found.arriving, found.freed,
        )  # fmt: skip

    def _rungs(self, tail: int) -> Ladder:
        found: list[Rung] = []
        while tail != EMPTY:
            found.append(self.rungs[self.tops[tail]])
            tail = self.parents[tail]
        return tuple(reversed(found))


def _count_cuts(state: State) -> int:
    """Count the tails of a state."""

    def count(ladder: Ladder) -> int:
        return sum(1 if rung.cut else sum(count(inner) for inner in rung.inner) for rung in ladder)

    return count(state.ladder)
