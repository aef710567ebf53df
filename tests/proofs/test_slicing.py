"""What no rule can notice is left out before states are taken together."""

import unittest

from tests.plans import plan_of
from wise_ladder.demo import combfield, gallery
from wise_ladder.plan import Plan
from wise_ladder.plan.conditions import FactIs, TimerRuns
from wise_ladder.plan.loader import read_plan
from wise_ladder.plan.operations import SetFact
from wise_ladder.plan.rule import Rule
from wise_ladder.proofs.slicing import left_out, sliced
from wise_ladder.rules.starter import rules_in_force
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.verdicts import Bounds

TEXT = """
    start: home
    flows: {home: {tabs: {hives: hives, diary: week}, moves: [{when: tap up, do: show top}]}}
    screens:
      hives: {moves: [{when: tap save, do: [push hive, show saved]}, {when: tap other, do: [close saved, show SHOWN]}]}
      hive: {}
      week: {}
    overlays:
      saved: {kind: notice, for: 2s}
      top: {kind: notice, of: home, for: 1s}
      stays: {kind: notice, for: 1s, back: blocked}
      asks: {kind: notice, for: 1s, moves: [{when: tap more, do: push hive}]}
      sure: {kind: dialog}
"""


def left(plan: Plan) -> set[str]:
    return {overlay.name for overlay in sliced(plan, rules_in_force(plan)).overlays}


class Slicing(unittest.TestCase):
    def test_notices_that_take_nothing_go_with_all_that_opens_or_closes_them(self) -> None:
        plan = plan_of(TEXT.replace("SHOWN", "sure"))
        self.assertEqual(left(plan), {"stays", "asks", "sure"})
        self.assertEqual(left_out(plan, sliced(plan, rules_in_force(plan))), ("notice saved", "notice top"))
        moves = sliced(plan, ()).screen["hives"].moves
        self.assertEqual([len(move.operations) for move in moves], [1, 1])

    def test_what_would_be_done_instead_of_something_stays(self) -> None:
        self.assertIn("saved", left(plan_of(TEXT.replace("show SHOWN", "pop else show saved"))))

    def test_one_that_may_find_no_place_to_open_stays(self) -> None:
        self.assertIn("top", left(plan_of(TEXT.replace("SHOWN", "top"))))

    def test_a_rule_that_asks_what_opens_again_keeps_them(self) -> None:
        plan = plan_of(TEXT.replace("SHOWN", "sure"))
        self.assertIs(sliced(plan, (Rule("survives remaking"),)), plan)

    def test_a_timer_whose_end_nothing_waits_for_becomes_a_fact(self) -> None:
        plan = plan_of("""
            timers: {code: 30s, idle: 2min}
            screens:
              hives:
                moves:
                  - {when: tap again, if: code runs, do: show soon}
                  - {when: tap again, do: [start code, start idle]}
                  - {when: tap stop, do: stop code}
                  - {when: idle runs out, do: leave}
            overlays: {soon: {kind: dialog}}
            """)
        thin = sliced(plan, ())
        self.assertEqual([timer.name for timer in thin.timers], ["idle"])
        self.assertEqual([(fact.name, fact.values, fact.allowed_changes) for fact in thin.facts], [
            ("timer code", ("no", "yes"), (("yes", "no"),)),
        ])  # fmt: skip
        again, start, stop, _ = thin.screen["hives"].moves
        self.assertEqual(again.condition, FactIs("timer code", "yes"))
        self.assertEqual((start.operations[0], stop.operations), (SetFact("timer code", "yes"), (SetFact("timer code", "no"),)))
        asks = Rule("in no state", condition=TimerRuns("code"))
        self.assertIs(sliced(plan, (asks,)), plan)

    def test_what_is_broken_is_broken_without_them(self) -> None:
        sliced_plans = 0
        for path in (combfield(), *(pair.faulty for pair in gallery())):
            plan = read_plan(path)
            thin = sliced(plan, rules_in_force(plan))
            if thin is not plan:
                sliced_plans += 1
                self.assertLessEqual(broken(plan), broken(thin))
        self.assertGreater(sliced_plans, 1)


def broken(plan: Plan) -> set[str]:
    sweep = Sweep(plan, Bounds(depth=5, states=1_500))
    sweep.run()
    return {sweep.rules[number].called for number, found in sweep.found.items() if found}


if __name__ == "__main__":
    unittest.main()
