"""The first things that a user notices of a change: both versions under the same events, pair of states by pair of states.

First the walks of both are replayed, and one step beyond each; then what users do, breadth first, then all events
(breadth-first search; Moore 1959). So a difference is found by a shortest path, as far as the search came.
"""

from __future__ import annotations

import time
from collections import deque
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.plan import Event, events
from wise_ladder.plan.steps import event_phrase
from wise_ladder.semantics import Phase, initial_state, step
from wise_ladder.semantics.offers import link_events, user_events, world_events
from wise_ladder.semantics.serials import timeless
from wise_ladder.semantics.state import visible_top
from wise_ladder.trials import messages
from wise_ladder.trials.matching import SAME
from wise_ladder.trials.noticed import Grade, Side, differences
from wise_ladder.walks.running import expand_repeats
from wise_ladder.walks.tape import Tape

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from wise_ladder.plan import Plan
    from wise_ladder.plan.world import Replies
    from wise_ladder.semantics import State, Step
    from wise_ladder.trials.matching import Names

NOWHERE = "x://nowhere/at/all"
"""An address that no link matches."""


class Pair(NamedTuple):
    """Where both versions are after the same events."""

    old: State
    new: State


class Difference(NamedTuple):
    """What is noticed at the end of a path: on which screen, by what, in words; the path on both versions."""

    grade: Grade
    screen: str
    event: str
    words: str
    old: Tape
    new: Tape

    @property
    def path(self) -> list[str]:
        """The steps, as of a walk of the new version (of the old one, if the new one does not allow the last)."""
        tape = max(self.new, self.old, key=lambda tape: len(tape.entries))
        return tape.as_steps()[:-1]


class Extent(NamedTuple):
    """How far was looked.

    `pairs` of states were met; from the start, everything was done that can be done in `depth` steps, as long as the versions
    agreed; `whole`: there are no other pairs.
    """

    pairs: int
    depth: int
    whole: bool
    seconds: float


