"""Running the walks of a plan on a running app, step by step beside the plan, up to the first step where they differ."""

from __future__ import annotations

import asyncio
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.link import messages, wire
from wise_ladder.link.differences import difference, happened_difference, ladders_beside
from wise_ladder.link.report import happenings_of, report_of
from wise_ladder.plan import events
from wise_ladder.plan.steps import event_phrase
from wise_ladder.safe import visible
from wise_ladder.semantics import step
from wise_ladder.walks.expectations import Mismatch
from wise_ladder.walks.running import AppRun, WalkRun, run_walk

if TYPE_CHECKING:
    from wise_ladder.link.app_link import AppLink
    from wise_ladder.plan import Event, Expectation, Plan, Walk
    from wise_ladder.plan.world import Replies
    from wise_ladder.semantics import State, Step

TOLERANCE = 250
"""By how many milliseconds the times of an app may differ whose clock runs by itself."""
_POLL = 0.02
_READS: dict[type, wire.Aspect | None] = {
    events.See: "ladder", events.LadderIs: "ladder", events.DepthIs: "ladder", events.BackLandsOn: "back",
    events.BackLeaves: "back", events.BackAsks: "back", events.AddressIs: "address", events.QuestionIs: "asked",
    events.HeaderButtonIs: "header", events.BarsAre: "bars", events.NeverSaw: "shown", events.SawAtLeast: "shown",
    events.WaitedAtMost: "shown", events.Called: "calls", events.ResultIs: "results", events.ValueIs: "facts",
    events.MemoryAtMost: None, events.FindingIs: None,
}  # fmt: skip
"""What of an app each expectation is about; None for what only a plan knows. Outside and away an app always tells."""


class Stand(NamedTuple):
    """Where the plan says that the app is: the plan on the phone that is meant, and its state."""

    plan: Plan
    state: State


