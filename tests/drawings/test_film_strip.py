"""The film strip: which frames there are, where Back leads from the last, and that nothing lies over anything else."""

import re
import tempfile
import unittest
from collections.abc import Iterator
from itertools import combinations
from pathlib import Path

from tests.drawings.test_map import LARGE, SMALL, overlaps
from tests.drawings.test_time_chart import random_tape
from tests.plans import COMBFIELD, plan_of
from wise_ladder.demo import combfield, gallery
from wise_ladder.drawings import draw_walk
from wise_ladder.drawings.paper import A2, SLIDE
from wise_ladder.drawings.strip_frames import Strip, back_lines, strip_of_tape, strip_of_walk
from wise_ladder.drawings.strip_layout import StripPage, strip_pages
from wise_ladder.plan.events import Back, Launch, Tap
from wise_ladder.plan.loader import read_plan, read_plan_text
from wise_ladder.semantics import initial_state
from wise_ladder.semantics.state import depth
from wise_ladder.walks import run_walk
from wise_ladder.walks.tape import Tape

WALK = next(walk for walk in COMBFIELD.walks if walk.name == "first start, to the sign-in form")


def strip(text: str, *taps: str) -> Strip:
    """Launch a plan and tap."""
    plan = plan_of(text)
    tape = Tape(plan, initial_state(plan)).with_event(Launch())[0]
    for name in taps:
        tape = tape.with_event(Back() if name == "back" else Tap(name))[0]
    return strip_of_tape(tape, "taps")


class Frames(unittest.TestCase):
    def test_a_frame_for_each_step_that_does_something(self) -> None:
        found = strip_of_walk(COMBFIELD, run_walk(COMBFIELD, WALK)).frames
        self.assertEqual(
            [frame.words for frame in found],
            ["launch", "wait 300ms", "wait 900ms", "tap next", "tap next", "back", "tap next", "tap begin"],
        )
        self.assertEqual([depth(frame.state) for frame in found], [1, 1, 1, 2, 3, 2, 3, 1])
        self.assertEqual([len(frame.came) for frame in found], [1, 0, 1, 1, 1, 0, 1, 1])
        tape = strip_of_tape(Tape.from_walk(COMBFIELD, run_walk(COMBFIELD, WALK)), "a tape")
        self.assertEqual([frame.words for frame in tape.frames], [frame.words for frame in found])
        self.assertEqual([frame.number for frame in tape.frames], [str(number) for number in range(1, 9)])

    def test_the_line_that_failed_has_a_frame_with_the_reason(self) -> None:
        text = combfield().read_text().replace("do: replace frames(", "do: push frames(")
        plan = read_plan_text(text)
        walk = next(walk for walk in plan.walks if walk.name == "ten toggles, one Back")
        found = strip_of_walk(plan, run_walk(plan, walk))
        self.assertEqual([frame.wrong for frame in found.frames if frame.wrong], ["10 more on the ladder"])
        self.assertEqual((found.outcome, found.wrong), ("✗ fails at step 24", True))

    def test_what_breaks_a_rule_is_said_instead_of_the_verdict(self) -> None:
        found = strip_of_walk(COMBFIELD, run_walk(COMBFIELD, WALK), "broken: hive is on hive")
        self.assertEqual((found.outcome, found.wrong), ("broken: hive is on hive", True))


class Backs(unittest.TestCase):
    """The lines of Back from the last frame, as the rungs they join."""

    LADDER = (
        "screens: {hives: {moves: [{when: tap hive, do: push hive}]}, hive: {moves: [{when: tap comb, do: push comb}]}, comb: }"
    )

    def lines(self, found: Strip) -> list[tuple[str, str, str]]:
        names = {rung.serial: rung.data.screen for rung in found.frames[-1].state.ladder} | {0: "the ground"}
        return [(names[line.start], "-" if line.end is None else names[line.end], line.words) for line in back_lines(found)]

    def test_press_by_press_down_to_the_ground(self) -> None:
        self.assertEqual(
            self.lines(strip(self.LADDER, "hive", "comb")),
            [("comb", "hive", "Back 1"), ("hive", "hives", "Back 2"), ("hives", "the ground", "Back 3")],
        )

    def test_a_back_that_asks_and_one_that_leads_elsewhere(self) -> None:
        asks = self.LADDER.replace(
            "hive: {moves", "hive: {guards: [{name: sure, ask: {text: Leave?, answers: [{stay: stay}, {leave: go on}]}}], moves"
        )
        self.assertEqual(self.lines(strip(asks, "hive"))[0], ("hive", "hives", "Back 1 asks"))
        away = self.LADDER.replace("hive: {moves", "hive: {guards: [{name: comb first, do: replace comb}], moves")
        self.assertEqual(self.lines(strip(away, "hive")), [("hive", "-", "Back 1: comb")])

    def test_a_rung_that_comes_with_a_back_is_not_taken_for_one_that_went(self) -> None:
        walk = next(walk for walk in COMBFIELD.walks if walk.name == "a diary link may leave the look out")
        lines = back_lines(strip_of_walk(COMBFIELD, run_walk(COMBFIELD, walk)))
        self.assertEqual([line.words for line in lines], ["Back 1", "Back 2: hives"])

    def test_a_phone_without_back_and_one_that_stays_at_the_root(self) -> None:
        none = self.LADDER + "\nphones: {plain: {system back: no}}"
        self.assertEqual([line.words for line in back_lines(strip(none, "hive"))], ["no Back on this phone"])
        root = self.LADDER + "\nphones: {plain: {back at root: stay}}"
        self.assertEqual([line.words for line in back_lines(strip(root, "hive"))], ["Back 1", "Back stays here"])

    def test_outside_there_is_none(self) -> None:
        self.assertEqual(back_lines(strip(self.LADDER, "back")), [])

    def test_each_line_begins_and_ends_at_its_rungs(self) -> None:
        (page,) = strip_pages(strip(self.LADDER, "hive", "comb"), A2.size)
        last = sorted(
            (board.frame for board in page.boards if board.frame.x == page.boards[-1].frame.x), key=lambda each: -each.y
        )
        self.assertEqual(len(last), 3)
        for number, back in enumerate(page.backs[:2]):
            self.assertTrue(last[number].y < back.corners[0][1] < last[number].y + last[number].height)
            self.assertTrue(last[number + 1].y < back.corners[-1][1] < last[number + 1].y + last[number + 1].height)
        self.assertLess(page.backs[2].corners[-1][1], last[2].y)


