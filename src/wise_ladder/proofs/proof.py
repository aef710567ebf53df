"""Which rules hold at every depth: those that nothing seems to break in any abstract state.

Every state that a plan can reach lies in an abstract one (`fixpoint.py`), and each step between these was judged by all rules,
as the sweep judges it. So a rule that no step seems to break holds at every depth. A step that seems to break it may be there
only because states were taken together: then nothing is said but that.
"""

from __future__ import annotations

import time
from collections import Counter
from dataclasses import replace
from functools import partial
from random import Random
from typing import TYPE_CHECKING, Any, NamedTuple

import msgspec
from msgspec import structs

from wise_ladder.plan.events import OutsideChange
from wise_ladder.plan.operations import SetFact, all_of
from wise_ladder.plan.steps import event_phrase
from wise_ladder.proofs import messages
from wise_ladder.proofs.changed_moves import bare, changed_moves
from wise_ladder.proofs.directed_search import shortest_break
from wise_ladder.proofs.fixpoint import Fixpoint, TooDeepError
from wise_ladder.proofs.sizes import largest
from wise_ladder.proofs.slicing import left_out, sliced
from wise_ladder.rules.abstraction import BESIDES_FACTS
from wise_ladder.rules.actions import Elapse, Stay
from wise_ladder.rules.graph import StateGraph
from wise_ladder.rules.memory import resident_memory
from wise_ladder.rules.predicates import KINDS
from wise_ladder.rules.rule_checker import RuleChecker
from wise_ladder.rules.sweep import successors_for
from wise_ladder.rules.titles import limit_words, short_names
from wise_ladder.rules.verdicts import Proof
from wise_ladder.rules.violations import run_that_breaks
from wise_ladder.semantics.conditions import facts_of
from wise_ladder.semantics.state import initial_state

if TYPE_CHECKING:
    from collections.abc import Callable, Collection

    from wise_ladder.plan import Plan
    from wise_ladder.plan.rule import Rule
    from wise_ladder.proofs.fixpoint import ExactRows
    from wise_ladder.rules.actions import Action
    from wise_ladder.rules.decision_tree import Candidate
    from wise_ladder.rules.replay import PathStep
    from wise_ladder.rules.verdicts import Counterexample, Verdict
    from wise_ladder.semantics.state import State

MOST_MEMORY = 2_000_000_000
"""In bytes: with more than this no proof goes on."""
AUDIT_STEPS = 60
"""So long is a random way."""
MANY = 3
"""Facts that at least so many moves set are kept exactly first: otherwise each state soon has all their values."""
MORE_BEYOND = 4
"""Beyond the steps that break a rule there may be so many times as much as before them."""
_GROUPS = ("", "dead taps"), ("screens that go",), ("remaking",), ("flashes",)
"""The rules that are proved together, by what must be told apart for them."""
WITH_TIMES = _GROUPS[-1]
SEARCHED, SEARCHED_AT_MOST = 0.05, 3.0
"""The part of the time for the search for one run, and so many seconds at most."""
FIRST_ROUND, FIRST_AT_MOST = 0.2, 5.0
"""The part of the time that the first round gets, and so many seconds at most: it ends soon, or not at all."""


class Proved(NamedTuple):
    """What came of trying to prove the rules of a plan: by the number of each rule its proof, or why there is none.

    A rule may have both: then it is proved as long as others hold, and `reasons` says why no more is.
    """

    proofs: dict[int, Proof]
    reasons: dict[int, str]
    found: dict[int, Counterexample]
    """The rules that turned out to be broken, each by a shortest run."""
    tried: dict[int, float]
    """For how many seconds each rule was tried."""
    wholes: list[Fixpoint]
    """All states taken together, once for each round that came to an end."""

    def on(self, plan: Plan) -> Proved:
        """Return the same of this plan, where it came from an equal one."""
        runs = {number: run._replace(tape=replace(run.tape, plan=plan)) for number, run in self.found.items()}
        return self._replace(found=runs)

    def added(self, verdicts: tuple[Verdict, ...]) -> tuple[Verdict, ...]:
        """Return the verdicts of a sweep over the same rules, each with what was proved."""
        found: list[Verdict] = []
        for number, verdict in enumerate(verdicts):
            if verdict.status == "broken" or verdict.extent.whole:
                found.append(verdict)
            elif number in self.found:
                found.append(verdict._replace(counterexamples=(self.found[number],)))
            else:
                found.append(verdict._replace(proof=self.proofs.get(number), not_proved=self.reasons.get(number, "")))
        return tuple(found)


class _Round(NamedTuple):
    """How much is kept exactly in one attempt."""

    exact: tuple[int, ...]
    rows: ExactRows
    timeless: bool


