"""`compare` as a process: two files, two revisions of a real git repository, and what cannot be compared."""

import json
import os
import re
import subprocess
import unittest
from pathlib import Path
from unittest.mock import patch

from tests.test_cli import InAFolder, call

ONE = """\
app: Combfield
include: frames.yaml
start: hives
screens:
  hives: {moves: [{when: tap hive, do: push hive}]}
  hive: {moves: [{when: tap frames, do: replace frames}]}
walks: {one Back: [launch, tap hive, tap frames, back, ladder hives]}
"""
FRAMES = "screens: {frames: {moves: [{when: tap hive look, do: replace hive}]}}\n"


class Files(InAFolder):
    def setUp(self) -> None:
        super().setUp()
        for name, text in (("old", ONE), ("new", ONE.replace("do: replace frames", "do: push frames"))):
            (self.folder / name).mkdir()
            (self.folder / name / "app.ladder.yaml").write_text(text)
            (self.folder / name / "frames.yaml").write_text(FRAMES)

    def compared(self, *words: str) -> subprocess.CompletedProcess[str]:
        return call("compare", *words, "--seconds", "2", folder=self.folder)

    def test_what_is_noticed_is_told_with_its_path(self) -> None:
        done = self.compared("old/app.ladder.yaml", "new/app.ladder.yaml")
        self.assertEqual((done.returncode, done.stderr), (1, ""))
        self.assertIn(
            "\nhive\n  tap frames: Back: leads to hive (was: leads to hives)\n    launch · tap hive · tap frames\n", done.stdout
        )
        self.assertIn(
            "walk one Back: fails (was: passes)\n    launch · tap hive · tap frames · back · ladder hives\n", done.stdout
        )

    def test_the_same_is_the_same(self) -> None:
        done = self.compared("old/app.ladder.yaml", "old/app.ladder.yaml")
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        self.assertIn("Combfield: no difference found\nequal at every depth: all ", done.stdout)

    def test_for_programs(self) -> None:
        done = self.compared("old/app.ladder.yaml", "new/app.ladder.yaml", "--format", "json")
        found = json.loads(done.stdout)
        self.assertEqual((found["same"], found["differences"][0]["path"]), (False, ["launch", "tap hive", "tap frames"]))
        self.assertEqual(found["turned"][0]["name"], "one Back")

    def test_a_page_for_a_review(self) -> None:
        done = self.compared("old/app.ladder.yaml", "new/app.ladder.yaml", "-o", "page.md")
        self.assertEqual((done.returncode, done.stderr), (1, ""))
        page = (self.folder / "page.md").read_text()
        self.assertIn(
            "| hive | tap frames | Back: leads to hive (was: leads to hives) | launch · tap hive · tap frames |", page
        )
        self.assertIn(
            "## Walks and rules that turned\n\n| what | before | now | path |\n|---|---|---|---|\n"
            "| walk one Back | passes | fails | launch · tap hive · tap frames · back · ladder hives |\n",
            page,
        )
        pictures = re.findall(r"\]\((.*?)\)", page)
        self.assertEqual(len(pictures), 6)
        for picture in pictures:
            self.assertIn("<svg", (self.folder / picture).read_text())
        self.assertEqual(self.compared("old/app.ladder.yaml", "new/app.ladder.yaml", "-o", "page.txt").returncode, 2)

    def test_what_cannot_be_compared_is_one_line(self) -> None:
        for words, told in (
            (["old/app.ladder.yaml"], "compare takes OLD and NEW"),
            (["old/app.ladder.yaml", "gone.ladder.yaml"], "gone.ladder.yaml: there is no such file"),
            (["--since", "main", "old/app.ladder.yaml"], "old/app.ladder.yaml: not in a git repository"),
        ):
            with self.subTest(words):
                done = self.compared(*words)
                self.assertEqual((done.returncode, done.stdout, len(done.stderr.splitlines())), (2, "", 1), done.stderr)
                self.assertIn(told, done.stderr)


