"""Which rules hold at every depth: those that nothing seems to break in any abstract state.

Every state that a plan can reach lies in an abstract one (`fixpoint.py`), and each step between these was judged by all rules,
as the sweep judges it. So a rule that no step seems to break holds at every depth. A step that seems to break it may be there
only because states were taken together: then nothing is said but that.
"""

from __future__ import annotations

import time
from collections import Counter
from random import Random
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.plan.operations import SetFact, all_of
from wise_ladder.plan.steps import event_phrase
from wise_ladder.proofs import messages
from wise_ladder.proofs.fixpoint import Fixpoint, TooDeepError
from wise_ladder.proofs.slicing import sliced
from wise_ladder.rules.abstraction import BESIDES_FACTS
from wise_ladder.rules.actions import Elapse, Stay
from wise_ladder.rules.graph import StateGraph
from wise_ladder.rules.predicates import KINDS
from wise_ladder.rules.rule_checker import RuleChecker
from wise_ladder.rules.sweep import successors_for
from wise_ladder.rules.verdicts import Proof
from wise_ladder.semantics.conditions import facts_of

if TYPE_CHECKING:
    from collections.abc import Callable, Collection

    from wise_ladder.plan import Plan
    from wise_ladder.plan.rule import Rule
    from wise_ladder.proofs.fixpoint import ExactRows
    from wise_ladder.rules.actions import Action
    from wise_ladder.rules.decision_tree import Candidate
    from wise_ladder.rules.verdicts import Verdict
    from wise_ladder.semantics.state import State

AUDIT_STEPS = 60
"""So long is a random way."""
MANY = 3
"""Facts that at least so many moves set are kept exactly first: otherwise each state soon has all their values."""
FIRST_ROUND, FIRST_AT_MOST = 0.2, 5.0
"""The part of the time that the first round gets, and so many seconds at most: it ends soon, or not at all."""


class Proved(NamedTuple):
    """What came of trying to prove the rules of a plan: by the number of each rule its proof, or why there is none."""

    proofs: dict[int, Proof]
    reasons: dict[int, str]
    wholes: list[Fixpoint]
    """All states taken together, once for each round."""

    def added(self, verdicts: tuple[Verdict, ...]) -> tuple[Verdict, ...]:
        """Return the verdicts of a sweep over the same rules, each with what was proved."""
        found: list[Verdict] = []
        for number, verdict in enumerate(verdicts):
            proof = self.proofs.get(number)
            if verdict.status != "broken" and not verdict.extent.whole:
                why = self.reasons.get(number, "") if proof is None else ""
                found.append(verdict._replace(proof=proof, not_proved=why))
            else:
                found.append(verdict)
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
    """Try to prove rules for so many seconds; `broken`: the numbers of those that need none; `goes_on` is asked now and then.

    First little is kept exactly, then more: what was taken together too coarsely may be told apart then.
    """
    until = time.perf_counter() + seconds
    measured = (number for number, rule in enumerate(rules) if KINDS[rule.name].measure is not None)
    known = Proved({}, dict.fromkeys(measured, messages.MEASURED), [])
    wanted = [number for number, rule in enumerate(rules) if KINDS[rule.name].predicate is not None and number not in broken]
    gates, everything = dict.fromkeys([_gates(plan, MANY), _gates(plan)]), tuple(range(len(plan.facts) + BESIDES_FACTS))
    exactly = _Round(everything, "all", timeless=False)
    little, *more = [_Round(facts, "seen", timeless=True) for facts in gates]
    timeless = little._replace(rows="none"), little, *more, exactly
    with_times = *(each._replace(timeless=False) for each in (little, *more)), exactly
    for tracked in (("", "dead taps"), ("screens that go",), ("remaking",), ("flashes",)):
        # Some rules need more told apart. They are proved on their own, so that the others have fewer states.
        some = {number: rules[number] for number in wanted if KINDS[rules[number].name].tracks in tracked}
        if some:
            _prove_some(plan, some, with_times if tracked == ("flashes",) else timeless, until, goes_on, known)
    return known


