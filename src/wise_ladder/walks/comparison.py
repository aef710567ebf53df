"""Before and after a change: the same events on both plans, and where they part."""

from __future__ import annotations

from itertools import zip_longest
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.semantics import descent
from wise_ladder.semantics.serials import timeless
from wise_ladder.semantics.state import visible_screens
from wise_ladder.semantics.text import rung_text

if TYPE_CHECKING:
    from wise_ladder.plan import Plan
    from wise_ladder.semantics import Descent, Forecast, State
    from wise_ladder.walks.tape import Tape


MAX_LOOKED = 200
"""So many Backs of both sides are held against each other."""


class RunState(NamedTuple):
    """A state and the Backs from it."""

    state: State
    descent: Descent


class Comparison(NamedTuple):
    """One path on two plans: the number of the first step after which they differ (None: nowhere), and both sides there."""

    step: int | None
    before: RunState
    after: RunState
    stops: bool
    """Whether that step no longer applies after the change."""
    plan: Plan
    """The plan before the change."""


def compare(before: Tape, after: Tape) -> Comparison:
    """Hold two runs of the same events against each other; `after` may end sooner, where a step no longer applies.

    Where the ladders never differ, the first step counts whose Backs lead elsewhere.
    """
    for number, (one, two) in enumerate(zip_longest(before.entries, after.entries), 1):
        if two is None or one is None or timeless(one.step.state) != timeless(two.step.state):
            return _at(before, after, number, stops=two is None)
    last = _at(before, after, len(before.entries), stops=False)
    return last._replace(step=None) if _ends(last.before.descent) == _ends(last.after.descent) else last


def _at(before: Tape, after: Tape, number: int, *, stops: bool) -> Comparison:
    return Comparison(number, _side(before, number), _side(after, number), stops, before.plan)


def _side(tape: Tape, number: int) -> RunState:
    state = tape.state_at(min(number, len(tape.entries)))
    return RunState(state, descent(tape.plan, state, MAX_LOOKED))


def _ends(descent: Descent) -> list[object]:
    return [*((hop.outcome, hop.data) for hop in descent.hops), descent.end]


def back_words(descent: Descent) -> str:
    """Say what the next Back of a descent does."""
    return _hop_words(descent.hops[0]) if descent.hops else "stays" if descent.end == "root" else descent.end


def _hop_words(hop: Forecast) -> str:
    asks = "asks, then " if hop.question else ""
    if hop.outcome == "lands":
        return f"{asks}lands on {rung_text(hop.data)}"
    return asks + {"leaves": "leaves the app", "goes away": "to the background"}.get(hop.outcome, hop.outcome)


def difference_words(comparison: Comparison) -> str:
    """Say in a line where both sides part."""
    if comparison.step is None:
        return "the same events lead to the same ladder and the same Backs"
    if comparison.stops:
        return f"step {comparison.step} no longer applies"
    sides = [" > ".join(rung_text(rung.data) for rung in visible_screens(side.state.ladder)[-3:]) or "the ground"
             for side in (comparison.before, comparison.after)]  # fmt: skip
    if sides[0] == sides[1]:
        sides = [f"Back {back_words(side.descent)}" for side in (comparison.before, comparison.after)]
    return f"step {comparison.step} differs: before {sides[0]}, now {sides[1]}"
