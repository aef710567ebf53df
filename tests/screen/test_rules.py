"""Rules in a real terminal: a broken rule, its film, the way into Climb, a kept walk, the mend, the sweep that is stopped."""

import time

from tests.screen.terminal import ScreenCase, Terminal
from wise_ladder.demo import gallery
from wise_ladder.plan.loader import read_plan

TOGGLE = next(fault for fault in gallery() if fault.name == "toggle")
UNASKED = """
app: Combfield
start: hives
phones: {plain: , stubborn: {guards see: [header]}}
screens:
  hives: {moves: [{when: tap form, do: push form}]}
  form: {guards: [{name: unsaved, ask: {answers: [{stay: stay}, {leave: go on}]}}]}
rules: [{rule: at most, screens: form, rungs: 1}, {rule: guarded, screens: form, ways: system}]
"""


TWINS = """\
app: Combfield
start: hives
facts: {tired: no}
screens:
  hives:
    moves:
      - {when: tap rest, do: set tired yes}
      - {when: tap again, do: push hives}
      - {when: tap once more, if: tired is yes, do: push hives}
rules:
  - {rule: no twins, name: again is what it is called}
"""


class Deciding(ScreenCase):
    def open(self, width: int = 160, height: int = 50) -> Terminal:
        (self.folder / "mine.ladder.yaml").write_text(TOGGLE.faulty.read_text())
        terminal = self.start("open", "mine.ladder.yaml", width=width, height=height)
        terminal.wait("nothing")
        terminal.look_at_rules("no pile-up is broken")
        return terminal

    def test_from_the_film_to_a_kept_walk_and_the_mend(self) -> None:
        terminal = self.open()
        screen = terminal.wait("the loop: each repeat adds rungs")
        for words in (
            "counterexample to no pile-up",
            "and so on, for ever",
            "caused by",
            "Back from frame 4",
            "never used",
        ):
            self.assertIn(words, screen)
        terminal.wait("broken in 4 steps")
        terminal.press("Left", "frame 3 of 4")
        terminal.press("e", "frames, when tap hive look")
        terminal.press("Escape", "tap frames")
        terminal.press("k", "Save this tape as a walk")
        terminal.fill("toggles", "toggles")
        terminal.press("Enter", "saved as")
        self.assertIn("toggles:", (self.folder / "mine.ladder.yaml").read_text())
        # The plan is another one now: its rules are checked again, and until then the old verdicts are shown as not known.
        terminal.wait(lambda screen: "not known" not in screen and "broken in 4 steps" in screen)
        terminal.press("Enter", "You stand on frames")

    def test_each_guilty_place_and_the_facts_on_the_way_to_it(self) -> None:
        (self.folder / "mine.ladder.yaml").write_text(TWINS)
        terminal = self.start("open", "mine.ladder.yaml")
        terminal.wait("nothing")
        terminal.press("R", "violation 1 of 2")
        self.assertIn("again is what it is called", terminal.screen())
        self.assertRegex(terminal.press("n", "violation 2 of 2"), r"facts at frame 3\n.*tired +yes")

    def test_what_another_phone_alone_breaks_is_shown_and_climbed_there(self) -> None:
        (self.folder / "mine.ladder.yaml").write_text(UNASKED)
        terminal = self.start("open", "mine.ladder.yaml")
        terminal.wait("nothing")
        terminal.press("R", "guarded holds at every depth here; on stubborn it is broken: form goes by system")
        self.assertIn("counterexample to guarded on stubborn", terminal.screen())
        terminal.press("k", "Save this tape as a walk")
        terminal.fill("unasked", "unasked")
        terminal.press("Enter", "saved as")
        (walk,) = read_plan(self.folder / "mine.ladder.yaml").walks
        self.assertEqual((walk.phone, len(walk.steps)), ("stubborn", 4))
        terminal.press("Enter", "You stand on hives")
        self.assertIn("stubborn", terminal.screen().splitlines()[0])

    def test_an_edit_decides_the_rules_again(self) -> None:
        terminal = self.open()
        text = TOGGLE.fixed.read_text()
        (self.folder / "mine.ladder.yaml").write_text(text)
        terminal.wait("✓ no pile-up holds at every depth")

    def test_at_80_columns(self) -> None:
        terminal = self.open(80, 24)
        screen = terminal.wait("the loop")
        self.assertTrue(all(len(line) <= 80 for line in screen.splitlines()))
        self.assertIn("states", screen)

    def test_what_was_recognised_and_what_nothing_used(self) -> None:
        terminal = self.start("demo")
        terminal.wait("has not been started")
        terminal.press("R", "no pile-up")
        terminal.press("i", "What the starter set recognised")
        terminal.press("Escape", lambda screen: "What the starter" not in screen)
        terminal.press("U", "Never used")
        terminal.press("Escape", lambda screen: "Never used" not in screen)

    def test_the_sweep_is_stopped_at_once(self) -> None:
        terminal = self.start("demo")
        terminal.wait("has not been started")
        terminal.press("R", "sweep")
        terminal.wait("s continues the sweep")
        terminal.press("s", "left at most")
        began = time.perf_counter()
        terminal.press("s", "stopped")
        self.assertLess(time.perf_counter() - began, 2)
