"""The verdicts of walks as JUnit XML, as build servers read it: a suite for each plan and phone, a case for each walk."""

from __future__ import annotations

from typing import TYPE_CHECKING
from xml.etree import ElementTree as ET

from wise_ladder.reports import messages
from wise_ladder.rules.report_text import verdict_lines
from wise_ladder.rules.titles import named
from wise_ladder.safe import visible
from wise_ladder.walks.report_text import walk_lines

if TYPE_CHECKING:
    from collections.abc import Sequence

    from wise_ladder.rules.check_result import CheckResult
    from wise_ladder.rules.verdicts import Verdict
    from wise_ladder.walks.explored import Explored
    from wise_ladder.walks.running import WalkRun


def junit(checked: Sequence[CheckResult]) -> bytes:
    """Write the verdicts of all plans."""
    suites = ET.Element("testsuites")
    for each in checked:
        name = f"{each.path} {each.where}" if each.where else each.path
        failed = sum(result.failed is not None for result in each.results)
        failed += sum(verdict.status == "broken" for verdict in each.verdicts)
        failed += each.explored is not None and each.explored.found is not None
        skipped = sum(verdict.status == "undecided" for verdict in each.verdicts)
        skipped += sum(bool(result.not_comparable) for result in each.results)
        count = len(each.results) + len(each.verdicts) + (each.explored is not None)
        suite = ET.SubElement(
            suites, "testsuite", name=visible(name), tests=str(count), failures=str(failed), errors="0", skipped=str(skipped),
            time=f"{sum(each.seconds):.3f}",
        )  # fmt: skip
        for result, seconds in zip(each.results, each.seconds, strict=True):
            _case(suite, result, seconds, each)
        for verdict in each.verdicts:
            _rule(suite, verdict, each)
        if each.explored is not None:
            _explored(suite, each.explored, each)
    ET.indent(suites)
    content: bytes = ET.tostring(suites, encoding="utf-8", xml_declaration=True)
    return content + b"\n"


def _case(suite: ET.Element, result: WalkRun, seconds: float, checked: CheckResult) -> None:
    case = ET.SubElement(
        suite, "testcase", name=visible(result.walk.name), classname=visible(checked.plan.app), time=f"{seconds:.3f}"
    )
    if result.not_comparable:
        ET.SubElement(case, "skipped", message=visible(result.not_comparable))
    if result.failed is not None:
        failed = result.played[result.failed]
        words = f"{failed.line.text}: {failed.unmet.words if failed.unmet else ''}"
        failure = ET.SubElement(case, "failure", message=visible(words), type="walk")
        failure.text = visible("\n".join(walk_lines(result, checked.path, checked.plan)))


def _explored(suite: ET.Element, explored: Explored, checked: CheckResult) -> None:
    """Add a case for the tool's own ways through the running app; what differs is the failure, with its steps."""
    case = ET.SubElement(
        suite, "testcase", name=visible(messages.OWN_WAYS), classname=visible(f"{checked.plan.app} app"), time="0.000"
    )
    if explored.found is not None:
        failure = ET.SubElement(case, "failure", message=visible(explored.found.words), type="app")
        failure.text = visible("\n".join((*explored.found.beside, *explored.found.tape.as_steps())))


def _rule(suite: ET.Element, verdict: Verdict, checked: CheckResult) -> None:
    """Add a case for a rule; what is undecided is skipped, with how far it is known."""
    case = ET.SubElement(
        suite, "testcase", name=visible(named(verdict.rule)), classname=visible(f"{checked.plan.app} rules"), time="0.000"
    )
    if verdict.status == "undecided":
        ET.SubElement(case, "skipped", message=visible(verdict.words))
    elif verdict.status == "broken":
        failure = ET.SubElement(case, "failure", message=visible(verdict.words), type="rule")
        failure.text = visible("\n".join(verdict_lines(verdict, checked.path)))
