"""Climb in a real terminal."""

import re
import unittest

from tests.screen.terminal import ScreenCase, Terminal
from wise_ladder.demo import combfield
from wise_ladder.plan.loader import read_plan
from wise_ladder.walks import run_walk


def standing(where: str) -> str:
    return f"You stand on {where}  "


class Climbing(ScreenCase):
    def to_hives(self, terminal: Terminal) -> None:
        """Launch, wait for the splash, turn the welcome pages, sign in."""
        terminal.wait("Combfield has not been started")
        terminal.press("r", "The cover is up")
        terminal.press("n", standing("splash"))
        terminal.press("n", standing("welcome"))
        terminal.press("1", standing("rules of the yard"))
        terminal.press("1", standing("begin"))
        terminal.press("1", standing("sign in"))
        terminal.press("1", standing("hives"))

    def test_a_day_at_the_bench(self) -> None:
        """Start, sign in, toggle five times; each Back does what was said before it; another branch; launch anew."""
        terminal = self.start("demo")
        self.to_hives(terminal)
        terminal.press("1", standing("hive id 7"))
        for _ in range(5):
            terminal.press("1", standing("frames id 7"))
            screen = terminal.press("1", standing("hive id 7"))
        self.assertIn("2 Backs to the ground", screen)
        terminal.press("2", standing("inspection id 7"))

        # Before each Back: what it says it will do; after it: that it did.
        for said in ("hive id 7", "hives"):
            screen = terminal.wait(f"Back lands on {said}")
            self.assertRegex(screen, rf"system +◀ {said}")
            terminal.press("b", standing(said))
        self.assertIn("Back leaves the app", terminal.wait("1 Back to the ground"))
        terminal.press("b", "Combfield was left")

        # Ten steps back on the tape, and another way from there.
        total = int(re.findall(r"(\d+) of (\d+)", terminal.screen())[-1][1])
        for step in range(1, 11):
            terminal.press("Left", f"{total - step} of {total}")
        terminal.press("1", lambda screen: f"{total - 9} of {total - 9}" in screen or f"{total - 9} of {total}" in screen)
        terminal.press("b", f"{total - 8} of {total - 8}")
        terminal.press("u", f"of {total}")
        terminal.press("r", "The cover is up")
        terminal.press("n", standing("splash"))
        terminal.press("r", "1 of 1")
        terminal.press("q", "ended with 0")

    def test_what_cannot_be_done_is_said_in_a_line(self) -> None:
        terminal = self.start("demo")
        terminal.wait("Combfield has not been started")
        terminal.press("b", "✗ Combfield is not running: launch it first")
        terminal.press("5", "✗ nothing can be tapped here")
        terminal.press("n", "✗ nothing is due")
        self.to_hives(terminal)
        terminal.press("9", "✗ there is no tap 9 here")
        terminal.press("a", "✗ the header is empty here")
        terminal.press("Right", "this is the end of the tape")

    def test_home_ten_more_and_down_to_the_ground(self) -> None:
        terminal = self.start("demo")
        self.to_hives(terminal)
        terminal.press("z", "Combfield is in the background")
        terminal.press("z", standing("hives"))
        terminal.press("1", standing("hive id 7"))
        terminal.press("4", standing("hive id 12"))
        terminal.press("g", "Combfield was left")
        terminal.press("Home", "0 of ")

    def test_help_all_commands_and_the_light_look(self) -> None:
        terminal = self.start("demo")
        self.to_hives(terminal)
        terminal.press("F1", "Climb: what does the app do when I ...?")
        terminal.press("Escape", lambda screen: "what does the app do" not in screen)
        terminal.press("C-p", "All commands")
        terminal.keys("-l", "tap diary")
        terminal.wait("tab diary")
        terminal.press("Enter", standing("week"))
        terminal.press("t", standing("week"))

    def test_the_world_and_another_phone(self) -> None:
        terminal = self.start("demo")
        self.to_hives(terminal)
        terminal.press("1", standing("hive id 7"))
        for words, there in (("killed", "Combfield was killed"), ("reopen", "The cover is up")):
            terminal.press("C-p", "All commands")
            terminal.keys("-l", words)
            terminal.wait(words)
            terminal.press("Enter", there)
        terminal.press("1", standing("hive id 7"))
        terminal.press("C-p", "All commands")
        terminal.keys("-l", "link combfield://alert")
        terminal.wait("combfield://alert/7 opened")
        terminal.press("Enter", standing("alert hive 7"))
        terminal.press("C-p", "All commands")
        terminal.keys("-l", "run on stub")
        terminal.wait("Run the same steps")
        terminal.press("Enter", "combfield  stubborn")

    def test_a_move_is_changed_compared_undone_and_saved(self) -> None:
        """The toggle is turned to push: the same path, before beside after; a mistake is told; what is saved is checked."""
        terminal = self.start("demo")
        self.to_hives(terminal)
        terminal.press("1", standing("hive id 7"))
        terminal.press("1", standing("frames id 7"))
        terminal.press("e", "replace frames(id=$id)")
        terminal.press("C-u", lambda screen: "replace frames(" not in screen)
        terminal.keys("-l", "psuh frames(id=$id)")
        terminal.press("Enter", 'did you mean "push"?')
        terminal.press("C-u", lambda screen: "psuh frames(" not in screen)
        terminal.keys("-l", "push frames(id=$id)")
        terminal.press("Enter", "step 9 differs: before hives > frames id 7, now hives > hive id 7 > frames id 7")
        terminal.wait("1 walk fails now")
        terminal.press("=", "before the last edit, and now")
        screen = terminal.wait("✗ ten toggles, one Back")
        self.assertIn("≠ Back: leads to hive id 7 (was: leads to hives)", screen)
        terminal.press("C", standing("frames id 7"))
        terminal.press("q", "unsaved edits")
        terminal.press("C-z", "1 walk passes now")
        terminal.press("o", "now hives > frames id 7")
        terminal.press("C-s", "saved in combfield.ladder.yaml")
        self.assertIn("do: reach frames(id=$id)", (self.folder / "combfield.ladder.yaml").read_text())
        terminal.press("q", "ended with 0")

    def test_a_change_made_elsewhere_is_taken_up(self) -> None:
        plan = self.folder / "mine.ladder.yaml"
        text = "app: Combfield\nstart: hives\nscreens:\n  hives: {moves: [{when: tap on, do: push week}]}\n  week:\n  month:\n"
        plan.write_text(text)
        terminal = self.start("open", "mine.ladder.yaml")
        terminal.wait("Combfield has not been started")
        terminal.press("r", standing("hives"))
        terminal.press("1", standing("week"))
        plan.write_text(text.replace("push week", "push mnoth"))
        terminal.wait("was changed elsewhere and cannot be read: 4:")
        plan.write_text(text.replace("push week", "push month"))
        terminal.wait("step 2 differs: before hives > week, now hives > month")
        terminal.wait(standing("month"))
        terminal.press("o", "now month")
        plan.write_text(text)
        terminal.wait("changed elsewhere; your edits here are not saved")
        terminal.press("k", "Save this tape as a walk")
        terminal.keys("-l", "mine")
        terminal.press("Enter", "✗ mine.ladder.yaml changed elsewhere meanwhile")
        terminal.press("C-s", "ctrl+s again overwrites it")
        self.assertEqual(plan.read_text(), text)
        plan.unlink()
        terminal.wait("mine.ladder.yaml is gone")
        terminal.press("C-s", "saved in mine.ladder.yaml")
        self.assertIn("replace month", plan.read_text())
        editor = self.folder / "editor"
        editor.write_text('#!/bin/sh\nsed -i "s/replace month/push week/" "$2"\necho "$1" > called\n')
        editor.chmod(0o755)
        terminal.press("E", standing("week"))
        self.assertEqual((self.folder / "called").read_text(), "+4\n")

    def test_a_mouse_does(self) -> None:
        terminal = self.start("demo")
        self.to_hives(terminal)
        lines = terminal.wait("tab diary").splitlines()
        row = next(number for number, line in enumerate(lines, 1) if " 3  diary" in line)
        terminal.click(lines[row - 1].index(" 3  diary") + 5, row)
        terminal.wait(standing("week"))
        lines = terminal.wait("8 tap diary").splitlines()
        row = next(number for number, line in enumerate(lines, 1) if "7 tap sign in" in line)
        terminal.click(lines[row - 1].rindex("tap sign in") + 2, row)
        terminal.wait(standing("hives"))
        footer = terminal.screen().splitlines()[-1]
        terminal.click(footer.index("system back") + 2, 50)
        terminal.wait("Combfield was left")

    def test_a_tape_is_kept_as_a_walk(self) -> None:
        plan = self.folder / "mine.ladder.yaml"
        plan.write_text(combfield().read_text())
        terminal = self.start("open", str(plan))
        self.to_hives(terminal)
        terminal.press("3", standing("week"))
        terminal.press("k", "Save this tape as a walk")
        terminal.keys("-l", "to the diary")
        terminal.press("Enter", 'saved as "to the diary"')
        terminal.wait(f"✓ {len(read_plan(combfield()).walks) + 1} walks")
        kept = read_plan(plan)
        self.assertEqual(kept.walks[-1].name, "to the diary")
        self.assertTrue(run_walk(kept, kept.walks[-1]).passed)
        self.assertIn("# Two looks of one hive", plan.read_text())

    def test_a_question_a_drawer_and_tabs(self) -> None:
        terminal = self.start("demo")
        self.to_hives(terminal)
        terminal.press("1", standing("hive id 7"))
        terminal.press("2", "◇ unsaved inspection")
        terminal.press("1", "Back asks “Leave without saving?”, then lands on hive id 7")
        terminal.wait("◆ unsaved inspection")
        terminal.wait(lambda screen: re.search(r"header ← +◆ asks", screen) is not None)
        terminal.press("b", "? Leave without saving?")
        terminal.press("1", lambda screen: "? Leave" not in screen)
        terminal.press("a", "? Leave without saving?")
        terminal.press("2", standing("hive id 7"))
        terminal.press("0", "▌ yard menu, drawer")
        terminal.press("b", lambda screen: "yard menu, drawer" not in screen)
        terminal.press("7", standing("week"))
        terminal.press("b", standing("hive id 7"))
        terminal.press("d", "the next number key taps twice")
        terminal.press("4", "tap next hive 1")

    def test_the_demo_itself_is_never_written_to(self) -> None:
        before = combfield().read_text()
        terminal = self.start("demo")
        self.to_hives(terminal)
        terminal.press("k", "a copy of the demo")
        terminal.keys("-l", "mine")
        terminal.press("Enter", 'saved as "mine" in combfield.ladder.yaml')
        self.assertEqual(combfield().read_text(), before)
        self.assertTrue((self.folder / "combfield.ladder.yaml").exists())


