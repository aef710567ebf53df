"""All walks of a plan run and all its rules decided, on one phone, with one of its named givens or none."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.walks.coverage import CoverageItem, coverage

if TYPE_CHECKING:
    from wise_ladder.plan import Plan
    from wise_ladder.rules.verdicts import Verdict
    from wise_ladder.walks.explored import Explored
    from wise_ladder.walks.running import WalkRun


class CheckResult(NamedTuple):
    """A plan, what came of its walks, and the seconds each took; `parts` where it was asked what they use."""

    path: str
    plan: Plan
    where: str
    """Which of several phones and named givens it was, nothing if only one was checked."""
    results: tuple[WalkRun, ...]
    seconds: tuple[float, ...]
    parts: list[CoverageItem] | None = None
    verdicts: tuple[Verdict, ...] = ()
    """The verdicts of the rules; empty if they were not checked."""
    explored: Explored | None = None
    """What came of the tool's own ways through the running app."""

    @property
    def failed(self) -> bool:
        """Whether a walk fails, a rule is broken, or the running app goes another way."""
        walks = any(result.failed is not None for result in self.results)
        differs = self.explored is not None and self.explored.found is not None
        return walks or differs or any(each.status == "broken" for each in self.verdicts)


def check_plan(path: str, plan: Plan, where: str, walks: list[tuple[WalkRun, float]], *, covers: bool) -> CheckResult:
    """Put together what came of the walks of a plan."""
    results, seconds = (tuple(column) for column in zip(*walks, strict=True)) if walks else ((), ())
    return CheckResult(path, plan, where, results, seconds, coverage(plan, results) if covers else None)
