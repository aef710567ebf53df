"""The example apps, run as a user runs them; the stand-in over each kind of connection; the documented session and its schema."""

import asyncio
import json
import re
import shlex
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path
from statistics import median

import psutil
from jsonschema import Draft202012Validator

from tests.link.pairs import PLAINLY, standing_in, two_ends
from tests.plans import COMBFIELD
from tests.test_cli import InAFolder
from wise_ladder.demo import combfield
from wise_ladder.link import wire
from wise_ladder.link.session import AppAt, run_walks
from wise_ladder.link.stand_in import StandIn, serve
from wise_ladder.plan import events
from wise_ladder.plan.loader import read_plan

TOP = Path(__file__).parent.parent.parent
EXAMPLES = TOP / "examples"
HIVES = EXAMPLES / "hives.ladder.yaml"
APP = shlex.join([sys.executable, str(EXAMPLES / "adapter.py")])
OURS = [sys.executable, "-m", "wise_ladder"]


def check(*words: object) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [*OURS, "check", *map(str, words)], capture_output=True, text=True, encoding="utf-8", check=False, timeout=120
    )


class Apps(unittest.TestCase):
    def test_without_bugs_all_walks_pass_and_nothing_is_found(self) -> None:
        done = check(HIVES, "--against-command", APP, "--explore", 2000)
        self.assertEqual((done.returncode, done.stderr), (0, ""), done.stdout)
        self.assertIn("5 of 5 walks pass; 49 of 50 steps and expectations compared", done.stdout)
        self.assertIn("✓ 2,000 steps of its own on the app, seed 1: 16 of 16 moves used", done.stdout)

    def test_each_bug_is_found_and_one_by_its_own_ways_alone(self) -> None:
        for bug, walk, last in (
            ("toggle stacks", "✗ ten toggles, one Back  (step 3 of 15)", "- tap frames"),
            ("form forgets to ask", "✗ a form asks before it is left  (step 5 of 11)", "- back"),
            ("cancelled mark counts", None, "- back"),
        ):
            with self.subTest(bug):
                done = check(HIVES, "--against-command", f"{APP} --bug {shlex.quote(bug)}", "--explore", 1000)
                self.assertEqual(done.returncode, 1, done.stdout + done.stderr)
                self.assertEqual("✗ a" in done.stdout or "✗ ten" in done.stdout, walk is not None)
                self.assertIn(walk or "5 of 5 walks pass", done.stdout)
                steps = [line.strip() for line in done.stdout.partition("walks:\n")[2].splitlines() if "- " in line]
                self.assertEqual(steps[-2], last)

    def test_the_difference_is_a_walk_that_a_plan_takes(self) -> None:
        done = check(HIVES, "--against-command", f"{APP} --bug 'cancelled mark counts'", "--explore", 1000)
        walk = done.stdout.partition("walks:\n")[2]
        with tempfile.TemporaryDirectory() as folder:
            plan = Path(folder) / "mine.ladder.yaml"
            plan.write_text(HIVES.read_text() + walk)
            self.assertEqual(check(plan, "--no-rules").returncode, 0)
            self.assertEqual(check(plan, "--against-command", f"{APP} --bug 'cancelled mark counts'").returncode, 1)

    @unittest.skipUnless(
        subprocess.run(["sh", "-c", "perl -MJSON::PP -e 1"], check=False, capture_output=True).returncode == 0, "no perl here"
    )
    def test_an_adapter_with_nothing_installed(self) -> None:
        done = check(EXAMPLES / "toggle.ladder.yaml", "--against-command", f"perl {EXAMPLES / 'adapter.pl'}", "--explore", 300)
        self.assertEqual((done.returncode, done.stderr), (0, ""), done.stdout)
        self.assertIn("17 of 18 compared", done.stdout)

    def test_the_adapter_is_short_and_needs_nothing_of_ours(self) -> None:
        for name in ("adapter.py", "combfield_app.py", "adapter.pl"):
            text = (EXAMPLES / name).read_text()
            self.assertNotIn("wise_ladder", text)
            self.assertLess(len(text.splitlines()), 180 if "app" in name.split("_")[-1] else 120)

    def test_for_programs(self) -> None:
        done = check(HIVES, "--against-command", f"{APP} --bug 'toggle stacks'", "--explore", 100, "--format", "json")
        (plan,) = json.loads(done.stdout)["plans"]
        passed, failed = plan["walks"][:2]
        self.assertEqual((passed["compared"], failed["passed"]), (5, False))
        self.assertIn("in the app", failed["failure"]["why"])
        self.assertEqual(plan["explored"]["walk"][-2], "tap frames")
        done = check(HIVES, "--against-command", f"{APP} --bug 'toggle stacks'", "--explore", 100, "--format", "junit")
        self.assertIn('tests="6" failures="2"', done.stdout)

    def test_what_cannot_be_done_is_told(self) -> None:
        for words, told in (
            (["--against", "7399"], "127.0.0.1:7399: cannot connect: Connection refused"),
            (["--against", "unix:/tmp/nobody-here"], "cannot connect: No such file"),
            (["--against", "8.8.8.8:80"], "only this machine is connected to"),
            (["--against", "here"], "not an address"),
            (["--against-command", "no-such-program"], "no-such-program: cannot be run: No such file"),
            (["--against-command", "true"], "the app ended the connection"),
            (
                ["--against-command", "sh -c 'printf \"one\\n\\033[2Jtwo\\n\" >&2'"],
                "the app ended the connection; its last words: \\u001b[2Jtwo",
            ),
            (["--against-command", "echo hello"], "what is no message of JSON-RPC 2.0"),
            (["--against", "7399", "--rules"], "rules are not run on an app"),
            (["--explore", "9"], "add --against"),
            (["--against-command", f"{APP}", "--walk", "nobody"], "there is no walk"),
        ):
            with self.subTest(words):
                done = check(HIVES, *words)
                self.assertEqual((done.returncode, len(done.stderr.splitlines())), (2, 1), done.stderr)
                self.assertIn(told, done.stderr)


