"""The bench in a real terminal: Crossings, sketching, why, replies, other plans, and what is left when it dies."""

import json
import os
import re
import signal
import sys
import unittest
from itertools import repeat

from tests.screen.terminal import ScreenCase, Terminal
from wise_ladder.demo import combfield
from wise_ladder.plan.loader import read_plan
from wise_ladder.walks import run_walk

SPLASH = """\
app: Combfield
start: splash  # shown for a while
screens:
  splash:
    moves:
      - {when: 1200ms on ladder, do: push hives}
  hives:
    moves:
      - {when: tap hive, do: push hive}
  hive:
    moves:
      - {when: tap frames, do: push frames}
  frames:
    moves:
      - {when: tap hive look, do: push hive}
walks:
  the splash never comes back:
    - launch
    - wait 1200ms
    - back would leave
"""


def standing(where: str) -> str:
    return f"You stand on {where}  "


class Stopping(ScreenCase):
    def test_ctrl_z_while_an_editor_runs_stops_nothing_where_no_shell_could_let_it_go_on(self) -> None:
        (self.folder / "mine.ladder.yaml").write_text(SPLASH)
        (self.folder / "editor").write_text("#!/bin/sh\necho editing\nread _\n")
        (self.folder / "editor").chmod(0o755)
        terminal = self.start("open", "mine.ladder.yaml")
        terminal.wait("has not been started")
        terminal.press("E", "editing")
        terminal.keys("C-z")
        terminal.press("Enter", "has not been started")
        terminal.press("r", standing("splash"))


class Sketching(ScreenCase):
    def test_five_screens_in_under_sixty_keys(self) -> None:
        """A new app is begun, climbed while it is sketched, and saved, without an editor."""
        (self.folder / "elsewhere.ladder.yaml").write_text(SPLASH)
        terminal = self.start("open", "elsewhere.ladder.yaml")
        terminal.wait("Combfield has not been started")
        terminal.typed = 0
        terminal.press("O", "Which plan?")
        terminal.fill("new", lambda screen: "> new" in screen or "gallery" not in screen)
        terminal.press("Enter", "A new plan")
        terminal.fill("Shop", "Shop")
        terminal.press("Enter", "Shop has not been started")
        terminal.press("r", standing("start"))
        for name in ("list", "item", "cart", "paid"):
            terminal.press("+", "New on")
            terminal.fill(name, f"push {name}, {name} is new")
            terminal.press("Enter", standing(name))
        terminal.press("C-s", "saved in shop.ladder.yaml")
        self.assertLess(terminal.typed, 60)
        plan = read_plan(self.folder / "shop.ladder.yaml")
        self.assertEqual([screen.name for screen in plan.screens], ["start", "list", "item", "cart", "paid"])
        self.assertEqual(plan.screen["cart"].moves[0].text, "push paid")
        terminal.press("C-z", standing("cart"))
        terminal.press("C-y", standing("paid"))

    def test_an_operation_a_known_screen_and_a_mistake(self) -> None:
        (self.folder / "mine.ladder.yaml").write_text(SPLASH)
        terminal = self.start("open", "mine.ladder.yaml")
        terminal.wait("has not been started")
        terminal.press("+", "A new part of the plan")
        terminal.press("Escape", lambda screen: "A new part of the plan" not in screen)
        terminal.press("r", standing("splash"))
        terminal.press("+", "New on splash")
        terminal.fill("skip: replace hi", "Tab: hives  hive")
        terminal.press("Tab", "tap skip: replace hives")
        terminal.press("Enter", standing("hives"))
        terminal.press("+", "New on hives")
        terminal.fill("x: set y z", "set y z")
        terminal.press("Enter", 'there is no fact "y"')
        terminal.press("Escape", lambda screen: "A new tap" not in screen)


