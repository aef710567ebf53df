"""The command line, as a process."""

import json
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from wise_ladder.cli import _parser
from wise_ladder.demo import combfield


def call(*words: str, folder: Path | None = None) -> subprocess.CompletedProcess[str]:
    """Run the command and wait for it."""
    return subprocess.run(
        [sys.executable, "-m", "wise_ladder", *words], capture_output=True, text=True, encoding="utf-8", cwd=folder, check=False
    )


class InAFolder(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def changed(self, *pairs: tuple[str, str]) -> Path:
        """Write a copy of the demo with stretches replaced; each must be there."""
        text = combfield().read_text()
        for before, after in pairs:
            self.assertIn(before, text)
            text = text.replace(before, after)
        path = self.folder / "copy.ladder.yaml"
        path.write_text(text)
        return path


class Check(InAFolder):
    def test_the_demo_passes_with_a_line_for_each_walk(self) -> None:
        done = call("check", "--no-rules", str(combfield()))
        lines = done.stdout.splitlines()
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        self.assertTrue(all(line.startswith("✓ ") for line in lines[:-1]))
        self.assertEqual(lines[-1], f"Combfield: {len(lines) - 1} of {len(lines) - 1} walks pass")

    def test_a_toggle_that_pushes_is_found_with_both_ladders(self) -> None:
        path = self.changed(("do: replace frames(", "do: push frames("), ("do: replace hive(", "do: push hive("))
        done = call("check", str(path))
        self.assertEqual(done.returncode, 1)
        self.assertIn("✗ ten toggles, one Back", done.stdout)
        self.assertIn("expected    actual", done.stdout)
        self.assertIn("caused by step 4, tap frames: frames id 7 came", done.stdout)

    def test_three_mistakes_are_three_messages_and_nothing_else(self) -> None:
        path = self.changed(
            ("do: replace month}", "do: replace mnoth}"),
            ("do: push inspection(id=$id)", "do: push inspection"),
            ("if: welcomed is no,", "if: welcomed is on,"),
        )
        done = call("check", str(path))
        self.assertEqual((done.returncode, done.stdout), (2, ""))
        heads = [line for line in done.stderr.splitlines() if line.startswith(str(path))]
        self.assertEqual(len(heads), 3)
        self.assertEqual(len(done.stderr.splitlines()), 9)
        for words in ('"welcomed" is never "on"', 'did you mean "month"?', 'needs the argument "id"'):
            self.assertIn(words, done.stderr)

    def test_problems_of_several_plans_come_together(self) -> None:
        done = call("check", "no.yaml", "nor this.yaml", folder=self.folder)
        self.assertEqual((done.returncode, len(done.stderr.splitlines())), (2, 2))

    def test_doubts_are_told_beside_the_results(self) -> None:
        path = self.changed(("  about: {}", "  about: {}\n  attic: {}"))
        done = call("check", "--no-rules", str(path))
        self.assertEqual(done.returncode, 0)
        self.assertIn('nothing leads to the screen "attic"', done.stderr)


class Draw(InAFolder):
    def test_a_strip_is_the_same_bytes_each_time(self) -> None:
        for ending, begins in (("svg", b"<?xml"), ("pdf", b"%PDF")):
            with self.subTest(ending):
                for name in ("one", "two"):
                    done = call(
                        "draw",
                        str(combfield()),
                        "--walk",
                        "ten toggles, one Back",
                        "-o",
                        f"{name}.{ending}",
                        folder=self.folder,
                    )
                    self.assertEqual((done.returncode, done.stderr), (0, ""))
                one, two = ((self.folder / f"{name}.{ending}").read_bytes() for name in ("one", "two"))
                self.assertEqual(one, two)
                self.assertTrue(one.startswith(begins))

    def test_the_map_with_what_breaks_a_rule_traced_on_it(self) -> None:
        words = ("--what", "map", "--rule", "no pile-up", "--dark", "-o", "map.svg")
        done = call("draw", str(combfield()), *words, folder=self.folder)
        self.assertEqual((done.returncode, done.stderr, done.stdout), (0, "", ""))
        self.assertIn("Combfield: what breaks no pile-up</text>", (self.folder / "map.svg").read_text(encoding="utf-8"))

    def test_a_run_along_its_clock_and_the_tables(self) -> None:
        walk = ("--walk", "start with a session that is valid")
        for words, told in (
            (("--what", "time", *walk), "400 ms valid</text>"),
            (("--what", "depth", *walk, "--slide"), "depth in rungs</text>"),
            (("--what", "strip", "--slide", "--rule", "no pile-up"), "Combfield: what breaks no pile-up"),
            (("--what", "crossings"), "Combfield: from where to where</text>"),
        ):
            done = call("draw", str(combfield()), *words, "-o", "a.svg", folder=self.folder)
            self.assertEqual((done.returncode, done.stderr, done.stdout), (0, "", ""))
            self.assertIn(told, (self.folder / "a.svg").read_text(encoding="utf-8"))

    def test_a_map_of_what_is_near_a_screen(self) -> None:
        done = call("draw", str(combfield()), "--what", "map", "--around", "treatment", "-o", "map.dot", folder=self.folder)
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        self.assertIn("treatment", (self.folder / "map.dot").read_text(encoding="utf-8"))
        self.assertNotIn("sign in", (self.folder / "map.dot").read_text(encoding="utf-8"))

    def test_wrong_calls_are_one_line(self) -> None:
        cases = (
            (("--walk", "ten toggles, one Bakc", "-o", "a.svg"), 'did you mean "ten toggles, one Back"?'),
            (("--walk", "ten toggles, one Back", "-o", "a.gif"), "drawings are .svg or .pdf; write a.svg"),
            (("--walk", "ten toggles, one Back", "-o", "nowhere/a.svg"), "cannot be written: No such file or directory"),
            (("-o", "a.svg"), "this drawing needs a walk or a rule; write --walk NAME or --rule NAME, or --what map"),
            (("--what", "crossings", "--around", "hive", "-o", "a.svg"), "--around is for --what map"),
            (
                ("--what", "backs", "--walk", "ten toggles, one Back", "-o", "a.svg"),
                "--what backs shows the whole plan; leave out --walk",
            ),
            (("--what", "map", "-o", "a.png"), "maps are .svg, .pdf, .graphml or .dot; write a.svg"),
            (("--what", "map", "--around", "hvie", "-o", "a.svg"), 'there is no screen "hvie"; did you mean "hive"?'),
        )
        for words, expected in cases:
            with self.subTest(expected):
                done = call("draw", str(combfield()), *words, folder=self.folder)
                self.assertEqual((done.returncode, done.stdout, len(done.stderr.splitlines())), (2, "", 1))
                self.assertIn(expected, done.stderr)


class StartingUp(unittest.TestCase):
    def imported(self, words: str) -> set[str]:
        code = f"import sys; sys.argv = ['wise-ladder', {words}]\ntry:\n from wise_ladder.cli import main; main()\nexcept SystemExit: pass\nprint(*sorted(sys.modules), file=sys.stderr)"
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
        return set(done.stderr.split())

    def test_help_and_check_do_not_bring_in_what_they_do_not_need(self) -> None:
        for words in ("'--help'", f"'check', {str(combfield())!r}"):
            found = self.imported(words)
            self.assertEqual(found & {"textual", "rich", "matplotlib", "numpy"}, set(), words)

    def test_the_core_needs_no_file_and_no_yaml(self) -> None:
        done = subprocess.run(
            [sys.executable, "-c", "import sys, wise_ladder.semantics; print(*sys.modules)"],
            capture_output=True,
            text=True,
            check=True,
        )
        self.assertEqual(set(done.stdout.split()) & {"yaml", "textual", "typer", "wise_ladder.plan.loader"}, set())

    def test_without_a_terminal_the_bench_says_so(self) -> None:
        done = call("demo")
        self.assertEqual((done.returncode, len(done.stderr.splitlines())), (2, 1))
        self.assertIn("needs a terminal", done.stderr)

    def test_options_keep_their_old_names(self) -> None:
        for old, new, words in (("--depth", "--steps", ["check", "a", "3"]), ("--mended", "--fixed", ["gallery", "toggle"])):
            was, now = (vars(_parser().parse_args([*words[:2], option, *words[2:]])) for option in (old, new))
            self.assertEqual(was, now)

    def test_help_shows_each_command_with_an_example(self) -> None:
        self.assertIn("Start with: wise-ladder demo", call("--help").stdout)
        for command in ("demo", "open", "check", "draw"):
            self.assertIn("Example: wise-ladder", " ".join(call(command, "--help").stdout.split()))
        self.assertIn("wise-ladder 0.", call("--version").stdout)


class Phones(InAFolder):
    PLAN = """
app: Combfield
start: hives
phones: {plain: , stubborn: {guards see: [header]}, bare: {like: stubborn, system back: no}}
screens:
  hives: {moves: [{when: tap form, do: push form}]}
  form: {guards: [{name: unsaved, ask: {answers: [{stay: stay}, {leave: go on}]}}]}
walks:
  it asks: [launch, tap form, back, asked unsaved]
  it asks by the header: [launch, tap form, header back, asked unsaved]
  only here: {phone: stubborn, steps: [launch, tap form, back, see hives]}
"""

    def plan(self) -> str:
        path = self.folder / "phones.ladder.yaml"
        path.write_text(self.PLAN)
        return str(path)

    def test_the_first_phone_is_in_force(self) -> None:
        self.assertEqual(call("check", "--no-rules", self.plan()).returncode, 0)

    def test_another_phone(self) -> None:
        done = call("check", "--no-rules", self.plan(), "--phone", "stubborn")
        self.assertEqual(done.returncode, 1)
        self.assertIn("2 of 3 walks pass, 1 fails", done.stdout)

    def test_all_phones_and_what_differs(self) -> None:
        done = call("check", "--no-rules", self.plan(), "--phone", "all")
        self.assertEqual(done.returncode, 1)
        self.assertIn("on plain:\n✓ it asks", done.stdout)
        differs = done.stdout.partition("differences:\n")[2].splitlines()
        self.assertEqual(
            differs,
            [
                "  it asks: from step 3 on, back, on plain: asked unsaved; on stubborn: ladder hives",
                "  it asks: from step 3 on, back, on plain: asked unsaved; on bare: ladder hives > form",
            ],
        )

    def test_a_rule_that_one_phone_breaks(self) -> None:
        path = self.plan()
        with Path(path).open("a") as plan:
            plan.write("rules: [{rule: guarded, screens: form, ways: system}, {rule: at most, screens: form, rungs: 1}]\n")
        done = call("check", "--rules", path)
        self.assertRegex(done.stdout, r"2 of 2 rules hold at every depth .* on plain; --phone all checks the others too\n$")
        done = call("check", "--rules", path, "--phone", "all")
        self.assertEqual(done.returncode, 1)
        (differs,) = done.stdout.partition("differences:\n")[2].splitlines()
        self.assertRegex(
            differs, r"^  guarded: form by system: on plain: holds at every depth \(.*\); on stubborn: broken in 3 steps$"
        )

    def test_no_such_phone(self) -> None:
        done = call("check", "--no-rules", self.plan(), "--phone", "stuborn")
        self.assertEqual((done.returncode, done.stdout), (2, ""))
        self.assertIn('there is no phone "stuborn"; did you mean "stubborn"?', done.stderr)


class New(InAFolder):
    CASES = (
        (),
        ("--splash",),
        ("--sign-in",),
        ("--tabs", "hives,diary"),
        ("--splash", "--sign-in", "--tabs", "my hives, on, 7"),
    )

    def test_what_is_written_passes(self) -> None:
        for words in self.CASES:
            with self.subTest(words):
                done = call("new", "My: App", "-o", f"p{len(words)}{len(str(words))}.ladder.yaml", *words, folder=self.folder)
                self.assertEqual((done.returncode, done.stderr), (0, ""))
                path = self.folder / done.stdout.split()[0]
                checked = call("check", str(path))
                self.assertEqual((checked.returncode, checked.stderr), (0, ""), checked.stdout)

    def test_a_file_that_is_there_is_left_alone(self) -> None:
        (self.folder / "combfield.ladder.yaml").write_text("mine")
        done = call("new", "Combfield", folder=self.folder)
        self.assertEqual(done.returncode, 2)
        self.assertEqual((self.folder / "combfield.ladder.yaml").read_text(), "mine")
        self.assertIn("exists already", done.stderr)

    def test_without_a_terminal_it_needs_a_name(self) -> None:
        done = call("new", folder=self.folder)
        self.assertEqual((done.returncode, done.stdout), (2, ""))
        self.assertEqual(done.stderr, "a plan needs the name of its app; write wise-ladder new NAME\n")

    def test_the_schema_is_printed(self) -> None:
        self.assertEqual(json.loads(call("schema").stdout)["title"], "A plan of Wise Ladder")
