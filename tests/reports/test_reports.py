"""Verdicts and tapes for other programs: what they hold, and that it is what its schema says."""

import csv
import io
import json
import tempfile
import unittest
from pathlib import Path
from typing import Any
from xml.etree import ElementTree as ET

import jsonschema
import xmlschema

from tests.plans import COMBFIELD, plan_of
from wise_ladder.demo import gallery
from wise_ladder.plan.loader import read_plan
from wise_ladder.reports import check_json
from wise_ladder.reports.junit import junit
from wise_ladder.reports.sarif import sarif
from wise_ladder.reports.walk_export import Row, SeenRow, as_csv, as_json, as_markdown, rows, seen_rows
from wise_ladder.rules.check_result import CheckResult, check_plan
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.verdicts import Bounds
from wise_ladder.walks import run_walk
from wise_ladder.walks.coverage import coverage
from wise_ladder.walks.running import run_timed
from wise_ladder.walks.tape import Tape

PLAN = plan_of("""
    facts: {token: [none, kept]}
    calls: {check: {valid: 400ms, offline: 3s}}
    screens:
      hives: {moves: [{when: tap in, do: push hive}, {when: tap ask, do: call check}, {when: check gives valid, do: push hive}]}
      hive: {moves: [{when: tap never, do: pop}], guards: [{name: stay, if: token is kept, block: yes}]}
      sorry:
    redirects: [{to: [sorry], send to: hive}]
    links: [{address: 'x://in', build: [hives, hive]}, {address: 'x://sorry', build: [sorry]}]
    walks:
      passes: [launch, tap in, back]
      "fails <&> é😀": [launch, tap ask, check replies valid, see hives]
      a link: [launch, link x://in]
""")


def check(plan: object = PLAN, *, covers: bool = False) -> CheckResult:
    return check_plan("mine.ladder.yaml", plan, "", list(run_timed(plan, plan.walks)), covers=covers)  # type: ignore[arg-type, attr-defined]


class Verdicts(unittest.TestCase):
    def test_junit_is_what_its_schema_says(self) -> None:
        schema = xmlschema.XMLSchema(Path(__file__).with_name("junit.xsd"))
        faults = [check(read_plan(fault.faulty)) for fault in gallery()[:8]]
        for each in ([], [check()], [check(), *faults], [check(COMBFIELD)._replace(where="stubborn")]):
            with tempfile.TemporaryDirectory() as folder:
                path = Path(folder) / "x.xml"
                path.write_bytes(junit(each))
                schema.validate(path)

    def test_junit_counts_and_tells(self) -> None:
        suite = ET.fromstring(junit([check()]))[0]
        self.assertEqual((suite.get("tests"), suite.get("failures"), suite.get("errors")), ("3", "1", "0"))
        failure = suite.find("testcase/failure")
        assert failure is not None
        self.assertEqual(failure.get("message"), "see hives: you stand on hive")
        self.assertIn("caused by step 3", failure.text or "")
        self.assertEqual(suite[1].get("name"), "fails <&> é😀")

    def test_json_is_what_its_schema_says(self) -> None:
        told = json.loads(check_json.as_json([check(covers=True), check(COMBFIELD)]))
        jsonschema.validate(told, check_json.schema())
        self.assertEqual((told["format"], told["passed"], told["failed"]), (1, 2 + len(COMBFIELD.walks), 1))
        failure = told["plans"][0]["walks"][1]["failure"]
        self.assertEqual(
            (failure["step"], failure["text"], failure["why"], failure["ladder"]),
            (4, "see hives", "you stand on hive", ["hives", "hive"]),
        )
        with self.assertRaises(jsonschema.ValidationError):
            jsonschema.validate({**told, "passed": "two"}, check_json.schema())

    def test_what_no_walk_uses(self) -> None:
        parts = {(part.kind, part.name): part.walks for part in coverage(PLAN)}
        self.assertEqual(
            parts,
            {
                ("move", "hives, tap in"): 1,
                ("move", "hives, tap ask"): 1,
                ("move", "hives, check gives valid"): 1,
                ("move", "hive, tap never"): 0,
                ("guard", "stay"): 0,
                ("redirect", "sorry to hive"): 0,
                ("link", "x://in"): 1,
                ("link", "x://sorry"): 0,
                ("reply", "check gives valid"): 1,
                ("reply", "check gives offline"): 0,
            },
        )


