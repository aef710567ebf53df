"""What can be tapped now, with stable numbers and a short forecast of each."""

from __future__ import annotations

from itertools import product
from typing import TYPE_CHECKING, NamedTuple

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
    Wait,
)
from wise_ladder.semantics import log
from wise_ladder.semantics.forecast import Forecast, forecast
from wise_ladder.semantics.state import Phase
from wise_ladder.semantics.step import step
from wise_ladder.semantics.taps import taps_offered
from wise_ladder.semantics.text import argument_words, rung_text
from wise_ladder.semantics.working_state import WorkingState

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

    from wise_ladder.plan import Event
    from wise_ladder.plan.model import Move, Plan
    from wise_ladder.semantics.log import LogEntry
    from wise_ladder.semantics.state import RungData, State

MAX_SAMPLES = 12


class Offer(NamedTuple):
    """A tap, or the reply of a pending call, with its number (from 1) and what it would do."""

    number: int
    event: Tap | Reply
    move: Move | None
    """The move that a tap is for."""
    forecast: Forecast

    @property
    def label(self) -> str:
        """Write the tap for reading: `hive 7`."""
        if isinstance(self.event, Reply):
            return f"{self.event.outcome}, {self.event.call}"
        values = " ".join(str(value) for _, value in self.event.arguments)
        return f"{self.event.name} {values}".strip()


def offers(plan: Plan, state: State) -> tuple[Offer, ...]:
    """List the taps of what is seen.

    A tap that carries arguments is offered once for each of their samples. One whose condition does not hold keeps its place,
    so that a number means the same tap as long as the plan's moves stand in the same order.
    """
    if state.phase is not Phase.OPEN or state.question is not None:
        return ()
    inputs: list[tuple[Tap | Reply, Move | None]] = [] if state.cover else list(taps(plan, state))
    inputs += [(reply, None) for reply in _replies(plan, state)]
    forecasts = [(event, move, forecast(plan, state, event)) for event, move in inputs]
    possible = (offer for offer in forecasts if offer[1] is not None or offer[2].outcome != "refused")
    return tuple(Offer(number, *offer) for number, offer in enumerate(possible, 1))


def _replies(plan: Plan, state: State) -> list[Reply]:
    names = dict.fromkeys(call.name for call in state.calls)
    return [Reply(name, outcome.name) for name in names for outcome in plan.call[name].outcomes]


def taps(plan: Plan, state: State) -> Iterator[tuple[Tap, Move]]:
    """Go through the taps of what is seen, once for each of their samples, each with the first move it is for."""
    given: set[Tap] = set()
    for move, trigger in taps_offered(plan, WorkingState(plan, state).head()):
        names = [carried.name for carried in trigger.carries]
        samples = product(*(carried.samples for carried in trigger.carries))
        for _, values in zip(range(MAX_SAMPLES), samples, strict=False):
            tap = Tap(trigger.name, tuple(zip(names, values, strict=True)))
            if tap not in given:
                given.add(tap)
                yield tap, move


def user_events(plan: Plan, state: State) -> list[Event]:
    """List what the user, time and the server could do next, without a look at what comes of it."""
    match state.phase:
        case Phase.OUTSIDE:
            return [Launch()]
        case Phase.AWAY | Phase.KILLED:
            return [Reopen()]
        case Phase.OPEN:
            pass
    due = [Wait(max(state.deadlines[0].due - state.clock, 0))] if state.deadlines else []
    if state.question is not None:
        return [*(Answer(answer.name) for answer in plan.guard[state.question.guard].answers), *due]
    tapped = [] if state.cover else [tap for tap, _ in taps(plan, state)]
    return [*tapped, *_replies(plan, state), Back(), HeaderBack(), *due]


def phone_events(plan: Plan) -> list[Event]:
    """List what the phone does to an app, or its user outside of it."""
    gestures: list[Event] = [BackBegun(), BackFinished(), BackCancelled()] if plan.policies.back_gesture == "yes" else []
    return [*gestures, Home(), Reopen(), Killed(), SwipedAway(), LowMemory(), Remade()]


