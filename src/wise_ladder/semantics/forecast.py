"""Looking ahead: what each way out would do now, and the whole row of Backs down to the ground.

A forecast is `step` on a copy; there is no other reading of what Back does.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias

from msgspec.structs import replace

from wise_ladder.plan import events
from wise_ladder.semantics.decide_back import STAYS_AT_ROOT
from wise_ladder.semantics.promises import outcome_of
from wise_ladder.semantics.serials import timeless
from wise_ladder.semantics.state import BackOutcome, Phase, all_rungs, depth, visible_rungs, visible_top
from wise_ladder.semantics.step import step

if TYPE_CHECKING:
    from wise_ladder.plan.events import Event
    from wise_ladder.plan.model import Plan
    from wise_ladder.semantics.log import Step
    from wise_ladder.semantics.state import RungData, State

MAX_BACKS = 64
"""So many Backs more than there are rungs are tried before it is a trap."""
ForecastKind: TypeAlias = BackOutcome | Literal["refused"]


class Forecast(NamedTuple):
    """What an event would do: where it ends, on which rung (its serial with it), and the step itself."""

    event: Event
    outcome: ForecastKind
    data: RungData | None
    serial: int
    step: Step
    question: str = ""
    """What is asked on the way; in a descent it is answered by the first answer that goes on."""
    certain: bool = True
    """Whether it is known before the press."""


class Descent(NamedTuple):
    """The Backs from here down; `end` is where the last one leads, a trap if no number of Backs gets out.

    Root: on this phone Back does nothing there. No Back: the phone has none. Further: nobody looked where the next one leads.
    """

    hops: tuple[Forecast, ...]
    end: Literal["ground", "background", "root", "trap", "no Back", "further"]
    until: tuple[str, ...] = ()
    """For a trap: the pending calls whose reply may open it."""


def forecast(plan: Plan, state: State, event: Event) -> Forecast:
    """Say what an event would do, by doing it on a copy; no time passes. A gesture of Back that was begun is that Back."""
    if isinstance(event, events.Back):
        state = _not_begun(state)
    done = step(plan, state, event)
    return _told(plan, state, event, done, sure=not isinstance(event, events.Back) or _sure(plan, state, event, done))


def _not_begun(state: State) -> State:
    return state if state.begun is None else replace(state, begun=None)


def _told(plan: Plan, before: State, event: Event, done: Step, *, sure: bool, question: str = "") -> Forecast:
    top = visible_top(done.state)
    outcome = _outcome(before, done)
    if outcome == "asks" and done.state.question is not None:
        question = plan.guard[done.state.question.guard].text
    return Forecast(event, outcome, top.data if top else None, top.serial if top else 0, done, question, sure)


def _sure(plan: Plan, state: State, back: events.Back, done: Step) -> bool:
    """Whether no guard that decides only at the press could take this Back: each is tried."""
    takers = {guard.name for guard in plan.guard.values() if guard.at_press} - {back.taken_by}
    return all(
        _apart_from_event(step(plan, state, events.Back(name)).state) == _apart_from_event(done.state) for name in takers
    )


def _apart_from_event(state: State) -> State:
    if state.question is None:
        return state
    stopped = replace(state.question.stopped, matter=events.Back(), does=())
    return replace(state, question=replace(state.question, stopped=stopped))


def _outcome(before: State, done: Step) -> ForecastKind:
    return "refused" if done.refused is not None else outcome_of(before, done.state, done.log)


def descent(plan: Plan, state: State, most: int | None = None) -> Descent:
    """Press Back until the ground, or until a state comes back that was there before: a trap; at most so often, if told.

    A question on the way is answered by the first of its answers that goes on, several in a row too.
    """
    if plan.policies.system_back == "no":
        return Descent((), "no Back")
    hops: list[Forecast] = []
    state = _not_begun(state)
    met = {_size(state): [state]}
    enough = depth(state) + MAX_BACKS
    while state.phase is Phase.OPEN:
        hop = _answered(plan, state, forecast(plan, state, events.Back()))
        if _at_root(plan, hop):
            return Descent(tuple(hops), "root")
        if len(hops) == most:
            return Descent(tuple(hops), "further")
        hops.append(hop)
        state = hop.step.state
        # Only states of one size can be the same; most Backs make the ladder smaller.
        alike = met.setdefault(_size(state), [])
        again = bool(alike) and any(timeless(state) == timeless(other) for other in alike)
        if state.phase is Phase.OPEN and (again or len(hops) >= enough):
            return Descent(tuple(hops), "trap", tuple(dict.fromkeys(call.name for call in state.calls)))
        alike.append(state)
    return Descent(tuple(hops), "ground" if state.phase is Phase.OUTSIDE else "background")


def _size(state: State) -> int:
    return sum(1 for _ in all_rungs(state.ladder))


def _at_root(plan: Plan, hop: Forecast) -> bool:
    """Whether a Back does nothing because the phone stays at the root."""
    return plan.policies.back_at_root == "stay" and any(happening == STAYS_AT_ROOT for happening in hop.step.log)


def _answered(plan: Plan, before: State, hop: Forecast) -> Forecast:
    """Answer what a Back asks, and what is asked upon that, by the first answer that goes on, as long as there is one."""
    for _ in plan.guard:
        question = hop.step.state.question
        if hop.outcome != "asks" or question is None:
            break
        onward = next((answer for answer in plan.guard[question.guard].answers if not answer.stays), None)
        if onward is None:
            break
        done = step(plan, hop.step.state, events.Answer(onward.name))
        hop = _told(plan, before, hop.event, done, sure=hop.certain, question=hop.question)
    return hop


def leads_back(before: State, forecast: Forecast) -> bool:
    """Whether an event goes down: it lands on a rung that lay beneath, or out of the app."""
    if forecast.outcome in {"leaves", "goes away"}:
        return True
    top = visible_top(before)
    beneath = {rung.serial for rung, _ in visible_rungs(before.ladder) if top is None or rung.serial != top.serial}
    return forecast.outcome == "lands" and forecast.serial in beneath
