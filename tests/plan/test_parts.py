"""Any part of a plan's text: found, renamed, deleted, moved, edited; what refers to it follows."""

import re
import unittest
from pathlib import Path
from random import Random

from tests.plan.random_edits import edited
from wise_ladder.demo import combfield
from wise_ladder.errors import WriteError
from wise_ladder.plan.edit_moves import PlanField
from wise_ladder.plan.edit_parts import part_fields, set_part_fields
from wise_ladder.plan.loader import problems_in, read_plan_text
from wise_ladder.plan.parts import KINDS, ORDERED, Part, kind_of, parts
from wise_ladder.plan.remove import delete, move
from wise_ladder.plan.rename import RENAMED, names, rename
from wise_ladder.walks import run_walk

TEXT = combfield().read_text(encoding="utf-8")
SMALL = """\
app: Combfield
start: hives   # the first
facts: {seen: no}
screens:
  hives:
    moves:
      - {when: tap hive(id), if: seen is no, do: 'push hive(id=$id, look=plain)'}
      - {when: tap week, do: push week}
  hive:
    takes: {id: {type: whole number, samples: [7]}, look: {type: [plain, big], default: plain}}
    moves: [{when: tap week, do: [set seen yes, replace week]}]
  week:
redirects: [{to: [hive, week], if: seen is yes, send to: hives}]
rules:
  - {rule: never beneath, screens: [week]}
walks:
  in and out:
    - launch
    - tap hive(id=7)
    - 'see hive(id=7, look=plain)'
  week: [launch, tap week, see week]
"""


def passing(text: str) -> list[bool]:
    plan = read_plan_text(text)
    return [run_walk(plan, walk).passed for walk in plan.walks]


def part(text: str, kind: str, name: str) -> Part:
    return next(each for each in parts(text) if (each.kind, each.name) == (kind, name))


class Parts(unittest.TestCase):
    def test_each_kind_is_somewhere_in_the_demo_or_the_documents(self) -> None:
        page = (Path(__file__).parent.parent.parent / "docs" / "plan-file.md").read_text(encoding="utf-8")
        texts = [TEXT, *re.findall(r"```yaml\n(.*?)```", page, re.DOTALL)]
        there = {each.kind for text in texts for each in parts(text)}
        self.assertEqual(set(KINDS) - there, set())

    def test_parts_are_what_the_plan_has(self) -> None:
        plan, listed = read_plan_text(TEXT), parts(TEXT)
        count = {kind: sum(each.kind == kind for each in listed) for kind in KINDS}
        self.assertEqual(count["move"], len(plan.moves))
        self.assertEqual(count["guard"], len(plan.guard))
        self.assertEqual(count["screen"] + count["flow"], len(plan.screens))
        self.assertEqual((count["walk"], count["rule"]), (len(plan.walks), len(plan.rules)))
        self.assertEqual([each.at.start for each in listed], sorted(each.at.start for each in listed))


class Renaming(unittest.TestCase):
    def test_every_reference_follows(self) -> None:
        cases = {
            ("screen", "hive"): (
                "push comb(id=$id, look=plain)",
                "'see comb(id=7, look=plain)'",
                "to: [comb, week]",
                "tap hive(id=7)",
            ),
            ("argument", "id"): ("tap hive(nr)", "push hive(nr=$nr, look=plain)", "takes: {nr:", "tap hive(nr=7)"),
            ("fact", "seen"): ("facts: {was there: no}", "if: was there is no", "set was there yes", "if: was there is yes"),
            ("tap", "week"): ("when: tap go on, do: push week", "when: tap go on, do: [set", "tap go on, see week"),
            ("walk", "week"): ("  go on: [launch",),
        }
        new = {"screen": "comb", "argument": "nr", "fact": "was there", "tap": "go on", "walk": "go on"}
        for (kind, old), expected in cases.items():
            text = rename(SMALL, kind, old, new[kind])
            for words in expected:
                self.assertIn(words, text, kind)
            self.assertEqual(passing(text), [True, True], kind)
            self.assertEqual(rename(text, kind, new[kind], old), SMALL, kind)

    def test_names_of_the_demo_there_and_back(self) -> None:
        """A share of them for each seed; `make deep` renames all."""
        all_names = [(kind, name) for kind in RENAMED for name in names(TEXT, kind)]
        before = passing(TEXT)
        for kind, name in Random(20).sample(all_names, 12):
            text = rename(TEXT, kind, name, "zorn")
            self.assertEqual(passing(text), before, f"{kind} {name}")
            self.assertEqual(passing(rename(text, kind, "zorn", name)), before, f"{kind} {name}")
            self.assertNotIn(name, names(text, kind))

    def test_a_name_that_cannot_be(self) -> None:
        cases = {
            ("screen", "hive", "week"): 'the screen "week" has this name already',
            ("screen", "hive", ""): "write a name",
            ("screen", "hive", 'a "b"'): "write a name",
            ("screen", "hive", "a\u200bb"): "is invisible",
            ("screen", "hive", "hive"): "its name already",
            ("fact", "seen", "id"): 'the argument "id" has this name already',
            ("screen", "comb", "x"): 'there is no screen "comb"',
        }
        for (kind, old, new), words in cases.items():
            with self.subTest(new), self.assertRaisesRegex(WriteError, words):
                rename(SMALL, kind, old, new)

    def test_names_in_lists_and_maps_of_either_style(self) -> None:
        text = (
            SMALL
            + "guards:\n  - name: sure\n    if: seen is yes\n    ask:\n      text: Leave?\n      answers:\n        - stay here: stay\n        - {leave: go on}\n"
        )
        for old, new in (("stay here", "a, b: c"), ("leave", "is it"), ("sure", "really: sure")):
            kind = "guard" if old == "sure" else "answer"
            renamed = rename(text, kind, old, new)
            self.assertIn(new, [each.name for each in parts(renamed) if each.kind == kind])
            self.assertEqual(problems_in(renamed), [])

    def test_a_name_with_words_of_the_grammar_is_quoted(self) -> None:
        text = rename(SMALL, "screen", "week", "this is it")
        self.assertIn('push "this is it"', text)
        self.assertEqual(passing(text), [True, True])
        self.assertEqual(read_plan_text(text).screen["this is it"].name, "this is it")

    def test_an_address_keeps_its_words(self) -> None:
        text = SMALL.replace("rules:", "links: [{address: 'x://hive/{id}', build: [hives, hive(id=$id)]}]\nrules:")
        self.assertIn("{address: 'x://hive/{id}', build: [hives, hive(nr=$id)]}", rename(text, "argument", "id", "nr"))


