"""The gesture of Back: what it promises when it is begun, and whether that is what happens when it is finished."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.semantics.log import Blocked
from wise_ladder.semantics.state import Phase, Promise, all_rungs, visible_top

if TYPE_CHECKING:
    from collections.abc import Sequence

    from wise_ladder.plan.model import Plan
    from wise_ladder.semantics.log import LogEntry
    from wise_ladder.semantics.state import BackOutcome, State


def outcome_of(before: State, after: State, happened: Sequence[LogEntry]) -> BackOutcome:
    """Say what kind of thing a way back did."""
    if after.phase is Phase.OUTSIDE:
        return "leaves"
    if after.phase is Phase.AWAY:
        return "goes away"
    if after.question is not None and after.question != before.question:
        return "asks"
    if any(isinstance(happening, Blocked) for happening in happened):
        return "blocked"
    was, now = visible_top(before), visible_top(after)
    if was is None or now is None or was.serial != now.serial:
        return "lands"
    closes = before.question is not None or _overlays(after) < _overlays(before)
    return "closes" if closes else "stays"


def _overlays(state: State) -> int:
    return len(state.overlays) + sum(len(rung.overlays) for rung in all_rungs(state.ladder))


def promise_of(plan: Plan, before: State, after: State, happened: Sequence[LogEntry]) -> Promise:
    """Return what a Back that leads from a state to another one is, as far as it is shown before: where it lands, who asks."""
    outcome = outcome_of(before, after, happened)
    if outcome == "asks" and after.question is not None:
        return Promise(outcome, plan.guard[after.question.guard].name)
    top = visible_top(after)
    return Promise(outcome, top.data.screen, top.data.arguments) if outcome == "lands" and top is not None else Promise(outcome)
