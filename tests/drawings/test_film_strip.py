"""The film strip: which frames there are, and that what it says is text."""

import re
import tempfile
import unittest
from pathlib import Path

from tests.plans import COMBFIELD
from wise_ladder.demo import combfield
from wise_ladder.drawings import draw_walk
from wise_ladder.drawings.film_strip import frames
from wise_ladder.plan.loader import read_plan_text
from wise_ladder.semantics.state import depth
from wise_ladder.walks import run_walk

WALK = next(walk for walk in COMBFIELD.walks if walk.name == "first start, to the sign-in form")


class Strips(unittest.TestCase):
    def test_a_frame_for_each_step_that_does_something(self) -> None:
        found = list(frames(COMBFIELD, run_walk(COMBFIELD, WALK)))
        self.assertEqual(
            [frame.words for frame in found],
            ["launch", "wait 300ms", "wait 900ms", "tap next", "tap next", "back", "tap next", "tap begin"],
        )
        self.assertEqual([depth(frame.state) for frame in found], [1, 1, 1, 2, 3, 2, 3, 1])
        self.assertEqual([len(frame.came) for frame in found], [1, 0, 1, 1, 1, 0, 1, 1])

    def test_the_line_that_failed_has_a_frame_with_the_reason(self) -> None:
        text = combfield().read_text().replace("do: replace frames(", "do: push frames(")
        plan = read_plan_text(text)
        walk = next(walk for walk in plan.walks if walk.name == "ten toggles, one Back")
        wrong = [frame for frame in frames(plan, run_walk(plan, walk)) if frame.wrong]
        self.assertEqual([frame.wrong for frame in wrong], ["10 more on the ladder"])

    def test_text_stays_text_and_names_no_moment(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "strip.svg"
            draw_walk(COMBFIELD, run_walk(COMBFIELD, WALK), path)
            drawn = path.read_text()
        for words in ("Combfield: first start, to the sign-in form", "rules of the yard", "tap begin", "leads out of the app"):
            self.assertIn(words, drawn)
        self.assertIsNone(re.search(r"dc:date|\b20\d\d-\d\d", drawn))

    def test_a_dollar_is_a_dollar(self) -> None:
        plan = read_plan_text("app: $x_1$ ^\nstart: hives\nscreens: {hives: }\nwalks: {w: [launch]}")
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "strip.svg"
            draw_walk(plan, run_walk(plan, plan.walks[0]), path)
            self.assertIn("$x_1$ ^: w", path.read_text())
