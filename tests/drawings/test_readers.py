"""Other programs read what is drawn: an XML parser the SVG, a reader library the PDF; text is text in both."""

import re
import tempfile
import unittest
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, cast
from xml.etree import ElementTree as ET

from pypdf import PageObject, PdfReader

from tests.drawings.test_map import SMALL
from tests.drawings.test_time_chart import random_tape
from tests.plans import COMBFIELD
from wise_ladder.drawings import Look, MapWish, draw_backs, draw_crossings, draw_map, draw_tape, draw_time
from wise_ladder.plan import Plan
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.verdicts import Bounds

if TYPE_CHECKING:
    from pypdf.generic import DictionaryObject

Drawn = Callable[[Plan, Path, Look], None]


def _backs(plan: Plan, output: Path, look: Look) -> None:
    sweep = Sweep(plan, Bounds(depth=2, seconds=60))
    sweep.run()
    draw_backs(plan, sweep.landings, sweep.extent().words, output, look)


KINDS: dict[str, tuple[Drawn, str]] = {
    "strip": (lambda plan, output, look: draw_tape(random_tape(plan, 30, 5), "a run", output, look), "a run"),
    "map": (lambda plan, output, look: draw_map(plan, output, MapWish(look=look)), "map"),
    "time": (lambda plan, output, look: draw_time([("a run", random_tape(plan, 30, 5))], output, look), "a run"),
    "depth": (
        lambda plan, output, look: draw_time([("a run", random_tape(plan, 30, 5))], output, look, lanes=False),
        "depth in rungs",
    ),
    "crossings": (draw_crossings, "from where to where"),
    "backs": (_backs, "where Back leads"),
}


def fonts_of(page: PageObject) -> list[str]:
    """Return the kinds of the fonts of a page: type 0 has real letters, type 3 would be drawings of them."""
    fonts = cast("DictionaryObject", cast("DictionaryObject", page["/Resources"])["/Font"])
    return [str(cast("DictionaryObject", font.get_object())["/Subtype"]) for font in fonts.values()]


class Readers(unittest.TestCase):
    def test_every_kind_of_every_plan_in_every_look(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            for name, plan in (("small", SMALL), ("Combfield", COMBFIELD)):
                for kind, (draw, words) in KINDS.items():
                    look = Look(dark=kind in {"map", "time"}, slide=name == "small")
                    with self.subTest(f"{kind} {name}"):
                        svg, pdf = Path(folder) / "a.svg", Path(folder) / "a.pdf"
                        draw(plan, svg, look)
                        root = ET.parse(svg).getroot()
                        texts = [each.text or "" for each in root.iter("{http://www.w3.org/2000/svg}text")]
                        self.assertTrue(any(words in each for each in texts), texts[:3])
                        letters = [float(size) for size in re.findall(r"font-size: ([\d.]+)px", svg.read_text("utf-8"))]
                        # On a slide all is larger than on a page, and a map is fitted to it.
                        self.assertGreaterEqual(min(letters), 7 if kind == "map" or not look.slide else 9.9)
                        draw(plan, pdf, look)
                        reader = PdfReader(pdf)
                        self.assertTrue(((reader.metadata and reader.metadata.title) or "").startswith(plan.app))
                        self.assertIn(words, " ".join(reader.pages[0].extract_text().split()))
                        if look.slide:
                            self.assertEqual({tuple(map(float, page.mediabox[2:])) for page in reader.pages}, {(960.0, 540.0)})
                        fonts = [font for page in reader.pages for font in fonts_of(page)]
                        self.assertEqual(set(fonts), {"/Type0"})


if __name__ == "__main__":
    unittest.main()
