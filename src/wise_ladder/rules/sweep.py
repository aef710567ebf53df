"""The sweep: breadth first over all states that events can make, all rules in one pass; the first break found is a shortest.

The states of a level that share their core are gone on from together. No state knows where it came from: the steps to it are
found again backwards, from level to level.
"""

from __future__ import annotations

import time
from collections import defaultdict
from functools import partial
from itertools import filterfalse, islice
from typing import TYPE_CHECKING, TypeAlias

from msgspec.structs import replace

from wise_ladder.plan.rule import Rule
from wise_ladder.plan.tokens import size_phrase
from wise_ladder.plan.world import MemoryLimits
from wise_ladder.rules import messages
from wise_ladder.rules.blame import Blaming, still_breaks
from wise_ladder.rules.graph import StateGraph
from wise_ladder.rules.landings import Landing, landings_in
from wise_ladder.rules.memory import resident_memory, without_collecting
from wise_ladder.rules.predicates import KINDS
from wise_ladder.rules.replay import PathStep, replay
from wise_ladder.rules.rule_checker import RuleChecker
from wise_ladder.rules.starter import rules_in_force
from wise_ladder.rules.successors import Successors
from wise_ladder.rules.transition import PlanRef, Violation, seen_rung
from wise_ladder.rules.verdicts import Bounds, Counterexample, SweepExtent, Verdict
from wise_ladder.rules.violations import breaks, run_that_breaks, size_of
from wise_ladder.rules.witnesses import Witnesses

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.plan.model import Plan
    from wise_ladder.rules.decision_tree import Candidate, DecisionLeaf, SuccessorRow
    from wise_ladder.rules.graph import StateKey
    from wise_ladder.rules.witnesses import Goal, GoalsOf, Witness
    from wise_ladder.walks.tape import Tape

MAX_AT_A_TIME = 64
"""After so many states the sweep looks whether it must stop."""
MAX_COMPARED = 64
"""If several paths are equally short, the first by name is shown; at most this many are compared."""
BETWEEN_WEIGHED = 4_096
"""After so many new states it looks how much memory it has taken since the first look."""
Level: TypeAlias = dict[int, list[int]]
"""States by their cores."""


def successors_for(plan: Plan, rules: tuple[Rule, ...]) -> Successors:
    """Return what can happen in a plan, told apart as far as its rules ask; what the phone bears of weight is left out."""
    light = replace(plan, memory=MemoryLimits())
    tracks = [(KINDS[rule.name].tracks, rule) for rule in rules]
    flash = max((rule.limit or 0 for what, rule in tracks if what == "flashes"), default=0)
    # Double taps are asked for of the plan, whichever rules are decided.
    twice = any(rule.twice for rule in (*rules, *(each for each in plan.rules if isinstance(each, Rule))))
    guarded = {screen for what, rule in tracks if what == "screens that go" for screen in rule.screens}
    watched = {what for what, _ in tracks}
    return Successors(
        light, twice=twice, dead_taps="dead taps" in watched, flash=flash, guarded=guarded, remade="remaking" in watched
    )


