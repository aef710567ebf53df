"""Explain a step: what was asked, in what order, and each answer.

Nothing is worked out a second time: deciding itself notes whom it asks while somebody listens (`PlanIndex.asked`), on a plan of
its own, so that nothing is remembered from before.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from msgspec.structs import replace

from wise_ladder.semantics.plan_index import index_of
from wise_ladder.semantics.step import step

if TYPE_CHECKING:
    from wise_ladder.plan import Event, Plan
    from wise_ladder.semantics.log import Step
    from wise_ladder.semantics.reasons import Reason
    from wise_ladder.semantics.state import State


class Explanation(NamedTuple):
    """A step, and all that was asked on the way."""

    step: Step
    asked: tuple[Reason, ...]


def explain(plan: Plan, state: State, event: Event) -> Explanation:
    """Run an event on a copy, and note what is asked about it."""
    listened = replace(plan)
    heard: list[Reason] = []
    index_of(listened).asked = heard
    done = step(listened, state, event)
    return Explanation(done, tuple(heard))
