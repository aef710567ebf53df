"""Time that is in order but not counted: what can fall due first, together, or when a call can be answered."""

import unittest

from wise_ladder.rules.zones import NOTHING, delay, elapsed_at_least, elapsed_at_most, fire_first, fire_next, none_due, remap

A_SECOND, TWO = (True, 1000), (True, 2000)


class Zones(unittest.TestCase):
    def begun(self, *clocks: tuple[bool, int]) -> tuple[int, ...]:
        """Begin things at one instant."""
        return delay(remap(NOTHING, (-1,) * len(clocks)), clocks)

    def test_what_began_with_another_and_takes_longer_is_not_first(self) -> None:
        zone = self.begun(A_SECOND, TWO)
        self.assertIsNotNone(fire_first(zone, (A_SECOND, TWO), 0))
        self.assertIsNone(fire_first(zone, (A_SECOND, TWO), 1))

    def test_what_began_later_may_be_first_where_it_takes_less(self) -> None:
        zone = delay(remap(self.begun(TWO), (0, -1)), (TWO, A_SECOND))
        self.assertIsNotNone(fire_first(zone, (TWO, A_SECOND), 0))
        self.assertIsNotNone(fire_first(zone, (TWO, A_SECOND), 1))

    def test_two_that_began_together_fall_due_together_in_their_order(self) -> None:
        clocks = (A_SECOND, A_SECOND)
        due = fire_first(self.begun(*clocks), clocks, 0)
        assert due is not None
        self.assertIsNone(fire_first(self.begun(*clocks), clocks, 1))
        left = remap(due, (1,))
        self.assertIsNotNone(fire_next(left, (A_SECOND,), 0))
        self.assertIsNone(none_due(left, (A_SECOND,)))

    def test_a_call_is_answered_when_it_is_ready_and_nothing_falls_due_before(self) -> None:
        clocks = (A_SECOND, (False, 3001))
        zone = self.begun(*clocks)
        self.assertIsNotNone(elapsed_at_least(zone, 2, 1, 400))
        self.assertIsNone(elapsed_at_least(zone, 2, 1, 1000))
        after = fire_first(zone, clocks, 0)
        assert after is not None
        alone = delay(remap(after, (1,)), clocks[1:])
        self.assertIsNotNone(elapsed_at_least(alone, 1, 0, 3000))
        self.assertIsNone(elapsed_at_most(alone, 1, 0, 999))

    def test_how_long_ago_a_call_began_is_forgotten_once_all_replies_are_ready(self) -> None:
        call = ((False, 401),)
        zone = self.begun(*call)
        waited = elapsed_at_least(zone, 1, 0, 401)
        assert waited is not None
        later = elapsed_at_least(zone, 1, 0, 90_000)
        assert later is not None
        self.assertEqual(delay(waited, call), delay(later, call))
