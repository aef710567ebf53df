"""The gallery of faults: the rule of each plan is broken in as many steps as its file says, and holds in the mended twin."""

import re
import unittest

from wise_ladder.demo import gallery
from wise_ladder.plan.loader import read_plan
from wise_ladder.plan.model import Plan
from wise_ladder.plan.rule import Rule
from wise_ladder.plan.rules import RULES
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.verdicts import Bounds, Verdict

SHOWN_BY_A_WALK_ALONE = {
    "another-phone", "back-past-the-drawer", "fresh-copy", "mistyped-parameter", "nothing-freed", "picked-another", "stale-start",
    "stuck-bars", "undo-forgets", "unknown-address", "way-to-the-root",
}  # fmt: skip
"""What no rule is about: bars, what arrows bring, how a phone differs, how far a pop goes."""


def decided(plan: Plan) -> tuple[Verdict, ...]:
    sweep = Sweep(plan, Bounds(depth=10, seconds=20))
    sweep.run()
    return sweep.verdicts()


class Gallery(unittest.TestCase):
    def test_each_rule_is_broken_in_so_many_steps_and_holds_in_the_mended_twin(self) -> None:
        for fault in gallery():
            faulty, mended = read_plan(fault.faulty), read_plan(fault.fixed)
            rules = [rule for rule in faulty.rules if isinstance(rule, Rule)]
            with self.subTest(fault.name):
                self.assertEqual(not rules, fault.faulty.name.partition(".")[0] in SHOWN_BY_A_WALK_ALONE)
                for rule, broken, holds in zip(rules, decided(faulty), decided(mended), strict=bool(rules)):
                    self.assertEqual(broken.status, "broken")
                    said = re.fullmatch(r"broken(?: in (\d+) steps?)?", rule.note)
                    assert said is not None
                    self.assertEqual(min((each.steps for each in broken.counterexamples), default=0), int(said[1] or 0))
                    self.assertEqual(holds.status, "holds", holds.words)

    def test_every_rule_has_a_plan_in_the_gallery(self) -> None:
        shown = {rule.name for fault in gallery() for rule in read_plan(fault.faulty).rules if isinstance(rule, Rule)}
        self.assertEqual(set(RULES) - shown, set())
