"""What is said of rules after an edit: no more than is known of both plans."""

import unittest

from wise_ladder.app.sweep_runner import RuleCounts, SweepStatus, changed_verdicts, still_unknown
from wise_ladder.app.window_frame import TitleBar
from wise_ladder.demo import gallery
from wise_ladder.plan.loader import read_plan
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.verdicts import Bounds

TOGGLE = next(fault for fault in gallery() if fault.name == "toggle")


class Turned(unittest.TestCase):
    """The toggle that pushes breaks "no pile-up" in 4 steps; its mended twin does not."""

    def standing(self, *, mended: bool, depth: int) -> SweepStatus:
        sweep = Sweep(read_plan(TOGGLE.fixed if mended else TOGGLE.faulty), Bounds(depth=depth))
        sweep.run()
        return SweepStatus(sweep.plan, sweep.verdicts(), sweep.extent(), False, 0, {}, (), 0.0)

    def test_what_is_known_so_far_is_said(self) -> None:
        for before, after, said in (
            (self.standing(mended=False, depth=4), self.standing(mended=True, depth=2), []),
            (self.standing(mended=False, depth=4), self.standing(mended=True, depth=4), ["no pile-up holds again"]),
            (self.standing(mended=True, depth=2), self.standing(mended=False, depth=4), []),
            (self.standing(mended=True, depth=20), self.standing(mended=False, depth=3), []),
            (self.standing(mended=True, depth=20), self.standing(mended=False, depth=4), ["no pile-up is broken now"]),
        ):
            with self.subTest(before=before.known.depth, after=after.known.depth):
                self.assertEqual(list(changed_verdicts(before, after)), said)

    def test_a_rule_that_was_broken_is_not_known_until_the_sweep_is_as_deep(self) -> None:
        before = self.standing(mended=False, depth=4)
        for depth, unknown in ((1, 1), (3, 1), (4, 0)):
            self.assertEqual(still_unknown(before, self.standing(mended=True, depth=depth)), unknown)
        self.assertEqual(still_unknown(None, self.standing(mended=True, depth=1)), 0)

    def test_the_top_line_says_what_is_not_known(self) -> None:
        class Told(TitleBar):
            def redraw(self) -> None:
                self.told = [words for _, words in self._rules]

        line = Told("plan")
        for known, said in (
            ((3, 0, 0, True, False), ["✓ 3 rules"]),
            ((3, 1, 0, False, False), ["◕ 3 rules", "✗ 1 broken"]),
            ((2, 0, 1, False, True), ["◔ 2 rules", "◌ 1 not known"]),
            ((0, 0, 4, False, True), ["◌ 4 not known"]),
        ):
            line.tell_rules(RuleCounts(*known))
            self.assertEqual(line.told, said)

    def test_where_nothing_was_known_before_nothing_is_said(self) -> None:
        self.assertEqual(list(changed_verdicts(None, self.standing(mended=False, depth=4))), [])


if __name__ == "__main__":
    unittest.main()
