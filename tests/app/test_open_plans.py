"""Several plans are open at once, each with its tape and its edits; one key goes from one to the next."""

import asyncio
import contextlib
import tempfile
import unittest
from collections.abc import Awaitable, Callable
from pathlib import Path

from textual.pilot import Pilot

from wise_ladder.app.application import LadderApp
from wise_ladder.app.persistence import StateDir
from wise_ladder.demo import gallery
from wise_ladder.plan.loader import read_file

SMALL = "app: Small\nstart: a\nscreens:\n  a:\n    moves: [{when: tap b, do: push b}]\n  b: {}\n"
OTHER = "app: Other\nstart: first\nscreens:\n  first:\n    moves: [{when: tap on, do: push second}]\n  second: {}\n"


class OpenPlans(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        for name, text in (("one", SMALL), ("other", OTHER)):
            (self.folder / f"{name}.ladder.yaml").write_text(text, encoding="utf-8")

    def in_the_application(self, act: Callable[[LadderApp, Pilot[None]], Awaitable[None]]) -> None:
        """Open one plan, take a step and rename its tap, then open the other beside it."""

        async def run() -> None:
            path = self.folder / "one.ladder.yaml"
            app = LadderApp(*read_file_at(path), example=False, memory=StateDir(self.folder / "state"))
            with contextlib.chdir(self.folder):
                async with app.run_test(size=(120, 40)) as pilot:
                    await pilot.press("r", "1", "O", *"other.ladder", "enter")
                    await pilot.pause()
                    await act(app, pilot)

        asyncio.run(run())

    def test_each_keeps_its_tape_and_its_edits(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None]) -> None:
            self.assertEqual((app.plan.app, app.cursor.position), ("Other", 0))
            await pilot.press("r", "1", "o", "N")
            self.assertEqual((app.plan.app, app.cursor.position, app.document.unsaved), ("Small", 2, False))
            await pilot.press("left", "N")
            self.assertEqual((app.plan.screen["first"].moves[0].text, app.document.unsaved), ("replace second", True))
            await pilot.press("ctrl+z", "N")
            self.assertEqual((app.plan.app, app.cursor.position, len(app.cursor.tape.entries)), ("Small", 1, 2))

        self.in_the_application(act)

    def test_the_top_line_says_which_of_them_is_shown(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None]) -> None:
            self.assertIn("other  2 of 2", shown(app))
            await pilot.press("N")
            await pilot.pause()
            self.assertIn("one  1 of 2", shown(app))

        self.in_the_application(act)

    def test_a_plan_that_is_open_is_not_opened_again(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None]) -> None:
            await pilot.press("O", *"one.ladder", "enter")
            self.assertEqual((app.plan.app, app.cursor.position, app.open_plans.number_words), ("Small", 2, "  1 of 2"))

        self.in_the_application(act)

    def test_closing_one_goes_to_another(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None]) -> None:
            await pilot.press("Q")
            self.assertEqual((app.plan.app, app.cursor.position, app.open_plans.number_words), ("Small", 2, ""))
            await pilot.press("Q")
            self.assertEqual(app.plan.app, "Small")

        self.in_the_application(act)

    def test_edits_are_not_closed_without_a_word(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None]) -> None:
            await pilot.press("r", "1", "o", "Q")
            self.assertEqual(app.plan.app, "Other")
            await pilot.press("Q")
            self.assertEqual(app.plan.app, "Small")
            self.assertIsNone(StateDir(self.folder / "state").left(self.folder / "other.ladder.yaml"))

        self.in_the_application(act)

    def test_quitting_asks_for_each_plan_with_edits(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None]) -> None:
            await pilot.press("r", "1", "o", "N", "o")
            for name in ("Small", "Other"):
                await pilot.press("q")
                self.assertTrue(app.is_running)
                self.assertEqual(app.plan.app, name)
            await pilot.press("q")
            self.assertFalse(app.is_running)

        self.in_the_application(act)

    def test_another_plan_breaks_no_rule_of_this_one(self) -> None:
        """Both have a rule of one name: it holds in the one and is broken in the other, and nothing was edited."""
        fault = next(fault for fault in gallery() if fault.name == "toggle")

        async def run() -> None:
            app = LadderApp(*read_file_at(fault.fixed), example=True)
            async with app.run_test(size=(120, 40)) as pilot:
                for path in (fault.fixed, fault.faulty):
                    app.open_plans.open(path, example=True)
                    app.sweep_runner.begin()
                    while (known := app.sweep_runner.standing) is None or known.plan is not app.plan or known.running:
                        await pilot.pause(0.01)
                self.assertTrue(app.sweep_runner.standing is not None and app.sweep_runner.standing.broken)
                self.assertNotIn("broken now", str(app.status_line.message))

        asyncio.run(run())


def read_file_at(path: Path):  # type: ignore[no-untyped-def]
    plan, text = read_file(path)
    return plan, path, text


def shown(app: LadderApp) -> str:
    return "".join(segment.text for segment in app.title_bar.render_line(0))


if __name__ == "__main__":
    unittest.main()
