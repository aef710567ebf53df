"""A way to write cases of the semantics: a plan, and walks over it that must pass."""

import textwrap
import unittest

from wise_ladder.plan.reading import read_plan_text
from wise_ladder.walks import run_walk
from wise_ladder.walks.telling import tell


class Cases(unittest.TestCase):
    """Holds walks against a plan; the head `app` and `start: hives` are filled in."""

    def hold(self, plan: str, *walks: str) -> None:
        """Run each walk, its steps parted by semicolons; all must pass."""
        plan = textwrap.dedent(plan).strip("\n")
        head = "app: Combfield\n" + ("" if "\nstart:" in f"\n{plan}" else "start: hives\n")
        text = head + plan + "\nwalks:\n"
        for number, walk in enumerate(walks):
            steps = "".join(f"    - {self.quoted(step.strip())}\n" for step in walk.split(";"))
            text += f"  walk {number}:\n{steps}"
        read = read_plan_text(text)
        for found, written in zip(read.walks, walks, strict=True):
            with self.subTest(written):
                result = run_walk(read, found)
                self.assertTrue(result.passed, "\n".join(tell(result, "plan")))

    @staticmethod
    def quoted(step: str) -> str:
        return f"'{step}'" if ": " in step and not step.startswith("repeat") else step
