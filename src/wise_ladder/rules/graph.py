"""All that can come of all states of a plan, each state two whole numbers, each decision made once.

The first is its core: a shape with values for the facts, the wanted place and what is under way. The second packs its tails,
each a number for a row of rungs. What a choice does at a shape is found out once, with all of these left out; what it looks at
makes a tree that is grown as it is needed. What can happen whatever is seen is found out behind a veil first, once for many
shapes. A row is what these trees come to for one core.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, TypeAlias, cast

from msgspec.structs import replace

from wise_ladder.ladder.cutting import Look, Unread, Untold, untold
from wise_ladder.ladder.state import State, first_state, visible_path
from wise_ladder.ladder.tables import tables
from wise_ladder.ladder.veiling import BEHIND, Veiled
from wise_ladder.plan.events import Link
from wise_ladder.rules.leaves import Deep, Found, Leaf, Node, Row
from wise_ladder.rules.putting_back import PuttingBack, read
from wise_ladder.rules.replaying import Taken
from wise_ladder.rules.shapes import SEEN, UnderWay
from wise_ladder.rules.tails import EMPTY, LACKING, Tails
from wise_ladder.rules.veils import Veils, carried_over, lifted, still_veiled
from wise_ladder.rules.zones import NOTHING, Zone

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from wise_ladder.ladder.state import Ladder
    from wise_ladder.rules.choices import Choice
    from wise_ladder.rules.doings import Choices, Done
    from wise_ladder.rules.leaves import Habit, Suspect
    from wise_ladder.rules.shapes import Facts
    from wise_ladder.rules.tails import Sight

At: TypeAlias = tuple[int, int]
"""A state: its core, and its tails."""
_OF_FACTS = {"fact", "calling"}
Judge: TypeAlias = "Callable[[Found], tuple[Suspect, ...]]"


class Graph:
    """The states of a plan and what leads from each to which; `judge` looks once at each edge that is new."""

    def __init__(self, choices: Choices, judge: Judge = lambda _: ()) -> None:
        """Begin with the state before the first launch, which is `first`."""
        self.plan, self.choices, self.judge = choices.plan, choices, judge
        self.shapes: list[State] = []
        self._shape_of: dict[State, int] = {}
        self._nodes: list[list[Node] | None] = []
        self._veils = Veils(self.plan, choices.shaping)
        self._veiled: dict[State, list[Node]] = {}
        """What can happen to shapes that are one behind a veil."""
        self._unveiled: dict[tuple[State, int], int] = {}
        """What shapes become whose ladders stay behind a veil."""
        self._ended: dict[tuple[int, object], list[Node]] = {}
        """By shape and what is under way: what can become of that."""
        self._same: dict[object, object] = {}
        """What is under way, each but once."""
        self._anew: dict[object, object] = {}
        """What is under way, by what it was before something else was seen."""
        self.cores: list[tuple[int, Facts]] = []
        self._core_of: dict[tuple[int, Facts], int] = {}
        self.rows: list[Row | None] = []
        self.tails = Tails(choices.shaping)
        self.learned = 0
        """How many rows were made so far."""
        self._habits: dict[Habit, tuple[int, ...]] = {}
        shaped = choices.shaping.shaped(first_state(self.plan))
        self._nothing = self._once(shaped.facts[-1])
        self.first: At = self.core(self.shape(shaped.shape), shaped.facts), EMPTY

    # Numbers for everything

    def shape(self, state: State) -> int:
        """Number a shape."""
        found = self._shape_of.get(state)
        if found is None:
            found = self._shape_of[state] = len(self.shapes)
            self.shapes.append(state)
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

    # What leads where

    def row(self, core: int) -> Row:
        """Return all that can come of the states of a core."""
        found = self.rows[core]
        if found is None:
            shape, facts = self.cores[core]
            nodes = self._nodes[shape]
            if nodes is None:
                state = self.shapes[shape]
                own = self._roots(state, NOTHING, self.choices.inside(state))
                nodes = self._nodes[shape] = [*own, *self._whatever_is_seen(state)]
            under_way = facts[-1]
            ended = self._ended.get((shape, under_way))
            if ended is None:
                state, zone = self._read(self.shapes[shape], self.choices.shaping.under_way, under_way)
                ended = self._ended[shape, under_way] = self._roots(state, zone, self.choices.ended(state))
            found = self.rows[core] = self._row([*ended, *nodes], shape, facts, _count_cuts(self.shapes[shape]))
        return found

    def _whatever_is_seen(self, state: State) -> list[Node]:
        behind = self._veils.over(state)
        if behind is None:
            return self._roots(state, NOTHING, self.choices.outside(state))
        found = self._veiled.get(behind)
        if found is None:
            found = self._veiled[behind] = self._roots(behind, NOTHING, self.choices.outside(behind))
        return found

    def _row(self, nodes: list[Node], shape: int, facts: Facts, tails: int) -> Row:
        ways: list[tuple[Leaf, int]] = []
        deep: dict[tuple[int, int], Deep] = {}
        for node in nodes:
            self._resolve(node, shape, facts, ways, deep, tails)
        self.learned += 1
        return Row(ways, list(deep.values()))

    def _roots(self, state: State, zone: Zone, choices: Iterator[Choice]) -> list[Node]:
        return [self._node(choice, state, zone) for choice in choices]

    def _node(self, choice: Choice, state: State, zone: Zone) -> Node:
        """Begin where nothing was looked at yet but what was looked at each time before."""
        path = () if isinstance(state.ladder, Veiled) else visible_path(state.ladder)
        top = path[-1].face.screen if path else ""
        link = tables(self.plan).link_of(choice.address).link if isinstance(choice, Link) else None
        habit = (choice if link is None else link.address, state.phase, top)
        likely = tuple(place for place in self._habits.get(habit, ()) if isinstance(state.facts[place], Unread))
        return Node(choice, state, zone, habit, likely)

    def _resolve(
        self,
        node: Node,
        shape: int,
        facts: Facts,
        ways: list[tuple[Leaf, int]],
        deep: dict[tuple[int, int], Deep],
        tails: int,
    ) -> None:
        """Find what a choice comes to where the facts are these."""
        while True:
            if node.leaves is None and node.look is None:
                self._grow(node, tails)
            if node.leaves is not None:
                ways += [(leaf, self._leads_to(leaf, shape, facts)) for leaf in node.leaves]
                return
            look = node.look
            assert look is not None  # noqa: S101 - grown just now
            if look.what == "shape":
                child = node.children.get(shape)
                if child is None:
                    state = lifted(node.state, self.shapes[shape])
                    child = node.children[shape] = self._node(node.choice, state, node.zone)
                node = child
                continue
            if look.what not in _OF_FACTS:
                mark = look.mark
                if look.sought is not None:
                    mark = self.tails.mark(look.sought, whole=look.what == "sought in ladder")
                group = deep.get((look.number, mark))
                if group is None:
                    group = deep[look.number, mark] = Deep(look, mark, shape, facts, tails)
                group.nodes.append(node)
                return
            value = facts[look.number] if look.what == "fact" else cast("UnderWay", facts[-1]).names
            child = node.children.get(value)
            if child is None:
                likely = node.likely[1:] if node.likely else ()
                more, zone = self._read(node.state, look.number, value)
                if node.put_back is not None:
                    more = node.put_back(PuttingBack(self.choices.shaping.marks, more))
                child = node.children[value] = Node(node.choice, more, zone or node.zone, node.habit, likely)
            node = child

    def _seen_anew(self, under_way: object) -> object:
        found = self._anew.get(under_way)
        if found is None:
            found = self._anew[under_way] = self._once(self.choices.shaping.seen_anew(cast("UnderWay", under_way))[0])
        return found

    def _once(self, value: object) -> object:
        return self._same.setdefault(value, value)

    def _read(self, state: State, place: int, value: object) -> tuple[State, Zone]:
        """Put in the value of what was left out; of what is under way since when comes with it."""
        if isinstance(value, UnderWay):
            return replace(state, pending=value.pending, calls=value.calls), value.zone
        if isinstance(value, frozenset):
            assert cast("Untold", state.calls).names is None, "nobody asks twice"  # noqa: S101 - or it would never end
            return replace(state, calls=untold(place, names=value)), ()
        if place == self.choices.shaping.wanted:
            return replace(state, wanted=value), ()
        return read(state, place, str(value)), ()

    def _leads_to(self, leaf: Leaf, shape: int, facts: Facts) -> int:
        if leaf.facts:
            turned = list(facts)
            for place, value in leaf.facts:
                turned[place] = value
            facts = tuple(turned)
        if leaf.turns and facts[-1] is not self._nothing:
            facts = (*facts[:-1], self._seen_anew(facts[-1]))
        return self.core(leaf.shape if leaf.veiled is None else self._behind(leaf.veiled, shape), facts)

    def _behind(self, veiled: State, shape: int) -> int:
        """Number what a shape becomes whose ladders stay as they are."""
        found = self._unveiled.get((veiled, shape))
        if found is None:
            found = self._unveiled[veiled, shape] = self.shape(carried_over(veiled, self.shapes[shape]))
        return found

    def _grow(self, node: Node, tails: int) -> None:
        if node.likely:
            node.look = Look("fact", node.likely[0])
            return
        try:
            leaves = []
            for done in self.choices.done(node.state, node.zone, node.choice):
                behind = isinstance(done.state.ladder, Veiled)
                shaping = self.choices.shaping
                shaped = still_veiled(node.state, done.state) if behind else shaping.shaped(done.state, done.zone)
                shaped = shaped._replace(facts=(*shaped.facts[:-1], self._once(shaped.facts[-1])))
                comes_to = BEHIND if behind else self.shape(shaped.shape), shaped
                suspects = self.judge(Found(self.plan, node.state, node.choice, done, comes_to))
                there = None if isinstance(node.state.ladder, Veiled) else tails
                leaves.append(Leaf(node.choice, done, comes_to, there, self.tails, suspects))
            node.leaves = tuple(leaves)
            looked_at = [place for place, value in enumerate(node.state.facts) if not isinstance(value, Unread)]
            usual = self._habits.get(node.habit, looked_at)
            self._habits[node.habit] = tuple([place for place in usual if place in looked_at])
        except Look as look:
            # Where it was raised is of no interest, and would keep all that was at hand there.
            node.look = look.with_traceback(None)

    def looked(self, deep: Deep, sight: int) -> Row:
        """Look at the top of a tail: what the choices come to there."""
        row = deep.rows.get(sight)
        if row is None:
            (rung, rest), cut = self.tails.top(sight), deep.number
            children = [self._child(node, sight, lambda back: back.opened(cut, rung, rest)) for node in deep.nodes]
            row = deep.rows[sight] = self._row(children, deep.shape, deep.facts, deep.tails)
        return row

    def parted(self, deep: Deep, seen: Sight) -> Row:
        """Look at the rung of a tail that made a call, or at a hidden ladder: what the choices come to there."""
        row = deep.rows.get(seen)
        if row is None:
            number, lower, upper = seen
            rungs = (self.tails.rungs[number],) if number >= 0 else ()
            cut, tails, sought, whole = deep.number, deep.tails, deep.sought, deep.whole

            # What is kept of it must not lead back to who keeps it.
            def put_back(back: PuttingBack) -> State:
                if seen is LACKING:
                    return back.lacking(cut, sought)
                return back.parted(cut, rungs, lower, upper, tails, sought, whole=whole)

            children = [self._child(node, seen, put_back) for node in deep.nodes]
            row = deep.rows[seen] = self._row(children, deep.shape, deep.facts, tails + (seen is not LACKING))
        return row

    def _child(self, node: Node, seen: object, put_back: Callable[[PuttingBack], State]) -> Node:
        child = node.children.get(seen)
        if child is None:
            child = node.children[seen] = Node(node.choice, node.state, node.zone, node.habit, ())
            try:
                child.state = put_back(PuttingBack(self.choices.shaping.marks, node.state))
            except Look as look:
                child.look, child.put_back = look.with_traceback(None), put_back
        return child

    # States

    def edges(self, at: At, *, learn: bool = True) -> Iterator[tuple[Leaf, At]]:
        """Go through all that can come of a state: how, and which state; `learn`: also what nobody asked for yet."""
        for bundle, row in self.looks(at, learn=learn):
            for leaf, core in row.ways:
                (after,) = [bundle] if leaf.steady else self.tails.after([bundle], leaf.tails)
                yield leaf, (core, after)

    def looks(self, at: At, *, learn: bool = True) -> Iterator[tuple[int, Row]]:
        """Go through the rows of a state, each with what is left of its tails where more was looked at.

        `learn`: rows that nobody asked for yet too.
        """
        core, bundle = at
        waiting = [(bundle, self.row(core))]
        for bundle, row in waiting:
            yield bundle, row
            for deep in row.parted:
                for seen, group in self.tails.parted([bundle], deep.shift, deep.mark, deep.new).items():
                    waiting += [(part, self.parted(deep, seen)) for part in group if learn or seen in deep.rows]
            for deep in row.deep:
                for sight, group in self.tails.popped([bundle], deep.shift).items():
                    waiting += [(part, self.looked(deep, sight)) for part in group if learn or sight in deep.rows]

    def state(self, at: At) -> State:
        """Return the whole state, without clock; what is under way is said without times."""
        found = self.whole(at)
        return replace(found, calls=tuple(call for call in found.calls if call.name != SEEN))

    def whole(self, at: At) -> State:
        """Return the whole state; among the calls stands since when what is seen is seen, where that matters."""
        core, bundle = at
        back = PuttingBack(self.choices.shaping.marks, self.known(core))
        return back.whole(lambda cut: self.tails.ladder(bundle, cut.number))

    def known(self, core: int) -> State:
        """Return all that the states of a core have in common."""
        shape, facts = self.cores[core]
        under_way = self.under_way(core)
        return replace(self.shapes[shape], facts=facts[:-2], wanted=facts[-2], pending=under_way.pending, calls=under_way.calls)

    def under_way(self, core: int) -> UnderWay:
        """Return what is under way in the states of a core."""
        return cast("UnderWay", self.cores[core][1][-1])

    def taken(self, core: int, choice: Choice, done: Done) -> Taken:
        """Return a choice at the states of a core and what came of it, with what is under way."""
        under_way = self.under_way(core)
        if isinstance(left_out := done.state.calls, Untold):
            kept = tuple(range(len(under_way.pending) + len(under_way.calls)))
            done = done._replace(kept=self.choices.shaping.seen_anew(under_way)[1] if left_out.turned else kept)
        return Taken(self.known(core), choice, done)


def _count_cuts(state: State) -> int:
    """Count the tails of a state."""

    def count(ladder: Ladder) -> int:
        return sum(1 if rung.cut else sum(count(inner) for inner in rung.inner) for rung in ladder)

    return count(state.ladder)
