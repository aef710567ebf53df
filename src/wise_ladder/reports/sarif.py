"""Failed walks and broken rules as SARIF 2.1.0 (OASIS, 2020), as code reviews and editors show them."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Any

import msgspec

from wise_ladder import __version__
from wise_ladder.plan.rules import RULES
from wise_ladder.plan.values import NO_SPAN, file_of
from wise_ladder.rules.titles import named
from wise_ladder.safe import made_visible
from wise_ladder.walks.report_text import code_places

if TYPE_CHECKING:
    from collections.abc import Sequence

    from wise_ladder.plan.values import CodePlace, Span
    from wise_ladder.rules.check_result import CheckResult
    from wise_ladder.rules.verdicts import Counterexample, Verdict
    from wise_ladder.walks.running import WalkRun

WALK = "walk fails"


def sarif(checked: Sequence[CheckResult]) -> bytes:
    """Write one run with a result for each failed walk and each guilty place of a broken rule."""
    results = [each for plan in checked for each in _results(plan)]
    rules = (verdict.rule for each in checked for verdict in each.verdicts)
    known = {WALK: "every walk passes", **{named(rule): RULES[rule.name].meaning for rule in rules}}
    driver = {
        "name": "Wise Ladder",
        "version": __version__,
        "rules": [
            {"id": name, "shortDescription": {"text": holds}, "defaultConfiguration": {"level": "error"}}
            for name, holds in known.items()
        ],
    }
    verdicts = {named(verdict.rule): verdict.words for each in checked for verdict in each.verdicts}
    run = {
        "tool": {"driver": driver},
        "columnKind": "unicodeCodePoints",
        "results": results,
        "properties": {"verdicts": verdicts},
    }
    return msgspec.json.format(msgspec.json.encode(made_visible({"version": "2.1.0", "runs": [run]})), indent=2)


def _results(checked: CheckResult) -> list[dict[str, Any]]:
    results = [_walk(result, checked) for result in checked.results if result.failed is not None]
    for verdict in checked.verdicts:
        results += [_guilty(verdict, counterexample, checked) for counterexample in verdict.counterexamples]
        if verdict.unused and verdict.status == "broken":
            results += [
                _result(named(verdict.rule), f"{place.words} is never used", [_place(checked, place.at)], checked)
                for place in verdict.unused
            ]
    return results


def _walk(result: WalkRun, checked: CheckResult) -> dict[str, Any]:
    failed = result.played[result.failed or 0]
    words = f"{result.walk.name}: {failed.line.text}: {failed.unmet.words if failed.unmet else 'fails'}"
    code = [_code(place) for place in code_places(checked.plan, result)]
    return _result(WALK, words, [*code, _place(checked, failed.line.at)], checked)


def _guilty(verdict: Verdict, counterexample: Counterexample, checked: CheckResult) -> dict[str, Any]:
    steps = counterexample.tape.as_steps()[:-1]
    guilt = counterexample.guilt
    words = f"{guilt.words}; {'the shortest' if counterexample.shortest else 'a'} path: {', '.join(steps)}"
    code = counterexample.tape.plan.code_of.get(counterexample.place.at)
    places = [*([_code(code)] if code is not None else []), _place(checked, counterexample.place.at)]
    result = _result(named(verdict.rule), words, places, checked)
    if verdict.rule.at != NO_SPAN:
        result["relatedLocations"] = [{**_place(checked, verdict.rule.at), "message": {"text": "the rule"}}]
    where = _place(checked, counterexample.place.at)
    flow = [
        {"location": {**where, "message": {"text": step}}, "executionOrder": number} for number, step in enumerate(steps, 1)
    ]
    result["codeFlows"] = [{"threadFlows": [{"locations": flow}]}]
    return result


def _result(rule: str, words: str, places: list[dict[str, Any]], checked: CheckResult) -> dict[str, Any]:
    text = f"{checked.where}: {words}" if checked.where else words
    return {"ruleId": rule, "level": "error", "message": {"text": text}, "locations": places}


def _code(code: CodePlace) -> dict[str, Any]:
    """Name a place in the app's own code; it comes before that in the plan, for a comment lands on the first."""
    place: dict[str, Any] = {"artifactLocation": {"uri": code.path.replace(" ", "%20")}}
    if code.line is not None:
        place["region"] = {"startLine": code.line}
    return {"physicalLocation": place}


def _place(checked: CheckResult, at: Span) -> dict[str, Any]:
    path = Path(file_of(checked.path, at.file))
    uri = path.as_uri() if path.is_absolute() else path.as_posix()
    place: dict[str, Any] = {"artifactLocation": {"uri": uri.replace(" ", "%20")}}
    if at != NO_SPAN:
        place["region"] = {"startLine": at.line, "startColumn": at.column}
    return {"physicalLocation": place}
