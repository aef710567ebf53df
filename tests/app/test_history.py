"""Edits of a plan: undone, redone, saved whole, never over somebody else's change."""

import tempfile
import unittest
from pathlib import Path

from tests.five_files import write_five_files
from wise_ladder.app.history import EditHistory
from wise_ladder.errors import PlanError, WriteError
from wise_ladder.plan.plan_files import read_plan_files
from wise_ladder.plan.rename import rename

ONE = "app: Combfield\nstart: hives\nscreens: {hives: }\n"
TWO, THREE = ONE.replace("hives", "shelf"), ONE.replace("hives", "week")


class Editing(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "mine.ladder.yaml"
        self.path.write_text(ONE)
        self.edits = EditHistory(self.path, read_plan_files(self.path))

    def test_undo_and_redo(self) -> None:
        self.assertIsNone(self.edits.undo())
        self.edits.edit(TWO)
        self.edits.edit(THREE)
        found = [plan.screens[0].name for plan in (self.edits.undo(), self.edits.undo(), self.edits.redo()) if plan]
        self.assertEqual(found, ["shelf", "hives", "shelf"])
        self.edits.edit(ONE)
        self.assertIsNone(self.edits.redo())

    def test_what_is_no_plan_is_not_taken(self) -> None:
        with self.assertRaises(PlanError):
            self.edits.edit("app: ")
        self.assertEqual((self.edits.text, self.edits.unsaved), (ONE, False))

    def test_saving(self) -> None:
        self.edits.edit(TWO)
        self.assertTrue(self.edits.unsaved)
        self.edits.save()
        self.assertEqual((self.path.read_text(), self.edits.unsaved), (TWO, False))
        self.edits.undo()
        self.assertTrue(self.edits.unsaved)

    def test_a_change_made_elsewhere_is_kept_until_it_is_said(self) -> None:
        self.edits.edit(TWO)
        self.path.write_text(THREE)
        with self.assertRaisesRegex(WriteError, "changed elsewhere"):
            self.edits.save()
        self.assertEqual(self.path.read_text(), THREE)
        self.edits.save(over=True)
        self.assertEqual(self.path.read_text(), TWO)

    def test_a_file_that_was_deleted_is_written_again(self) -> None:
        self.edits.edit(TWO)
        self.path.unlink()
        self.edits.save()
        self.assertEqual(self.path.read_text(), TWO)

    def test_a_copy_goes_nowhere_where_something_is(self) -> None:
        other = self.path.with_name("other.ladder.yaml")
        other.write_text("mine")
        with self.assertRaises(WriteError):
            self.edits.save_as(other)
        self.assertEqual((other.read_text(), self.edits.path), ("mine", self.path))


class EditingFiveFiles(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.path = write_five_files(self.folder)
        self.edits = EditHistory(self.path, read_plan_files(self.path))
        self.before = self.texts()

    def texts(self) -> dict[str, str]:
        return {str(path.relative_to(self.folder)): path.read_text() for path in self.folder.rglob("*.yaml")}

    def changed(self) -> set[str]:
        return {name for name, text in self.texts().items() if text != self.before.get(name)}

    def test_only_the_files_that_changed_are_written_and_undo_takes_all_back(self) -> None:
        self.edits.edit(rename(self.edits.text, "screen", "receipt", "slip"))
        self.assertEqual(self.changed(), set())
        self.edits.save()
        self.assertEqual(self.changed(), {"diary.yaml", "rules.yaml", "walks/all.yaml"})
        self.assertEqual(set(self.edits.written.split(", ")), self.changed())
        self.edits.undo()
        self.edits.save()
        self.assertEqual(self.texts(), self.before)

    def test_nothing_is_written_if_one_file_was_changed_elsewhere(self) -> None:
        self.edits.edit(rename(self.edits.text, "screen", "receipt", "slip"))
        (self.folder / "rules.yaml").write_text("rules: []\n")
        with self.assertRaisesRegex(WriteError, "rules.yaml changed elsewhere"):
            self.edits.save()
        self.assertEqual(self.changed(), {"rules.yaml"})

    def test_a_file_changed_elsewhere_that_no_edit_touches_stands_in_the_way_too(self) -> None:
        """The edits were checked against the old one."""
        self.edits.edit(rename(self.edits.text, "walk", "the splash never comes back", "tabs"))
        (self.folder / "rules.yaml").write_text("rules: []\n")
        with self.assertRaisesRegex(WriteError, "rules.yaml changed elsewhere"):
            self.edits.save()

    def test_a_copy_elsewhere_takes_all_files_along(self) -> None:
        (self.folder / "copy").mkdir()
        self.edits.save_as(self.folder / "copy" / "mine.ladder.yaml")
        copied = {name.removeprefix("copy/"): text for name, text in self.texts().items() if name.startswith("copy/")}
        self.assertEqual(copied.pop("mine.ladder.yaml"), self.before.pop("combfield.ladder.yaml"))
        self.assertEqual(copied, self.before)

    def test_a_copy_beside_it_shares_what_it_includes(self) -> None:
        self.edits.save_as(self.folder / "mine.ladder.yaml")
        self.assertEqual(self.changed(), {"mine.ladder.yaml"})
        self.edits.edit(rename(self.edits.text, "screen", "receipt", "slip"))
        with self.assertRaisesRegex(WriteError, "exists already, with another text"):
            self.edits.save_as(self.folder / "other.ladder.yaml")
        self.assertEqual(self.changed(), {"mine.ladder.yaml"})
