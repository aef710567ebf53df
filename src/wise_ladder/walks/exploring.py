"""How a move can be come by: in the walks of a plan, and by trying everything from the start, the shortest way first."""

from __future__ import annotations

from collections import deque
from typing import TYPE_CHECKING, NamedTuple, TypeAlias

from wise_ladder.ladder import first_state, step
from wise_ladder.ladder.happenings import Asked, Blocked, DidInstead, Redirected
from wise_ladder.ladder.offers import user_events
from wise_ladder.ladder.serials import without_time
from wise_ladder.ladder.state import depth
from wise_ladder.plan.crossings import ANYWHERE
from wise_ladder.plan.model import Guard, Move, Redirect
from wise_ladder.walks.running import run_walk
from wise_ladder.walks.tape import Tape

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable, Iterator

    from wise_ladder.ladder import State
    from wise_ladder.ladder.happenings import Happening
    from wise_ladder.plan import Plan
    from wise_ladder.plan.events import Event

Met: TypeAlias = Move | Guard | tuple[Redirect, str]
"""What takes part in a step: a redirect together with the screen it turned away, or `anywhere` where it is for all."""

MOST_STATES = 1_500
MOST_RUNGS = 48


class Explored(NamedTuple):
    """What was found: for each move, guard and redirect the events that lead there.

    `whole`: no state was left that taps, Backs, answers, replies and time lead to; links, the phone and changes from outside
    are not tried.
    """

    paths: dict[Met, tuple[Event, ...]]
    states: int
    whole: bool


class Walked(NamedTuple):
    """In how many walks each move, guard and redirect takes part, and the shortest tape of a walk up to there."""

    counts: dict[Met, int]
    tapes: dict[Met, Tape]


def walked(plan: Plan) -> Walked:
    """Run every walk, and note what takes part in it."""
    found = Walked({}, {})
    for walk in plan.walks:
        result = run_walk(plan, walk)
        tape = Tape.of(plan, result)
        met: set[Met] = set()
        for place, entry in enumerate(tape.entries, 1):
            for thing in things_met(plan, entry.step.taken, entry.step.happened):
                met.add(thing)
                if thing not in found.tapes or len(found.tapes[thing].entries) > place:
                    found.tapes[thing] = tape.until(place)
        for thing in met:
            found.counts[thing] = found.counts.get(thing, 0) + 1
    return found


def explore(plan: Plan, *, most: int = MOST_STATES, goes_on: Callable[[], bool] = lambda: True) -> Explored:
    """Try what `user_events` lists, breadth first, in at most so many states; `goes_on` is asked now and then.

    Where a ladder grows without end, it is left at `MOST_RUNGS`: what is new on it comes sooner, and long ladders are slow.

    The first way to each move is a shortest one (breadth-first search; Moore 1959).
    """
    first = first_state(plan)
    came: dict[State, tuple[State, Event] | None] = {without_time(first): None}
    waiting, whole = deque([first]), True
    paths: dict[Met, tuple[Event, ...]] = {}
    while waiting and len(came) < most and goes_on():
        state = waiting.popleft()
        for event in user_events(plan, state):
            done = step(plan, state, event)
            if done.refused is not None:
                continue
            for thing in things_met(plan, done.taken, done.happened):
                if thing not in paths:
                    paths[thing] = (*_path(came, without_time(state)), event)
            if depth(done.state) > MOST_RUNGS:
                whole = False
                continue
            after = without_time(done.state)
            if after not in came:
                came[after] = (without_time(state), event)
                waiting.append(done.state)
    return Explored(paths, len(came), whole and not waiting)


def _path(came: dict[State, tuple[State, Event] | None], state: State) -> list[Event]:
    found: list[Event] = []
    while (before := came[state]) is not None:
        state, event = before
        found.append(event)
    return found[::-1]


def things_met(plan: Plan, taken: Iterable[Move], happened: Iterable[Happening]) -> Iterator[Met]:
    """Go through the moves a step took, the guards that stood in its way, and the redirects that sent it on."""
    yield from taken
    for happening in happened:
        match happening:
            case Asked(name) | Blocked(name) | DidInstead(name):
                yield from (guard for guard in plan.guard.values() if guard.name == name)
            case Redirected(wanted, to):
                names = plan.opens_on(wanted)
                for redirect in plan.redirects:
                    for_it = [name for name in names if redirect.is_for(name)]
                    if redirect.target.screen == to and for_it:
                        yield redirect, for_it[0] if redirect.only else ANYWHERE
            case _:
                pass
