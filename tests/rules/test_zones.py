"""Time that is in order but not counted: what can fall due first, together, or when a call can be answered."""

import unittest

from wise_ladder.rules.zones import NOTHING, also_due, as_soon_as, at_rest, falls_due, nothing_more_due, passed_on, ready

A_SECOND, TWO = (True, 1000), (True, 2000)


class Zones(unittest.TestCase):
    def begun(self, *clocks: tuple[bool, int]) -> tuple[int, ...]:
        """Begin things at one instant."""
        return at_rest(passed_on(NOTHING, (-1,) * len(clocks)), clocks)

    def test_what_began_with_another_and_takes_longer_is_not_first(self) -> None:
        zone = self.begun(A_SECOND, TWO)
        self.assertIsNotNone(falls_due(zone, (A_SECOND, TWO), 0))
        self.assertIsNone(falls_due(zone, (A_SECOND, TWO), 1))

    def test_what_began_later_may_be_first_where_it_takes_less(self) -> None:
        zone = at_rest(passed_on(self.begun(TWO), (0, -1)), (TWO, A_SECOND))
        self.assertIsNotNone(falls_due(zone, (TWO, A_SECOND), 0))
        self.assertIsNotNone(falls_due(zone, (TWO, A_SECOND), 1))

    def test_two_that_began_together_fall_due_together_in_their_order(self) -> None:
        clocks = (A_SECOND, A_SECOND)
        due = falls_due(self.begun(*clocks), clocks, 0)
        assert due is not None
        self.assertIsNone(falls_due(self.begun(*clocks), clocks, 1))
        left = passed_on(due, (1,))
        self.assertIsNotNone(also_due(left, (A_SECOND,), 0))
        self.assertIsNone(nothing_more_due(left, (A_SECOND,)))

    def test_a_call_is_answered_when_it_is_ready_and_nothing_falls_due_before(self) -> None:
        clocks = (A_SECOND, (False, 3001))
        zone = self.begun(*clocks)
        self.assertIsNotNone(ready(zone, 2, 1, 400))
        self.assertIsNone(ready(zone, 2, 1, 1000))
        after = falls_due(zone, clocks, 0)
        assert after is not None
        alone = at_rest(passed_on(after, (1,)), clocks[1:])
        self.assertIsNotNone(ready(alone, 1, 0, 3000))
        self.assertIsNone(as_soon_as(alone, 1, 0, 999))

    def test_how_long_ago_a_call_began_is_forgotten_once_all_replies_are_ready(self) -> None:
        call = ((False, 401),)
        zone = self.begun(*call)
        waited = ready(zone, 1, 0, 401)
        assert waited is not None
        later = ready(zone, 1, 0, 90_000)
        assert later is not None
        self.assertEqual(at_rest(waited, call), at_rest(later, call))
