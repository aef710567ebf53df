"""Changing one move, guard or redirect in a plan's text, and adding moves and screens: everything else stays as it was."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from wise_ladder.demo import combfield, gallery
from wise_ladder.errors import LadderError, WriteError
from wise_ladder.plan import Plan
from wise_ladder.plan.edit_moves import PlanField, add_move, add_screen, fields, set_fields
from wise_ladder.plan.loader import read_plan, read_plan_text
from wise_ladder.plan.model import Guard, Move, Redirect

FLOW = "app: x\nstart: a\nscreens:\n  a: {moves: [{when: tap on, do: push b}, {when: tap c, do: [clear, push b]}]}  # first\n  b:\n"
BLOCK = """\
app: x
start: a
facts: {token: [none, kept]}
screens:
  a:
    moves:
      - when: tap on  # the only one
        do:
          - push b
      # between
      - when: tap off
        if: token is kept
        do: pop
  b: {}
"""


def things(plan: Plan) -> list[Move | Guard | Redirect]:
    return [*plan.moves, *plan.guard.values(), *plan.redirects]


class Fields(unittest.TestCase):
    def test_what_is_written_of_a_move_a_guard_and_a_redirect(self) -> None:
        text = combfield().read_text()
        plan = read_plan_text(text)
        by_when = {(move.owner, move.when): move for move in plan.moves}
        self.assertEqual(
            fields(text, by_when["begin", "tap begin"].at),
            [PlanField("when", "tap begin"), PlanField("do", "set welcomed yes; clear on app; push home on app")],
        )
        guard = next(guard for guard in plan.guard.values() if guard.name == "half a treatment")
        self.assertEqual(
            [(field.key, field.text) for field in fields(text, guard.at)],
            [("name", "half a treatment"), ("if", "dose is half"), ("ways", "header, in-app, aside"), ("block", "yes")],
        )
        self.assertIn(PlanField("send to", "sign in"), fields(text, plan.redirects[0].at))

    def test_nothing_stands_there(self) -> None:
        with self.assertRaises(WriteError):
            fields(FLOW, read_plan(combfield()).moves[-1].at)

    def test_writing_what_is_there_changes_no_meaning_in_any_plan(self) -> None:
        for path in (combfield(), *(fault.faulty for fault in gallery())):
            text = path.read_text()
            for number, thing in list(enumerate(things(read_plan_text(text))))[:: 7 if path == combfield() else 1]:
                changed = set_fields(text, thing.at, {field.key: field for field in fields(text, thing.at)})
                again = things(read_plan_text(changed))[number]
                self.assertEqual(fields(changed, again.at), fields(text, thing.at), path.name)

    def test_changed_added_and_taken_away(self) -> None:
        for text, first, second in (
            (FLOW, "{when: tap on, if: alone, do: replace b}", "{when: tap c, do: pop}"),
            (
                BLOCK,
                "- when: tap on  # the only one\n        if: alone\n        do:\n          replace b",
                "- when: tap off\n        do: pop\n  b",
            ),
        ):
            with self.subTest(text):
                move = read_plan_text(text).moves[0]
                changed = set_fields(text, move.at, {"do": PlanField("do", "replace b")})
                changed = set_fields(changed, read_plan_text(changed).moves[0].at, {"if": PlanField("if", "alone")})
                self.assertIn(first, changed)
                other = read_plan_text(changed).moves[1]
                changed = set_fields(
                    changed,
                    other.at,
                    {"if": PlanField("if", ""), "do": PlanField("do", "pop")}
                    if "token" in text
                    else {"do": PlanField("do", "pop")},
                )
                self.assertIn(second, changed)
                self.assertEqual(changed.count("#"), text.count("#"))
                read_plan_text(changed)

    def test_lists_of_screens_and_of_operations(self) -> None:
        text = combfield().read_text()
        redirect = read_plan_text(text).redirects[0]
        changed = set_fields(
            text, redirect.at, {"to": PlanField("to", "hives, hive"), "if": PlanField("if", "session is none")}
        )
        self.assertIn("{to: [hives, hive], if: session is none, send to: sign in", changed)


class Adding(unittest.TestCase):
    def plans(self) -> list[str]:
        return [
            FLOW,
            BLOCK,
            "app: x\nstart: a\nscreens:\n  a:   # empty\n",
            "app: x\nstart: a\nscreens:\n  a: {}\n",
            "app: x\nstart: a\nscreens: {a: }\n",
            "app: x\nstart: a\nscreens: {a: {}, }\n",
            "app: x\nstart: a\nscreens:\n  a:\n    moves:\n",
            "app: x\nstart: a\nscreens:\n  a:\n    moves: []\n",
            "app: x\nstart: a\nscreens:\n  a:\n    moves: [{when: tap x, do: leave},\n            {when: tap y, do: leave}\n           ]\n",
            "app: x\nstart: a\nscreens:\n  a:\n    weight: 3MB  # heavy\n# the end",
            "app: x\nstart: a\nscreens:\n  a: {weight: 3MB}\nwalks:\n  w: [launch]\n",
        ]

    def test_a_screen_and_a_move_to_it(self) -> None:
        for text in self.plans():
            with self.subTest(text):
                before = read_plan_text(text)
                changed = add_move(add_screen(text, "new one", ("id",)), "a", "tap more(id)", ["clear", "push new one(id=$id)"])
                plan = read_plan_text(changed)
                self.assertEqual(plan.screens[-1].name, "new one")
                self.assertEqual(
                    [move.text for move in plan.screen["a"].moves][:-1], [move.text for move in before.screen["a"].moves]
                )
                self.assertEqual(plan.screen["a"].moves[-1].text, "clear; push new one(id=$id)")
                self.assertEqual(changed.count("#"), text.count("#"))

    def test_a_move_that_stands_anywhere_or_on_no_place(self) -> None:
        changed = add_move(FLOW, None, "low memory", ["pop to root"])
        self.assertEqual(read_plan_text(changed).anywhere[0].text, "pop to root")
        with self.assertRaisesRegex(WriteError, "no place"):
            add_move(FLOW, "nowhere", "tap x", ["pop"])

    @given(st.sampled_from([FLOW, BLOCK]), st.text("ab: #'\"[]{},-é😀", min_size=1, max_size=12))
    def test_any_name_reads_back_or_is_refused(self, text: str, name: str) -> None:
        try:
            plan = read_plan_text(add_screen(text, name))
        except LadderError:
            return
        self.assertIn(plan.screens[-1].name, {name, name.strip()})

    @given(st.text("abcdo :;,{}[]'\"#-\n", max_size=30))
    def test_whatever_is_typed_is_taken_or_told(self, typed: str) -> None:
        move = read_plan_text(FLOW).moves[0]
        try:
            plan = read_plan_text(set_fields(FLOW, move.at, {"do": PlanField("do", typed)}))
        except LadderError:
            return
        self.assertEqual(len(plan.moves), 2)


if __name__ == "__main__":
    unittest.main()
