"""Small plans written from the documents by somebody who had not seen the code: each walk in them must pass."""

import unittest
from pathlib import Path

from wise_ladder.plan.loader import read_plan
from wise_ladder.walks.report_text import walk_lines
from wise_ladder.walks.running import run_walk

CASES = sorted((Path(__file__).parents[1] / "cases").glob("*.ladder.yaml"))


class CaseWalks(unittest.TestCase):
    def test_every_walk_passes(self) -> None:
        self.assertGreater(len(CASES), 30)
        for path in CASES:
            plan = read_plan(path)
            for walk in plan.walks:
                with self.subTest(f"{path.name}: {walk.name}"):
                    result = run_walk(plan, walk)
                    self.assertTrue(result.passed, "\n".join(walk_lines(result, path.name)))
