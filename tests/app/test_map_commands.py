"""The map is drawn from any view, with what is selected there traced on it."""

import asyncio
import tempfile
import unittest
from pathlib import Path

from wise_ladder.app.application import LadderApp
from wise_ladder.demo import gallery
from wise_ladder.plan.loader import read_file

TOGGLE = next(fault for fault in gallery() if fault.name == "toggle").faulty


class Drawing(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def drawn(self, name: str, *before: str, around: str = "") -> tuple[str, str]:
        """Press keys, then draw the map to a file; return what is said, and the file."""

        async def run() -> str:
            plan, text = read_file(TOGGLE)
            app = LadderApp(plan, TOGGLE, text, example=True)
            async with app.run_test(size=(120, 40)) as pilot:
                await pilot.press(*before, "M")
                await pilot.pause()
                app.screen.query("LineInput").first().value = str(self.folder / name)  # type: ignore[attr-defined]
                await pilot.press("down", *around, "enter")
                await app.workers.wait_for_complete()
                await pilot.pause()
                return app.status_line.message[0] if app.status_line.message else ""

        said = asyncio.run(run())
        path = self.folder / name
        return said, path.read_text(encoding="utf-8") if path.exists() else ""

    def test_it_says_where_the_map_is(self) -> None:
        said, svg = self.drawn("map.svg")
        self.assertEqual(said, f"the map is in {self.folder / 'map.svg'}")
        self.assertIn("Combfield: map</text>", svg)

    def test_the_tape_is_traced(self) -> None:
        _, svg = self.drawn("map.svg", "r", "1")
        self.assertIn("Combfield: this tape</text>", svg)

    def test_only_what_is_near_a_screen(self) -> None:
        _, dot = self.drawn("map.dot", around="hives")
        self.assertIn("hives", dot)

    def test_what_is_wrong_is_told_in_the_dialog_or_after_it(self) -> None:
        self.assertEqual(self.drawn("map.png")[1], "")
        self.assertEqual(self.drawn("map.svg", around="hvie")[1], "")
        said, _ = self.drawn("nowhere/map.svg")
        self.assertIn("nowhere", said)


if __name__ == "__main__":
    unittest.main()
