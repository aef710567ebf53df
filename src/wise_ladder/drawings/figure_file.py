"""From a figure to the bytes of a file, the same each time."""

from __future__ import annotations

import io
import os
from typing import TYPE_CHECKING, Any

from matplotlib.text import Text

from wise_ladder.plan.files import save_bytes
from wise_ladder.safe import visible

if TYPE_CHECKING:
    from pathlib import Path

    from matplotlib.figure import Figure

SETTINGS: Any = {
    "font.family": "DejaVu Sans",
    "pdf.fonttype": 42,
    "svg.fonttype": "none",
    "svg.hashsalt": "wise-ladder",
    "text.parse_math": False,
}
"""In force while a figure is drawn and written: text stays text, a $ is a $, and nothing tells when or where it was made."""


def write(figure: Figure, output: Path) -> None:
    """Write a figure as SVG or PDF; raises WriteError if the file cannot be written."""
    kind = output.suffix.removeprefix(".")
    title = visible(str(figure.get_label()))
    for text in figure.findobj(Text):
        text.set_text(visible(text.get_text()))
    dates = {"Date": None} if kind == "svg" else {"CreationDate": None, "Producer": None}
    buffer = io.BytesIO()
    # The library reads this variable if it would write the time otherwise.
    before = os.environ.get("SOURCE_DATE_EPOCH")
    os.environ["SOURCE_DATE_EPOCH"] = "0"
    try:
        figure.savefig(buffer, format=kind, metadata={"Title": title, "Creator": "Wise Ladder", **dates})
    finally:
        if before is None:
            del os.environ["SOURCE_DATE_EPOCH"]
        else:
            os.environ["SOURCE_DATE_EPOCH"] = before
    save_bytes(output, buffer.getvalue())
