"""Files are read where they are regular, and written whole; owner, mode, links and byte order marks stay."""

import os
import stat
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from wise_ladder.errors import ConsentError, WriteError
from wise_ladder.plan.files import ask_for_read_only, clear_leftovers, create, read_text, real_path, save, save_bytes


class Files(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.path = self.folder / "mine.ladder.yaml"
        self.path.write_text("old and long")

    def test_mode_and_owner_stay(self) -> None:
        self.path.chmod(0o640)
        if os.getuid() == 0:
            os.chown(self.path, 1234, 2345)
        before = self.path.stat()
        self.assertEqual(save(self.path, "new"), "")
        after = self.path.stat()
        self.assertEqual((self.path.read_text(), stat.S_IMODE(after.st_mode)), ("new", 0o640))
        self.assertEqual((after.st_uid, after.st_gid), (before.st_uid, before.st_gid))

    def test_hard_links_keep_leading_to_one_file(self) -> None:
        other = self.folder / "other"
        other.hardlink_to(self.path)
        self.assertEqual(save(self.path, "new"), "")
        self.assertEqual((other.read_text(), self.path.read_text()), ("new", "new"))
        self.assertTrue(other.samefile(self.path))

    def test_a_symbolic_link_stays_one(self) -> None:
        link = self.folder / "link"
        link.symlink_to(self.path)
        save(link, "new")
        self.assertTrue(link.is_symlink())
        self.assertEqual(self.path.read_text(), "new")
        link.unlink()
        link.symlink_to(link)
        self.assertEqual(real_path(link).name, "link")

    def test_a_byte_order_mark_and_ends_of_lines_stay(self) -> None:
        data = "\ufeffapp: x\r\n".encode()
        self.path.write_bytes(data)
        found = read_text(self.path)
        self.assertEqual((found.text, found.data), ("app: x\r\n", data))

    def test_what_is_no_regular_file_is_not_written_over(self) -> None:
        pipe = self.folder / "pipe"
        os.mkfifo(pipe)
        with self.assertRaisesRegex(WriteError, "this is a pipe"):
            save_bytes(pipe, b"new")
        with self.assertRaisesRegex(WriteError, "exists already"):
            create(self.path, "new")
        self.path.chmod(0o444)
        with self.assertRaisesRegex(ConsentError, "is read-only"):
            ask_for_read_only(self.path)

    def test_what_killed_saves_left_goes_and_what_is_being_saved_stays(self) -> None:
        gone = subprocess.run(
            [sys.executable, "-c", "import os; print(os.getpid())"], capture_output=True, text=True, check=True
        )
        left = self.folder / f".{self.path.name}.{gone.stdout.strip()}-abc.new"
        mine, others = self.folder / f".{self.path.name}.{os.getpid()}-abc.new", self.folder / ".other.yaml.new"
        for path in (left, mine, others):
            path.write_text("")
        clear_leftovers(self.folder, self.path.name)
        self.assertEqual({path.name for path in self.folder.iterdir()}, {self.path.name, mine.name, others.name})