def prove(
    plan: Plan,
    rules: tuple[Rule, ...],
    seconds: float,
    *,
    broken: Collection[int] = (),
    goes_on: Callable[[], bool] = lambda: True,
) -> Proved:
    """Try to prove rules once, as `Prover.prove` does."""
    return Prover().prove(plan, rules, seconds, broken=broken, goes_on=goes_on)


class Prover:
    """Proves the rules of a plan again and again while it is edited: of the last attempt as much is used as is still true."""

    def __init__(self) -> None:
        """Begin with nothing."""
        self._last: dict[tuple[str, ...], _Met] = {}

    def prove(
        self,
        plan: Plan,
        rules: tuple[Rule, ...],
        seconds: float,
        *,
        broken: Collection[int] = (),
        goes_on: Callable[[], bool] = lambda: True,
        show: Callable[[Proved], None] = lambda _: None,
    ) -> Proved:
        """Try to prove rules for so many seconds; `broken`: the numbers of those that need none.

        `goes_on` is asked now and then, `show` is called with what is known so far. First little is kept exactly, then more:
        what was taken together too coarsely may be told apart then. Steps since which a rule is broken are held back at first,
        so that what comes after them does not hide what holds before.
        """

        def has_room() -> bool:
            return goes_on() and resident_memory() < MOST_MEMORY

        until = time.perf_counter() + seconds
        known = Proved({}, {}, {}, {}, [])
        attempts: list[_Attempt] = []
        for tracked in _GROUPS:
            # Some rules need more told apart. They are proved on their own, so that the others have fewer states.
            kinds = ((number, KINDS[rule.name]) for number, rule in enumerate(rules))
            group = [number for number, kind in kinds if not kind.of_the_plan and kind.tracks in tracked]
            if set(group) <= set(broken):
                continue
            attempt = _Attempt(plan, rules, group, broken, known)
            attempts.append(attempt)
            attempt.go_on_from(self._last.pop(tracked, None), until, has_room)
            attempt.go(_rounds(plan, timeless=tracked != WITH_TIMES), until, has_room)
            if attempt.met is not None:
                self._last[tracked] = attempt.met
            show(known)
        for attempt in attempts:
            attempt.release(until, has_room)
        return known


def _rounds(plan: Plan, *, timeless: bool) -> tuple[_Round, ...]:
    """Return the rounds of an attempt, each with more kept exactly than the one before."""
    gates, everything = dict.fromkeys([_gates(plan, MANY), _gates(plan)]), tuple(range(len(plan.facts) + BESIDES_FACTS))
    some = [_Round(facts, "seen", timeless=timeless) for facts in gates]
    coarse = [some[0]._replace(rows="none")] if timeless else []
    return *coarse, *some, _Round(everything, "all", timeless=False)


class _Met(NamedTuple):
    """All that an attempt has met, when it came to an end: the states of which plan, and judged by which rules."""

    states: Fixpoint
    thin: Plan
    rules: tuple[Rule, ...]
    judging: RuleChecker


