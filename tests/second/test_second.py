"""The second reading against `step`, and faults that it must notice: a sample of what `make deep` does."""

import unittest
from pathlib import Path

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.deep import planted, second_reading
from tests.second.faults import FAULTS

SOURCE = Path(__file__).parents[2] / "src" / "wise_ladder"


class SecondReading(unittest.TestCase):
    @settings(max_examples=40, deadline=None)
    @given(st.integers(0, 10**9))
    def test_both_readings_say_the_same(self, seed: int) -> None:
        self.assertEqual(second_reading(seed, runs=2)["found"], [])

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
