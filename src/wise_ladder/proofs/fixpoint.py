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
from functools import cache, reduce
from itertools import product
from operator import and_, or_
from typing import TYPE_CHECKING, Literal, TypeAlias, cast

from wise_ladder.proofs.abstract_states import (
    WHATEVER,
    AbstractState,
    Asked,
    Edge,
    Known,
    PendingChange,
    PendingSort,
    Root,
    RowWatch,
    Watch,
    Way,
)
from wise_ladder.proofs.endings import endings
from wise_ladder.proofs.stack_names import NO_ROW, StackNames
from wise_ladder.proofs.value_sets import ValueBits
from wise_ladder.rules.actions import Stay
from wise_ladder.rules.memory import without_collecting
from wise_ladder.rules.symbolic_stacks import ABSENT, NUMBER, Found
from wise_ladder.semantics.symbolic import ASKERS, NOTHING_PENDING_KNOWN, RestAnswer

if TYPE_CHECKING:
    from collections.abc import Callable, Collection, Iterator

    from wise_ladder.proofs.abstract_states import Rows
    from wise_ladder.proofs.endings import Endings
    from wise_ladder.proofs.value_sets import Bits
    from wise_ladder.rules.actions import Action
    from wise_ladder.rules.decision_tree import DecisionLeaf
    from wise_ladder.rules.graph import StateGraph, StateKey
    from wise_ladder.rules.in_flight import InFlight
    from wise_ladder.semantics.symbolic import PendingKnowledge, RefinementNeeded

MOST_LOOKS = 48
"""So often one step looks into rows that are left out at most."""

