"""The samples of the documents are read, their walks pass, and what they link to is there."""

import builtins
import re
import subprocess
import sys
import unittest
from pathlib import Path

from wise_ladder.plan.included import joined
from wise_ladder.plan.loader import read_plan_text
from wise_ladder.walks import run_walk
from wise_ladder.walks.report_text import walk_lines

TOP = Path(__file__).parent.parent
PAGES = [*TOP.glob("*.md"), *(TOP / "docs").glob("*.md")]


def samples() -> list[tuple[str, str]]:
    """List the plans in the documents, each with the page it stands on; what a plan includes is put into its text."""
    found = [(page.name, text) for page in PAGES for text in re.findall(r"```yaml\n(.*?)```", page.read_text(), re.DOTALL)]
    files = {name[1]: text for _, text in found if "\napp:" not in text and (name := re.match("# (.*)\n", text))}
    return [(page, whole(text, files)) for page, text in found if text not in files.values()]


def whole(text: str, files: dict[str, str]) -> str:
    included = re.search(r"^include: \[(.*)\]", text, re.MULTILINE)
    return joined([("", text), *((name, files[name]) for name in included[1].split(", "))]) if included else text


class Documents(unittest.TestCase):
    def test_every_sample_is_a_plan_without_doubts_whose_walks_pass(self) -> None:
        self.assertGreater(len(samples()), 5)
        for name, sample in samples():
            with self.subTest(f"{name}: {sample[:60]}"):
                plan = read_plan_text(sample)
                self.assertEqual(plan.warnings, ())
                for walk in plan.walks:
                    result = run_walk(plan, walk)
                    self.assertTrue(result.passed, "\n".join(walk_lines(result, name)))

    def test_the_page_of_the_rules_is_as_the_gallery_is(self) -> None:
        done = subprocess.run(
            [sys.executable, "-c", "import rules_page; print(rules_page.page(), end='')"],
            cwd=TOP / "tools", capture_output=True, text=True, encoding="utf-8", check=True,
        )  # fmt: skip
        self.assertEqual(done.stdout, (TOP / "docs" / "rules.md").read_text(), "make rules-page writes it anew")

    def test_the_page_of_the_keys_is_as_the_commands_are(self) -> None:
        done = subprocess.run(
            [sys.executable, "-c", "import keys_page; print(keys_page.page(), end='')"],
            cwd=TOP / "tools", capture_output=True, text=True, encoding="utf-8", check=True,
        )  # fmt: skip
        self.assertEqual(done.stdout, (TOP / "docs" / "keys.md").read_text(), "make keys-page writes it anew")

    def test_the_map_names_files_that_are_there(self) -> None:
        page = (TOP / "CONTRIBUTING.md").read_text()
        package, named = TOP / "src" / "wise_ladder", re.findall(r"`([\w/*]+\.py)`", page)
        self.assertGreater(len(named), 60)
        for name in named:
            there = any(package.glob(name)) or any(package.glob(f"*/{name}")) or (TOP / name).exists()
            self.assertTrue(there, f"CONTRIBUTING.md names {name}")

    def test_docstrings_name_errors_that_are_there(self) -> None:
        code = "\n".join(path.read_text() for path in (TOP / "src").rglob("*.py"))
        classes = {*re.findall(r"^class (\w+)", code, re.MULTILINE), *dir(builtins)}
        named = set(re.findall(r"[Rr]aises ([A-Z]\w+)", code))
        self.assertGreater(len(named), 8)
        self.assertEqual(named - classes, set())

    def test_links_lead_somewhere(self) -> None:
        for page in PAGES:
            for link in re.findall(r"\]\(([^)#:]+)\)", page.read_text()):
                self.assertTrue((page.parent / link).exists(), f"{page.name}: {link}")
