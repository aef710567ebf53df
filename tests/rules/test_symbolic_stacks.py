"""Tails against plain rows: whatever is done with numbers is what would be done with the rungs themselves."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from wise_ladder.plan.loader import read_plan_text
from wise_ladder.rules.abstraction import Abstraction
from wise_ladder.rules.cutting import MARKS
from wise_ladder.rules.symbolic_stacks import ABSENT, EMPTY, STACK_BITS, WHOLE, StackTable
from wise_ladder.semantics.state import Ladder, Rung, RungData
from wise_ladder.semantics.symbolic import ASKERS, PLAIN, QUIET, SAVED, SETTLED, SearchTarget, StackRest

PLAN = read_plan_text("""
app: Combfield
start: hives
calls: {weigh: {ok: 300ms}, feed: {ok: 300ms}}
screens:
  hives: {moves: [{when: tap weigh, do: call weigh}, {when: tap feed, do: call feed}, {when: tap hive, do: push hive}]}
  hive: {holds: {note: [none, kept]}, moves: [{when: left, do: call feed}, {when: tap note, do: set note kept}]}
  week: {}
""")
WEIGH, FEED = 1, 2
HIVES, WEEK = Rung(RungData("hives", ()), 0), Rung(RungData("week", ()), 0)
HIVE = Rung(RungData("hive", (), (("note", "none"),)), 0)
ROWS = st.lists(st.sampled_from([HIVES, HIVE, WEEK]), min_size=1, max_size=5).map(tuple)


def asked(rung: Rung, marks: int) -> Rung:
    """The rung when the calls of these marks are under way that it made."""
    return Rung(rung.data, marks)


class Numbers(unittest.TestCase):
    def setUp(self) -> None:
        self.tails = StackTable(Abstraction(PLAN))

    def bundle(self, *rows: Ladder) -> int:
        """Pack rows, the first one lowest."""
        made = tuple((-1, tuple(~self.tails.intern_rung(rung) for rung in row)) for row in rows)
        (found,) = self.tails.rebuild([0], made)
        return found

    def rows(self, bundle: int, count: int) -> list[Ladder]:
        """Unpack them."""
        return [self.tails.ladder(bundle, place) for place in range(count)]

    @given(rows=st.lists(ROWS, min_size=1, max_size=4))
    def test_rows_are_the_same_after_they_were_packed(self, rows: list[Ladder]) -> None:
        self.setUp()
        self.assertEqual(self.rows(self.bundle(*rows), len(rows)), rows)

    @given(lower=ROWS, upper=ROWS, other=ROWS)
    def test_equal_rows_have_one_number_however_they_were_made(self, lower: Ladder, upper: Ladder, other: Ladder) -> None:
        self.setUp()
        (joined,) = self.tails.rebuild([self.bundle(lower, other, upper)], ((0, (2,)), (1, ())))
        self.assertEqual(joined, self.bundle((*lower, *upper), other))

    @given(rows=st.lists(st.tuples(ROWS, ROWS), min_size=1, max_size=6))
    def test_many_get_a_rung_at_once(self, rows: list[tuple[Ladder, Ladder]]) -> None:
        self.setUp()
        bundles = [self.bundle(*row) for row in rows]
        grown = self.tails.push(bundles, STACK_BITS, self.tails.intern_rung(WEEK))
        self.assertEqual([self.rows(bundle, 2) for bundle in grown], [[low, (*high, WEEK)] for low, high in rows])

    @given(rows=st.lists(st.tuples(ROWS, ROWS), min_size=1, max_size=6))
    def test_many_lose_their_top_sorted_by_what_is_seen_there(self, rows: list[tuple[Ladder, Ladder]]) -> None:
        self.setUp()
        found = self.tails.pop_grouped([self.bundle(*row) for row in rows], STACK_BITS)
        for sight, bundles in found.items():
            top, rest = self.tails.top(sight)
            for bundle in bundles:
                low, high = self.rows(bundle, 2)
                self.assertIn((low, (*high, top)), rows)
                self.assertEqual(rest, high != ())
        self.assertEqual(sum(map(len, found.values())), len(rows))

    @given(lower=ROWS, upper=ROWS)
    def test_a_row_is_parted_at_the_rung_that_made_a_call(self, lower: Ladder, upper: Ladder) -> None:
        self.setUp()
        row = (*lower, asked(WEEK, WEIGH), *upper)
        ((seen, (bundle,)),) = self.tails.split_grouped([self.bundle(row)], 0, WEIGH, STACK_BITS).items()
        self.assertEqual(self.rows(bundle, 2), [lower, upper])
        self.assertEqual(self.tails.rungs[seen[0]], asked(WEEK, WEIGH))

    @given(row=st.lists(st.sampled_from([HIVES, HIVE, WEEK]), max_size=5).map(tuple), other=ROWS)
    def test_a_whole_ladder_is_opened_into_its_lowest_rung_those_between_and_its_top(self, row: Ladder, other: Ladder) -> None:
        self.setUp()
        ((seen, (bundle,)),) = self.tails.split_grouped([self.bundle(row, other)], 0, WHOLE, 2 * STACK_BITS).items()
        self.assertEqual(self.rows(bundle, 3), [row[:-1][:1], other, row[:-1][1:]])
        number, lowest, between = seen
        self.assertEqual([self.tails.rungs[number]] if number >= 0 else [], [*row[-1:]])
        self.assertEqual((lowest, between), (len(row) >= 2, len(row) >= 3))

    @given(lower=ROWS, upper=ROWS)
    def test_a_call_that_is_over_leaves_no_mark(self, lower: Ladder, upper: Ladder) -> None:
        self.setUp()
        both = self.bundle((*lower, asked(WEEK, WEIGH | FEED), *upper))
        (one,) = self.tails.rebuild([both], ((0 | WEIGH << MARKS, ()),))
        self.assertEqual(one, self.bundle((*lower, asked(WEEK, FEED), *upper)))

    def test_what_can_come_of_a_row(self) -> None:
        """A hive acts when it is left, so a row with one is not as quiet as one of weeks."""
        kept = Rung(RungData("hive", (), (("note", "kept"),)), 0)
        rows = {
            (): StackRest(QUIET, 0),
            (WEEK, WEEK): StackRest(QUIET, 0),
            (HIVE, WEEK): StackRest(SAVED | SETTLED, 0),
            (kept, WEEK): StackRest(SETTLED, 0),
            (WEEK, asked(WEEK, FEED), HIVES): StackRest(QUIET, FEED),
        }
        for row, can in rows.items():
            bundle = self.bundle(row, (asked(WEEK, WEIGH), HIVE))
            with self.subTest(row=row):
                both = StackRest(can.quiet & (SAVED | SETTLED), can.askers | WEIGH)
                for mark in (SAVED, PLAIN, SETTLED, ASKERS):
                    self.assertEqual(self.tails.rest_grouped([bundle], 0, 1, mark), {can.answer(mark): [bundle]})
                    self.assertEqual(self.tails.rest_grouped([bundle], 0, 2, mark), {both.answer(mark): [bundle]})

    def test_what_is_sought_is_found_inside_rungs_too_or_known_to_be_missing(self) -> None:
        flow = Rung(WEEK.data, 0, ((HIVES,),))
        row = (WEEK, flow, WEEK)
        bundle = self.bundle(row)
        cases: tuple[tuple[SearchTarget, int | None], ...] = (
            (("hives", ()), 1), (HIVES.data, 1), (("week", ()), 2), (("hive", ()), None), (RungData("week", (("id", 7),)), None),
        )  # fmt: skip
        for sought, place in cases:
            mark = self.tails.search_key(sought, whole=False)
            ((seen, (parted,)),) = self.tails.split_grouped([bundle], 0, mark, STACK_BITS).items()
            with self.subTest(sought=sought):
                if place is None:
                    self.assertEqual((seen, parted), (ABSENT, bundle))
                else:
                    self.assertEqual(self.tails.rungs[seen[0]], row[place])
                    self.assertEqual(self.rows(parted, 2), [row[:place], row[place + 1 :]])

    def test_the_empty_row_is_no_number_of_its_own(self) -> None:
        self.assertEqual(self.bundle(()), EMPTY)
