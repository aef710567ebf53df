"""The two tables of Crossings as drawings: each cell where it belongs, in blocks that fit their pages."""

import tempfile
import unittest
import xml.etree.ElementTree as ET
from itertools import combinations
from pathlib import Path

from tests.drawings.test_map import LARGE, SMALL, overlaps
from tests.plans import COMBFIELD
from wise_ladder.drawings import Look, draw_backs, draw_crossings
from wise_ladder.drawings.map_layout import Size
from wise_ladder.drawings.paper import A2, SLIDE
from wise_ladder.drawings.table_layout import GlyphTable, table_pages
from wise_ladder.rules.back_cells import back_cells, back_places
from wise_ladder.rules.back_table import back_table
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.verdicts import Bounds


def table(rows: int, columns: int) -> GlyphTable:
    names = [[f"{what} number {number}" for number in range(count)] for what, count in (("row", rows), ("column", columns))]
    return GlyphTable("a table", names[0], names[1], {(names[0][0], names[1][0]): "↑"}, frozenset(), ("↑ push",))


class Pages(unittest.TestCase):
    def test_each_row_and_column_stands_in_one_block_and_cells_lie_side_by_side(self) -> None:
        for size in ((3, 3), (31, 28), (62, 62), (200, 90)):
            made = table(*size)
            for paper in (A2.size, SLIDE.size):
                pages = table_pages(made, paper)
                places = [(row, column) for page in pages for row in page.rows for column in page.columns]
                self.assertEqual(sorted(places), sorted((row, column) for row in made.rows for column in made.columns))
                for page in pages:
                    self.assertLessEqual(page.size.width, paper.width)
                    self.assertLessEqual(page.size.height, paper.height)
        frames = [
            page.cell(row, column) for page in table_pages(table(5, 4), A2.size) for row in page.rows for column in page.columns
        ]
        self.assertEqual([pair for pair in combinations(frames, 2) if overlaps(*pair)], [])

    def test_what_is_too_small_for_any_cell_still_has_one(self) -> None:
        self.assertEqual(len(table_pages(table(2, 2), Size(10, 10))), 4)


class Files(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def words(self, name: str) -> list[str | None]:
        return [each.text for each in ET.parse(self.folder / name).iter() if each.tag.endswith("text")]

    def test_crossings(self) -> None:
        draw_crossings(COMBFIELD, self.folder / "map.svg")
        words = self.words("map.svg")
        self.assertEqual(words[0], "Combfield: from where to where")
        self.assertEqual(words.count("hive"), 2)
        self.assertIn("■ clear, then push", words[-1] or "")

    def test_backs_with_what_is_surprising(self) -> None:
        sweep = Sweep(COMBFIELD, Bounds(depth=4, seconds=60))
        sweep.run()
        draw_backs(COMBFIELD, sweep.landings, sweep.extent().words, self.folder / "back.svg", Look(dark=True))
        words = self.words("back.svg")
        cells = back_cells(back_table(COMBFIELD, sweep.landings))
        rows, columns = back_places(COMBFIELD, cells)
        self.assertEqual(words[0], "Combfield: where Back leads, known for 4 steps")
        self.assertEqual(len(words), 1 + len(rows) + len(columns) + len(cells) + 1)

    def test_a_table_of_nothing_has_its_title(self) -> None:
        draw_backs(SMALL, {}, "for 0 steps", self.folder / "back.svg")
        self.assertEqual(self.words("back.svg")[0], "Combfield: where Back leads, known for 0 steps")

    def test_the_same_bytes_each_time_on_several_pages(self) -> None:
        for plan, pages in ((SMALL, 1), (LARGE, 10)):
            for name in ("one", "two"):
                draw_crossings(plan, self.folder / f"{name}.pdf", Look(slide=True))
            one, two = ((self.folder / f"{name}.pdf").read_bytes() for name in ("one", "two"))
            self.assertEqual((one, one.count(b"/Type /Page ")), (two, pages))


if __name__ == "__main__":
    unittest.main()
