"""Where things are in the app's own code: read with their errors, handed on to moves, told in findings and in SARIF."""

import json
import unittest

from tests.plans import plan_of
from tests.test_cli import InAFolder, call
from wise_ladder.plan.values import CodePlace

TEXT = """\
app: Combfield
start: hives
flows: {tour: {start: hives, code: src/Tour}}
overlays: {sure: {kind: dialog, code: 'src/Sure:7', moves: [{when: tap yes, do: close}]}}
screens:
  hives:
    code: src/Hives
    moves:
      - {when: tap hive, do: push hive, code: 'src/Hives:41'}
      - {when: tap two, do: [push hive, open sure]}
    guards: [{name: one, if: not alone, block: yes, code: 'src/Leave me:3'}]
  hive: {moves: [{when: tap tour, do: push tour}]}
links: [{address: 'app://hives', build: [hives], code: src/Links}]
rules: [{rule: never beneath, screens: hives}]
walks: {wrong: [launch, tap hive, see hives]}
"""


class Reading(unittest.TestCase):
    def test_each_part_has_its_own_or_that_of_its_screen(self) -> None:
        plan = plan_of(TEXT)
        hives, hive = plan.screen["hives"], plan.screen["hive"]
        moves, sure = [move.at for move in hives.moves], [move.at for move in plan.overlays[0].moves]
        places = [*moves, hives.guards[0].at, plan.links[0].at, *sure]
        self.assertEqual([plan.code_of.get(place) for place in places], [
            CodePlace("src/Hives", 41), CodePlace("src/Hives"), CodePlace("src/Leave me", 3), CodePlace("src/Links"), CodePlace("src/Sure", 7),
        ])  # fmt: skip
        self.assertEqual(plan.code_of[plan.screen["tour"].at], CodePlace("src/Tour"))
        self.assertIsNone(plan.code_of.get(hive.at))

    def test_what_is_no_place_in_the_code_is_told(self) -> None:
        for text in ("/etc/passwd", "../up", "a/../../up", "src/Hive:0", "src/Hive:x", "C:\\x", ":7"):
            with self.subTest(text), self.assertRaisesRegex(Exception, "is not a place in the code; write a path"):
                plan_of(f"screens: {{hives: {{code: '{text}'}}}}")


class Telling(InAFolder):
    def setUp(self) -> None:
        super().setUp()
        (self.folder / "app.ladder.yaml").write_text(TEXT)

    def test_findings_and_failed_walks_name_it(self) -> None:
        done = call("check", "app.ladder.yaml", "--steps", "4", folder=self.folder)
        self.assertIn("(app.ladder.yaml:9, hives, tap hive; src/Hives:41)", done.stdout)
        self.assertIn("    in the code: src/Hives:41\n", done.stdout)

    def test_sarif_points_there_first(self) -> None:
        done = call("check", "app.ladder.yaml", "--steps", "4", "--format", "sarif", folder=self.folder)
        results = json.loads(done.stdout)["runs"][0]["results"]
        for result in results[:2]:
            places = [each["physicalLocation"] for each in result["locations"]]
            self.assertEqual(places[0], {"artifactLocation": {"uri": "src/Hives"}, "region": {"startLine": 41}})
            self.assertEqual(places[1]["artifactLocation"]["uri"], "app.ladder.yaml")

    def test_json_names_it(self) -> None:
        done = call("check", "app.ladder.yaml", "--steps", "4", "--format", "json", folder=self.folder)
        (rule,) = json.loads(done.stdout)["plans"][0]["rules"]
        self.assertEqual(rule["guilty"][0]["code"], "src/Hives:41")
