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


ON_SLIDES = 1.25
"""What is on a slide is at least so much larger than on a page: it is read from afar."""


def paper_of(look: Look) -> Paper:
    """Return the paper of a look."""
    return SLIDE if look.slide else A2


def room_of(look: Look) -> Size:
    """Return how large a page may be, in the measures of a page for print."""
    return Size(SLIDE.size.width / ON_SLIDES, SLIDE.size.height / ON_SLIDES) if look.slide else A2.size
