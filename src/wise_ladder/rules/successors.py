"""What can happen in a state, and what comes of it: the two halves of `step`, on shapes, with time in order but not counted."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from msgspec.structs import replace

from wise_ladder.plan import triggers
from wise_ladder.plan.addresses import filled_in
from wise_ladder.plan.events import (
    Answer,
    Back,
    BackBegun,
    BackCancelled,
    BackFinished,
    HeaderBack,
    Home,
    Killed,
    Launch,
    LowMemory,
    OpenLink,
    OutsideChange,
    Remade,
    Reopen,
    Reply,
    SwipedAway,
    Tap,
)
from wise_ladder.rules.abstraction import Abstraction
from wise_ladder.rules.actions import Action, Elapse, Stay
from wise_ladder.rules.flashes import FlashTracker
from wise_ladder.rules.in_flight import SEEN_SINCE, in_order
from wise_ladder.rules.zones import NOTHING, Zone, delay, elapsed_at_least, fire_first, fire_next, none_due, remap
from wise_ladder.semantics.log import Finding, LogEntry
from wise_ladder.semantics.offers import taps
from wise_ladder.semantics.run import MAX_AT_ONCE, run_due, run_event
from wise_ladder.semantics.state import Deadline, Phase, State
from wise_ladder.semantics.symbolic import UNKNOWN_CALLER, SymbolicPart
from wise_ladder.semantics.working_state import WorkingState

if TYPE_CHECKING:
    from collections.abc import Container, Iterator

    from wise_ladder.plan.model import Move, Plan


class Successor(NamedTuple):
    """One thing that can come of a choice: the state after it and its zone, what happened, the moves that were taken.

    `kept` gives the old number of each thing that is pending, -1 for new ones; `fired` are the numbers of what fell due.
    """

    state: State
    zone: Zone
    log: tuple[LogEntry, ...]
    moves: tuple[Move, ...]
    old_indices: tuple[int, ...]
    fired: tuple[int, ...] = ()
    refused: bool = False
    """Whether it had no effect; only for taps, and only if tracked."""


class Successors:
    """What a plan's users, phone and world can do, and what comes of each."""

    def __init__(
        self,
        plan: Plan,
        *,
        twice: bool = False,
        dead_taps: bool = False,
        flash: int = 0,
        guarded: Container[str] = (),
        remade: bool = False,
    ) -> None:
        """List what does not depend on the state.

        `twice`: taps twice in quick succession too. `dead_taps`: tell of refused taps. `flash`: tell of what is seen for less
        than so many milliseconds and goes by itself. `guarded`: tell where these screens go and their guards are not asked.
        `remade`: screens may be remade.
        """
        self.plan, self.twice, self.shaping, self._dead_taps = plan, twice, Abstraction(plan, flash, guarded), dead_taps
        self._eyes = FlashTracker(plan, flash) if flash else None
        self._links = [*_links(plan)]
        changes = dict.fromkeys((fact.name, after) for fact in plan.facts for _, after in fact.allowed_changes)
        self._changes = [OutsideChange(name, after) for name, after in changes]
        self._takers = [guard.name for guard in plan.guard.values() if guard.at_press]
        reacts = any(move.trigger == triggers.PhaseTrigger("low memory") for move in plan.moves)
        self._gestures = [BackBegun()] if plan.policies.back_gesture == "yes" else []
        self._remade = [Remade()] if remade or plan.policies.remakes_screens == "yes" else []
        self._low_memory = [LowMemory()] if reacts else []

    def actions(self, state: State) -> Iterator[Action]:
        """Go through all that may happen in a state; some of it may turn out to be refused."""
        yield from self.ended(state)
        yield from self.inside(state)
        yield from self.outside(state)

    def ended(self, state: State) -> Iterator[Action]:
        """Go through what can become of pending things."""
        for name in dict.fromkeys(call.name for call in state.calls if call.name != SEEN_SINCE):
            yield from self.replies(name)
        yield from (Elapse(number) for number in range(len(state.deadlines)))

    def replies(self, call: str) -> Iterator[Reply]:
        """Go through the replies that a call may get."""
        yield from (Reply(call, outcome.name) for outcome in self.plan.call[call].outcomes)

    def inside(self, state: State) -> Iterator[Action]:
        """Go through what users can do with what they see."""
        if state.phase is Phase.OPEN:
            yield from self._from_user(state)
        elif state.phase is not Phase.OUTSIDE:
            yield Reopen()

    def outside(self, state: State) -> Iterator[Action]:
        """Go through what can happen whatever is seen."""
        phase = state.phase
        if phase is Phase.OUTSIDE:
            yield Launch()
        elif phase is Phase.OPEN:
            yield Home()
            yield from self._remade
        yield from self._changes
        yield from self._links
        if phase is not Phase.OUTSIDE:
            yield from self._low_memory
            yield from (SwipedAway(), Killed())

    def _from_user(self, state: State) -> Iterator[Action]:
        if state.begun is not None:
            yield from (BackFinished(), BackCancelled())
            return
        if state.question is not None:
            yield from (Answer(answer.name) for answer in self.plan.guard[state.question.guard].answers)
        elif not state.cover:
            for tap, _ in taps(self.plan, state):
                yield tap
                if self.twice:
                    yield Tap(tap.name, tap.arguments, twice=True)
            yield HeaderBack()
        yield Back()
        yield from self._gestures
        yield from (Back(name) for name in self._takers)

    def apply(self, state: State, zone: Zone, choice: Action) -> Iterator[Successor]:
        """Go through what can come of a choice; nothing can where it is refused. Raises RefinementNeeded."""
        if isinstance(choice, Elapse):
            yield from self._time_passes(state, zone, choice.timer)
            return
        if isinstance(choice, Stay):
            yield Successor(state, zone, (), (), ())
            return
        which, takes = 0, 0
        if isinstance(choice, Reply) and not isinstance(state.calls, SymbolicPart):
            clocks = self.shaping.clocks(state)
            which = next(place for place, call in enumerate(state.calls) if call.name == choice.call)
            if not self.shaping.by_itself(state.calls[which]) and state.calls[which].serial == UNKNOWN_CALLER:
                look = self.shaping.look_for_asker(state, choice.call)
                if look is None:
                    return
                raise look
            outcome = self.plan.call[choice.call].outcome(choice.outcome)
            takes = outcome.takes if outcome is not None else 0
            zone = elapsed_at_least(zone, len(clocks), len(state.deadlines) + which, takes) or ()
            if not zone:
                return
        doing = WorkingState(self.plan, state)
        if run_event(doing, choice) is not None:
            if self._dead_taps and isinstance(choice, Tap):
                yield Successor(state, zone, (), (), (), refused=True)
            return
        now, happened = doing.state(), tuple(doing.log)
        if self._eyes is not None:
            by = len(state.deadlines) + which if isinstance(choice, Reply) else None
            now, happened = self._eyes.observe(state, now, zone, by, happened, takes)
        if isinstance(now.deadlines, SymbolicPart):
            yield Successor(now, zone, happened, tuple(doing.moves), ())
            return
        after, kept = in_order(now, state)
        rest = delay(remap(zone, kept), self.shaping.clocks(after)) if kept else NOTHING
        yield Successor(after, rest, happened, tuple(doing.moves), kept)

    def _time_passes(self, state: State, zone: Zone, timer: int) -> Iterator[Successor]:
        due = fire_first(zone, self.shaping.clocks(state), timer)
        if due is None:
            return
        indices = tuple(range(len(state.deadlines) + len(state.calls)))
        waiting = [(Successor(state, due, (), (), indices), timer, timer)]
        while waiting:
            before, timer, changer = waiting.pop()
            fired = self._fired(before, timer)
            if self._eyes is not None and self._eyes.turned(before.state, fired.state):
                changer = fired.fired[-1]
            clocks = self.shaping.clocks(fired.state)
            if (calm := none_due(fired.zone, clocks)) is not None:
                yield self._at_rest(state, due, changer, fired._replace(zone=calm))
            also = ((fire_next(fired.zone, clocks, other), other) for other in range(len(fired.state.deadlines)))
            more = [(fired._replace(zone=zone), other, changer) for zone, other in also if zone is not None]
            if len(fired.fired) < MAX_AT_ONCE:
                waiting += more
                continue
            endless = Finding("runaway", "timers start each other without end")
            given_up, kept = in_order(replace(fired.state, deadlines=()), fired.state)
            for other, _, _ in more:
                ended = other._replace(state=given_up, log=(*fired.log, endless))
                yield self._at_rest(state, due, changer, _renumbered(ended, kept))

    def _at_rest(self, first: State, due: Zone, changer: int, successor: Successor) -> Successor:
        """End an instant: what is seen is seen from now on, what was seen between was not; then any time may pass."""
        if self._eyes is not None:
            now, happened = self._eyes.observe(first, successor.state, due, changer, successor.log)
            after, kept = in_order(now, successor.state)
            successor = _renumbered(successor._replace(state=after, log=happened), kept)
        return successor._replace(zone=delay(successor.zone, self.shaping.clocks(successor.state)))

    def _fired(self, before: Successor, timer: int) -> Successor:
        """Let one timer fall due at the instant at hand."""
        pending = list(before.state.deadlines)
        first = pending.pop(timer)
        first = Deadline(first.due - 1, first.order, first.serial, first.after, first.kind, first.data)
        doing = WorkingState(self.plan, replace(before.state, deadlines=(first, *pending)))
        run_due(doing)
        after, kept = in_order(doing.state(), before.state)
        happened, taken = (*before.log, *doing.log), (*before.moves, *doing.moves)
        fired = (*before.fired, before.old_indices[timer])
        return _renumbered(before._replace(state=after, log=happened, moves=taken, fired=fired), kept)


def _renumbered(done: Successor, kept: tuple[int, ...]) -> Successor:
    """Return a zone for pending things in another order, and the old number of each."""
    indices = tuple(-1 if number < 0 else done.old_indices[number] for number in kept)
    return done._replace(zone=remap(done.zone, kept), old_indices=indices)


def _links(plan: Plan) -> Iterator[OpenLink]:
    """Go through the links, each so often that every sample of what it carries is tried."""
    for link in plan.links:
        names = [carried.name for carried in link.carries]
        samples = [carried.samples for carried in link.carries]
        for number in range(max(map(len, samples), default=1)):
            values = dict(zip(names, (each[number % len(each)] for each in samples), strict=True))
            yield OpenLink(filled_in(link.address, values))
