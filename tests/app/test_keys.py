"""Any key at any time: the bench takes what comes, in every view and sheet, at every size, whatever becomes of the file."""

import unittest

from tests.input.headless import run


class AnyKey(unittest.TestCase):
    def test_whatever_is_typed(self) -> None:
        """A small share of what `make deep` puts in."""
        for seed in range(3):
            with self.subTest(seed):
                self.assertEqual(run(seed, 150), [])
