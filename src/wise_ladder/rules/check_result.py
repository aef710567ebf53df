"""All walks of a plan run and all its rules decided, on one phone."""

from __future__ import annotations

import time
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.walks.coverage import CoverageItem, coverage
from wise_ladder.walks.running import WalkRun, run_walk

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan import Plan, Walk
    from wise_ladder.rules.verdicts import Verdict


class CheckResult(NamedTuple):
    """A plan, what came of its walks, and the seconds each took; `parts` where it was asked what they use."""

    path: str
    plan: Plan
    phone: str
    results: tuple[WalkRun, ...]
    seconds: tuple[float, ...]
    parts: list[CoverageItem] | None = None
    verdicts: tuple[Verdict, ...] = ()
    """Of the rules, where they were decided."""

    @property
    def failed(self) -> bool:
        """Whether a walk fails or a rule is broken."""
        return any(not result.passed for result in self.results) or any(each.status == "broken" for each in self.verdicts)


def run_timed(plan: Plan, walks: tuple[Walk, ...]) -> Iterator[tuple[WalkRun, float]]:
    """Run walks one after the other, each with its seconds."""
    for walk in walks:
        began = time.perf_counter()
        result = run_walk(plan, walk)
        yield result, time.perf_counter() - began


def check_plan(path: str, plan: Plan, phone: str, found: list[tuple[WalkRun, float]], *, covers: bool) -> CheckResult:
    """Put together what came of the walks of a plan."""
    results, seconds = (tuple(column) for column in zip(*found, strict=True)) if found else ((), ())
    return CheckResult(path, plan, phone, results, seconds, coverage(plan, results) if covers else None)
