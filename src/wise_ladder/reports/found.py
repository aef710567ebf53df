"""What `check` found, as plain data: the JSON it prints, and the published schema of that JSON."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import msgspec
from msgspec import Struct

from wise_ladder.ladder.state import screens_beneath
from wise_ladder.ladder.words import face_words
from wise_ladder.plan.model import Starter
from wise_ladder.rules.naming import about, named
from wise_ladder.rules.starter import recognised_words
from wise_ladder.rules.telling import steps_of
from wise_ladder.safe import made_visible

if TYPE_CHECKING:
    from collections.abc import Sequence

    from wise_ladder.plan import Plan
    from wise_ladder.rules.checked import Checked
    from wise_ladder.rules.verdicts import Verdict
    from wise_ladder.walks.running import Result

FORMAT = 1


class Failure(Struct, omit_defaults=True):
    """Where a walk failed: the line of the plan file, the step as it is written, and why."""

    line: int
    step: int
    text: str
    why: str
    ladder: list[str]
    """What was on the ladder then, lowest first."""
    made_the_difference: int = 0
    """The number of the step that did; 0 where none is to blame."""


class WalkFound(Struct, omit_defaults=True):
    """How a walk went."""

    name: str
    line: int
    steps: int
    passed: bool
    failure: Failure | None = None


class PartFound(Struct):
    """A move, guard, redirect, link or reply, and in how many walks it is used."""

    kind: str
    name: str
    line: int
    walks: int


class GuiltyFound(Struct):
    """A guilty place of a broken rule, and the steps of a shortest path to it."""

    place: str
    line: int
    why: str
    steps: list[str]


class RuleFound(Struct, omit_defaults=True):
    """What is known of a rule: to which depth and over how many states, and whether there are no others."""

    name: str
    """Which rule it is."""
    title: str
    """What it is called: as the plan names it, else what it says."""
    about: str
    line: int
    verdict: str
    words: str
    depth: int
    states: int
    every_depth: bool
    guilty: list[GuiltyFound] = []
    never_used: list[str] = []
    stopped: str = ""
    """Which bound stopped the sweep: "after 5 s"."""


class RecognisedFound(Struct):
    """What the starter set took screens and facts for: `signed_in` is a condition, as in a plan."""

    splash: list[str]
    sign_in: list[str]
    protected: list[str]
    signed_in: str
    not_known_yet: list[str]


class PlanFound(Struct, omit_defaults=True):
    """What was found in one plan, on one phone."""

    path: str
    app: str
    walks: list[WalkFound]
    phone: str = ""
    doubts: list[str] = []
    coverage: list[PartFound] | None = None
    rules: list[RuleFound] = []
    recognised: RecognisedFound | None = None
    """Where the starter set is in force."""


class Found(Struct):
    """What was found in all plans."""

    format: int
    passed: int
    failed: int
    plans: list[PlanFound]


def as_json(checked: Sequence[Checked]) -> bytes:
    """Write what was found; walks that were left out after a failure are not in it."""
    plans = [_plan(each) for each in checked]
    passed = sum(walk.passed for plan in plans for walk in plan.walks)
    failed = sum(not walk.passed for plan in plans for walk in plan.walks)
    return msgspec.json.format(
        msgspec.json.encode(made_visible(msgspec.to_builtins(Found(FORMAT, passed, failed, plans)))), indent=2
    )


def schema() -> dict[str, Any]:
    """Return the JSON Schema (2020-12) of what `as_json` writes."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **msgspec.json.schema(Found)}


def _plan(checked: Checked) -> PlanFound:
    parts = checked.parts
    return PlanFound(
        checked.path,
        checked.plan.app,
        [_walk(result) for result in checked.results],
        checked.phone,
        [doubt.told.partition("\n")[0] for doubt in checked.plan.doubts],
        None if parts is None else [PartFound(part.kind, part.name, part.at.line, part.walks) for part in parts],
        [_rule(verdict) for verdict in checked.verdicts],
        _recognised(checked.plan) if checked.verdicts else None,
    )


def _recognised(plan: Plan) -> RecognisedFound | None:
    starter = next((rule for rule in plan.rules if isinstance(rule, Starter)), None)
    return None if starter is None else RecognisedFound(*recognised_words(plan, starter))


def _rule(verdict: Verdict) -> RuleFound:
    rule, known = verdict.rule, verdict.known
    guilty = [GuiltyFound(each.place.words, each.place.at.line, each.guilt.words, steps_of(each)) for each in verdict.guilty]
    unused = [place.words for place in verdict.unused]
    return RuleFound(
        rule.name,
        named(rule),
        about(rule),
        rule.at.line,
        verdict.status,
        verdict.words,
        known.depth,
        known.states,
        known.whole,
        guilty,
        unused,
        known.stopped,
    )


def _walk(result: Result) -> WalkFound:
    found = WalkFound(result.walk.name, result.walk.at.line, len(result.played), result.passed)
    if result.failed is not None:
        failed = result.played[result.failed]
        ladder = [face_words(rung.face) for rung in screens_beneath(failed.state.ladder)]
        why = failed.unmet.words if failed.unmet else ""
        culprit = 0 if result.culprit is None else result.culprit + 1
        found.failure = Failure(failed.line.at.line, result.failed + 1, failed.line.text, why, ladder, culprit)
    return found