class Stopping(unittest.TestCase):
    def test_nobody_waits_for_an_app_that_says_nothing_once_it_is_to_stop(self) -> None:
        plan, began = read_plan(HIVES), time.perf_counter()
        run_walks(plan, plan.walks, AppAt(command="sleep 600"), lambda *_: True, lambda: time.perf_counter() - began < 0.3)
        self.assertLess(time.perf_counter() - began, 9)
        self.assertFalse([each for each in psutil.Process().children() if each.name() == "sleep"])


class Connections(InAFolder):
    def listening(self, *words: str) -> str:
        """Start a stand-in for Combfield; return where it listens."""
        started = subprocess.Popen([*OURS, "stand-in", str(combfield()), *words], stderr=subprocess.PIPE, text=True)
        self.addCleanup(started.communicate)
        self.addCleanup(started.kill)
        assert started.stderr is not None
        return started.stderr.readline().rstrip().removeprefix("listening at ")

    def test_over_tcp_a_unix_socket_and_a_command(self) -> None:
        began = time.perf_counter()
        command = shlex.join([*OURS, "stand-in", str(combfield())])
        for words in (
            ["--against", self.listening("--listen", "127.0.0.1:0")],
            ["--against", self.listening("--listen", f"unix:{self.folder}/app")],
            ["--against-command", command],
        ):
            with self.subTest(words):
                done = check(combfield(), *words)
                self.assertEqual((done.returncode, done.stderr), (0, ""))
                self.assertIn("42 of 42 walks pass; 507 of 513", done.stdout)
        self.assertLess(time.perf_counter() - began, 60)

    def test_the_tool_may_listen_too(self) -> None:
        address = f"unix:{self.folder}/tool"
        ours = subprocess.Popen(
            [*OURS, "check", str(HIVES), "--against", f"listen:{address}"], stdout=subprocess.PIPE, text=True
        )
        self.addCleanup(ours.kill)
        while not (self.folder / "tool").exists():
            self.assertIsNone(ours.poll())
        subprocess.run([*OURS, "stand-in", str(HIVES), "--connect", address], check=True, timeout=60)
        self.assertIn("5 of 5 walks pass", ours.communicate(timeout=60)[0])

    def test_a_stand_in_that_cannot_begin_is_told(self) -> None:
        for words, told in ((["--listen", "1.2.3.4:1"], "only this machine"), (["--fault", "nothing"], "is not a fault")):
            done = subprocess.run([*OURS, "stand-in", str(HIVES), *words], capture_output=True, text=True, check=False)
            self.assertEqual((done.returncode, len(done.stderr.splitlines())), (2, 1), done.stderr)
            self.assertIn(told, done.stderr)


class TheWire(unittest.TestCase):
    def session(self) -> list[tuple[str, dict[str, object]]]:
        """The documented session: each message, and whether it goes (→) or comes (←)."""
        page = (TOP / "docs" / "your-app.md").read_text(encoding="utf-8")
        return [(way, json.loads(text)) for way, text in re.findall(r"^([→←]) (.*)$", page, re.MULTILINE)]

    def test_the_documented_session_is_what_happens(self) -> None:
        async def run() -> list[tuple[str, dict[str, object]]]:
            found = list[tuple[str, dict[str, object]]]()
            async with two_ends() as (ours, theirs):
                serving = asyncio.create_task(serve(StandIn(read_plan(HIVES)), theirs, PLAINLY))
                for _, sent in [each for each in self.session() if each[0] == "→"]:
                    await ours.write(json.dumps(sent))
                    found.append(("→", sent))
                    while not found or "method" in found[-1][1]:
                        found.append(("←", json.loads(await ours.read() or "")))
                serving.cancel()
            return found

        self.assertEqual(asyncio.run(run()), self.session())

    def test_the_schema_fits_the_documented_session(self) -> None:
        schema = wire.schema()
        asked = ""
        count = 0
        for way, message in self.session():
            method = str(message.get("method", asked))
            asked = method if way == "→" else asked
            of = schema["notices" if method == "happened" else "methods"].get(method)
            for part in ("params", "result"):
                if part in message and of is not None:
                    validator = Draft202012Validator({**of[part], "$defs": schema["$defs"]})
                    self.assertEqual([error.message for error in validator.iter_errors(message[part])], [])
                    count += 1
        self.assertGreater(count, 14)

    def test_each_event_goes_over_the_wire_and_back(self) -> None:
        for event in (
            events.Launch(), events.Tap("hive", (("id", 7),), twice=True), events.Back("unpick"), events.BackBegun(), events.BackFinished(),
            events.BackCancelled(), events.HeaderBack(), events.Home(), events.Reopen(), events.Answer("stay"), events.Reply("a", "b"),
            events.OutsideChange("session", "none"), events.OpenLink("x://y"), events.SwipedAway(), events.Killed(), events.LowMemory(),
            events.Remade(),
        ):  # fmt: skip
            self.assertEqual(wire.as_event(wire.as_do(event)), event)
            self.assertIn(wire.event_name(event), wire.EVENT_NAMES)

    def test_a_question_is_answered_at_once(self) -> None:
        """Measured, not held to the millisecond: a machine may be busy. `make bench` prints it."""

        async def run() -> float:
            async with standing_in(COMBFIELD) as app:
                times = []
                for _ in range(50):
                    began = time.perf_counter()
                    await app.link.where()
                    times.append(time.perf_counter() - began)
                return median(times)

        self.assertLess(asyncio.run(run()), 0.1)