class Pages(unittest.TestCase):
    def each(self) -> Iterator[tuple[str, StripPage]]:
        strips = {walk.name: strip_of_walk(COMBFIELD, run_walk(COMBFIELD, walk)) for walk in COMBFIELD.walks}
        for fault in gallery():
            plan = read_plan(fault.faulty)
            strips |= {f"{fault.name} {walk.name}": strip_of_walk(plan, run_walk(plan, walk)) for walk in plan.walks}
        for name, plan in (("small", SMALL), ("large", LARGE)):
            strips |= {f"{name} {steps}": strip_of_tape(random_tape(plan, steps, steps), name) for steps in (0, 12, 150)}
        for name, found in strips.items():
            for paper in (A2.size, SLIDE.size):
                for page in strip_pages(found, paper):
                    yield name, page

    def test_no_words_lie_over_others_nor_boards_over_boards_and_all_stand_on_the_page(self) -> None:
        count = 0
        for name, page in self.each():
            with self.subTest(name):
                texts = [text.frame for text in page.texts]
                boards = [board.frame for board in page.boards]
                for frames in (texts, boards, [*page.badges, *boards]):
                    self.assertEqual([pair for pair in combinations(frames, 2) if overlaps(*pair)], [])
                for x, y, width, height in (*texts, *boards):
                    self.assertGreaterEqual(min(x, y), 0)
                    self.assertLessEqual(x + width, page.size.width)
                    self.assertLessEqual(y + height, page.size.height)
                self.assertGreaterEqual(min(text.line.letters for text in page.texts), 7)
                count += 1
        self.assertGreater(count, 150)

    def test_a_long_run_goes_on_on_other_pages_that_fit_the_paper(self) -> None:
        found = strip_of_tape(random_tape(LARGE, 150, 3), "long")
        for paper, least in ((A2.size, 2), (SLIDE.size, 10)):
            pages = strip_pages(found, paper)
            self.assertGreaterEqual(len(pages), least)
            self.assertEqual(sum(len(page.badges) for page in pages), 150)
            self.assertEqual([page for page in pages[:-1] if page.backs], [])
            for page in pages:
                self.assertLessEqual(page.size.width, paper.width)
                self.assertLessEqual(page.size.height, max(paper.height, 490))

    def test_a_high_ladder_is_folded_in_its_middle(self) -> None:
        walk = next(walk for walk in COMBFIELD.walks if walk.name == "25 hives in a chain reach the memory limit")
        pages = strip_pages(strip_of_walk(COMBFIELD, run_walk(COMBFIELD, walk)), A2.size)
        words = [text.line.words for page in pages for text in page.texts]
        self.assertIn("≈ 15 rungs folded ≈", words)


class Files(unittest.TestCase):
    def test_text_stays_text_and_names_no_moment(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "strip.svg"
            draw_walk(COMBFIELD, run_walk(COMBFIELD, WALK), path)
            drawn = path.read_text()
        for words in ("Combfield: first start, to the sign-in form", "rules of the yard", "tap begin", "Back 1", "✓ passes"):
            self.assertIn(f"{words}</text>", drawn)
        self.assertIsNone(re.search(r"dc:date|\b20\d\d-\d\d", drawn))

    def test_a_dollar_is_a_dollar(self) -> None:
        plan = read_plan_text("app: $x_1$ ^\nstart: hives\nscreens: {hives: }\nwalks: {w: [launch]}")
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "strip.svg"
            draw_walk(plan, run_walk(plan, plan.walks[0]), path)
            self.assertIn("$x_1$ ^: w", path.read_text())


if __name__ == "__main__":
    unittest.main()
