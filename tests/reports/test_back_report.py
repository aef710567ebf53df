"""Back from everywhere on paper: as text, as JSON and as CSV."""

import csv
import io
import json
import subprocess
import unittest

from tests.test_cli import InAFolder, call

PLAN = """\
app: Combfield
start: splash
phones: {plain: , stubborn: {back at root: stay}}
screens:
  splash:
    moves: [{when: 1s on ladder, do: push hives}]
  hives:
    moves: [{when: tap hive, do: push hive}]
  hive:
"""


class Backs(InAFolder):
    def setUp(self) -> None:
        super().setUp()
        (self.folder / "p.ladder.yaml").write_text(PLAN)

    def backs(self, *words: str) -> subprocess.CompletedProcess[str]:
        return call("backs", "p.ladder.yaml", *words, folder=self.folder)

    def test_text(self) -> None:
        done = self.backs("--steps", "4")
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        self.assertEqual(
            done.stdout.splitlines(),
            [
                "Combfield on plain: where Back leads, known for 4 steps (13 states)",
                "splash",
                "  system  leaves the app    2 steps",
                "hives",
                "  system  lands on splash   3 steps  ▲ splash is a splash.",
                "  header  lands on splash   3 steps  ▲ splash is a splash.",
                "hive",
                "  system  lands on hives    4 steps",
                "  header  lands on hives    4 steps",
            ],
        )

    def test_each_phone(self) -> None:
        output = self.backs("--phone", "all", "--format", "csv").stdout
        rows = list(csv.DictReader(io.StringIO(output)))
        at_root = {row["phone"]: row["kind"] for row in rows if row["screen"] == "splash" and row["way"] == "system"}
        self.assertEqual(at_root, {"plain": "leaves", "stubborn": "stays"})
        self.assertIn("launch · wait 1s · tap hive · back", [row["path"] for row in rows])

    def test_json_says_how_far_it_is_known(self) -> None:
        output = self.backs("--format", "json", "--steps", "3").stdout
        (table,) = json.loads(output)
        self.assertEqual((table["app"], table["phone"], table["steps"], table["whole"]), ("Combfield", "plain", 3, False))
        self.assertEqual(table["rows"][0]["path"], ["launch", "back"])

    def test_a_phone_that_is_not_there(self) -> None:
        done = self.backs("--phone", "other")
        self.assertEqual((done.returncode, done.stdout), (2, ""))
        self.assertIn('p.ladder.yaml: there is no phone "other"; choose from: plain, stubborn', done.stderr)


class Paths(InAFolder):
    def path(self, *words: str) -> subprocess.CompletedProcess[str]:
        (self.folder / "p.ladder.yaml").write_text(PLAN)
        return call("path", "p.ladder.yaml", *words, folder=self.folder)

    def test_a_path_with_the_ladder_at_its_end(self) -> None:
        done = self.path("splash beneath hive")
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        self.assertEqual(
            done.stdout.splitlines(),
            [
                "Combfield on plain: splash beneath hive",
                "3 steps: launch · wait 1s · tap hive",
                "  splash > hives > hive",
            ],
        )

    def test_none_is_known(self) -> None:
        done = self.path("splash beneath splash", "--steps", "3")
        self.assertEqual((done.returncode, done.stderr), (1, ""))
        self.assertIn("Combfield on plain: no path leads there, known for 3 steps", done.stdout)

    def test_no_question(self) -> None:
        done = self.path("hvie seen")
        self.assertEqual((done.returncode, done.stdout), (2, ""))
        self.assertIn('there is no screen "hvie"; did you mean "hive"?', done.stderr)


if __name__ == "__main__":
    unittest.main()
