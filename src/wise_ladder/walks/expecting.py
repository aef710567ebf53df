"""What a walk expects, held against the state that is there."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.ladder import Phase, forecast
from wise_ladder.ladder.state import depth, fact_value, rungs_beneath, top_of
from wise_ladder.ladder.words import face_words
from wise_ladder.plan import events
from wise_ladder.plan.steps import with_arguments

if TYPE_CHECKING:
    from wise_ladder.ladder import Face, Forecast, State
    from wise_ladder.plan import Expectation, Plan


class Unmet(NamedTuple):
    """Why an expectation does not hold; `place` is the lowest rung that differs, from 0, where the ladder is to blame."""

    words: str
    place: int | None = None


def unmet(plan: Plan, state: State, expected: Expectation, saw: set[str]) -> Unmet | None:
    """Return why an expectation does not hold, or None where it does; `saw` are the screens seen so far."""
    match expected:
        case events.See():
            return _see(state, expected)
        case events.LadderIs(rungs):
            return _ladder(state, rungs)
        case events.DepthIs(rungs):
            now = depth(state)
            return None if now == rungs else Unmet(f"the depth is {now}", min(now, rungs))
        case events.Outside():
            return None if state.phase is Phase.OUTSIDE else Unmet(_standing(state))
        case events.Away():
            return None if state.phase is Phase.AWAY else Unmet(_standing(state))
        case events.ValueIs(fact, value):
            now_value = fact_value(plan, state, fact)
            if now_value is None:
                return Unmet(f"{_standing(state)}, which holds no {fact}")
            return None if now_value == value else Unmet(f"{fact} is {now_value}")
        case events.NeverSaw(screen):
            return Unmet(f"{screen} was seen") if screen in saw else None
        case events.BackLandsOn(rung):
            found = forecast(plan, state, events.Back())
            good = found.outcome == "lands" and found.face is not None and fits(found.face, rung)
            return None if good else Unmet(_back_words(found))
        case events.BackLeaves():
            found = forecast(plan, state, events.Back())
            return None if found.outcome == "leaves" else Unmet(_back_words(found))


def fits(face: Face, wanted: events.See) -> bool:
    """Whether a rung is what is wanted; arguments that are not named may be anything."""
    return face.screen == wanted.screen and all(argument in face.arguments for argument in wanted.arguments)


def _see(state: State, wanted: events.See) -> Unmet | None:
    top = top_of(state)
    if state.phase is Phase.OPEN and top is not None and fits(top.face, wanted):
        return None
    return Unmet(_standing(state), max(len(state.ladder) - 1, 0))


def _ladder(state: State, wanted: tuple[events.See, ...]) -> Unmet | None:
    if state.phase is not Phase.OPEN:
        return Unmet(_standing(state))
    rungs = [rung for rung in rungs_beneath(state.ladder) if not rung.inner]
    for place, (rung, want) in enumerate(zip(rungs, wanted, strict=False)):
        if not fits(rung.face, want):
            return Unmet(f"rung {place + 1} is {face_words(rung.face)}", place)
    if len(rungs) == len(wanted):
        return None
    more = "more" if len(rungs) > len(wanted) else "fewer"
    return Unmet(f"{abs(len(rungs) - len(wanted))} {more} on the ladder", min(len(rungs), len(wanted)))


def _standing(state: State) -> str:
    if state.phase is Phase.OUTSIDE:
        return "the app does not run"
    if state.phase is Phase.AWAY:
        return "the app is in the background"
    top = top_of(state)
    return f"one stands on {face_words(top.face if top else None)}"


def _back_words(found: Forecast) -> str:
    match found.outcome:
        case "lands":
            return f"Back would land on {face_words(found.face)}"
        case "stays":
            return f"Back would stay on {face_words(found.face)}"
        case "leaves":
            return "Back would leave the app"
        case "goes away":
            return "Back would put the app in the background"
        case "refused":
            return f"Back would do nothing: {found.step.refused}"


def state_phrase(state: State) -> str:
    """Write a state as what a walk expects: the ladder, or that the app is outside or away."""
    if state.phase is Phase.OUTSIDE:
        return "outside"
    if state.phase is Phase.AWAY:
        return "away"
    rungs = (rung.face for rung in rungs_beneath(state.ladder) if not rung.inner)
    return "ladder " + " > ".join(with_arguments(face.screen, face.arguments) for face in rungs)
