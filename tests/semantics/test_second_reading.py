"""The second reading against `step`, and faults that it must notice: a sample of what `make deep` does."""

import unittest
from pathlib import Path

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.deep import planted, second_reading
from tests.plans import COMBFIELD
from tests.second.compare import Difference, run
from tests.second.faults import FAULTS
from tests.semantics.test_cases import CASES
from wise_ladder.plan import Event, Plan
from wise_ladder.plan.loader import read_plan
from wise_ladder.walks.running import run_walk

SOURCE = Path(__file__).parents[2] / "src" / "wise_ladder"


def along(plan: Plan, name: str) -> Difference | None:
    """Do what a walk does by both readings, if it begins as the plan does, on the first phone."""
    walk = next(walk for walk in plan.walks if walk.name == name)
    if walk.given or walk.replies or walk.phone:
        return None
    events = iter([played.line.what for played in run_walk(plan, walk).played if isinstance(played.line.what, Event)])
    return run(plan, lambda _: next(events, None))


class SecondReading(unittest.TestCase):
    @settings(max_examples=40)
    @given(st.integers(0, 10**9))
    def test_both_readings_say_the_same(self, seed: int) -> None:
        self.assertEqual(second_reading(seed, runs=2)["found"], [])

    def test_walks_of_the_cases_and_of_combfield(self) -> None:
        for plan in (*map(read_plan, CASES), COMBFIELD):
            for walk in plan.walks:
                with self.subTest(f"{plan.app}: {walk.name}"):
                    self.assertIsNone(along(plan, walk.name))

    def test_planted_faults_are_noticed(self) -> None:
        """A few that are noticed soon; `make deep` plants them all."""
        for what in ("1 ", "7 ", "11 ", "16 the root", "21 "):
            number = next(number for number, fault in enumerate(FAULTS) if fault.what.startswith(what))
            with self.subTest(FAULTS[number].what):
                self.assertEqual(planted(number)["found"], [])

    def test_each_fault_can_still_be_planted(self) -> None:
        """The text that it replaces is there, once."""
        for fault in FAULTS:
            text = (SOURCE / f"{fault.module.replace('.', '/')}.py").read_text(encoding="utf-8")
            self.assertEqual(text.count(fault.right), 1, fault.what)
