"""The film of a counterexample: its frames side by side, and the loop of one that repeats."""

import unittest

from tests.app.test_drawing import lines
from wise_ladder.app.palette import INK
from wise_ladder.app.rules.film import FRAME, GAP, draw_film
from wise_ladder.app.rules.selection import RuleSelection
from wise_ladder.app.sweep_runner import SweepStatus
from wise_ladder.demo import gallery
from wise_ladder.plan.loader import read_plan
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.verdicts import Bounds


def film(name: str, width: int, frame: int = -1) -> list[str]:
    """Draw what breaks the first rule of a fault, at one of its frames."""
    sweep = Sweep(read_plan(next(fault.faulty for fault in gallery() if fault.name == name)), Bounds(depth=4))
    while not sweep.finished:
        sweep.run(1)
    selection = RuleSelection()
    selection.take_up(SweepStatus(sweep.plan, sweep.verdicts(), sweep.extent(), False, 0, {}, (), 0.0))
    selection.frame = frame
    return lines(draw_film(selection, INK, width, 24))


class Film(unittest.TestCase):
    def test_the_loop_is_bracketed_from_its_first_step_to_the_one_to_come(self) -> None:
        drawn = film("endless-chain", 160)
        (bracket,) = (line for line in drawn if line.startswith((" ", "╰")) and "╰" in line)
        titles = next(line for line in drawn if "and so on, for ever" in line)
        begin, end = bracket.index("╰"), bracket.index("╯")
        self.assertEqual(titles.index("3  tap next comb"), begin + 1)
        self.assertEqual(end, begin + 2 * FRAME + GAP - 1)
        self.assertEqual(bracket[begin + 1 : end].strip("─"), " ↻ the loop: each repeat adds rungs ")
        self.assertLess(abs(len(bracket[begin:end].split("↻")[0]) - len(bracket[begin:end].split("rungs ")[1])), 4)

    def test_a_loop_whose_first_frames_are_out_of_sight(self) -> None:
        drawn = film("toggle", 70)
        (bracket,) = (line for line in drawn if "╰" in line)
        self.assertEqual(bracket.index("╰"), 0)

    def test_a_wait_says_at_which_moment_what_happened_inside_it(self) -> None:
        beside = "\n".join(film("late-timer", 160))
        self.assertIn("inside step 3", beside)
        self.assertIn("1.00 s acted while hidden:", beside)
        self.assertIn("inside step 3: 1.00 s  acted while hidden", film("late-timer", 80)[-1])
        self.assertNotIn("inside", "\n".join(film("late-timer", 160, 1)))

    def test_a_loop_that_is_out_of_sight_has_no_bracket(self) -> None:
        drawn = "\n".join(film("toggle", 70, 0))
        self.assertIn("1  launch", drawn)
        self.assertNotIn("╰", drawn)


if __name__ == "__main__":
    unittest.main()
