"""The tool's own ways through a running app: every move once, then random ones; a difference is shortened."""

from __future__ import annotations

from collections import deque
from random import Random
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.errors import LinkError
from wise_ladder.link import messages
from wise_ladder.link.against import Compared, Stand
from wise_ladder.plan import Event
from wise_ladder.semantics import initial_state, step
from wise_ladder.semantics.offers import link_events, user_events, world_events
from wise_ladder.semantics.serials import timeless
from wise_ladder.walks.exploration import explore, shortest_tape, walk_usage
from wise_ladder.walks.explored import Explored, Found
from wise_ladder.walks.tape import Tape

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from wise_ladder.plan import Plan
    from wise_ladder.plan.world import Replies

MOST_STEPS = 40
"""So many steps a random path has."""
OUTSIDE = 0.15
"""How often the world does something, and not the user."""
MOST_IDLE = 500
"""Exploring ends after this many paths in a row on which no step could be done."""
MOST_TRIED, MOST_STATES = 200, 3_000
"""So many more direct ways to a difference are tried, from so many states."""


class Start(NamedTuple):
    """What a path begins with: facts that differ, and replies that come by themselves."""

    given: tuple[tuple[str, str], ...] = ()
    replies: Replies = ()


class Explorer:
    """Goes its own ways through an app; all of them follow from a seed."""

    def __init__(self, plan: Plan, app: Compared, seed: int, *, going: Callable[[int], None] = lambda _: None) -> None:
        """Begin with nothing done; `going` is told how many steps were."""
        self._plan, self._app, self._random, self._going = plan, app, Random(seed), going  # noqa: S311 - no secret
        self._steps, self._used = 0, set[object]()
        self._beside: tuple[str, ...] = ()

    async def run(self, most: int) -> Explored:
        """Do so many steps, or up to the first difference; raises LinkError if the app cannot be asked any more."""
        found = await self._first_found(most)
        moves = {move.id for move in self._plan.moves}
        return Explored(self._steps, len(self._used & moves), len(moves), found)

    async def _first_found(self, most: int) -> Found | None:
        if not self._app.welcome.begins:
            raise LinkError(messages.CANNOT_BEGIN_ANEW)
        idle = 0
        for start, path in self._paths():
            if self._steps >= most or idle == MOST_IDLE:
                break
            words, done = await self._follow(start, path[: most - self._steps])
            idle = 0 if done else idle + 1
            if words:
                return await self._shortened(start, done, words)
        return None

    def _paths(self) -> Iterator[tuple[Start, list[Event]]]:
        """Go through the shortest ways to each move, then through random paths without an end."""
        usage, exploration = walk_usage(self._plan), explore(self._plan)
        tapes = (shortest_tape(self._plan, move, usage, exploration) for move in self._plan.moves)
        for tape in sorted(filter(None, tapes), key=lambda tape: len(tape.entries)):
            yield Start(tape.first_facts(), tape.own_replies()), [entry.event for entry in tape.entries]
        starts = [Start(), *dict.fromkeys(Start(walk.given, walk.replies) for walk in self._plan.walks)]
        while True:
            yield (start := self._random.choice(starts)), self._drawn(start)

    def _drawn(self, start: Start) -> list[Event]:
        """Draw a path that the plan allows and the app can be told."""
        state, path = initial_state(self._plan, start.given, self._plan.coming(start.replies)), list[Event]()
        while len(path) < MOST_STEPS:
            usual = user_events(self._plan, state)
            world = world_events(self._plan, state) if not usual or self._random.random() < OUTSIDE else []
            can = [event for event in world or usual if not self._app.cannot_do([event])]
            self._random.shuffle(can)
            done = ((event, step(self._plan, state, event)) for event in can)
            event, after = next((each for each in done if each[1].refused is None), (None, None))
            if event is None or after is None:
                break
            path.append(event)
            state = after.state
        return path

    async def _follow(self, start: Start, path: list[Event]) -> tuple[str, list[Event]]:
        """Do a path on plan and app; return where they differ, nothing if nowhere, and the steps up to there."""
        if self._app.cannot_do(path) or await self._app.begin(self._plan, start.given, start.replies):
            return "", []
        state, done = initial_state(self._plan, start.given, self._plan.coming(start.replies)), list[Event]()
        for event in path:
            after = step(self._plan, state, event)
            if after.refused is not None:
                return "", done
            words = await self._app.follow(Stand(self._plan, state), event, after)
            state, self._steps = after.state, self._steps + 1
            self._used |= {move.id for move in after.moves}
            self._going(self._steps)
            done.append(event)
            if words:
                self._beside = self._app.beside(Stand(self._plan, state))
                return words, done
        return "", done

    async def _shortened(self, start: Start, path: list[Event], words: str) -> Found:
        """Leave out steps, and what is given, as long as plan and app still differ."""
        for less in (Start(), Start(start.given), Start(replies=start.replies)):
            if less != start and (shorter := await self._follow(less, path))[0]:
                start, (words, path) = less, shorter
                break
        size = max(len(path) // 2, 1)
        while size:
            place, changed = 0, False
            while place < len(path) - 1:
                shorter = await self._follow(start, path[:place] + path[place + size :])
                if shorter[0]:
                    (words, path), changed = shorter, True
                else:
                    place += size
            size = size if changed and size == 1 else size // 2
        start, path = await self._more_direct(start, path)
        again, done = await self._follow(start, path)
        if again:
            # What does not come again is told as it came first.
            words, path = again, done
        tape = Tape(self._plan, initial_state(self._plan, start.given, self._plan.coming(start.replies)))
        return Found(tape.rerun_on(self._plan, events=path), words, self._beside)

    async def _more_direct(self, start: Start, path: list[Event]) -> tuple[Start, list[Event]]:
        """Try the shortest ways to states in which the last step can be done, until plan and app differ on one."""
        tried = 0
        for less in dict.fromkeys((Start(), Start(start.given), start)) if self._app.welcome.advances else ():
            for way in self._ways_to(less, path[-1], len(path)):
                tried += 1
                words, done = await self._follow(less, way)
                if words:
                    return less, done
                if tried == MOST_TRIED:
                    return start, path
        return start, path

    def _ways_to(self, start: Start, event: Event, longest: int) -> Iterator[list[Event]]:
        """Go through the ways that end with an event and are shorter, the shortest first; each from another state."""
        first = initial_state(self._plan, start.given, self._plan.coming(start.replies))
        waiting, met = deque([(first, list[Event]())]), {timeless(first)}
        while waiting and len(met) < MOST_STATES:
            state, path = waiting.popleft()
            if len(path) + 1 >= longest:
                return
            if step(self._plan, state, event).refused is None:
                yield [*path, event]
            for each in (*user_events(self._plan, state), *link_events(self._plan)):
                done = step(self._plan, state, each)
                if done.refused is None and timeless(done.state) not in met:
                    met.add(timeless(done.state))
                    waiting.append((done.state, [*path, each]))
