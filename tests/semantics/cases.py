"""A way to write cases of the semantics: a plan, and walks over it that must pass."""

import textwrap
import unittest

from wise_ladder.plan import Plan
from wise_ladder.plan.loader import read_plan_text
from wise_ladder.walks import run_walk
from wise_ladder.walks.report_text import walk_lines


class Cases(unittest.TestCase):
    """Holds walks against a plan; the head `app` and `start: hives` are filled in."""

    def hold(self, plan: str, *walks: str) -> None:
        """Run each walk, its steps parted by semicolons; all must pass."""
        read = self.with_walks(plan, *walks)
        for found, written in zip(read.walks, walks, strict=True):
            with self.subTest(written):
                result = run_walk(read, found)
                self.assertTrue(result.passed, "\n".join(walk_lines(result, "plan")))

    def refused(self, plan: str, walk: str, why: str) -> None:
        """Run a walk whose last step, and no other, must be refused."""
        read = self.with_walks(plan, walk)
        *before, last = run_walk(read, read.walks[0]).played
        self.assertEqual([played.unmet for played in before], [None] * len(before))
        self.assertIn(why, last.unmet.words if last.unmet else "not refused")

    def hold_plan(self, text: str) -> None:
        """Run the walks that stand in a plan; all must pass."""
        read = read_plan_text(self._with_head(text))
        for walk in read.walks:
            result = run_walk(read, walk)
            self.assertTrue(result.passed, "\n".join(walk_lines(result, "plan")))

    def with_walks(self, plan: str, *walks: str) -> Plan:
        """Read a plan with walks added."""
        text = self._with_head(plan) + "\nwalks:\n"
        for number, walk in enumerate(walks):
            steps = "".join(f"    - {self.quoted(step.strip())}\n" for step in walk.split(";"))
            text += f"  walk {number}:\n{steps}"
        return read_plan_text(text)

    def _with_head(self, plan: str) -> str:
        plan = self.dedented(plan)
        return "app: Combfield\n" + ("" if "\nstart:" in f"\n{plan}" else "start: hives\n") + plan

    @staticmethod
    def dedented(plan: str) -> str:
        return textwrap.dedent(plan).strip("\n")

    @staticmethod
    def quoted(step: str) -> str:
        return f"'{step}'" if ": " in step and not step.startswith("repeat") else step