class Crossing(ScreenCase):
    def test_choose_find_edit_climb_there_and_the_counterpart(self) -> None:
        plan = self.folder / "mine.ladder.yaml"
        plan.write_text(SPLASH)
        terminal = self.start("open", "mine.ladder.yaml")
        terminal.wait("has not been started")
        screen = terminal.press("X", "splash crosses to hives")
        self.assertIn("↑ push  when 1200ms on ladder", screen)
        terminal.wait("taken by 1 walk")
        terminal.press("Down", "hives crosses to hive")
        screen = terminal.wait("3 steps from the start: Enter climbs there")
        self.assertRegex(screen, r"9 +▌ +- \{when: tap hive, do: push hive\}")
        terminal.press("/", "Find crossings")
        terminal.fill("frames", "2 of 4 crossings")
        terminal.press("Enter", lambda screen: "Find crossings" not in screen)
        terminal.wait("hive crosses to frames")
        terminal.press("e", "hive, when tap frames")
        terminal.press("C-u", lambda screen: screen.count("push frames") == 2)
        terminal.fill("rep", "Tab: replace")
        terminal.press("Tab", "replace")
        terminal.fill(" frames", "replace frames")
        terminal.press("Enter", "⇄ replace")
        terminal.wait("&  the same for frames, tap hive look")
        terminal.press("&", lambda screen: "&  the same" not in screen)
        terminal.press("Down", "frames crosses to hive")
        terminal.wait("⇄ replace  when tap hive look")
        terminal.press("Enter", standing("hive"))
        terminal.wait("the last step takes it")
        terminal.press("C-s", "saved in mine.ladder.yaml")
        self.assertEqual(
            plan.read_text(), SPLASH.replace("push frames", "replace frames").replace("look, do: push", "look, do: replace")
        )

    def test_at_80x24_and_with_120_screens(self) -> None:
        lines = ["app: Combfield", "start: s0", "screens:"]
        lines += [f"  s{at}: {{moves: [{{when: tap on, do: push s{(at + 1) % 120}}}]}}" for at in range(120)]
        (self.folder / "many.ladder.yaml").write_text("\n".join(lines))
        terminal = self.start("open", "many.ladder.yaml", width=80, height=24)
        terminal.wait("has not been started")
        screen = terminal.press("X", "s0 → s1")
        self.assertIn("120 screens, 120 crossings", screen)
        terminal.wait("more: → ")
        for _ in range(3):
            terminal.keys("Left")
        screen = terminal.wait("s117 → s118")
        self.assertTrue(all(len(line) <= 80 for line in screen.splitlines()))
        terminal.press("F1", "Crossings: which move leads where")