class Compared:
    """An app that goes the same way as its plan."""

    def __init__(self, link: AppLink, welcome: wire.Welcome, *, tolerance: int = TOLERANCE) -> None:
        """Compare what the app tells; `tolerance`: in milliseconds, for an app whose clock cannot be advanced."""
        self.link, self.welcome = link, welcome
        self._tells = frozenset(welcome.tells)
        self._tolerance = 0 if welcome.advances else tolerance
        self._plan_happened: list[wire.Happened] = []
        self._app_happened: list[wire.Happened] = []
        self._report = wire.Report("outside")

    def cannot_do(self, done: list[Event]) -> str:
        """Say which of some events the app cannot be told, nothing if it can be told all."""
        for event in done:
            name = wire.event_name(event)
            if name is not None and name not in self.welcome.does:
                return messages.CANNOT_DO.format(event=event_phrase(event))
        return "" if "ladder" in self.welcome.tells else messages.TELLS_NO_LADDER

    async def begin(self, plan: Plan, given: tuple[tuple[str, str], ...], replies: Replies) -> str:
        """Let the app begin anew as a walk does; return why it cannot, nothing if it can."""
        if not self.welcome.begins:
            return messages.CANNOT_BEGIN_ANEW
        coming: dict[str, list[wire.ComingReply]] = {}
        for call, name in plan.coming(replies):
            outcome = plan.call[call].outcome(name)
            coming.setdefault(call, []).append(wire.ComingReply(name, outcome.takes if outcome else 0))
        facts = {**dict(plan.given.facts), **dict(given)}
        begun = await self.link.begin(wire.Begin(facts, coming, plan.phone if len(plan.phones) > 1 else ""))
        self._plan_happened, self._app_happened = [], []
        lacks = visible(", ".join(begun.lacks), lines=False)
        return messages.CANNOT_BEGIN.format(what=lacks) if lacks else ""

    async def follow(self, before: Stand, event: Event, done: Step) -> str:
        """Do an event that the plan has done; return where plan and app differ then, nothing if they do not."""
        return visible(await self._follow(before, event, done), lines=False)

    async def _follow(self, before: Stand, event: Event, done: Step) -> str:
        time = event.time if isinstance(event, events.Wait) else done.state.clock - before.state.clock
        await self._pass(time)
        if not isinstance(event, events.Wait):
            answer = await self.link.do(event)
            if not answer.done:
                self._report = await self.link.where()
                return messages.APP_REFUSED.format(why=answer.why) if answer.why else messages.APP_REFUSED_PLAINLY
        self._plan_happened += happenings_of(before.state, done)
        return await self._compared(before._replace(state=done.state))

    def tells(self, expected: Expectation) -> bool:
        """Whether the app tells what an expectation is about."""
        if isinstance(expected, (events.Outside, events.Away)):
            return True
        if isinstance(expected, events.ValueIs):
            held = [self._report.facts or {}, *(rung.facts or {} for rung in _all_rungs(self._report.ladder or []))]
            return any(expected.fact in facts for facts in held)
        return _READS[type(expected)] in self._tells

    def beside(self, stand: Stand) -> tuple[str, ...]:
        """Draw the plan's ladder beside the app's, as the app told it last."""
        return tuple(visible(line, lines=False) for line in ladders_beside(report_of(*stand), self._report))

    async def _pass(self, time: int) -> None:
        if time and self.welcome.advances:
            await self.link.advance(time)
        elif time:
            await asyncio.sleep(time / 1000)

    async def _compared(self, stand: Stand) -> str:
        """Compare what the app tells now. If its clock runs by itself it may be a little late, or a little early."""
        words, late = await self._difference(stand), 0.0
        while words and late * 1000 < self._tolerance:
            if not difference(report_of(stand.plan, self._later(stand)), self._report):
                return ""
            await asyncio.sleep(_POLL)
            words, late = await self._difference(stand), late + _POLL
        return words

    def _later(self, stand: Stand) -> State:
        return step(stand.plan, stand.state, events.Wait(self._tolerance)).state

    async def _difference(self, stand: Stand) -> str:
        self._report = await self.link.where()
        self._app_happened += self.link.happened()
        words = difference(report_of(*stand), self._report)
        if words:
            return words
        ours, theirs = self._plan_happened, self._app_happened
        if self._tolerance:
            # Something may have come a little early or late; it is compared once both have it.
            both = min(len(ours), len(theirs))
            ours, theirs = ours[:both], theirs[:both]
        words = happened_difference(ours, theirs, self._tells, self._tolerance)
        if not words:
            self._plan_happened, self._app_happened = self._plan_happened[len(ours) :], self._app_happened[len(theirs) :]
        return words


def _all_rungs(ladder: list[wire.RungReport]) -> list[wire.RungReport]:
    inner = [rung.inside or [] for rung in ladder] + [rungs for rung in ladder for rungs in (rung.tabs or {}).values()]
    return [*ladder, *(each for rungs in inner for each in _all_rungs(rungs))]


async def run_against(plan: Plan, walk: Walk, app: Compared) -> WalkRun:
    """Run a walk on plan and app; raises LinkError if the app cannot be asked any more."""
    run, plan = run_walk(plan, walk), plan.for_walk(walk)
    lines = [line for line in run.played if not isinstance(line.line.what, events.StartFrom)]
    why = app.cannot_do([line.line.what for line in lines if isinstance(line.line.what, events.Event)])
    why = why or await app.begin(plan, walk.given, walk.replies)
    if why:
        return run._replace(failed=None, cause=None, app=AppRun(0, len(lines), why))
    compared, state = 0, run.first
    for place, line in enumerate(run.played[: run.failed]):
        what = line.line.what
        if not isinstance(what, events.Event) or line.step is None:
            compared += not isinstance(what, (events.Event, events.StartFrom)) and app.tells(what)
            continue
        words = await app.follow(Stand(plan, state), what, line.step)
        state = line.state
        if words:
            played = (*run.played[:place], line._replace(unmet=Mismatch(words)), *run.played[place + 1 :])
            beside = app.beside(Stand(plan, state))
            return WalkRun(walk, run.first, played, place, None, AppRun(compared, len(lines), beside=beside))
        compared += 1
    return run._replace(app=AppRun(compared, len(lines)))