class SmallAndOdd(ScreenCase):
    def test_80x24_shows_the_ladder_and_the_ways_back(self) -> None:
        terminal = self.start("demo", width=80, height=24)
        terminal.wait("Combfield has not been started")
        terminal.press("r", "The cover is up")
        terminal.press("n", "● splash")
        terminal.press("n", "● welcome")
        screen = terminal.press("1", "● rules of the yard")
        for words in ("◀ Back welcome", "2 Backs to the ground", "the ground", "ways back", "system", "F1 help", "in hand"):
            self.assertIn(words, screen)
        self.assertTrue(all(len(line) <= 80 for line in screen.splitlines()))

    def test_any_size_is_survived(self) -> None:
        terminal = self.start("demo")
        terminal.wait("Combfield has not been started")
        terminal.press("r", "The cover is up")
        terminal.press("n", standing("splash"))
        for width, height in ((40, 10), (20, 5), (300, 80), (119, 29), (99, 31), (80, 24), (160, 50)):
            terminal.resize(width, height)
        terminal.press("n", standing("welcome"))
        terminal.press("q", "ended with 0")

    def test_a_plan_that_cannot_be_read_is_said_without_a_screen(self) -> None:
        (self.folder / "bad.yaml").write_text("app: x")
        terminal = self.start("open", "bad.yaml")
        screen = terminal.wait("ended with 2")
        self.assertIn('bad.yaml:1:1: a plan has no "screens"', screen)


if __name__ == "__main__":
    unittest.main()