class Asking(ScreenCase):
    def test_prompts_list_their_keys_and_what_is_typed_replaces_what_is_selected(self) -> None:
        terminal = self.start("demo")
        terminal.wait("has not been started")
        terminal.press("X", "crosses to")
        terminal.press("e", "Enter applies")
        terminal.press("F1", "Keys here")
        terminal.press("Escape", lambda screen: "Keys here" not in screen)
        # The dialog begins in the operation.
        terminal.fill("leave", re.compile(r"do +leave\s"))
        terminal.press("Tab", "Enter applies")
        terminal.fill("shown", re.compile(r"when +shown\s"))
        terminal.press("Escape", lambda screen: "Enter applies" not in screen)
        terminal.press("C-p", "All commands")
        terminal.press("F1", "Page Up, Page Down")
        terminal.press("Escape", lambda screen: "Page Up" not in screen)
        terminal.fill("export", lambda screen: "save as  (ctrl+e)" in screen and "theme" not in screen)

    def to_hives(self, terminal: Terminal) -> None:
        terminal.wait("Combfield has not been started")
        for key, there in (
            ("r", "The cover is up"),
            ("n", "splash"),
            ("n", "welcome"),
            ("1", "rules of the yard"),
            ("1", "begin"),
        ):
            terminal.press(key, there if there.startswith("The") else standing(there))
        terminal.press("1", standing("sign in"))

    def test_why(self) -> None:
        terminal = self.start("demo")
        self.to_hives(terminal)
        terminal.press("y", "Why?")
        screen = terminal.wait("redirect home, hives, hive")
        self.assertIn("sign in to home  passed, because session is none, not valid", screen)
        terminal.fill("link alert", "link combfield://alert/7")
        terminal.wait("link     combfield://alert/{hive}")
        terminal.press("Escape", lambda screen: "Why?" not in screen)
        terminal.press("1", standing("hives"))
        terminal.press("y", "Why?")
        terminal.wait("no rung is beneath")
        terminal.press("Enter", "sign in, when tap sign in")

    def test_a_guard_and_a_redirect_are_edited(self) -> None:
        terminal = self.start("demo")
        self.to_hives(terminal)
        terminal.press("Left", standing("begin"))
        terminal.press("Right", standing("sign in"))
        terminal.press("e", "Several took part")
        terminal.press("Down", "redirect of")
        terminal.press("Enter", "send to")
        terminal.press("C-u", lambda screen: "or session is expired" not in screen.split("Enter applies")[0])
        terminal.fill("session is expired", "session is expired")
        terminal.press("Enter", standing("hives"))
        terminal.wait("walks fail now")
        terminal.press("w", "fails now")
        terminal.press("C-z", lambda screen: " now" in screen and "pass" in screen and "✗" not in screen)

    def test_each_reply_beside_the_others(self) -> None:
        terminal = self.start("demo")
        self.to_hives(terminal)
        terminal.press("c", "no call is pending")
        terminal.press("1", standing("hives"))
        terminal.press("b", "Combfield was left")
        terminal.press("r", "The cover is up")
        screen = terminal.press("c", lambda screen: "check session: each reply, and none" in screen and "no reply" in screen)
        self.assertRegex(screen, r"1 +valid +cover 400 ms · splash")
        self.assertRegex(screen, r"3 +offline +cover 3 s")
        self.assertIn("no reply", screen)
        terminal.press("1", standing("splash"))
        terminal.wait("check session")

    def test_facts_links_words_and_the_phone(self) -> None:
        terminal = self.start("demo")
        terminal.wait("Combfield has not been started")
        terminal.press("f", "Set which fact for the start?")
        terminal.fill("welcomed yes", lambda screen: "session is" not in screen.split("Set which fact")[1])
        terminal.press("Enter", lambda screen: "Set which fact" not in screen and "yes" in screen)
        terminal.press(":", "Type a step")
        terminal.fill("link combfield://hives/99", "link combfield://hives/99")
        terminal.press("Enter", lambda screen: "Type a step" not in screen and "The cover is up" in screen)
        terminal.press("n", standing("sign in"))
        terminal.press("l", "Open which link?")
        terminal.fill("nowhere://at/all", "nowhere://at/all")
        terminal.press("Enter", standing("lost path address nowhere://at/all"))
        terminal.press("v", "on which phone")
        terminal.press("Down", "stubborn")
        terminal.press("Enter", "combfield  stubborn")
        terminal.press("Z", "Which phone event?")
        terminal.fill("swiped", "swiped away")
        terminal.press("Enter", "Combfield was left")


