"""All about a screen, in the application."""

import asyncio
import unittest

from textual.widgets import Static

from tests.plans import COMBFIELD
from wise_ladder.app.application import LadderApp
from wise_ladder.app.dialogs.info_dialog import InfoDialog
from wise_ladder.app.dialogs.list_dialog import ListDialog
from wise_ladder.demo import combfield
from wise_ladder.plan.plan_files import read_plan_files


class Sheets(unittest.TestCase):
    def test_the_screen_that_is_seen_comes_first_and_its_sheet_is_shown(self) -> None:
        async def run() -> None:
            app = LadderApp(COMBFIELD, combfield(), read_plan_files(combfield()), example=True)
            async with app.run_test(size=(140, 45)) as pilot:
                await pilot.press("r", "n", "I")
                await pilot.pause()
                assert isinstance(app.screen, ListDialog)
                first = app.screen._choices[0]
                self.assertEqual((first.label, first.about), ("splash", "selected"))
                await pilot.press("enter")
                await app.workers.wait_for_complete()
                await pilot.pause()
                assert isinstance(app.screen, InfoDialog)
                titles = [str(each.content) for each in app.screen.query(Static)]
                self.assertTrue(titles[0].startswith("splash: known for"), titles[0])
                self.assertIn("\nWhat Back does", titles)
                await pilot.press("escape", "X", "I")
                await pilot.pause()
                assert isinstance(app.screen, ListDialog)
                self.assertEqual(app.screen._choices[0].about, "selected")

        asyncio.run(run())


if __name__ == "__main__":
    unittest.main()
