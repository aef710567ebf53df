"""How a move can be come by: in the walks of a plan, and by trying everything from the start, the shortest way first."""

from __future__ import annotations

from collections import deque
from typing import TYPE_CHECKING, NamedTuple, TypeAlias

from wise_ladder.plan.crossings import ANYWHERE
from wise_ladder.plan.link_match import match_link
from wise_ladder.plan.model import Guard, Move, Redirect
from wise_ladder.plan.world import Link
from wise_ladder.semantics import Phase, initial_state, step
from wise_ladder.semantics.log import Blocked, GuardActed, Opened, QuestionOpened, Redirected
from wise_ladder.semantics.offers import link_events, user_events
from wise_ladder.semantics.serials import timeless
from wise_ladder.semantics.state import depth, visible_path, visible_top
from wise_ladder.walks.running import run_walk
from wise_ladder.walks.tape import Tape

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable, Iterator

    from wise_ladder.plan import Plan
    from wise_ladder.plan.events import Event
    from wise_ladder.plan.model import PlanPart
    from wise_ladder.semantics import State, Step
    from wise_ladder.semantics.log import LogEntry

UsedPart: TypeAlias = Move | Guard | tuple[Redirect, str] | str
"""What takes part in a step: a redirect together with the screen it turned away, or `anywhere` where it is for all.

A text is the name of a place that is reached: the screen at the top, a flow around it, an overlay that opened.
"""

MAX_STATES = 1_500
MAX_RUNGS = 48


class Exploration(NamedTuple):
    """What was found: for each move, guard and redirect the events that lead there.

    `whole`: no state was left that taps, Backs, answers, replies and time lead to; links, the phone and changes from outside
    are not tried.
    """

    witnesses: dict[UsedPart, tuple[Event, ...]]
    states: int
    exhausted: bool


class WalkUsage(NamedTuple):
    """In how many walks each move, guard and redirect takes part, and the shortest tape of a walk up to there."""

    counts: dict[UsedPart, int]
    witnesses: dict[UsedPart, Tape]


def walk_usage(plan: Plan) -> WalkUsage:
    """Run every walk, and note what takes part in it."""
    usage = WalkUsage({}, {})
    for walk in plan.walks:
        result = run_walk(plan, walk)
        tape = Tape.from_walk(plan, result)
        met: set[UsedPart] = set()
        for place, entry in enumerate(tape.entries, 1):
            for thing in (*parts_used(plan, entry.step.moves, entry.step.log), *_places_reached(entry.step)):
                met.add(thing)
                if thing not in usage.witnesses or len(usage.witnesses[thing].entries) > place:
                    usage.witnesses[thing] = tape.prefix(place)
        for thing in met:
            usage.counts[thing] = usage.counts.get(thing, 0) + 1
    return usage


def explore(plan: Plan, *, most: int = MAX_STATES, goes_on: Callable[[], bool] = lambda: True) -> Exploration:
    """Try what `user_events` lists, breadth first, in at most so many states; `goes_on` is asked now and then.

    Where a ladder grows without end, it is left at `MAX_RUNGS`: what is new on it comes sooner, and long ladders are slow.

    The first way to each move is a shortest one (breadth-first search; Moore 1959).
    """
    first = initial_state(plan)
    came: dict[State, tuple[State, Event] | None] = {timeless(first): None}
    waiting, whole = deque([first]), True
    paths: dict[UsedPart, tuple[Event, ...]] = {}
    while waiting and len(came) < most and goes_on():
        state = waiting.popleft()
        for event in user_events(plan, state):
            done = step(plan, state, event)
            if done.refused is not None:
                continue
            for thing in (*parts_used(plan, done.moves, done.log), *_places_reached(done)):
                if thing not in paths:
                    paths[thing] = (*_path(came, timeless(state)), event)
            if depth(done.state) > MAX_RUNGS:
                whole = False
                continue
            after = timeless(done.state)
            if after not in came:
                came[after] = (timeless(state), event)
                waiting.append(done.state)
    return Exploration(paths, len(came), whole and not waiting)


def shortest_tape(plan: Plan, part: UsedPart, usage: WalkUsage, exploration: Exploration) -> Tape | None:
    """Return the shortest known tape at whose end a part takes part, or a place is reached; None if none is known."""
    tape = usage.witnesses.get(part)
    events = exploration.witnesses.get(part)
    if events is not None and (tape is None or len(events) < len(tape.entries)):
        tape = Tape(plan, initial_state(plan))
        for event in events:
            tape, _ = tape.with_event(event)
    return tape


def path_to(plan: Plan, goal: PlanPart | str, goes_on: Callable[[], bool] = lambda: True) -> Tape | None:
    """Return the shortest tape known to a move, guard, redirect or link being used, or to a place by its name.

    `goes_on` is asked now and then, as by `explore`.
    """
    if isinstance(goal, Link):
        first = Tape(plan, initial_state(plan))
        opens = (event for event in link_events(plan) if match_link(plan.links, event.address).link == goal)
        return next((first.with_event(event)[0] for event in opens), None)
    usage, exploration = walk_usage(plan), explore(plan, goes_on=goes_on)
    goals = [
        part for part in (*usage.witnesses, *exploration.witnesses) if (part[0] if isinstance(part, tuple) else part) == goal
    ]
    tapes = [tape for part in goals if (tape := shortest_tape(plan, part, usage, exploration)) is not None]
    return min(tapes, key=lambda tape: len(tape.entries), default=None)


def _places_reached(done: Step) -> Iterator[str]:
    """Name the places that one is at after a step, or that opened in it."""
    if (top := visible_top(done.state)) is not None and done.state.phase is Phase.OPEN and not done.state.cover:
        yield top.data.screen
        yield from (rung.data.screen for rung in visible_path(done.state.ladder) if rung.inner)
    yield from (happening.overlay for happening in done.log if isinstance(happening, Opened))


def _path(came: dict[State, tuple[State, Event] | None], state: State) -> list[Event]:
    events_to: list[Event] = []
    while (before := came[state]) is not None:
        state, event = before
        events_to.append(event)
    return events_to[::-1]


def parts_used(plan: Plan, taken: Iterable[Move], happened: Iterable[LogEntry]) -> Iterator[UsedPart]:
    """Go through the moves a step took, the guards that stood in its way, and the redirects that sent it on."""
    yield from taken
    for happening in happened:
        match happening:
            case QuestionOpened(name) | Blocked(name) | GuardActed(name):
                yield from (guard for guard in plan.guard.values() if guard.name == name)
            case Redirected(wanted, to):
                names = plan.screens_opened(wanted)
                for redirect in plan.redirects:
                    for_it = [name for name in names if redirect.is_for(name)]
                    if redirect.target.screen == to and for_it:
                        yield redirect, for_it[0] if redirect.only else ANYWHERE
            case _:
                pass
