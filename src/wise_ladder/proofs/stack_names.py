"""Rows of rungs of any height, by a finite number of names: a finite automaton over rungs.

A name stands for all rows that agree in what it tells: the highest rung, the lowest screen, which calls were made in it, and
what can come of it when it goes. What a row is made of is kept as transitions: a name leads by its highest rung to the names of
what is beneath (P-automata; Bouajjani, Esparza, Maler 1997; Schwoon 2002). A name is a function of the rung that was put and of
the name beneath, so the name of any row can be told by putting its rungs one by one.
"""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, NamedTuple, cast

from wise_ladder.rules.symbolic_stacks import ABSENT, WHOLE
from wise_ladder.semantics.symbolic import QUIET, StackRest

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from wise_ladder.rules.symbolic_stacks import SplitKey, StackTable

NO_ROW = 0
"""The name of the row without rungs."""


class NameParts(NamedTuple):
    """What a name tells of the rows it stands for."""

    top: int
    """The number of the highest rung."""
    lowest: str
    """The screen of the lowest one, if names tell it."""
    rest: StackRest
    """What can come of the row when it goes, and which calls it made."""


class NamedSplit(NamedTuple):
    """One way to split the rows of a name at a rung: what is beneath it, what is over it, and what is seen there."""

    lower: int
    upper: int
    seen: SplitKey


