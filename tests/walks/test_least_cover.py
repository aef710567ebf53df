"""The fewest sets that have everything, against trying all choices."""

import unittest
from itertools import combinations

from hypothesis import given
from hypothesis import strategies as some

from tests.plans import COMBFIELD
from wise_ladder.walks import least_cover as module
from wise_ladder.walks import run_walk
from wise_ladder.walks.least_cover import least_cover

SETS = some.lists(some.frozensets(some.integers(0, 7), max_size=5), max_size=7)


def fewest(sets: list[frozenset[int]]) -> int:
    wanted = frozenset().union(*sets)
    return next(
        size
        for size in range(len(sets) + 1)
        if any(frozenset().union(*chosen) == wanted for chosen in combinations(sets, size))
    )


class LeastCover(unittest.TestCase):
    @given(SETS)
    def test_no_fewer_sets_are_enough(self, sets: list[frozenset[int]]) -> None:
        cover = least_cover(sets)
        self.assertTrue(cover.least)
        self.assertEqual(frozenset().union(*(sets[place] for place in cover.chosen)), frozenset().union(*sets))
        self.assertEqual(len(cover.chosen), fewest(sets))

    def test_where_the_largest_set_is_no_good_choice(self) -> None:
        sets = [frozenset(each) for each in ("abcd", "abe", "cdf", "e", "f")]
        self.assertEqual(least_cover(sets).chosen, (1, 2))

    def test_the_walks_of_combfield(self) -> None:
        moves = [
            frozenset(move for played in run_walk(COMBFIELD, walk).played if played.step for move in played.step.moves)
            for walk in COMBFIELD.walks
        ]
        cover = least_cover(moves)
        self.assertTrue(cover.least)
        # Each of them is needed: without it something is left.
        for place in cover.chosen:
            rest = frozenset().union(*(moves[other] for other in cover.chosen if other != place))
            self.assertNotEqual(rest, frozenset().union(*moves))

    def test_it_says_so_where_it_gave_up(self) -> None:
        sets = [frozenset({number, (number * 7 + 3) % 40, (number * 11 + 5) % 40}) for number in range(40)]
        before, module.MOST_TRIED = module.MOST_TRIED, 5
        try:
            cover = least_cover(sets)
        finally:
            module.MOST_TRIED = before
        self.assertFalse(cover.least)
        self.assertEqual(frozenset().union(*(sets[place] for place in cover.chosen)), frozenset().union(*sets))


if __name__ == "__main__":
    unittest.main()
