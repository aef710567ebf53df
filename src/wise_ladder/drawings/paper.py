"""What a drawing is for: a page for print or a slide, a light or a dark ground, and how large that is."""

from __future__ import annotations

from typing import NamedTuple

from wise_ladder.drawings.map_layout import Size


class Look(NamedTuple):
    """For what a drawing is: a dark ground, a slide."""

    dark: bool = False
    slide: bool = False


class Paper(NamedTuple):
    """The largest page: width and height in points, whether it may be turned, and how much a small map may be enlarged."""

    size: Size
    turns: bool
    enlarged: float


A2 = Paper(Size(1683.78, 1190.55), turns=True, enlarged=1.0)
SLIDE = Paper(Size(960.0, 540.0), turns=False, enlarged=1.6)


def paper_of(look: Look) -> Paper:
    """Return the paper of a look."""
    return SLIDE if look.slide else A2
