"""What a walk expects, held against the state that is there and what was met on the way."""

from __future__ import annotations

from dataclasses import dataclass, field
from dataclasses import replace as copied
from typing import TYPE_CHECKING, NamedTuple

from msgspec.structs import replace

from wise_ladder.plan import events
from wise_ladder.plan.steps import quoted, with_arguments
from wise_ladder.plan.tokens import size_phrase
from wise_ladder.plan.values import value_words
from wise_ladder.semantics import Phase, forecast
from wise_ladder.semantics.log import CallMade, Finding, ResultCame, SeenFor
from wise_ladder.semantics.shared_address import shared_address
from wise_ladder.semantics.state import depth, fact_value, open_layers, visible_path, visible_screens, visible_top
from wise_ladder.semantics.text import duration_text, rung_text
from wise_ladder.semantics.weight import weight

if TYPE_CHECKING:
    from wise_ladder.plan import Expectation, Plan
    from wise_ladder.plan.model import HeaderButton
    from wise_ladder.plan.values import ResultValue
    from wise_ladder.semantics import Forecast, Rung, RungData, State, Step


class Mismatch(NamedTuple):
    """Why an expectation does not hold; `place` is the lowest rung that differs, from 0, where the ladder is to blame."""

    words: str
    place: int | None = None


@dataclass(slots=True)
class Observations:
    """What was met since a walk began: screens seen, results that came, findings."""

    saw: set[str] = field(default_factory=set)
    got: dict[str, ResultValue | None] = field(default_factory=dict)
    findings: list[str] = field(default_factory=list)
    called: dict[str, int] = field(default_factory=dict)
    longest: dict[str, int] = field(default_factory=dict)
    """For how long each screen was seen at a stretch, in milliseconds."""
    waited: int = 0
    """For how long the cover or a wait overlay was seen."""
    heaviest: int = 0
    """What all rungs together weighed at most."""
    _going_on: tuple[str, int] = ("", 0)
    """The screen that was seen last, and since when."""

    def note(self, plan: Plan, done: Step) -> None:
        """Take what a step brought."""
        for happening in done.log:
            if isinstance(happening, SeenFor):
                self._seen(happening)
            elif isinstance(happening, CallMade):
                self.called[happening.call] = self.called.get(happening.call, 0) + 1
            elif isinstance(happening, ResultCame):
                self.got[happening.name] = happening.value
            elif isinstance(happening, Finding):
                self.findings.append(happening.name)
        self.heaviest = max(self.heaviest, weight(plan, done.state))

    def up_to(self, state: State) -> Observations:
        """Return what was met with the stretch that is not over yet."""
        now = copied(self, saw=set(self.saw), longest=dict(self.longest))
        now._seen(SeenFor(state.seen.data, state.seen.since, state.clock, state.seen.waiting))  # noqa: SLF001 - its own kind
        return now

    def _seen(self, saw: SeenFor) -> None:
        if saw.look:
            self.waited += saw.until - saw.since
        if saw.data is None:
            return
        screen = saw.data.screen
        self.saw.add(screen)
        since = self._going_on[1] if self._going_on[0] == screen else saw.since
        self._going_on = (screen, since)
        self.longest[screen] = max(self.longest.get(screen, 0), saw.until - since)


def check_expectation(plan: Plan, state: State, expected: Expectation, met: Observations) -> Mismatch | None:
    """Return why an expectation does not hold, or None if it does."""
    met = met.up_to(state)
    match expected:
        case events.See():
            return _see(state, expected)
        case events.LadderIs(rungs):
            return _ladder(plan, state, rungs)
        case events.DepthIs(rungs):
            now = depth(state)
            return None if now == rungs else Mismatch(f"the depth is {now}", min(now, rungs))
        case events.AddressIs(address):
            shared = shared_address(plan, state)
            now_is = f"the address is {shared}" if shared else "this place has no address"
            return None if (shared or "") == address else Mismatch(now_is)
        case events.Outside():
            return None if state.phase is Phase.OUTSIDE else Mismatch(_standing(state))
        case events.Away():
            return None if state.phase is Phase.AWAY else Mismatch(_standing(state))
        case events.BackLandsOn() | events.BackLeaves() | events.BackAsks():
            return _back(plan, state, expected)
        case _:
            words = _told(plan, state, expected, met)
            return None if words is None else Mismatch(words)


def _told(plan: Plan, state: State, expected: Expectation, met: Observations) -> str | None:
    """Hold an expectation that has nothing to do with the ladder; return what is there instead."""
    match expected:
        case events.ValueIs(fact, value):
            now = fact_value(plan, state, fact)
            if now is None:
                return f"{_standing(state)}, which holds no {fact}"
            return None if now == value else f"{fact} is {now}"
        case events.NeverSaw(screen):
            return f"{screen} was seen" if screen in met.saw else None
        case events.SawAtLeast(screen, time):
            longest = met.longest.get(screen)
            if longest is None:
                return f"{screen} was never seen"
            return None if longest >= time else f"{screen} was seen for {duration_text(longest)}"
        case events.Called(call, times):
            made = met.called.get(call, 0)
            return None if made == times else f"{call} was made {made} time{'' if made == 1 else 's'}"
        case events.WaitedAtMost(time):
            return None if met.waited <= time else f"the wait was {duration_text(met.waited)}"
        case events.MemoryAtMost(size):
            return None if met.heaviest <= size else f"the rungs weighed {size_phrase(met.heaviest)}"
        case events.QuestionIs(guard):
            asks = plan.guard[state.question.guard].name if state.question else ""
            return None if asks == guard else f"{asks} asks" if asks else "no question is open"
        case events.ResultIs(name, value):
            if name not in met.got:
                return f"no {name} came"
            got = met.got[name]
            same = got == value or (isinstance(got, tuple) and isinstance(value, tuple) and set(value) <= set(got))
            return None if same else f"{name} was {'cancelled' if got is None else value_words(got)}"
        case events.HeaderButtonIs(button):
            shown = header_button(plan, state)
            return None if shown == button else f"the header shows {shown}"
        case events.BarsAre(shown):
            good = state.bars == (shown, shown)
            top, bottom = ("shown" if bar else "hidden" for bar in state.bars)
            return None if good else f"the top bar is {top}, the bottom bar {bottom}"
        case events.FindingIs(name):
            if not name:
                return f"a finding: {met.findings[0]}" if met.findings else None
            return None if name in met.findings else f"findings: {', '.join(dict.fromkeys(met.findings)) or 'none'}"
        case _:
            raise AssertionError(f"{expected} is shown elsewhere")


