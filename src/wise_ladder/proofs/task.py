"""What is to be proved, and what came of it."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, NamedTuple

if TYPE_CHECKING:
    from wise_ladder.plan import Plan
    from wise_ladder.plan.rule import Rule
    from wise_ladder.proofs.fixpoint import Fixpoint
    from wise_ladder.rules.verdicts import Counterexample, Proof, Verdict


class ProofTask(NamedTuple):
    """Rules of a plan that are to be proved in so many seconds, but for the `broken` ones, by their numbers."""

    plan: Plan
    rules: tuple[Rule, ...]
    seconds: float
    broken: frozenset[int] = frozenset()


class Proved(NamedTuple):
    """What came of trying to prove the rules of a plan: by the number of each rule its proof, or why there is none.

    A rule may have both: then it is proved as long as others hold, and `reasons` says why no more is.
    """

    proofs: dict[int, Proof]
    reasons: dict[int, str]
    found: dict[int, Counterexample]
    """The rules that turned out to be broken, each by a run."""
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
                run = self.found[number]
                # The sweep has tried all that can happen in fewer steps.
                shortest = run.shortest or (not verdict.caveat and run.steps <= verdict.extent.depth + 1)
                found.append(verdict._replace(counterexamples=(run._replace(shortest=shortest),)))
            else:
                found.append(verdict._replace(proof=self.proofs.get(number), not_proved=self.reasons.get(number, "")))
        return tuple(found)
