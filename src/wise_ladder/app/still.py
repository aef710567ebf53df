"""A view as it is on the screen, as SVG: each cell in its colours, text as text."""

from __future__ import annotations

from typing import TYPE_CHECKING
from xml.etree import ElementTree as ET

from rich.cells import cell_len

if TYPE_CHECKING:
    from collections.abc import Iterable

    from rich.color import Color
    from rich.segment import Segment

    from wise_ladder.app.canvas_widget import CanvasWidget

WIDTH, HEIGHT, LETTERS = 8, 16, 13
"""How wide and high a cell is, and how large its letters are, in points."""
_HALVES = {"▀": (0.0, 0.5), "▄": (0.5, 0.5), "█": (0.0, 1.0)}
"""What fills a part of a cell is drawn as a rectangle, so that it meets its neighbours: where it begins, how high it is."""
_FONTS = "'DejaVu Sans Mono',Menlo,Consolas,monospace"
_WHITE, _BLACK = (255, 255, 255), (0, 0, 0)


def still(widgets: Iterable[CanvasWidget], size: tuple[int, int], ground: str, title: str) -> str:
    """Write what widgets show on a screen of so many columns and rows."""
    columns, rows = size
    root = ET.Element("svg", {
        "xmlns": "http://www.w3.org/2000/svg", "viewBox": f"0 0 {columns * WIDTH} {rows * HEIGHT}",
        "width": str(columns * WIDTH), "height": str(rows * HEIGHT), "font-family": _FONTS, "font-size": str(LETTERS),
    })  # fmt: skip
    ET.SubElement(root, "title").text = title
    ET.SubElement(root, "rect", {"width": "100%", "height": "100%", "fill": ground})
    # All that fills a cell comes first, so that no ground covers letters that are wider than their cell.
    grounds, letters = (
        ET.SubElement(root, "g"),
        ET.SubElement(root, "g", {"{http://www.w3.org/XML/1998/namespace}space": "preserve"}),
    )
    for widget in widgets:
        region = widget.region
        for row in range(region.height):
            x = region.x
            for segment in widget.render_line(row):
                _segment(grounds, letters, segment, x, region.y + row)
                x += cell_len(segment.text)
    return ET.tostring(root, encoding="unicode", xml_declaration=True) + "\n"


def _segment(grounds: ET.Element, letters: ET.Element, segment: Segment, x: int, y: int) -> None:
    """Draw a piece of one row: its ground, what fills cells, and runs of letters."""
    style, columns = segment.style, cell_len(segment.text)
    colour = _hex(style.color if style is not None else None, _WHITE)
    _rectangle(grounds, (x, y, columns, 1.0), _hex(style.bgcolor if style is not None else None, _BLACK))
    text, begin = "", x
    for char in [*segment.text, ""]:
        if char and char not in _HALVES and char != " ":
            text, begin = text + char, begin if text else x
        else:
            if text:
                _text(letters, text, (begin, y), colour, bold=bool(style and style.bold))
            if char in _HALVES:
                top, high = _HALVES[char]
                _rectangle(grounds, (x, y + top, 1, high), colour)
            text = ""
        x += cell_len(char)


def _text(parent: ET.Element, text: str, at: tuple[int, int], colour: str, *, bold: bool) -> None:
    x, y = at
    made = ET.SubElement(parent, "text", {
        "x": str(x * WIDTH), "y": str(y * HEIGHT + LETTERS), "textLength": str(cell_len(text) * WIDTH),
        "lengthAdjust": "spacingAndGlyphs", "fill": colour, **({"font-weight": "bold"} if bold else {}),
    })  # fmt: skip
    made.text = text


def _rectangle(parent: ET.Element, room: tuple[float, float, float, float], colour: str) -> None:
    x, y, width, height = room
    ET.SubElement(parent, "rect", {
        "x": f"{x * WIDTH:g}", "y": f"{y * HEIGHT:g}", "width": f"{width * WIDTH:g}", "height": f"{height * HEIGHT:g}",
        "fill": colour,
    })  # fmt: skip


def _hex(colour: Color | None, default: tuple[int, int, int]) -> str:
    red, green, blue = colour.get_truecolor() if colour is not None else default
    return f"#{red:02x}{green:02x}{blue:02x}"