class OtherPlans(ScreenCase):
    def new_user(self, width: int, height: int) -> int:
        """From the demo to a plan of the gallery: find the mistake, mend it with one edit, compare, keep; return the keys."""
        terminal = self.start("demo", width=width, height=height)
        terminal.wait("Combfield has not been started")
        terminal.press("O", "Which plan?")
        terminal.fill("splash", "The splash stays beneath")
        terminal.press("Enter", lambda screen: "Which plan?" not in screen and "has not been started" in screen)
        terminal.press("r", "● You stand on splash" if width > 100 else "● splash")
        terminal.press("n", lambda screen: "● You stand on hives" in screen or "● hives" in screen)
        terminal.wait(lambda screen: "Back lands on splash" in screen or "◀ Back splash" in screen)
        terminal.press("y", "Why?")
        terminal.wait("splash, 1s on ladder  took it")
        terminal.press("Enter", "splash, when 1s on ladder")
        terminal.press("Escape", lambda screen: "when 1s" not in screen)
        terminal.press("o", "=  step 2 differs: before splash > hives, now hives")
        # What it compares is said in a line where news of a rule may come at any time.
        terminal.press("=", "Back: leaves the app (was: leads to splash)")
        terminal.press("C", "◀ Back")
        terminal.press("k", "Save this tape as a walk")
        terminal.fill("no splash", "no splash")
        terminal.press("Enter", 'saved as "no splash"')
        plan = read_plan(next(self.folder.glob("splash.*.ladder.yaml")))
        self.assertEqual(plan.walks[-1].name, "no splash")
        self.assertTrue(all(run_walk(plan, walk).passed for walk in plan.walks))
        return terminal.typed

    def test_a_new_user_mends_a_gallery_plan(self) -> None:
        self.assertLess(self.new_user(160, 50), 50)

    def test_the_same_at_80x24(self) -> None:
        self.assertLess(self.new_user(80, 24), 50)

    def test_the_next_start_is_where_one_was(self) -> None:
        (self.folder / "mine.ladder.yaml").write_text(SPLASH)
        terminal = self.start("open", "mine.ladder.yaml")
        terminal.wait("has not been started")
        terminal.press("t", "has not been started")
        terminal.press("<", "has not been started")
        terminal.press("X", "splash crosses to hives")
        terminal.press("q", "ended with 0")
        again = self.start()
        again.wait("splash crosses to hives")
        kept = json.loads((self.folder / "state" / "wise-ladder" / "bench.json").read_text())
        self.assertEqual((kept["view"], kept["theme"], kept["side"]), ("crossings", "paper", 4))
        again.press("O", "mine.ladder.yaml   recent")

    def test_a_plan_opened_from_inside_is_watched_and_the_one_before_it_is_not(self) -> None:
        one, two = self.folder / "one.ladder.yaml", self.folder / "two.ladder.yaml"
        one.write_text(SPLASH)
        two.write_text(SPLASH.replace("splash", "cover page"))
        terminal = self.start("open", "one.ladder.yaml")
        terminal.wait("has not been started")
        terminal.press("r", standing("splash"))
        terminal.press("O", "Which plan?")
        terminal.fill("two", "two.ladder.yaml")
        terminal.press("Enter", lambda screen: "Which plan?" not in screen and "has not been started" in screen)
        terminal.press("r", standing("cover page"))
        one.write_text(SPLASH.replace("splash", "intro"))
        two.write_text(SPLASH.replace("splash", "cover page").replace("start: cover page", "start: hives"))
        terminal.wait("=  step 1 differs: before cover page, now hives")
        self.assertNotIn("intro", terminal.wait(standing("hives")))

    def test_edits_are_offered_again_after_it_died(self) -> None:
        plan = self.folder / "mine.ladder.yaml"
        plan.write_text(SPLASH)
        terminal = self.start("open", "mine.ladder.yaml")
        terminal.wait("has not been started")
        terminal.press("r", standing("splash"))
        terminal.press("n", standing("hives"))
        terminal.press("o", "=  step 2 differs")
        kept = next((self.folder / "state" / "wise-ladder").glob("unsaved-*.json"))
        os.kill(json.loads(kept.read_text())["process"], signal.SIGKILL)
        terminal.wait("ended with 137")
        self.assertEqual(plan.read_text(), SPLASH)
        again = self.start("open", "mine.ladder.yaml")
        again.wait("has unsaved edits from last time")
        again.wait("restore them")
        again.press("Enter", "your last edits are restored")
        again.press("C-s", "saved in mine.ladder.yaml")
        self.assertIn("replace hives", plan.read_text())
        self.assertFalse(kept.exists())


BUG = """
from wise_ladder.app.application import LadderApp
from wise_ladder.cli import main
def broken(bench):
    raise RuntimeError("nobody foresaw this")
LadderApp.cmd_theme = broken
main()
"""