class Deleting(unittest.TestCase):
    def test_what_needs_it_goes_and_is_told(self) -> None:
        deletion = delete(SMALL, ("screens", "week"))
        self.assertEqual(
            [(each.kind, each.name) for each in deletion.gone],
            [("screen", "week"), ("move", "tap week"), ("move", "tap week"), ("rule", "never beneath"), ("walk", "week")],
        )
        self.assertIn("to: [hive]", deletion.text)
        self.assertIn("rules:\n  []\n", deletion.text)
        self.assertEqual(passing(deletion.text), [True])

    def test_an_argument_goes_out_of_the_brackets(self) -> None:
        deletion = delete(SMALL, ("screens", "hive", "takes", "look"))
        self.assertIn("do: 'push hive(id=$id)'", deletion.text)
        self.assertIn("- 'see hive(id=7)'", deletion.text)
        self.assertEqual([each.kind for each in deletion.gone], ["argument"])

    def test_what_the_app_starts_with_stays(self) -> None:
        with self.assertRaisesRegex(WriteError, 'it is still needed: there is no screen "hives"'):
            delete(SMALL, ("screens", "hives"))

    def test_parts_of_the_demo(self) -> None:
        """Whatever is deleted, the rest reads, and nothing else is gone."""
        listed = parts(TEXT)
        for each in Random(20).sample(listed, 20):
            if (each.kind, each.name) == ("screen", "splash"):
                continue
            deletion = delete(TEXT, each.path)
            self.assertEqual(problems_in(deletion.text), [])
            self.assertEqual(deletion.gone[0], each)
            self.assertLess(len(parts(deletion.text)), len(listed))
            if len(deletion.gone) == 1:
                inside = [other for other in listed if other.path[: len(each.path)] == each.path]
                self.assertEqual(len(parts(deletion.text)), len(listed) - len(inside), each)


class Anything(unittest.TestCase):
    def test_random_edits_are_undone_to_the_very_bytes(self) -> None:
        """A few; `make deep` makes many."""
        counts, wrong = edited(Random(7), 12)
        self.assertEqual(wrong, [])
        self.assertGreater(sum(counts.values()), 11)


class Moving(unittest.TestCase):
    def test_there_and_back(self) -> None:
        for each in parts(TEXT):
            if each.kind in ORDERED and each.path[-1] == 1:
                up = move(TEXT, each.path, -1)
                self.assertNotEqual(up, TEXT)
                self.assertEqual(move(up, (*each.path[:-1], 0), 1), TEXT)

    def test_what_has_no_order_and_what_is_first(self) -> None:
        for path, words in ((("screens", "hive"), "means nothing"), (("screens", "hives", "moves", 0), "nothing further")):
            with self.assertRaisesRegex(WriteError, words):
                move(SMALL, path, -1)


class Editing(unittest.TestCase):
    def test_each_part_can_be_edited_and_says_what_is_written(self) -> None:
        for each in parts(TEXT):
            shown = part_fields(TEXT, each.path, each.kind)
            self.assertTrue(shown or each.kind == "walk", each)
            self.assertEqual(kind_of(each.path), each.kind)

    def test_keys_values_and_a_screen_with_nothing(self) -> None:
        cases = {
            ("fact", "seen", ""): ("[yes, no]", "facts: {seen: [yes, no]}"),
            ("screen", "week", "header"): ("none", "  week:\n    header: none\n"),
            ("screen", "week", "holds"): ("{draft: no}", "  week:\n    holds: {draft: no}\n"),
            ("move", "tap week", "if"): ("seen is no", "{when: tap week, if: seen is no, do: push week}"),
            ("redirect", "[hive, week]", "remember"): ("yes", "remember: yes"),
        }
        for (kind, name, key), (value, expected) in cases.items():
            each = part(SMALL, kind, name)
            field = next(field for field in part_fields(SMALL, each.path, kind) if field.key == key)
            text = set_part_fields(SMALL, each.path, {key: field._replace(text=value)})
            self.assertIn(expected, text)
            read_plan_text(text)

    def test_a_part_that_is_gone_or_left_without_a_value(self) -> None:
        with self.assertRaisesRegex(WriteError, "no longer there"):
            part_fields(SMALL, ("screens", "comb"), "screen")
        with self.assertRaisesRegex(WriteError, "write a value"):
            set_part_fields(SMALL, ("facts", "seen"), {"": PlanField("", " ", verbatim=True)})


if __name__ == "__main__":
    unittest.main()
