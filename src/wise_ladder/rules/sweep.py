"""The sweep: breadth first over all states that events can make, all rules in one pass; the first break found is a shortest.

Which state a state was come by from is one number in a row (no map); the steps between are found again from there.
"""

from __future__ import annotations

import gc
import time
from array import array
from typing import TYPE_CHECKING, NamedTuple

from msgspec.structs import replace

from wise_ladder.ladder.happenings import LinkFollowed
from wise_ladder.ladder.state import all_rungs, depth, visible_path
from wise_ladder.ladder.tables import tables
from wise_ladder.plan.model import Link, Memory
from wise_ladder.rules.doings import Choices
from wise_ladder.rules.edges import SIGNS, Edge, Place, move_place, seen_rung
from wise_ladder.rules.graph import CORE, TAIL, TAIL_BITS, Graph
from wise_ladder.rules.meaning import AFTERWARDS, JUDGES, Guilt
from wise_ladder.rules.replaying import NoTime, Taken, replayed
from wise_ladder.rules.rounds import round_of
from wise_ladder.rules.starter import rules_in_force
from wise_ladder.rules.verdicts import Bounds, Counterexample, Known, Verdict
from wise_ladder.walks.exploring import things_met

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.ladder.state import State
    from wise_ladder.plan.model import Plan, Rule
    from wise_ladder.rules.graph import Found
    from wise_ladder.rules.meaning import Judge
    from wise_ladder.walks.exploring import Met

MOST_TRIED = 20
"""So many states are tried for one guilty place where a break must be done again to be one."""
BETWEEN_LOOKS = 64
"""After so many states the sweep looks whether it must stop."""


class _Suspect(NamedTuple):
    """A break as it was found: of which rule, by whom, the state before it, and the step."""

    rule: int
    guilt: Guilt
    before: int
    step: Taken


