"""The shortest way to each screen of a map as a tree: what a small drawing in cells shows of it."""

from __future__ import annotations

from collections import deque
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.plan.screen_map import START, WAY_GLYPHS

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.screen_map import MapBox, ScreenMap

_DRAWN = {"screen", "flow", "overlay"}


class TreeCell(NamedTuple):
    """A box in the grid of a tree: its row, the column of its name, the glyph before it, and how its line begins there.

    `branches` is the row of the box it comes from, None if it comes from none; `last`: nothing follows beneath on that line.
    """

    box: MapBox
    row: int
    column: int
    glyph: str
    parent: int | None
    last: bool


def map_tree(drawn: ScreenMap) -> list[TreeCell]:
    """Lay a map out as a tree, the first way from each box on its row, the others beneath; what no move leads to comes last."""
    boxes = {box.key: box for box in drawn.boxes if box.kind in _DRAWN}
    children = _spanning(drawn, boxes)
    cells: list[TreeCell] = []
    row = 0
    for key, glyph in children[START]:
        row = _place(boxes, children, TreeCell(boxes[key], row, len(glyph) + 1 if glyph else 0, glyph, None, last=True), cells)
    return cells


def _spanning(drawn: ScreenMap, boxes: dict[str, MapBox]) -> dict[str, list[tuple[str, str]]]:
    """Return for each box the boxes that are first reached from it, breadth first, each with the glyph of its way."""
    arrows: dict[str, list[tuple[str, str]]] = {}
    for arrow in drawn.arrows:
        if arrow.end in boxes:
            arrows.setdefault(arrow.start, []).append((arrow.end, WAY_GLYPHS[arrow.lines[0].kind]))
    children: dict[str, list[tuple[str, str]]] = {key: [] for key in (START, *boxes)}
    met: set[str] = set()

    def reach(waiting: deque[str]) -> None:
        while waiting:
            start = waiting.popleft()
            for end, glyph in arrows.get(start, ()):
                if end not in met:
                    met.add(end)
                    children[start].append((end, "" if start == START else glyph))
                    waiting.append(end)

    reach(deque([START]))
    for key, box in boxes.items():
        if key not in met:
            met.add(key)
            children[START].append((key, WAY_GLYPHS["link"] if box.links else WAY_GLYPHS["redirect"]))
            reach(deque([key]))
    return children


def _place(boxes: dict[str, MapBox], children: dict[str, list[tuple[str, str]]], cell: TreeCell, cells: list[TreeCell]) -> int:
    """Place a box and all that is reached from it; return the next free row."""
    cells.append(cell)
    row, column = cell.row, cell.column + len(cell.box.title) + 1 + len(CONNECTOR)
    below = children[cell.box.key]
    for number, (key, glyph) in enumerate(below):
        child = TreeCell(boxes[key], row, column, glyph, cell.row, last=number == len(below) - 1)
        row = _place(boxes, children, child, cells)
    return max(row, cell.row + 1)


CONNECTOR = "┬─↑ "
"""What stands between two names: where the line begins or goes on, the line, the glyph of the way."""


def cut_to(cells: list[TreeCell], rows: int, columns: int) -> Iterator[TreeCell]:
    """Go through the cells that have room in so many rows and columns."""
    return (cell for cell in cells if cell.row < rows and cell.column + len(cell.box.title) <= columns)
