"""A whole app, from *new* to saved, without another program: typed line by line as somebody would, the keys counted."""

import unittest
from pathlib import Path

from tests.screen.terminal import ScreenCase
from wise_ladder.plan.loader import read_plan_text

MOST_KEYS = 1_500
BUILT = Path(__file__).parent / "built.ladder.yaml"
LINES = """\
fact session: unknown, none, valid, kept disk
fact welcomed: no, yes, kept disk
call check session: valid 400ms, expired 300ms, offline 3s
anywhere launched: call check session
anywhere check session gives valid: set session valid
anywhere check session gives expired: set session none
anywhere check session gives offline: set session none
cover: until session is not unknown, most 5s
tabs home: hives, diary: week, shelf
redirect home to sign in if session is none, remember
on splash 1s on ladder if welcomed is no: replace welcome
on splash 1s on ladder: replace home
memory: warn 150MB, dies 250MB
> r 2 n
begin: set welcomed yes; replace home
sign in: set session valid; go to wanted, else replace home
hive(id)
frames: replace frames(id)
hive look: replace hive
next hive: push hive(id)
inspection
holds draft: clean, edited
write: set draft edited
guard unsaved if draft is edited: ask Leave?; stay: stay; discard: set draft clean, go on
screen mark picker: gives mark [white]
mark: push mark picker awaiting mark
white: return white
mark comes back: nothing
mark is cancelled: nothing
overlay sure: dialog
throw away: open sure
yes: close; pop
> 2
overlay menu: drawer, of home
> b b
more: open menu
sign out: close; set session none; clear on app; push sign in on app
link bees://hive/{id} home, hives, hive(id=$id)
link bees://diary home, week
"""
"""What is typed after `+`; `>` stands before keys."""


class Building(ScreenCase):
    def test_an_app_is_built_and_reads_as_if_written_by_hand(self) -> None:
        terminal = self.start("demo")
        terminal.wait("has not been started")
        terminal.press("O", "Which plan?")
        terminal.fill("new", "a plan with one screen")
        terminal.press("Enter", "A new plan")
        terminal.fill("Combfield", "Combfield")
        terminal.press("Down", "first screen")
        terminal.fill("splash", "splash")
        terminal.press("Enter", "Combfield has not been started")
        for line in LINES.splitlines():
            if line.startswith("> "):
                terminal.keys(*line[2:].split())
                continue
            terminal.press("+", "Enter adds it")
            terminal.fill(line, line[-20:])
            terminal.press("Enter", lambda screen: "Enter adds it" not in screen)
        terminal.press("C-s", "saved in combfield.ladder.yaml")
        written = (self.folder / "combfield.ladder.yaml").read_text()
        self.assertEqual(written, BUILT.read_text(encoding="utf-8"))
        self.assertLessEqual(terminal.typed, MOST_KEYS)
        self.assertEqual(read_plan_text(written).warnings, ())


if __name__ == "__main__":
    unittest.main()