def outside_changes(plan: Plan, state: State) -> list[Event]:
    """List the changes of facts that the plan lets the world make now."""
    facts = zip(plan.facts, state.facts, strict=True)
    return [
        OutsideChange(fact.name, after) for fact, value in facts for before, after in fact.allowed_changes if before == value
    ]


def link_events(plan: Plan) -> list[OpenLink]:
    """List the links of a plan, each with the samples of what it carries."""
    return [
        OpenLink(filled_in(link.address, dict(zip([carried.name for carried in link.carries], values, strict=True))))
        for link in plan.links
        for _, values in zip(range(MAX_SAMPLES), product(*(carried.samples for carried in link.carries)), strict=False)
    ]


def world_events(plan: Plan, state: State) -> list[Event]:
    """List what the world could do now: the phone, each link with its samples, each declared change."""
    events = [*phone_events(plan), *outside_changes(plan, state), *link_events(plan)]
    return [event for event in events if step(plan, state, event).refused is None]


class EventSummary(NamedTuple):
    """What an event would do in few words: the glyph of its operation, the words, and whether anything happens at all."""

    glyph: str
    words: str
    active: bool

    @property
    def text(self) -> str:
        """The glyph and the words."""
        return f"{self.glyph} {self.words}".strip()


def summarize(forecast: Forecast) -> EventSummary:
    """Report a forecast in few words, to stand beside a tap."""
    if forecast.outcome == "refused":
        return EventSummary("", "nothing now", active=False)
    if forecast.outcome == "leaves":
        return EventSummary("○", "leaves the app", active=True)
    if forecast.outcome == "asks":
        return EventSummary("◆", f"asks “{forecast.question}”", active=True)
    if forecast.outcome == "closes":
        closed = [happening.overlay for happening in forecast.step.log if isinstance(happening, log.Closed)]
        return EventSummary("", f"closes {', '.join(closed)}" if closed else "stays", active=True)
    if forecast.outcome == "blocked":
        return EventSummary("⊘", "blocked", active=True)
    happened = forecast.step.log
    for happening in happened:
        if isinstance(happening, log.Finding):
            return EventSummary("✗", happening.name, active=True)
        if isinstance(happening, log.Switched):
            return EventSummary("", f"tab {happening.tab}", active=True)
    came = [happening for happening in happened if isinstance(happening, (log.Came, log.Replaced))]
    went = [happening for happening in happened if isinstance(happening, log.Went)]
    if came:
        return _put_effect(came, cleared=bool(went) and len(forecast.step.state.ladder) == 1, dropped=bool(went))
    if went:
        return EventSummary("↓" if len(went) == 1 else "⇓", f"to {rung_text(forecast.data)}", active=True)
    return _small_effect(happened)


def _put_effect(came: Sequence[LogEntry], *, cleared: bool, dropped: bool) -> EventSummary:
    last = came[-1]
    if isinstance(last, log.Replaced):
        return EventSummary("⇄", _short(last.came.data, last.gone.data), active=True)
    assert isinstance(last, log.Came)  # noqa: S101 - the only other kind that is put in
    glyph = "■" if cleared else "⇓" if dropped else "↑"
    return EventSummary(glyph, rung_text(last.rung.data), active=True)


def _short(data: RungData, gone: RungData) -> str:
    """Leave out arguments that stay the same when a rung is replaced by its other look."""
    same = data.arguments == gone.arguments and data.screen != gone.screen
    return data.screen if same or not argument_words(data) else rung_text(data)


def _small_effect(happened: tuple[LogEntry, ...]) -> EventSummary:
    for happening in happened:
        match happening:
            case log.ArgumentsChanged(_, now):
                return EventSummary("◎", rung_text(now), active=True)
            case log.FactChanged(name, _, now, _):
                return EventSummary("", f"{name} {now}", active=True)
            case log.WentToBackground():
                return EventSummary("○", "goes away", active=True)
            case log.Opened(overlay):
                return EventSummary("", f"opens {overlay}", active=True)
            case log.NoEffect(_, already_here):
                return EventSummary("", "here already" if already_here else "nothing", active=False)
            case _:
                continue
    return EventSummary("", "nothing", active=False)
