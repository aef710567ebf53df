"""Running the walks of a plan."""

from __future__ import annotations

from itertools import takewhile
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.ladder import first_state, step
from wise_ladder.ladder.serials import serials_in
from wise_ladder.ladder.state import screens_beneath
from wise_ladder.plan.events import Event, Repeat, StartFrom, WalkStep
from wise_ladder.walks.expecting import Met, Unmet, unmet

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.ladder import State, Step
    from wise_ladder.plan import Plan, Walk


class Played(NamedTuple):
    """One line of a walk as it went: the state after it, what was done, and why it does not hold where it does not."""

    line: WalkStep
    state: State
    done: Step | None
    unmet: Unmet | None


class Result(NamedTuple):
    """How a walk went: every line played, the place of the first that failed, and of the step that made the difference."""

    walk: Walk
    first: State
    played: tuple[Played, ...]
    failed: int | None
    culprit: int | None

    @property
    def passed(self) -> bool:
        """Whether everything expected was there."""
        return self.failed is None


def run_walk(plan: Plan, walk: Walk) -> Result:
    """Run a walk to its end, also past the first line that fails, so that it shows where it ends."""
    if walk.phone:
        plan = plan.on_phone(walk.phone)
    first = state = first_state(plan, walk.given, walk.replies)
    played: list[Played] = []
    met = Met()
    failed: int | None = None
    for line in flat(walk.steps):
        done, problem = None, None
        if isinstance(line.what, Event):
            done = step(plan, state, line.what)
            state = done.state
            problem = Unmet(done.refused) if done.refused is not None else None
            met.note(plan, done)
        elif isinstance(line.what, StartFrom):
            met = Met()
        elif failed is None:
            problem = unmet(plan, state, line.what, met)
        if problem is not None and failed is None:
            failed = len(played)
        played.append(Played(line, state, done, problem))
    culprit = _culprit(played, failed) if failed is not None else None
    return Result(walk, first, tuple(played), failed, culprit)


def flat(steps: tuple[WalkStep | Repeat, ...]) -> Iterator[WalkStep]:
    """Go through the lines of a walk, what is repeated as often as it is."""
    for line in steps:
        if isinstance(line, Repeat):
            for _ in range(line.times):
                yield from flat(line.steps)
        else:
            yield line


def _culprit(played: list[Played], failed: int) -> int | None:
    """Find the step that made the difference: it put the lowest rung that is wrong, or took the one that is missing."""
    problem = played[failed].unmet
    acts = [place for place in range(failed) if played[place].done is not None]
    if problem is None or not acts:
        return None
    if problem.place is None:
        return acts[-1]
    rungs = list(screens_beneath(played[failed].state.ladder))
    if problem.place < len(rungs):
        serial = rungs[problem.place].serial
        there = takewhile(lambda place: serial in serials_in(played[place].state), reversed(acts))
        return min(there, default=acts[-1])
    was_there = [place for place in acts if len(list(screens_beneath(played[place].state.ladder))) > problem.place]
    return next((place for place in acts if place > was_there[-1]), acts[-1]) if was_there else acts[-1]
