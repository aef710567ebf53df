"""All that can come of all states of a plan, each state two whole numbers, each decision made once.

The first is its core: a shape with values for the facts. The second packs its tails, each a number for a row of rungs. What a
choice does at a shape is found out once, with facts and tails left out; what it looks at makes a tree that is grown as it is
needed. A row is what these trees come to for the facts of one core.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple, TypeAlias

from msgspec.structs import replace

from wise_ladder.ladder.cutting import Look
from wise_ladder.ladder.state import Phase, Rung, State, first_state, visible_path
from wise_ladder.ladder.tables import tables
from wise_ladder.plan.events import Link
from wise_ladder.rules.shapes import MARKS, SEEN, PuttingBack, Rest, changes, read
from wise_ladder.rules.zones import NOTHING, Zone

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from wise_ladder.ladder.cutting import Cut
    from wise_ladder.ladder.state import Ladder
    from wise_ladder.plan.model import Plan
    from wise_ladder.rules.doings import Choice, Choices, Done
    from wise_ladder.rules.shapes import Shaped

TAIL_BITS = 24
TAIL = (1 << TAIL_BITS) - 1
NUMBER = (1 << MARKS) - 1
NO_REST = 3
EMPTY = 0
"""The tail without rungs."""


At: TypeAlias = tuple[int, int]
"""A state: its core, and its tails."""
Comes: TypeAlias = "tuple[int, Shaped]"
"""The shape's number, and all parts: where they are equal, so is all that can come of what was looked at."""


class Found(NamedTuple):
    """A choice at a state as far as it was looked at, and what came of it; what was not looked at is left out of both."""

    plan: Plan
    before: State
    choice: Choice
    done: Done
    comes_to: Comes


class Leaf:
    """What a choice comes to, wherever the same was looked at: another shape, facts that turn, tails that grow."""

    __slots__ = ("choice", "done", "ends", "facts", "push", "shape", "steady", "tails")

    def __init__(self, choice: Choice, done: Done, comes_to: Comes, tails: int, graph: Graph) -> None:
        """Lay out how so many tails become others."""
        self.choice, self.done = choice, done
        self.shape, (_, facts, found) = comes_to
        self.facts = changes(facts)
        self.tails = tuple(
            (source, tuple(part if isinstance(part, int) else ~graph.rung(part) for part in over)) for source, over in found
        )
        """How each tail is made, as `Tail` says it, rungs by the complements of their numbers."""
        self.steady = self.tails == _same(tails)
        """Whether the tails stay as they are."""
        self.ends = -1
        """The tails it comes to whatever there were before; -1: they hang on those."""
        if all(source < 0 and all(part < 0 for part in over) for source, over in self.tails):
            (self.ends,) = graph.after([0], self.tails)
        self.push: tuple[int, int] | None = None
        """Where one tail gets one rung more, or a last one is begun: how far up it stands, and the number of the rung."""
        for place, (_, over) in enumerate(self.tails):
            if len(over) == 1 and over[0] < 0 and self.tails == _pushed(tails, place, over):
                self.push = TAIL_BITS * place, ~over[0]


def _same(tails: int) -> Made:
    return tuple((place, ()) for place in range(tails))


def _pushed(tails: int, place: int, over: tuple[int, ...]) -> Made:
    same = _same(tails)
    return (*same, (-1, over)) if place == tails else (*same[:place], (place, over), *same[place + 1 :])


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


class Row:
    """All that can come of a core, by what it costs: what keeps the tails, what puts a rung, what ends them all, the rest."""

    __slots__ = ("cores", "deep", "ends", "others", "parted", "pushes", "ways")

    def __init__(self, ways: list[tuple[Leaf, int]], deep: list[Deep]) -> None:
        """Sort the ways, each what a choice comes to and the core that leads to; what leads to the same is kept once."""
        self.ways = ways
        self.deep = [each for each in deep if not each.mark]
        self.parted = [each for each in deep if each.mark]
        self.cores = list(dict.fromkeys(core for leaf, core in ways if leaf.steady))
        self.ends = [(core, leaf.ends) for leaf, core in ways if leaf.ends >= 0 and not leaf.steady]
        """States, each the same from whichever this is the row of."""
        self.pushes = list(dict.fromkeys((core, *leaf.push) for leaf, core in ways if leaf.push and leaf.ends < 0))
        """The core, how far up the tail stands that gets one rung more, and the number of the rung."""
        rest = ((core, leaf.tails) for leaf, core in ways if not leaf.steady and leaf.ends < 0 and not leaf.push)
        self.others = list(dict.fromkeys(rest))


