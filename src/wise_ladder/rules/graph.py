"""All that can come of all states of a plan, each state one whole number, each decision made once.

A state's lowest bits are its core: a shape with values for the facts. Above them stand its tails, each a number for a row of
rungs. What a choice does at a shape is found out once, with facts and tails left out; what it looks at makes a tree that is
grown as it is needed. A row is what these trees come to for the facts of one core.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple, TypeAlias

from msgspec.structs import replace

from wise_ladder.ladder.cutting import Look
from wise_ladder.ladder.state import Phase, State, first_state, visible_path
from wise_ladder.ladder.tables import tables
from wise_ladder.plan.events import Link
from wise_ladder.rules.shapes import SEEN, Tail, changes, opened, read, whole
from wise_ladder.rules.zones import NOTHING, Zone

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from wise_ladder.ladder.state import Ladder, Rung
    from wise_ladder.plan.model import Plan
    from wise_ladder.rules.doings import Choice, Choices, Done

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
    comes_to: tuple[int, tuple[str, ...], tuple[Tail, ...]]
    """The shape, facts and tails it comes to: where they are equal, so is all that can come of what was looked at."""


class Leaf:
    """What a choice comes to, wherever the same was looked at: another shape, facts that turn, tails that grow."""

    __slots__ = ("choice", "done", "facts", "shape", "tails")

    def __init__(
        self, choice: Choice, done: Done, shape: int, facts: tuple[tuple[int, str], ...], tails: tuple[Tail, ...]
    ) -> None:
        self.choice, self.done, self.shape, self.facts, self.tails = choice, done, shape, facts, tails


class Node:
    """A choice at a shape: what it comes to, or what it looks at and how it goes on from there."""

    __slots__ = ("children", "choice", "habit", "leaves", "likely", "look", "state", "zone")

    def __init__(self, choice: Choice, state: State, zone: Zone, habit: Habit, likely: tuple[int, ...]) -> None:
        self.choice, self.state, self.zone, self.habit, self.likely = choice, state, zone, habit, likely
        self.look: Look | None = None
        self.leaves: tuple[Leaf, ...] | None = None
        self.children: dict[object, Node] = {}


Habit: TypeAlias = "tuple[Choice | str, Phase, str]"
"""A choice, of links the address as the plan writes it, and where it was made: what it looked at there it will do again."""


class Way:
    """What a choice comes to at a core: another core, and how the tails of the state become those of the next."""

    __slots__ = ("core", "leaf", "push", "shifts", "steady")

    def __init__(self, leaf: Leaf, core: int, tails: int, number: Callable[[Rung], int]) -> None:
        self.leaf, self.core = leaf, core
        only = leaf.tails[0] if len(leaf.tails) == 1 else (-2, ())
        over = only[1][0] if len(only[1]) == 1 and only[0] == tails - 1 else -1
        self.push = -1 if isinstance(over, int) else number(over)
        """The number of the rung that is put on the only tail, or makes a first one; -1: it is something else."""
        self.steady = len(leaf.tails) == tails and all(tail == (place, ()) for place, tail in enumerate(leaf.tails))
        """Whether the tails stay as they are."""
        self.shifts = tuple((CORE_BITS + TAIL_BITS * source if source >= 0 else -1, over) for source, over in leaf.tails)


class Row:
    """All that can come of a core, in the order of what it costs: what keeps the tails, what puts a rung, the rest."""

    __slots__ = ("cores", "deep", "others", "pushes", "steady")

    def __init__(self, ways: list[Way], deep: list[Deep], tails: int) -> None:
        self.steady: list[Way] = []
        self.pushes: list[tuple[int, int, Way]] = []
        """Where the only tail gets one rung more: the core, the number of the rung, and the way."""
        self.others: list[Way] = []
        self.deep = deep
        for way in ways:
            if way.steady:
                self.steady.append(way)
            elif tails <= 1 and way.push >= 0:
                self.pushes.append((way.core, way.push, way))
            else:
                self.others.append(way)
        self.cores = [way.core for way in self.steady]
        """Of the steady ones: where they lead."""


class Deep:
    """Choices that look at the highest rung of a tail: what they come to for each."""

    __slots__ = ("facts", "nodes", "number", "rows", "shift", "tails")

    def __init__(self, number: int, facts: tuple[str, ...], tails: int) -> None:
        self.number, self.facts, self.tails = number, facts, tails
        self.shift = CORE_BITS + TAIL_BITS * number
        self.nodes: list[Node] = []
        self.rows: dict[tuple[int, int | None], Row] = {}


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
        self._quiet = [2]
        self.tail_of: dict[int, int] = {}
        """The tail of which another is the rest and a rung, by its number, the top."""
        self._habits: dict[Habit, tuple[int, ...]] = {}
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
        return self.tail_of.get(parent << TAIL_BITS | number) or self.new_tail(parent, number)

    def new_tail(self, parent: int, number: int) -> int:
        """Make the tail that has the rung of a number on top of another tail."""
        found = self.tail_of[parent << TAIL_BITS | number] = len(self.parents)
        self.parents.append(parent)
        self.tops.append(number)
        self._quiet.append(min(self._quiet[parent], self.choices.shaping.quiet(self.rungs[number])))
        return found

    # What leads where

    def row(self, core: int) -> Row:
        """Return all that can come of the states of a core."""
        found = self.rows[core]
        if found is None:
            shape, facts = self.cores[core]
            nodes = self._nodes[shape]
            if nodes is None:
                nodes = self._nodes[shape] = self._roots(*self.shapes[shape])
            found = self.rows[core] = self._row(nodes, facts, _count_cuts(self.shapes[shape][0]))
        return found

    def _row(self, nodes: list[Node], facts: tuple[str, ...], tails: int) -> Row:
        ways: list[Way] = []
        deep: dict[int, Deep] = {}
        for node in nodes:
            self._resolve(node, facts, ways, deep, tails)
        return Row(ways, list(deep.values()), tails)

    def _roots(self, state: State, zone: Zone) -> list[Node]:
        path = visible_path(state.ladder)
        top = path[-1].face.screen if path else ""
        found = []
        for choice in self.choices.of(state):
            link = tables(self.plan).link_of(choice.address).link if isinstance(choice, Link) else None
            habit = (choice if link is None else link.address, state.phase, top)
            found.append(Node(choice, state, zone, habit, self._habits.get(habit, ())))
        return found

    def _resolve(self, node: Node, facts: tuple[str, ...], ways: list[Way], deep: dict[int, Deep], tails: int) -> None:
        """Find what a choice comes to where the facts are these."""
        while True:
            if node.leaves is None and node.look is None:
                self._grow(node)
            if node.leaves is not None:
                ways += [self._way(leaf, facts, tails) for leaf in node.leaves]
                return
            look = node.look
            assert look is not None  # noqa: S101 - grown just now
            if look.what == "rung":
                group = deep.get(look.number)
                if group is None:
                    group = deep[look.number] = Deep(look.number, facts, tails)
                group.nodes.append(node)
                return
            value = facts[look.number]
            child = node.children.get(value)
            if child is None:
                likely = node.likely[1:] if node.likely else ()
                more = read(node.state, look.number, value)
                child = node.children[value] = Node(node.choice, more, node.zone, node.habit, likely)
            node = child

    def _way(self, leaf: Leaf, facts: tuple[str, ...], tails: int) -> Way:
        if leaf.facts:
            turned = list(facts)
            for place, value in leaf.facts:
                turned[place] = value
            facts = tuple(turned)
        return Way(leaf, self.core(leaf.shape, facts), tails, self.rung)

    def _grow(self, node: Node) -> None:
        if node.likely:
            node.look = Look("fact", node.likely[0])
            return
        try:
            leaves = []
            for done in self.choices.done(node.state, node.zone, node.choice):
                shaped = self.choices.shaping.shaped(done.state)
                shape = self.shape(shaped.shape, done.zone)
                self.judge(Found(self.plan, node.state, node.choice, done, (shape, shaped.facts, shaped.tails)))
                leaves.append(Leaf(node.choice, done, shape, changes(shaped.facts), shaped.tails))
            node.leaves = tuple(leaves)
        except Look as look:
            node.look = look
            known = self._habits.get(node.habit, ())
            if look.what == "fact" and look.number not in known:
                self._habits[node.habit] = (*known, look.number)

    def looked(self, deep: Deep, high: int) -> tuple[int, Row]:
        """Look at the top of a tail: the tails without it there, and what the choices come to."""
        tail = high >> deep.shift & TAIL
        parent, top = self.parents[tail], self.tops[tail]
        rest = None if parent == EMPTY else self._quiet[parent]
        row = deep.rows.get((top, rest))
        if row is None:
            children = []
            for node in deep.nodes:
                child = node.children.get((top, rest))
                if child is None:
                    more = opened(node.state, deep.number, self.rungs[top], rest)
                    child = node.children[top, rest] = Node(node.choice, more, node.zone, node.habit, ())
                children.append(child)
            row = deep.rows[top, rest] = self._row(children, deep.facts, deep.tails)
        return high + (parent - tail << deep.shift), row

    def after(self, high: int, way: Way) -> int:
        """Return the state that a way leads to, given the tails of the state it starts from."""
        found, shift = way.core, CORE_BITS
        for source, over in way.shifts:
            tail = high >> source & TAIL if source >= 0 else EMPTY
            for part in over:
                if isinstance(part, int):
                    tail = self._joined(tail, high >> (CORE_BITS + TAIL_BITS * part) & TAIL)
                else:
                    tail = self.tail(tail, part)
            found |= tail << shift
            shift += TAIL_BITS
        return found

    def _joined(self, lower: int, upper: int) -> int:
        """Return the tail that has the rungs of one over those of another."""
        over: list[int] = []
        while upper != EMPTY:
            over.append(self.tops[upper])
            upper = self.parents[upper]
        for top in reversed(over):
            lower = self.tail_of.get(lower << TAIL_BITS | top) or self.new_tail(lower, top)
        return lower

    def edges(self, state: int) -> Iterator[tuple[Way, int]]:
        """Go through all that can come of a state: how, and which state."""
        waiting = [(state & ~CORE, self.row(state & CORE))]
        while waiting:
            high, row = waiting.pop()
            yield from ((way, high | way.core) for way in row.steady)
            yield from ((way, self.after(high, way)) for _, _, way in row.pushes)
            yield from ((way, self.after(high, way)) for way in row.others)
            waiting += [self.looked(deep, high) for deep in row.deep]

    def state(self, number: int) -> State:
        """Return the whole state of a number, without clock; what is under way is said without times."""
        shape, facts = self.cores[number & CORE]
        tails = number >> CORE_BITS
        state, _ = self.shapes[shape]
        found = whole(state, lambda cut: self._rungs(tails >> TAIL_BITS * cut & TAIL))
        return replace(found, facts=facts, calls=tuple(call for call in found.calls if call.name != SEEN))

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
