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
from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias, cast

from wise_ladder.proofs.endings import endings
from wise_ladder.proofs.stack_names import NO_ROW, StackNames
from wise_ladder.proofs.value_sets import ValueBits
from wise_ladder.rules.actions import Stay
from wise_ladder.rules.symbolic_stacks import ABSENT, NUMBER, Found
from wise_ladder.semantics.symbolic import ASKERS, NOTHING_PENDING_KNOWN, RestAnswer

if TYPE_CHECKING:
    from collections.abc import Callable, Collection, Iterator

    from wise_ladder.proofs.endings import Endings
    from wise_ladder.proofs.value_sets import Bits
    from wise_ladder.rules.actions import Action
    from wise_ladder.rules.decision_tree import DecisionLeaf, DecisionNode
    from wise_ladder.rules.graph import StateGraph, StateKey
    from wise_ladder.rules.in_flight import InFlight
    from wise_ladder.semantics.symbolic import PendingKnowledge, RefinementNeeded, RepliedCall

MOST_LOOKS = 24
"""So many rungs of rows that are left out are looked at in one step at most."""
Rows: TypeAlias = "tuple[frozenset[int], ...]"
"""For each row that is left out: the names it may have."""

ExactRows: TypeAlias = Literal["none", "seen", "all"]
"""Whose names are kept exactly: no rows, those of ladders that are seen at least in part, those of hidden ladders too."""
_ANY: frozenset[int] = frozenset()
"""Stands for a row whose name is not kept exactly."""


class AbstractState(NamedTuple):
    """A shape, the values of the facts that are kept exactly, and the names of the rows that are."""

    shape: int
    exact: tuple[object, ...]
    rows: Rows


class TooDeepError(Exception):
    """A step looks at so many rungs that it would go on for ever."""

    def __init__(self, action: Action) -> None:
        """Name the step."""
        super().__init__(action)
        self.action = action


class PendingSort(NamedTuple):
    """Which of the values of what is pending a choice is for."""

    names: frozenset[str] | None = None
    """Those in which the calls have these names."""
    replied: RepliedCall | None = None
    """Those in which this call may get a reply that is decided by itself."""


_WHATEVER = PendingSort()


class _Way(NamedTuple):
    """A choice as far as it was looked at: what it may come from."""

    node: DecisionNode
    told: tuple[tuple[int, object], ...]
    """The places that were looked at, and what was seen there."""
    pending: PendingSort
    rows: Rows
    looks: int


class _Watch(NamedTuple):
    """A choice that looks at a place, and what was seen there so far."""

    way: _Way
    seen: set[object]


class _PendingChange(NamedTuple):
    """What becomes of what is pending on a step that looks at no more of it than this."""

    sort: PendingSort
    done: PendingKnowledge


class _Edge(NamedTuple):
    """A step from one abstract state to another: what passes along it."""

    target: AbstractState
    stops: frozenset[int]
    """The places whose values do not pass as they are."""
    pending: _PendingChange | None
    """What passes of what is pending where not all does as it is."""


