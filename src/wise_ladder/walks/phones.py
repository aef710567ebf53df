"""The same walks on each phone of a plan, or with each of its named givens, and what differs between them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace

from wise_ladder.semantics.serials import timeless
from wise_ladder.walks.expectations import state_phrase
from wise_ladder.walks.running import run_walk

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan import Plan
    from wise_ladder.semantics.state import State
    from wise_ladder.walks.running import WalkRun


def differences(plans: dict[str, Plan]) -> Iterator[str]:
    """Report each walk without a phone and a named given of its own that goes another way than on the first plan, and where."""
    (first, plan), *others = plans.items()
    for walk in plan.walks:
        if walk.phone or walk.named_given:
            continue
        usual = run_walk(plan, walk)
        for phone, other in others:
            difference = _difference(plans[first], usual, run_walk(other, walk))
            if difference:
                yield f"{walk.name}: {difference[0]} {first}: {difference[1]}; {phone}: {difference[2]}"


def _difference(plan: Plan, usual: WalkRun, other: WalkRun) -> tuple[str, str, str] | None:
    """Return the first step after which both are not the same, and where each is then; None if there is none."""
    given = [first != second for first, second in zip(usual.first.facts, other.first.facts, strict=True)]
    for number, (one, two) in enumerate(zip(usual.played, other.played, strict=True), 1):
        if _compared(one.state, given) != _compared(two.state, given):
            ends = [state_phrase(plan, played.state) for played in (one, two)]
            if ends[0] == ends[1]:
                ends = ["as expected" if result.passed else "fails" for result in (usual, other)]
            return f"from step {number} on, {one.line.text},", ends[0], ends[1]
    if usual.passed != other.passed:
        return (
            "in what it expects,",
            "passes" if usual.passed else "fails",
            "passes" if other.passed else "fails",
        )
    return None


def _compared(state: State, given: list[bool]) -> State:
    """Return what of a state is compared: that a fact was given another value is no difference yet."""
    facts = tuple("" if differs else value for differs, value in zip(given, state.facts, strict=True))
    return replace(timeless(state), facts=facts, scripted_replies=())
