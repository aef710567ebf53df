"""A plan from a table of moves, and what is said of rows that cannot be read."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from wise_ladder.errors import LadderError, WriteError
from wise_ladder.plan.from_table import OPERATIONS, plan_from_table
from wise_ladder.plan.loader import read_plan_text

SCREENS = [f"screen {number}" for number in range(10)]
FORTY = "from,action,operation,to\n" + "".join(
    f"{SCREENS[number % 10]},go {number},{operation},{SCREENS[(number * 3 + 1) % 10]}\n"
    for number, operation in enumerate((*OPERATIONS, *OPERATIONS, *OPERATIONS)[:40])
)
MISTAKES = """\
From;Action;Operation;To
hives;open hive;push;hive
hives;fly;teleport;hive
hives;;push;
hive;a "" b;push;hives
hive;look;swap;frames
frames;back;pop to;
frames;;;
;;;
*;sign out;clear;sign in
any;help;;help
hive;\u202ename;push;frames
hive;break;push;"two
lines"
hive;long;push;%s
hive;;throw;hives
hive;;fling;hives
hive;;toss;hives
""" % ("x" * 3000)


class Tables(unittest.TestCase):
    def test_forty_rows(self) -> None:
        made = plan_from_table("Combfield", FORTY, "table.csv")
        plan = read_plan_text(made.text)
        self.assertEqual((made.rows, made.wrong, len(plan.moves), len(plan.screens)), (40, (), 40, 10))
        self.assertEqual(plan.start[0].target.screen, "screen 0")
        self.assertEqual(plan.screen["screen 2"].moves[0].text, "push screen 7")

    def test_each_mistake_is_told_with_its_row_and_the_rest_is_taken(self) -> None:
        made = plan_from_table("Combfield", MISTAKES, "table.csv")
        plan = read_plan_text(made.text)
        self.assertEqual(made.rows, 4)
        rows = [line.split(": ")[0] for line in made.wrong]
        self.assertEqual(rows, [f"table.csv:{row}" for row in (3, 4, 5, 7, 8, 12, 14, 15, 16, 17, 18)])
        self.assertIn('there is no operation "teleport"; write one of: push', made.wrong[0])
        self.assertIn("leads nowhere", made.wrong[1])
        self.assertIn("double quote", made.wrong[2])
        self.assertIn("invisible", made.wrong[5])
        self.assertEqual([move.text for move in plan.anywhere], ["clear; push sign in", "push help"])
        self.assertEqual(plan.screen["hive"].moves[0].text, "replace frames")

    def test_columns_may_be_missing(self) -> None:
        for table in (
            "hives,hive\nhive,frames\n",
            "hives\topen\thive\nhive\tlook\tframes\n",
            "to,from\nhive,hives\nframes,hive\n",
        ):
            plan = read_plan_text(plan_from_table("Bees", table, "t").text)
            self.assertEqual([screen.name for screen in plan.screens], ["hives", "hive", "frames"], table)
            self.assertEqual([move.text for move in plan.moves], ["push hive", "push frames"])

    def test_a_table_with_nothing_in_it(self) -> None:
        for table, words in (
            ("", "empty"),
            ("\n \n", "empty"),
            ("a,b,teleport,c\n", "no operation"),
            ("from,to\n,\n", "empty|no row|nowhere"),
            ("from,to\na," + "b" * 200_000, "t:2: a cell is too long"),
        ):
            with self.subTest(table), self.assertRaisesRegex(WriteError, words):
                plan_from_table("Bees", table, "t")

    def test_lines_end_as_on_any_system(self) -> None:
        for end in ("\n", "\r\n", "\r"):
            self.assertEqual(plan_from_table("Bees", end.join(("from,to", "hives,hive", "hive,frames")), "t").rows, 2)

    @given(st.text("ab,;\t\r\"'\n:{}[]#-é", max_size=60))
    def test_whatever_the_table_is(self, table: str) -> None:
        try:
            made = plan_from_table("Bees", table, "t")
        except LadderError:
            return
        read_plan_text(made.text)


if __name__ == "__main__":
    unittest.main()
