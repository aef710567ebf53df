"""What came of comparing two versions of a plan, as text for people and as JSON for programs."""

from __future__ import annotations

from itertools import groupby
from typing import TYPE_CHECKING
from urllib.parse import quote

import msgspec
from msgspec import Struct

from wise_ladder.reports import messages
from wise_ladder.reports.markdown import escaped, table
from wise_ladder.safe import made_visible
from wise_ladder.semantics.text import duration_text

if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator, Sequence

    from wise_ladder.trials.compare import Turned, Versions
    from wise_ladder.trials.pairs import Difference

MOST_KEPT = 10
"""So many things are listed that are only kept otherwise."""


def as_text(versions: Versions) -> Iterator[str]:
    """Tell what differs, screen by screen, each with a shortest path; then what turned, and how far was looked."""
    noticed, kept = versions.noticed, versions.kept
    yield _summary(versions)
    yield from (f"  {messages.GUESSED_NAME.format(words=words)}" for words in versions.names.words)
    for screen, group in groupby(sorted(noticed, key=lambda each: each.screen), key=lambda each: each.screen):
        yield screen or messages.BEFORE_ANY_SCREEN
        for each in group:
            yield from _told(each)
    if kept:
        yield messages.ONLY_KEPT
        for each in kept[:MOST_KEPT]:
            yield from _told(each)
        if len(kept) > MOST_KEPT:
            yield f"  {messages.AND_MORE.format(count=len(kept) - MOST_KEPT)}"
    for turned in versions.turned:
        yield from _turned(turned)
    yield from _saved(versions)
    yield from _ends(versions)


def _ends(versions: Versions) -> Iterator[str]:
    yield extent_words(versions)
    if versions.saved.whole and not versions.saved.stranded:
        yield messages.ALL_SAVED_STAND.format(count=versions.saved.ladders)


def _summary(versions: Versions) -> str:
    if versions.same:
        return messages.VERSIONS_SAME.format(app=versions.new.app)
    return messages.VERSIONS_DIFFER.format(
        app=versions.new.app, noticed=len(versions.noticed), kept=len(versions.kept), turned=len(versions.turned)
    )


def _told(difference: Difference) -> Iterator[str]:
    yield f"  {_by(difference)}: {difference.words}"
    yield f"    {_path(difference.path)}"


def _by(difference: Difference) -> str:
    """Say by what it is noticed, and where, if there is a choice of phones or named givens."""
    where = difference.new.plan.where
    return messages.BY_ELSEWHERE.format(event=difference.event, where=where) if where else difference.event


def _saved(versions: Versions) -> Iterator[str]:
    for stranded in versions.saved.stranded:
        yield messages.STRANDED.format(why=stranded.why, seen=stranded.seen)
        yield f"    {_path(stranded.path)}"


def _turned(turned: Turned) -> Iterator[str]:
    yield messages.TURNED.format(kind=turned.kind, name=turned.name, now=turned.now, was=turned.was)
    if turned.path:
        yield f"    {_path(turned.path)}"


def extent_words(versions: Versions) -> str:
    """Say how far was looked, on other phones too."""
    extent = versions.extent
    extents = [extent, *versions.elsewhere.values()]
    took = duration_text(round(sum(each.seconds for each in extents) * 1000))
    if versions.whole and not versions.differences:
        return messages.EQUAL_AT_EVERY_DEPTH.format(pairs=sum(each.pairs for each in extents), took=took)
    elsewhere = "".join(
        messages.LOOKED_ELSEWHERE.format(where=where, pairs=each.pairs, depth=each.depth)
        for where, each in versions.elsewhere.items()
    )
    return messages.LOOKED_AT_PAIRS.format(pairs=extent.pairs, depth=extent.depth, elsewhere=elsewhere, took=took)


def as_markdown(versions: Versions, strips: Sequence[tuple[str, str]]) -> str:
    """Write what differs as a page to paste into a review.

    `strips`: for the first differences that are noticed, the names of two pictures beside the page: before and after.
    """
    lines = [f"# {escaped(messages.PAGE_OF_CHANGE.format(app=versions.new.app))}", "", escaped(_summary(versions))]
    lines += ["", *(f"- {escaped(messages.GUESSED_NAME.format(words=words))}" for words in versions.names.words)]
    lines += _section(messages.NOTICED, _DIFFERENCE, map(_row, versions.noticed))
    for each, (before, after) in zip(versions.noticed, strips, strict=False):
        lines += ["", f"### {escaped(f'{_by(each)}: {each.words}')}", ""]
        lines += [messages.BEFORE, "", f"![{messages.BEFORE}]({quote(before)})", ""]
        lines += [messages.NOW, "", f"![{messages.NOW}]({quote(after)})"]
    lines += _section(messages.ONLY_KEPT, _DIFFERENCE, map(_row, versions.kept[:MOST_KEPT]))
    turned = ((f"{each.kind} {each.name}", each.was, each.now, _path(each.path)) for each in versions.turned)
    lines += _section(messages.THAT_TURNED, (messages.WHAT, messages.BEFORE, messages.NOW, messages.PATH), turned)
    stranded = ((each.why, each.seen, _path(each.path)) for each in versions.saved.stranded)
    lines += _section(messages.THAT_ARE_STRANDED, (messages.WHAT, messages.SEEN_THEN, messages.PATH), stranded)
    lines += ["", *(f"- {escaped(line)}" for line in _ends(versions))]
    return "\n".join(lines) + "\n"


_DIFFERENCE = (messages.ON_SCREEN, messages.BY, messages.WHAT, messages.PATH)


def _section(title: str, heads: tuple[str, ...], rows: Iterable[tuple[str, ...]]) -> list[str]:
    """Write a table under its heading, nothing without rows."""
    found = list(rows)
    return ["", f"## {title[0].upper()}{title[1:]}", "", *table(heads, found)] if found else []


def _row(each: Difference) -> tuple[str, ...]:
    return each.screen or messages.BEFORE_ANY_SCREEN, _by(each), each.words, _path(each.path)


def _path(path: Sequence[str]) -> str:
    return " · ".join(path)


class DifferenceReport(Struct):
    """What is noticed, or only kept otherwise, at the end of a path: on which screen, by what."""

    grade: str
    screen: str
    event: str
    words: str
    path: list[str]


class TurnedReport(Struct):
    """A walk or rule with another verdict."""

    kind: str
    name: str
    was: str
    now: str
    path: list[str]


class StrandedReport(Struct):
    """A rung of a ladder saved under the old version that cannot stand under the new one, and what is seen then."""

    why: str
    seen: str
    path: list[str]


class VersionsReport(Struct):
    """What differs between two versions; `whole`: there are no more pairs of states."""

    format: int
    app: str
    same: bool
    guessed: list[str]
    differences: list[DifferenceReport]
    turned: list[TurnedReport]
    stranded: list[StrandedReport]
    pairs: int
    depth: int
    whole: bool


def as_json(versions: Versions) -> bytes:
    """Write what differs."""
    found = [DifferenceReport(each.grade, each.screen, each.event, each.words, each.path) for each in versions.differences]
    turned = [TurnedReport(each.kind, each.name, each.was, each.now, each.path) for each in versions.turned]
    stranded = [StrandedReport(each.why, each.seen, each.path) for each in versions.saved.stranded]
    extent = versions.extent
    report = VersionsReport(
        1, versions.new.app, versions.same, versions.names.words, found, turned, stranded,
        extent.pairs, extent.depth, extent.whole,
    )  # fmt: skip
    return msgspec.json.format(msgspec.json.encode(made_visible(msgspec.to_builtins(report))), indent=2)
