"""What the view Walks is about, without a screen, and its drawing at every size."""

import unittest

from tests.plans import COMBFIELD, plan_of
from wise_ladder.app.palette import PALETTES
from wise_ladder.app.walks.drawing import draw_list, draw_steps
from wise_ladder.app.walks.selection import WalkSelection
from wise_ladder.plan import Plan
from wise_ladder.walks import WalkRun, run_walk

TEXT = """
    screens:
      hives: {moves: [{when: tap in, do: OPERATION hive}]}
      hive:
    walks:
      in: [launch, tap in, see hive]
      back: [launch, tap in, back, see hives]
      never: [launch, outside]
"""
PUSHED, REPLACED = plan_of(TEXT.replace("OPERATION", "push")), plan_of(TEXT.replace("OPERATION", "replace"))


def results(plan: Plan) -> dict[str, WalkRun]:
    return {walk.name: run_walk(plan, walk) for walk in plan.walks}


class Choosing(unittest.TestCase):
    def board(self) -> WalkSelection:
        board = WalkSelection(PUSHED)
        board.take_up(PUSHED, results(PUSHED))
        return board

    def test_one_stays_in_the_steps_of_a_walk_but_not_in_those_of_another(self) -> None:
        board = self.board()
        board.in_steps = True
        board.choose(0)
        self.assertTrue(board.in_steps)
        board.choose(1)
        self.assertFalse(board.in_steps)

    def test_the_step_that_fails_is_chosen_first(self) -> None:
        board = self.board()
        board.choose(2)
        self.assertEqual((board.name, board.step), ("never", 1))
        board.choose(0)
        self.assertEqual(board.step, 0)

    def test_walks_and_their_steps(self) -> None:
        board = self.board()
        board.go(1)
        self.assertEqual(board.name, "back")
        board.in_steps = True
        board.go(1)
        board.go(1)
        self.assertEqual((board.step, board.played[board.step].line.text), (2, "back"))
        for _ in range(9):
            board.go(1)
        self.assertEqual(board.step, 3)
        board.in_steps = False
        board.go(-2)
        self.assertEqual((board.name, board.step), ("never", 1))

    def test_those_that_fail_and_those_looked_for(self) -> None:
        board = self.board()
        self.assertTrue(board.go_failed())
        self.assertEqual(board.name, "never")
        board.failed_only = True
        self.assertEqual([walk.name for walk in board.shown], ["never"])
        board.find("nothing")
        self.assertEqual((board.shown, board.name, board.result), ([], "", None))
        board.go(1)
        self.assertFalse(board.go_failed())
        board.failed_only = False
        board.find("b")
        self.assertEqual(board.name, "back")

    def test_a_verdict_that_changed_is_marked_until_it_is_looked_at(self) -> None:
        board = self.board()
        board.take_up(REPLACED, results(REPLACED))
        self.assertEqual(board.turned, {"back"})
        board.choose(1)
        self.assertEqual(board.turned, set())
        board.take_up(PUSHED, results(PUSHED))
        self.assertEqual(board.turned, {"back"})

    def test_a_walk_that_went_leaves_its_place_to_the_next(self) -> None:
        board = self.board()
        board.choose(2)
        fewer = plan_of(TEXT.replace("OPERATION", "push").replace("never: [launch, outside]", ""))
        board.take_up(fewer, results(fewer))
        self.assertEqual(board.name, "back")


class Drawing(unittest.TestCase):
    def test_at_every_size(self) -> None:
        for plan in (PUSHED, REPLACED, COMBFIELD, plan_of("screens: {hives: }")):
            board = WalkSelection(plan)
            for found in ({}, results(plan)):
                board.take_up(plan, found)
                for place in range(max(len(board.shown), 1)):
                    board.choose(place)
                    for width, height in ((54, 45), (27, 21), (98, 45), (51, 21), (10, 3)):
                        for draw in (draw_list, draw_steps):
                            rows = [strip.text for strip in draw(board, PALETTES["ink"], width, height).strips()]
                            self.assertEqual({len(row) for row in rows}, {width})

    def test_a_failure_is_told_with_both_ladders_and_its_culprit(self) -> None:
        board = WalkSelection(REPLACED)
        board.take_up(REPLACED, results(REPLACED))
        board.choose(1)
        drawn = "\n".join(strip.text for strip in draw_steps(board, PALETTES["paper"], 98, 45).strips())
        self.assertIn("✗ step 4, see hives: the app is not running", drawn)
        self.assertIn("▴ caused by step 3, back", drawn)


if __name__ == "__main__":
    unittest.main()
