"""What `check` found, as plain data: the JSON it prints, and the published schema of that JSON."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import msgspec
from msgspec import Struct

from wise_ladder.plan.rule import StarterSet
from wise_ladder.rules.report_text import steps_of
from wise_ladder.rules.starter import recognised_words
from wise_ladder.rules.titles import about, named
from wise_ladder.safe import made_visible
from wise_ladder.semantics.state import visible_screens
from wise_ladder.semantics.text import rung_text

if TYPE_CHECKING:
    from collections.abc import Sequence

    from wise_ladder.plan import Plan
    from wise_ladder.rules.check_result import CheckResult
    from wise_ladder.rules.verdicts import Counterexample, Verdict
    from wise_ladder.walks.explored import Explored
    from wise_ladder.walks.running import WalkRun

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
    """The number of the step that did; 0 if none is to blame."""
    file: str = ""
    """The included file that the line is in; not there for the plan's own."""


class WalkReport(Struct, omit_defaults=True):
    """How a walk went."""

    name: str
    line: int
    steps: int
    passed: bool
    failure: Failure | None = None
    compared: int = 0
    """On a running app: how many of its steps and expectations could be compared."""
    not_comparable: str = ""
    """Why it could not be run on the app at all."""
    file: str = ""


class UsageReport(Struct, omit_defaults=True):
    """A move, guard, redirect, link or reply, and in how many walks it is used."""

    kind: str
    name: str
    line: int
    walks: int
    file: str = ""


class ViolationReport(Struct, omit_defaults=True):
    """A guilty place of a broken rule, and the steps of a path to it."""

    place: str
    line: int
    why: str
    steps: list[str]
    file: str = ""
    code: str = ""
    """Where it is in the app's own code."""
    shortest: bool = True
    """Whether no shorter path breaks the rule there; if not, that is not known."""


class RuleReport(Struct, omit_defaults=True):
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
    guilty: list[ViolationReport] = []
    never_used: list[str] = []
    stopped: str = ""
    """Which bound stopped the sweep: "after 5 s"."""
    file: str = ""
    known_by: str = ""
    """How it is known: by a "proof" for every depth, by the "sweep", or by a "run" that breaks it."""
    not_proved: str = ""
    """Why it was not proved, if that was tried."""
    proved_as_long_as: list[str] = []
    """The rules that must hold: as long as they do, this one is proved for every depth."""


class ExploredReport(Struct, omit_defaults=True):
    """The tool's own ways through the running app: steps, moves used of all, and the first difference with its walk."""

    steps: int
    moves: int
    all_moves: int
    difference: str = ""
    given: list[str] = []
    walk: list[str] = []


class RecognitionReport(Struct):
    """What the starter set took screens and facts for: `signed_in` is a condition, as in a plan."""

    splash: list[str]
    sign_in: list[str]
    protected: list[str]
    signed_in: str
    not_known_yet: list[str]


class PlanReport(Struct, omit_defaults=True):
    """What was found in one plan, on one phone, with one named given or none."""

    path: str
    app: str
    walks: list[WalkReport]
    phone: str = ""
    doubts: list[str] = []
    coverage: list[UsageReport] | None = None
    rules: list[RuleReport] = []
    recognised: RecognitionReport | None = None
    """Where the starter set is in force."""
    given: str = ""
    """The named given that the plan begins with."""
    explored: ExploredReport | None = None


class CheckReport(Struct):
    """What was found in all plans."""

    format: int
    passed: int
    failed: int
    plans: list[PlanReport]


def as_json(checked: Sequence[CheckResult]) -> bytes:
    """Write what was found; walks that were left out after a failure are not in it."""
    plans = [_plan(each) for each in checked]
    passed = sum(walk.passed for plan in plans for walk in plan.walks)
    failed = sum(walk.failure is not None for plan in plans for walk in plan.walks)
    return msgspec.json.format(
        msgspec.json.encode(made_visible(msgspec.to_builtins(CheckReport(FORMAT, passed, failed, plans)))), indent=2
    )


def schema() -> dict[str, Any]:
    """Return the JSON Schema (2020-12) of what `as_json` writes."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **msgspec.json.schema(CheckReport)}


def _plan(checked: CheckResult) -> PlanReport:
    parts = checked.parts
    usage = [UsageReport(part.kind, part.name, part.at.line, part.walks, part.at.file) for part in parts or ()]
    return PlanReport(
        checked.path,
        checked.plan.app,
        [_walk(result) for result in checked.results],
        checked.plan.phone if checked.where else "",
        [doubt.told.partition("\n")[0] for doubt in checked.plan.warnings],
        None if parts is None else usage,
        [_rule(verdict) for verdict in checked.verdicts],
        _recognised(checked.plan) if checked.verdicts else None,
        checked.plan.given.name,
        None if checked.explored is None else _explored(checked.explored),
    )


def _explored(explored: Explored) -> ExploredReport:
    report = ExploredReport(explored.steps, explored.moves, explored.all_moves)
    if explored.found is not None:
        tape = explored.found.tape
        report.difference, report.given, report.walk = explored.found.words, tape.given(), tape.as_steps()
    return report


def _recognised(plan: Plan) -> RecognitionReport | None:
    starter = next((rule for rule in plan.rules if isinstance(rule, StarterSet)), None)
    return None if starter is None else RecognitionReport(*recognised_words(plan, starter))


def _rule(verdict: Verdict) -> RuleReport:
    rule, known = verdict.rule, verdict.extent
    guilty = [
        ViolationReport(
            each.place.words,
            each.place.at.line,
            each.guilt.words,
            steps_of(each),
            each.place.at.file,
            _code(each),
            each.shortest,
        )
        for each in verdict.counterexamples
    ]
    unused = [place.words for place in verdict.unused]
    return RuleReport(
        rule.name,
        named(rule),
        about(rule),
        rule.at.line,
        verdict.status,
        verdict.words,
        known.depth,
        known.states,
        verdict.every_depth,
        guilty,
        unused,
        known.stopped,
        rule.at.file,
        "proof" if verdict.proved else "run" if verdict.counterexamples else "sweep",
        verdict.not_proved,
        [] if verdict.proof is None else list(verdict.proof.as_long_as),
    )


def _code(counterexample: Counterexample) -> str:
    code = counterexample.tape.plan.code_of.get(counterexample.place.at)
    return code.words if code is not None else ""


def _walk(result: WalkRun) -> WalkReport:
    report = WalkReport(result.walk.name, result.walk.at.line, len(result.played), result.passed, file=result.walk.at.file)
    if result.app is not None:
        report.compared, report.not_comparable = result.app.compared, result.app.not_comparable
    if result.failed is not None:
        failed = result.played[result.failed]
        ladder = [rung_text(rung.data) for rung in visible_screens(failed.state.ladder)]
        why = failed.unmet.words if failed.unmet else ""
        culprit = 0 if result.cause is None else result.cause + 1
        at = failed.line.at
        report.failure = Failure(at.line, result.failed + 1, failed.line.text, why, ladder, culprit, at.file)
    return report
