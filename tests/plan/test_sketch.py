"""A move sketched in one line."""

import unittest

from tests.plans import COMBFIELD
from wise_ladder.errors import WriteError
from wise_ladder.plan.loader import read_plan_text
from wise_ladder.plan.sketch import add_sketch, complete_sketch, parse_sketch
from wise_ladder.plan.templates import minimal_plan

PLAN = read_plan_text("app: Shop\nstart: list\nscreens:\n  list:\n  item:\n    takes: {id: whole number}\n")


class Sketching(unittest.TestCase):
    def test_table(self) -> None:
        for typed, when, phrases, new in (
            ("basket", "tap basket", ("push basket",), ("basket",)),
            ("item", "tap item(id)", ("push item(id=$id)",), ()),
            ("open: replace item", "tap open(id)", ("replace item(id=$id)",), ()),
            ("order(id)", "tap order(id)", ("push order(id=$id)",), ("order",)),
            ("done: pop", "tap done", ("pop",), ()),
            ("all: clear; push list", "tap all", ("clear", "push list"), ()),
            ("first: push item(id=1)", "tap first", ("push item(id=1)",), ()),
            ("my basket", "tap my basket", ("push my basket",), ("my basket",)),
            ("push item once", "tap item(id)", ("push item(id=$id) once",), ()),
        ):
            with self.subTest(typed):
                found = parse_sketch(PLAN, "list", typed)
                self.assertEqual((found.when, found.phrases, tuple(name for name, _ in found.screens)), (when, phrases, new))
                text = add_sketch(
                    "app: Shop\nstart: list\nscreens:\n  list:\n  item:\n    takes: {id: whole number}\n", "list", found
                )
                self.assertEqual(read_plan_text(text).screen["list"].moves[0].phrases, phrases)

    def test_what_the_screen_one_is_on_takes_is_handed_on(self) -> None:
        found = parse_sketch(COMBFIELD, "hive", "frames")
        self.assertEqual((found.when, found.phrases), ("tap frames", ("push frames(id=$id)",)))

    def test_what_is_no_sketch_is_told(self) -> None:
        for typed in ("", "  ", ";", "open: ", "open: ; ;", "push", 'push "'):
            with self.subTest(typed), self.assertRaises(WriteError):
                parse_sketch(PLAN, "list", typed)

    def test_what_may_come_next(self) -> None:
        def words(typed: str) -> list[str]:
            return [typed[: found.start] + found.text for found in complete_sketch(PLAN, "list", typed)]

        self.assertEqual(words("it"), ["item(id=1)"])
        self.assertEqual(words("open: replace i"), ["open: replace item(id=1)"])
        self.assertIn("open: replace", words("open: re"))

    def test_an_app_grows_from_one_screen(self) -> None:
        text = minimal_plan("My shop: the app", "first page")
        for where, typed in (
            ("first page", "list"),
            ("list", "item(id)"),
            ("item", "buy: clear; push thanks"),
            ("thanks", "again: pop to list else push list"),
        ):
            text = add_sketch(text, where, parse_sketch(read_plan_text(text), where, typed))
        self.assertEqual([screen.name for screen in read_plan_text(text).screens], ["first page", "list", "item", "thanks"])


if __name__ == "__main__":
    unittest.main()
