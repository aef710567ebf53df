"""Edits of a plan: undone, redone, saved whole, never over somebody else's change."""

import tempfile
import unittest
from pathlib import Path

from wise_ladder.app.history import EditHistory
from wise_ladder.errors import PlanError, WriteError
from wise_ladder.plan.plan_files import read_plan_files

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
