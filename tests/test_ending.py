"""How calls end: an exit code for each kind of end, one line about it, and never a traceback."""

import os
import signal
import socket
import subprocess
import sys
from pathlib import Path
from xml.etree import ElementTree as ET

from tests.test_cli import InAFolder, call
from wise_ladder.demo import combfield

COMMAND = [sys.executable, "-m", "wise_ladder"]
# A plan whose sweep goes on for as long as it may.
ENDLESS = """
app: Endless
start: hives
facts: {FACTS}
screens:
  hives: {moves: [MOVES {when: tap hive, do: push hive}]}
  hive: {moves: [{when: tap hives, do: push hives}]}
walks: {in: [launch, tap hive, see hive]}
"""
MISTAKE = """
import sys
from wise_ladder import check_command, cli
def broken(call):
    raise RuntimeError("nobody foresaw this")
check_command.check = broken
cli.main(["check", "x"])
"""
INTERRUPTED = MISTAKE.replace('raise RuntimeError("nobody foresaw this")', 'exec("raise KeyboardInterrupt")')


class Ending(InAFolder):
    def endless(self) -> Path:
        facts = ", ".join(f"f{number}: [a, b]" for number in range(12))
        moves = "".join(f"{{when: tap t{number}, do: set f{number} b}}, " for number in range(12))
        path = self.folder / "endless.ladder.yaml"
        path.write_text(ENDLESS.replace("FACTS", facts).replace("MOVES", moves))
        return path

    def shell(self, line: str) -> subprocess.CompletedProcess[str]:
        words = line.replace("wise-ladder", " ".join(COMMAND))
        return subprocess.run(["bash", "-c", words], capture_output=True, text=True, cwd=self.folder, check=False)

    def test_an_output_that_cannot_be_written(self) -> None:
        for line in ("wise-ladder schema > /dev/full", "wise-ladder schema >&-"):
            with self.subTest(line):
                done = self.shell(line)
                self.assertEqual((done.returncode, done.stderr.count("\n")), (2, 1))
                self.assertIn("the output cannot be written", done.stderr)

    def test_a_closed_pipe_is_quiet_and_fine(self) -> None:
        done = self.shell("wise-ladder schema | head -c 10 > begin; echo ${PIPESTATUS[0]}")
        self.assertEqual((done.stdout.split()[-1], done.stderr), ("0", ""))

    def test_stopped_in_the_middle_it_tells_and_writes_what_is_known(self) -> None:
        plan = self.endless()
        for number, code in ((signal.SIGINT, 130), (signal.SIGTERM, 143)):
            with self.subTest(number):
                words = [*COMMAND, "check", str(plan), "--seconds", "100", "--junit", "found.xml"]
                calling = subprocess.Popen(words, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, cwd=self.folder,
                                           env={**os.environ, "PYTHONUNBUFFERED": "1"})  # fmt: skip
                assert calling.stdout is not None
                calling.stdout.readline()
                calling.send_signal(number)
                told, wrong = calling.communicate(timeout=60)
                self.assertEqual((calling.returncode, wrong), (code, ""))
                self.assertIn("stopped", told)
                found = ET.parse(self.folder / "found.xml").getroot()
                self.assertEqual(next(case.get("name") for case in found.iter("testcase")), "in")
                (self.folder / "found.xml").unlink()

    def test_an_interrupt_inside_code_made_from_text_has_the_same_exit_code(self) -> None:
        (self.folder / "interrupted.py").write_text(INTERRUPTED)
        done = subprocess.run([sys.executable, "-m", "interrupted"], cwd=self.folder, check=False)
        self.assertEqual(done.returncode, 130)

    def test_a_mistake_of_our_own_leaves_its_details_in_a_file(self) -> None:
        done = subprocess.run([sys.executable, "-c", MISTAKE], capture_output=True, text=True, check=False,
                              env={**os.environ, "XDG_STATE_HOME": str(self.folder)})  # fmt: skip
        self.assertEqual((done.returncode, done.stdout, done.stderr.count("\n")), (3, "", 1))
        details = Path(done.stderr.partition("details: ")[2].strip())
        self.assertIn("nobody foresaw this", details.read_text())

    def test_only_regular_files_are_read(self) -> None:
        """At once: whoever opens a pipe waits for somebody to write."""
        pipe, plug = self.folder / "pipe.ladder.yaml", self.folder / "plug.ladder.yaml"
        os.mkfifo(pipe)
        with socket.socket(socket.AF_UNIX) as listening:
            listening.bind(str(plug))
            for path, words in ((pipe, "a pipe"), (plug, "a socket"), (Path("/dev/zero"), "a device")):
                done = call("check", str(path))
                self.assertEqual((done.returncode, done.stderr), (2, f"{path}: this is {words}; a plan is a regular file\n"))

    def test_a_folder_named_like_a_plan_is_searched_and_a_file_named_twice_is_read_once(self) -> None:
        folder = self.folder / "all.ladder.yaml"
        folder.mkdir()
        (folder / "one.ladder.yaml").write_bytes(combfield().read_bytes())
        (self.folder / "link.ladder.yaml").symlink_to(folder / "one.ladder.yaml")
        done = call("check", "--no-rules", ".", "all.ladder.yaml", "link.ladder.yaml", folder=self.folder)
        self.assertEqual((done.returncode, done.stdout.count("walks pass")), (0, 1))

    def test_a_link_in_a_circle(self) -> None:
        path = self.folder / "round.ladder.yaml"
        path.symlink_to(path)
        done = call("check", str(path))
        self.assertEqual((done.returncode, done.stderr.count("\n")), (2, 1))


class Completing(InAFolder):
    def completed(self, line: str) -> list[str]:
        """Ask as a shell does, which reads the answer from the eighth file."""
        asked = {
            "_ARGCOMPLETE": "1",
            "_ARGCOMPLETE_IFS": "\n",
            "COMP_LINE": line,
            "COMP_POINT": str(len(line)),
            "_ARGCOMPLETE_SUPPRESS_SPACE": "1",
        }
        words = f"{' '.join(COMMAND)} 8>&1 9>/dev/null 1>/dev/null 2>/dev/null"
        done = subprocess.run(["bash", "-c", words], capture_output=True, text=True, cwd=self.folder, check=False,
                              env={**os.environ, **asked})  # fmt: skip
        return [word.strip() for word in done.stdout.split("\n") if word.strip()]

    def test_the_program_is_asked_for_names(self) -> None:
        (self.folder / "mine.ladder.yaml").write_bytes(combfield().read_bytes())
        self.assertIn("mine.ladder.yaml", self.completed("wise-ladder check m"))
        self.assertTrue(any("toggles" in word for word in self.completed("wise-ladder draw mine.ladder.yaml --walk t")))
        self.assertIn("stubborn", self.completed("wise-ladder check mine.ladder.yaml --phone s"))
        self.assertIn("toggle", self.completed("wise-ladder gallery to"))

    def test_each_shell(self) -> None:
        for shell in ("bash", "zsh", "fish"):
            done = call("completion", shell)
            self.assertEqual((done.returncode, "wise-ladder" in done.stdout), (0, True))
