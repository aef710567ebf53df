"""States that differ in serials and clock alone count as one: all else is kept."""

import unittest

from msgspec.structs import replace

from tests.plans import COMBFIELD
from tests.second.compare import of_state
from tests.semantics.test_cases import CASES
from wise_ladder.plan.loader import read_plan
from wise_ladder.semantics import State
from wise_ladder.semantics.serials import timeless
from wise_ladder.semantics.state import all_rungs
from wise_ladder.walks.running import run_walk

LEFT_OUT = {"clock", "seen", "pending", "calls"}
"""What is told with the clock, or not at all."""


def states() -> list[State]:
    plans = [COMBFIELD, *map(read_plan, CASES)]
    return [played.state for plan in plans for walk in plan.walks for played in run_walk(plan, walk).played]


class Timeless(unittest.TestCase):
    def test_all_but_the_clock_is_kept(self) -> None:
        for state in states():
            before, after = of_state(state), of_state(timeless(state))
            self.assertEqual(
                {key: value for key, value in after.items() if key not in LEFT_OUT},
                {key: value for key, value in before.items() if key not in LEFT_OUT},
            )

    def test_times_are_counted_from_now(self) -> None:
        for state in states():
            after = timeless(state)
            self.assertEqual([timer.due for timer in after.deadlines], [timer.due - state.clock for timer in state.deadlines])
            self.assertEqual([call.started for call in after.calls], [call.started - state.clock for call in state.calls])
            self.assertEqual((after.clock, after.seen.since), (0, 0))

    def test_who_waits_and_who_is_asked_stay_the_same_rungs(self) -> None:
        for state in states():
            after = timeless(state)
            was = {rung.serial: place for place, rung in enumerate(all_rungs(state.ladder))}
            now = {rung.serial: place for place, rung in enumerate(all_rungs(after.ladder))}
            for one, two in zip(state.calls, after.calls, strict=True):
                self.assertEqual(was.get(one.serial), now.get(two.serial))
            for first, second in zip(state.armed, after.armed, strict=True):
                self.assertEqual(was.get(first.serial), now.get(second.serial))
            self.assertEqual({was[each] for each in state.freed}, {now[each] for each in after.freed})
            self.assertEqual({was[each] for each in state.never_shown}, {now[each] for each in after.never_shown})
            if state.question is not None and after.question is not None:
                asked, again = state.question, after.question
                self.assertEqual((was.get(asked.serial), was.get(asked.rung)), (now.get(again.serial), now.get(again.rung)))
                self.assertEqual(
                    asked.stopped.chain and [(was.get(serial), inside) for serial, inside in asked.stopped.chain],
                    again.stopped.chain and [(now.get(serial), inside) for serial, inside in again.stopped.chain],
                )

    def test_the_same_ladder_reached_twice_is_one(self) -> None:
        once = timeless(states()[40])
        self.assertEqual(timeless(replace(once, clock=7)), once)
        self.assertEqual(timeless(once), once)


if __name__ == "__main__":
    unittest.main()
