"""A run along its clock: what was seen when, what lay over it, which timers and calls ran, how deep and how heavy it was."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias

from wise_ladder.plan.events import Wait
from wise_ladder.plan.rule import Rule
from wise_ladder.plan.steps import event_text
from wise_ladder.semantics import log, step
from wise_ladder.semantics.state import Phase, all_rungs, depth
from wise_ladder.semantics.text import duration_text, log_text, rung_text
from wise_ladder.semantics.weight import weight
from wise_ladder.walks import messages
from wise_ladder.walks.seen import FLASH, goes_by_itself

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

    from wise_ladder.plan import Event, Plan
    from wise_ladder.semantics import State, Step
    from wise_ladder.semantics.state import Deadline, PendingCall
    from wise_ladder.walks.tape import Tape

LaneKind: TypeAlias = Literal["cover", "screen", "ground", "overlay", "question", "timer", "call"]
LANES: tuple[LaneKind, ...] = ("cover", "screen", "ground", "overlay", "question", "timer", "call")
"""The kinds of lanes, in the order in which they are drawn."""
LANE_GLYPHS: dict[LaneKind, str] = {"question": "◆", "timer": "◷", "call": "◔"}
_TIMERS = {"on ladder", "shown", "whatever happens", "overlay", "cover least", "cover most", "of the app"}
"""The deadlines that a plan speaks of; frames and replies are shown by what they do."""


class Moment(NamedTuple):
    """Something that happened at an instant: when, in milliseconds, in which step of the tape, and the state after it."""

    time: int
    number: int
    event: Event
    state: State
    log: tuple[log.LogEntry, ...]


class Stretch(NamedTuple):
    """Something that lasted: on which lane, from when to when in milliseconds, and how it ended; `open`: it has not.

    `first` and `last` are the moments at which it began and ended, counted from 1; 0: it was there before all. What a user does
    takes no time, so moments tell more apart than the clock. `flash`: it was seen, and went by itself before it could be read.
    """

    kind: LaneKind
    lane: str
    words: str
    since: int
    until: int
    first: int
    last: int
    ended: str = ""
    open: bool = False
    flash: bool = False
    fulfilled: bool = False
    """Whether a timer fell due or a call was answered. False if it was stopped, cancelled or lost."""

    @property
    def time(self) -> int:
        """How long it lasted, in milliseconds."""
        return self.until - self.since

    @property
    def label(self) -> str:
        """What is written at it: the arguments of a screen, how long it lasted, and how it ended."""
        time = duration_text(self.time) if self.time else ""
        if self.flash:
            return messages.FLASH.format(time=time)
        match self.kind:
            case "timer" | "call":
                return f"{time} {self.ended}".strip()
            case "question":
                return ", ".join(filter(None, (time, self.ended)))
            case "screen":
                return f"{self.words.removeprefix(self.lane).strip()} {time}".strip()
            case _:
                return time


class Tick(NamedTuple):
    """Where a step of the tape begins: after which moment, its number from 1, and what it does."""

    moment: int
    number: int
    words: str


class Reading(NamedTuple):
    """How deep and how heavy the app is from a moment on, counted from 1, 0: before all; in rungs and bytes."""

    moment: int
    depth: int
    weight: int


class Lane(NamedTuple):
    """What lasted of one kind and one name, in order."""

    kind: LaneKind
    name: str
    stretches: tuple[Stretch, ...]


class Timeline(NamedTuple):
    """All that is to be seen of a run along its clock, from its first state until `until` milliseconds."""

    plan: Plan
    first: State
    until: int
    lanes: tuple[Lane, ...]
    """By their kinds, those of one kind by what came first."""
    ticks: tuple[Tick, ...]
    readings: tuple[Reading, ...]
    moments: tuple[Moment, ...]

    @property
    def stretches(self) -> list[Stretch]:
        """All that lasted."""
        return [stretch for lane in self.lanes for stretch in lane.stretches]


def timeline(tape: Tape) -> Timeline:
    """Lay a tape out along its clock."""
    moments = tuple(_moments(tape))
    end = tape.state_at(len(tape.entries))
    states = [tape.first, *(moment.state for moment in moments)]
    plan, first = tape.plan, tape.first
    stretches = [*_seen(plan, moments, end), *_over(plan, first, moments), *_timers(plan, first, moments), *_calls(moments)]
    places = {moment.number: place for place, moment in reversed([*enumerate(moments)])}
    ticks = tuple(Tick(places[number], number, event_text(entry.event)) for number, entry in enumerate(tape.entries, 1))
    readings = tuple(Reading(number, depth(state), weight(plan, state)) for number, state in enumerate(states))
    return Timeline(plan, first, end.clock, tuple(_lanes(stretches)), ticks, readings, moments)


def _lanes(stretches: list[Stretch]) -> Iterator[Lane]:
    grouped: dict[tuple[LaneKind, str], list[Stretch]] = {}
    for each in sorted(stretches, key=lambda each: (LANES.index(each.kind), each.since, each.first)):
        grouped.setdefault((each.kind, each.lane), []).append(each)
    yield from (Lane(kind, name, tuple(some)) for (kind, name), some in grouped.items())


def parts_of(plan: Plan, before: State, event: Event) -> Iterator[Step]:
    """Go through what an event does: a wait in as many parts as there are moments at which something falls due in it."""
    if isinstance(event, Wait):
        until = before.clock + event.time
        while before.deadlines and before.deadlines[0].due < until:
            part = step(plan, before, Wait(max(before.deadlines[0].due - before.clock, 0)))
            if part.state == before:
                break
            before = part.state
            yield part
        event = Wait(until - before.clock)
    yield step(plan, before, event)


def inside_of(plan: Plan, before: State, event: Event) -> list[tuple[int, str]]:
    """List what happens inside a wait, each with its moment on the clock; nothing for other events."""
    parts = parts_of(plan, before, event) if isinstance(event, Wait) else ()
    return [(part.state.clock, words) for part in parts if (words := log_text(part.log))]


def _moments(tape: Tape) -> Iterator[Moment]:
    state = tape.first
    for number, (event, done) in enumerate(tape.entries, 1):
        parts = parts_of(tape.plan, state, event) if isinstance(event, Wait) else (done,)
        yield from (Moment(part.state.clock, number, event, part.state, part.log) for part in parts)
        state = done.state


def _seen(plan: Plan, moments: Sequence[Moment], end: State) -> Iterator[Stretch]:
    phase, first = Phase.OUTSIDE, 0
    for number, moment in enumerate(moments, 1):
        for happening in moment.log:
            if isinstance(happening, log.SeenFor):
                stretch, first = _stretch_of(happening, phase, first, number), number
                by_itself = stretch.kind == "screen" and goes_by_itself(moment.event)
                yield stretch._replace(flash=by_itself and stretch.time < flash_limit(plan, stretch.lane))
        phase = moment.state.phase
    since = log.SeenFor(end.seen.data, end.seen.since, end.clock, end.seen.waiting)
    yield _stretch_of(since, end.phase, first, len(moments))._replace(open=True)


def flash_limit(plan: Plan, screen: str) -> int:
    """Return how many milliseconds a screen must be seen to be no flash: as the rules of the plan say, else 300."""
    rules = (rule for rule in plan.rules if isinstance(rule, Rule) and rule.name == "no flash" and rule.limit is not None)
    return max((rule.limit or 0 for rule in rules if not rule.screens or screen in rule.screens), default=FLASH)


def _stretch_of(saw: log.SeenFor, phase: Phase, first: int, last: int) -> Stretch:
    if saw.look == "cover":
        return Stretch("cover", messages.COVER, messages.COVER, saw.since, saw.until, first, last)
    if saw.data is None:
        words = messages.NOT_IN_FRONT.get(phase, messages.GROUND)
        return Stretch("ground", messages.GROUND, words, saw.since, saw.until, first, last)
    return Stretch("screen", saw.data.screen, rung_text(saw.data), saw.since, saw.until, first, last)


def _over(plan: Plan, first: State, moments: Sequence[Moment]) -> Iterator[Stretch]:
    """Go through what lay over the screens: overlays, and questions."""
    began: dict[tuple[LaneKind, str, int], tuple[int, int]] = {}
    for number, moment in enumerate(moments, 1):
        now = set(_lies_over(plan, moment.state))
        for key in [key for key in began if key not in now]:
            since, begin = began.pop(key)
            yield Stretch(key[0], key[1], key[1], since, moment.time, begin, number, _how_gone(key, moment))
        for key in sorted(now - began.keys()):
            began[key] = moment.time, number
    end = moments[-1].time if moments else first.clock
    for (kind, name, _), (since, begin) in began.items():
        yield Stretch(kind, name, name, since, end, begin, len(moments), open=True)


def _lies_over(plan: Plan, state: State) -> Iterator[tuple[LaneKind, str, int]]:
    for layer in (*state.overlays, *(layer for rung in all_rungs(state.ladder) for layer in rung.overlays)):
        yield "overlay", layer.name, layer.serial
    if state.question is not None:
        yield "question", plan.guard[state.question.guard].name, state.question.serial


def _how_gone(key: tuple[LaneKind, str, int], moment: Moment) -> str:
    answers = [happening.answer for happening in moment.log if isinstance(happening, log.Answered)]
    if key[0] == "question":
        return answers[-1] if answers else messages.UNANSWERED
    closed = [each for each in moment.log if isinstance(each, log.Closed) and each.overlay == key[1]]
    return messages.BY_ITSELF if closed and closed[-1].by_itself else ""


def _timers(plan: Plan, first: State, moments: Sequence[Moment]) -> Iterator[Stretch]:
    running: dict[Deadline, tuple[str, int]] = {}
    for number, moment in enumerate(moments, 1):
        now = {timer for timer in moment.state.deadlines if timer.kind in _TIMERS}
        for timer in [timer for timer in running if timer not in now]:
            fired = moment.time >= timer.due
            ended = messages.FIRED if fired else messages.STOPPED
            stretch = _timer(timer, running.pop(timer), min(moment.time, timer.due), number)
            yield stretch._replace(ended=ended, fulfilled=fired)
        for timer in sorted(now - running.keys()):
            running[timer] = _whose(plan, moment.state, timer), number
    end = moments[-1].time if moments else first.clock
    yield from (_timer(timer, begun, end, len(moments))._replace(open=True) for timer, begun in running.items())


def _timer(timer: Deadline, begun: tuple[str, int], until: int, last: int) -> Stretch:
    return Stretch("timer", begun[0], duration_text(timer.after), timer.due - timer.after, until, begun[1], last)


def _whose(plan: Plan, state: State, timer: Deadline) -> str:
    """Name what a timer belongs to."""
    if timer.kind in {"cover least", "cover most"}:
        return timer.kind
    if timer.data is not None:
        return timer.data.screen
    rungs = list(all_rungs(state.ladder))
    layers = [*state.overlays, *(layer for rung in rungs for layer in rung.overlays)]
    names = {rung.serial: rung.data.screen for rung in rungs} | {layer.serial: layer.name for layer in layers}
    return names.get(timer.serial, plan.app)


def _calls(moments: Sequence[Moment]) -> Iterator[Stretch]:
    running: dict[tuple[str, int, int], tuple[PendingCall, int]] = {}
    for number, moment in enumerate(moments, 1):
        now = {(call.name, call.number, call.started): call for call in moment.state.calls}
        for key in [key for key in running if key not in now]:
            call, begin = running.pop(key)
            ended, fulfilled = _what_came(call, moment)
            stretch = Stretch("call", call.name, call.name, call.started, moment.time, begin, number, ended)
            yield stretch._replace(fulfilled=fulfilled)
        running |= {key: (call, number) for key, call in now.items() if key not in running}
    for call, begin in running.values():
        yield Stretch("call", call.name, call.name, call.started, moments[-1].time, begin, len(moments), open=True)


def _what_came(call: PendingCall, moment: Moment) -> tuple[str, bool]:
    """Say what became of a call, and whether somebody got its reply."""
    told = messages.LOST, False
    for happening in moment.log:
        match happening:
            case log.Replied(name, outcome) if name == call.name:
                told = outcome, True
            case log.ReplyDropped(name, outcome) if name == call.name:
                told = messages.CAME_FOR_NOBODY.format(outcome=outcome), False
            # It is told after the reply that the screen was gone that had a use for it.
            case log.Finding("reply to a gone screen"):
                told = messages.CAME_FOR_NOBODY.format(outcome=told[0]), False
            case log.CallDropped(name) if name == call.name:
                told = messages.CANCELLED, False
            case _:
                pass
    return told
