"""Walks edited in the text of a plan, and walks that start from others."""

import unittest

from tests.plans import plan_of
from wise_ladder.demo import combfield, gallery
from wise_ladder.errors import PlanError, WriteError
from wise_ladder.plan import Plan
from wise_ladder.plan.edit_walks import copy_walk, delete_walk, insert_step, rename_walk, set_step
from wise_ladder.plan.events import WalkStep
from wise_ladder.plan.loader import read_plan_text
from wise_ladder.walks import run_walk
from wise_ladder.walks.running import expand_repeats

HEAD = "app: x\nstart: a\nscreens:\n  a: {moves: [{when: tap on, do: push b}]}\n  b:\nwalks:\n"
TEXT = (
    HEAD
    + """\
  # the first
  one:
    - launch  # at once
    - tap on
    - see b
  two: [launch, tap on, 'back', outside]
  three:
    given: []
    steps:
      - start from one
      - back
      - see a
"""
)


def lines(plan: Plan, name: str) -> list[str]:
    walk = next(walk for walk in plan.walks if walk.name == name)
    return [step.text for step in expand_repeats(walk.steps)]


class Editing(unittest.TestCase):
    def at(self, text: str, name: str, place: int) -> WalkStep:
        return list(expand_repeats(next(walk for walk in read_plan_text(text).walks if walk.name == name).steps))[place]

    def test_a_step_is_changed_added_and_taken_out(self) -> None:
        for name, before in (("one", ["launch", "tap on", "see b"]), ("two", ["launch", "tap on", "back", "outside"])):
            with self.subTest(name):
                text = set_step(TEXT, self.at(TEXT, name, 1).at, "tap on twice")
                text = insert_step(text, self.at(text, name, 1).at, "wait 1s")
                self.assertEqual(lines(read_plan_text(text), name), [before[0], "tap on twice", "wait 1s", *before[2:]])
                text = set_step(text, self.at(text, name, 2).at, "")
                text = set_step(text, self.at(text, name, 0).at, " ")
                self.assertEqual(lines(read_plan_text(text), name), ["tap on twice", *before[2:]])
                self.assertEqual(text.count("#"), TEXT.count("#") - (name == "one"))

    def test_the_only_step_stays(self) -> None:
        text = HEAD + "  w:\n    - launch\n"
        with self.assertRaisesRegex(WriteError, "only step"):
            set_step(text, self.at(text, "w", 0).at, "")

    def test_a_walk_is_renamed_copied_and_taken_out(self) -> None:
        text = rename_walk(TEXT, "one", "first: of all")
        plan = read_plan_text(text)
        self.assertEqual([walk.name for walk in plan.walks], ["first: of all", "two", "three"])
        self.assertTrue(run_walk(plan, plan.walks[2]).passed)
        text = copy_walk(copy_walk(TEXT, "one", "uno"), "two", "due")
        plan = read_plan_text(text)
        self.assertEqual([walk.name for walk in plan.walks], ["one", "uno", "two", "due", "three"])
        self.assertEqual((lines(plan, "uno"), lines(plan, "due")), (lines(plan, "one"), lines(plan, "two")))
        text = delete_walk(delete_walk(TEXT, "three"), "one")
        self.assertEqual([walk.name for walk in read_plan_text(text).walks], ["two"])
        self.assertIn("# the first", text)

    def test_what_cannot_be_done_is_told(self) -> None:
        with self.assertRaisesRegex(WriteError, "already"):
            rename_walk(TEXT, "one", "two")
        with self.assertRaisesRegex(WriteError, 'walk "no" is gone'):
            copy_walk(TEXT, "no", "x")
        with self.assertRaisesRegex(WriteError, "braces"):
            delete_walk(HEAD + "  {w: [launch]}\n", "w")

    def test_every_walk_that_comes_along_can_be_copied_and_renamed(self) -> None:
        for path in (combfield(), *(fault.faulty for fault in gallery())):
            text = path.read_text()
            walk = read_plan_text(text).walks[-1]
            plan = read_plan_text(rename_walk(copy_walk(text, walk.name, "again"), walk.name, "other"))
            self.assertEqual([found.name for found in plan.walks[-2:]], ["other", "again"])
            self.assertEqual(lines(plan, "again"), lines(plan, "other"))


class StartingFromOthers(unittest.TestCase):
    def plan(self, walks: str) -> Plan:
        return plan_of(f"""
            facts: {{session: [none, valid]}}
            screens:
              hives: {{moves: [{{when: tap on, if: session is valid, do: push hive}}]}}
              hive: {{moves: [{{when: tap on, do: push hive}}]}}
            walks: {walks}
        """)

    def test_it_begins_where_the_other_ends_with_what_was_given_there(self) -> None:
        plan = self.plan(
            "{in: {given: [session is valid], steps: [launch, tap on, see hive]}, deeper: [start from in, depth 2, tap on, depth 3]}"
        )
        result = run_walk(plan, plan.walks[1])
        self.assertTrue(result.passed)
        self.assertEqual(
            [played.line.text for played in result.played],
            ["launch", "tap on", "start from in", "depth 2", "tap on", "depth 3"],
        )

    def test_what_was_met_before_does_not_count(self) -> None:
        plan = self.plan("{in: [launch], after: [start from in, home, reopen, never saw hive], saw: [launch, never saw hives]}")
        self.assertEqual([run_walk(plan, walk).passed for walk in plan.walks], [True, True, False])

    def test_chains_and_what_is_wrong(self) -> None:
        plan = self.plan("{c: [start from b, back], b: [start from a, back], a: [launch]}")
        self.assertEqual(lines(plan, "c"), ["launch", "back", "start from b", "back"])
        for walks, words in (
            ("{a: [start from b], b: [start from a]}", "in turn starts"),
            ("{a: [start from bb], b: [launch]}", 'no walk "bb"; did you mean "b"'),
            ("{a: [launch, start from b], b: [launch]}", "must be the first step"),
            ("{a: [repeat 2: [start from b]], b: [launch]}", "must be the first step"),
            ("{a: [start from a]}", "in turn starts"),
        ):
            with self.subTest(walks), self.assertRaisesRegex(PlanError, words):
                self.plan(walks)


if __name__ == "__main__":
    unittest.main()