class Odd(ScreenCase):
    def test_without_colours_and_at_40x10(self) -> None:
        for env in (("NO_COLOR=1",), ("TERM=vt100", "COLORTERM="), ("TERM=dumb", "COLORTERM=")):
            with self.subTest(env):
                terminal = self.start("demo", width=40, height=10, env=env)
                terminal.wait("has not been started")
                terminal.press("r", "cover")
                terminal.press("n", "splash")
                terminal.press("X", "splash →")
                terminal.press("C", "splash")
                terminal.press("q", "ended with 0")

    def test_bytes_that_are_no_text(self) -> None:
        terminal = self.start("demo")
        terminal.wait("has not been started")
        terminal.raw(b"\xff\xfe\xc3")
        terminal.press("r", "The cover is up")

    def test_a_bug_leaves_the_terminal_clean_and_the_edits_for_the_next_start(self) -> None:
        plan = self.folder / "mine.ladder.yaml"
        plan.write_text(SPLASH)
        terminal = Terminal([sys.executable, "-c", BUG, "open", str(plan)], 120, 40, self.folder)
        self.addCleanup(terminal.close)
        terminal.wait("has not been started")
        terminal.press("r", standing("splash"))
        terminal.press("n", standing("hives"))
        terminal.press("o", "=  step 2 differs")
        screen = terminal.press("t", "ended with 3")
        self.assertIn("this is a bug in wise-ladder; details:", screen)
        self.assertNotIn("Traceback", screen)
        self.assertEqual(terminal.flags("#{alternate_on}#{mouse_any_flag}#{cursor_flag}"), "001")
        again = self.start("open", str(plan))
        again.wait("restore them")
        again.press("Enter", "your last edits are restored")

    def test_a_storm_of_sizes_in_both_views_and_over_a_sheet(self) -> None:
        terminal = self.start("demo")
        terminal.wait("has not been started")
        terminal.press("r", "The cover is up")
        terminal.press("n", standing("splash"))
        for key, there in (
            ("X", "crosses to"),
            ("/", "Find crossings"),
            ("Escape", "Enter climb there"),
            ("C", "system back"),
            ("y", "Why?"),
        ):
            terminal.press(key, there)
            terminal.wait(lambda screen, key=key: key != "Escape" or "Find crossings" not in screen)  # type: ignore[misc]
            for width, height in ((40, 10), (20, 5), (300, 80), (119, 29), (99, 31), (81, 23), (160, 50)):
                terminal.resize(width, height)
            terminal.wait(lambda screen, there=there: there in screen and "quit" in screen.splitlines()[-1])  # type: ignore[misc]
        terminal.press("Escape", lambda screen: "Why?" not in screen)
        terminal.press("n", standing("welcome"))
        terminal.press("q", "ended with 0")

    def test_a_size_that_comes_back_at_once_leaves_nothing_half_drawn(self) -> None:
        terminal = self.start("demo")
        terminal.wait("has not been started")
        terminal.press("r", "The cover is up")
        for key, there in (("X", "crosses to"), ("/", "Find crossings")):
            terminal.press(key, there)
            for lose in (terminal.lose, *repeat(terminal.flicker, 5)):
                lose()
                terminal.wait(lambda screen, there=there: there in screen and "quit" in screen.splitlines()[-1])  # type: ignore[misc]

    def test_a_read_only_folder(self) -> None:
        inner = self.folder / "closed"
        inner.mkdir()
        plan = inner / "mine.ladder.yaml"
        plan.write_text(SPLASH)
        inner.chmod(0o555)
        self.addCleanup(inner.chmod, 0o755)
        if os.access(inner, os.W_OK):
            self.skipTest("nothing is read-only to this user")
        terminal = self.start("open", str(plan))
        terminal.wait("has not been started")
        terminal.press("r", standing("splash"))
        terminal.press("n", standing("hives"))
        terminal.press("o", "=  step 2 differs")
        terminal.press("C-s", "cannot be written")
        terminal.press("q", "unsaved edits")
        terminal.press("q", "ended with 0")
        self.assertEqual(plan.read_text(), SPLASH)

    def test_leaving_while_work_goes_on_behind(self) -> None:
        for view, there in (("X", "crosses to"), ("W", "walks"), ("C", "has not been started")):
            terminal = self.start("demo")
            terminal.wait("has not been started")
            terminal.press(view, there)
            terminal.press("q", "ended with 0")

    def test_a_folder_that_is_gone(self) -> None:
        inner = self.folder / "gone"
        inner.mkdir()
        plan = inner / "mine.ladder.yaml"
        plan.write_text(SPLASH)
        terminal = self.start("open", str(plan))
        terminal.wait("has not been started")
        terminal.press("r", standing("splash"))
        terminal.press("n", standing("hives"))
        terminal.press("o", "=  step 2 differs")
        plan.unlink()
        inner.rmdir()
        terminal.wait("mine.ladder.yaml is gone")
        terminal.press("C-s", "cannot be written")
        inner.mkdir()
        terminal.press("C-s", "saved in mine.ladder.yaml")
        self.assertIn("replace hives", plan.read_text())

    def test_a_plan_that_cannot_be_opened_from_inside(self) -> None:
        terminal = self.start("demo")
        terminal.wait("Combfield has not been started")
        terminal.press("O", "Which plan?")
        terminal.fill("/no/such/file", "/no/such/file")
        terminal.press("Enter", "there is no such file")
        self.assertTrue(combfield().exists())


if __name__ == "__main__":
    unittest.main()
