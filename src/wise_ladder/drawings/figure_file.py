"""From figures to the bytes of a file, the same each time."""

from __future__ import annotations

import io
import os
import warnings
from contextlib import contextmanager
from typing import TYPE_CHECKING, Any, Protocol, TypeVar

from matplotlib import rc_context
from matplotlib.figure import Figure
from matplotlib.text import Text

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


_Page = TypeVar("_Page", bound=Page)


def write_pages(pages: Sequence[_Page], draw: Callable[[Axes, _Page, Colours, Frame], None], output: Path, look: Look) -> None:
    """Write pages to a PDF, or under one another to an SVG; `draw` draws one of them into a frame.

    Slides have one size; other pages are as large as they need. Raises WriteError if the file cannot be written.
    """
    sheets = [[page] for page in pages] if output.suffix == ".pdf" else [list(pages)]
    write([_figure(sheet, draw, look) for sheet in sheets], output)


def _figure(pages: Sequence[_Page], draw: Callable[[Axes, _Page, Colours, Frame], None], look: Look) -> Figure:
    sizes = [SLIDE.size if look.slide else page.size for page in pages]
    colours = DARK if look.dark else LIGHT
    whole = Size(max(each.width for each in sizes), sum(each.height for each in sizes))
    figure = Figure(figsize=(whole.width / POINTS, whole.height / POINTS), facecolor=colours.page, label=pages[0].title)
    axes = figure.add_axes((0, 0, 1, 1))
    axes.set_xlim(0, whole.width)
    axes.set_ylim(0, whole.height)
    axes.set_axis_off()
    top = whole.height
    for page, size in zip(pages, sizes, strict=True):
        top -= size.height
        draw(axes, page, colours, Frame(0, top, whole.width, size.height))
    return figure


def write(figures: Sequence[Figure], output: Path) -> None:
    """Write a figure as SVG, or each on a page of a PDF; raises WriteError if the file cannot be written."""
    kind = output.suffix.removeprefix(".")
    for figure in figures:
        for text in figure.findobj(Text):
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
