"""Reading a page of Markdown as another program does: its headings, tables, boxes, and whether all its links lead somewhere."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING
from urllib.parse import unquote

from markdown_it import MarkdownIt

if TYPE_CHECKING:
    from collections.abc import Iterator
    from pathlib import Path

    from markdown_it.token import Token


class Page:
    """A page that was read by a Markdown parser."""

    def __init__(self, path: Path) -> None:
        """Read a file."""
        self.path, self.text = path, path.read_text(encoding="utf-8")
        self.tokens = MarkdownIt("commonmark").enable("table").parse(self.text)

    def headings(self) -> list[str]:
        """Return the headings, each with as many # as its level."""
        return [
            f"{'#' * int(token.tag[1])} {self.tokens[place + 1].content}"
            for place, token in enumerate(self.tokens)
            if token.type == "heading_open"
        ]

    def table_after(self, heading: str) -> list[list[str]]:
        """Return the rows of the first table after a heading, its heads first."""
        begin = next(place for place, token in enumerate(self.tokens) if token.type == "inline" and token.content == heading)
        rows: list[list[str]] = []
        for place in range(begin, len(self.tokens)):
            token = self.tokens[place]
            if token.type == "tr_open":
                rows.append([])
            elif token.type in {"td_open", "th_open"}:
                rows[-1].append(plain(self.tokens[place + 1]))
            elif token.type == "table_close":
                break
        return rows

    def items(self) -> list[str]:
        """Return the items of all lists, as they are read."""
        return [plain(self.tokens[place + 2]) for place, token in enumerate(self.tokens) if token.type == "list_item_open"]

    def dead_links(self) -> list[str]:
        """List what is linked or shown and is not there."""
        anchors = set(re.findall(r'<a id="([^"]+)"></a>', self.text))
        return [
            link
            for link in self._links()
            if not (link[1:] in anchors if link.startswith("#") else (self.path.parent / unquote(link)).is_file())
        ]

    def _links(self) -> Iterator[str]:
        for token in self.tokens:
            for child in token.children or ():
                link = child.attrs.get("href") or child.attrs.get("src")
                if link is not None:
                    yield str(link)


def plain(token: Token) -> str:
    """Return the text of a line without its marks."""
    return "".join(child.content for child in token.children or () if child.type in {"text", "code_inline"})
