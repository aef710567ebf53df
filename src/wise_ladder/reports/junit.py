"""The verdicts of walks as JUnit XML, as build servers read it: a suite for each plan and phone, a case for each walk."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING
from xml.etree import ElementTree as ET

from wise_ladder.rules.telling import about, tell_verdict
from wise_ladder.walks.telling import tell

if TYPE_CHECKING:
    from collections.abc import Sequence

    from wise_ladder.rules.checked import Checked
    from wise_ladder.rules.verdicts import Verdict
    from wise_ladder.walks.running import Result

_NO_XML = re.compile(r"[^\t\n\r\u0020-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")
"""What no XML document may hold (XML 1.0, 2.2)."""


def junit(checked: Sequence[Checked]) -> bytes:
    """Write the verdicts of all plans."""
    suites = ET.Element("testsuites")
    for each in checked:
        name = f"{each.path} on {each.phone}" if each.phone else each.path
        failed = sum(not result.passed for result in each.results)
        failed += sum(verdict.status == "broken" for verdict in each.verdicts)
        skipped = sum(verdict.status == "undecided" for verdict in each.verdicts)
        count = len(each.results) + len(each.verdicts)
        suite = ET.SubElement(
            suites, "testsuite", name=_clean(name), tests=str(count), failures=str(failed), errors="0", skipped=str(skipped),
            time=f"{sum(each.seconds):.3f}",
        )  # fmt: skip
        for result, seconds in zip(each.results, each.seconds, strict=True):
            _case(suite, result, seconds, each)
        for verdict in each.verdicts:
            _rule(suite, verdict, each)
    ET.indent(suites)
    found: bytes = ET.tostring(suites, encoding="utf-8", xml_declaration=True)
    return found + b"\n"


def _case(suite: ET.Element, result: Result, seconds: float, checked: Checked) -> None:
    case = ET.SubElement(
        suite, "testcase", name=_clean(result.walk.name), classname=_clean(checked.plan.app), time=f"{seconds:.3f}"
    )
    if result.failed is not None:
        failed = result.played[result.failed]
        words = f"{failed.line.text}: {failed.unmet.words if failed.unmet else ''}"
        failure = ET.SubElement(case, "failure", message=_clean(words), type="walk")
        failure.text = _clean("\n".join(tell(result, checked.path)))


def _rule(suite: ET.Element, verdict: Verdict, checked: Checked) -> None:
    """Add a case for a rule; what is undecided is skipped, with how far it is known."""
    name = f"{verdict.rule.name} {about(verdict.rule)}".strip()
    case = ET.SubElement(suite, "testcase", name=_clean(name), classname=_clean(f"{checked.plan.app} rules"), time="0.000")
    if verdict.status == "undecided":
        ET.SubElement(case, "skipped", message=_clean(verdict.words))
    elif verdict.status == "broken":
        failure = ET.SubElement(case, "failure", message=_clean(verdict.words), type="rule")
        failure.text = _clean("\n".join(tell_verdict(verdict, checked.path)))


def _clean(text: str) -> str:
    return _NO_XML.sub("�", text)