class Deep:
    """Choices that look at the highest rung of a tail, or at the one that made a call: what they come to for each."""

    __slots__ = ("facts", "mark", "new", "nodes", "number", "rows", "shift", "tails")

    def __init__(self, look: Look, facts: Facts, tails: int) -> None:
        self.number, self.mark, self.facts, self.tails = look.number, look.mark, facts, tails
        self.shift = TAIL_BITS * look.number
        self.new = TAIL_BITS * tails
        """How far up one tail more would stand."""
        self.nodes: list[Node] = []
        self.rows: dict[object, Row] = {}
        """By the number of what is seen there."""


Facts: TypeAlias = tuple[str, ...]
Made: TypeAlias = "tuple[tuple[int, tuple[int, ...]], ...]"
"""How tails are made of others, each as `Tail` says it, but rungs by the complements of their numbers."""
Sight: TypeAlias = "tuple[int, Rest | None, Rest | None]"
"""A rung's number, and what of the tails beneath it and over it."""


class Parted(NamedTuple):
    """A tail that is parted at a rung: the tail beneath that, the one over it, and what is seen there."""

    lower: int
    upper: int
    seen: Sight


Judge: TypeAlias = "Callable[[Found], None]"


class Graph:
    """The states of a plan and what leads from each to which; `judge` looks once at each edge that is new."""

    def __init__(self, choices: Choices, judge: Judge = lambda _: None) -> None:
        """Begin with the state before the first launch, which is `first`."""
        self.plan, self.choices, self.judge = choices.plan, choices, judge
        self._calls = len(self.plan.calls)
        self.shapes: list[tuple[State, Zone]] = []
        self._shape_of: dict[tuple[State, Zone], int] = {}
        self._nodes: list[list[Node] | None] = []
        self.cores: list[tuple[int, Facts]] = []
        self._core_of: dict[tuple[int, Facts], int] = {}
        self.rows: list[Row | None] = []
        self.parents, self.tops = [EMPTY], [-1]
        self.sights = [-1]
        """Of each tail a number for its top, how quiet the rest is, and which calls that made."""
        self._quiet, self._askers = [2], [0]
        self._parted: dict[int, Parted] = {}
        """What a tail comes to where it is parted at the rung of a mark."""
        self._sights: dict[Sight, Sight] = {}
        self._joints: dict[int, int] = {}
        self._unmarked: dict[int, dict[int, int]] = {}
        self.learned = 0
        """How many rows were made so far."""
        self.tail_of: dict[int, int] = {}
        """The tail of which another is the rest and a rung, by its number, the top."""
        self._habits: dict[Habit, tuple[int, ...]] = {}
        self.rungs: list[Rung] = []
        self._rung_of: dict[Rung, int] = {}
        shaped = choices.shaping.shaped(first_state(self.plan))
        self.first: At = self.core(self.shape(shaped.shape, NOTHING), shaped.facts), EMPTY

    # Numbers for everything

    def shape(self, state: State, zone: Zone) -> int:
        """Number a shape with its zone."""
        found = self._shape_of.get((state, zone))
        if found is None:
            found = self._shape_of[state, zone] = len(self.shapes)
            self.shapes.append((state, zone))
            self._nodes.append(None)
        return found

    def core(self, shape: int, facts: Facts) -> int:
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

    def new_tail(self, parent: int, number: int) -> int:
        """Make the tail that has the rung of a number on top of another tail."""
        found = self.tail_of[parent << TAIL_BITS | number] = len(self.parents)
        self.parents.append(parent)
        self.tops.append(number)
        self.sights.append((number << self._calls | self._askers[parent]) << 2 | (self._quiet[parent] if parent else NO_REST))
        self._askers.append(self._askers[parent] | self.rungs[number].serial)
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

    def _row(self, nodes: list[Node], facts: Facts, tails: int) -> Row:
        ways: list[tuple[Leaf, int]] = []
        deep: dict[tuple[int, int], Deep] = {}
        for node in nodes:
            self._resolve(node, facts, ways, deep, tails)
        self.learned += 1
        return Row(ways, list(deep.values()))

    def _roots(self, state: State, zone: Zone) -> list[Node]:
        path = visible_path(state.ladder)
        top = path[-1].face.screen if path else ""
        found = []
        for choice in self.choices.of(state):
            link = tables(self.plan).link_of(choice.address).link if isinstance(choice, Link) else None
            habit = (choice if link is None else link.address, state.phase, top)
            found.append(Node(choice, state, zone, habit, self._habits.get(habit, ())))
        return found

    def _resolve(
        self, node: Node, facts: Facts, ways: list[tuple[Leaf, int]], deep: dict[tuple[int, int], Deep], tails: int
    ) -> None:
        """Find what a choice comes to where the facts are these."""
        while True:
            if node.leaves is None and node.look is None:
                self._grow(node, tails)
            if node.leaves is not None:
                ways += [(leaf, self._leads_to(leaf, facts)) for leaf in node.leaves]
                return
            look = node.look
            assert look is not None  # noqa: S101 - grown just now
            if look.what != "fact":
                group = deep.get((look.number, look.mark))
                if group is None:
                    group = deep[look.number, look.mark] = Deep(look, facts, tails)
                group.nodes.append(node)
                return
            value = facts[look.number]
            child = node.children.get(value)
            if child is None:
                likely = node.likely[1:] if node.likely else ()
                more = read(node.state, look.number, value)
                child = node.children[value] = Node(node.choice, more, node.zone, node.habit, likely)
            node = child

    def _leads_to(self, leaf: Leaf, facts: Facts) -> int:
        if leaf.facts:
            turned = list(facts)
            for place, value in leaf.facts:
                turned[place] = value
            facts = tuple(turned)
        return self.core(leaf.shape, facts)

    def _grow(self, node: Node, tails: int) -> None:
        if node.likely:
            node.look = Look("fact", node.likely[0])
            return
        try:
            leaves = []
            for done in self.choices.done(node.state, node.zone, node.choice):
                shaped = self.choices.shaping.shaped(done.state)
                comes_to = self.shape(shaped.shape, done.zone), shaped
                self.judge(Found(self.plan, node.state, node.choice, done, comes_to))
                leaves.append(Leaf(node.choice, done, comes_to, tails, self))
            node.leaves = tuple(leaves)
        except Look as look:
            node.look = look
            known = self._habits.get(node.habit, ())
            if look.what == "fact" and look.number not in known:
                self._habits[node.habit] = (*known, look.number)

    def looked(self, deep: Deep, sight: int) -> Row:
        """Look at the top of a tail: what the choices come to there."""
        row = deep.rows.get(sight)
        if row is None:
            quiet, askers = sight & 3, sight >> 2 & (1 << self._calls) - 1
            rung, rest = self.rungs[sight >> 2 + self._calls], Rest(quiet, askers) if quiet < NO_REST else None
            children = [self._child(node, sight, lambda back: back.opened(deep.number, rung, rest)) for node in deep.nodes]
            row = deep.rows[sight] = self._row(children, deep.facts, deep.tails)
        return row

    def asker(self, deep: Deep, seen: Sight) -> Row:
        """Look at the rung of a tail that made a call: what the choices come to there."""
        row = deep.rows.get(seen)
        if row is None:
            number, lower, upper = seen
            rung = self.rungs[number]
            children = [
                self._child(node, seen, lambda back: back.parted(deep.number, rung, lower, upper, deep.tails))
                for node in deep.nodes
            ]
            row = deep.rows[seen] = self._row(children, deep.facts, deep.tails + 1)
        return row

    def _child(self, node: Node, seen: object, put_back: Callable[[PuttingBack], State]) -> Node:
        child = node.children.get(seen)
        if child is None:
            child = node.children[seen] = Node(node.choice, put_back(self._put_back(node)), node.zone, node.habit, ())
        return child

    def _put_back(self, node: Node) -> PuttingBack:
        return PuttingBack(self.choices.shaping.marks, node.state)

    def _rest(self, tail: int) -> Rest | None:
        return Rest(self._quiet[tail], self._askers[tail]) if tail != EMPTY else None

    # Tails of tails

    def after(self, highs: list[int], made: Made) -> list[int]:
        """Return tails that are made so from others."""
        found = [0] * len(highs)
        for place, (source, over) in enumerate(made):
            tails = [EMPTY] * len(highs) if source < 0 else self._named(highs, source)
            for part in over:
                tails = self._with(tails, ~part) if part < 0 else self._joined(tails, self._named(highs, part))
            shift = TAIL_BITS * place
            found = [high | tail << shift for high, tail in zip(found, tails, strict=True)]
        return found

    def _with(self, tails: list[int], rung: int) -> list[int]:
        """Put a rung on tails."""
        tail_of, new_tail = self.tail_of, self.new_tail
        return [tail_of.get(tail << TAIL_BITS | rung) or new_tail(tail, rung) for tail in tails]

    def _named(self, highs: list[int], part: int) -> list[int]:
        """Return the tails that a part speaks of, without the marks of calls that are over."""
        shift, over = TAIL_BITS * (part & NUMBER), part >> MARKS
        tails = [high >> shift & TAIL for high in highs]
        if not over:
            return tails
        known = self._unmarked.setdefault(over, {})
        return [known.get(tail) or self._unmark(tail, over, known) for tail in tails]

    def _unmark(self, tail: int, over: int, known: dict[int, int]) -> int:
        numbers = [self.rung(_unmarked(self.rungs[number], over)) for number in self._numbers(tail)]
        known[tail] = self._over(EMPTY, numbers)
        return known[tail]

    def _joined(self, lower: list[int], upper: list[int]) -> list[int]:
        """Return the tails that have the rungs of some over those of others."""
        known = self._joints
        pairs = [low << TAIL_BITS | up for low, up in zip(lower, upper, strict=True)]
        return [known.get(pair) or self._join(pair) for pair in pairs]

    def _join(self, pair: int) -> int:
        found = self._joints[pair] = self._over(pair >> TAIL_BITS, self._numbers(pair & TAIL))
        return found

    def _over(self, tail: int, numbers: list[int]) -> int:
        for number in numbers:
            tail = self.tail_of.get(tail << TAIL_BITS | number) or self.new_tail(tail, number)
        return tail

    def _part(self, tail: int, mark: int) -> Parted:
        """Part a tail at the rung of a mark."""
        lower, upper = tail, []
        while not self.rungs[self.tops[lower]].serial & mark:
            upper.append(self.tops[lower])
            lower = self.parents[lower]
        number, lower, over = self.tops[lower], self.parents[lower], self._over(EMPTY, upper[::-1])
        seen = number, self._rest(lower), self._rest(over)
        found = self._parted[mark << TAIL_BITS | tail] = Parted(lower, over, self._sights.setdefault(seen, seen))
        return found

    def _numbers(self, tail: int) -> list[int]:
        """List the numbers of a tail's rungs, lowest first."""
        found: list[int] = []
        while tail != EMPTY:
            found.append(self.tops[tail])
            tail = self.parents[tail]
        return found[::-1]

    # Many tails at once

    def pushed(self, highs: list[int], shift: int, rung: int) -> list[int]:
        """Put a rung on the tail that stands so far up."""
        tails = [high >> shift & TAIL for high in highs]
        return [high + (now - tail << shift) for high, tail, now in zip(highs, tails, self._with(tails, rung), strict=True)]

    def popped(self, deep: Deep, highs: list[int]) -> dict[int, list[int]]:
        """Sort tails by what is seen at the top of one of them, and take that off."""
        sights, parents, shift = self.sights, self.parents, deep.shift
        found: dict[int, list[int]] = {}
        for high in highs:
            tail = high >> shift & TAIL
            sight = sights[tail]
            if sight in found:
                found[sight].append(high - (tail - parents[tail] << shift))
            else:
                found[sight] = [high - (tail - parents[tail] << shift)]
        return found

    def parted_by(self, deep: Deep, highs: list[int]) -> dict[Sight, list[int]]:
        """Sort tails by what is seen where one of them is parted, and part it there."""
        mark, shift = deep.mark << TAIL_BITS, deep.shift
        found: dict[Sight, list[int]] = {}
        for high in highs:
            tail = high >> shift & TAIL
            part = self._parted.get(mark | tail) or self._part(tail, deep.mark)
            found.setdefault(part.seen, []).append(high + (part.lower - tail << shift) + (part.upper << deep.new))
        return found

    # States

    def edges(self, at: At) -> Iterator[tuple[Leaf, At]]:
        """Go through all that can come of a state: how, and which state."""
        for high, row in self.looks(at):
            for leaf, core in row.ways:
                (tails,) = self.after([high], leaf.tails)
                yield leaf, (core, tails)

    def looks(self, at: At) -> Iterator[tuple[int, Row]]:
        """Go through the rows of a state, each with what is left of its tails where more was looked at."""
        core, high = at
        waiting = [(high, self.row(core))]
        while waiting:
            high, row = waiting.pop()
            yield high, row
            for deep in row.parted:
                for seen, (parted,) in self.parted_by(deep, [high]).items():
                    waiting.append((parted, self.asker(deep, seen)))
            for deep in row.deep:
                for sight, (popped,) in self.popped(deep, [high]).items():
                    waiting.append((popped, self.looked(deep, sight)))

    def state(self, at: At) -> State:
        """Return the whole state, without clock; what is under way is said without times."""
        core, tails = at
        shape, facts = self.cores[core]
        state, _ = self.shapes[shape]

        def left_out(cut: Cut) -> Ladder:
            return tuple(self.rungs[rung] for rung in self._numbers(tails >> TAIL_BITS * cut.number & TAIL))

        found = PuttingBack(self.choices.shaping.marks, state).whole(left_out)
        return replace(found, facts=facts, calls=tuple(call for call in found.calls if call.name != SEEN))


def _unmarked(rung: Rung, over: int) -> Rung:
    """Return a rung without the marks of calls that are over."""
    return Rung(rung.face, rung.serial & ~over, rung.inner)


def _count_cuts(state: State) -> int:
    """Count the tails of a state."""

    def count(ladder: Ladder) -> int:
        return sum(1 if rung.cut else sum(count(inner) for inner in rung.inner) for rung in ladder)

    return count(state.ladder)
