"""A new plan is on no disk until it is saved; it can be saved under another name, and is offered again after a crash."""

import asyncio
import contextlib
import tempfile
import unittest
from collections.abc import Awaitable, Callable
from pathlib import Path

from textual.pilot import Pilot

from wise_ladder.app.application import LadderApp
from wise_ladder.app.persistence import StateDir
from wise_ladder.demo import combfield
from wise_ladder.plan.loader import read_file, read_plan


class NewPlans(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.memory = StateDir(self.folder / "state")

    def in_the_application(self, act: Callable[[LadderApp, Pilot[None]], Awaitable[None]]) -> None:
        async def run() -> None:
            plan, text = read_file(combfield())
            app = LadderApp(plan, combfield(), text, example=True, memory=self.memory)
            with contextlib.chdir(self.folder):
                async with app.run_test(size=(120, 40)) as pilot:
                    await pilot.press("O", *"new", "enter", *"Bees", "down", *"hives")
                    await act(app, pilot)

        asyncio.run(run())

    def test_it_is_written_when_it_is_saved(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None]) -> None:
            await pilot.press("enter")
            self.assertEqual((app.plan.app, app.document.unsaved, list(self.folder.glob("*.yaml"))), ("Bees", True, []))
            await pilot.press("r", "plus", *"hive", "enter", "ctrl+s")
            self.assertFalse(app.document.unsaved)
            self.assertEqual(read_plan(self.folder / "bees.ladder.yaml").screen["hives"].moves[0].text, "push hive")

        self.in_the_application(act)

    def test_another_name_before_that(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None]) -> None:
            await pilot.press("enter", "ctrl+e", "ctrl+u", *"other.ladder.yaml", "enter")
            self.assertEqual([path.name for path in self.folder.glob("*.yaml")], ["other.ladder.yaml"])
            self.assertFalse(app.document.unsaved)

        self.in_the_application(act)

    def test_what_is_there_is_not_written_over(self) -> None:
        (self.folder / "bees.ladder.yaml").write_text("mine")

        async def act(app: LadderApp, pilot: Pilot[None]) -> None:
            await pilot.press("enter")
            self.assertEqual(app.plan.app, "Combfield")
            self.assertEqual((self.folder / "bees.ladder.yaml").read_text(), "mine")

        self.in_the_application(act)

    def test_leaving_asks_and_a_crash_keeps_it(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None]) -> None:
            await pilot.press("enter", "q")
            self.assertTrue(app.is_running)
            self.assertIn("unsaved edits", (app.status_line.message or ("", False))[0])
            kept = [path.read_text() for path in (self.folder / "state").rglob("*") if path.is_file()]
            self.assertTrue(any("app: Bees" in text for text in kept), "it is kept for the next start")

        self.in_the_application(act)

    def test_from_a_table(self) -> None:
        (self.folder / "moves.csv").write_text("from,action,operation,to\nhives,open,,hive\nhive,x,teleport,hives\n")

        async def act(app: LadderApp, pilot: Pilot[None]) -> None:
            await pilot.press("down", *"moves.csv", "enter")
            self.assertEqual([screen.name for screen in app.plan.screens], ["hives", "hive"])
            self.assertIn("1 row was not read: moves.csv:3", (app.status_line.message or ("", False))[0])

        self.in_the_application(act)


if __name__ == "__main__":
    unittest.main()
