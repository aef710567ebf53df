"""Two runs along one clock: from which moments on something else is there than in the other."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.semantics.state import all_rungs, visible_screens
from wise_ladder.semantics.text import ladder_words
from wise_ladder.walks import messages
from wise_ladder.walks.seen import seen_now

if TYPE_CHECKING:
    from wise_ladder.plan import Plan
    from wise_ladder.semantics import State
    from wise_ladder.walks.time_axis import TimeAxis
    from wise_ladder.walks.timeline import Timeline


class Difference(NamedTuple):
    """From a stop of the axis on, until another, two runs differ in these: what it is, and what each has."""

    stop: int
    until: int
    parts: tuple[tuple[str, str, str], ...]

    @property
    def words(self) -> str:
        """Say what differs."""
        return "; ".join(messages.DIFFERS.format(what=what, one=one, other=other) for what, one, other in self.parts)


def run_differences(one: Timeline, other: Timeline, axis: TimeAxis) -> list[Difference]:
    """List where two runs on an axis begin to differ, and where they begin to differ in something else."""
    states = [[run.first, *(moment.state for moment in run.moments)] for run in (one, other)]
    found: list[Difference] = []
    for number, stop in enumerate(axis.stops):
        here, there = (states[run][count] for run, count in enumerate(stop.counts))
        parts = _parts(_told(one.plan, here), _told(other.plan, there))
        if found and found[-1].until == number and parts == found[-1].parts:
            found[-1] = found[-1]._replace(until=number + 1)
        elif parts:
            found.append(Difference(number, number + 1, parts))
    return found


def _parts(here: dict[tuple[str, str], str], there: dict[tuple[str, str], str]) -> tuple[tuple[str, str, str], ...]:
    """List what differs; a fact that only one of the plans has is no difference that a user could notice."""
    return tuple((key[1], here[key], there[key]) for key in here if key in there and here[key] != there[key])


def _told(plan: Plan, state: State) -> dict[tuple[str, str], str]:
    """Tell what is there in a state, what a user sees first; names of facts are kept apart from ours."""
    screens = list(visible_screens(state.ladder))
    layers = [*state.overlays, *(layer for rung in all_rungs(state.ladder) for layer in rung.overlays)]
    asked = plan.guard[state.question.guard].name if state.question is not None else ""
    parts = {
        messages.WHAT_IS_SEEN: seen_now(state),
        messages.WHAT_IS_ASKED: asked,
        messages.WHAT_LIES_OVER: ", ".join(layer.name for layer in layers),
        messages.WHAT_LADDER: ladder_words(state),
        messages.WHAT_IS_HELD: ", ".join(f"{name} {value}" for rung in screens for name, value in rung.data.facts),
    }
    facts = {("fact", fact.name): value for fact, value in zip(plan.facts, state.facts, strict=True)}
    return {("", what): words or messages.NONE for what, words in parts.items()} | facts
