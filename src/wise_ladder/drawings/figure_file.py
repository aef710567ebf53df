"""From figures to the bytes of a file, the same each time."""

from __future__ import annotations

import io
import os
import warnings
from contextlib import contextmanager
from typing import TYPE_CHECKING, Any, NamedTuple, Protocol, TypeAlias, TypeVar

from matplotlib import rc_context
from matplotlib.collections import PolyCollection
from matplotlib.figure import Figure

from wise_ladder.drawings.colours import DARK, LIGHT
from wise_ladder.drawings.map_layout import POINTS, Frame, Size
from wise_ladder.drawings.paper import SLIDE
from wise_ladder.plan.files import save_bytes
from wise_ladder.safe import visible

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator, Sequence
    from pathlib import Path

    from matplotlib.axes import Axes

    from wise_ladder.drawings.colours import Colours
    from wise_ladder.drawings.paper import Look

SETTINGS: Any = {
    "font.family": "DejaVu Sans",
    "pdf.fonttype": 42,
    "svg.fonttype": "none",
    "svg.hashsalt": "wise-ladder",
    "text.parse_math": False,
}
"""In force while a figure is drawn and written: text stays text, a $ is a $, and nothing tells when or where it was made."""


@contextmanager
def drawing() -> Iterator[None]:
    """Draw with our settings, and without warnings about letters that the font lacks: text is written as text."""
    with rc_context(SETTINGS), warnings.catch_warnings():
        warnings.filterwarnings("ignore", message="Glyph .* missing from")
        yield


class Page(Protocol):
    """A page of a drawing: its size in points, and its title."""

    @property
    def size(self) -> Size:
        """Its width and height."""

    @property
    def title(self) -> str:
        """What it shows."""


class Sheet(NamedTuple):
    """What a page is drawn on: its room in the measures of the page, and how much larger letters are than the page says."""

    room: Frame
    scale: float


_Page = TypeVar("_Page", bound=Page)
_Draw: TypeAlias = "Callable[[Axes, _Page, Colours, Sheet], None]"


def write_pages(pages: Sequence[_Page], draw: _Draw[_Page], output: Path, look: Look, enlarged: float = 1.0) -> None:
    """Write pages to a PDF, or under one another to an SVG; `draw` draws one of them.

    Slides have one size, and what is on them is at most so much enlarged; other pages are as large as they need. Raises
    WriteError if the file cannot be written.
    """
    sheets = [[page] for page in pages] if output.suffix == ".pdf" else [list(pages)]
    write([_figure(sheet, draw, look, enlarged) for sheet in sheets], output)


def _figure(pages: Sequence[_Page], draw: _Draw[_Page], look: Look, enlarged: float) -> Figure:
    sizes = [SLIDE.size if look.slide else page.size for page in pages]
    colours = DARK if look.dark else LIGHT
    whole = Size(max(each.width for each in sizes), sum(each.height for each in sizes))
    figure = Figure(figsize=(whole.width / POINTS, whole.height / POINTS), facecolor=colours.page, label=pages[0].title)
    top = whole.height
    for page, size in zip(pages, sizes, strict=True):
        top -= size.height
        axes = figure.add_axes((0, top / whole.height, size.width / whole.width, size.height / whole.height))
        scale = min(size.width / page.size.width, size.height / page.size.height, enlarged) if look.slide else 1.0
        # What is smaller than its sheet stands at the top.
        room = Frame(0, page.size.height - size.height / scale, size.width / scale, size.height / scale)
        axes.set_xlim(0, room.width)
        axes.set_ylim(room.y, room.y + room.height)
        axes.set_axis_off()
        draw(axes, page, colours, Sheet(room, scale))
    return figure


def rectangles(axes: Axes, frames: Sequence[Frame], **look: Any) -> None:
    """Draw rectangles of one look, as one thing: many things take long."""
    corners = [((x, y), (x + width, y), (x + width, y + height), (x, y + height)) for x, y, width, height in frames]
    axes.add_collection(PolyCollection(corners, **look), autolim=False)


def write(figures: Sequence[Figure], output: Path) -> None:
    """Write a figure as SVG, or each on a page of a PDF; raises WriteError if the file cannot be written."""
    kind = output.suffix.removeprefix(".")
    for text in (text for figure in figures for axes in figure.axes for text in axes.texts):
        text.set_text(visible(text.get_text()))
    title = {"Title": visible(str(figures[0].get_label())), "Creator": "Wise Ladder"}
    buffer = io.BytesIO()
    # The library reads this variable if it would write the time otherwise.
    before = os.environ.get("SOURCE_DATE_EPOCH")
    os.environ["SOURCE_DATE_EPOCH"] = "0"
    try:
        if kind == "svg":
            figures[0].savefig(buffer, format=kind, metadata={**title, "Date": None})
        else:
            from matplotlib.backends.backend_pdf import PdfPages  # noqa: PLC0415 - slow to import

            with PdfPages(buffer, metadata={**title, "CreationDate": None, "Producer": None}) as pages:
                for figure in figures:
                    pages.savefig(figure)
    finally:
        if before is None:
            del os.environ["SOURCE_DATE_EPOCH"]
        else:
            os.environ["SOURCE_DATE_EPOCH"] = before
    save_bytes(output, buffer.getvalue())