Reader: TypeAlias = "tuple[AbstractState, Root]"
"""Who looks into a row: a choice, and its abstract state."""
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
    """The abstract states of a plan; `leaves` are all steps between them, in the order in which they were met."""

    def __init__(self, graph: StateGraph, exact: Collection[int], rows: ExactRows, *, timeless: bool) -> None:
        """Begin with the state before the first launch.

        `exact`: the places of the facts that are kept exactly; `rows`: the rows whose names are too; `timeless`: since when
        something is pending is not kept.
        """
        self.graph, self._exact, self._exact_rows, self._timeless = graph, tuple(sorted(exact)), rows, timeless
        self.names = StackNames(graph.tails, lowest=rows != "none")
        self._kept_of: dict[int, tuple[bool, ...]] = {}
        self.states: dict[AbstractState, Known] = {}
        self.leaves: dict[DecisionLeaf, None] = {}
        self.seconds, self._too_deep = 0.0, False
        """How long it has worked, and whether it gave up."""
        self._endings: dict[InFlight, Endings] = {}
        self._afterwards: dict[tuple[PendingKnowledge, InFlight], Bits] = {}
        self._answered: dict[tuple[Rows, int], set[RestAnswer]] = {}
        self._fitted: dict[tuple[frozenset[int], RestAnswer, bool], frozenset[int]] = {}
        self._waiting: tuple[deque[AbstractState], deque[AbstractState]] = deque(), deque()
        """Those that nobody looked at yet, and those of which more is known by now: the longer these wait, the less often."""
        self._queued: set[AbstractState] = set()
        self._readers: dict[int, set[Reader]] = {}
        """By name: the choices that looked into it, each with its abstract state."""
        core, _ = graph.first
        shape, facts = graph.controls[core]
        self._bits, self._pending = ValueBits(len(facts)), len(facts) - 1
        """The bits of all values, and the place of what is pending."""
        at = dict(enumerate(facts))
        at[self._pending] = self._without_time(at[self._pending])
        self._meet(AbstractState(shape, tuple(at[place] for place in self._exact), ()), self._bits.bits(at.items()), ())

    @property
    def done(self) -> bool:
        """Whether nothing new can come."""
        return not (self._too_deep or any(self._waiting))

    def run(self, seconds: float, goes_on: Callable[[], bool] = lambda: True) -> None:
        """Go on for so many seconds, or until nothing new comes; raises TooDeepError."""
        began = time.perf_counter()
        with without_collecting():
            self._work(began + seconds, goes_on)
        self.seconds += time.perf_counter() - began

    def _work(self, until: float, goes_on: Callable[[], bool]) -> None:
        first, again = self._waiting
        while (first or again) and time.perf_counter() < until and goes_on():
            at = (first or again).popleft()
            self._queued.discard(at)
            self._go_on(at, self.states[at])
            grown, self.names.grown = self.names.grown, set()
            for name in grown:
                for reader, root in self._readers.pop(name, ()):
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
        return self.graph.timeless(under_way) if self._timeless else under_way

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
            self._walk(root.first._replace(rows=known.rows), at, root)
        if any(rows):
            self._let_rows_in(at, known, rows, stale)
        if bits:
            self._let_in(at, known, bits)

    def _let_in(self, at: AbstractState, known: Known, bits: Bits) -> None:
        """Find what can come of values that are new."""
        for root in list(known.roots or ()):
            for place, watches in list(root.watches.items()):
                if bits & self._bits.all_at(frozenset([place])):
                    for way in [way for watch in watches for way in self._told(watch, bits)]:
                        now = way if way.looks else way._replace(rows=self._narrowed(known.rows, way.asked))
                        self._walk(now, at, root)
        self._end_pending(at, known, bits)
        for edge in list(known.edges):
            self._pass_on(edge, bits)

    def _let_rows_in(self, at: AbstractState, known: Known, rows: Rows, done: list[Root]) -> None:
        """Find what can come of names of rows that are new, but for choices that are done."""
        for edge in list(known.edges):
            if edge.asked is not None and self.states[edge.target].learn(0, self._narrowed(rows, edge.asked)):
                self._queue(edge.target)
        for place, names in enumerate(rows):
            some = (*known.rows[:place], names, *known.rows[place + 1 :])
            for root in known.roots or () if names else ():
                for watch in list(root.row_watches) if root not in done else ():
                    way = watch.way._replace(rows=self._narrowed(some, watch.way.asked))
                    if not way.rows[place]:
                        continue
                    if watch.leaf is not None:
                        self._arrive(watch.leaf, way, (at, root), again=True)
                        continue
                    for each in list(self._seen_of_rows(way, watch, (at, root))):
                        self._walk(each, at, root)

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
                waiting.append(way._replace(node=graph.unveiled(node, at.shape)))
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
                waiting += self._seen_of_rows(way, row_watch, (at, root))

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
                yield way._replace(node=child, pending=sort._replace(names=cast("frozenset[str]", told)))
            else:
                yield way._replace(node=child, told=(*way.told, (place, value)))

    # Where a step leads

    def _arrive(self, leaf: DecisionLeaf, way: Way, reader: Reader, *, again: bool = False) -> None:
        """Meet what a leaf comes to, and let pass what it does not look at; `again`: for other rows than before."""
        self.leaves[leaf] = None
        if isinstance(leaf.action, Stay):
            return
        at, root = reader
        shape = self.graph.shape_after(leaf, at.shape)
        kept = self._kept(shape)
        passes = not way.looks and leaf.keeps_stacks and kept == self._kept(at.shape)
        if way.rows and not (way.looks or passes or again):
            root.row_watches.append(RowWatch(way, set(), leaf))
        before, after = dict(way.told), {**dict(way.told), **dict(leaf.facts)}
        more: list[object] = []
        change = None
        if self._pending in after:
            if self._timeless and self._pending in before:
                more = self.graph.with_more_alike(before[self._pending], leaf, after[self._pending])
            after[self._pending] = self._without_time(after[self._pending])
        elif leaf.pending != NOTHING_PENDING_KNOWN or way.pending != WHATEVER:
            change = PendingChange(way.pending, leaf.pending)
        exact = tuple(
            after[place] if place in after else self._exactly(kept, change) if place == self._pending else kept
            for place, kept in zip(self._exact, at.exact, strict=True)
        )
        bits = self._bits.bits((*after.items(), *((self._pending, each) for each in more)))
        stops = frozenset(after) if change is None else frozenset(after) | {self._pending}
        rows = way.rows if leaf.keeps_stacks else self._rebuilt(leaf, reader, way.rows)
        known = self.states[at]
        for each in product(*(map(_alone, row) if alone else [row] for row, alone in zip(rows, kept, strict=True))):
            names = tuple(row if alone else _ANY for row, alone in zip(each, kept, strict=True))
            edge = Edge(AbstractState(shape, exact, names), stops, change, way.asked if passes else None)
            self._meet(edge.target, bits, each)
            if edge not in known.edges:
                known.edges[edge] = None
                self._pass_on(edge, known.bits)

    def _exactly(self, under_way: object, change: PendingChange | None) -> object:
        """Return what is pending after a step, where that is kept exactly."""
        return under_way if change is None else self.graph.pending_after(change.done, under_way)

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
            after = self._without_time(self.graph.pending_after(done, under_way))
            bit = self._afterwards[done, under_way] = self._bits.bit(self._pending, after)
        return bit

    # What is seen of rows

    def _looked_into(self, way: Way, at: Reader) -> Iterator[Way]:
        """Go on where a choice looks into a row: for each thing that may be seen there."""
        graph, names = self.graph, self.names
        node, rows, look = way.node, way.rows, cast("RefinementNeeded", way.node.look)
        if look.what == "sought anywhere":
            yield from self._sought(way, at, look)
            return
        before, after = rows[: look.number], rows[look.number + 1 :]
        if look.what == "rung":
            found: dict[int, set[int]] = {}
            for row in rows[look.number]:
                self._reads(at, [row])
                for rung, under in names.tops(row):
                    found.setdefault(graph.tails.sight(rung, rest=under != NO_ROW), set()).add(under)
            for sight, lower in found.items():
                child = graph.with_top(node, look.number, sight)
                yield way._replace(node=child, rows=(*before, frozenset(lower), *after))
            return
        whole = look.what in {"ladder", "sought in ladder"}
        # What is beneath and what is over it stay together: joined again, they must make no row that never was.
        splits = dict.fromkeys(split for row in rows[look.number] for split in names.split(row, graph.mark_of(look)))
        self._reads(at, [name for row in rows[look.number] for name in names.within(row)])
        lacking = frozenset(split.lower for split in splits if split.seen is ABSENT)
        if lacking:
            child = graph.with_split(node, look.number, ABSENT, len(rows), look.sought, whole=whole)
            yield way._replace(node=child, rows=(*before, lacking, *after))
        for split in splits:
            if split.seen is not ABSENT:
                child = graph.with_split(node, look.number, split.seen, len(rows), look.sought, whole=whole)
                parted = (*before, _alone(split.lower), *after, _alone(split.upper))
                yield way._replace(node=child, rows=parted)

    def _seen_of_rows(self, way: Way, watch: RowWatch, reader: Reader) -> Iterator[Way]:
        """Go on where a choice asks something of rows: for each answer that is new, and for all that may be seen there."""
        look = cast("RefinementNeeded", way.node.look)
        if look.what not in {"rest", "rests"}:
            for each in self._looked_into(way, reader):
                yield each._replace(looks=way.looks + 1)
            return
        row = look.number if look.what == "rest" else None
        for answer in self._answers(way.rows if row is None else (way.rows[row],), look.mark):
            if answer not in watch.seen:
                watch.seen.add(answer)
                asked = Asked(row, answer)
                rows, child = self._narrowed(way.rows, (asked,)), self.graph.with_answer(way.node, row, answer)
                yield way._replace(node=child, rows=rows, asked=(*way.asked, asked))

    def _answers(self, rows: Rows, mark: int) -> set[RestAnswer]:
        """Return what rows may answer together, of which one name each is taken."""
        known = self._answered.get((rows, mark))
        if known is None:
            each = [{self.names.rest(name).answer(mark) for name in row} for row in rows]
            known = self._answered[rows, mark] = {_together(mark, answers) for answers in product(*each)}
        return known

    def _narrowed(self, rows: Rows, asked: tuple[Asked, ...]) -> Rows:
        """Return the names that fit what was asked, as far as a name can tell."""
        for row, answer in asked:
            rows = tuple(
                names if row not in {None, place} else self._fitting(names, answer, alone=row is not None)
                for place, names in enumerate(rows)
            )
        return rows

    def _fitting(self, row: frozenset[int], answer: RestAnswer, *, alone: bool) -> frozenset[int]:
        key = row, answer, alone
        found = self._fitted.get(key)
        if found is None:
            given = ((name, self.names.rest(name).answer(answer.mark)) for name in row)
            fits = (name for name, each in given if (each == answer if alone else _fits(each, answer.value)))
            found = self._fitted[key] = frozenset(fits)
        return found

    def _sought(self, way: Way, at: Reader, look: RefinementNeeded) -> Iterator[Way]:
        """Go on where a choice asks whether something is anywhere in the rows, without a word about where."""
        graph, names, mark = self.graph, self.names, self.graph.mark_of(look)
        lacking, anywhere = [], False
        for row in way.rows:
            splits = [split for name in row for split in names.split(name, mark)]
            self._reads(at, [within for name in row for within in names.within(name)])
            lacking.append(frozenset(split.lower for split in splits if split.seen is ABSENT))
            anywhere = anywhere or any(split.seen is not ABSENT for split in splits)
        if all(lacking):
            yield way._replace(node=graph.with_found(way.node, look.sought, Found(anywhere=False)), rows=tuple(lacking))
        if anywhere:
            yield way._replace(node=graph.with_found(way.node, look.sought, Found(anywhere=True)))

    def _reads(self, at: Reader, rows: Collection[int]) -> None:
        for row in rows:
            self._readers.setdefault(row, set()).add(at)

    def _rebuilt(self, leaf: DecisionLeaf, at: Reader, rows: Rows) -> Rows:
        """Return the rows that a leaf makes of others."""
        found: list[frozenset[int]] = []
        for source, over in leaf.tails:
            made = {NO_ROW} if source < 0 else self._named(at, rows, source)
            for part in over:
                if part < 0:
                    made = {self.names.put(row, ~part) for row in made}
                else:
                    upper = self._named(at, rows, part)
                    self._reads(at, [name for row in upper for name in self.names.within(row)])
                    made = {name for row in made for each in upper for name in self.names.rebuilt(each, row)}
            found.append(frozenset(made))
        return tuple(found)

    def _named(self, at: Reader, rows: Rows, part: int) -> set[int]:
        """Return the names that a part speaks of, as it says."""
        named, other = rows[part & NUMBER], part & ~NUMBER
        if not other:
            return set(named)
        self._reads(at, [name for row in named for name in self.names.within(row)])
        return {name for row in named for name in self.names.rebuilt(row, NO_ROW, other)}

    # Asking

    def holds(self, state: StateKey) -> bool:
        """Whether a state of the graph lies in an abstract one that was met."""
        core, bundle = state
        shape, values = self.graph.controls[core]
        facts = (*values[:-1], self._without_time(values[-1]))
        rows = [self._row(bundle, place) for place in range(self.graph.count_tails(shape))]
        names = tuple(_alone(row) if kept else _ANY for row, kept in zip(rows, self._kept(shape), strict=True))
        known = self.states.get(AbstractState(shape, tuple(facts[place] for place in self._exact), names))
        if known is None or self._bits.bits(enumerate(facts)) & ~known.bits:
            return False
        return all(row in those for row, those in zip(rows, known.rows, strict=True))

    def _row(self, bundle: int, place: int) -> int:
        """Return the name of a tail; a number that no name has if a rung of it was never put so."""
        row = NO_ROW
        for rung in self.graph.tails.numbers(bundle, place):
            row = self.names.known(row, rung)
            if row < 0:
                return row
        return row


@cache
def _alone(name: int) -> frozenset[int]:
    return frozenset([name])


def _together(mark: int, answers: tuple[RestAnswer, ...]) -> RestAnswer:
    """Return what is asked of several rows together: whether it is so of all, or which calls any of them made."""
    values = [answer.value for answer in answers]
    return RestAnswer(mark, reduce(or_, values, 0) if mark == ASKERS else reduce(and_, values, mark))


def _fits(answer: RestAnswer, together: int) -> bool:
    """Whether a row of this answer can be one of several that have another together."""
    if answer.mark == ASKERS:
        return not answer.value & ~together
    return answer.value & together == together
