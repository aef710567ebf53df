"""Texts, tables and anchors in Markdown, so that nothing in a text is Markdown or HTML."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from wise_ladder.safe import visible

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence


def escaped(text: str) -> str:
    """Write a text in one line so that nothing in it is Markdown or HTML."""
    text = visible(text).replace("\n", " ").replace("&", "&amp;").replace("<", "&lt;")
    return re.sub(r"([\\`*_\[\]|#~!])", r"\\\1", text)


def table(heads: Sequence[str], rows: Iterable[Sequence[str]]) -> list[str]:
    """Write a table; its cells are texts that are escaped here."""
    lines = [f"| {' | '.join(heads)} |", "|" + "---|" * len(heads)]
    return [*lines, *(f"| {' | '.join(map(escaped, row))} |" for row in rows)]


def anchor(name: str) -> str:
    """Write a place that links of the page can lead to; `name` is plain letters and digits."""
    return f'<a id="{name}"></a>'
