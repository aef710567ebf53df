"""All states that a plan can reach, taken together in a finite number of abstract ones.

An abstract state is a shape and the facts that are kept exactly; of everything else it has sets of values: other facts, the
wanted place, what is pending, and of each row of rungs that is left out the names it may have (`StackNames`). What can come of
it is read from the same decision trees that the sweep grows, so there is one semantics. It goes on until nothing new comes (the
least fixpoint; Kildall 1973, Cousot and Cousot 1977). Then every state that a plan can reach lies in it.
"""

from __future__ import annotations

import time
from collections import Counter, deque
from functools import cache, reduce
from itertools import product
from operator import and_, or_
from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias, cast

from msgspec.structs import replace

from wise_ladder.plan.events import Reply
from wise_ladder.proofs.stack_names import NO_ROW, StackNames
from wise_ladder.rules.in_flight import SEEN_SINCE
from wise_ladder.rules.symbolic_stacks import ABSENT, NUMBER, Found
from wise_ladder.semantics.symbolic import ASKERS, RestAnswer

if TYPE_CHECKING:
    from collections.abc import Callable, Collection, Iterator

    from wise_ladder.rules.actions import Action
    from wise_ladder.rules.decision_tree import DecisionLeaf, DecisionNode
    from wise_ladder.rules.graph import StateGraph, StateKey
    from wise_ladder.rules.in_flight import InFlight
    from wise_ladder.semantics.state import PendingCall
    from wise_ladder.semantics.symbolic import RefinementNeeded

MOST_LOOKS = 24
"""So many rungs of rows that are left out are looked at in one step at most."""
Values: TypeAlias = "tuple[frozenset[object], ...]"
"""For each fact, then for the address that waits, the wanted place and what is pending: the values it may have."""
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


