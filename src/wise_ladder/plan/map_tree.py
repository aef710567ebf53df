"""The shortest way to each screen of a map as a tree: what a small drawing in cells shows of it."""

from __future__ import annotations

from collections import deque
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.plan.screen_map import START, WAY_GLYPHS

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from wise_ladder.plan.screen_map import MapBox, ScreenMap

_DRAWN = {"screen", "flow", "overlay"}


class TreeCell(NamedTuple):
    """A box in the grid of a tree: its row, the column of its name, and the glyph of the way that leads to it.

    `parent` is the row of the box it comes from, None if it comes from none; `last`: no other comes from that box further down.
    """

    box: MapBox
    row: int
    column: int
    glyph: str
    parent: int | None
    last: bool


CONNECTOR = "┬─↑ "
"""What stands between two names: where the line begins or goes on, the line, the glyph of the way."""


def map_tree(drawn: ScreenMap, width_of: Callable[[str], int] = len) -> list[TreeCell]:
    """Lay a map out as a tree, the first way from each box on its row, the others beneath; what no move leads to comes last.

    `width_of` tells how many columns a name takes.
    """
    boxes = {box.key: box for box in drawn.boxes if box.kind in _DRAWN}
    children = _spanning(drawn, boxes)
    cells: list[TreeCell] = []
    free = 0
    waiting = [_Waiting(key, glyph, len(glyph) + 1 if glyph else 0) for key, glyph in reversed(children[START])]
    while waiting:
        key, glyph, column, parent, first, last = waiting.pop()
        row = parent if parent is not None and first else free
        free = row + 1
        cells.append(TreeCell(boxes[key], row, column, glyph, parent, last))
        column += width_of(boxes[key].title) + 1 + len(CONNECTOR)
        below = [_Waiting(end, way, column, row) for end, way in children[key]]
        if below:
            below[0] = below[0]._replace(first=True)
            below[-1] = below[-1]._replace(last=True)
        waiting += reversed(below)
    return cells


class _Waiting(NamedTuple):
    """A box that is to be placed: the first that comes from another on its row, else in the next free row."""

    key: str
    glyph: str
    column: int
    parent: int | None = None
    first: bool = False
    last: bool = False


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


def cut_to(cells: list[TreeCell], rows: int, columns: int, width_of: Callable[[str], int] = len) -> Iterator[TreeCell]:
    """Go through the cells that have room in so many rows and columns."""
    return (cell for cell in cells if cell.row < rows and cell.column + width_of(cell.box.title) <= columns)
