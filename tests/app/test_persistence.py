"""What the bench keeps from start to start, and saves that are whole whenever they are interrupted."""

import random
import signal
import stat
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from wise_ladder.app.persistence import MAX_RECENT, LastSession, StateDir

OLD, NEW = "app: old\n" + "# old\n" * 30_000, "app: new\n" + "# new\n" * 30_000
SAVER = """
import sys
from pathlib import Path
from wise_ladder.plan.files import save
path, old, new = Path(sys.argv[1]), sys.argv[2], sys.argv[3]
texts = [f"app: {word}\\n" + f"# {word}\\n" * 30_000 for word in (new, old)]
print("ready", flush=True)
while True:
    for text in texts:
        save(path, text)
"""
KEEPER = """
import sys
from pathlib import Path
from wise_ladder.app.persistence import StateDir
folder = Path(sys.argv[1])
memory, path = StateDir(folder / "state"), folder / "mine.ladder.yaml"
memory.opened(path)
memory.keep_unsaved(path, "new", "old")
print("kept", flush=True)
sys.stdin.readline()
"""


class Remembering(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.memory = StateDir(self.folder / "state")

    def test_the_next_start_is_as_the_last_one_left_it(self) -> None:
        self.assertEqual(self.memory.start(), LastSession())
        self.memory.keep_start(LastSession("/a/b.yaml", "crossings", "paper", 8))
        self.assertEqual(self.memory.start(), LastSession("/a/b.yaml", "crossings", "paper", 8, ("/a/b.yaml",)))

    def test_recent_plans_the_last_one_first(self) -> None:
        for number in range(20):
            self.memory.keep_start(LastSession(f"/{number % 15}", recent=self.memory.start().recent))
        recent = self.memory.start().recent
        self.assertEqual((recent[:3], len(recent), len(set(recent))), (("/4", "/3", "/2"), MAX_RECENT, MAX_RECENT))

    def other(self) -> subprocess.Popen[bytes]:
        """Another program, which has the plan open with edits that were not saved."""
        other = subprocess.Popen(
            [sys.executable, "-c", KEEPER, str(self.folder)], stdin=subprocess.PIPE, stdout=subprocess.PIPE
        )
        assert other.stdout is not None
        other.stdout.readline()
        return other

    def test_edits_of_a_program_that_ended_are_offered_until_they_are_dropped(self) -> None:
        path = self.folder / "mine.ladder.yaml"
        self.assertIsNone(self.memory.left(path))
        self.other().communicate(b"\n")
        left = self.memory.left(path)
        assert left is not None
        self.assertEqual((left.unsaved.text, left.unsaved.on_disk), ("new", "old"))
        self.memory.keep_unsaved(path, "mine", "old")
        self.memory.drop_unsaved(path)
        self.assertEqual(self.memory.left(path), left)
        self.memory.drop_left(left)
        self.assertIsNone(self.memory.left(path))

    def test_a_program_that_still_runs_keeps_its_edits_and_is_told_of(self) -> None:
        path, other = self.folder / "mine.ladder.yaml", self.other()
        self.assertEqual([found.process for found in self.memory.opened(path)], [other.pid])
        self.memory.clear_leftovers()
        self.assertIsNone(self.memory.left(path))
        other.communicate(b"\n")
        self.assertIsNotNone(self.memory.left(path))
        self.memory.clear_leftovers()
        self.assertEqual(self.memory.opened(path), [])

    def test_a_broken_or_closed_memory_is_as_if_empty(self) -> None:
        self.memory.keep_start(LastSession("/a"))
        (self.folder / "state" / "bench.json").write_bytes(b"\xff{ not json")
        self.assertEqual(self.memory.start(), LastSession())
        (self.folder / "state" / "bench.json").write_text('{"side": "wide"}')
        self.assertEqual(self.memory.start(), LastSession())
        (self.folder / "file").write_text("")
        nowhere = StateDir(self.folder / "file" / "state")
        nowhere.keep_start(LastSession("/a"))
        self.assertFalse(nowhere.keep_unsaved(self.folder / "x", "a", "b"))
        nowhere.drop_unsaved(self.folder / "x")
        self.assertEqual((nowhere.start(), StateDir(None).start()), (LastSession(), LastSession()))

    def test_killed_in_the_middle_of_fifty_saves_the_file_is_whole(self) -> None:
        """Kill -9 at random moments: each time it is the old text or the new one, whole, with its mode."""
        path, chance, met = self.folder / "mine.ladder.yaml", random.Random(1), set[str]()
        path.write_text(OLD)
        path.chmod(0o640)
        for _ in range(50):
            saver = subprocess.Popen([sys.executable, "-c", SAVER, str(path), "old", "new"], stdout=subprocess.PIPE)
            assert saver.stdout is not None
            saver.stdout.readline()
            try:
                saver.wait(chance.uniform(0, 0.02))
            except subprocess.TimeoutExpired:
                saver.send_signal(signal.SIGKILL)
            saver.communicate()
            self.assertEqual(saver.returncode, -signal.SIGKILL)
            text = path.read_text()
            self.assertIn(text, {OLD, NEW})
            self.assertEqual(stat.S_IMODE(path.stat().st_mode), 0o640)
            met.add(text)
        self.assertEqual(len(met), 2)


if __name__ == "__main__":
    unittest.main()
