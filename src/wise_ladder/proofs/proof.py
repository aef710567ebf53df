"""Which rules hold at every depth: those that nothing seems to break in any abstract state.

Every state that a plan can reach lies in an abstract one (`fixpoint.py`), and each step between these was judged by all rules,
as the sweep judges it. So a rule that no step seems to break holds at every depth. A step that seems to break it may be there
only because states were taken together. Then a run is searched for that does, and if there is none nothing is said but that.
"""

from __future__ import annotations

import time
from collections import Counter
from random import Random
from typing import TYPE_CHECKING

from wise_ladder.plan.operations import SetFact, all_of
from wise_ladder.proofs.attempt import MOST_MEMORY, Attempt, Met, Round
from wise_ladder.proofs.task import ProofTask, Proved
from wise_ladder.rules.abstraction import BESIDES_FACTS
from wise_ladder.rules.memory import resident_memory
from wise_ladder.rules.predicates import KINDS
from wise_ladder.semantics.conditions import facts_of

if TYPE_CHECKING:
    from collections.abc import Callable, Collection

    from wise_ladder.plan import Plan
    from wise_ladder.plan.rule import Rule
    from wise_ladder.semantics.state import State

AUDIT_STEPS = 60
"""So long is a random way."""
MANY = 3
"""Facts that at least so many moves set are kept exactly first: otherwise each state soon has all their values."""
_GROUPS = ("", "dead taps"), ("screens that go",), ("remaking",), ("flashes",)
"""The rules that are proved together, by what must be told apart for them."""
WITH_TIMES = _GROUPS[-1]


def prove(plan: Plan, rules: tuple[Rule, ...], seconds: float, *, broken: Collection[int] = ()) -> Proved:
    """Try to prove rules of a plan once, as `Prover` does."""
    return Prover().prove(ProofTask(plan, rules, seconds, frozenset(broken)))


class Prover:
    """Proves the rules of a plan again and again while it is edited: of the last attempt as much is used as is still true."""

    def __init__(self) -> None:
        """Begin with nothing."""
        self._last: dict[tuple[str, ...], Met] = {}

    def prove(
        self, task: ProofTask, goes_on: Callable[[], bool] = lambda: True, show: Callable[[Proved], None] = lambda _: None
    ) -> Proved:
        """Try to prove rules; `goes_on` is asked now and then, `show` is called with what is known so far.

        First little is kept exactly, then more: what was taken together too coarsely may be told apart then. Steps since which
        a rule is broken are held back at first, so that what comes after them does not hide what holds before.
        """

        def has_room() -> bool:
            return goes_on() and resident_memory() < MOST_MEMORY

        until = time.perf_counter() + task.seconds
        known = Proved({}, {}, {}, {}, [])
        attempts: list[Attempt] = []
        for tracked in _GROUPS:
            # Some rules need more told apart. They are proved on their own, so that the others have fewer states.
            kinds = ((number, KINDS[rule.name]) for number, rule in enumerate(task.rules))
            group = [number for number, kind in kinds if not kind.of_the_plan and kind.tracks in tracked]
            if task.broken.issuperset(group):
                continue
            attempt = Attempt(task, group, known)
            attempts.append(attempt)
            attempt.go_on_from(self._last.pop(tracked, None), until, has_room)
            attempt.go(_rounds(task.plan, timeless=tracked != WITH_TIMES), until, has_room)
            if attempt.met is not None:
                self._last[tracked] = attempt.met
            show(known)
        for attempt in attempts:
            attempt.release(until, has_room)
        return known


def _rounds(plan: Plan, *, timeless: bool) -> tuple[Round, ...]:
    """Return the rounds of an attempt, each with more kept exactly than the one before."""
    gates, everything = dict.fromkeys([_gates(plan, MANY), _gates(plan)]), tuple(range(len(plan.facts) + BESIDES_FACTS))
    some = [Round(facts, "seen", timeless=timeless) for facts in gates]
    coarse = [some[0]._replace(rows="none")] if timeless else []
    return *coarse, *some, Round(everything, "all", timeless=False)


def _gates(plan: Plan, writers: int = 0) -> tuple[int, ...]:
    """Return the places of the facts that redirects ask for; `writers`: only those that at least so many moves set."""
    read = set[str]()
    for gate in plan.redirects:
        read |= facts_of(gate.condition)
    sets = Counter(done.name for move in plan.moves for done in all_of(move.operations) if isinstance(done, SetFact))
    return tuple(place for place, fact in enumerate(plan.facts) if fact.name in read and sets[fact.name] >= writers)


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
