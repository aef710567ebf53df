"""`check`, `tape` and `report` as processes: for people, for machines, on folders, on a terminal, watching."""

import csv
import io
import json
import os
import shlex
import signal
import subprocess
import sys
import tempfile
import time
import unittest
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from threading import Event, Thread, Timer
from typing import IO
from xml.etree import ElementTree as ET

import psutil

from tests.screen.terminal import ScreenCase, Terminal
from tests.test_cli import InAFolder, call
from wise_ladder.demo import combfield, gallery

GOOD = """\
app: Combfield
start: hives
screens: {hives: {moves: [{when: tap in, do: push hive}, {when: tap out, do: leave}]}, hive: }
walks:
  in: [launch, tap in, see hive]
  wrong: [launch, see hive]
  also wrong: [launch, outside]
"""


class Options(InAFolder):
    def setUp(self) -> None:
        super().setUp()
        (self.folder / "one.ladder.yaml").write_text(GOOD)
        (self.folder / "sub").mkdir()
        (self.folder / "sub" / "two.ladder.yaml").write_text(GOOD.replace("Combfield", "Other"))
        (self.folder / "notes.yaml").write_text("no plan")

    def test_a_folder_stands_for_the_plans_in_it(self) -> None:
        done = call("check", ".", folder=self.folder)
        self.assertEqual((done.returncode, done.stdout.count("✓ in"), done.stderr), (1, 2, ""))
        (self.folder / "empty").mkdir()
        done = call("check", "empty", folder=self.folder)
        self.assertEqual((done.returncode, done.stdout), (2, ""))
        self.assertIn("no plan in this folder", done.stderr)

    def test_one_walk_alone(self) -> None:
        done = call("check", "one.ladder.yaml", "--walk", "in", folder=self.folder)
        self.assertEqual((done.returncode, done.stdout), (0, "✓ in  (3 steps)\nCombfield: 1 of 1 walk passes\n"))
        done = call("check", "one.ladder.yaml", "--walk", "wrnog", folder=self.folder)
        self.assertEqual(done.returncode, 2)
        self.assertIn('there is no walk "wrnog"; did you mean "wrong"?', done.stderr)

    def test_stop_at_the_first_that_fails(self) -> None:
        done = call("check", ".", "--fail-fast", folder=self.folder)
        self.assertEqual((done.returncode, done.stdout.count("✗ wrong"), done.stdout.count("also wrong")), (1, 1, 0))
        self.assertNotIn("Other", done.stdout)

    def test_json_and_junit_and_a_file_beside_the_words(self) -> None:
        done = call("check", ".", "--format", "json", folder=self.folder)
        told = json.loads(done.stdout)
        self.assertEqual((done.returncode, told["passed"], told["failed"], len(told["plans"])), (1, 2, 4, 2))
        self.assertNotIn("coverage", told["plans"][0])
        self.assertEqual(
            ET.fromstring(call("check", ".", "--format", "junit", folder=self.folder).stdout.encode())[0].get("failures"), "2"
        )
        done = call("check", "--no-rules", "one.ladder.yaml", "--junit", "out.xml", folder=self.folder)
        self.assertIn("✗ wrong", done.stdout)
        self.assertEqual(len(ET.parse(self.folder / "out.xml").getroot()[0]), 3)
        done = call("check", "one.ladder.yaml", "--junit", "no/such/out.xml", folder=self.folder)
        self.assertEqual(done.returncode, 2)
        self.assertNotIn("Traceback", done.stderr)

    def test_what_no_walk_uses(self) -> None:
        done = call("check", "one.ladder.yaml", "--coverage", folder=self.folder)
        self.assertIn("◌ no walk uses the move hives, tap out  (one.ladder.yaml:3)", done.stdout)
        done = call("check", "one.ladder.yaml", "--coverage", "--walk", "wrong", folder=self.folder)
        self.assertNotIn("no walk uses the move hives, tap in", done.stdout)
        told = json.loads(call("check", "one.ladder.yaml", "--coverage", "--format", "json", folder=self.folder).stdout)
        self.assertEqual([part["walks"] for part in told["plans"][0]["coverage"]], [1, 0])

    def test_piped_it_is_plain(self) -> None:
        self.assertNotIn("\x1b", call("check", "one.ladder.yaml", folder=self.folder).stdout)

    def test_the_schema_of_what_it_prints(self) -> None:
        self.assertIn("$defs", json.loads(call("schema", "check").stdout))

    def test_a_tape_and_a_report(self) -> None:
        done = call("tape", str(combfield()), "--walk", "ten toggles, one Back")
        self.assertEqual((done.returncode, len(list(csv.DictReader(io.StringIO(done.stdout))))), (0, 26))
        told = json.loads(call("tape", str(combfield()), "--walk", "ten toggles, one Back", "--format", "json").stdout)
        self.assertEqual(told[2]["ladder"], ["hives", "hive id 7"])
        done = call("report", "one.ladder.yaml", "--walk", "wrong", "-o", "page.md", folder=self.folder)
        self.assertEqual(done.returncode, 0)
        self.assertIn("(page.svg)", (self.folder / "page.md").read_text())
        self.assertTrue((self.folder / "page.svg").exists())
        self.assertEqual(
            call("report", "one.ladder.yaml", "--walk", "wrong", "-o", "page.txt", folder=self.folder).returncode, 2
        )

    @contextmanager
    def watching(self, *words: str) -> Iterator[tuple[subprocess.Popen[str], IO[str], IO[str]]]:
        """A check that watches, and what it says on both its outputs; it is ended in any case."""
        command = [sys.executable, "-u", "-m", "wise_ladder", "check", "--watch", *words]
        started = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, encoding="utf-8")
        assert started.stdout is not None
        assert started.stderr is not None
        patience = Timer(60, started.kill)
        patience.start()
        try:
            yield started, started.stdout, started.stderr
        finally:
            patience.cancel()
            started.kill()
            started.communicate()

    def test_watching(self) -> None:
        plan = self.folder / "one.ladder.yaml"
        with self.watching(str(plan), "--walk", "wrong") as (watching, told, wrong):
            self.until(told, "0 of 1 walk passes")
            for text, where, words in (
                (GOOD.replace("see hive]\n  also", "see hives]\n  also"), told, "1 of 1 walk passes"),
                ("app: [", wrong, "not YAML"),
                (GOOD, told, "0 of 1 walk passes"),
            ):
                self.saved_until(plan, text, where, words)
            watching.send_signal(signal.SIGINT)
            watching.communicate(timeout=20)
            self.assertEqual(watching.returncode, 130)

    def test_watching_what_is_included(self) -> None:
        own, walks = self.folder / "own.ladder.yaml", self.folder / "walks.yaml"
        own.write_text("include: walks.yaml\n" + GOOD.partition("walks:")[0])
        with self.watching(str(own), "--no-rules") as (watching, told, wrong):
            self.until(wrong, '"walks.yaml": there is no such file')
            self.saved_until(walks, "walks:" + GOOD.partition("walks:")[2], told, "1 of 3 walks pass")
            self.saved_until(walks, "walks: {again: [launch]}\n", told, "1 of 1 walk passes")
            watching.terminate()
            watching.communicate(timeout=20)

    def test_watching_what_is_not_there_yet(self) -> None:
        plan = self.folder / "later.ladder.yaml"
        with self.watching(str(plan), "--no-rules") as (watching, told, wrong):
            self.until(wrong, "there is no such file")
            self.saved_until(plan, GOOD, told, "1 of 3 walks pass")
            watching.terminate()
            self.assertEqual((watching.communicate(timeout=20)[1], watching.returncode), ("", 143))

    def until(self, lines: IO[str], words: str) -> None:
        for line in lines:
            if words in line:
                return
        self.fail(f"{words} never came")

    def saved_until(self, plan: object, text: str, lines: IO[str], words: str) -> None:
        """Save a text; whoever watches may still be getting ready, so that it is touched again until it was seen."""
        seen = Event()

        def touch() -> None:
            while not seen.wait(0.5):
                os.utime(plan)  # type: ignore[arg-type]

        plan.write_text(text)  # type: ignore[attr-defined]
        toucher = Thread(target=touch, daemon=True)
        toucher.start()
        self.until(lines, words)
        seen.set()
        toucher.join()


