"""The state graph of a plan: a state is two integers, each decision is made once.

The first is its core: a shape with values for the facts, the wanted place and what is pending. The second packs its tails,
each a number for a row of rungs. What a choice does at a shape is found out once, with all of these left out; what it looks at
makes a tree that is grown as it is needed. What can happen whatever is seen is found out behind a veil first, once for many
shapes. A row is what these trees come to for one core.
"""

from __future__ import annotations

from itertools import chain
from typing import TYPE_CHECKING, TypeAlias, cast

from msgspec.structs import replace

from wise_ladder.plan.events import OpenLink
from wise_ladder.rules.abstraction import BESIDES_FACTS
from wise_ladder.rules.actions import Stay
from wise_ladder.rules.decision_tree import DecisionLeaf, DecisionNode, Judgement, NewTransition, StackRead, SuccessorRow
from wise_ladder.rules.in_flight import SEEN_SINCE, InFlight
from wise_ladder.rules.opaque_states import Veils, abstract_hidden, apply_hidden, reveal
from wise_ladder.rules.pending_nodes import PendingNodes
from wise_ladder.rules.pending_values import PendingValues
from wise_ladder.rules.refinement import Refiner, put_in
from wise_ladder.rules.replay import PathStep
from wise_ladder.rules.symbolic_stacks import ABSENT, EMPTY, Found, StackTable
from wise_ladder.rules.usual_looks import UsualLooks
from wise_ladder.rules.zones import NOTHING, Zone
from wise_ladder.semantics.opaque import OPAQUE_SERIAL, OpaqueLadder
from wise_ladder.semantics.plan_index import index_of
from wise_ladder.semantics.state import State, initial_state, visible_path
from wise_ladder.semantics.symbolic import (
    NOTHING_PENDING_KNOWN,
    RefinementNeeded,
    RestAnswer,
    SymbolicPart,
    each_cut,
)

if TYPE_CHECKING:
    from collections.abc import Callable, Hashable, Iterable, Iterator

    from wise_ladder.plan import Plan
    from wise_ladder.rules.abstraction import Valuation
    from wise_ladder.rules.actions import Action
    from wise_ladder.rules.successors import Successor, Successors
    from wise_ladder.rules.symbolic_stacks import SplitKey
    from wise_ladder.semantics.opaque import OpaqueRung
    from wise_ladder.semantics.state import Rung
    from wise_ladder.semantics.symbolic import RefinementKind, RepliedCall, SearchTarget, SymbolicRungs

StateKey: TypeAlias = tuple[int, int]
"""A state: its core, and its tails."""
_OF_FACTS = {"fact", "calling"}
_PARTS = {"asker", "sought", "ladder", "sought in ladder"}
"""What a tail is split for."""
Judge: TypeAlias = "Callable[[NewTransition], Judgement]"


