"""Plans in several files: read, placed, edited and undone as if they were one."""

import tempfile
import unittest
from pathlib import Path
from random import Random

from tests.five_files import in_five_files, write_five_files
from tests.plan.random_edits import edited
from tests.plans import COMBFIELD
from wise_ladder.errors import PlanError
from wise_ladder.plan.addition import add_typed
from wise_ladder.plan.included import joined, split
from wise_ladder.plan.insert import insert_entry
from wise_ladder.plan.loader import problems_in, read_plan, read_plan_text
from wise_ladder.plan.parts import parts
from wise_ladder.plan.plan_files import plan_paths, read_plan_files
from wise_ladder.plan.remove import delete, move
from wise_ladder.plan.rename import rename
from wise_ladder.plan.yaml_text import add_walk
from wise_ladder.walks import run_walk

OWN = "app: Combfield\ninclude: [screens.yaml, more.yaml]\nstart: hives\n"


def of(text: str, file: str) -> str:
    return next(part.text for part in split(text) if part.file == file)


class InAFolder(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.path = self.folder / "mine.ladder.yaml"

    def write(self, **texts: str) -> None:
        for name, text in texts.items():
            (self.folder / f"{name}.yaml").write_text(text, encoding="utf-8")

    def mistakes(self, own: str) -> list[str]:
        """Return the first line of each mistake, without the folder."""
        self.path.write_text(own, encoding="utf-8")
        with self.assertRaises(PlanError) as raised:
            read_plan(self.path)
        return [each.partition("\n")[0].replace(f"{self.folder}/", "") for each in raised.exception.messages]


class Reading(InAFolder):
    def test_the_demo_in_five_files_is_the_demo(self) -> None:
        plan = read_plan(write_five_files(self.folder))
        for section in ("facts", "screens", "overlays", "redirects", "links", "rules", "walks"):
            names = [str(getattr(each, "name", each)) for each in getattr(plan, section)]
            known = [str(getattr(each, "name", each)) for each in getattr(COMBFIELD, section)]
            if section not in {"redirects", "links", "rules"}:
                self.assertEqual(names, known)
            self.assertEqual(len(names), len(known))
        self.assertEqual([walk.name for walk in plan.walks if not run_walk(plan, walk).passed], [])
        self.assertEqual({screen.at.file for screen in plan.screens}, {"", "diary.yaml"})
        self.assertEqual({walk.at.file for walk in plan.walks}, {"walks/all.yaml"})

    def test_every_byte_of_every_file_is_kept(self) -> None:
        texts = {
            "": "app: Combfield\ninclude: [a.yaml, b.yaml, c.yaml]",
            "a.yaml": "",
            "b.yaml": "\n\n",
            "c.yaml": "screens:\r\n  hives:",
        }
        whole = joined(texts.items())
        self.assertEqual({part.file: part.text for part in split(whole)}, texts)
        for part in split(whole):
            self.assertEqual(whole[part.start : part.start + len(part.text)], part.text)

    def test_a_mistake_in_an_included_file_has_its_place(self) -> None:
        self.write(
            screens="# hives\nscreens:\n  hives: {moves: [{when: tap week, do: push weak}]}\n", more="screens: {week: }\n"
        )
        told = self.mistakes(OWN)
        self.assertEqual(len(told), 1)
        self.assertTrue(told[0].startswith('screens.yaml:3:45: there is no screen "weak"'), told)

    def test_what_is_not_yaml_or_not_text_has_its_place(self) -> None:
        self.write(screens="screens:\n  hives: [\n")
        (self.folder / "more.yaml").write_bytes(b"screens:\n  caf\xe9:\n")
        self.assertEqual([each.partition(" ")[0] for each in self.mistakes(OWN)], ["more.yaml:2:6:"])
        self.write(more="rules:\n  - no\x07 twins\n")
        told = self.mistakes(OWN)
        self.assertTrue(any(each.startswith("more.yaml:2:7:") for each in told), told)
        self.write(more="")
        self.assertTrue(self.mistakes(OWN)[0].startswith("screens.yaml:3:1:"))

    def test_files_that_cannot_be_included(self) -> None:
        self.write(screens="include: more.yaml\nscreens: {hives: }\n", more="include: [screens.yaml]\n")
        self.assertEqual(
            self.mistakes(OWN),
            ["more.yaml:1:11: these files include each other: screens.yaml, more.yaml; remove it",
             'mine.ladder.yaml:2:25: "more.yaml" is included twice; keep one'],
        )  # fmt: skip
        self.write(screens="include: ./mine.ladder.yaml\n")
        self.assertIn(
            "screens.yaml:1:10: these files include each other: mine.ladder.yaml, screens.yaml; remove it",
            self.mistakes(OWN.replace(", more.yaml", "")),
        )
        self.assertEqual(
            self.mistakes("app: A\ninclude: [/etc/hosts, ../x.yaml, team/../../x.yaml, ., gone.yaml]\nstart: hives\n"),
            ['mine.ladder.yaml:2:11: "/etc/hosts" is not in the folder of the plan; name a file in that folder, or below it',
             'mine.ladder.yaml:2:23: "../x.yaml" is not in the folder of the plan; name a file in that folder, or below it',
             'mine.ladder.yaml:2:34: "team/../../x.yaml" is not in the folder of the plan; name a file in that folder, or below it',
             'mine.ladder.yaml:2:53: "." is not in the folder of the plan; name a file in that folder, or below it',
             'mine.ladder.yaml:2:56: "gone.yaml": there is no such file'],
        )  # fmt: skip

    def test_a_link_out_of_the_folder_is_not_followed(self) -> None:
        with tempfile.TemporaryDirectory() as other:
            (Path(other) / "x.yaml").write_text("screens: {hives: }")
            (self.folder / "x.yaml").symlink_to(Path(other) / "x.yaml")
            self.assertIn("is not in the folder", self.mistakes("app: A\ninclude: x.yaml\nstart: hives\n")[0])

    def test_what_several_files_say(self) -> None:
        cases = {
            ("screens: {hives: }", "start: week"): 'more.yaml:1:1: "start" is here twice; keep one',
            ("screens: {hives: }", "screens: {hives: }"): 'more.yaml:1:11: "hives" is here twice; keep one',
            ("screens: {hives: }\nrules: [no twins]", "rules: {no twins: }"): '"rules" is something else in another file',
            ("screens: {hives: }", "- hives"): "more.yaml:1:1: not a plan",
            ("screens: {hives: }", "#>> x.yaml"): 'more.yaml:1:1: a line that begins with "#>> "',
        }
        for (screens, more), words in cases.items():
            with self.subTest(more):
                self.write(screens=screens, more=more)
                self.assertIn(words, "\n".join(self.mistakes(OWN)))
        self.write(screens="screens: {hives: }\nrules:", more="rules: [no twins]\nlinks:\n")
        self.path.write_text(OWN)
        self.assertEqual(len(read_plan(self.path).rules), 1)

    def test_a_text_alone_is_not_taken_for_the_whole_plan(self) -> None:
        with self.assertRaisesRegex(PlanError, 'plan:2:11: the text of "screens.yaml" is not here'):
            read_plan_text(OWN + "screens: {hives: }\n")
        with self.assertRaisesRegex(PlanError, "tells where an included file begins"):
            read_plan_text("app: A\nstart: hives\n\n#>> ../x.yaml\nscreens: {hives: }\n")

    def test_the_files_of_a_plan_are_known_even_if_one_is_gone(self) -> None:
        self.write(screens="include: [gone.yaml]\n")
        self.path.write_text(OWN)
        known = ["mine.ladder.yaml", "screens.yaml", "gone.yaml", "more.yaml"]
        self.assertEqual([path.name for path in plan_paths(self.path)], known)

    def test_a_byte_order_mark_is_kept_where_it_was(self) -> None:
        self.write(screens="\ufeffscreens: {hives: }\n", more="")
        self.path.write_text(OWN)
        files = read_plan_files(self.path).files
        self.assertEqual({name for name, text in files.items() if text.marked}, {"screens.yaml"})


class Editing(unittest.TestCase):
    """All edits are made of the whole text, and change one file where they can."""

    TEXT = in_five_files()

    def changed(self, text: str) -> set[str]:
        self.assertEqual(problems_in(text), [])
        return {part.file for part, was in zip(split(text), split(self.TEXT), strict=True) if part.text != was.text}

    def test_each_edit_changes_the_file_it_should(self) -> None:
        cases = {
            add_walk(self.TEXT, "a new walk", ["launch"], []): {"walks/all.yaml"},
            insert_entry(self.TEXT, ("screens",), "cellar", ""): {"diary.yaml"},
            insert_entry(self.TEXT, ("screens", "hive", "holds"), "seen", "[no, yes]"): {""},
            insert_entry(self.TEXT, ("givens",), "sick", "[session is none]"): {""},
            add_typed(self.TEXT, None, "rule no pile-up").text: {"rules.yaml"},
            add_typed(self.TEXT, None, "on month tap back to week: pop").text: {"diary.yaml"},
            rename(self.TEXT, "screen", "receipt", "slip"): {"diary.yaml", "rules.yaml", "walks/all.yaml"},
        }
        for text, files in cases.items():
            self.assertEqual(self.changed(text), files)

    def test_parts_are_listed_with_their_files(self) -> None:
        listed = parts(self.TEXT)
        self.assertEqual(
            len(listed), len(parts(joined([("", of(self.TEXT, ""))]))) + sum(bool(each.at.file) for each in listed)
        )
        rule = next(each for each in listed if each.kind == "rule" and each.path[1] == 3)
        lines = of(self.TEXT, "rules.yaml").splitlines()
        self.assertIn(rule.name, lines[rule.at.line - 1])

    def test_lists_in_two_files_keep_their_order(self) -> None:
        text = joined([("", OWN + "links:\n  - {address: 'app://a', build: [hives]}\n"), ("screens.yaml", "screens: {hives: , week: }\n"),
                       ("more.yaml", "links:\n    - {address: 'app://b', build: [week]}\n    - {address: 'app://c', build: [week]}\n")])  # fmt: skip
        self.assertEqual(problems_in(text), [])
        self.assertEqual([each.name for each in parts(text) if each.kind == "link"], ["app://a", "app://b", "app://c"])
        without = delete(text, ("links", 1)).text
        self.assertEqual([each.name for each in parts(without) if each.kind == "link"], ["app://a", "app://c"])
        swapped = move(text, ("links", 0), 1)
        self.assertEqual(
            ([part.file for part in split(swapped)], of(swapped, "screens.yaml")),
            (["", "screens.yaml", "more.yaml"], "screens: {hives: , week: }\n"),
        )
        self.assertEqual([each.name for each in parts(swapped) if each.kind == "link"], ["app://b", "app://a", "app://c"])
        alone = delete(delete(without, ("links", 1)).text, ("links", 0)).text
        self.assertEqual((problems_in(alone), [each for each in parts(alone) if each.kind == "link"]), ([], []))

    def test_random_edits_are_undone_to_the_very_bytes(self) -> None:
        counts, wrong = edited(Random(11), 12, self.TEXT)
        self.assertEqual(wrong, [])
        self.assertGreater(sum(counts.values()), 11)
