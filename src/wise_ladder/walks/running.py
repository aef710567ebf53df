"""Running the walks of a plan."""

from __future__ import annotations

import time
from itertools import takewhile
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.plan.events import Event, Repeat, StartFrom, WalkStep
from wise_ladder.semantics import initial_state, step
from wise_ladder.semantics.serials import used_serials
from wise_ladder.semantics.state import visible_screens
from wise_ladder.walks.expectations import Mismatch, Observations, check_expectation

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan import Plan, Walk
    from wise_ladder.semantics import State, Step


class LineRun(NamedTuple):
    """One line of a walk as it went: the state after it, what was done, and why it does not hold if it does not."""

    line: WalkStep
    state: State
    step: Step | None
    unmet: Mismatch | None


class AppRun(NamedTuple):
    """How a walk went on a running app: how many of its lines could be compared, and of how many.

    `not_comparable`: why it could not be run there at all; `beside`: where plan and app differ, the ladders of both, drawn.
    """

    compared: int
    lines: int
    not_comparable: str = ""
    beside: tuple[str, ...] = ()


class WalkRun(NamedTuple):
    """How a walk went: every line played, the place of the first that failed, and of the step that caused it.

    `app`: how it went on a running app, if it was run on one; then it fails where that differs from the plan.
    """

    walk: Walk
    first: State
    played: tuple[LineRun, ...]
    failed: int | None
    cause: int | None
    app: AppRun | None = None

    @property
    def passed(self) -> bool:
        """Whether everything expected was there."""
        return self.failed is None and not self.not_comparable

    @property
    def not_comparable(self) -> str:
        """Why it could not be run on the app, nothing if it was, or was not to be."""
        return self.app.not_comparable if self.app is not None else ""


def run_walk(plan: Plan, walk: Walk) -> WalkRun:
    """Run a walk to its end, also past the first line that fails, so that it shows where it ends."""
    plan = plan.for_walk(walk)
    first = state = initial_state(plan, walk.given, plan.coming(walk.replies))
    played: list[LineRun] = []
    met = Observations()
    failed: int | None = None
    for line in expand_repeats(walk.steps):
        done, problem = None, None
        if isinstance(line.what, Event):
            done = step(plan, state, line.what)
            state = done.state
            problem = Mismatch(done.refused) if done.refused is not None else None
            met.note(plan, done)
        elif isinstance(line.what, StartFrom):
            met = Observations()
        elif failed is None:
            problem = check_expectation(plan, state, line.what, met)
        if problem is not None and failed is None:
            failed = len(played)
        played.append(LineRun(line, state, done, problem))
    culprit = _culprit(played, failed) if failed is not None else None
    return WalkRun(walk, first, tuple(played), failed, culprit)


def expand_repeats(steps: tuple[WalkStep | Repeat, ...]) -> Iterator[WalkStep]:
    """Go through the lines of a walk, what is repeated as often as it is."""
    for line in steps:
        if isinstance(line, Repeat):
            for _ in range(line.times):
                yield from expand_repeats(line.steps)
        else:
            yield line


def _culprit(played: list[LineRun], failed: int) -> int | None:
    """Find the step that caused the failure: it put the lowest rung that is wrong, or took the one that is missing."""
    problem = played[failed].unmet
    acts = [place for place in range(failed) if played[place].step is not None]
    if problem is None or not acts:
        return None
    if problem.place is None:
        return acts[-1]
    rungs = list(visible_screens(played[failed].state.ladder))
    if problem.place < len(rungs):
        serial = rungs[problem.place].serial
        holding = takewhile(lambda place: serial in used_serials(played[place].state), reversed(acts))
        return min(holding, default=acts[-1])
    was_there = [place for place in acts if len(list(visible_screens(played[place].state.ladder))) > problem.place]
    return next((place for place in acts if place > was_there[-1]), acts[-1]) if was_there else acts[-1]


def run_timed(plan: Plan, walks: tuple[Walk, ...]) -> Iterator[tuple[WalkRun, float]]:
    """Run walks one after the other, each with its seconds."""
    for walk in walks:
        began = time.perf_counter()
        result = run_walk(plan, walk)
        yield result, time.perf_counter() - began
