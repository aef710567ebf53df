"""An attempt to prove some rules: round by round, each with more told apart, and after an edit with what was met before."""

from __future__ import annotations

import time
from functools import partial
from typing import TYPE_CHECKING, Any, NamedTuple

import msgspec
from msgspec import structs

from wise_ladder.plan.events import OutsideChange
from wise_ladder.plan.steps import event_phrase
from wise_ladder.proofs import messages
from wise_ladder.proofs.changed_moves import bare, changed_moves
from wise_ladder.proofs.directed_search import shortest_break
from wise_ladder.proofs.fixpoint import Fixpoint, TooDeepError
from wise_ladder.proofs.sizes import largest
from wise_ladder.proofs.slicing import left_out, sliced
from wise_ladder.rules.actions import Elapse, Stay
from wise_ladder.rules.graph import StateGraph
from wise_ladder.rules.memory import resident_memory
from wise_ladder.rules.predicates import KINDS
from wise_ladder.rules.rule_checker import RuleChecker
from wise_ladder.rules.sweep import successors_for
from wise_ladder.rules.titles import limit_words, short_names
from wise_ladder.rules.verdicts import Proof
from wise_ladder.rules.violations import run_that_breaks
from wise_ladder.semantics.state import initial_state

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.plan import Plan
    from wise_ladder.plan.rule import Rule
    from wise_ladder.proofs.fixpoint import ExactRows
    from wise_ladder.proofs.task import ProofTask, Proved
    from wise_ladder.rules.actions import Action
    from wise_ladder.rules.decision_tree import Candidate
    from wise_ladder.rules.replay import PathStep
    from wise_ladder.rules.verdicts import Counterexample

MOST_MEMORY = 2_000_000_000
"""In bytes: with more than this no proof goes on."""
MORE_BEYOND = 4
"""Beyond the steps that break a rule there may be so many times as much as before them."""
SEARCHED, SEARCHED_AT_MOST, SEARCHED_AT_FIRST = 0.25, 10.0, 3.0
"""The part of the time for the search for one run, and so many seconds at most: when all was met, and before."""
AGAIN_AFTER = 1.25
"""A run is searched for again when the abstract states have taken so many times as long: they show more ways by then."""
MOST_FINER, FINER = 3, 0.5
"""So many times at most what was confused is told apart, each time for so much of the time that is left."""
FIRST_ROUND, FIRST_AT_MOST, FIRST_IF_NEAR, NEAR = 0.2, 3.0, 0.5, 0.1
"""The part of the time that the first round gets, and so many seconds at most; and the part that it gets if it is near its end
then: it has looked at all states but this part of them."""


class Round(NamedTuple):
    """How much is kept exactly in one attempt."""

    exact: tuple[int, ...]
    rows: ExactRows
    timeless: bool


class Met(NamedTuple):
    """What an attempt has met: the states of which plan, and judged by which rules."""

    states: Fixpoint
    thin: Plan
    rules: tuple[Rule, ...]
    judging: RuleChecker