class Sweep:
    """One sweep over a plan on one phone; `go_on` may be called again and again until it is `over`."""

    def __init__(self, plan: Plan, bounds: Bounds | None = None, rules: tuple[Rule, ...] | None = None) -> None:
        """Take the rules that are in force, or others; what the phone bears of weight is no part of the states."""
        self.plan, self.bounds = plan, bounds or Bounds()
        self.rules = rules_in_force(plan) if rules is None else rules
        names = {rule.name for rule in self.rules}
        light = replace(plan, memory=Memory())
        flash = max((rule.limit or 0 for rule in self.rules if rule.name == "no flash"), default=0)
        twice = any(rule.twice for rule in self.rules)
        guarded = {screen for rule in self.rules if rule.name == "guarded" for screen in rule.screens}
        choices = Choices(light, twice=twice, dead_taps="no dead taps" in names, flash=flash, guarded=guarded)
        self.graph = Graph(choices, self._judge)
        self._judges: dict[int, list[tuple[int, Rule, Judge]]] = {}
        """Who judges a step, by its signs."""
        self._measures = [
            (number, rule) for number, rule in enumerate(self.rules) if rule.name in {"depth at most", "memory at most"}
        ]
        self.states: list[int] = [self.graph.first]
        """Every state that was met, in the order in which it was."""
        self._seen = {self.graph.first}
        self._parents = array("l", [-1])
        self.ends = [1]
        """How many states there were with so many steps, from none on."""
        self._next = 0
        """The first state that is still to be gone on from."""
        self._first = self.graph.state(self.graph.first)
        self._suspects: dict[tuple[int, Place], int] = {}
        """How often a break was tried; a negative number: it is proved."""
        self._new: list[_Suspect] = []
        self.found: dict[int, list[Counterexample]] = {number: [] for number in range(len(self.rules))}
        self._looked_ahead: set[object] = set()
        self.used: set[Met | Link] = set()
        self.screens: set[str] = set()
        self.seconds = 0.0
        """How long it has worked."""
        self.stopped = ""
        """Which bound stopped it."""

    @property
    def whole(self) -> bool:
        """Whether there is no state that was not gone on from."""
        return self._next == len(self.states)

    @property
    def over(self) -> bool:
        """Whether nothing is left to do, or a bound was met."""
        return self.whole or bool(self.stopped)

    @property
    def depth(self) -> int:
        """How many steps are known whole: all that can happen in so many was looked at."""
        return len(self.ends) - 1

    def go_on(self, seconds: float | None = None, goes_on: Callable[[], bool] = lambda: True) -> None:
        """Work for so long at most, or until `goes_on` says no, or it is over."""
        collects = gc.isenabled()
        # What is kept here leads in no circle, and there is much of it: looking for circles in it takes a quarter of the time.
        gc.disable()
        try:
            self._work(seconds, goes_on)
        finally:
            if collects:
                gc.enable()

    def _work(self, seconds: float | None, goes_on: Callable[[], bool]) -> None:
        began = time.perf_counter()
        until = began + min(self.bounds.seconds - self.seconds, seconds if seconds is not None else self.bounds.seconds)
        already = self.seconds
        while not self.over:
            if self._next >= self.ends[-1]:
                self._level_done()
                continue
            self._some()
            now = time.perf_counter()
            self.seconds = already + now - began
            if len(self.states) >= self.bounds.states:
                self.stopped = f"{self.bounds.states:,} states"
            elif self.seconds >= self.bounds.seconds:
                self.stopped = f"{self.bounds.seconds:g} s"
            if now >= until or not goes_on():
                break
        if self._next >= self.ends[-1] and not self.whole:
            self._level_done()

    def _level_done(self) -> None:
        self.ends.append(len(self.states))
        if self.depth >= self.bounds.depth and not self.whole:
            self.stopped = f"{self.bounds.depth} steps"

    def _some(self) -> None:
        """Go on from some more states of this level."""
        graph, rows, seen, states, parents = self.graph, self.graph.rows, self._seen, self.states, self._parents
        add, append, follow, most = seen.add, states.append, parents.append, self.bounds.states
        after, looked, parted, tail_of, new_tail = graph.after, graph.looked, graph.parted, graph.tail_of, graph.new_tail
        rests, sights = graph.parents, graph.sights
        learned = graph.learned
        for index in range(self._next, min(self._next + BETWEEN_LOOKS, self.ends[-1])):
            state = states[index]
            core = state & CORE
            self._next = index
            row = rows[core] or graph.row(core)
            fresh = len(states)
            waiting = [(state - core, row)]
            while waiting:
                high, row = waiting.pop()
                for other in row.cores:
                    other |= high  # noqa: PLW2901 - the innermost loop of all
                    if other not in seen:
                        add(other)
                        append(other)
                        follow(index)
                for other, shift, rung in row.pushes:
                    tail = high >> shift & TAIL
                    other |= high + ((tail_of.get(tail << TAIL_BITS | rung) or new_tail(tail, rung)) - tail << shift)  # noqa: PLW2901
                    if other not in seen:
                        add(other)
                        append(other)
                        follow(index)
                for other, tails in row.others:
                    other = after(high, other, tails)  # noqa: PLW2901
                    if other not in seen:
                        add(other)
                        append(other)
                        follow(index)
                if row.ends:
                    for other in row.ends:
                        if other not in seen:
                            add(other)
                            append(other)
                            follow(index)
                    row.ends = []
                for deep in row.parted:
                    tail = high >> deep.shift & TAIL
                    part = parted.get(deep.mark << TAIL_BITS | tail) or graph.part(tail, deep.mark)
                    other = high + (part.lower - tail << deep.shift) + (part.upper << deep.new)
                    waiting.append((other, deep.rows.get(part.seen) or graph.asker(deep, part)))
                for deep in row.deep:
                    tail = high >> deep.shift & TAIL
                    waiting.append(
                        (high - (tail - rests[tail] << deep.shift), deep.rows.get(sights[tail]) or looked(deep, tail))
                    )
            self._next = index + 1
            if self._measures:
                self._measure(fresh)
            if graph.learned != learned:
                # Only what is new takes long, or can break a rule.
                if self._new:
                    self._try(index)
                return
            if len(states) >= most:
                return

    # Judging

    def _judge(self, found: Found) -> None:
        """Judge a step that is new; what it is judged by is looked at, so that it need not be judged again."""
        done = found.done
        edge = Edge(found.plan, found.before, found.choice, done.state, done.happened, done.taken, refused=done.refused)
        guilts, ahead = [], []
        for number, rule, judge in self._who_judges(edge.signs()):
            if rule.name in AFTERWARDS:
                # What comes of a state is known once it was looked at.
                if (number, found.comes_to) in self._looked_ahead:
                    continue
                ahead.append((number, found.comes_to))
            guilts += [(number, guilt) for guilt in judge(rule, edge)]
        # Whoever looks deeper comes here again.
        self._looked_ahead.update(ahead)
        self.used.update(things_met(self.plan, done.taken, done.happened))
        for happening in edge.all_of(LinkFollowed):
            if (link := tables(found.plan).link_of(happening.address).link) is not None:
                self.used.add(link)
        if (top := seen_rung(done.state)) is not None:
            self.screens.update(rung.face.screen for rung in visible_path(done.state.ladder) if not rung.cut)
            self.screens.add(top.face.screen)
        for number, guilt in guilts:
            if 0 <= self._suspects.get((number, guilt.place), 0) < MOST_TRIED:
                self._new.append(_Suspect(number, guilt, -1, Taken(found.before, found.choice, done)))

    def _who_judges(self, signs: int) -> list[tuple[int, Rule, Judge]]:
        found = self._judges.get(signs)
        if found is None:
            found = self._judges[signs] = [
                (number, rule, JUDGES[rule.name][0])
                for number, rule in enumerate(self.rules)
                if rule.name in JUDGES and any(SIGNS[sign] & signs for sign in JUDGES[rule.name][1])
            ]
        return found

    def _try(self, index: int) -> None:
        """Prove what was found at a state by doing it."""
        new, self._new = self._new, []
        for suspect in new:
            self._prove(suspect._replace(before=index))

    def _prove(self, suspect: _Suspect) -> None:
        key = suspect.rule, suspect.guilt.place
        tried = self._suspects.get(key, 0)
        if not 0 <= tried < MOST_TRIED:
            return
        self._suspects[key] = tried + 1
        path = [*self.path(suspect.before), suspect.step]
        counterexample = self.proved(suspect.rule, path, suspect.guilt)
        if counterexample is not None:
            self._suspects[key] = -1
            self.found[suspect.rule].append(counterexample)

    def proved(self, number: int, path: list[Taken], guilt: Guilt) -> Counterexample | None:
        """Run a path by `step` with real waits, and return it where the rule is broken then too."""
        rule = self.rules[number]
        try:
            flash = (rule.limit or 0) if rule.name == "no flash" else 0
            tape = replayed(self.plan, self._first, path, flash)
        except NoTime:
            return None
        last = path[-1]
        entries = tape.entries
        count = len(entries)
        if rule.name in JUDGES:
            before = tape.state_at(count - 1) if not last.done.refused else tape.state_at(count)
            if last.done.refused:
                edge = Edge(self.plan, before, last.choice, before, (), (), refused=True)
            else:
                done = entries[-1].step
                edge = Edge(self.plan, before, entries[-1].event, done.state, done.happened, done.taken)
            same = next((other for other in JUDGES[rule.name][0](rule, edge) if other.place == guilt.place), None)
            if same is None:
                return None
            guilt = same
        elif _size(self.plan, rule, tape.state_at(count)) <= (rule.limit or 0):
            return None
        round_begins = None
        if rule.name == "no pile-up":
            round_begins = round_of(tape)
            if round_begins is None:
                return None
        return Counterexample(guilt, tape, len(path), round_begins, None if not last.done.refused else last.choice)

    def path(self, index: int) -> list[Taken]:
        """Return the steps to a state, the first launch first."""
        found: list[Taken] = []
        while (before := self._parents[index]) >= 0:
            found.append(self._step_between(self.states[before], self.states[index]))
            index = before
        return found[::-1]

    def _step_between(self, before: int, after: int) -> Taken:
        leaf = next(leaf for leaf, other in self.graph.edges(before) if other == after)
        shape, _ = self.graph.shapes[self.graph.cores[before & CORE][0]]
        return Taken(shape, leaf.choice, leaf.done)

    # Depth and weight

    def _measure(self, fresh: int) -> None:
        for index in range(fresh, len(self.states)):
            for number, rule in self._measures:
                if self.found[number] or rule.limit is None:
                    continue
                state = self.graph.state(self.states[index])
                size = _size(self.plan, rule, state)
                if size > rule.limit:
                    top = seen_rung(state)
                    screen = self.plan.screen[top.face.screen] if top is not None else None
                    place = Place(screen.name, screen.at) if screen is not None else Place("the start")
                    words = (
                        f"{size} rungs lie one under the other"
                        if rule.name == "depth at most"
                        else f"all rungs weigh {size:,} bytes"
                    )
                    proof = self.proved(number, self.path(index), Guilt(place, words))
                    if proof is not None:
                        self.found[number].append(proof)

    # What is known

    def known(self) -> Known:
        """Say how far is known what is known now."""
        return Known(self.depth, len(self.states), self.whole, self.stopped, self.seconds)

    def verdicts(self) -> tuple[Verdict, ...]:
        """Return what is known of every rule now."""
        known = self.known()
        found = []
        for number, rule in enumerate(self.rules):
            if rule.name == "everything is used":
                found.append(Verdict(rule, known, (), self.unused()))
            else:
                found.append(Verdict(rule, known, tuple(self.found[number]), doubt=self._doubt(number, rule)))
        return tuple(found)

    def _doubt(self, number: int, rule: Rule) -> str:
        """Say why a rule that no run breaks may be broken all the same."""
        unproved = sum(one == number and tried > 0 for (one, _), tried in self._suspects.items())
        if not unproved:
            return ""
        if rule.name != "no pile-up":
            return "what looked like a break did not run"
        # Where no other state is there, no ladder grows for ever.
        return (
            ""
            if self.whole
            else f"a rung comes over its equal by {unproved} move{'s' if unproved > 1 else ''}, and no round was found yet"
        )

    def unused(self) -> tuple[Place, ...]:
        """List what nothing met: screens, moves, guards, redirects and links."""
        plan, used = self.plan, self.used
        redirects = {each[0] for each in used if isinstance(each, tuple)}
        found = [Place(f"screen {screen.name}", screen.at) for screen in plan.screens if screen.name not in self.screens]
        found += [move_place(move) for move in plan.moves if move not in used]
        found += [Place(f"guard {guard.name}", guard.at) for guard in plan.guard.values() if guard not in used]
        found += [
            Place(f"redirect to {redirect.target.screen}", redirect.at)
            for redirect in plan.redirects
            if redirect not in redirects
        ]
        found += [Place(f"link {link.address}", link.at) for link in plan.links if link not in used]
        return tuple(found)


def _size(plan: Plan, rule: Rule, state: State) -> int:
    """Measure what a rule limits: rungs that lie one under the other, or what all of them weigh."""
    if rule.name == "depth at most":
        return depth(state)
    return sum(plan.screen[rung.face.screen].weight for rung in all_rungs(state.ladder))
