"""Keys that come faster than they are done: each is done, in order, and nothing is drawn while others wait."""

import asyncio
import unittest
from collections.abc import Awaitable, Callable
from unittest.mock import patch

from textual.events import Key
from textual.pilot import Pilot

from tests.plans import COMBFIELD
from wise_ladder.app.application import LadderApp
from wise_ladder.app.dialogs.list_dialog import ListDialog
from wise_ladder.demo import combfield
from wise_ladder.plan.events import Back, Launch, Tap, Wait
from wise_ladder.plan.plan_files import read_plan_files


class Waiting(unittest.TestCase):
    def on_the_bench(self, act: Callable[[LadderApp, Pilot[None]], Awaitable[None]]) -> None:
        async def run() -> None:
            bench = LadderApp(COMBFIELD, combfield(), read_plan_files(combfield()), example=True)
            async with bench.run_test(size=(120, 40)) as pilot:
                await act(bench, pilot)

        asyncio.run(run())

    @staticmethod
    def send(bench: LadderApp, *keys: str) -> None:
        """Put keys in as fast as a terminal that held them back."""
        for key in keys:
            event = Key(key, key if len(key) == 1 else None)
            event.set_sender(bench)
            assert bench._driver is not None
            bench._driver.send_message(event)

    async def at_once(self, bench: LadderApp, pilot: Pilot[None], *keys: str) -> None:
        """Put keys in, and wait until all are done."""
        self.send(bench, *keys)
        await pilot.pause()
        done = asyncio.Event()
        bench.when_done(done.set)
        await done.wait()
        await pilot.pause()

    def test_each_is_done_in_order_and_drawn_once(self) -> None:
        async def act(bench: LadderApp, pilot: Pilot[None]) -> None:
            with patch.object(bench.climb.status_line, "draw", wraps=bench.climb.status_line.draw) as drawn:
                await self.at_once(bench, pilot, "r", "n", "n", *("1", "b") * 100)
            events = [type(entry.event) for entry in bench.cursor.tape.entries]
            self.assertEqual(events[:3], [Launch, Wait, Wait])
            self.assertEqual(events[3:], [Tap, Back] * 100)
            self.assertLess(drawn.call_count, 20)

        self.on_the_bench(act)

    def test_a_key_after_one_that_opens_a_sheet_goes_to_the_sheet(self) -> None:
        async def act(bench: LadderApp, pilot: Pilot[None]) -> None:
            await self.at_once(bench, pilot, "r", "l", "escape", "escape", "enter", "l", *"hive")
            self.assertIsInstance(bench.screen, ListDialog)
            self.assertEqual(bench.screen.query_one("LineInput").value, "hive")  # type: ignore[attr-defined]
            await self.at_once(bench, pilot, "escape", "escape", "enter")
            self.assertEqual(len(bench.screen_stack), 1)

        self.on_the_bench(act)

    def test_pages_of_a_list_with_nothing_in_it(self) -> None:
        async def act(bench: LadderApp, pilot: Pilot[None]) -> None:
            await self.at_once(bench, pilot, "ctrl+p", *"nothing fits this", "tab", "pagedown", "pageup")
            await self.at_once(bench, pilot, "shift+tab", *["backspace"] * 20, "tab", "pagedown", "pageup", "enter")
            self.assertTrue(bench.is_running)

        self.on_the_bench(act)

    def test_a_new_size_is_taken_where_the_timer_of_the_library_is_lost(self) -> None:
        async def act(bench: LadderApp, pilot: Pilot[None]) -> None:
            with patch.object(bench, "set_timer"):
                for width in (100, 90):
                    await pilot.resize_terminal(width, 30)
                    await pilot.pause()
                    self.assertEqual(bench.footer.size.width, width)

        self.on_the_bench(act)

    def test_leaving_overtakes_what_waits(self) -> None:
        async def act(bench: LadderApp, _pilot: Pilot[None]) -> None:
            self.send(bench, "r", *("1", "b") * 200, "q")
            while bench.is_running:  # noqa: ASYNC110 - the library has no event for that
                await asyncio.sleep(0.01)
            self.assertLess(len(bench.cursor.tape.entries), 200)

        self.on_the_bench(act)

    def test_a_key_that_was_under_way_when_the_bench_was_left_goes_nowhere(self) -> None:
        async def run() -> None:
            bench = LadderApp(COMBFIELD, combfield(), read_plan_files(combfield()), example=True)
            async with bench.run_test(size=(120, 40)):
                bench.exit()
            late = Key("b", "b")
            late._set_forwarded()
            await bench.on_event(late)
            self.assertEqual(bench.cursor.tape.entries, ())

        asyncio.run(run())

    def test_leaving_before_it_has_quite_begun(self) -> None:
        async def run() -> None:
            bench = LadderApp(COMBFIELD, combfield(), read_plan_files(combfield()), example=True)
            async with bench.run_test(size=(120, 40)):
                bench.exit()
            bench._settle()
            self.assertFalse(bench.sweep_runner.running)

        asyncio.run(run())

    def test_a_click_on_what_another_view_drew_does_nothing(self) -> None:
        async def act(bench: LadderApp, _pilot: Pilot[None]) -> None:
            bench.action_press("next_guilty")
            self.assertIs(bench.view, bench.climb)

        self.on_the_bench(act)

    def test_the_question_before_leaving_stands_when_the_rest_is_done(self) -> None:
        async def act(bench: LadderApp, pilot: Pilot[None]) -> None:
            bench.document.edit_text(lambda text: text + "# an edit\n", "an edit")
            await self.at_once(bench, pilot, "r", *("n", "b") * 20, "q", *("n", "b") * 20)
            self.assertIn("unsaved edits", bench.status_line.message[0] if bench.status_line.message else "")

        self.on_the_bench(act)
