"""How a map is divided into pages: whole if its letters can be read then, else an overview and a page for each flow and tab."""

from __future__ import annotations

from collections import defaultdict
from typing import TYPE_CHECKING, Literal, NamedTuple

from wise_ladder.drawings.map_layout import ArrowToPlace, BoxToPlace, Layout, Size, lay_out
from wise_ladder.drawings.map_texts import (
    HEADING,
    LETTERS,
    SLACK,
    TextLine,
    arrow_texts,
    box_texts,
    group_title,
    legend,
    width_of,
)
from wise_ladder.drawings.map_trace import NO_TRACE
from wise_ladder.plan.screen_map import MapArrow, MapBox, MapLine, ScreenMap

if TYPE_CHECKING:
    from collections.abc import Collection, Iterator, Sequence

    from wise_ladder.drawings.map_layout import Direction
    from wise_ladder.drawings.map_texts import TextBlock
    from wise_ladder.drawings.map_trace import MapTrace
    from wise_ladder.drawings.paper import Paper
    from wise_ladder.plan.map_groups import Group
    from wise_ladder.plan.screen_map import BoxKind

LEAST_LETTERS = 7.0
"""No letters may be smaller, in points."""
MARGIN, HEAD, FOOT = 24.0, 44.0, 34.0
"""The room around a map, above it for the title, and beneath it for the legend."""
_DIRECTIONS: tuple[Direction, ...] = ("TB", "LR")
_PLACES: dict[BoxKind, Literal["first", "last"]] = {"start": "first", "ground": "last"}
_LISTED = 3
"""So many ways of an arrow are listed in an overview."""


class MapPage(NamedTuple):
    """A page: its title, what is on it, where that stands, the texts, and how much it is enlarged."""

    title: str
    drawn: ScreenMap
    layout: Layout
    boxes: dict[str, TextBlock]
    arrows: tuple[TextBlock, ...]
    scale: float

    @property
    def size(self) -> Size:
        """The room it takes with its title and legend, in points."""
        width, height = self.layout.size
        written = sum(entry.width for entry in legend(self.drawn)), width_of(TextLine(self.title, HEADING, bold=True)) * SLACK
        return Size(max(width * self.scale, *written) + 2 * MARGIN, height * self.scale + HEAD + FOOT)


def map_pages(drawn: ScreenMap, title: str, paper: Paper, trace: MapTrace = NO_TRACE) -> list[MapPage]:
    """Divide a map, with a path traced on it, into as few pages as can be read."""
    page = _readable(title, drawn, paper, trace)
    if page is not None:
        return [page]
    units = list(_units(drawn))
    parts = [part for name, keys in units for part in _halved(drawn, name, keys, paper, trace)]
    pages = [_page(f"{title}: {name}", _with_stubs(drawn, keys, parts), paper, trace) for name, keys in parts]
    # Rather less in the overview than letters that cannot be read.
    named = units if len(units) > 1 else parts
    for listed in range(_LISTED, -2, -1):
        overview = _readable(f"{title}: overview", _overview(drawn, named, listed), paper, NO_TRACE)
        if overview is not None:
            return [overview, *pages]
    return pages


def _readable(title: str, drawn: ScreenMap, paper: Paper, trace: MapTrace) -> MapPage | None:
    """Lay a map out; None if its letters are too small then."""
    sizes = [*(box_texts(box).size for box in drawn.boxes), *(arrow_texts(arrow).size for arrow in drawn.arrows)]
    room = sum(width * height for width, height in sizes) * (1.5 + len(drawn.boxes) / 16)
    if room * (LEAST_LETTERS / LETTERS) ** 2 > paper.size.width * paper.size.height:
        # Layouts take more room than this, and large ones take long.
        return None
    page = _page(title, drawn, paper, trace)
    return page if page.scale * LETTERS >= LEAST_LETTERS else None


def _page(title: str, drawn: ScreenMap, paper: Paper, trace: MapTrace) -> MapPage:
    """Lay a map out in the direction in which it is larger on its paper."""
    keys = {box.key for box in drawn.boxes}
    # What a path adds pulls nothing apart.
    added = [arrow for arrow in trace.extra if {arrow.start, arrow.end} <= keys]
    drawn = drawn._replace(arrows=(*drawn.arrows, *added))
    boxes = {box.key: box_texts(box, trace.at.get(box.key, ())) for box in drawn.boxes}
    arrows = tuple(arrow_texts(arrow, trace.steps(arrow)) for arrow in drawn.arrows)
    to_place = {box.key: BoxToPlace(boxes[box.key].size, box.group, _PLACES.get(box.kind, "anywhere")) for box in drawn.boxes}
    groups = {box.group[:depth] for box in drawn.boxes for depth in range(1, len(box.group) + 1)}
    titles = {group: group_title(group).size for group in sorted(groups)}
    between = [
        ArrowToPlace(arrow.start, arrow.end, texts.size, pulls=arrow not in added)
        for arrow, texts in zip(drawn.arrows, arrows, strict=True)
    ]
    layouts = [lay_out(to_place, titles, between, direction) for direction in _DIRECTIONS]
    pages = [MapPage(title, drawn, layout, boxes, arrows, _scale(layout.size, paper)) for layout in layouts]
    return max(pages, key=lambda page: page.scale)


