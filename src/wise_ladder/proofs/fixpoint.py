"""All states that a plan can reach, taken together in a finite number of abstract ones.

An abstract state is a shape and the facts that are kept exactly; of everything else it has sets of values: other facts, the
wanted place, what is pending, and of each row of rungs that is left out the names it may have (`StackNames`). What can come of
it is read from the same decision trees that the sweep grows, so there is one semantics. It goes on until nothing new comes (the
least fixpoint; Kildall 1973, Cousot and Cousot 1977). Then every state that a plan can reach lies in it.

What a step does not look at passes from one abstract state to the next. So each step is found once, and what is new later
flows along it; only where a step looks at something, a new value may bring new steps.
"""

from __future__ import annotations

import time
from collections import deque
from itertools import product
from typing import TYPE_CHECKING, Literal, TypeAlias, cast

from msgspec.structs import replace

from wise_ladder.proofs.abstract_states import (
    WHATEVER,
    AbstractState,
    Edge,
    Known,
    Landing,
    PendingChange,
    PendingSort,
    Root,
    RowWatch,
    Watch,
    Way,
)
from wise_ladder.proofs.endings import endings
from wise_ladder.proofs.row_looks import RowLooks, alone
from wise_ladder.proofs.value_sets import ValueBits
from wise_ladder.rules.actions import Stay
from wise_ladder.rules.memory import without_collecting
from wise_ladder.semantics.symbolic import NOTHING_PENDING_KNOWN

if TYPE_CHECKING:
    from collections.abc import Callable, Collection, Iterable, Iterator

    from wise_ladder.plan import Plan
    from wise_ladder.proofs.abstract_states import Asked, Rows
    from wise_ladder.proofs.endings import Endings
    from wise_ladder.proofs.row_looks import Reader
    from wise_ladder.proofs.stack_names import StackNames
    from wise_ladder.proofs.value_sets import Bits
    from wise_ladder.rules.abstraction import Valuation
    from wise_ladder.rules.actions import Action
    from wise_ladder.rules.decision_tree import DecisionLeaf
    from wise_ladder.rules.graph import Judge, StateGraph, StateKey
    from wise_ladder.rules.in_flight import InFlight
    from wise_ladder.semantics.symbolic import PendingKnowledge, RefinementNeeded

MOST_LOOKS = 48
"""So often one step looks into rows that are left out at most."""

ExactRows: TypeAlias = Literal["none", "seen", "all"]
"""Whose names are kept exactly: no rows, those of ladders that are seen at least in part, those of hidden ladders too."""
_ANY: frozenset[int] = frozenset()
"""Stands for a row whose name is not kept exactly."""


class TooDeepError(Exception):
    """A step looks at so many rungs that it would go on for ever."""

    def __init__(self, action: Action) -> None:
        """Name the step."""
        super().__init__(action)
        self.action = action


