"""Pages about screens in Markdown, each with the map around its screen as a picture beside the page."""

from __future__ import annotations

from typing import TYPE_CHECKING
from urllib.parse import quote

from wise_ladder.reports import messages
from wise_ladder.reports.markdown import anchor, escaped, table

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping

    from wise_ladder.reports.screen_page import ScreenPage, ScreenPages


def as_markdown(made: ScreenPages, path: str, maps: Mapping[str, str]) -> str:
    """Write the pages of a plan's file; `maps` are the names of the pictures beside it, by screen.

    Several pages begin with a list that links to each.
    """
    plan, extent = made.plan, made.extent
    phone = f" {plan.where}" if plan.where else ""
    known = messages.KNOWN.format(app=plan.app, phone=phone, path=path, extent=extent.words, figures=extent.figures)
    if len(made.pages) == 1:
        return "\n".join(_page(made.pages[0], "#", maps, escaped(known))) + "\n"
    lines = [f"# {escaped(messages.ALL_SCREENS.format(app=plan.app))}", "", escaped(known), ""]
    lines += [f"- [{escaped(page.screen)}](#{_anchor(number)})" for number, page in enumerate(made.pages, 1)]
    for number, page in enumerate(made.pages, 1):
        lines += ["", anchor(_anchor(number)), "", *_page(page, "##", maps)]
    return "\n".join(lines) + "\n"


def _anchor(number: int) -> str:
    return f"screen-{number}"


def _page(page: ScreenPage, level: str, maps: Mapping[str, str], about: str = "") -> Iterator[str]:
    yield from (f"{level} {escaped(page.screen)}", "")
    if about:
        yield from (about, "")
    if page.about:
        yield from (*(f"- {escaped(words)}" for words in page.about), "")
    for section in page.sections:
        yield from (f"{level}# {section.title}", "", *table(section.heads, section.rows), "")
    yield f"{level}# {messages.MAP_AROUND}"
    yield from ("", f"![{escaped(page.screen)}]({quote(maps[page.screen])})")
