"""Before and after a change, along one path."""

import unittest

from tests.plans import plan_of
from wise_ladder.plan import Event
from wise_ladder.plan.events import Launch, Tap
from wise_ladder.semantics import initial_state
from wise_ladder.walks import Tape
from wise_ladder.walks.comparison import compare, difference_words

PLAN = """
screens:
  hives: {moves: [{when: tap hive, do: push hive}, {when: tap diary, do: push diary}]}
  hive: {moves: [{when: tap diary, do: %s}]}
  diary:
"""
PATH = (Launch(), Tap("hive"), Tap("diary"))


def tape(do: str, *path: Event) -> Tape:
    plan = plan_of(PLAN % do)
    found = Tape(plan, initial_state(plan))
    for event in path:
        found, _ = found.with_event(event)
    return found


class Comparing(unittest.TestCase):
    def test_the_first_step_that_differs(self) -> None:
        found = compare(tape("push diary", *PATH), tape("replace diary", *PATH))
        self.assertEqual(difference_words(found), "step 3 differs: before hives > hive > diary, now hives > diary")

    def test_what_is_not_touched_is_the_same(self) -> None:
        found = compare(tape("push diary", *PATH[:2]), tape("replace diary", *PATH[:2]))
        self.assertIsNone(found.step)
        self.assertIn("the same events lead to the same ladder", difference_words(found))

    def test_a_step_that_no_longer_applies(self) -> None:
        before = tape("push diary", *PATH)
        after = before.rerun_on(plan_of(PLAN.replace("tap hive,", "tap a hive,") % "pop"))
        self.assertEqual(difference_words(compare(before, after)), "step 2 no longer applies")
