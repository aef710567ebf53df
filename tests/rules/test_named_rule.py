"""One rule by its name: the shortest steps that break it as a walk; and how verdicts differ between phones."""

import unittest

from tests.plans import plan_of
from wise_ladder.errors import RuleError
from wise_ladder.plan.events import WalkStep
from wise_ladder.rules.named_rule import as_walk, rule_called
from wise_ladder.rules.report_text import differences
from wise_ladder.rules.starter import rules_in_force
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.verdicts import Bounds, Verdict
from wise_ladder.walks.running import run_walk

PLAN = plan_of("""
    phones: {plain: , stubborn: {back at root: stay}}
    screens:
      hives: {moves: [{when: tap hive, do: push hive}]}
      hive: {moves: [{when: tap hive, do: push hive}]}
    rules:
      - {rule: no twins, name: one of a kind}
      - {rule: leaves only from, screens: [hive]}
    """)
HOLDS = plan_of("""
    screens:
      hives: {moves: [{when: tap hive, do: push hive}]}
      hive: {}
    rules: [{rule: depth at most, rungs: 2}]
""")


class NamedRule(unittest.TestCase):
    def test_the_steps_that_break_it(self) -> None:
        walk, words = as_walk(PLAN, "one of a kind")
        self.assertEqual(walk.name, "what breaks one of a kind")
        self.assertEqual([line.text for line in walk.steps if isinstance(line, WalkStep)], ["launch", "tap hive", "tap hive"])
        self.assertRegex(words, r"^The rule is broken in 3 steps.*: hive is on hive\. To blame is hive, tap hive.*\.$")
        self.assertEqual(run_walk(PLAN, walk).played[-1].state.ladder[-1].data.screen, "hive")

    def test_it_runs_on_the_phone_it_was_found_on(self) -> None:
        self.assertEqual(as_walk(PLAN.on_phone("stubborn"), "one of a kind").walk.phone, "stubborn")

    def test_nothing_breaks_it(self) -> None:
        with self.assertRaisesRegex(RuleError, '^nothing breaks "depth at most: 2 rungs": holds at every depth'):
            as_walk(HOLDS, "depth at most: 2 rungs")

    def test_a_rule_that_is_not_there(self) -> None:
        with self.assertRaisesRegex(RuleError, '^there is no rule "one of a kin"; did you mean "one of a kind"\\?$'):
            rule_called(rules_in_force(PLAN), "one of a kin")

    def test_verdicts_that_differ_between_phones(self) -> None:
        lines = list(differences({phone: _verdicts(phone) for phone in ("plain", "stubborn")}))
        self.assertEqual(len(lines), 1)
        self.assertRegex(lines[0], r"^leaves only from: hive: plain: broken in 2 steps; stubborn: holds for 3 steps")


def _verdicts(phone: str) -> tuple[Verdict, ...]:
    sweep = Sweep(PLAN.on_phone(phone), Bounds(depth=3))
    while not sweep.finished:
        sweep.run(1)
    return sweep.verdicts()


if __name__ == "__main__":
    unittest.main()