class Sweep:
    """One sweep over a plan on one phone; `run` may be called again and again until it is `over`."""

    def __init__(
        self,
        plan: Plan,
        bounds: Bounds | None = None,
        rules: tuple[Rule, ...] | None = None,
        goals_of: GoalsOf = landings_in,
    ) -> None:
        """Take the rules that are in force, or others, and what else to watch for: by default where each way back leads.

        What the phone bears of weight is no part of the states.
        """
        self.plan, self.bounds = plan, bounds or Bounds()
        self.rules = rules_in_force(plan) if rules is None else rules
        self.judging = RuleChecker(plan, self.rules, goals_of)
        self.graph = StateGraph(successors_for(plan, self.rules), self.judging.judge)
        self._blaming = Blaming()
        self._measures = [(number, rule) for number, rule in enumerate(self.rules) if KINDS[rule.name].measure is not None]
        core, bundle = self.graph.first
        self.by_depth: list[Level] = [{core: [bundle]}]
        """The states by the least number of steps they take; of the last level not all may be known yet."""
        self._visited: defaultdict[int, set[int]] = defaultdict(set, {core: {bundle}})
        """For each core: the bundles of tails that were met with it."""
        self._candidates: defaultdict[tuple[int, PlanRef], dict[tuple[str, str], tuple[Candidate, StateKey]]] = defaultdict(
            dict
        )
        """What seemed to break rules in this level, by rule and place: by the choice and the state before, in words."""
        self._predecessors: list[dict[int, dict[int, None]]] = [{}]
        """For each level and each core: the cores of the level before that led there."""
        self._frontier = [(core, [bundle])]
        """The states that are still to be gone on from in this level, last ones first."""
        self._begin_level()
        self.count = 1
        """How many states were met."""
        self._first = self.graph.state(self.graph.first)
        self.witnesses = Witnesses(plan, self._first, goals_of)
        """What else was watched for and met."""
        self.found: dict[int, list[Counterexample]] = {number: [] for number in range(len(self.rules))}
        self.seconds = 0.0
        """How long it has worked."""
        self.stopped = ""
        """Which bound stopped it."""
        self._weighed = 0
        """At how many states it was looked last how much memory it has taken."""
        self._held: int | None = None
        """What the program held at the first look: of what went before, much may be free and still held."""

    @property
    def exhausted(self) -> bool:
        """Whether there is no state that was not gone on from."""
        return not self._frontier and not self.by_depth[-1]

    @property
    def finished(self) -> bool:
        """Whether nothing is left to do, or a bound was met."""
        return self.exhausted or bool(self.stopped)

    @property
    def depth(self) -> int:
        """How many steps are known whole: all that can happen in so many was looked at."""
        return len(self.by_depth) - 2

    def run(self, seconds: float | None = None, goes_on: Callable[[], bool] = lambda: True) -> None:
        """Work up to `seconds`, until `goes_on` is false, or to the end."""
        with without_collecting():
            self._work(seconds, goes_on)

    def release(self) -> None:
        """Free everything bit by bit: at once it would block the keys."""
        for owner in (self, self.judging, self.graph, self.graph.tails):
            for kept in vars(owner).values():
                if isinstance(kept, list | dict):
                    take = kept.pop if isinstance(kept, list) else kept.popitem
                    while kept:
                        take()

    def _work(self, seconds: float | None, goes_on: Callable[[], bool]) -> None:
        began = time.perf_counter()
        until = began + min(self.bounds.seconds - self.seconds, seconds if seconds is not None else self.bounds.seconds)
        already = self.seconds
        self._look_how_deep()
        while not self.finished:
            self._some()
            if not self._frontier:
                self._confirm_candidates()
                if self.by_depth[-1]:
                    self._level_done()
            now = time.perf_counter()
            self.seconds = already + now - began
            self.stopped = self.stopped or self._bound_met()
            if self.stopped:
                self._confirm_candidates()
            if now >= until or not goes_on():
                break

    def _bound_met(self) -> str:
        bounds = self.bounds
        if self.count >= bounds.states:
            return f"at {bounds.states:,} states"
        if self.seconds >= bounds.seconds:
            return f"after {bounds.seconds:g} s"
        if self.count >= self._weighed + BETWEEN_WEIGHED:
            self._weighed, held = self.count, resident_memory()
            self._held = held if self._held is None else self._held
            if held - self._held >= bounds.memory:
                return f"at {size_phrase(bounds.memory)} of memory"
        return ""

    def _begin_level(self) -> None:
        self.by_depth.append({})
        self._predecessors.append({})

    def _level_done(self) -> None:
        self._frontier = list(self.by_depth[-1].items())[::-1]
        self._begin_level()
        self._look_how_deep()

    def _look_how_deep(self) -> None:
        if self.depth >= self.bounds.depth:
            self.stopped = f"after {self.bounds.depth} step{'s' if self.bounds.depth != 1 else ''}"

    def _some(self) -> None:
        """Go on from some more states of this level."""
        learned, left = self.graph.rows_built, MAX_AT_A_TIME
        # Learning a row is slow.
        while self._frontier and left and self.graph.rows_built == learned and self.count < self.bounds.states:
            core, bundles = self._frontier.pop()
            if len(bundles) > left:
                self._frontier.append((core, bundles[left:]))
                bundles = bundles[:left]
            left -= len(bundles)
            self._expand(core, bundles)

    def _expand(self, core: int, bundles: list[int]) -> None:
        """Expand all states of one core: what changes their tails alike is done for all at once."""
        graph, tails, meet = self.graph, self.graph.tails, self._add_states
        waiting = [(bundles, graph.rows[core] or graph.row(core))]
        for these, row in waiting:
            if row.candidates:
                self._note_candidates(core, bundles, row)
            for goal, leaf in row.goals:
                if self.witnesses.wants(goal):
                    self._note_goal(goal, core, bundles, row, leaf)
            for other in row.cores:
                meet(core, other, these)
            for other, shift, rung in row.pushes:
                meet(core, other, tails.push(these, shift, rung))
            for other, made in row.others:
                meet(core, other, list(dict.fromkeys(tails.rebuild(these, made))))
            if row.ends:
                for other, bundle in row.ends:
                    meet(core, other, [bundle])
                row.ends = []
            for deep in row.deep:
                for seen, group in deep.grouped(tails, these).items():
                    waiting.append((group, deep.rows.get(seen) or graph.deeper(deep, seen)))

    def _add_states(self, source: int, core: int, bundles: list[int]) -> None:
        """Keep the states that are new."""
        visited = self._visited[core]
        new = list(filterfalse(visited.__contains__, bundles))
        level, sources = self.by_depth[-1], self._predecessors[-1]
        if not new:
            # These may be states that another source led to in this level.
            if core in level:
                sources[core][source] = None
            return
        visited.update(new)
        self.count += len(new)
        if core in level:
            level[core] += new
        else:
            level[core] = new
        sources.setdefault(core, {})[source] = None
        if self._measures:
            self._measure(core, new)

    def _note_candidates(self, core: int, bundles: list[int], row: SuccessorRow) -> None:
        """Keep what may break a rule in states of a core, until the level is done.

        From each state it is tried again: what follows from another break in one of them may not in the next.
        """
        suspects = [each for each in row.candidates if self.judging.may_try(each.rule, each.guilt.place)]
        suspects = [each for each in suspects if len(self._candidates[each.rule, each.guilt.place]) < MAX_COMPARED]
        if suspects:
            states = ((core, bundle) for bundle in bundles)
            those = (at for at in states if any(each is row for _, each in self.graph.looks(at, learn=False)))
            for before in islice(those, MAX_COMPARED):
                text = self._state_text(before)
                for suspect in suspects:
                    key = repr(suspect.found.action), text
                    self._candidates[suspect.rule, suspect.guilt.place].setdefault(key, (suspect, before))

    def _note_goal(self, goal: Goal, core: int, bundles: list[int], row: SuccessorRow, leaf: DecisionLeaf) -> None:
        """Keep a goal with the first state of a core that leads there, until the level is done."""
        states = ((core, bundle) for bundle in bundles)
        before = next((at for at in states if any(each is row for _, each in self.graph.looks(at, learn=False))), None)
        if before is not None:
            depth, last = self.depth, partial(self.graph.taken, core, leaf.action, leaf.successor)
            self.witnesses.note(goal, lambda: [*self.path(depth, before), last()])

    def _state_text(self, at: StateKey) -> str:
        """Write a state: of those that are as good the one that comes first is taken, whatever else was looked at."""
        return repr((self.graph.whole(at), self.graph.under_way(at[0]).zone))

    def _confirm_candidates(self) -> None:
        """Prove what broke rules in this level, in an order that does not depend on which rules there are."""
        self.witnesses.confirm()
        suspects, self._candidates = self._candidates, defaultdict(dict)
        for rule, place in sorted(suspects):
            for _, (suspect, before) in sorted(suspects[rule, place].items(), key=lambda each: each[0]):
                self._confirm(suspect, before)

    def _confirm(self, suspect: Candidate, before: StateKey) -> None:
        number, guilt, (_, _, choice, done, _) = suspect
        judging, key = self.judging, (number, guilt.place)
        if not judging.may_try(*key):
            return
        judging.attempts[key] = judging.attempts.get(key, 0) + 1
        path = [*self.path(self.depth, before), self.graph.taken(before[0], choice, done)]
        counterexample = run_that_breaks(self.plan, self._first, self.rules[number], path, guilt)
        if counterexample is not None and self._found(number, counterexample):
            judging.attempts[key] = -1

    def _found(self, number: int, counterexample: Counterexample) -> bool:
        """Keep a break, and return True, unless it follows from one that is known: a cause is guilty once."""
        rule, tape, refused = self.rules[number], counterexample.tape, counterexample.refused
        others = self.found[number]
        if others and breaks(rule, tape.prefix(len(tape.entries) - (refused is None))):
            return False
        broken = partial(breaks, rule, refused=refused)
        if any(other.blame is not None and not still_breaks(tape, other.blame.fixed, broken) for other in others):
            return False
        if not KINDS[rule.name].of_the_screen:
            blame = self._blaming.blamed(tape, broken, may_be_refused=KINDS[rule.name].may_be_refused)
            counterexample = counterexample._replace(blame=blame)
        if all(other.place != counterexample.place for other in others):
            others.append(counterexample)
        return True

    def tape_to(self, level: int, at: StateKey) -> Tape:
        """Run a shortest path to a state of a level by `step`, with real times; raises Infeasible if no times allow it."""
        return replay(self.plan, self._first, self.path(level, at))

    def path(self, level: int, at: StateKey) -> list[PathStep]:
        """Return the steps to a state of a level, the first launch first."""
        steps: list[PathStep] = []
        while level:
            before, leaf = self._came_from(level, at)
            steps.append(self.graph.taken(before[0], leaf.action, leaf.successor))
            level, at = level - 1, before
        return steps[::-1]

    def _came_from(self, level: int, at: StateKey) -> tuple[StateKey, DecisionLeaf]:
        """Return the state before and what led on; of several the one whose choice and state come first when written."""
        origins: dict[tuple[str, str], tuple[StateKey, DecisionLeaf]] = {}
        for source in self._predecessors[level][at[0]]:
            for bundle in self.by_depth[level - 1][source]:
                for leaf in self.graph.leading((source, bundle), at):
                    origins[repr(leaf.action), self._state_text((source, bundle))] = (source, bundle), leaf
                if len(origins) >= MAX_COMPARED:
                    break
        if not origins:
            raise LookupError(at)
        return origins[min(origins)]

    # Depth and weight

    def _measure(self, core: int, bundles: list[int]) -> None:
        for bundle in bundles:
            for number, rule in self._measures:
                if self.found[number] or rule.limit is None:
                    continue
                state = self.graph.state((core, bundle))
                size = size_of(self.plan, rule, state)
                if size > rule.limit:
                    top = seen_rung(state)
                    screen = self.plan.screen[top.data.screen] if top is not None else None
                    place = PlanRef(screen.name, screen.at) if screen is not None else PlanRef("the start")
                    words = KINDS[rule.name].measured.format(size)
                    path = self.path(len(self.by_depth) - 1, (core, bundle))
                    proof = run_that_breaks(self.plan, self._first, rule, path, Violation(place, words))
                    if proof is not None:
                        self._found(number, proof)

    # What is known

    def extent(self) -> SweepExtent:
        """Say how far is known what is known now."""
        return SweepExtent(self.depth, self.count, self.exhausted, self.stopped, self.seconds)

    @property
    def landings(self) -> dict[Landing, Witness]:
        """What each way back does on each screen, as far as was met, each with a shortest path."""
        return {goal: path for goal, path in self.witnesses.paths.items() if isinstance(goal, Landing)}

    def verdicts(self) -> tuple[Verdict, ...]:
        """Return what is known of every rule now."""
        known = self.extent()
        verdicts = []
        for number, rule in enumerate(self.rules):
            if KINDS[rule.name].of_the_plan:
                verdicts.append(Verdict(rule, known, (), self.unused()))
            else:
                verdicts.append(Verdict(rule, known, tuple(self.found[number]), caveat=self._doubt(number, rule)))
        return tuple(verdicts)

    def _doubt(self, number: int, rule: Rule) -> str:
        """Say why a rule that no run breaks may be broken all the same."""
        if number in self.judging.unsure:
            return messages.TOO_MUCH
        unproved = self.judging.unproved(number)
        if not unproved:
            return ""
        if not KINDS[rule.name].needs_loop:
            return messages.NOT_REPLAYED
        # Where no other state is there, no ladder grows for ever.
        if self.exhausted:
            return ""
        return messages.NO_LOOP_YET_ONE if unproved == 1 else messages.NO_LOOP_YET.format(count=unproved)

    def unused(self) -> tuple[PlanRef, ...]:
        """List what nothing met."""
        return self.judging.unused()