class _Attempt:
    """The attempt to prove some rules of a plan."""

    def __init__(self, plan: Plan, rules: tuple[Rule, ...], group: list[int], broken: Collection[int], known: Proved) -> None:
        """Take the numbers of the rules that belong together; what comes of it is noted in `known`."""
        self._plan = plan
        self.wanted, self.broken, self.known = [number for number in group if number not in broken], broken, known
        held = [number for number, rule in enumerate(rules) if KINDS[rule.name].wrong_since_a_step]
        self._numbers = tuple(sorted({*group, *held}))
        self._held = [place for place, number in enumerate(self._numbers) if number in held]
        self._names = short_names(rules)
        self._rules = tuple(rules[number] for number in self._numbers)
        self._thin = sliced(plan, self._rules)
        self._left_out = left_out(plan, self._thin)
        self._judging = self._judge()
        self.met: _Met | None = None
        """What was met when it last came to an end."""

    def _judge(self) -> RuleChecker:
        """Return what judges the steps of one graph."""
        return RuleChecker(self._thin, self._rules, lambda _: (), states_apart=True)

    def go_on_from(self, last: _Met | None, until: float, goes_on: Callable[[], bool]) -> None:
        """Begin with what was met of the plan before, if only moves are other ones since then.

        That may be more than this plan can reach. So what is not proved with it may be proved without it.
        """
        if last is None or not last.states.done or _content(last.rules) != _content(self._rules):
            return
        changed = changed_moves(last.thin, self._thin)
        if changed is not None:
            self._judging.unsure |= last.judging.unsure
            last.states.change_to(self._thin, self._judging.judge, changed)
            self._run(last.states, until - time.perf_counter(), goes_on)
            self._search(until)

    def go(self, rounds: tuple[_Round, ...], until: float, goes_on: Callable[[], bool]) -> None:
        """Go on round by round; the decisions of one are those of the next."""
        began = time.perf_counter()
        self.known.tried.update(dict.fromkeys(self.wanted, max(until - began, 0.0)))
        graph = None
        for place, (exact, rows, timeless) in enumerate(rounds):
            left = until - time.perf_counter()
            if left <= 0 or not goes_on() or self._enough():
                break
            if graph is None:
                self._judging = self._judge()
                graph = StateGraph(successors_for(self._thin, self._rules), self._judging.judge)
            states = Fixpoint(graph, exact, rows, timeless=timeless, held=self._held)
            self._run(states, left if place else min(left * FIRST_ROUND, FIRST_AT_MOST), goes_on)
            if rows != "none":
                self._search(until)
        for number in self.wanted:
            if number not in self.known.proofs and number not in self.known.found:
                self.known.reasons.setdefault(number, messages.NO_TIME)
        if not goes_on():
            self.known.tried.update(dict.fromkeys(self.wanted, time.perf_counter() - began))

    def _enough(self) -> bool:
        """Whether each rule is broken or proved, at least as long as those hold that are broken for certain."""
        apart = self.met is not None and self.met.states.tells_rows_apart
        # What is measured depends on rows, and on nothing that is told apart later.
        measured = [number for number, rule in zip(self._numbers, self._rules, strict=True) if KINDS[rule.name].measure]
        settled = {*self.known.found, *(measured if apart else ())}
        proofs = [self.known.proofs.get(number) for number in self.wanted if number not in settled]
        breaks = {self._names[number] for number in (*self.broken, *self.known.found)}
        return all(proof is not None and breaks.issuperset(proof.as_long_as) for proof in proofs)

    def _search(self, until: float) -> None:
        """Search for runs that break the rules which a step seems to break, if all that is possible was met."""
        if self.met is None or not self.met.states.done:
            return
        for place in self._suspects(self.met.states):
            number, left = self._numbers[place], until - time.perf_counter()
            if number not in self.wanted or number in self.known.found or left <= 0:
                continue
            confirm = partial(self._confirmed, self._rules[place])
            found = shortest_break(self.met.states, place, min(left * SEARCHED, SEARCHED_AT_MOST), confirm)
            if found is not None:
                self.known.found[number] = found
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
            self._search(until)

    def _run(self, states: Fixpoint, seconds: float, goes_on: Callable[[], bool]) -> None:
        """Take all states together, and note what that proves."""
        why = ""
        try:
            states.run(seconds, goes_on)
        except TooDeepError as error:
            why = messages.TOO_DEEP.format(step=_step(error.action))
        if states.done:
            self.met = _Met(states, self._thin, self._rules, self._judging)
            if states not in self.known.wholes:
                self.known.wholes.append(states)
        elif not why:
            ended = messages.NO_END if resident_memory() < MOST_MEMORY else messages.NO_MEMORY
            why = ended.format(states=len(states.states))
        self._note(states, why)

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
                self.known.reasons.setdefault(number, why)
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


def _gates(plan: Plan, writers: int = 0) -> tuple[int, ...]:
    """Return the places of the facts that redirects ask for; `writers`: only those that at least so many moves set."""
    read = set[str]()
    for gate in plan.redirects:
        read |= facts_of(gate.condition)
    sets = Counter(done.name for move in plan.moves for done in all_of(move.operations) if isinstance(done, SetFact))
    return tuple(place for place, fact in enumerate(plan.facts) if fact.name in read and sets[fact.name] >= writers)


def _content(rules: tuple[Rule, ...]) -> Any:
    return bare(msgspec.to_builtins(rules))


def _step(action: Action) -> str:
    return messages.TIME if isinstance(action, Elapse | Stay) else event_phrase(action)


def audit(proved: Proved, seconds: float, seed: int) -> tuple[int, State | None]:
    """Go random ways for so many seconds and look up each state; return how many, and one that no abstract state has.

    The proofs rest on there being none. Where no round came to its end, nothing is looked up.
    """
    random, looked = Random(seed), 0  # noqa: S311 - nothing secret
    finished = [(whole, whole.ended_without) for whole in proved.wholes if whole.ended_without is not None]
    for whole, held in finished:
        until = time.perf_counter() + seconds / len(finished)
        while time.perf_counter() < until:
            at = whole.graph.first
            for _ in range(AUDIT_STEPS):
                after = [state for leaf, state in whole.graph.edges(at) if leaf.breaks(held) is None]
                if not after:
                    break
                at = random.choice(after)
                looked += 1
                if not whole.holds(at):
                    return looked, whole.graph.state(at)
    return looked, None