class _Way(NamedTuple):
    """A choice as far as it was looked at: what it may come from."""

    node: DecisionNode
    values: Values
    rows: Rows
    looks: int


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
        self.values: dict[AbstractState, tuple[Values, Rows]] = {}
        """What the facts, and the rows, may be in each abstract state that was met."""
        self.leaves: dict[DecisionLeaf, None] = {}
        self.seconds = 0.0
        """How long it has worked."""
        self._alone: dict[InFlight, dict[str, PendingCall]] = {}
        self._waiting: deque[AbstractState] = deque()
        self._queued: set[AbstractState] = set()
        self._readers: dict[int, set[AbstractState]] = {}
        """By name: the abstract states that looked into it."""
        core, _ = graph.first
        shape, facts = graph.controls[core]
        self._meet(shape, tuple(frozenset([value]) for value in facts), ())

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
            self._expand(at)
            grown, self.names.grown = self.names.grown, set()
            for name in grown:
                for reader in self._readers.get(name, ()):
                    self._queue(reader)
        self.seconds += time.perf_counter() - began

    def _queue(self, at: AbstractState) -> None:
        if at not in self._queued:
            self._queued.add(at)
            self._waiting.append(at)

    def _meet(self, shape: int, values: Values, rows: Rows) -> None:
        if self._timeless:
            values = (*values[:-1], frozenset(map(self.graph.timeless, values[-1])))
        exact, kept = tuple(next(iter(values[place])) for place in self._exact), self._kept(shape)
        for each in product(*(map(_alone, row) if alone else [row] for row, alone in zip(rows, kept, strict=True))):
            key = tuple(row if alone else _ANY for row, alone in zip(each, kept, strict=True))
            self._join(AbstractState(shape, exact, key), values, each)

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

    def _join(self, at: AbstractState, values: Values, rows: Rows) -> None:
        known = self.values.get(at)
        if known is None:
            self.values[at] = values, rows
            self._queue(at)
        elif any(new - old for new, old in zip((*values, *rows), (*known[0], *known[1]), strict=True)):
            self.values[at] = (
                tuple(old | new for new, old in zip(values, known[0], strict=True)),
                tuple(old | new for new, old in zip(rows, known[1], strict=True)),
            )
            self._queue(at)

    # What comes of an abstract state

    def _expand(self, at: AbstractState) -> None:
        values, rows = self.values[at]
        for leaf, _ in self._ways(_Way(self.graph.staying(at.shape), values, rows, 0), at):
            self.leaves[leaf] = None
        for way in self._begin(at, values, rows):
            for leaf, after in self._ways(way, at):
                self.leaves[leaf] = None
                self._go(leaf, at, after)

    def _begin(self, at: AbstractState, values: Values, rows: Rows) -> Iterator[_Way]:
        for node in self.graph.nodes(at.shape):
            yield _Way(node, values, rows, 0)
        alone: dict[PendingCall, set[object]] = {}
        for under_way in values[-1]:
            told = (*values[:-1], frozenset([under_way]))
            by_itself = self._by_itself(cast("InFlight", under_way)) if self._timeless else {}
            for call in by_itself.values():
                alone.setdefault(call, set()).add(under_way)
            for node in self.graph.ended(at.shape, under_way):
                if not isinstance(node.choice, Reply) or node.choice.call not in by_itself:
                    yield _Way(node, told, rows, 0)
        for call, those in alone.items():
            for node in self.graph.replied(at.shape, call):
                yield _Way(node, (*values[:-1], frozenset(those)), rows, 0)

    def _by_itself(self, under_way: InFlight) -> dict[str, PendingCall]:
        """Return the calls whose replies are decided without a word about what else is pending, by name."""
        known = self._alone.get(under_way)
        if known is None:
            calls = [replace(call, number=0) for call in under_way.calls if call.name != SEEN_SINCE]
            names, by_itself = Counter(call.name for call in calls), self.graph.successors.shaping.by_itself
            known = {call.name: call for call in calls if names[call.name] == 1 and by_itself(call)}
            self._alone[under_way] = known
        return known

    def _ways(self, first: _Way, at: AbstractState) -> Iterator[tuple[DecisionLeaf, _Way]]:
        """Go through all that a choice may come to, each with what is known of where it came from."""
        graph, waiting = self.graph, [first]
        while waiting:
            way = waiting.pop()
            node, values, rows, looks = way
            look = graph.look(node, len(rows))
            if look is None:
                yield from ((leaf, way) for leaf in node.leaves or ())
            elif look.what == "shape":
                waiting.append(way._replace(node=graph.unveiled(node, at.shape)))
            elif look.what == "fact":
                for value in values[look.number]:
                    told = (*values[: look.number], frozenset([value]), *values[look.number + 1 :])
                    waiting.append(_Way(graph.told(node, look, value), told, rows, looks))
            elif look.what == "calling":
                groups: dict[frozenset[str], set[object]] = {}
                for under_way in values[-1]:
                    groups.setdefault(cast("InFlight", under_way).names, set()).add(under_way)
                for names, those in groups.items():
                    waiting.append(_Way(graph.told(node, look, names), (*values[:-1], frozenset(those)), rows, looks))
            else:
                if looks >= MOST_LOOKS:
                    raise TooDeepError(node.choice)
                waiting += self._looked_into(way, at)

    def _looked_into(self, way: _Way, at: AbstractState) -> Iterator[_Way]:
        """Go on where a choice looks into a row: for each thing that may be seen there."""
        graph, names = self.graph, self.names
        node, values, rows, looks = way
        look = graph.look(node, len(rows))
        assert look is not None  # noqa: S101 - asked before
        if look.what == "rests":
            yield from self._of_all(way, look.mark)
            return
        if look.what == "sought anywhere":
            yield from self._sought(way, at, look)
            return
        before, after = rows[: look.number], rows[look.number + 1 :]
        if look.what == "rest":
            for answer, alike in self._by_rest(rows[look.number], look.mark).items():
                yield _Way(graph.with_answer(node, look.number, answer), values, (*before, alike, *after), looks)
            return
        if look.what == "rung":
            found: dict[int, set[int]] = {}
            for row in rows[look.number]:
                self._reads(at, [row])
                for rung, under in names.tops(row):
                    found.setdefault(graph.tails.sight(rung, rest=under != NO_ROW), set()).add(under)
            for sight, lower in found.items():
                child = graph.with_top(node, look.number, sight)
                yield _Way(child, values, (*before, frozenset(lower), *after), looks + 1)
            return
        whole = look.what in {"ladder", "sought in ladder"}
        # What is beneath and what is over it stay together: joined again, they must make no row that never was.
        splits = dict.fromkeys(split for row in rows[look.number] for split in names.split(row, graph.mark_of(look)))
        self._reads(at, [name for row in rows[look.number] for name in names.within(row)])
        lacking = frozenset(split.lower for split in splits if split.seen is ABSENT)
        if lacking:
            child = graph.with_split(node, look.number, ABSENT, len(rows), look.sought, whole=whole)
            yield _Way(child, values, (*before, lacking, *after), looks)
        for split in splits:
            if split.seen is not ABSENT:
                child = graph.with_split(node, look.number, split.seen, len(rows), look.sought, whole=whole)
                parted = (*before, _alone(split.lower), *after, _alone(split.upper))
                yield _Way(child, values, parted, looks + 1)

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

    def _go(self, leaf: DecisionLeaf, at: AbstractState, way: _Way) -> None:
        """Meet what a leaf comes to."""
        values = list(way.values)
        for place, value in leaf.facts:
            values[place] = frozenset([value])
        if leaf.turns or leaf.lost or leaf.replied:
            values[-1] = frozenset([self.graph.pending_after(leaf, under_way) for under_way in values[-1]])
        elif self._timeless and values[-1] is not way.values[-1]:
            (after,) = values[-1]
            more = [each for before in way.values[-1] for each in self.graph.with_more_alike(before, after)]
            values[-1] = frozenset([after, *more])
        shape = self.graph.shape_after(leaf, at.shape)
        self._meet(shape, tuple(values), way.rows if leaf.keeps_stacks else self._rebuilt(leaf, at, way.rows))

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
        shape, facts = self.graph.controls[core]
        if self._timeless:
            facts = (*facts[:-1], self.graph.timeless(facts[-1]))
        rows = [self._row(bundle, place) for place in range(self.graph.count_tails(shape))]
        exact = tuple(facts[place] for place in self._exact)
        key = tuple(_alone(row) if kept else _ANY for row, kept in zip(rows, self._kept(shape), strict=True))
        known = self.values.get(AbstractState(shape, exact, key))
        if known is None:
            return False
        return all(value in those for value, those in zip((*facts, *rows), (*known[0], *known[1]), strict=True))

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
