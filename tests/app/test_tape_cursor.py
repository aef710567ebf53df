"""The run behind Climb, without a screen."""

import unittest
from itertools import pairwise

from tests.plans import COMBFIELD, ladder, plan_of
from wise_ladder.app.climb.row_layout import spaced
from wise_ladder.app.tape_cursor import TapeCursor
from wise_ladder.plan.events import Back, Launch, Tap, Wait
from wise_ladder.semantics.text import rung_text


class Running(unittest.TestCase):
    PLAN = plan_of("""
        facts: {session: [none, valid]}
        screens:
          hives: {moves: [{when: tap a, do: push hive}, {when: tap b, do: push diary}, {when: tap s, do: set session valid}]}
          hive: {moves: [{when: tap a, do: replace diary}, {when: 1s on ladder, do: push diary}]}
          diary: {moves: [{when: tap up, do: pop to hives}]}
    """)

    def climber(self, *events: str) -> TapeCursor:
        climber = TapeCursor(self.PLAN)
        climber.do(Launch())
        for event in events:
            climber.do(Tap(event))
        return climber

    def test_another_way_from_an_earlier_step_is_a_branch_and_the_old_one_is_kept(self) -> None:
        climber = self.climber("a", "a")
        climber.go(1)
        climber.do(Tap("b"))
        self.assertEqual(ladder(climber.moment.state), "hives > diary")
        self.assertEqual((climber.position, len(climber.tape.entries), climber.left), (2, 2, 1))
        self.assertTrue(climber.resume_branch())
        self.assertEqual((climber.position, len(climber.tape.entries)), (1, 3))
        self.assertTrue(climber.resume_branch())
        self.assertEqual(ladder(climber.moment.state), "hives > diary")

    def test_the_same_step_again_walks_on_along_the_tape(self) -> None:
        climber = self.climber("a", "a")
        climber.go(1)
        climber.do(Tap("a"))
        self.assertEqual((climber.position, len(climber.tape.entries), climber.left), (2, 3, 0))

    def test_launching_anew_keeps_the_tape_that_was(self) -> None:
        climber = self.climber("a")
        climber.launch()
        self.assertEqual((len(climber.tape.entries), climber.left), (1, 1))

    def test_launching_after_leaving_goes_on_with_what_is_on_disk(self) -> None:
        climber = TapeCursor(COMBFIELD)
        climber.launch()
        climber.do(Wait(1200))
        for tap in ("next", "next", "begin"):
            climber.do(Tap(tap))
        climber.do(Back())
        climber.launch()
        climber.do(Wait(1200))
        self.assertEqual((ladder(climber.moment.state), climber.left), ("sign in", 0))

    def test_how_a_rung_came_is_told_of_the_one_that_stands_there(self) -> None:
        climber = TapeCursor(COMBFIELD)
        for event in (Launch(), Wait(1200), Tap("next"), Tap("next"), Tap("begin"), Tap("sign in"), Tap("diary")):
            climber.do(event)
        came = [climber.moment.how_it_came(rung.serial) for rung in climber.moment.rungs]
        self.assertEqual(came, [(6, Tap("sign in")), (7, Tap("diary"))])

    def test_time_runs_to_the_next_due_thing(self) -> None:
        climber = self.climber("b")
        self.assertIsNone(climber.let_time_run())
        climber = self.climber("a")
        climber.do(Wait(400))
        climber.let_time_run()
        self.assertEqual(climber.moment.state.clock, 1000)
        self.assertEqual(climber.tape.entries[-1].event, Wait(600))

    def test_what_came_what_went_and_what_turned(self) -> None:
        climber = self.climber("a", "a")
        self.assertEqual([rung_text(rung.data) for rung in climber.moment.went], ["hive"])
        self.assertEqual(climber.moment.new_serials, {climber.moment.rungs[-1].serial})
        self.assertEqual(climber.moment.how_it_came(climber.moment.rungs[-1].serial), (3, Tap("a")))
        self.assertEqual(self.climber("s").moment.turned, {"session": "none"})

    def test_the_ways_back(self) -> None:
        ways = self.climber("b").moment.ways
        self.assertEqual(
            [(way.name, way.forecast.outcome) for way in ways], [("system", "lands"), ("header ←", "lands"), ("tap 1", "lands")]
        )
        itself = self.climber("a").moment.ways[-1]
        self.assertEqual((itself.name, itself.when, itself.back), ("by itself", "in 1 s", False))

    def test_a_changed_plan_runs_the_same_events_as_far_as_they_apply(self) -> None:
        climber = self.climber("a", "a")
        climber.take_up_plan(plan_of("screens: {hives: {moves: [{when: tap a, do: push hive}]}, hive: }"))
        self.assertEqual((ladder(climber.moment.state), climber.position), ("hives > hive", 2))

    def test_steps_that_no_longer_apply_are_kept_and_come_back(self) -> None:
        """Also those after the place one is at: nothing of the tape is lost by an edit."""
        climber = self.climber("a", "a", "b")
        before = climber.plan
        events = [entry.event for entry in climber.tape.entries]
        climber.take_up_plan(plan_of("screens: {hives: {moves: [{when: tap z, do: push hive}]}, hive: }"))
        self.assertEqual((len(climber.tape.entries), climber.position, climber.tape.rest), (1, 1, tuple(events[1:])))
        self.assertTrue(climber.tape.refused)
        climber.take_up_plan(before)
        self.assertEqual(([entry.event for entry in climber.tape.entries], climber.position), (events, len(events)))
        climber.go(1)
        climber.take_up_plan(before)
        self.assertEqual((len(climber.tape.entries), climber.position), (len(events), 1))

    def test_another_branch_keeps_the_tape_with_the_steps_that_do_not_apply(self) -> None:
        climber = self.climber("a", "a")
        climber.take_up_plan(plan_of("screens: {hives: {moves: [{when: tap z, do: push hive}]}, hive: }"))
        climber.do(Tap("z"))
        self.assertEqual((climber.tape.rest, climber.left), ((), 1))
        climber.resume_branch()
        self.assertEqual(len(climber.tape.rest), 2)

    def test_a_tape_that_was_left_meets_the_changed_plan_too(self) -> None:
        climber = self.climber("a", "a")
        climber.launch()
        climber.take_up_plan(plan_of("screens: {hives: {moves: [{when: tap a, do: push hive}]}, hive: }"))
        climber.resume_branch()
        self.assertEqual((ladder(climber.moment.state), climber.tape.plan), ("hives > hive", climber.plan))

    def test_a_refused_step_changes_nothing(self) -> None:
        climber = self.climber()
        moment = climber.moment
        self.assertIsNotNone(climber.do(Tap("nothing")).refused)
        self.assertIs(climber.moment, moment)

    def test_the_demo_runs_to_the_ground(self) -> None:
        climber = TapeCursor(COMBFIELD)
        climber.launch()
        climber.let_time_run()
        climber.let_time_run()
        for _ in climber.moment.descent.hops:
            climber.do(Back())
        self.assertEqual(climber.moment.rungs, ())


class Spacings(unittest.TestCase):
    def test_rungs_never_meet_and_the_first_and_the_last_are_there(self) -> None:
        for ground in range(8, 60):
            for count in range(1, 70):
                for above in (3, 8):
                    found = spaced([0] * count, ground, above)
                    rows = [found.rows[place] for place in sorted(found.rows)]
                    self.assertIn(0, found.rows)
                    self.assertIn(count - 1, found.rows)
                    self.assertTrue(all(low - high >= 2 for low, high in pairwise(rows)), (ground, count, rows))
                    self.assertLess(rows[0], ground)
                    self.assertEqual(len(rows) + (found.fold.rungs if found.fold else 0), count)

    def test_notes_get_room_where_there_is_room(self) -> None:
        rows = spaced([0, 3, 0], 40, 8).rows
        self.assertGreaterEqual(rows[0] - rows[1], 5)
