"""What choices see of the rows that are left out: which names go on, and which rows are made."""

from __future__ import annotations

from functools import cache, reduce
from itertools import product
from operator import and_, or_
from typing import TYPE_CHECKING, TypeAlias, cast

from msgspec.structs import replace

from wise_ladder.proofs.abstract_states import Asked
from wise_ladder.proofs.stack_names import NO_ROW, StackNames
from wise_ladder.rules.symbolic_stacks import ABSENT, NUMBER, Found
from wise_ladder.semantics.symbolic import ASKERS, RestAnswer, lowest_cuts

if TYPE_CHECKING:
    from collections.abc import Collection, Iterator

    from wise_ladder.proofs.abstract_states import AbstractState, Root, Rows, RowWatch, Way
    from wise_ladder.rules.decision_tree import DecisionLeaf
    from wise_ladder.rules.graph import StateGraph
    from wise_ladder.semantics.symbolic import RefinementNeeded

Reader: TypeAlias = "tuple[AbstractState, Root]"
"""A choice that looks into rows, with its abstract state."""


class RowLooks:
    """Looks into the rows of abstract states, and makes others of them."""

    def __init__(self, graph: StateGraph, *, lowest: bool) -> None:
        """Begin without a row; `lowest`: whether a name tells the lowest screen."""
        self._graph = graph
        self.names = StackNames(graph.tails, lowest=lowest)
        self.readers: dict[int, set[Reader]] = {}
        """By name: the choices that looked into it, each with its abstract state."""
        self._answered: dict[tuple[Rows, int], set[RestAnswer]] = {}
        self._fitted: dict[tuple[frozenset[int], RestAnswer, bool], frozenset[int]] = {}

    def _looked_into(self, way: Way, at: Reader) -> Iterator[Way]:
        """Go on where a choice looks into a row: for each thing that may be seen there."""
        graph, names = self._graph, self.names
        node, rows, look = way.node, way.rows, cast("RefinementNeeded", way.node.look)
        if look.what == "sought anywhere":
            yield from self._sought(way, at, look)
            return
        before, after = rows[: look.number], rows[look.number + 1 :]
        if look.what == "rung":
            found: dict[int, set[int]] = {}
            # A lowest rung has nothing beneath it. The name does not say so: rows of several rungs may have the same one.
            one_rung = look.number in lowest_cuts(node.state.ladder)
            for row in rows[look.number]:
                self._reads(at, [row])
                for rung, under in names.tops(row):
                    if under == NO_ROW or not one_rung:
                        found.setdefault(graph.tails.sight(rung, rest=under != NO_ROW), set()).add(under)
            for sight, lower in found.items():
                child = graph.with_top(node, look.number, sight)
                yield replace(way, node=child, rows=(*before, frozenset(lower), *after))
            return
        whole = look.what in {"ladder", "sought in ladder"}
        # What is beneath and what is over it stay together: joined again, they must make no row that never was.
        splits = dict.fromkeys(split for row in rows[look.number] for split in names.split(row, graph.mark_of(look)))
        self._reads(at, [name for row in rows[look.number] for name in names.within(row)])
        lacking = frozenset(split.lower for split in splits if split.seen is ABSENT)
        if lacking:
            child = graph.with_split(node, look.number, ABSENT, len(rows), look.sought, whole=whole)
            yield replace(way, node=child, rows=(*before, lacking, *after))
        for split in splits:
            if split.seen is not ABSENT:
                child = graph.with_split(node, look.number, split.seen, len(rows), look.sought, whole=whole)
                parted = (*before, alone(split.lower), *after, alone(split.upper))
                yield replace(way, node=child, rows=parted)

    def seen(self, way: Way, watch: RowWatch, reader: Reader) -> Iterator[Way]:
        """Go on where a choice asks something of rows: for each answer that is new, and for all that may be seen there."""
        look = cast("RefinementNeeded", way.node.look)
        if look.what not in {"rest", "rests"}:
            for each in self._looked_into(way, reader):
                yield replace(each, looks=way.looks + 1)
            return
        row = look.number if look.what == "rest" else None
        for answer in self._answers(way.rows if row is None else (way.rows[row],), look.mark):
            if answer not in watch.seen:
                watch.seen.add(answer)
                asked = Asked(row, answer)
                rows, child = self.narrowed(way.rows, (asked,)), self._graph.with_answer(way.node, row, answer)
                yield replace(way, node=child, rows=rows, asked=(*way.asked, asked))

    def _answers(self, rows: Rows, mark: int) -> set[RestAnswer]:
        """Return what rows may answer together, of which one name each is taken."""
        known = self._answered.get((rows, mark))
        if known is None:
            each = [{self.names.rest(name).answer(mark) for name in row} for row in rows]
            known = self._answered[rows, mark] = {_together(mark, answers) for answers in product(*each)}
        return known

    def narrowed(self, rows: Rows, asked: tuple[Asked, ...]) -> Rows:
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
        graph, names, mark = self._graph, self.names, self._graph.mark_of(look)
        lacking, anywhere = [], False
        for row in way.rows:
            splits = [split for name in row for split in names.split(name, mark)]
            self._reads(at, [within for name in row for within in names.within(name)])
            lacking.append(frozenset(split.lower for split in splits if split.seen is ABSENT))
            anywhere = anywhere or any(split.seen is not ABSENT for split in splits)
        if all(lacking):
            yield replace(way, node=graph.with_found(way.node, look.sought, Found(anywhere=False)), rows=tuple(lacking))
        if anywhere:
            yield replace(way, node=graph.with_found(way.node, look.sought, Found(anywhere=True)))

    def _reads(self, at: Reader, rows: Collection[int]) -> None:
        for row in rows:
            self.readers.setdefault(row, set()).add(at)

    def rebuilt(self, leaf: DecisionLeaf, at: Reader, rows: Rows) -> Rows:
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

    def name_of(self, bundle: int, place: int) -> int:
        """Return the name of a tail; a number that no name has if a rung of it was never put so."""
        row = NO_ROW
        for rung in self._graph.tails.numbers(bundle, place):
            row = self.names.known(row, rung)
            if row < 0:
                return row
        return row


@cache
def alone(name: int) -> frozenset[int]:
    """Return the row that has this name and no other."""
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