class PairSearch:
    """Looks for differences between two versions; `found` grows while it runs."""

    def __init__(self, old: Plan, new: Plan, names: Names = SAME) -> None:
        """Begin with nothing looked at; `names`: what is called otherwise in the new version."""
        self.old, self.new, self.names = old, new, names
        self.found: dict[tuple[str, str, str, str], Difference] = {}

    def run(
        self,
        seconds: float,
        *,
        goes_on: Callable[[], bool] = lambda: True,
        told: Callable[[Extent], None] = lambda _: None,
    ) -> Extent:
        """Look for so many seconds; return how far that was. `told` is called when the walks were replayed."""
        began = time.perf_counter()
        until = began + seconds

        def on() -> bool:
            return time.perf_counter() < until and goes_on()

        self._replay_walks(on)
        told(Extent(0, 0, whole=False, seconds=time.perf_counter() - began))
        self._search(user_events, until - 0.6 * (until - time.perf_counter()), on)
        pairs, depth, whole = self._search(_all_events, until, on)
        return Extent(pairs, depth, whole, time.perf_counter() - began)

    # Walks

    def _replay_walks(self, on: Callable[[], bool]) -> None:
        for plan in (self.old, self.new):
            for walk in plan.walks:
                if on():
                    path = [line.what for line in expand_repeats(walk.steps) if isinstance(line.what, events.Event)]
                    self._replay(walk.given, walk.replies, path, renamed=plan is self.new)

    def _replay(self, given: tuple[tuple[str, str], ...], replies: Replies, path: list[Event], *, renamed: bool) -> None:
        """Do a path of one version on both, and one step beyond; stop where they differ."""
        if renamed:
            back = self.names.backwards
            given = tuple((back.facts.get(fact, fact), value) for fact, value in given)
            replies = tuple(back.reply(*each) for each in replies)
            path = [back.renamed(event) for event in path]
        first = self._first(given, replies)
        pair, done = first, list[Event]()
        for event in path:
            after = self._step(first, pair, done, event)
            if after is None:
                return
            pair, done = after, [*done, event]
        for event in self._both(_all_events, pair):
            self._step(first, pair, done, event)

    def _first(self, given: tuple[tuple[str, str], ...] = (), replies: Replies = ()) -> Pair:
        states = []
        for plan, names in ((self.old, SAME), (self.new, self.names)):
            given = tuple((names.facts.get(fact, fact), value) for fact, value in given)
            replies = tuple(names.reply(*each) for each in replies)
            values = {fact.name: fact.values for fact in plan.facts}
            known = tuple(each for each in given if each[1] in values.get(each[0], ()))
            coming = tuple(each for each in replies if each[0] in plan.call and plan.call[each[0]].outcome(each[1]) is not None)
            states.append(initial_state(plan, known, plan.coming(coming)))
        return Pair(*states)

    # The search

    def _search(
        self, choices: Callable[[Plan, State], list[Event]], until: float, on: Callable[[], bool]
    ) -> tuple[int, int, bool]:
        """Go from pair to pair, breadth first. What differs is not followed.

        Returns how many pairs were met, in how many steps all of them were looked at, and whether there are no others.
        """
        first = self._first()
        waiting = deque([(first, list[Event]())])
        met = {(timeless(first.old), timeless(first.new))}
        depth = 0
        while waiting:
            pair, path = waiting.popleft()
            depth = len(path)
            if time.perf_counter() > until or not on():
                return len(met), depth, False
            for event in self._both(choices, pair):
                after = self._step(first, pair, path, event)
                if after is None:
                    continue
                key = (timeless(after.old), timeless(after.new))
                if key not in met:
                    met.add(key)
                    waiting.append((after, [*path, event]))
        return len(met), depth, True

    def _both(self, choices: Callable[[Plan, State], list[Event]], pair: Pair) -> list[Event]:
        """List what can be done in either version, as the old one calls it; of two waits the shorter one."""
        back = self.names.backwards
        found = dict.fromkeys((*choices(self.old, pair.old), *map(back.renamed, choices(self.new, pair.new))))
        waits = [event for event in found if isinstance(event, events.Wait)]
        return [event for event in found if event not in waits] + ([min(waits, key=lambda wait: wait.time)] if waits else [])

    def _step(self, first: Pair, pair: Pair, path: list[Event], event: Event) -> Pair | None:
        """Do an event on both; return where they are then, None if they differ or neither allows it."""
        old, new = step(self.old, pair.old, event), step(self.new, pair.new, self.names.renamed(event))
        if old.refused is not None and new.refused is not None:
            return None
        words, grade = self._compared(pair, old, new)
        if not words:
            return Pair(old.state, new.state)
        top = visible_top(pair.old) if pair.old.phase is Phase.OPEN else None
        screen = self.names.screens.get(top.data.screen, top.data.screen) if top is not None else ""
        name = _called(event)
        key = (grade, screen, name, words if grade == "kept" else "")
        if key not in self.found or len(self.found[key].path) > len(path) + 1:
            tapes = self._tapes(first, [*path, event])
            self.found[key] = Difference(grade, screen, name, words, *tapes)
        # What is only kept otherwise is followed: it may be noticed later.
        return Pair(old.state, new.state) if grade == "kept" and old.refused is None and new.refused is None else None

    def _compared(self, pair: Pair, old: Step, new: Step) -> tuple[str, Grade]:
        """Say the first thing in which two steps differ, and its grade; nothing if they do not."""
        if (old.refused is None) != (new.refused is None):
            return (messages.POSSIBLE_NOW if new.refused is None else messages.POSSIBLE_NO_MORE), "noticed"
        before = Side(self.old, old.state, old.log, self.names)
        after = Side(self.new, new.state, new.log, SAME)
        return next(differences(before, after, ways=pair != (old.state, new.state)), ("", "noticed"))

    def _tapes(self, first: Pair, path: list[Event]) -> Iterator[Tape]:
        yield Tape(self.old, first.old).rerun_on(self.old, events=path)
        yield Tape(self.new, first.new).rerun_on(self.new, events=[self.names.renamed(event) for event in path])


def _called(event: Event) -> str:
    """Name an event for reading, without what it carries."""
    if isinstance(event, events.Tap):
        return f"tap {event.name}{' twice' if event.twice else ''}"
    return "wait" if isinstance(event, events.Wait) else event_phrase(event)


def _all_events(plan: Plan, state: State) -> list[Event]:
    """List what users, the world and the phone could do, taps in quick succession and addresses that lead nowhere among it."""
    usual = user_events(plan, state)
    twice = [events.Tap(event.name, event.arguments, twice=True) for event in usual if isinstance(event, events.Tap)]
    links = [] if state.phase is Phase.OPEN else link_events(plan)
    return [*usual, *twice, *world_events(plan, state), *links, events.OpenLink(NOWHERE)]
