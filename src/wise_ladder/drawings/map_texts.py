"""The texts of a map, broken into lines, and the room they take."""

from __future__ import annotations

import textwrap
from functools import cache
from typing import TYPE_CHECKING, NamedTuple

from matplotlib.font_manager import FontProperties
from matplotlib.textpath import TextToPath

from wise_ladder.drawings.map_layout import Size
from wise_ladder.plan.screen_map import WAY_GLYPHS
from wise_ladder.safe import visible

if TYPE_CHECKING:
    from collections.abc import Sequence

    from wise_ladder.plan.map_groups import Group
    from wise_ladder.plan.screen_map import MapArrow, MapBox, MapLine, ScreenMap, WayKind

HEADING, TITLE, LETTERS = 13.0, 9.0, 8.0
"""The size of letters in points: of the title of a page, of names, and of all else."""
LEADING = 1.3
"""The height of a line, in heights of its letters."""
PADDING = 5.0
SLACK = 1.15
"""So much more room is left than the words need: another font may be wider."""
MOST_STEPS = 4
"""So many steps that take one arrow are listed at most."""
COLUMNS = 34
"""So many letters stand in a line at most."""


class TextLine(NamedTuple):
    """A line of text, how large its letters are in points, whether they are bold, and whether they are steps on a badge."""

    words: str
    letters: float = LETTERS
    bold: bool = False
    badge: bool = False


class TextBlock(NamedTuple):
    """Lines under one another, and the room they take in points."""

    lines: tuple[TextLine, ...]
    size: Size


def box_texts(box: MapBox, steps: Sequence[int] = ()) -> TextBlock:
    """Return the texts of a box: the links that lead to it, its name, the ways that lead nowhere else.

    `steps` are those of a path that come here by a link.
    """
    lines = [_badge(steps)] if steps else []
    lines += [line for link in box.links for line in _lines(link)]
    named = box.kind != "redirect"
    lines += [TextLine(words, TITLE if named else LETTERS, bold=named) for words in _wrapped(box.title)]
    lines += [line for way in box.lines for line in _lines(way)]
    return _block(lines, PADDING)


def arrow_texts(arrow: MapArrow, steps: Sequence[int] = ()) -> TextBlock:
    """Return the texts of an arrow: the steps of a path that take it, and all ways that share it."""
    lines = [line for way in arrow.lines for line in _lines(way)]
    return _block([_badge(steps), *(line._replace(bold=True) for line in lines)] if steps else lines, 1.0)


def group_title(group: Group) -> TextBlock:
    """Return the name of a group."""
    return _block([TextLine(group[-1], TITLE, bold=True)], 2.0)


class LegendEntry(NamedTuple):
    """What a kind of way means: its words, how long a piece of its line stands before them, and the room it takes."""

    kind: WayKind
    line: TextLine
    sample: float
    width: float


_MEANINGS: dict[WayKind, str] = {
    **{kind: kind for kind in ("push", "replace", "clear, then push", "reach", "pop", "pop to", "return", "redirect", "leave")},
    "reach": "reach, switch",
    "switch": "reach, switch",
    "open": "open",
    "link": "link from outside",
}
_WITHOUT_ARROWS: set[WayKind] = {"pop", "return", "link"}
BESIDE = 4.0


def legend(drawn: ScreenMap) -> list[LegendEntry]:
    """List what the glyphs on a map mean, once for those of one meaning."""
    used = {line.kind for arrow in drawn.arrows for line in arrow.lines}
    used |= {line.kind for box in drawn.boxes for line in (*box.lines, *box.links)}
    kinds = {meaning: kind for kind, meaning in _MEANINGS.items() if kind in used}
    entries = []
    for meaning, kind in kinds.items():
        line, sample = TextLine(f"{WAY_GLYPHS[kind]} {meaning}"), 0.0 if kind in _WITHOUT_ARROWS else 22.0
        entries.append(LegendEntry(kind, line, sample, sample + BESIDE + width_of(line) * SLACK + 2 * PADDING))
    return entries


def shortened(words: str, room: float) -> str:
    """Return words that fit in so many points; what was cut ends in `…`."""
    words = visible(words, lines=False)
    if width_of(TextLine(words)) * SLACK <= room:
        return words
    while words and width_of(TextLine(f"{words}…")) * SLACK > room:
        words = words[:-1]
    return f"{words}…"


def _badge(steps: Sequence[int]) -> TextLine:
    numbers = [str(step) for step in steps]
    if len(numbers) > MOST_STEPS:
        numbers = [*numbers[: MOST_STEPS - 1], f"… {numbers[-1]}"]
    return TextLine(", ".join(numbers).replace(", …", " …"), bold=True, badge=True)


def _lines(way: MapLine) -> list[TextLine]:
    return [TextLine(words) for words in _wrapped(way.text)]


def _wrapped(words: str) -> list[str]:
    return textwrap.wrap(visible(words, lines=False), COLUMNS) or [""]


def _block(lines: list[TextLine], padding: float) -> TextBlock:
    width = max((width_of(line) for line in lines), default=0.0)
    height = sum(line.letters * LEADING for line in lines)
    return TextBlock(tuple(lines), Size(width * SLACK + 2 * padding, height + 2 * padding))


@cache
def width_of(line: TextLine) -> float:
    """Return the width of a line in points."""
    font = FontProperties(family="DejaVu Sans", weight="bold" if line.bold else "normal", size=line.letters)
    return float(_measure().get_text_width_height_descent(line.words, font, ismath=False)[0])


@cache
def _measure() -> TextToPath:
    return TextToPath()