class OnATerminal(ScreenCase):
    def test_how_far_it_is_is_told_where_nobody_sees_the_lines(self) -> None:
        walks = "".join(f"  w{number}: [launch, repeat 1000: [tap in, back]]\n" for number in range(40))
        (self.folder / "many.ladder.yaml").write_text(GOOD.partition("walks:")[0] + "walks:\n" + walks)
        check = [sys.executable, "-m", "wise_ladder", "check", "many.ladder.yaml"]
        terminal = Terminal(["sh", "-c", f"{shlex.join(check)} > told"], 80, 24, self.folder)
        self.addCleanup(terminal.close)
        terminal.wait("of 40 walks, ")
        screen = terminal.wait("ended with 0")
        self.assertNotIn("of 40 walks, ", screen)
        self.assertIn("40 of 40 walks pass", (self.folder / "told").read_text())

    def test_colours_and_the_same_verdict_as_in_the_application(self) -> None:
        """A tape is kept in Climb, edited in Walks, saved; `check` in another terminal says the same while the bench is open."""
        plan = self.folder / "mine.ladder.yaml"
        plan.write_text(GOOD.partition("walks:")[0])
        bench = self.start("open", "mine.ladder.yaml")
        bench.wait("has not been started")
        bench.press("r", "You stand on hives")
        bench.press("1", "You stand on hive  ")
        bench.press("k", "Save this tape as a walk")
        bench.fill("into the hive", "into the hive")
        bench.press("Enter", 'saved as "into the hive"')
        bench.press("W", "✓ passes, 3 steps")
        bench.press("Right", "steps")
        bench.press("Down", "2 of 3")
        bench.press("Down", "3 of 3")
        bench.press("e", "Step 3 of into the hive")
        bench.press("C-u", lambda screen: screen.count("ladder hives > hive") == 1)
        bench.fill("ladder hives", "ladder hives")
        bench.press("Enter", "✗ fails at step 3 of 3: 1 more on the ladder")
        bench.press("C-s", "saved in mine.ladder.yaml")
        other = self.start("check", "mine.ladder.yaml", width=100, height=24)
        screen = other.wait("ended with 1")
        self.assertIn("✗ into the hive  (step 3 of 3)", screen)
        self.assertIn("ladder hives: 1 more on the ladder", screen)
        self.assertIn("\x1b[31m", other._tmux("capture-pane", "-p", "-e"))
        bench.press("C-z", "✓ passes, 3 steps")
        bench.press("D", "The name of the copy")
        bench.press("Enter", "into the hive again")
        bench.press("DC", "deleted; ctrl+z restores it")
        bench.press("m", "Rename the walk")
        bench.fill("into the hive at last", "into the hive at last")
        bench.press("Enter", lambda screen: "Rename the walk" not in screen and "into the hive at last" in screen)
        bench.press("Enter", "You stand on hive  ")
        bench.press("C-s", "saved in mine.ladder.yaml")
        self.assertIn("into the hive at last:", plan.read_text())