class Fixpoint:
    """The abstract states of a plan."""

    def __init__(
        self, graph: StateGraph, exact: Collection[int], rows: ExactRows, *, timeless: bool, held: Iterable[int] = ()
    ) -> None:
        """Begin with the state before the first launch.

        `exact`: the places of the facts that are kept exactly; `rows`: the rows whose names are too; `timeless`: since when
        something is pending is not kept; `held`: rules by number, steps that break them are held back until `release`.
        """
        self.graph, self._exact, self._exact_rows, self._timeless = graph, tuple(sorted(exact)), rows, timeless
        self._looks = RowLooks(graph, lowest=rows != "none")
        self._kept_of: dict[int, tuple[bool, ...]] = {}
        self.states: dict[AbstractState, Known] = {}
        self.suspects: dict[DecisionLeaf, dict[AbstractState, Way]] = {}
        """The steps that may break a rule, in the order in which they were met, each with where it is possible and how."""
        self.seconds, self._too_deep, self._released = 0.0, False, False
        """How long it has worked, whether it gave up, and whether anything that was held back goes on."""
        self.ended_without: frozenset[int] | None = None
        """The rules whose breaks were held back when it last came to its end, None: it never did."""
        self._endings: dict[InFlight, Endings] = {}
        self._afterwards: dict[tuple[PendingKnowledge, InFlight], Bits] = {}
        self.held: dict[int, set[Reader]] = {rule: set() for rule in held}
        """For each rule whose breaks are held back, the choices that break it."""
        self._waiting: tuple[deque[AbstractState], deque[AbstractState]] = deque(), deque()
        """Those that nobody looked at yet, and those of which more is known by now: the longer these wait, the less often."""
        self._queued: set[AbstractState] = set()
        core, _ = graph.first
        shape, facts = graph.controls[core]
        self._bits, self._pending = ValueBits(len(facts)), len(facts) - 1
        """The bits of all values, and the place of what is pending."""
        at = dict(enumerate(facts))
        at[self._pending] = self._without_time(at[self._pending])
        self._meet(AbstractState(shape, tuple(at[place] for place in self._exact), ()), self._bits.bits(at.items()), ())

    @property
    def tells_rows_apart(self) -> bool:
        """Whether names of rows are kept exactly, at least of those that are seen."""
        return self._exact_rows != "none"

    @property
    def may_go_on(self) -> bool:
        """Whether it can go on with a changed plan: not from a broken region that may have no end."""
        return self.done or not (self._too_deep or self._released)

    @property
    def unseen(self) -> float:
        """Which part of its states it has not looked at once; all if it gave up."""
        return 1.0 if self._too_deep else len(self._waiting[0]) / len(self.states)

    @property
    def names(self) -> StackNames:
        """The names of the rows of rungs that are left out."""
        return self._looks.names

    @property
    def done(self) -> bool:
        """Whether nothing new can come."""
        return not (self._too_deep or any(self._waiting))

    def run(self, seconds: float, goes_on: Callable[[], bool] = lambda: True) -> None:
        """Go on for so many seconds, or until nothing new comes; raises TooDeepError."""
        began = time.perf_counter()
        try:
            with without_collecting():
                self._work(began + seconds, goes_on)
        finally:
            self.seconds += time.perf_counter() - began
        if self.done:
            self.ended_without = frozenset(self.held)

    def _work(self, until: float, goes_on: Callable[[], bool]) -> None:
        first, again = self._waiting
        while (first or again) and time.perf_counter() < until and goes_on():
            at = (first or again).popleft()
            self._queued.discard(at)
            self._go_on(at, self.states[at])
            names = self._looks.names
            grown, names.grown = names.grown, set()
            for name in grown:
                for reader, root in self._looks.readers.pop(name, ()):
                    self.states[reader].stale[root] = None
                    self._queue(reader)

    def _queue(self, at: AbstractState) -> None:
        if at not in self._queued:
            self._queued.add(at)
            self._waiting[self.states[at].roots is not None].append(at)

    def _kept(self, shape: int) -> tuple[bool, ...]:
        """Tell of each row of a shape whether its name is kept exactly.

        If the rows of one ladder are not, they are taken for one another, and may make ladders that never were.
        """
        kept = self._kept_of.get(shape)
        if kept is None:
            cuts = sorted(self.graph.cuts(shape), key=lambda cut: cut.number)
            which = self._exact_rows
            kept = self._kept_of[shape] = tuple(which == "all" or (which == "seen" and cut.what == "rung") for cut in cuts)
        return kept

    def _without_time(self, under_way: object) -> object:
        return self.graph.pending.timeless(under_way) if self._timeless else under_way

    def _meet(self, at: AbstractState, bits: Bits, rows: Rows) -> None:
        """Note what an abstract state may be, too."""
        known = self.states.get(at)
        if known is None:
            self.states[at] = Known(bits, rows)
            self._queue(at)
        elif known.learn(bits, rows):
            self._queue(at)

    def _flow(self, at: AbstractState, bits: Bits) -> None:
        if self.states[at].learn(bits, None):
            self._queue(at)

    # What comes of an abstract state

    def _go_on(self, at: AbstractState, known: Known) -> None:
        """Find what can come of an abstract state, as far as it is new."""
        bits, rows, stale = known.news()
        if known.roots is None:
            known.roots = []
            for node in (self.graph.staying(at.shape), *self.graph.nodes(at.shape)):
                self._begin(Way(node, known.rows), at, known)
            self._end_pending(at, known, known.bits)
            return
        for root in stale:
            root.watches, root.row_watches = {}, []
            self._walk(replace(root.first, rows=known.rows), at, root)
        if any(rows):
            self._let_rows_in(at, known, rows, frozenset(stale))
        if bits:
            self._let_in(at, known, bits)

    def _let_in(self, at: AbstractState, known: Known, bits: Bits) -> None:
        """Find what can come of values that are new."""
        for root in list(known.roots or ()):
            for place, watches in list(root.watches.items()):
                if bits & self._bits.all_at(frozenset([place])):
                    for way in [way for watch in watches for way in self._told(watch, bits)]:
                        self._walk(self._with_all_names(way, known), at, root)
        self._end_pending(at, known, bits)
        for edge in list(known.edges):
            self._pass_on(edge, bits)

    def _let_rows_in(self, at: AbstractState, known: Known, rows: Rows, done: frozenset[Root]) -> None:
        """Find what can come of names of rows that are new, but for choices that are done."""
        for edge in list(known.edges):
            if edge.asked is not None and self.states[edge.target].learn(0, self._looks.narrowed(rows, edge.asked)):
                self._queue(edge.target)
        for place, names in enumerate(rows):
            some = (*known.rows[:place], names, *known.rows[place + 1 :])
            fitting: dict[tuple[Asked, ...], Rows] = {}
            for root in known.roots or () if names else ():
                for watch in list(root.row_watches) if root not in done else ():
                    asked = watch.way.asked
                    if asked not in fitting:
                        fitting[asked] = self._looks.narrowed(some, asked)
                    if not fitting[asked][place]:
                        continue
                    if watch.landing is not None:
                        self._land(watch.landing, fitting[asked], (at, root))
                        continue
                    way = replace(watch.way, rows=fitting[asked])
                    for each in list(self._looks.seen(way, watch, (at, root))):
                        self._walk(self._with_all_names(each, known), at, root)

    def _with_all_names(self, way: Way, known: Known) -> Way:
        """Let all names go on that fit what was asked: those that were known may give a new answer together with later ones."""
        return way if way.looks else replace(way, rows=self._looks.narrowed(known.rows, way.asked))

    def _begin(self, first: Way, at: AbstractState, known: Known) -> None:
        root = Root(first)
        cast("list[Root]", known.roots).append(root)
        self._walk(first, at, root)

    def _end_pending(self, at: AbstractState, known: Known, bits: Bits) -> None:
        """Let what is pending end."""
        for under_way in self._bits.values(bits, self._pending):
            alone, orders = self._endings_of(cast("InFlight", under_way))
            for ending in orders:
                for node in self.graph.ended(at.shape, ending.pending):
                    if ending.has(node.choice):
                        self._begin(Way(node, known.rows, ((self._pending, ending.pending),)), at, known)
            for replied in alone - known.replied:
                known.replied.add(replied)
                for node in self.graph.replied(at.shape, replied):
                    self._begin(Way(node, known.rows, pending=PendingSort(replied=replied)), at, known)

    def _endings_of(self, under_way: InFlight) -> Endings:
        known = self._endings.get(under_way)
        if known is None:
            any_first = self._timeless and self._pending not in self._exact
            known = self._endings[under_way] = endings(self.graph.successors.shaping, under_way, any_first=any_first)
        return known

    def _fits(self, sort: PendingSort, under_way: InFlight) -> bool:
        """Whether something that is pending is of a sort."""
        if sort.names is not None and under_way.names != sort.names:
            return False
        return sort.replied is None or sort.replied in self._endings_of(under_way).alone

    def _walk(self, first: Way, at: AbstractState, root: Root) -> None:
        """Go through all that a choice may come to."""
        graph, waiting = self.graph, [first]
        while waiting:
            way = waiting.pop()
            node = way.node
            look = graph.look(node, len(way.rows))
            if look is None:
                for leaf in node.leaves or ():
                    self._arrive(leaf, way, (at, root))
            elif look.what == "shape":
                waiting.append(replace(way, node=graph.unveiled(node, at.shape)))
            elif look.what in {"fact", "calling"}:
                watch = Watch(way, set())
                root.watches.setdefault(look.number, []).append(watch)
                waiting += self._told(watch, self.states[at].bits)
            elif way.looks >= MOST_LOOKS:
                self._too_deep = True
                raise TooDeepError(node.choice)
            else:
                row_watch = RowWatch(way, set())
                if not way.looks:
                    root.row_watches.append(row_watch)
                waiting += self._looks.seen(way, row_watch, (at, root))

    def _told(self, watch: Watch, bits: Bits) -> Iterator[Way]:
        """Go on where a choice looks at a place: for each value that was not seen there yet."""
        way, seen = watch
        node, look, sort = way.node, cast("RefinementNeeded", way.node.look), way.pending
        place = look.number
        for value in self._bits.values(bits, place):
            if place == self._pending and not self._fits(sort, cast("InFlight", value)):
                continue
            told = cast("InFlight", value).names if look.what == "calling" else value
            if told in seen:
                continue
            seen.add(told)
            child = self.graph.told(node, look, told)
            if look.what == "calling":
                yield replace(way, node=child, pending=sort._replace(names=cast("frozenset[str]", told)))
            else:
                yield replace(way, node=child, told=(*way.told, (place, value)))

    # Where a step leads

    def _arrive(self, leaf: DecisionLeaf, way: Way, reader: Reader) -> None:
        """Meet what a leaf comes to, and let pass what it does not look at."""
        at, root = reader
        if leaf.candidates:
            self.suspects.setdefault(leaf, {})[at] = way
            broken = leaf.breaks(self.held)
            if broken is not None:
                self.held[broken].add(reader)
                return
        if isinstance(leaf.action, Stay):
            return
        shape = self.graph.shape_after(leaf, at.shape)
        kept = self._kept(shape)
        passes = not way.looks and leaf.keeps_stacks and kept == self._kept(at.shape)
        before, after = dict(way.told), {**dict(way.told), **dict(leaf.facts)}
        more: list[object] = []
        change = None
        if self._pending in after:
            if self._timeless and self._pending in before:
                more = self.graph.pending.with_more_alike(before[self._pending], leaf, after[self._pending])
            after[self._pending] = self._without_time(after[self._pending])
        elif leaf.pending != NOTHING_PENDING_KNOWN or way.pending != WHATEVER:
            change = PendingChange(way.pending, leaf.pending)
        exact = tuple(
            after[place] if place in after else self._exactly(value, change) if place == self._pending else value
            for place, value in zip(self._exact, at.exact, strict=True)
        )
        bits = self._bits.bits((*after.items(), *((self._pending, each) for each in more)))
        stops = frozenset(after) if change is None else frozenset(after) | {self._pending}
        landing = Landing(
            leaf, Edge(AbstractState(shape, exact, ()), stops, change, way.asked if passes else None), kept, bits, {}
        )
        if way.rows and not (way.looks or passes):
            root.row_watches.append(RowWatch(way, set(), landing))
        self._land(landing, way.rows, reader)

    def _land(self, landing: Landing, rows: Rows, reader: Reader) -> None:
        """Meet what a leaf comes to from some rows."""
        at, _ = reader
        if not landing.leaf.keeps_stacks:
            rows = self._looks.rebuilt(landing.leaf, reader, rows)
        kept, known = landing.kept, self.states[at]
        for each in product(*(map(alone, row) if exactly else [row] for row, exactly in zip(rows, kept, strict=True))):
            names = tuple(row if exactly else _ANY for row, exactly in zip(each, kept, strict=True))
            edge = landing.edges.get(names)
            if edge is not None:
                self._meet(edge.target, 0, each)
                continue
            edge = landing.edge._replace(target=landing.edge.target._replace(rows=names))
            landing.edges[names] = edge
            self._meet(edge.target, landing.bits, each)
            if edge not in known.edges:
                known.edges[edge] = None
                self._pass_on(edge, known.bits)

    def _exactly(self, under_way: object, change: PendingChange | None) -> object:
        """Return what is pending after a step, where that is kept exactly."""
        return under_way if change is None else self.graph.pending.after(change.done, under_way)

    def _pass_on(self, edge: Edge, bits: Bits) -> None:
        """Let values pass along a step."""
        passes = bits & ~self._bits.all_at(edge.stops)
        if edge.pending is not None:
            sort, done = edge.pending
            for value in self._bits.values(bits, self._pending):
                under_way = cast("InFlight", value)
                if self._fits(sort, under_way):
                    passes |= self._after(done, under_way)
        if passes:
            self._flow(edge.target, passes)

    def _after(self, done: PendingKnowledge, under_way: InFlight) -> Bits:
        """Return the bit of what is pending after a step that looked at no more of it than one call."""
        bit = self._afterwards.get((done, under_way))
        if bit is None:
            after = self._without_time(self.graph.pending.after(done, under_way))
            bit = self._afterwards[done, under_way] = self._bits.bit(self._pending, after)
        return bit

    # Going on

    def change_to(self, plan: Plan, judge: Judge, moves: int) -> None:
        """Go on with a plan in which only these moves are other ones, as `StateGraph.change_to` has them.

        What was met stays, so it may hold more than the plan can reach.
        """
        forgot, gone = self.graph.change_to(plan, judge, moves)
        for leaf in gone:
            self.suspects.pop(leaf, None)
        for at, known in self.states.items():
            for root in known.roots or ():
                if root.first.node in forgot:
                    known.stale[root] = None
                    self._queue(at)
                    for breaks in self.held.values():
                        breaks.discard((at, root))
        self.seconds, self.ended_without = 0.0, None

    def release(self, rule: int) -> None:
        """Let the steps that break a rule go on, too."""
        self._released = True
        for at, root in self.held.pop(rule):
            self.states[at].stale[root] = None
            self._queue(at)

    # Asking

    def holds(self, state: StateKey) -> bool:
        """Whether a state of the graph lies in an abstract one that was met."""
        at, facts, rows = self._parts(state)
        known = self.states.get(at)
        if known is None or self._bits.bits(enumerate(facts)) & ~known.bits:
            return False
        return all(row in those for row, those in zip(rows, known.rows, strict=True))

    def abstract(self, state: StateKey) -> AbstractState:
        """Return the abstract state in which a state of the graph lies, if it was met."""
        return self._parts(state)[0]

    def _parts(self, state: StateKey) -> tuple[AbstractState, Valuation, list[int]]:
        core, bundle = state
        shape, values = self.graph.controls[core]
        facts = (*values[:-1], self._without_time(values[-1]))
        rows = [self._looks.name_of(bundle, place) for place in range(self.graph.count_tails(shape))]
        names = tuple(alone(row) if kept else _ANY for row, kept in zip(rows, self._kept(shape), strict=True))
        return AbstractState(shape, tuple(facts[place] for place in self._exact), names), facts, rows
