"""Lines of text with the room that they take, so that a test can tell whether any lies over another."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.drawings.map_layout import Frame
from wise_ladder.drawings.map_texts import LEADING, SLACK, TextLine, width_of
from wise_ladder.safe import visible

if TYPE_CHECKING:
    from collections.abc import Iterable

    from matplotlib.axes import Axes

    from wise_ladder.drawings.colours import Colours


class PlacedText(NamedTuple):
    """A line of text, the room it takes, the role of its colour, and whether it is written from the right."""

    frame: Frame
    line: TextLine
    role: str = "ink"
    right: bool = False


def placed(x: float, y: float, line: TextLine, role: str = "ink", *, right: bool = False) -> PlacedText:
    """Place a line with its lower left corner, or its lower right one."""
    line = line._replace(words=visible(line.words, lines=False))
    width, height = width_of(line) * SLACK, line.letters * LEADING
    return PlacedText(Frame(x - width if right else x, y, width, height), line, role, right)


def draw_texts(axes: Axes, texts: Iterable[PlacedText], colours: Colours, scale: float) -> None:
    """Draw texts, their letters so much larger than they say."""
    for text in texts:
        x = text.frame.x + (text.frame.width if text.right else 0)
        axes.text(x, text.frame.y + text.frame.height / 2, text.line.words, fontsize=text.line.letters * scale,
                  color=getattr(colours, text.role), ha="right" if text.right else "left", va="center_baseline",
                  fontweight="bold" if text.line.bold else "normal")  # fmt: skip