def header_button(plan: Plan, state: State) -> HeaderButton:
    """Return what the header shows: arrow, menu or none; an arrow only if it leads somewhere."""
    top = visible_top(state)
    if state.phase is not Phase.OPEN or state.cover or top is None:
        return "none"
    header = plan.screen[top.data.screen].header
    if (
        header == "arrow"
        and forecast(plan, replace(state, question=None, begun=None), events.HeaderBack()).outcome == "refused"
    ):
        return "none"
    return header


def fits(data: RungData, wanted: events.See) -> bool:
    """Whether a rung is what is wanted; arguments that are not named may be anything."""
    return data.screen == wanted.screen and all(argument in data.arguments for argument in wanted.arguments)


def _see(state: State, wanted: events.See) -> Mismatch | None:
    path = visible_path(state.ladder) if state.phase is Phase.OPEN and not state.cover else []
    if path and (fits(path[-1].data, wanted) or any(name == wanted.screen for _, name, _ in open_layers(state.overlays, path))):
        return None
    return Mismatch(_standing(state), max(depth(state) - 1, 0))


def _ladder(plan: Plan, state: State, wanted: tuple[events.See, ...]) -> Mismatch | None:
    if state.phase is not Phase.OPEN:
        return Mismatch(_standing(state))
    if any(want.inside is not None or plan.screen[want.screen].inside for want in wanted):
        return _nested(plan, state.ladder, wanted)
    rungs = visible_screens(state.ladder)
    for place, (rung, want) in enumerate(zip(rungs, wanted, strict=False)):
        if not fits(rung.data, want):
            return Mismatch(f"rung {place + 1} is {rung_text(rung.data)}", place)
    return _count(len(rungs), len(wanted))


def _count(actual: int, wanted: int) -> Mismatch | None:
    if actual == wanted:
        return None
    return Mismatch(f"{abs(actual - wanted)} {'more' if actual > wanted else 'fewer'} on the ladder", min(actual, wanted))


def _nested(plan: Plan, ladder: tuple[Rung, ...], wanted: tuple[events.See, ...]) -> Mismatch | None:
    for rung, want in zip(ladder, wanted, strict=False):
        if not fits(rung.data, want):
            return Mismatch(f"{rung_text(rung.data)} is there, not {want.screen}")
        if want.inside is None:
            continue
        front = plan.screen[rung.data.screen].inside[rung.data.tab_order[-1]][0] if rung.inner else ""
        if want.tab and front != want.tab:
            return Mismatch(f"the tab {front} is in front")
        inner = _nested(plan, rung.front, want.inside)
        if inner is not None:
            return inner
    mismatch = _count(len(ladder), len(wanted))
    return None if mismatch is None else Mismatch(mismatch.words)


def _standing(state: State) -> str:
    if state.phase is Phase.OUTSIDE:
        return "the app is not running"
    if state.phase is Phase.AWAY:
        return "the app is in the background"
    if state.phase is Phase.KILLED:
        return "the app was killed"
    if state.cover:
        return "the cover is up"
    top = visible_top(state)
    return f"you stand on {rung_text(top.data if top else None)}"


def _back(plan: Plan, state: State, expected: events.BackLandsOn | events.BackLeaves | events.BackAsks) -> Mismatch | None:
    known = forecast(plan, state, events.Back())
    match expected:
        case events.BackLandsOn(rung):
            good = known.outcome == "lands" and known.data is not None and fits(known.data, rung)
        case events.BackLeaves():
            good = known.outcome == "leaves"
        case events.BackAsks(guard):
            question = known.step.state.question
            good = known.outcome == "asks" and question is not None and plan.guard[question.guard].name == guard
    return None if good and known.certain else Mismatch(back_words(known))


def back_words(known: Forecast) -> str:
    """Say what Back would do."""
    where = rung_text(known.data)
    words = {
        "lands": f"land on {where}",
        "stays": f"stay on {where}",
        "closes": f"close what is over {where}",
        "asks": f"ask “{known.question}”",
        "blocked": f"be blocked on {where}",
        "leaves": "leave the app",
        "goes away": "put the app in the background",
        "refused": f"do nothing: {known.step.refused}",
    }[known.outcome]
    return f"Back would {words}" + ("" if known.certain else ", but that is not known before the press")


def state_phrase(plan: Plan, state: State) -> str:
    """Write a state as what a walk expects: an open question, the ladder, or that the app is outside or away."""
    if state.phase is Phase.OUTSIDE:
        return "outside"
    if state.phase is Phase.AWAY:
        return "away"
    if state.phase is Phase.KILLED or state.cover:
        return "not asked"
    if state.question is not None:
        return f"asked {quoted(plan.guard[state.question.guard].name)}"
    faces = (rung.data for rung in visible_screens(state.ladder))
    return "ladder " + " > ".join(with_arguments(data.screen, data.arguments) for data in faces)
