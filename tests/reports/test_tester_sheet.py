"""The sheet for somebody who checks an app by hand, as a Markdown parser reads it."""

import unittest

from tests.plans import COMBFIELD
from tests.reports.pages import Page
from tests.test_cli import InAFolder, call
from wise_ladder.demo import combfield, gallery
from wise_ladder.plan.loader import read_plan_text
from wise_ladder.reports.tester_sheet import tester_sheet
from wise_ladder.walks import run_walk

PLAN = """
app: Yard
start: hives
facts: {session: {values: [none, valid]}}
calls: {check: {ok: 1s}}
screens:
  hives: {moves: [{when: tap hive, do: push hive}, {when: tap note, do: open note}, {when: tap attic, do: push attic}]}
  hive:
    guards: [{name: sure, ask: {text: Leave?, answers: [{stay: stay}, {leave: go on}]}}]
  attic: {}
anywhere: [{when: launched, do: call check}]
overlays: {note: {kind: sheet}}
walks:
  short: [launch, tap hive]
  long: {given: [session is valid, check replies ok], steps: [launch, tap hive, see hive, back, answer leave, tap note]}
  wrong: [launch, tap hive, tap attic]
"""


class Sheets(unittest.TestCase):
    def setUp(self) -> None:
        plan = read_plan_text(PLAN)
        self.lines = tester_sheet(plan, [run_walk(plan, walk) for walk in plan.walks], ()).splitlines()

    def test_what_to_do_what_is_seen_and_what_back_does(self) -> None:
        begin = self.lines.index("## ◆ long")
        self.assertEqual(
            self.lines[begin + 2 : begin + 10],
            [
                "Given: session is valid, check replies ok.",
                "",
                "- [ ] **launch** · see hives · Back leaves the app",
                "- [ ] **tap hive** · see hive · Back asks, then lands on hives",
                "- [ ] check: see hive",
                "- [ ] **back** · see hive, asks “Leave?” · Back closes",
                "- [ ] **answer leave** · see hives · Back leaves the app",
                "- [ ] **tap note** · see hives, over it: note · Back closes",
            ],
        )

    def test_the_fewest_walks_that_take_every_move_are_marked(self) -> None:
        self.assertIn("## short", self.lines)
        self.assertIn("◆ marks the fewest walks that take every move which any of them takes: 1 of 3.", self.lines)
        begin = self.lines.index("## Moves that no walk takes")
        self.assertEqual(self.lines[begin + 2 : begin + 3], ["- hives, tap attic: push attic"])

    def test_a_step_that_is_not_possible_says_why(self) -> None:
        (line,) = (line for line in self.lines if "not possible" in line)
        self.assertTrue(line.startswith("- [ ] **tap attic**: "), line)


class Files(InAFolder):
    def test_what_breaks_a_rule_stands_under_the_walks(self) -> None:
        fault = next(fault for fault in gallery() if fault.name == "back-to-sign-in").faulty
        done = call("report", str(fault), "--script", "-o", "sheet.md", folder=self.folder)
        self.assertEqual((done.returncode, done.stderr, done.stdout), (0, "", "sheet.md written\n"))
        read = Page(self.folder / "sheet.md")
        self.assertTrue(any(each.startswith("## What breaks: ") for each in read.headings()), read.headings())
        self.assertTrue(any(item.startswith("[ ] wrong then: ") for item in read.items()))
        self.assertEqual(read.dead_links(), [])

    def test_combfield_has_a_box_for_each_step_of_each_walk(self) -> None:
        done = call("report", str(combfield()), "--script", "-o", "sheet.md", folder=self.folder)
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        read = Page(self.folder / "sheet.md")
        boxes = [item for item in read.items() if item.startswith("[ ] ")]
        steps = sum(len(run_walk(COMBFIELD, walk).played) for walk in COMBFIELD.walks)
        self.assertGreaterEqual(len(boxes), steps)
        self.assertEqual(
            len(
                [
                    each
                    for each in read.headings()
                    if each.removeprefix("## ◆ ").removeprefix("## ") in {walk.name for walk in COMBFIELD.walks}
                ]
            ),
            len(COMBFIELD.walks),
        )


if __name__ == "__main__":
    unittest.main()
