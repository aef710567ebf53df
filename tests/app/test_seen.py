"""Seen: the run of the view one comes from, its moments, its flashes, and how near one looks."""

import asyncio
import time
import unittest
from collections.abc import Awaitable, Callable
from functools import partial

from textual.pilot import Pilot

from tests.app.test_drawing import lines
from tests.plans import COMBFIELD, plan_of
from wise_ladder.app.application import LadderApp
from wise_ladder.app.palette import INK
from wise_ladder.app.seen.drawing import draw
from wise_ladder.app.seen.selection import OtherRun, SeenSelection
from wise_ladder.app.seen.view import SeenView
from wise_ladder.demo import combfield, gallery
from wise_ladder.plan.events import Back, Launch, Tap, Wait
from wise_ladder.plan.loader import read_plan
from wise_ladder.plan.plan_files import read_plan_files
from wise_ladder.semantics import initial_state
from wise_ladder.walks import run_walk
from wise_ladder.walks.reply_branches import replies_of, with_reply
from wise_ladder.walks.tape import Tape

FLASH = next(fault for fault in gallery() if fault.name == "sign-in-flash")


def walked(name: str) -> SeenSelection:
    """Show a walk of Combfield."""
    selection = SeenSelection()
    walk = next(walk for walk in COMBFIELD.walks if walk.name == name)
    selection.take_up(Tape.from_walk(COMBFIELD, run_walk(COMBFIELD, walk)), name)
    return selection


class Moments(unittest.TestCase):
    def test_the_end_is_shown_first_and_the_place_stays_while_the_run_grows(self) -> None:
        selection = SeenSelection()
        tape = Tape(COMBFIELD, initial_state(COMBFIELD)).with_event(Launch())[0]
        selection.take_up(tape, "this tape")
        self.assertEqual((selection.place, selection.last), (1, 1))
        longer = tape.with_event(Back())[0]
        selection.take_up(longer, "this tape")
        self.assertEqual(selection.place, 2)
        selection.go(1)
        selection.take_up(longer.with_event(Launch())[0], "this tape")
        self.assertEqual(selection.place, 1)

    def test_what_is_inside_a_wait_is_a_moment_of_its_own(self) -> None:
        selection = walked("start with a session that is valid")
        times = [(moment.number, moment.time) for moment in selection.runs[0].moments]
        self.assertEqual(times, [(1, 0), (2, 300), (2, 400), (2, 1200), (2, 5000)])
        self.assertEqual([fold.time for fold in selection.axis.folds], [3800])

    def test_the_window_is_halved_around_the_moment(self) -> None:
        selection = walked("start with a session that is valid")
        whole = selection.window
        self.assertTrue(selection.look(1))
        begin, end = selection.window
        self.assertEqual(end - begin, (whole[1] - whole[0]) / 2)
        self.assertEqual(end, whole[1])
        selection.go(0)
        self.assertEqual(selection.window[0], 0)
        self.assertFalse(selection.look(-1) and selection.look(-1))

    def test_flashes_are_gone_to_in_turn(self) -> None:
        plan = read_plan(FLASH.faulty)
        selection = SeenSelection()
        selection.take_up(Tape.from_walk(plan, run_walk(plan, plan.walks[0])), "flash")
        flash = selection.next_flash()
        self.assertEqual((flash and flash.words, selection.stop.time), ("sign in", 400))
        two = plan_of(
            "screens: {hives: {moves: [{when: 100ms shown, do: replace hive}]}, hive: {moves: [{when: 100ms shown, do: replace comb}]}, comb: {}}"
        )
        selection.take_up(Tape(two, initial_state(two)).with_event(Launch())[0].with_event(Wait(1_000))[0], "two")
        selection.go(0)
        told = [selection.next_flash() for _ in range(3)]
        self.assertEqual([each and each.lane for each in told], ["hives", "hive", "hives"])
        self.assertIsNone(walked("ten toggles, one Back").next_flash())


