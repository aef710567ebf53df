"""The gallery of faults: each plan breaks its own walk, its mended twin keeps it, and the two differ in a line or two."""

import unittest
from difflib import unified_diff

from wise_ladder.demo import gallery
from wise_ladder.plan.loader import read_plan
from wise_ladder.walks import run_walk


class Gallery(unittest.TestCase):
    def test_each_fault_shows_and_each_twin_is_mended(self) -> None:
        self.assertGreater(len(gallery()), 20)
        for fault in gallery():
            with self.subTest(fault.name):
                faulty, mended = read_plan(fault.faulty), read_plan(fault.fixed)
                self.assertTrue(faulty.about and mended.about)
                self.assertEqual(mended.warnings, ())
                self.assertEqual([walk.name for walk in faulty.walks], [walk.name for walk in mended.walks])
                for wrong, right in zip(faulty.walks, mended.walks, strict=True):
                    self.assertFalse(run_walk(faulty, wrong).passed)
                    self.assertTrue(run_walk(mended, right).passed)

    def test_the_mend_is_small(self) -> None:
        for fault in gallery():
            with self.subTest(fault.name):
                before, after = (path.read_text().splitlines()[1:] for path in (fault.faulty, fault.fixed))
                changed = [
                    line
                    for line in unified_diff(before, after, lineterm="", n=0)
                    if line[:1] in "+-" and line[:3] not in {"+++", "---"} and "{rule:" not in line
                ]
                self.assertLessEqual(len(changed), 4)