class Attempt:
    """The attempt to prove some rules of a plan."""

    def __init__(self, task: ProofTask, group: list[int], known: Proved) -> None:
        """Take the numbers of the rules that belong together; what comes of it is noted in `known`."""
        self._plan, rules = task.plan, task.rules
        self.wanted, self.broken, self.known = [number for number in group if number not in task.broken], task.broken, known
        held = [number for number, rule in enumerate(rules) if KINDS[rule.name].wrong_since_a_step]
        self._numbers = tuple(sorted({*group, *held}))
        self._held = [place for place, number in enumerate(self._numbers) if number in held]
        self._names = short_names(rules)
        self._rules = tuple(rules[number] for number in self._numbers)
        self._thin = sliced(task.plan, self._rules)
        self._left_out = left_out(task.plan, self._thin)
        self._judging = self._judge()
        self._no_end = ""
        """Why the round before had no end, if it had none."""
        self._searched: dict[int, float] = {}
        """For each rule in `_rules`: after how many seconds a run was searched for last that need not be the shortest."""
        self.met: Met | None = None
        """What was met when it last came to an end; before that, what was met so far."""

    def _judge(self) -> RuleChecker:
        """Return what judges the steps of one graph."""
        return RuleChecker(self._thin, self._rules, lambda _: (), states_apart=True)

    def go_on_from(self, last: Met | None, until: float, goes_on: Callable[[], bool]) -> None:
        """Begin with what was met of the plan before, if only moves are other ones since then.

        That may be more than this plan can reach. So what is not proved with it may be proved without it.
        """
        if last is None or not last.states.may_go_on or _content(last.rules) != _content(self._rules):
            return
        changed = changed_moves(last.thin, self._thin)
        if changed is not None:
            self._judging.unsure |= last.judging.unsure
            last.states.change_to(self._thin, self._judging.judge, changed)
            self._run(last.states, until - time.perf_counter(), goes_on)

    def go(self, rounds: tuple[Round, ...], until: float, goes_on: Callable[[], bool]) -> None:
        """Go on round by round; the decisions of one are those of the next."""
        began = time.perf_counter()
        self.known.tried.update(dict.fromkeys(self.wanted, max(until - began, 0.0)))
        graph = None
        for place, each in enumerate(rounds):
            this: Round | None = each
            for finer in range(MOST_FINER + 1):
                left = until - time.perf_counter()
                if this is None or left <= 0 or not goes_on() or self._enough():
                    break
                if graph is None:
                    self._judging = self._judge()
                    graph = StateGraph(successors_for(self._thin, self._rules), self._judging.judge)
                states = Fixpoint(graph, this.exact, this.rows, timeless=this.timeless, held=self._held)
                seconds = left * FINER if finer else left
                if not (finer or place):
                    self._run(states, min(left * FIRST_ROUND, FIRST_AT_MOST), goes_on)
                    seconds = left * FIRST_IF_NEAR if states.unseen < NEAR else 0.0
                if seconds and not states.done:
                    self._run(states, seconds, goes_on)
                this = self._finer(this, states)
        for number in self.wanted:
            if number not in self.known.proofs and number not in self.known.found:
                self.known.reasons.setdefault(number, messages.NO_TIME)
        if not goes_on():
            self.known.tried.update(dict.fromkeys(self.wanted, time.perf_counter() - began))

    def _finer(self, this: Round, states: Fixpoint) -> Round | None:
        """Return a round that keeps exactly what suspicious steps look at; None if this round does already, or had no end."""
        if not (states.done and states.tells_rows_apart):
            return None
        wanted = {*self.wanted} - self._settled()
        rules = [place for place, number in enumerate(self._numbers) if number in wanted]
        suspects = [those for leaf, those in states.suspects.items() if leaf.breaks(rules) is not None]
        looked = {place for those in suspects for way in those.values() for place, _ in way.told}
        return this._replace(exact=tuple(sorted(looked.union(this.exact)))) if not looked.issubset(this.exact) else None

    def _enough(self) -> bool:
        """Whether each rule is broken or proved, at least as long as those hold that are broken for certain."""
        apart = self.met is not None and self.met.states.done and self.met.states.tells_rows_apart
        # What is measured depends on rows, and on nothing that is told apart later.
        measured = [number for number, rule in zip(self._numbers, self._rules, strict=True) if KINDS[rule.name].measure]
        settled = {*self._settled(), *(measured if apart else ())}
        proofs = [self.known.proofs.get(number) for number in self.wanted if number not in settled]
        breaks = {self._names[number] for number in (*self.broken, *self.known.found)}
        return all(proof is not None and breaks.issuperset(proof.as_long_as) for proof in proofs)

    def _settled(self) -> set[int]:
        """Return the rules that are broken for certain, by a run that is a shortest one for certain."""
        return {number for number, run in self.known.found.items() if run.shortest}

    def _search(self, states: Fixpoint, until: float) -> None:
        """Search for runs that break the rules which a step seems to break.

        It is a shortest run only if all that is possible was met and no breaks of another rule are held back: a shorter run may
        lead over one of them. Where it need not be the shortest, it is searched for only now and then.
        """
        held = {place for place, those in states.held.items() if those}
        for place in self._suspects(states) if states.tells_rows_apart else ():
            number, left = self._numbers[place], until - time.perf_counter()
            shortest, last = states.done and not held - {place}, self._searched.get(place, 0.0)
            if number not in self.wanted or number in self._settled() or left <= 0:
                continue
            if not shortest and last and states.seconds < last * AGAIN_AFTER:
                continue
            if not shortest:
                self._searched[place] = states.seconds
            confirm = partial(self._confirmed, self._rules[place])
            found = shortest_break(
                states, place, min(left * SEARCHED, SEARCHED_AT_MOST if states.done else SEARCHED_AT_FIRST), confirm
            )
            known = self.known.found.get(number)
            if found is not None and (known is None or found.steps <= known.steps):
                self.known.found[number] = found._replace(shortest=shortest and found.shortest)
                self.known.reasons.pop(number, None)

    def _confirmed(self, rule: Rule, path: list[PathStep], suspect: Candidate) -> Counterexample | None:
        """Run a path on the whole plan, with real times."""
        turned = (step.action.fact for step in path if isinstance(step.action, OutsideChange))
        if any(fact not in self._plan.fact_index for fact in turned):
            # That stands for a timer of the app, which may not end just then.
            return None
        return run_that_breaks(self._plan, initial_state(self._plan), rule, path, suspect.guilt)

    def release(self, until: float, goes_on: Callable[[], bool]) -> None:
        """Try to prove the rules even where others are broken, if the time is likely to do."""
        states = None if self.met is None else self.met.states
        while states is not None and states.done and goes_on():
            held = sorted((len(those), rule) for rule, those in states.held.items() if those)
            left = until - time.perf_counter()
            if not held or left < states.seconds * MORE_BEYOND:
                return
            states.release(held[0][1])
            self._run(states, left, goes_on)

    def _run(self, states: Fixpoint, seconds: float, goes_on: Callable[[], bool]) -> None:
        """Take all states together, and note what that proves; search for runs as soon as a step seems to break a rule."""
        why, until, suspects = "", time.perf_counter() + seconds, 0

        def nothing_new() -> bool:
            return len(states.suspects) == suspects and goes_on()

        try:
            while not states.done and time.perf_counter() < until and goes_on():
                suspects = len(states.suspects)
                states.run(until - time.perf_counter(), nothing_new)
                if not states.done:
                    self._search(states, until)
        except TooDeepError as error:
            why = messages.TOO_DEEP.format(step=_step(error.action))
        if states.done or self.met is None or not self.met.states.done:
            self.met = Met(states, self._thin, self._rules, self._judging)
        if states.done and states not in self.known.wholes:
            self.known.wholes.append(states)
        if not states.done and not why:
            ended = messages.NO_END if resident_memory() < MOST_MEMORY else messages.NO_MEMORY
            why = ended.format(states=len(states.states))
        self._note(states, why)
        if states.done:
            self._search(states, until)

    def _note(self, states: Fixpoint, why: str) -> None:
        """Note which rules the abstract states prove, or why they do not."""
        suspects = self._suspects(states)
        conditions = tuple(self._names[self._numbers[rule]] for rule, those in states.held.items() if those)
        for place, number in enumerate(self._numbers):
            proof = self.known.proofs.get(number)
            proved = proof is not None and not proof.as_long_as
            if number not in self.wanted or number in self.known.found or proved:
                continue
            if why:
                # What was told apart too little says more than what had no end.
                if self.known.reasons.get(number, self._no_end) == self._no_end:
                    self.known.reasons[number] = why
            elif place in suspects:
                words, action = suspects[place].guilt.words, suspects[place].found.action
                reason = messages.STATE_NOT_TOLD_APART if isinstance(action, Stay) else messages.NOT_TOLD_APART
                self.known.reasons[number] = reason.format(step=_step(action), words=words)
            elif place in self._judging.unsure:
                self.known.reasons[number] = messages.TOO_MUCH
            elif (too_large := self._too_large(states, self._rules[place])) is not None:
                self.known.reasons[number] = too_large
            else:
                self.known.proofs[number] = Proof(len(states.states), states.seconds, conditions, self._left_out)
                self.known.reasons.pop(number, None)
                if conditions:
                    self.known.reasons[number] = messages.NOT_BEYOND
        self._no_end = why

    def _too_large(self, states: Fixpoint, rule: Rule) -> str | None:
        """Return why it is not known that what a rule measures stays small enough, None if it does or none is measured."""
        kind = KINDS[rule.name]
        if kind.measure is None:
            return None
        size = largest(states, kind.measure)
        if size is not None and size <= (rule.limit or 0):
            return None
        return (
            messages.NO_LIMIT if size is None else messages.MAY_GROW.format(size=limit_words(structs.replace(rule, limit=size)))
        )

    def _suspects(self, states: Fixpoint) -> dict[int, Candidate]:
        """Return for each rule that a step seems to break the first one that does."""
        found: dict[int, Candidate] = {}
        for leaf in states.suspects:
            for suspect in leaf.candidates:
                found.setdefault(suspect.rule, suspect)
        return found


def _content(rules: tuple[Rule, ...]) -> Any:
    return bare(msgspec.to_builtins(rules))


def _step(action: Action) -> str:
    return messages.TIME if isinstance(action, Elapse | Stay) else event_phrase(action)