class Drawings(unittest.TestCase):
    def test_a_start_with_its_timers_and_its_call(self) -> None:
        drawn = "\n".join(lines(draw(walked("start with a session that is valid"), INK, 160, 46)))
        for words in (
            "cover  ",
            "300 ms fell due",
            "◔ check session",
            "400 ms valid",
            "≈3.8 s≈",
            "limit 150MB",
            "at 5.00 s, step 2: wait 5s",
        ):
            self.assertIn(words, drawn)

    def test_a_flash_is_marked_with_its_length(self) -> None:
        for path, marked in ((FLASH.faulty, True), (FLASH.fixed, False)):
            plan = read_plan(path)
            selection = SeenSelection()
            selection.take_up(Tape.from_walk(plan, run_walk(plan, plan.walks[0])), "flash")
            self.assertEqual("✗ flash 400 ms" in "\n".join(lines(draw(selection, INK, 120, 40))), marked)

    def test_where_there_is_no_room_what_is_near_is_shown(self) -> None:
        drawn = lines(draw(walked("ten toggles, one Back"), INK, 80, 18))
        self.assertTrue(any("more lanes have no room" in line for line in drawn))
        for width, height in ((40, 10), (20, 5), (300, 80)):
            self.assertEqual(len(lines(draw(walked("ten toggles, one Back"), INK, width, height))), height)

    def test_a_key_on_a_tape_of_2000_steps_takes_no_time(self) -> None:
        plan = plan_of("screens: {hives: {moves: [{when: tap hive, do: push hive}]}, hive: {}}")
        tape = Tape(plan, initial_state(plan)).with_event(Launch())[0]
        for _ in range(1_000):
            tape = tape.with_event(Tap("hive"))[0].with_event(Back())[0]
        selection = SeenSelection()
        selection.take_up(tape, "long")
        times = []
        for place in range(10):
            began = time.process_time()
            selection.go(1_000 + place)
            draw(selection, INK, 160, 46)
            times.append(time.process_time() - began)
        # The quickest, since a busy machine makes others slower.
        self.assertLess(min(times), 0.05)


class TwoRuns(unittest.TestCase):
    """Another run over the shown one."""

    def flash(self) -> SeenSelection:
        plan, fixed = read_plan(FLASH.faulty), read_plan(FLASH.fixed)
        selection = SeenSelection()
        selection.take_up(Tape.from_walk(plan, run_walk(plan, plan.walks[0])), "flash")
        self.assertTrue(selection.lay_over(OtherRun("fixed", lambda tape: tape.rerun_on(fixed))))
        return selection

    def test_the_fixed_version_over_a_flash(self) -> None:
        drawn = lines(draw(self.flash(), INK, 160, 40))
        marks = {line.split()[0]: line[:20].split()[-1] for line in drawn if line[18:19] in {"1", "2", "="}}
        self.assertLessEqual({"sign": "1", "cover": "2", "hives": "="}.items(), marks.items())
        self.assertIn("✗ flash 400 ms", "\n".join(drawn))
        self.assertIn(" differs:  seen: sign in / cover", drawn)

    def test_the_first_moment_that_differs_is_chosen_and_the_next_is_gone_to(self) -> None:
        selection = walked("start with a session that is valid")
        start = selection.tape
        assert start is not None
        (reply,) = replies_of(start)
        self.assertEqual(
            (reply.call, reply.outcome, reply.others), ("check session", "valid", ("expired", "offline", "no reply"))
        )
        for other in reply.others:
            selection.lay_over(OtherRun(other, partial(with_reply, reply=reply, outcome=other)))
            self.assertEqual(selection.place, selection.differences[0].stop)
        selection.lay_over(OtherRun("expired", partial(with_reply, reply=reply, outcome="expired")))
        self.assertEqual(
            (selection.stop.time, selection.difference and selection.difference.parts[0]), (300, ("seen", "cover", "splash"))
        )
        selection.next_difference()
        self.assertEqual(
            (selection.stop.time, selection.difference and selection.difference.parts[0]),
            (400, ("session", "valid", "expired")),
        )
        selection.lay_over(None)
        self.assertEqual((len(selection.runs), selection.differences), (1, []))

    def test_the_same_run_differs_nowhere_and_one_that_is_gone_is_not_shown(self) -> None:
        selection = walked("ten toggles, one Back")
        self.assertTrue(selection.lay_over(OtherRun("same", lambda tape: tape)))
        self.assertEqual((selection.differences, selection.next_difference()), ([], None))
        self.assertFalse(selection.lay_over(OtherRun("gone", lambda _: None)))
        self.assertEqual(len(selection.runs), 1)

    def test_what_is_laid_over_follows_an_edit_but_not_another_run(self) -> None:
        selection = self.flash()
        tape = selection.tape
        assert tape is not None
        selection.take_up(tape.prefix(1), "flash")
        self.assertEqual(len(selection.runs), 2)
        selection.take_up(tape, "another")
        self.assertEqual(len(selection.runs), 1)