def _scale(size: Size, paper: Paper) -> float:
    """Return how large a map can be on a paper, turned if it may be."""
    scales = []
    for width, height in (paper.size, paper.size[::-1]) if paper.turns else (paper.size,):
        scales.append(min((width - 2 * MARGIN) / size.width, (height - HEAD - FOOT) / size.height))
    return min(max(scales), paper.enlarged)


# Parts


def _units(drawn: ScreenMap) -> Iterator[tuple[str, list[str]]]:
    """Divide the boxes by flow and tab."""
    units: dict[Group, list[str]] = defaultdict(list)
    for box in drawn.boxes:
        units[box.group].append(box.key)
    for group, keys in sorted(units.items()):
        yield " · ".join(group) or "outside flows and tabs", keys


def _halved(drawn: ScreenMap, name: str, keys: list[str], paper: Paper, trace: MapTrace) -> list[tuple[str, list[str]]]:
    """Divide boxes that are too many for a page into halves, in the order of the plan, and these again."""
    waiting, parts = [keys], []
    while waiting:
        some = waiting.pop()
        if len(some) < 2 or _readable(name, _with_stubs(drawn, some, []), paper, trace) is not None:
            parts.append(some)
        else:
            waiting += [some[len(some) // 2 :], some[: len(some) // 2]]
    return [(f"{name}, part {number}" if len(parts) > 1 else name, some) for number, some in enumerate(parts, 1)]


def _with_stubs(drawn: ScreenMap, keys: Collection[str], parts: Sequence[tuple[str, list[str]]]) -> ScreenMap:
    """Leave some boxes, and of those that arrows join them with the name and the part they are drawn in."""
    arrows = [arrow for arrow in drawn.arrows if arrow.start in keys or arrow.end in keys]
    near = {key for arrow in arrows for key in (arrow.start, arrow.end)} - set(keys)
    where = {key: MapLine("drawn elsewhere", name) for name, of_part in parts for key in of_part}
    boxes = []
    for box in drawn.boxes:
        if box.key in keys:
            boxes.append(box)
        elif box.key in near:
            line = (where[box.key],) if box.key in where else (MapLine("drawn elsewhere", "elsewhere"),)
            boxes.append(box._replace(kind="elsewhere", group=(), lines=line, links=()))
    return ScreenMap(tuple(boxes), tuple(arrows))


def _overview(drawn: ScreenMap, parts: Sequence[tuple[str, list[str]]], listed: int) -> ScreenMap:
    """Draw each part as one box with the names of its screens; `listed` ways of an arrow at most.

    None: no names of screens either; fewer: no words on arrows.
    """
    screens = {box.key: box.title for box in drawn.boxes if box.kind in {"screen", "flow", "overlay"}}
    of_part = {key: name for name, keys in parts for key in keys}
    boxes = []
    for name, keys in parts:
        names = ", ".join(title for key, title in screens.items() if key in keys)
        boxes.append(MapBox(name, "screen", name, (), (MapLine("text", names),) if listed > 0 else ()))
    lines: dict[tuple[str, str], list[MapLine]] = defaultdict(list)
    for arrow in drawn.arrows:
        start, end = of_part[arrow.start], of_part[arrow.end]
        if start != end:
            lines[start, end] += arrow.lines
    return ScreenMap(
        tuple(boxes), tuple(MapArrow(start, end, _shortened(some, listed)) for (start, end), some in lines.items())
    )


def _shortened(lines: Sequence[MapLine], listed: int) -> tuple[MapLine, ...]:
    if len(lines) <= listed:
        return tuple(lines)
    if listed < 0:
        return (MapLine("text", ""),)
    if listed < 2:
        return (MapLine("text", f"{len(lines)} ways" if len(lines) > 1 else "1 way"),)
    return (*lines[: listed - 1], MapLine("text", f"and {len(lines) - listed + 1} more"))
