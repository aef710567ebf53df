"""What Back does in states of random walks against the table of the sweep; what is missing there must be out of its reach."""

from __future__ import annotations

from collections import deque
from random import Random
from typing import TYPE_CHECKING, NamedTuple

from msgspec.structs import replace

from wise_ladder.plan.events import Back, HeaderBack, Wait
from wise_ladder.rules.landings import Landing, landing_of
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.transition import Transition
from wise_ladder.semantics import State, Step, initial_state, step
from wise_ladder.semantics.offers import user_events, world_events

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan import Event, Plan
    from wise_ladder.rules.verdicts import Bounds


class Compared(NamedTuple):
    """How many landings were compared, how many different ones, which the table has not, and which a plain search reaches.

    `depth`: within so many steps the table is known, and the plain search looked.
    """

    compared: int
    different: int
    missing: dict[Landing, int]
    """With the fewest steps after which one was met."""
    reached: set[Landing]
    depth: int


def backs(plan: Plan, state: State) -> Iterator[Landing]:
    """Go through what the system's Back and the header button do by `step`."""
    for event in (Back(), HeaderBack()):
        done = step(plan, state, event)
        landing = landing_of(Transition(plan, state, event, done.state, done.log, done.moves))
        if done.refused is None and landing is not None:
            yield landing


def events_at(plan: Plan, state: State) -> list[Event]:
    """List what can happen, time that passes too."""
    return [*user_events(plan, state), *world_events(plan, state)]


def compare(plan: Plan, walks: int, steps: int, seed: int, bounds: Bounds) -> Compared:
    """Compare what Back does in random walks with the table of a sweep, and look for what is missing by a plain search."""
    sweep = Sweep(plan, bounds)
    sweep.run()
    random, compared = Random(seed), 0
    met: dict[Landing, int] = {}
    for _ in range(walks):
        state = initial_state(plan)
        for number in range(steps + 1):
            for landing in backs(plan, state):
                compared += 1
                met[landing] = min(number + 1, met.get(landing, number + 1))
            state = step(plan, state, random.choice(events_at(plan, state))).state
    missing = {landing: number for landing, number in met.items() if landing not in sweep.landings}
    reached = plain_landings(plan, sweep.depth) & set(missing) if missing else set()
    return Compared(compared, len(met), missing, reached, sweep.depth)


def plain_landings(plan: Plan, depth: int) -> set[Landing]:
    """Return what Back does within so many steps, by a plain breadth-first search with `step`.

    A wait goes to what is due next; where only time passes it takes no step of its own, as in a sweep.
    """
    first = initial_state(plan)
    found: set[Landing] = set()
    level, met = deque([first]), {_timed(first)}
    for _ in range(depth):
        after: deque[State] = deque()
        while level:
            state = level.popleft()
            found.update(backs(plan, state))
            for event in events_at(plan, state):
                done = step(plan, state, event)
                if done.refused is None and (key := _timed(done.state)) not in met:
                    met.add(key)
                    (level if isinstance(event, Wait) and _only_time_passed(state, done) else after).append(done.state)
        level = after
    return found


def _only_time_passed(before: State, done: Step) -> bool:
    after = done.state
    shown = (after.ladder, after.overlays, after.cover, after.phase, after.facts)
    return not done.moves and shown == (before.ladder, before.overlays, before.cover, before.phase, before.facts)


def _timed(state: State) -> State:
    pending = tuple(replace(timer, due=timer.due - state.clock) for timer in state.deadlines)
    calls = tuple(replace(call, started=max(call.started - state.clock, -5000)) for call in state.calls)
    return replace(state, clock=0, seen=None, bars=(True, True), deadlines=pending, calls=calls)
