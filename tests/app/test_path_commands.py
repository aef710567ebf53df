"""The path to a state, asked for in one line and climbed."""

import asyncio
import unittest

from textual.pilot import Pilot

from wise_ladder.app.application import LadderApp
from wise_ladder.app.dialogs.form_dialog import FormDialog
from wise_ladder.app.dialogs.list_dialog import ListDialog
from wise_ladder.demo import combfield, gallery
from wise_ladder.plan.loader import read_file
from wise_ladder.rules.path_query import answer
from wise_ladder.rules.path_question import parse_question
from wise_ladder.rules.verdicts import Bounds
from wise_ladder.semantics.state import visible_screens

COMBFIELD_PATH = combfield()
TOGGLE = next(fault for fault in gallery() if fault.name == "toggle").faulty


class PathTo(unittest.TestCase):
    def asked(self, question: str, *keys: str) -> tuple[LadderApp, str]:
        """Ask in the application, and press keys when there is an answer; return what is said then."""

        async def run() -> tuple[LadderApp, str]:
            plan, text = read_file(TOGGLE)
            app = LadderApp(plan, TOGGLE, text, example=True)
            async with app.run_test(size=(120, 40)) as pilot:
                await pilot.press("ctrl+g", *[{" ": "space"}.get(key, key) for key in question], "enter")
                await self.settled(app, pilot)
                await pilot.press(*keys)
                await pilot.pause()
                return app, app.status_line.message[0] if app.status_line.message else ""

        return asyncio.run(run())

    @staticmethod
    async def settled(app: LadderApp, pilot: Pilot[None]) -> None:
        while not isinstance(app.screen, (ListDialog, FormDialog)) and any(each.group == "path" for each in app.workers):
            await pilot.pause(0.01)
        await pilot.pause()

    def test_enter_climbs_the_path(self) -> None:
        app, _ = self.asked("hive beneath frames", "enter")
        ladder = [rung.data.screen for rung in visible_screens(app.cursor.moment.state.ladder)]
        self.assertEqual((ladder, app.cursor.position, app.view_name), (["hives", "hive", "frames"], 3, "climb"))

    def test_where_nothing_is_found_the_nearest_is_offered_and_climbed(self) -> None:
        app, _ = self.asked("frames beneath hives", "enter")
        self.assertEqual((app.cursor.position, app.view_name), (1, "climb"))

    def test_the_sweep_that_runs_stands_still_and_answers_what_it_has_met(self) -> None:
        async def run() -> None:
            plan, text = read_file(COMBFIELD_PATH)
            app = LadderApp(plan, COMBFIELD_PATH, text, example=True)
            async with app.run_test(size=(120, 40)) as pilot:
                await pilot.press("R")
                while app.sweep_runner.standing is None or app.sweep_runner.standing.known.depth < 2:
                    await pilot.pause(0.01)
                with app.sweep_runner.held() as sweep:
                    assert sweep is not None
                    count = sweep.count
                    question = parse_question(plan, "sign in seen")
                    self.assertEqual(answer(plan, question, Bounds(depth=0), known=sweep).paths[0].steps, 2)
                    await pilot.pause(0.2)
                    self.assertEqual(sweep.count, count)
                while sweep.count == count:
                    await pilot.pause(0.01)

        asyncio.run(run())

    def test_a_question_that_is_none_is_told_in_the_line(self) -> None:
        app, _ = self.asked("hvie seen", "escape")
        self.assertEqual(app.cursor.position, 0)


if __name__ == "__main__":
    unittest.main()