class Revisions(InAFolder):
    def git(self, *words: str) -> None:
        who = {"GIT_AUTHOR_NAME": "a", "GIT_AUTHOR_EMAIL": "a@b", "GIT_COMMITTER_NAME": "a", "GIT_COMMITTER_EMAIL": "a@b"}
        subprocess.run(["git", "-C", str(self.folder), *words], check=True, capture_output=True, env={**os.environ, **who})

    def setUp(self) -> None:
        super().setUp()
        plans = self.folder / "plans"
        plans.mkdir()
        self.plan, self.frames = plans / "app.ladder.yaml", plans / "frames.yaml"
        self.plan.write_text(ONE)
        self.frames.write_text(FRAMES)
        (self.folder / "readme").write_text("no plan")
        self.git("init", "-q")
        self.git("add", ".")
        self.git("commit", "-q", "-m", "one")
        self.git("tag", "before")

    def since(self, revision: str, plan: Path | None = None) -> subprocess.CompletedProcess[str]:
        return call("compare", "--since", revision, str(plan or self.plan), "--seconds", "2", folder=self.folder)

    def test_since_a_commit_an_included_file_changed(self) -> None:
        self.frames.write_text(FRAMES.replace("replace hive", "push hive"))
        self.git("commit", "-q", "-a", "-m", "two")
        done = self.since("before")
        self.assertEqual((done.returncode, done.stderr), (1, ""))
        self.assertIn("frames\n  tap hive look: Back: leads to frames (was: leads to hives)", done.stdout)
        self.assertEqual(self.since("HEAD").returncode, 0)

    def test_only_plans_that_changed_are_checked(self) -> None:
        other = self.folder / "other.ladder.yaml"
        other.write_text("app: Other\nstart: hives\nscreens: {hives: }\n")

        def checked() -> list[str]:
            done = call("check", ".", "--since", "before", "--no-rules", folder=self.folder)
            return [line.partition(":")[0] for line in done.stdout.splitlines() if "walk" in line]

        self.assertEqual(checked(), ["Other"])
        self.git("add", ".")
        self.git("commit", "-q", "-m", "other")
        self.git("tag", "-f", "before")
        self.assertEqual(checked(), [])
        self.frames.write_text(FRAMES + "# a comment\n")
        self.assertEqual(checked(), ["Combfield"])

    def test_what_is_not_there_is_one_line(self) -> None:
        (later := self.plan.with_name("later.ladder.yaml")).write_text(ONE)
        for revision, plan, told in (
            ("nowhere", self.plan, "its repository has no revision nowhere"),
            ("--help", self.plan, "--since"),
            ("before", later, "later.ladder.yaml: not there at before"),
        ):
            with self.subTest(revision):
                done = self.since(revision, plan)
                self.assertEqual((done.returncode, len(done.stderr.splitlines())), (2, 1), done.stderr)
                self.assertIn(told, done.stderr)

    def test_an_old_version_that_cannot_be_read_has_its_place(self) -> None:
        self.frames.write_text("screens: {frames: {moves: [{when: tap x, do: push nowhere}]}}\n")
        self.git("commit", "-q", "-a", "-m", "broken")
        self.git("tag", "broken")
        self.frames.write_text(FRAMES)
        done = self.since("broken")
        self.assertEqual(done.returncode, 2)
        self.assertIn("frames.yaml:1:51: there is no screen", done.stderr.splitlines()[0])
        self.assertTrue(done.stderr.startswith("broken:"), done.stderr)


class WithoutGit(InAFolder):
    def test_git_that_is_not_there_is_told(self) -> None:
        (self.folder / "app.ladder.yaml").write_text("app: A\nstart: hives\nscreens: {hives: }\n")
        with patch.dict(os.environ, {"PATH": str(self.folder)}):
            done = call("compare", "--since", "main", "app.ladder.yaml", folder=self.folder)
        self.assertEqual((done.returncode, done.stderr), (2, "git cannot be run: No such file or directory\n"))


if __name__ == "__main__":
    unittest.main()
