"""What can happen in a state, and what comes of it: the two halves of `step`, on shapes, with time in order but not counted."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from msgspec.structs import replace

from wise_ladder.ladder.cutting import Untold
from wise_ladder.ladder.doing import Doing
from wise_ladder.ladder.happenings import Finding, Happening
from wise_ladder.ladder.moving import MOST_AT_ONCE, set_off, set_off_due
from wise_ladder.ladder.offers import taps
from wise_ladder.ladder.state import Pending, Phase, State
from wise_ladder.plan import operations
from wise_ladder.plan.addresses import filled_in
from wise_ladder.plan.events import (
    Answer,
    Back,
    HeaderBack,
    Home,
    Killed,
    Launch,
    Link,
    LowMemory,
    OutsideChange,
    Reopen,
    Reply,
    SwipedAway,
    Tap,
)
from wise_ladder.rules.choices import Choice, LetTime
from wise_ladder.rules.eyes import Eyes
from wise_ladder.rules.shapes import ELSEWHERE, SEEN, Shaping, settled
from wise_ladder.rules.zones import NOTHING, Zone, also_due, at_rest, falls_due, nothing_more_due, passed_on, ready

if TYPE_CHECKING:
    from collections.abc import Container, Iterator

    from wise_ladder.plan.model import Move, Plan


class Done(NamedTuple):
    """One thing that can come of a choice: the state after it and its zone, what happened, the moves that were taken.

    `kept` gives the old number of each thing that is under way, -1 for new ones; `fired` are the numbers of what fell due.
    """

    state: State
    zone: Zone
    happened: tuple[Happening, ...]
    taken: tuple[Move, ...]
    kept: tuple[int, ...]
    fired: tuple[int, ...] = ()
    refused: bool = False
    """Whether nothing came of it; told of taps alone, and only where somebody wants to know."""


class Choices:
    """What a plan's users, phone and world can do, and what comes of each."""

    def __init__(
        self, plan: Plan, *, twice: bool = False, dead_taps: bool = False, flash: int = 0, guarded: Container[str] = ()
    ) -> None:
        """List what does not hang on the state.

        `twice`: taps twice in quick succession too. `dead_taps`: tell of refused taps. `flash`: tell of what is seen for less
        than so many milliseconds and goes by itself. `guarded`: tell where these screens go and their guards are not asked.
        """
        self.plan, self.twice, self.shaping, self._dead_taps = plan, twice, Shaping(plan, flash, guarded), dead_taps
        self._eyes = Eyes(plan, flash) if flash else None
        self._links = [*_links(plan)]
        changes = dict.fromkeys((fact.name, after) for fact in plan.facts for _, after in fact.outside)
        self._changes = [OutsideChange(name, after) for name, after in changes]
        self._takers = [guard.name for guard in plan.guard.values() if guard.at_press]
        reacts = any(move.trigger == operations.WorldTrigger("low memory") for move in plan.moves)
        self._low_memory = [LowMemory()] if reacts else []

    def of(self, state: State) -> Iterator[Choice]:
        """Go through all that may happen in a state; some of it may turn out to be refused."""
        yield from self.ended(state)
        yield from self.inside(state)
        yield from self.outside(state)

    def ended(self, state: State) -> Iterator[Choice]:
        """Go through what can become of the things under way."""
        names = dict.fromkeys(call.name for call in state.calls if call.name != SEEN)
        yield from (Reply(name, outcome.name) for name in names for outcome in self.plan.call[name].outcomes)
        yield from (LetTime(number) for number in range(len(state.pending)))

    def inside(self, state: State) -> Iterator[Choice]:
        """Go through what users can do with what they see."""
        if state.phase is Phase.OPEN:
            yield from self._from_user(state)
        elif state.phase is not Phase.OUTSIDE:
            yield Reopen()

    def outside(self, state: State) -> Iterator[Choice]:
        """Go through what can happen whatever is seen."""
        phase = state.phase
        if phase is Phase.OUTSIDE:
            yield Launch()
        elif phase is Phase.OPEN:
            yield Home()
        yield from self._changes
        yield from self._links
        if phase is not Phase.OUTSIDE:
            yield from self._low_memory
            yield from (SwipedAway(), Killed())

    def _from_user(self, state: State) -> Iterator[Choice]:
        if state.question is not None:
            yield from (Answer(answer.name) for answer in self.plan.guard[state.question.guard].answers)
        elif not state.cover:
            for tap, _ in taps(self.plan, state):
                yield tap
                if self.twice:
                    yield Tap(tap.name, tap.arguments, twice=True)
            yield HeaderBack()
        yield Back()
        yield from (Back(name) for name in self._takers)

    def done(self, state: State, zone: Zone, choice: Choice) -> Iterator[Done]:
        """Go through what can come of a choice; nothing does where it is refused. Raises Look where it must know more."""
        if isinstance(choice, LetTime):
            yield from self._time_passes(state, zone, choice.timer)
            return
        which, takes = 0, 0
        if isinstance(choice, Reply):
            clocks = self.shaping.clocks(state)
            which = next(place for place, call in enumerate(state.calls) if call.name == choice.call)
            if state.calls[which].serial == ELSEWHERE:
                raise self.shaping.look_for_asker(state, choice.call)
            outcome = self.plan.call[choice.call].outcome(choice.outcome)
            takes = outcome.takes if outcome is not None else 0
            zone = ready(zone, len(clocks), len(state.pending) + which, takes) or ()
            if not zone:
                return
        doing = Doing(self.plan, state)
        if set_off(doing, choice) is not None:
            if self._dead_taps and isinstance(choice, Tap):
                yield Done(state, zone, (), (), (), refused=True)
            return
        now, happened = doing.state(), tuple(doing.happened)
        if self._eyes is not None:
            by = len(state.pending) + which if isinstance(choice, Reply) else None
            now, happened = self._eyes.follow(state, now, zone, by, happened, takes)
        if isinstance(now.pending, Untold):
            yield Done(now, zone, happened, tuple(doing.taken), ())
            return
        after, kept = settled(now, state)
        rest = at_rest(passed_on(zone, kept), self.shaping.clocks(after)) if kept else NOTHING
        yield Done(after, rest, happened, tuple(doing.taken), kept)

    def _time_passes(self, state: State, zone: Zone, timer: int) -> Iterator[Done]:
        due = falls_due(zone, self.shaping.clocks(state), timer)
        if due is None:
            return
        there = tuple(range(len(state.pending) + len(state.calls)))
        waiting = [(Done(state, due, (), (), there), timer, timer)]
        while waiting:
            before, timer, changer = waiting.pop()
            found = self._fired(before, timer)
            if self._eyes is not None and self._eyes.turned(before.state, found.state):
                changer = found.fired[-1]
            clocks = self.shaping.clocks(found.state)
            if (calm := nothing_more_due(found.zone, clocks)) is not None:
                yield self._at_rest(state, due, changer, found._replace(zone=calm))
            also = ((also_due(found.zone, clocks, other), other) for other in range(len(found.state.pending)))
            more = [(found._replace(zone=zone), other, changer) for zone, other in also if zone is not None]
            if len(found.fired) < MOST_AT_ONCE:
                waiting += more
                continue
            endless = Finding("runaway", "timers start each other without end")
            given_up, kept = settled(replace(found.state, pending=()), found.state)
            for other, _, _ in more:
                ended = other._replace(state=given_up, happened=(*found.happened, endless))
                yield self._at_rest(state, due, changer, _renumbered(ended, kept))

    def _at_rest(self, first: State, due: Zone, changer: int, found: Done) -> Done:
        """End an instant: what is seen is seen from now on, what was seen between was not; then any time may pass."""
        if self._eyes is not None:
            now, happened = self._eyes.follow(first, found.state, due, changer, found.happened)
            after, kept = settled(now, found.state)
            found = _renumbered(found._replace(state=after, happened=happened), kept)
        return found._replace(zone=at_rest(found.zone, self.shaping.clocks(found.state)))

    def _fired(self, before: Done, timer: int) -> Done:
        """Let one timer fall due at the instant at hand."""
        pending = list(before.state.pending)
        first = pending.pop(timer)
        first = Pending(first.due - 1, first.order, first.serial, first.after, first.kind, first.face)
        doing = Doing(self.plan, replace(before.state, pending=(first, *pending)))
        set_off_due(doing)
        after, kept = settled(doing.state(), before.state)
        happened, taken = (*before.happened, *doing.happened), (*before.taken, *doing.taken)
        fired = (*before.fired, before.kept[timer])
        return _renumbered(before._replace(state=after, happened=happened, taken=taken, fired=fired), kept)


def _renumbered(done: Done, kept: tuple[int, ...]) -> Done:
    """Tell a zone and where things come from of what is under way in another order: of each thing its old number."""
    found = tuple(-1 if number < 0 else done.kept[number] for number in kept)
    return done._replace(zone=passed_on(done.zone, kept), kept=found)


def _links(plan: Plan) -> Iterator[Link]:
    """Go through the links, each so often that every sample of what it carries is tried."""
    for link in plan.links:
        names = [carried.name for carried in link.carries]
        samples = [carried.samples for carried in link.carries]
        for number in range(max(map(len, samples), default=1)):
            values = dict(zip(names, (each[number % len(each)] for each in samples), strict=True))
            yield Link(filled_in(link.address, values))
