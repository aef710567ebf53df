"""Everything that can be drawn is drawn by one key from any view: what is selected there first."""

import asyncio
import tempfile
import unittest
from pathlib import Path
from xml.etree import ElementTree as ET

from pypdf import PdfReader

from wise_ladder.app.application import LadderApp
from wise_ladder.app.dialogs.line_input import LineInput
from wise_ladder.app.dialogs.list_dialog import ListDialog
from wise_ladder.app.draw_commands import DrawnKind
from wise_ladder.demo import gallery
from wise_ladder.plan.loader import read_file

TOGGLE = next(fault for fault in gallery() if fault.name == "toggle").faulty


class Drawing(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def drawn(self, name: str, *before: str, what: str = "", look: str = "", around: str = "") -> str:
        """Press keys, then draw a kind, or what is offered first, to a file; return what is said."""

        async def run() -> str:
            plan, text = read_file(TOGGLE)
            app = LadderApp(plan, TOGGLE, text, example=True)
            async with app.run_test(size=(120, 40)) as pilot:
                begin = {"swept": app.sweep_runner.begin, "walked": app.document.run_walks}
                for key in before:
                    if key in begin:
                        begin[key]()
                        await app.workers.wait_for_complete()
                        await pilot.pause()
                    else:
                        await pilot.press(key)
                await pilot.press("M")
                await pilot.pause()
                assert isinstance(app.screen, ListDialog)
                self.offered = [choice.label for choice in app.screen._choices]
                await pilot.press(*["space" if char == " " else char for char in what], "enter")
                await pilot.pause()
                lines = [*app.screen.query(LineInput)]
                for line, value in zip(lines, (str(self.folder / name), look or None, around), strict=False):
                    if value is not None:
                        line.value = value
                await pilot.press("enter")
                await app.workers.wait_for_complete()
                await pilot.pause()
                return app.status_line.message[0] if app.status_line.message else ""

        return asyncio.run(run())

    def words(self, name: str) -> list[str]:
        root = ET.parse(self.folder / name).getroot()
        return [each.text or "" for each in root.iter("{http://www.w3.org/2000/svg}text")]

    def test_it_says_where_the_drawing_is(self) -> None:
        self.assertEqual(self.drawn("a.svg", what="map"), f"map: drawn in {self.folder / 'a.svg'}")
        self.assertIn("Combfield: map", self.words("a.svg"))

    def test_each_view_offers_first_what_is_selected_in_it(self) -> None:
        for keys, first, title in (
            (("r", "1"), "film strip", "Combfield: this tape"),
            (("W", "walked"), "film strip", "✗ fails at step 9"),
            (("R", "swept"), "film strip", "Combfield: what breaks no pile-up"),
            (("r", "1", "S"), "time chart", "Combfield: this tape"),
            (("X",), "table of moves", "Combfield: from where to where"),
            (("swept", "X", "B"), "table of Back", "Combfield: where Back leads, known for"),
        ):
            with self.subTest(keys):
                self.drawn("a.svg", *keys)
                self.assertEqual(self.offered[0], first)
                self.assertTrue(any(each.startswith(title) for each in self.words("a.svg")), self.words("a.svg")[:2])

    def test_what_is_not_there_is_not_offered(self) -> None:
        self.drawn("a.svg")
        self.assertEqual(self.offered, ["map", "table of moves", "this view"])

    def test_every_kind_is_drawn_by_its_name_in_every_look(self) -> None:
        self.assertEqual({kind.value for kind in DrawnKind}, {"strip", "time", "depth", "map", "crossings", "backs", "still"})
        for what, title in (
            ("depth", "depth in rungs"), ("time", "this tape"), ("table of back", "where Back leads"), ("map", "this tape"),
            ("film", "this tape"), ("table of moves", "from where to where"),
        ):  # fmt: skip
            with self.subTest(what):
                said = self.drawn("a.pdf", "r", "1", "swept", what=what, look="dark slide")
                self.assertIn("drawn in", said)
                self.assertIn(title, " ".join(PdfReader(self.folder / "a.pdf").pages[0].extract_text().split()))

    def test_two_runs_are_drawn_over_one_another(self) -> None:
        self.drawn("a.svg", "r", "1", "S", "equals_sign", *"fixed", "enter")
        self.assertIn("Combfield: this tape / the fixed version", self.words("a.svg"))

    def test_only_what_is_near_a_screen(self) -> None:
        self.drawn("map.dot", what="map", around="hives")
        self.assertIn("hives", (self.folder / "map.dot").read_text(encoding="utf-8"))

    def test_what_is_wrong_is_told_in_the_dialog_or_after_it(self) -> None:
        self.drawn("map.png", what="map")
        self.drawn("map.svg", what="map", around="hvie")
        self.drawn("map.svg", what="map", look="slid")
        self.assertEqual([*self.folder.iterdir()], [])
        self.assertIn("nowhere", self.drawn("nowhere/map.svg", what="map"))

    def test_a_view_as_it_is(self) -> None:
        self.drawn("a.svg", "r", "1", what="this")
        words = self.words("a.svg")
        self.assertIn("Wise", words)
        self.assertIn("ladder", words)
        root = ET.parse(self.folder / "a.svg").getroot()
        self.assertEqual(root.get("viewBox"), "0 0 960 640")
        for each in root.iter("{http://www.w3.org/2000/svg}text"):
            self.assertLessEqual(int(each.get("x", "")) + int(each.get("textLength", "")), 960)
            self.assertLessEqual(int(each.get("y", "")), 640)


if __name__ == "__main__":
    unittest.main()