class _Known:
    """What is known of an abstract state that was met."""

    __slots__ = ("anew", "bits", "edges", "news", "replied", "rows", "watches")

    def __init__(self, bits: Bits, rows: Rows) -> None:
        self.bits, self.rows = bits, rows
        """What the facts and the rows may be."""
        self.news = 0
        """What of that nobody has looked at."""
        self.anew = True
        """Whether all that can come of it is to be found, once more if rows are known to be other ones."""
        self.watches: dict[int, list[_Watch]] = {}
        """By place: the choices that look at it."""
        self.edges: dict[_Edge, None] = {}
        self.replied: set[RepliedCall] = set()
        """The calls whose replies were decided by themselves."""


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
        self.states: dict[AbstractState, _Known] = {}
        self.leaves: dict[DecisionLeaf, None] = {}
        self.seconds = 0.0
        """How long it has worked."""
        self._endings: dict[InFlight, Endings] = {}
        self._afterwards: dict[tuple[PendingKnowledge, InFlight], Bits] = {}
        self._waiting: deque[AbstractState] = deque()
        self._queued: set[AbstractState] = set()
        self._readers: dict[int, set[AbstractState]] = {}
        """By name: the abstract states that looked into it."""
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
        return not self._waiting

    def run(self, seconds: float, goes_on: Callable[[], bool] = lambda: True) -> None:
        """Go on for so many seconds, or until nothing new comes; raises TooDeepError."""
        began = time.perf_counter()
        until = began + seconds
        while self._waiting and time.perf_counter() < until and goes_on():
            at = self._waiting.popleft()
            self._queued.discard(at)
            known = self.states[at]
            news, known.news = known.news, 0
            if known.anew:
                self._expand(at, known)
            else:
                self._go_on(at, known, news)
            grown, self.names.grown = self.names.grown, set()
            for name in grown:
                for reader in self._readers.get(name, ()):
                    self.states[reader].anew = True
                    self._queue(reader)
        self.seconds += time.perf_counter() - began

    def _queue(self, at: AbstractState) -> None:
        if at not in self._queued:
            self._queued.add(at)
            self._waiting.append(at)

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
            self.states[at] = _Known(bits, rows)
            self._queue(at)
            return
        self._flow(at, bits)
        if rows != known.rows:
            joined = tuple(old | new for new, old in zip(rows, known.rows, strict=True))
            if joined != known.rows:
                known.rows, known.anew = joined, True
                self._queue(at)

    def _flow(self, at: AbstractState, bits: Bits) -> None:
        known = self.states[at]
        new = bits & ~known.bits
        if new:
            known.bits |= new
            known.news |= new
            self._queue(at)

    # What comes of an abstract state

    def _expand(self, at: AbstractState, known: _Known) -> None:
        """Find all that can come of an abstract state."""
        known.anew, known.watches, known.edges, known.replied = False, {}, {}, set()
        for node in (self.graph.staying(at.shape), *self.graph.nodes(at.shape)):
            self._walk(_Way(node, (), _WHATEVER, known.rows, 0), at)
        self._end_pending(at, known, known.bits)

    def _go_on(self, at: AbstractState, known: _Known, news: Bits) -> None:
        """Find what can come of it since more values are known."""
        for place, watches in list(known.watches.items()):
            if news & self._bits.all_at(frozenset([place])):
                for watch in list(watches):
                    for way in list(self._told(watch, news)):
                        self._walk(way, at)
        self._end_pending(at, known, news)
        for edge in list(known.edges):
            self._pass_on(edge, news)

    def _end_pending(self, at: AbstractState, known: _Known, bits: Bits) -> None:
        """Let what is pending end."""
        for under_way in self._bits.values(bits, self._pending):
            alone, orders = self._endings_of(cast("InFlight", under_way))
            for ending in orders:
                for node in self.graph.ended(at.shape, ending.pending):
                    if ending.has(node.choice):
                        self._walk(_Way(node, ((self._pending, ending.pending),), _WHATEVER, known.rows, 0), at)
            for replied in alone - known.replied:
                known.replied.add(replied)
                for node in self.graph.replied(at.shape, replied):
                    self._walk(_Way(node, (), PendingSort(replied=replied), known.rows, 0), at)

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

    def _walk(self, first: _Way, at: AbstractState) -> None:
        """Go through all that a choice may come to."""
        graph, waiting = self.graph, [first]
        while waiting:
            way = waiting.pop()
            node = way.node
            look = graph.look(node, len(way.rows))
            if look is None:
                for leaf in node.leaves or ():
                    self._arrive(leaf, way, at)
            elif look.what == "shape":
                waiting.append(way._replace(node=graph.unveiled(node, at.shape)))
            elif look.what in {"fact", "calling"}:
                known, watch = self.states[at], _Watch(way, set())
                known.watches.setdefault(look.number, []).append(watch)
                waiting += self._told(watch, known.bits)
            elif way.looks >= MOST_LOOKS:
                raise TooDeepError(node.choice)
            else:
                waiting += self._looked_into(way, at)

    def _told(self, watch: _Watch, bits: Bits) -> Iterator[_Way]:
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

    def _arrive(self, leaf: DecisionLeaf, way: _Way, at: AbstractState) -> None:
        """Meet what a leaf comes to, and let pass what it does not look at."""
        self.leaves[leaf] = None
        if isinstance(leaf.action, Stay):
            return
        before, after = dict(way.told), {**dict(way.told), **dict(leaf.facts)}
        more: list[object] = []
        change = None
        if self._pending in after:
            if self._timeless and self._pending in before:
                more = self.graph.with_more_alike(before[self._pending], leaf, after[self._pending])
            after[self._pending] = self._without_time(after[self._pending])
        elif leaf.pending != NOTHING_PENDING_KNOWN or way.pending != _WHATEVER:
            change = _PendingChange(way.pending, leaf.pending)
        exact = tuple(
            after[place] if place in after else self._exactly(kept, change) if place == self._pending else kept
            for place, kept in zip(self._exact, at.exact, strict=True)
        )
        bits = self._bits.bits((*after.items(), *((self._pending, each) for each in more)))
        stops = frozenset(after) if change is None else frozenset(after) | {self._pending}
        shape = self.graph.shape_after(leaf, at.shape)
        rows = way.rows if leaf.keeps_stacks else self._rebuilt(leaf, at, way.rows)
        known, kept = self.states[at], self._kept(shape)
        for each in product(*(map(_alone, row) if alone else [row] for row, alone in zip(rows, kept, strict=True))):
            names = tuple(row if alone else _ANY for row, alone in zip(each, kept, strict=True))
            edge = _Edge(AbstractState(shape, exact, names), stops, change)
            self._meet(edge.target, bits, each)
            if edge not in known.edges:
                known.edges[edge] = None
                self._pass_on(edge, known.bits)

    def _exactly(self, under_way: object, change: _PendingChange | None) -> object:
        """Return what is pending after a step, where that is kept exactly."""
        return under_way if change is None else self.graph.pending_after(change.done, under_way)

    def _pass_on(self, edge: _Edge, bits: Bits) -> None:
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

    def _looked_into(self, way: _Way, at: AbstractState) -> Iterator[_Way]:
        """Go on where a choice looks into a row: for each thing that may be seen there."""
        graph, names = self.graph, self.names
        node, rows, looks, look = way.node, way.rows, way.looks + 1, cast("RefinementNeeded", way.node.look)
        if look.what == "rests":
            yield from self._of_all(way, look.mark)
            return
        if look.what == "sought anywhere":
            yield from self._sought(way, at, look)
            return
        before, after = rows[: look.number], rows[look.number + 1 :]
        if look.what == "rest":
            for answer, alike in self._by_rest(rows[look.number], look.mark).items():
                yield way._replace(node=graph.with_answer(node, look.number, answer), rows=(*before, alike, *after))
            return
        if look.what == "rung":
            found: dict[int, set[int]] = {}
            for row in rows[look.number]:
                self._reads(at, [row])
                for rung, under in names.tops(row):
                    found.setdefault(graph.tails.sight(rung, rest=under != NO_ROW), set()).add(under)
            for sight, lower in found.items():
                child = graph.with_top(node, look.number, sight)
                yield way._replace(node=child, rows=(*before, frozenset(lower), *after), looks=looks)
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
                yield way._replace(node=child, rows=parted, looks=looks)

    def _of_all(self, way: _Way, mark: int) -> Iterator[_Way]:
        """Go on where a choice asks what can come of all rows together, without a word about each."""
        answers = [self._by_rest(row, mark) for row in way.rows]
        for value in {_together(mark, each) for each in product(*answers)}:
            rows = tuple(
                frozenset().union(*(names for answer, names in those.items() if _fits(answer, value))) for those in answers
            )
            yield way._replace(node=self.graph.with_answer(way.node, None, RestAnswer(mark, value)), rows=rows)

    def _sought(self, way: _Way, at: AbstractState, look: RefinementNeeded) -> Iterator[_Way]:
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

    def _by_rest(self, row: frozenset[int], mark: int) -> dict[RestAnswer, frozenset[int]]:
        """Sort names by what is asked of what can come of their rows."""
        found: dict[RestAnswer, set[int]] = {}
        for name in row:
            found.setdefault(self.names.rest(name).answer(mark), set()).add(name)
        return {answer: frozenset(names) for answer, names in found.items()}

    def _reads(self, at: AbstractState, rows: Collection[int]) -> None:
        for row in rows:
            self._readers.setdefault(row, set()).add(at)

    def _rebuilt(self, leaf: DecisionLeaf, at: AbstractState, rows: Rows) -> Rows:
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

    def _named(self, at: AbstractState, rows: Rows, part: int) -> set[int]:
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


def _together(mark: int, answers: tuple[RestAnswer, ...]) -> int:
    """Return what is asked of several rows together: whether it is so of all, or which calls any of them made."""
    values = [answer.value for answer in answers]
    return reduce(or_, values, 0) if mark == ASKERS else reduce(and_, values, mark)


def _fits(answer: RestAnswer, together: int) -> bool:
    """Whether a row of this answer can be one of several that have another together."""
    if answer.mark == ASKERS:
        return not answer.value & ~together
    return answer.value & together == together