class Rules(unittest.TestCase):
    """What check says of rules; the words of each rule are tested beside the rules."""

    def setUp(self) -> None:
        self.toggle = next(fault for fault in gallery() if fault.name == "toggle")

    def test_a_broken_rule_comes_with_its_paths_and_fails(self) -> None:
        done = call("check", "--rules", "--depth", "6", str(self.toggle.faulty))
        self.assertEqual(done.returncode, 1)
        self.assertIn("✗ no pile-up: broken in 4 steps\n", done.stdout)
        self.assertIn("launch · tap hive · tap frames · tap hive look", done.stdout)
        self.assertIn("repeats from step 3, adding rungs each time", done.stdout)
        self.assertNotIn("walk", done.stdout)

    def test_a_rule_is_asked_for_by_its_name(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "named.ladder.yaml"
            text = self.toggle.faulty.read_text().partition("walks:")[0] + "walks: {none yet: [launch]}\n"
            path.write_text(text.replace("rule: no pile-up", "name: never higher, rule: no pile-up"))
            done = call("check", "--rule", "never higher", "--depth", "5", str(path))
            self.assertEqual(done.returncode, 1)
            self.assertIn("✗ never higher: broken in 4 steps", done.stdout)
            self.assertNotIn("walk", done.stdout)
            done = call("check", "--rule", "never hihger", str(path))
            self.assertEqual(done.returncode, 2)
            self.assertIn('there is no rule "never hihger"; did you mean "never higher"?', done.stderr)
            drawing = Path(folder) / "strip.svg"
            self.assertEqual(call("draw", "--rule", "never higher", "-o", str(drawing), str(path)).returncode, 0)
            self.assertIn("tap hive look", drawing.read_text())
            done = call("draw", "--rule", "never higher", "-o", str(drawing), str(self.toggle.fixed))
            self.assertEqual(done.returncode, 2)

    def test_options_are_written_in_full(self) -> None:
        done = call("check", "--rul", "no pile-up", str(self.toggle.faulty))
        self.assertEqual((done.returncode, len(done.stderr.splitlines())), (2, 1))

    def test_the_mended_twin_holds_at_every_depth(self) -> None:
        done = call("check", str(self.toggle.fixed))
        self.assertEqual(done.returncode, 0)
        self.assertIn("✓ no pile-up: holds at every depth (10 states, all there are)", done.stdout)

    def test_bounds_are_said_and_foolish_ones_refused(self) -> None:
        done = call("check", "--rules", "--depth", "2", str(self.toggle.faulty))
        self.assertIn("◕ no pile-up: holds for 2 steps", done.stdout)
        for words in (("--depth", "0"), ("--seconds", "-1"), ("--seconds", "soon"), ("--rules", "--no-rules")):
            done = call("check", *words, str(self.toggle.faulty))
            self.assertEqual((done.returncode, done.stdout, len(done.stderr.splitlines())), (2, "", 1), words)

    def test_ctrl_c_tells_what_is_known_by_then(self) -> None:
        command = [sys.executable, "-m", "wise_ladder", "check", "--rules", "--seconds", "60", str(combfield())]
        running = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, encoding="utf-8")
        # By then it sweeps, however slow the machine is.
        while sum(psutil.Process(running.pid).cpu_times()[:2]) < 2.5:
            time.sleep(0.05)
        running.send_signal(signal.SIGINT)
        told, wrong = running.communicate(timeout=60)
        self.assertEqual((running.returncode, wrong), (130, ""))
        self.assertRegex(told, r"\d+ of \d+ rules hold for \d+ steps?.*stopped by you")
        self.assertIn("what is not listed is not checked", told)


if __name__ == "__main__":
    unittest.main()