class Tapes(unittest.TestCase):
    def test_csv_and_json_tell_the_same(self) -> None:
        for walk in COMBFIELD.walks:
            result = run_walk(COMBFIELD, walk)
            table = list(csv.DictReader(io.StringIO(as_csv(Row, rows(COMBFIELD, result)))))
            told = json.loads(as_json(rows(COMBFIELD, result)))
            self.assertEqual([row["ladder"] for row in table], [" > ".join(row["ladder"]) for row in told])
            self.assertEqual([int(row["clock"]) for row in table], [row["clock"] for row in told])
            self.assertEqual([row["text"] for row in table], [played.line.text for played in result.played])

    def test_what_was_seen_for_how_long_as_csv_and_json(self) -> None:
        walk = next(walk for walk in COMBFIELD.walks if walk.name == "start with a session that is valid")
        listed = seen_rows(Tape.from_walk(COMBFIELD, run_walk(COMBFIELD, walk)))
        table = list(csv.DictReader(io.StringIO(as_csv(SeenRow, listed))))
        screens = [(row["name"], row["since"], row["until"], row["lasts"]) for row in table if row["kind"] == "screen"]
        self.assertEqual(screens, [("splash", "400", "1200", "no"), ("hives", "1200", "5000", "yes")])
        self.assertEqual(len(json.loads(as_json(listed))), len(table))

    def test_a_row_holds_what_was_there_after_the_step(self) -> None:
        result = run_walk(PLAN, PLAN.walks[1])
        self.assertEqual(
            [(row.step, row.holds, row.ladder, row.depth, row.clock, row.seen) for row in rows(PLAN, result)],
            [
                (1, True, ["hives"], 1, 0, "hives"),
                (2, True, ["hives"], 1, 0, "hives"),
                (3, True, ["hives", "hive"], 2, 400, "hive"),
                (4, False, ["hives", "hive"], 2, 400, "hive"),
            ],
        )

    def test_a_page_of_markdown(self) -> None:
        page = as_markdown(PLAN, run_walk(PLAN, PLAN.walks[1]), "mine.ladder.yaml", "strip.svg")
        self.assertIn("It fails:", page)
        self.assertIn("(strip.svg)", page)
        self.assertIn("| 4 | ✗ see hives | hives > hive | 2 | 0.40 s | you stand on hive |", page)
        self.assertTrue(all(line.count("|") == 7 for line in page.splitlines() if line.startswith("|")))


if __name__ == "__main__":
    unittest.main()


class Sarif(unittest.TestCase):
    SCHEMA = json.loads((Path(__file__).parent / "sarif-2.1.0.json").read_text())

    def written(self, plans: list[CheckResult]) -> dict[str, Any]:
        told: dict[str, Any] = json.loads(sarif(plans))
        jsonschema.Draft202012Validator(self.SCHEMA).validate(told)
        return told

    def decided(self, path: Path) -> CheckResult:
        plan = read_plan(path)
        sweep = Sweep(plan, Bounds(depth=5))
        sweep.run()
        return check_plan(str(path), plan, "", list(run_timed(plan, plan.walks)), covers=False)._replace(
            verdicts=sweep.verdicts()
        )

    def test_every_plan_of_the_gallery_is_as_the_standard_says(self) -> None:
        told = self.written([self.decided(fault.faulty) for fault in gallery()])
        self.assertGreater(len(told["runs"][0]["results"]), 60)

    def test_a_guilty_move_with_its_place_the_rule_and_the_path(self) -> None:
        toggle = next(fault for fault in gallery() if fault.name == "toggle")
        results = self.written([self.decided(toggle.faulty)])["runs"][0]["results"]
        guilty = next(result for result in results if result["ruleId"] == "no pile-up")
        lines = toggle.faulty.read_text().splitlines()
        at = guilty["locations"][0]["physicalLocation"]["region"]
        self.assertIn("tap hive look", lines[at["startLine"] - 1])
        rule = guilty["relatedLocations"][0]["physicalLocation"]["region"]
        self.assertIn("no pile-up", lines[rule["startLine"] - 1])
        steps = [step["location"]["message"]["text"] for step in guilty["codeFlows"][0]["threadFlows"][0]["locations"]]
        self.assertEqual(steps, ["launch", "tap hive", "tap frames", "tap hive look"])
        self.assertEqual([result["ruleId"] for result in results].count("walk fails"), 1)

    def test_rules_in_json_and_junit(self) -> None:
        toggle = next(fault for fault in gallery() if fault.name == "toggle")
        decided = self.decided(toggle.faulty)
        told = json.loads(check_json.as_json([decided]))
        jsonschema.Draft202012Validator(check_json.schema()).validate(told)
        (rule,) = told["plans"][0]["rules"]
        self.assertEqual((rule["verdict"], rule["depth"], len(rule["guilty"])), ("broken", 5, 1))
        self.assertEqual((rule["name"], rule["title"]), ("no pile-up", "no pile-up"))
        suite = ET.fromstring(junit([decided]))[0]
        self.assertEqual((suite.get("tests"), suite.get("failures")), ("2", "2"))
