"""What an app that behaves as the plan says would tell: the plan's side of a comparison, and the stand-in's answers."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import UNSET

from wise_ladder.link import wire
from wise_ladder.plan import events
from wise_ladder.semantics import Phase, forecast
from wise_ladder.semantics.log import CallMade, ResultCame, SeenFor
from wise_ladder.semantics.shared_address import shared_address
from wise_ladder.walks.expectations import header_button

if TYPE_CHECKING:
    from msgspec import UnsetType

    from wise_ladder.plan import Plan
    from wise_ladder.plan.values import ResultValue, Value
    from wise_ladder.semantics import Rung, RungData, State, Step
    from wise_ladder.semantics.state import OverlayInstance, WaitKind


def report_of(plan: Plan, state: State) -> wire.Report:
    """Tell everything of a state."""
    open_now = state.phase is Phase.OPEN
    return wire.Report(
        phase=state.phase.value,
        cover=open_now and state.cover if plan.cover is not None else UNSET,
        ladder=[_rung(plan, rung) for rung in state.ladder],
        over=[_overlay(each) for each in state.overlays],
        asked=plan.guard[state.question.guard].name if state.question else None,
        facts={fact.name: str(value) for fact, value in zip(plan.facts, state.facts, strict=True)},
        bars=state.bars,
        header=header_button(plan, state),
        address=shared_address(plan, state),
        back=_back(plan, state) if open_now else UNSET,
    )


def _rung(plan: Plan, rung: Rung) -> wire.RungReport:
    screen = plan.screen[rung.data.screen]
    report = wire.RungReport(
        rung.data.screen, dict(rung.data.arguments), dict(rung.data.facts), [_overlay(each) for each in rung.overlays]
    )
    ladders = [[_rung(plan, inner) for inner in ladder] for ladder in rung.inner]
    if screen.tabs:
        names = [name for name, _ in screen.inside]
        report.tab, report.tabs = names[rung.data.tab_order[-1]], dict(zip(names, ladders, strict=True))
    elif ladders:
        report.inside = ladders[0]
    return report


def _overlay(overlay: OverlayInstance) -> wire.Over:
    return wire.Over(overlay.name, dict(overlay.facts))


def _back(plan: Plan, state: State) -> wire.BackReport | UnsetType:
    known = forecast(plan, state, events.Back())
    if known.outcome == "refused" or not known.certain:
        return UNSET
    lands = known.outcome in {"lands", "stays"} and known.data is not None
    question = known.step.state.question if known.outcome == "asks" else None
    return wire.BackReport(
        known.outcome,
        known.data.screen if lands and known.data else UNSET,
        dict(known.data.arguments) if lands and known.data else UNSET,
        plan.guard[question.guard].name if question else UNSET,
    )


def happenings_of(before: State, done: Step) -> list[wire.Happened]:
    """Tell what a step brought: calls, results, and what is seen from when on; what is seen for no time is left out."""
    found: list[wire.Happened] = []
    stretches = [entry for entry in done.log if isinstance(entry, SeenFor)]
    for entry in done.log:
        if isinstance(entry, CallMade):
            found.append(wire.Happened("called", done.state.clock, name=entry.call))
        elif isinstance(entry, ResultCame):
            found.append(wire.Happened("result", done.state.clock, name=entry.name, value=_value(entry.value)))
    # The first stretch that ended is the one that was seen before the step.
    found += [_shown(each.data, each.look, each.since) for each in stretches[1:] if each.since < each.until]
    seen = done.state.seen
    if seen != before.seen:
        found.append(_shown(seen.data, seen.waiting, seen.since))
    return found


def _shown(data: RungData | None, waiting: WaitKind, since: int) -> wire.Happened:
    return wire.Happened("shown", since, screen=data.screen if data else None, waiting=waiting)


def _value(value: ResultValue | None) -> Value | dict[str, Value] | None:
    return dict(value) if isinstance(value, tuple) else value