class InTheApplication(unittest.TestCase):
    def run_in(self, act: Callable[[LadderApp, Pilot[None]], Awaitable[None]], *keys: str) -> None:
        async def run() -> None:
            app = LadderApp(COMBFIELD, combfield(), read_plan_files(combfield()), example=True)
            async with app.run_test(size=(120, 40)) as pilot:
                await pilot.press(*keys)
                await act(app, pilot)

        asyncio.run(run())

    def test_the_tape_is_shown_and_enter_climbs_to_its_moment(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None]) -> None:
            self.assertEqual(app.view_name, "seen")
            await pilot.press("left", "left", "enter")
            await pilot.pause()
            self.assertEqual((app.view_name, app.cursor.position), ("climb", 1))

        self.run_in(act, "r", "n", "n", "S")

    def test_an_edit_is_seen_at_once_and_its_plan_before_can_be_laid_over(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None]) -> None:
            seen = app.view
            assert isinstance(seen, SeenView)
            await pilot.press("right_square_bracket")
            before = seen.selection.tape
            app.document.edit_text(lambda text: text.replace("1200ms on ladder", "900ms on ladder"), "a shorter splash")
            await pilot.pause()
            self.assertIsNot(seen.selection.tape, before)
            await pilot.press("equals_sign", *"before", "enter")
            await pilot.pause()
            other = seen.selection.other
            self.assertEqual(other and other.name, "before the last edit")
            self.assertIn("first difference", "".join(run.text for run in seen.status_line.words(INK, long=True)))
            await pilot.press("N", "e", "escape", "equals_sign", *"one", "space", *"run", "enter")
            await pilot.pause()
            self.assertIsNone(seen.selection.other)

        self.run_in(act, "r", "n", "n", "n", "S")

    def test_another_phone_is_that_of_the_edited_plan(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None]) -> None:
            seen = app.view
            assert isinstance(seen, SeenView)
            await pilot.press("equals_sign", *"stubborn", "enter")
            app.document.edit_text(lambda text: text.replace("1200ms on ladder", "900ms on ladder"), "a shorter splash")
            await pilot.pause()
            other = seen.selection.other_tape
            self.assertEqual(other and (other.plan.phone, other.plan.screens), ("stubborn", app.plan.screens))
            await pilot.press("equals_sign", *"stubborn", "enter")
            # Run on that phone itself, there is none other.
            app.document.run_elsewhere("on stubborn")
            await pilot.pause()
            self.assertIsNone(seen.selection.other)

        self.run_in(act, "r", "n", "S")

    def test_a_click_on_a_step_goes_there(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None]) -> None:
            seen = app.view
            assert isinstance(seen, SeenView)
            drawn = lines(draw(seen.selection, INK, 120, app.query_one("#chart").size.height))
            row = next(row for row, line in enumerate(drawn) if line.startswith(" steps"))
            await pilot.click("#chart", offset=(drawn[row].index("2"), row))
            await pilot.pause()
            moment = seen.selection.moment_of(0)
            self.assertEqual(moment and moment.number, 2)

        self.run_in(act, "r", "n", "n", "S")

    def test_without_a_run_it_says_how_to_get_one(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None]) -> None:
            await pilot.press("right", "n", "enter", "right_square_bracket")
            self.assertTrue(app.is_running)
            self.assertIn("Take steps in Climb", "\n".join(lines(draw(SeenSelection(), INK, 120, 30))))

        self.run_in(act, "S")


if __name__ == "__main__":
    unittest.main()
