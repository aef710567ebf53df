"""What is told of two versions beside the first differences: rules that turned, other phones."""

import unittest
from unittest.mock import patch

from tests.plans import plan_of
from wise_ladder.plan import Plan
from wise_ladder.rules.starter import rules_in_force
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.verdicts import Bounds, Verdict
from wise_ladder.trials.compare import compare

RULED = """
    screens:
      hives: {moves: [{when: tap hive, do: push hive}]}
      hive: {moves: [{when: tap frames, do: push frames}]}
      frames: {moves: [{when: tap hive look, do: %s}]}
    rules: [{rule: never beneath, screens: hive}]
"""


def verdicts(plan: Plan, depth: int) -> tuple[Verdict, ...]:
    sweep = Sweep(plan, Bounds(depth=depth, seconds=20), rules_in_force(plan))
    sweep.run()
    return sweep.verdicts()


class Rules(unittest.TestCase):
    def turned(self, old: Plan, new: Plan, *depths: int) -> list[tuple[str, str]]:
        """Compare with sweeps that come so far."""
        swept = [verdicts(plan, depth) for plan, depth in zip((old, new), depths, strict=True)]
        with patch("wise_ladder.trials.compare._verdicts", side_effect=swept):
            return [(each.name, each.now.partition(" in ")[0]) for each in compare(old, new, 0.2).turned if each.kind == "rule"]

    def test_a_sweep_that_did_not_come_far_enough_turns_nothing(self) -> None:
        old, new = plan_of(RULED % "replace hive"), plan_of(RULED % "pop")
        self.assertEqual(self.turned(old, new, 2, 6), [])
        self.assertEqual(self.turned(old, new, 6, 2), [])

    def test_steps_that_break_a_rule_in_one_version_only_turn_it(self) -> None:
        old = plan_of((RULED % "pop").replace("push frames", "replace frames"))
        new = plan_of(RULED % "pop")
        self.assertIn(("never beneath: hive", "broken"), self.turned(old, new, 6, 6))
        [(_, words)] = [each for each in self.turned(new, old, 6, 6) if each[0] == "never beneath: hive"]
        self.assertTrue(words.startswith("holds"), words)


class Phones(unittest.TestCase):
    def test_a_difference_on_another_phone_is_told_with_its_name(self) -> None:
        text = """
            phones: {plain: {}, bare: {system back: no}}
            screens:
              hives: {moves: [{when: tap hive, do: push hive}]}
              hive: {%s}
        """
        old, new = plan_of(text % "header: none"), plan_of(text % "header: arrow")
        found = compare(old, new, 2)
        self.assertEqual({each.new.plan.phone for each in found.noticed}, {"plain"}, "the same on both phones is told once")
        self.assertEqual(list(found.elsewhere), ["on bare"])
        only = text.replace("system back: no", "system back: %s") % ("no", "header: none")
        other = text.replace("system back: no", "system back: %s") % ("yes", "header: none")
        found = compare(plan_of(only), plan_of(other), 2)
        self.assertEqual({each.new.plan.phone for each in found.noticed}, {"bare"})


if __name__ == "__main__":
    unittest.main()
