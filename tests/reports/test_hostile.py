"""Whatever stands in names that are not the plan's, no output hands an order to a terminal, a browser or a spreadsheet."""

import csv
import io
import json
import re
import subprocess
import sys
import unittest
from pathlib import Path
from xml.etree import ElementTree as ET

import jsonschema
from markdown_it import MarkdownIt

from tests.test_cli import InAFolder
from wise_ladder.reports.check_json import schema
from wise_ladder.reports.markdown import escaped
from wise_ladder.reports.walk_export import csv_field
from wise_ladder.safe import visible

# An escape sequence, what turns the direction of text, what has no width, and Markdown and HTML.
NAME = "\x1b[31m\u202e\u200b=1+1|`*<b>_x_"
PLAN = """
app: Hostile
start: hives
about: |
  Two lines, and what some scripts need: \u0915\u094d\u200d\u0937.
screens: {hives: }
walks:
  '=1+1|`*<b>_x_ [a](b) # ~ ! $x$': [launch, see hives]
  fails: [launch, see '@nowhere']
"""
UNSAFE = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\u061c\u200b\u200e\u200f\u202a-\u202e\u2066-\u2069\ufeff]")


class Hostile(InAFolder):
    def setUp(self) -> None:
        super().setUp()
        self.plan = self.folder / f"{NAME}.ladder.yaml"
        self.plan.write_text(PLAN.replace("see '@nowhere'", "outside"))
        self.walk = "=1+1|`*<b>_x_ [a](b) # ~ ! $x$"

    def call(self, *words: str) -> str:
        done = subprocess.run(
            [sys.executable, "-m", "wise_ladder", *words], capture_output=True, text=True, cwd=self.folder, check=False
        )
        for told in (done.stdout, done.stderr):
            self.assertIsNone(UNSAFE.search(told), ascii(told))
        return done.stdout

    def test_what_check_tells(self) -> None:
        self.assertIn(
            "Hostile: 1 of 2 walks passes", self.call("check", str(self.plan)).replace("walks pass,", "walks passes,")
        )
        jsonschema.validate(json.loads(self.call("check", str(self.plan), "--format", "json")), schema())
        jsonschema.validate(
            json.loads(self.call("check", str(self.plan), "--format", "sarif")),
            json.loads((Path(__file__).parent / "sarif-2.1.0.json").read_text()),
        )
        names = [
            case.get("name") for case in ET.fromstring(self.call("check", str(self.plan), "--format", "junit")).iter("testcase")
        ]
        self.assertEqual(names[:2], [self.walk, "fails"])
        self.call("check", str(self.plan.with_name("nothing\x1b[0m")))

    def test_tapes_and_reports(self) -> None:
        rows = list(csv.reader(io.StringIO(self.call("tape", str(self.plan), "--walk", self.walk))))
        self.assertTrue(all(not field.startswith(("=", "+", "@")) for row in rows for field in row))
        json.loads(self.call("tape", str(self.plan), "--walk", self.walk, "--format", "json"))
        self.call("report", str(self.plan), "--walk", self.walk, "-o", f"{NAME}.md")
        page = (self.folder / f"{NAME}.md").read_text()
        self.assertIsNone(UNSAFE.search(page))
        tokens = [token for block in MarkdownIt().parse(page) for token in (block, *(block.children or ()))]
        self.assertFalse([token for token in tokens if token.type.startswith(("html", "link"))])
        self.assertEqual(next(token.content for token in tokens if token.type == "inline"), escaped(self.walk))

    def test_pages_about_screens_and_the_sheet_for_a_tester(self) -> None:
        text = PLAN.replace("see '@nowhere'", "outside").replace(
            "screens: {hives: }",
            "screens: {hives: {moves: [{when: 'tap \"[a](b)\"', do: 'push \"<i>x|y\"'}]}, '<i>x|y': {guards: [{name: '`*_', ask: {text: '<b>![x](y)', answers: [{a: stay}, {b: go on}]}}]}}",
        )
        self.plan.write_text(text)
        for words, name in (
            (("--all-screens",), f"{NAME}-all.md"),
            (("--screen", "<i>x|y"), "one.md"),
            (("--script",), "sheet.md"),
        ):
            self.call("report", str(self.plan), *words, "-o", name)
            page = (self.folder / name).read_text()
            self.assertIsNone(UNSAFE.search(page))
            tokens = [token for block in MarkdownIt().enable("table").parse(page) for token in (block, *(block.children or ()))]
            html = [token.content for token in tokens if token.type.startswith("html")]
            self.assertEqual([each for each in html if not re.fullmatch(r'<a id="screen-\d+">|</a>', each)], [])
            links = [
                str(token.attrs.get("href") or token.attrs.get("src"))
                for token in tokens
                if token.type in {"link_open", "image"}
            ]
            self.assertEqual([each for each in links if not each.startswith("#screen-") and not each.endswith(".svg")], [])

    def test_drawings(self) -> None:
        for kind in ("svg", "pdf"):
            output = self.folder / f"out.{kind}"
            self.call("draw", str(self.plan), "--walk", self.walk, "-o", str(output))
            self.assertTrue(output.exists())
        drawn = (self.folder / "out.svg").read_text()
        self.assertIsNone(UNSAFE.search(drawn))
        self.assertIn(self.walk, "".join(ET.fromstring(drawn).itertext()))


class Made(unittest.TestCase):
    def test_visible(self) -> None:
        self.assertEqual(visible("a\x1b[0m\u202eb\nc\u200dd"), "a\\u001b[0m\\u202eb\nc\u200dd")
        self.assertEqual(visible("a\nb\tc\u200d", lines=False), "a\\u000ab\\u0009c\\u200d")

    def test_fields_that_begin_a_formula(self) -> None:
        self.assertEqual(
            [csv_field(text) for text in ("=1", "+1", "-1", "@x", "x=1", 7)], ["'=1", "'+1", "'-1", "'@x", "x=1", 7]
        )