class StateGraph:
    """The states of a plan and what leads from each to which; `judge` looks once at each edge that is new."""

    def __init__(self, choices: Successors, judge: Judge = lambda _: Judgement()) -> None:
        """Begin with the state before the first launch, which is `first`."""
        self.plan, self.successors, self.judge = choices.plan, choices, judge
        self.skeletons: list[State] = []
        self._shape_of: dict[State, int] = {}
        self._nodes: list[list[DecisionNode] | None] = []
        self._veils = Veils(self.plan, choices.shaping)
        self._veiled: dict[State, list[DecisionNode]] = {}
        """What can happen to shapes that are one behind a veil."""
        self._unveiled: dict[tuple[State, int], int] = {}
        """What shapes become whose ladders stay behind a veil."""
        self._pending = PendingNodes(choices, self._veils)
        self._staying: dict[int, DecisionNode] = {}
        self.pending = PendingValues(choices.shaping)
        self.controls: list[tuple[int, Valuation]] = []
        self._core_of: dict[tuple[int, Valuation], int] = {}
        self.rows: list[SuccessorRow | None] = []
        self.tails = StackTable(choices.shaping)
        self.rows_built = 0
        """How many rows were made so far."""
        self._usual = UsualLooks()
        shaped = choices.shaping.abstract(initial_state(self.plan))
        self.first: StateKey = self.control(self.shape(shaped.skeleton), shaped.facts), EMPTY

    def change_to(self, plan: Plan, judge: Judge, moves: int) -> tuple[set[DecisionNode], list[DecisionLeaf]]:
        """Go on with a plan in which only conditions and operations of moves are other ones, with these bits.

        Returns the choices of which something was forgotten, and the leaves that are gone.
        """
        self.plan = self.successors.plan = replace(plan, memory=self.plan.memory)
        self.judge = judge
        self.rows = [None] * len(self.rows)
        gone: list[DecisionLeaf] = []
        begun = chain(self._staying.values(), self._pending, *(nodes or () for nodes in self._nodes), *self._veiled.values())
        # A choice that stands behind a veil is met at several shapes.
        return {node for node in dict.fromkeys(begun) if node.forget(moves, gone)}, gone

    # Numbers for everything

    def shape(self, state: State) -> int:
        """Number a shape."""
        number = self._shape_of.get(state)
        if number is None:
            number = self._shape_of[state] = len(self.skeletons)
            self.skeletons.append(state)
            self._nodes.append(None)
        return number

    def control(self, shape: int, facts: Valuation) -> int:
        """Number a shape with values for its facts."""
        number = self._core_of.get((shape, facts))
        if number is None:
            number = self._core_of[shape, facts] = len(self.controls)
            self.controls.append((shape, facts))
            self.rows.append(None)
        return number

    # What leads where

    def row(self, core: int) -> SuccessorRow:
        """Return all that can come of the states of a core."""
        row = self.rows[core]
        if row is None:
            shape, facts = self.controls[core]
            nodes = [*self.ended(shape, facts[-1]), *self.nodes(shape)]
            row = self.rows[core] = self._row(nodes, shape, facts, self.count_tails(shape))
        return row

    def nodes(self, shape: int) -> list[DecisionNode]:
        """Return what can happen at a shape, besides what is pending."""
        nodes = self._nodes[shape]
        if nodes is None:
            state = self.skeletons[shape]
            own = self._roots(state, NOTHING, self.successors.inside(state))
            nodes = self._nodes[shape] = [*own, *self._whatever_is_seen(state)]
        return nodes

    def replied(self, shape: int, replied: RepliedCall) -> list[DecisionNode]:
        """Return what the replies to a call do at a shape, as far as nothing depends on what else is pending.

        A call of which `by_itself` is true.
        """
        return self._pending.replied(shape, self.skeletons[shape], replied, self._roots)

    def ended(self, shape: int, under_way: object) -> list[DecisionNode]:
        """Return what can become of what is pending at a shape."""
        return self._pending.ended(shape, self.skeletons[shape], cast("InFlight", under_way), self._roots)

    def staying(self, shape: int) -> DecisionNode:
        """Return what is judged of a shape where nothing happens."""
        node = self._staying.get(shape)
        if node is None:
            node = self._staying[shape] = self._node(Stay(), self.skeletons[shape], NOTHING)
        return node

    def cuts(self, shape: int) -> list[SymbolicRungs]:
        """List what stands for the tails of a shape."""
        return list(each_cut(self.skeletons[shape].ladder))

    def count_tails(self, shape: int) -> int:
        """Count the tails of a shape."""
        return len(self.cuts(shape))

    def _whatever_is_seen(self, state: State) -> list[DecisionNode]:
        behind = self._veils.hide_ladders(state)
        if behind is None:
            return self._roots(state, NOTHING, self.successors.outside(state))
        nodes = self._veiled.get(behind)
        if nodes is None:
            nodes = self._veiled[behind] = self._roots(behind, NOTHING, self.successors.outside(behind))
        return nodes

    def _row(self, nodes: list[DecisionNode], shape: int, facts: Valuation, tails: int) -> SuccessorRow:
        ways: list[tuple[DecisionLeaf, int]] = []
        deep: dict[tuple[int, RefinementKind, int], StackRead] = {}
        for node in nodes:
            self._resolve(node, shape, facts, ways, deep, tails)
        self.rows_built += 1
        return SuccessorRow(ways, list(deep.values()))

    def _roots(self, state: State, zone: Zone, choices: Iterable[Action]) -> list[DecisionNode]:
        return [self._node(choice, state, zone) for choice in choices]

    def _node(self, choice: Action, state: State, zone: Zone) -> DecisionNode:
        path = () if isinstance(state.ladder, OpaqueLadder) else visible_path(state.ladder)
        top = path[-1].data.screen if path else ""
        link = index_of(self.plan).link_of(choice.address).link if isinstance(choice, OpenLink) else None
        # Of links it is the address as the plan writes it.
        made = choice if link is None else link.address, state.phase, top
        return DecisionNode(choice, state, zone, self._usual.begin(made, state))

    def _resolve(
        self,
        node: DecisionNode,
        shape: int,
        facts: Valuation,
        ways: list[tuple[DecisionLeaf, int]],
        deep: dict[tuple[int, RefinementKind, int], StackRead],
        tails: int,
    ) -> None:
        """Find what a choice comes to where the facts are these."""
        while True:
            look = self.look(node, tails)
            if look is None:
                ways += [(leaf, self._leads_to(leaf, shape, facts)) for leaf in node.leaves or ()]
                return
            if look.what == "shape":
                node = self.unveiled(node, shape)
                continue
            if look.what not in _OF_FACTS:
                mark = self.mark_of(look)
                key = look.number, look.what, mark
                group = deep.get(key)
                if group is None:
                    group = deep[key] = StackRead(look, mark, shape, facts, tails)
                group.nodes.append(node)
                return
            node = self.told(node, look, facts[look.number] if look.what == "fact" else cast("InFlight", facts[-1]).names)

    def look(self, node: DecisionNode, tails: int) -> RefinementNeeded | None:
        """Return what a choice looks at next, None if it comes to its leaves; `tails`: so many are left out of its state."""
        if node.leaves is None and node.look is None:
            self._grow(node, tails)
        return node.look if node.leaves is None else None

    def mark_of(self, look: RefinementNeeded) -> int:
        """Return the mark at which a tail is split for what a choice looks at."""
        if look.sought is None:
            return look.mark
        return self.tails.search_key(look.sought, whole=look.what == "sought in ladder")

    def unveiled(self, node: DecisionNode, shape: int) -> DecisionNode:
        """Return how a choice goes on where the ladders are those of a shape."""
        child = node.children.get(shape)
        if child is None:
            state = reveal(node.state, self.skeletons[shape])
            child = node.children[shape] = self._node(node.choice, state, node.zone)
        return child

    def told(self, node: DecisionNode, look: RefinementNeeded, value: object) -> DecisionNode:
        """Return how a choice goes on where the fact it looks at has a value."""
        child = node.children.get(value)
        if child is None:
            more, zone = put_in(self.successors.shaping, node.state, look.number, value)
            if node.put_back is not None:
                more = node.put_back(Refiner(self.successors.shaping.marks, more))
            child = node.children[value] = DecisionNode(
                node.choice, more, zone or node.zone, self._usual.after(node.trail, look, value)
            )
        return child

    def _leads_to(self, leaf: DecisionLeaf, shape: int, facts: Valuation) -> int:
        if leaf.facts:
            turned = list(facts)
            for place, value in leaf.facts:
                turned[place] = value
            facts = tuple(turned)
        if leaf.pending != NOTHING_PENDING_KNOWN:
            facts = (*facts[:-1], self.pending.after(leaf.pending, facts[-1]))
        return self.control(self.shape_after(leaf, shape), facts)

    def shape_after(self, leaf: DecisionLeaf, shape: int) -> int:
        """Return the shape that a leaf comes to from a shape."""
        return leaf.shape if leaf.veiled is None else self._behind(leaf.veiled, shape)

    def _behind(self, veiled: State, shape: int) -> int:
        """Number what a shape becomes whose ladders stay as they are."""
        number = self._unveiled.get((veiled, shape))
        if number is None:
            number = self._unveiled[veiled, shape] = self.shape(apply_hidden(veiled, self.skeletons[shape]))
        return number

    def _grow(self, node: DecisionNode, tails: int) -> None:
        node.look = self._usual.guess(node.trail, node.state)
        if node.look is not None:
            return
        tables = index_of(self.plan)
        tables.read = 0
        try:
            leaves = []
            for done in self.successors.apply(node.state, node.zone, node.choice):
                behind = isinstance(done.state.ladder, OpaqueLadder)
                shaping = self.successors.shaping
                shaped = (
                    abstract_hidden(node.state, done, shaping)
                    if behind
                    else shaping.abstract(done.state, done.zone, node.state)
                )
                shaped = shaped._replace(facts=(*shaped.facts[:-1], self.pending.once(shaped.facts[-1])))
                comes_to = OPAQUE_SERIAL if behind else self.shape(shaped.skeleton), shaped
                found = NewTransition(self.plan, node.state, node.choice, done, comes_to)
                visible_tails = None if isinstance(node.state.ladder, OpaqueLadder) else tails
                leaves.append(DecisionLeaf(found, self.judge(found), visible_tails, self.tails))
            node.leaves = tuple(leaves)
            self._usual.note(node.trail, None)
        except RefinementNeeded as look:
            # Where it was raised is of no interest, and would keep all that was at hand there.
            node.look = look.with_traceback(None)
            self._usual.note(node.trail, node.look)
        node.read = tables.read

    def deeper(self, deep: StackRead, seen: Hashable) -> SuccessorRow:
        """Look at a tail, or at what can come of it: what the choices come to there."""
        row = deep.rows.get(seen)
        if row is None:
            children = [self._seen(node, deep, seen) for node in deep.nodes]
            more = deep.what in _PARTS and seen != ABSENT
            row = deep.rows[seen] = self._row(children, deep.shape, deep.facts, deep.tails + more)
        return row

    def _seen(self, node: DecisionNode, deep: StackRead, seen: Hashable) -> DecisionNode:
        if isinstance(seen, RestAnswer):
            return self.with_answer(node, deep.number if deep.what == "rest" else None, seen)
        if isinstance(seen, Found):
            return self.with_found(node, deep.sought, seen)
        if isinstance(seen, int):
            return self.with_top(node, deep.number, seen)
        return self.with_split(node, deep.number, cast("SplitKey", seen), deep.tails, deep.sought, whole=deep.whole)

    def with_answer(self, node: DecisionNode, cut: int | None, answer: RestAnswer) -> DecisionNode:
        """Return how a choice goes on where this can come of a tail; None: behind a veil, of all tails together."""
        if cut is not None:
            return self._child(node, answer, lambda back: back.with_answer(cut, answer))
        child = node.children.get(answer)
        if child is None and not isinstance(node.state.ladder, OpaqueLadder):
            return self._child(node, answer, lambda back: back.with_answer_of_all(answer))
        if child is None:
            veil = cast("OpaqueRung", node.state.ladder[-1]).with_answer(answer)
            state = replace(node.state, ladder=OpaqueLadder((cast("Rung", veil),)))
            child = node.children[answer] = DecisionNode(node.choice, state, node.zone, self._after(node, answer))
        return child

    def with_found(self, node: DecisionNode, sought: SearchTarget | None, found: Found) -> DecisionNode:
        """Return how a choice goes on where something is, or is not, anywhere in what is left out."""
        assert sought is not None  # noqa: S101 - or nothing was asked
        return self._child(node, found, lambda back: back.with_found(sought, anywhere=found.anywhere))

    def with_top(self, node: DecisionNode, cut: int, sight: int) -> DecisionNode:
        """Return how a choice goes on where this is seen at the top of a tail."""
        rung, rest = self.tails.top(sight)
        return self._child(node, sight, lambda back: back.with_top(cut, rung, rest=rest))

    def with_split(
        self, node: DecisionNode, cut: int, seen: SplitKey, tails: int, sought: SearchTarget | None, *, whole: bool
    ) -> DecisionNode:
        """Return how a choice goes on where this is seen at the split of a tail; one more of `tails` begins there."""
        number, lower, upper = seen
        rungs = (self.tails.rungs[number],) if number >= 0 else ()

        # What is kept must not refer back to its owner.
        def put_back(back: Refiner) -> State:
            if seen is ABSENT:
                return back.with_absent(cut, sought)
            return back.parted(cut, rungs, lower, upper, tails, sought, whole=whole)

        return self._child(node, seen, put_back)

    def _after(self, node: DecisionNode, seen: object) -> int:
        return self._usual.after(node.trail, cast("RefinementNeeded", node.look), seen)

    def _child(self, node: DecisionNode, seen: object, put_back: Callable[[Refiner], State]) -> DecisionNode:
        child = node.children.get(seen)
        if child is None:
            child = node.children[seen] = DecisionNode(node.choice, node.state, node.zone, self._after(node, seen))
            try:
                child.state = put_back(Refiner(self.successors.shaping.marks, node.state))
            except RefinementNeeded as look:
                child.look, child.put_back = look.with_traceback(None), put_back
        return child

    # States

    def edges(self, at: StateKey) -> Iterator[tuple[DecisionLeaf, StateKey]]:
        """Go through all successors of a state, each with how it comes about."""
        for bundle, row in self.looks(at):
            for leaf, core in row.ways:
                yield leaf, (core, self._rebuilt(bundle, leaf))

    def leading(self, before: StateKey, after: StateKey) -> Iterator[DecisionLeaf]:
        """Go through all that leads from one state to another, as far as it is known; nothing is learned."""
        wanted, stacks = after
        for bundle, row in self.looks(before, learn=False):
            for leaf, core in row.ways:
                if core == wanted and self._rebuilt(bundle, leaf) == stacks:
                    yield leaf

    def _rebuilt(self, bundle: int, leaf: DecisionLeaf) -> int:
        (after,) = [bundle] if leaf.keeps_stacks else self.tails.rebuild([bundle], leaf.tails)
        return after

    def looks(self, at: StateKey, *, learn: bool = True) -> Iterator[tuple[int, SuccessorRow]]:
        """Go through the rows of a state, each with what is left of its tails where more was looked at.

        `learn`: rows that nobody asked for yet too.
        """
        core, bundle = at
        waiting = [(bundle, self.row(core))]
        for bundle, row in waiting:
            yield bundle, row
            for deep in row.deep:
                for seen, group in deep.grouped(self.tails, [bundle]).items():
                    waiting += [(part, self.deeper(deep, seen)) for part in group if learn or seen in deep.rows]

    def state(self, at: StateKey) -> State:
        """Return the whole state, without clock; what is pending is said without times."""
        state = self.whole(at)
        return replace(state, calls=tuple(call for call in state.calls if call.name != SEEN_SINCE))

    def whole(self, at: StateKey) -> State:
        """Return the whole state; among the calls stands since when what is seen is seen, if that matters."""
        core, bundle = at
        back = Refiner(self.successors.shaping.marks, self.known(core))
        return back.concrete(lambda cut: self.tails.ladder(bundle, cut.number))

    def known(self, core: int) -> State:
        """Return all that the states of a core have in common."""
        shape, facts = self.controls[core]
        under_way = self.under_way(core)
        question = self.skeletons[shape].question
        return replace(
            self.skeletons[shape],
            facts=facts[:-BESIDES_FACTS],
            held_link=facts[-BESIDES_FACTS],
            wanted=facts[1 - BESIDES_FACTS],
            question=question and replace(question, stopped=facts[2 - BESIDES_FACTS]),
            deadlines=under_way.pending,
            calls=under_way.calls,
        )

    def under_way(self, core: int) -> InFlight:
        """Return what is pending in the states of a core."""
        return cast("InFlight", self.controls[core][1][-1])

    def taken(self, core: int, choice: Action, done: Successor) -> PathStep:
        """Return a choice at the states of a core and what came of it, with what is pending."""
        under_way = self.under_way(core)
        if isinstance(left_out := done.state.calls, SymbolicPart):
            done = done._replace(old_indices=self.pending.kept(left_out.known, under_way))
        return PathStep(self.known(core), choice, done)