class StackNames:
    """The names of rows, and what the rows of each name can be made of."""

    def __init__(self, table: StackTable, *, lowest: bool) -> None:
        """Take the table that numbers the rungs; `lowest`: whether a name tells the lowest screen."""
        self._table, self._lowest = table, lowest
        self._name_of: dict[NameParts, int] = {}
        self._made: dict[tuple[int, int], int] = {}
        """The names by the row beneath and the rung that was put on it: each transition once."""
        self._within: dict[int, tuple[int, list[int]]] = {}
        self._split: dict[tuple[int, int], tuple[int, list[NamedSplit]]] = {}
        self._rebuilt: dict[tuple[int, int, int], tuple[int, set[int]]] = {}
        """What was found out, each with the number of transitions that were known then."""
        self.parts: list[NameParts | None] = [None]
        self._beneath: list[set[int]] = [set()]
        """For each name: the names of what may be beneath its highest rung."""
        self.grown: set[int] = set()
        """The names that got a transition since somebody looked."""

    def put(self, row: int, rung: int) -> int:
        """Return the name of a row with one rung more; from now on such a row may be made so."""
        name = self._made.get((row, rung))
        if name is None:
            parts = self._parts(row, rung)
            name = self._name_of.get(parts)
            if name is None:
                name = self._name_of[parts] = len(self.parts)
                self.parts.append(parts)
                self._beneath.append(set())
            self._beneath[name].add(row)
            self._made[row, rung] = name
            self.grown.add(name)
        return name

    def known(self, row: int, rung: int) -> int:
        """Return the name of a row with one rung more, -1 if no such row was made."""
        return self._made.get((row, rung), -1)

    def _parts(self, row: int, rung: int) -> NameParts:
        under, rest = self.parts[row], self._table.rest(self.rest(row), rung)
        if under is None:
            return NameParts(rung, self._table.rungs[rung].data.screen if self._lowest else "", rest)
        return NameParts(rung, under.lowest, rest)

    def rest(self, row: int) -> StackRest:
        """Return what can come of a row."""
        parts = self.parts[row]
        return StackRest(QUIET, 0) if parts is None else parts.rest

    def tops(self, row: int) -> Iterator[tuple[int, int]]:
        """Go through what may be beneath the highest rung of a name; that rung comes with each."""
        parts = self.parts[row]
        if parts is not None:
            yield from ((parts.top, under) for under in tuple(self._beneath[row]))

    def within(self, row: int) -> list[int]:
        """List the names of all that a row of a name can be made of, itself first."""
        known = self._within.get(row)
        if known is not None and known[0] == len(self._made):
            return known[1]
        found = {row: None}
        waiting = [row]
        while waiting:
            for _, under in self.tops(waiting.pop()):
                if under not in found:
                    found[under] = None
                    waiting.append(under)
        self._within[row] = len(self._made), list(found)
        return self._within[row][1]

    def rebuilt(self, row: int, base: int, part: int = 0) -> set[int]:
        """Return the names of rows with the rungs of a row over another row `base`; the `part` of a recipe may change them."""
        if row == NO_ROW:
            return {base}
        key = row, base, part
        known = self._rebuilt.get(key)
        if known is None or known[0] != len(self._made):
            other = partial(self._table.changed, part=part) if part else _same
            before = len(self._made)
            made = self._upwards(self.within(row), {NO_ROW: {(base, None)}}, other, lambda _: True)
            known = self._rebuilt[key] = before, {name for name, _ in made.get(row, ())}
        return known[1]

    def _upwards(
        self,
        names: list[int],
        begin: dict[int, set[tuple[int, object]]],
        other: Callable[[int], int],
        passes: Callable[[int], bool],
    ) -> dict[int, set[tuple[int, object]]]:
        """Put the rungs of rows over what stands at the beginning of each, as long as rungs pass; what was begun with stays."""
        made = begin
        above: dict[int, list[tuple[int, int]]] = {}
        for name in names:
            for rung, under in self.tops(name):
                if passes(rung):
                    above.setdefault(under, []).append((name, rung))
        waiting = [(name, each) for name, those in begin.items() for each in those]
        while waiting:
            under, (row, begun) = waiting.pop()
            for name, rung in above.get(under, ()):
                each = self.put(row, other(rung)), begun
                those = made.setdefault(name, set())
                if each not in those:
                    those.add(each)
                    waiting.append((name, each))
        return made

    def split(self, row: int, mark: int) -> list[NamedSplit]:
        """List the ways to split the rows of a name, as the table splits a row; what is not there is told as that."""
        known = self._split.get((row, mark))
        if known is None or known[0] != len(self._made):
            # Splitting may make rows: what is known before it counts.
            before = len(self._made)
            known = self._split[row, mark] = before, list(self._splits(row, mark))
        return known[1]

    def _splits(self, row: int, mark: int) -> Iterator[NamedSplit]:
        whole = self._table.sought(mark)[1] if mark < 0 else mark == WHOLE
        names = self.within(row)
        if mark < 0:
            found = self._table.finder(mark)
            if self._lacks(row, found):
                yield NamedSplit(row, NO_ROW, ABSENT)
            if whole and not any(found(rung) for name in names for rung, _ in self.tops(name)):
                return
        if whole:
            yield from self._whole(row)
            return
        fits = self._table.finder(mark)
        begin: dict[int, set[tuple[int, object]]] = {}
        for name in names:
            for rung, under in self.tops(name):
                if fits(rung):
                    begin.setdefault(name, set()).add((NO_ROW, (rung, under)))
        made = self._upwards(names, begin, _same, lambda rung: not fits(rung))
        for upper, at in list(made.get(row, ())):
            rung, lower = cast("tuple[int, int]", at)
            yield NamedSplit(lower, upper, (rung, lower != NO_ROW, upper != NO_ROW))

    def _lacks(self, row: int, found: Callable[[int], bool]) -> bool:
        """Whether a row of a name may have no rung that is sought."""
        reached, waiting = {row}, [row]
        while waiting:
            name = waiting.pop()
            if name == NO_ROW:
                return True
            for rung, under in self.tops(name):
                if not found(rung) and under not in reached:
                    reached.add(under)
                    waiting.append(under)
        return False

    def _whole(self, row: int) -> Iterator[NamedSplit]:
        """Split whole ladders: the lowest rung, the rungs between, and the top."""
        if row == NO_ROW:
            yield NamedSplit(NO_ROW, NO_ROW, (-1, False, False))
            return
        for top, under in self.tops(row):
            if under == NO_ROW:
                yield NamedSplit(NO_ROW, NO_ROW, (top, False, False))
                continue
            names = self.within(under)
            begin: dict[int, set[tuple[int, object]]] = {}
            for name in names:
                for rung, rest in self.tops(name):
                    if rest == NO_ROW:
                        begin.setdefault(name, set()).add((NO_ROW, rung))
            made = self._upwards(names, begin, _same, lambda _: True)
            for upper, lowest in list(made.get(under, ())):
                lower = self.put(NO_ROW, cast("int", lowest))
                yield NamedSplit(lower, upper, (top, lower != NO_ROW, upper != NO_ROW))


def _same(rung: int) -> int:
    return rung
