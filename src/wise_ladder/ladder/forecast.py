"""Looking ahead: what each way out would do now, and the whole row of Backs down to the ground.

A forecast is `step` on a copy; there is no other reading of what Back does.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias

from wise_ladder.ladder.state import Phase, depth, rungs_beneath, top_of, without_time
from wise_ladder.ladder.step import Step, step
from wise_ladder.plan import events

if TYPE_CHECKING:
    from wise_ladder.ladder.state import Face, State
    from wise_ladder.plan.events import Event
    from wise_ladder.plan.model import Plan

Outcome: TypeAlias = Literal["lands", "stays", "leaves", "goes away", "refused"]


class Forecast(NamedTuple):
    """What an event would do: where it ends, on which rung (its serial with it), and the step itself."""

    event: Event
    outcome: Outcome
    face: Face | None
    serial: int
    step: Step


class Descent(NamedTuple):
    """The Backs from here down; `end` is where the last one leads, a trap where no Back ever gets out."""

    hops: tuple[Forecast, ...]
    end: Literal["ground", "background", "trap"]


def forecast(plan: Plan, state: State, event: Event) -> Forecast:
    """Say what an event would do, by doing it on a copy; no time passes."""
    done = step(plan, state, event)
    top = top_of(done.state)
    return Forecast(event, _outcome(state, done), top.face if top else None, top.serial if top else 0, done)


def _outcome(before: State, done: Step) -> Outcome:
    if done.refused is not None:
        return "refused"
    if done.state.phase is Phase.OUTSIDE:
        return "leaves"
    if done.state.phase is Phase.AWAY:
        return "goes away"
    was, now = top_of(before), top_of(done.state)
    return "stays" if was is not None and now is not None and was.serial == now.serial else "lands"


def descent(plan: Plan, state: State) -> Descent:
    """Press Back until the ground, or until a state comes back that was there before: a trap."""
    hops: list[Forecast] = []
    met = {without_time(state)}
    most = depth(state) + 64
    while state.phase is Phase.OPEN and len(hops) < most:
        hop = forecast(plan, state, events.Back())
        hops.append(hop)
        state = hop.step.state
        if state.phase is Phase.OPEN:
            seen = without_time(state)
            if seen in met:
                break
            met.add(seen)
    if state.phase is Phase.OPEN:
        return Descent(tuple(hops), "trap")
    return Descent(tuple(hops), "ground" if state.phase is Phase.OUTSIDE else "background")


def leads_back(before: State, found: Forecast) -> bool:
    """Whether an event goes down: it lands on a rung that lay beneath, or out of the app."""
    if found.outcome in {"leaves", "goes away"}:
        return True
    top = top_of(before)
    beneath = {rung.serial for rung in rungs_beneath(before.ladder) if top is None or rung.serial != top.serial}
    return found.outcome == "lands" and found.serial in beneath
