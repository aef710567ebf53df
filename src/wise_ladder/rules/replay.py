"""From the choices of a sweep to a run with real times: when each step is done, so that all falls due as the sweep said."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.plan.events import Reply, Wait
from wise_ladder.rules.actions import Elapse, Stay
from wise_ladder.rules.in_flight import SEEN_SINCE
from wise_ladder.walks.tape import Tape

if TYPE_CHECKING:
    from wise_ladder.plan import Event, Plan
    from wise_ladder.rules.actions import Action
    from wise_ladder.rules.successors import Successor
    from wise_ladder.semantics.state import State


class PathStep(NamedTuple):
    """One choice of a path: the state as far as it was known, the choice, and what came of it."""

    before: State
    action: Action
    successor: Successor


class Infeasible(Exception):  # noqa: N818 - no mistake of anybody's
    """No real times allow the steps of a path in this order."""


def schedule(plan: Plan, path: list[PathStep], flash: int = 0) -> list[int]:
    """Return the earliest moment of each step, in milliseconds from the first; raises Infeasible if there are none.

    `flash`: what was seen before the last step was seen for less than so long.

    Each pending thing gives differences that may not be exceeded; they are met by relaxing them one after the other (Bellman
    1958).
    """
    differences: list[tuple[int, int, int]] = []
    """Two steps and a number of ms: the first step is at least that much later than the second."""
    began: list[int] = []
    for number, (before, choice, done) in enumerate(path, 1):
        differences.append((number, number - 1, 0))
        timers = before.deadlines
        for place, timer in enumerate(timers):
            if place in done.fired:
                differences += [(number, began[place], timer.after), (began[place], number, -timer.after)]
            else:
                rests = done.old_indices.count(place) > 0 or not isinstance(choice, Elapse)
                latest = timer.after - 1 if rests and timer.after else timer.after
                differences.append((began[place], number, -latest))
        if isinstance(choice, Reply):
            which = next(place for place, call in enumerate(before.calls) if call.name == choice.call)
            outcome = plan.call[choice.call].outcome(choice.outcome)
            differences.append((number, began[len(timers) + which], outcome.takes if outcome is not None else 0))
        if flash and number == len(path):
            seen = next((place for place, call in enumerate(before.calls) if call.name == SEEN_SINCE), None)
            if seen is not None:
                differences.append((began[len(timers) + seen], number, 1 - flash))
        began = [number if place < 0 else began[place] for place in done.old_indices]
    times = [0] * (len(path) + 1)
    for _ in range(len(path) + 2):
        late = [(first, times[second] + least) for first, second, least in differences if times[first] < times[second] + least]
        if not late:
            return times[1:]
        for first, moment in late:
            times[first] = max(times[first], moment)
    raise Infeasible


def replay(plan: Plan, first: State, path: list[PathStep], flash: int = 0) -> Tape:
    """Run a path by `step` with real waits.

    Raises Infeasible if there are no such times, or `step` does something else.
    """
    tape, clock = Tape(plan, first), 0
    for moment, taken in zip(schedule(plan, path, flash), path, strict=True):
        event: Event | None = None if isinstance(taken.action, Elapse | Stay) else taken.action
        waits = moment - clock
        if waits and isinstance(event, Reply) and _comes_then(tape, event, moment):
            waits = 0
        for done in (*((Wait(waits),) if waits or event is None else ()), *((event,) if event is not None else ())):
            tape, came = tape.with_event(done)
            if came.refused is not None and not taken.successor.refused:
                raise Infeasible
        clock = moment
    return tape


def _comes_then(tape: Tape, reply: Reply, moment: int) -> bool:
    """Whether a reply moves the clock to its moment by itself."""
    state = tape.state_at(len(tape.entries))
    call = next((call for call in state.calls if call.name == reply.call), None)
    outcome = tape.plan.call[reply.call].outcome(reply.outcome)
    return call is not None and outcome is not None and call.started + outcome.takes == moment