def _prove_some(
    plan: Plan,
    rules: dict[int, Rule],
    rounds: tuple[_Round, ...],
    until: float,
    goes_on: Callable[[], bool],
    known: Proved,
) -> None:
    """Try to prove some rules, round by round; the decisions of one are those of the next."""
    thin = sliced(plan, tuple(rules.values()))
    judging = RuleChecker(thin, tuple(rules.values()), lambda _: (), states_apart=True)
    graph = StateGraph(successors_for(thin, judging.rules), judging.judge)
    numbers = tuple(rules)
    for place, (exact, rows, timeless) in enumerate(rounds):
        left = until - time.perf_counter()
        if left > 0 and goes_on() and not known.proofs.keys() >= rules.keys():
            states = Fixpoint(graph, exact, rows, timeless=timeless)
            known.wholes.append(states)
            why = _run(states, left if place else min(left * FIRST_ROUND, FIRST_AT_MOST), goes_on)
            _note(states, judging, numbers, why, known)


def _run(states: Fixpoint, seconds: float, goes_on: Callable[[], bool]) -> str:
    """Take all states together; return why that could not be done."""
    try:
        states.run(seconds, goes_on)
    except TooDeepError as error:
        return messages.TOO_DEEP.format(step=_step(error.action))
    return "" if states.done else messages.NO_END.format(states=len(states.states))


def _note(states: Fixpoint, judging: RuleChecker, numbers: tuple[int, ...], why: str, known: Proved) -> None:
    """Note which rules the abstract states prove, or why they do not."""
    suspects: dict[int, Candidate] = {}
    for leaf in states.leaves:
        for suspect in leaf.candidates:
            suspects.setdefault(suspect.rule, suspect)
    for place, number in enumerate(numbers):
        if number in known.proofs:
            continue
        if why:
            # What was told apart too little says more than what had no end.
            known.reasons.setdefault(number, why)
        elif place in suspects:
            words, action = suspects[place].guilt.words, suspects[place].found.action
            reason = messages.STATE_NOT_TOLD_APART if isinstance(action, Stay) else messages.NOT_TOLD_APART
            known.reasons[number] = reason.format(step=_step(action), words=words)
        elif place in judging.unsure:
            known.reasons[number] = messages.TOO_MUCH
        else:
            known.proofs[number] = Proof(len(states.states), states.seconds)
            known.reasons.pop(number, None)


def _gates(plan: Plan, writers: int = 0) -> tuple[int, ...]:
    """Return the places of the facts that redirects ask for; `writers`: only those that at least so many moves set."""
    read = set[str]()
    for gate in plan.redirects:
        read |= facts_of(gate.condition)
    sets = Counter(done.name for move in plan.moves for done in all_of(move.operations) if isinstance(done, SetFact))
    return tuple(place for place, fact in enumerate(plan.facts) if fact.name in read and sets[fact.name] >= writers)


def _step(action: Action) -> str:
    return messages.TIME if isinstance(action, Elapse | Stay) else event_phrase(action)


def audit(proved: Proved, seconds: float, seed: int) -> tuple[int, State | None]:
    """Go random ways for so many seconds and look up each state; return how many, and one that no abstract state has.

    The proofs rest on there being none. Where no round came to its end, nothing is looked up.
    """
    random, looked = Random(seed), 0  # noqa: S311 - nothing secret
    finished = [whole for whole in proved.wholes if whole.done]
    for whole in finished:
        until = time.perf_counter() + seconds / len(finished)
        while time.perf_counter() < until:
            at = whole.graph.first
            for _ in range(AUDIT_STEPS):
                after = [state for _, state in whole.graph.edges(at)]
                if not after:
                    break
                at = random.choice(after)
                looked += 1
                if not whole.holds(at):
                    return looked, whole.graph.state(at)
    return looked, None
