"""Any key at any time: the bench takes what comes, in every view and sheet, at every size, whatever becomes of the file."""

import unittest

from tests.input import headless, killed


class AnyKey(unittest.TestCase):
    def test_whatever_is_typed(self) -> None:
        """A small share of what `make deep` puts in."""
        for seed in range(3):
            with self.subTest(seed):
                self.assertEqual(headless.run(seed, 150), [])


class Killed(unittest.TestCase):
    def test_nothing_is_lost_half_or_left(self) -> None:
        """A small share of what `make deep` does."""
        for seed in range(6):
            with self.subTest(seed):
                self.assertEqual(killed.run(seed), [])
