"""Deleting a part of a plan's text with all that refers to it, and moving a part up or down.

As in `rename.py` the grammar finds the references: without the part, reading the plan reports each place that still needs it.
"""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.errors import WriteError
from wise_ladder.plan import messages
from wise_ladder.plan.loader import problems_in
from wise_ladder.plan.parts import ORDERED, Entry, Part, Path, entries, kind_of, parts
from wise_ladder.plan.source import ListNode, MapNode, ScalarNode, Source, parse

if TYPE_CHECKING:
    from collections.abc import Iterable

_ROUNDS = 50
_LISTS_OF_NAMES = ("for", "except", "to", "screens", "from", "lands on", "not splash", "not sign in", "not protected", "given")
"""Lists from which one name can go if others are left."""
_KEPT = ("screens", "rules", "tabs")
"""What says something even if nothing is in it: without `rules` the starter set would apply."""
_ARGUMENT = re.compile(r"\s*(?:=\s*(?:\"[^\"]*\"|[^,()]*))?,?\s*")


class Deletion(NamedTuple):
    """The text without some parts, and the parts that went: the one that was meant, then those that needed it."""

    text: str
    gone: tuple[Part, ...]


def delete(text: str, path: Path) -> Deletion:
    """Delete the part at a path, and all that cannot stand without it.

    Raises WriteError if nothing is there, or if what needs it cannot be deleted; PlanError if the text is not YAML.
    """
    meant = next((part for part in parts(text) if part.path == path), None)
    if meant is None:
        raise WriteError(messages.PART_GONE)
    gone, text = [meant], _without(text, [path])
    for _ in range(_ROUNDS):
        problems = problems_in(text)
        if not problems:
            return Deletion(text, tuple(gone))
        at = [problem.at.start for problem in problems]
        if meant.kind == "argument" and (changed := _without_arguments(text, at, meant.name)) != text:
            text = changed
            continue
        known = {part.path: part for part in parts(text)}
        needing = _enclosing(text, at)
        if not needing:
            raise WriteError(messages.STILL_NEEDED.format(what=problems[0].what))
        gone += [known[each] for each in needing if each in known]
        text = _without(text, needing)
    raise WriteError(messages.STILL_NEEDED.format(what=problems[0].what))


def move(text: str, path: Path, way: int) -> str:
    """Return the text with an item of a list one place up (-1) or down (1).

    Raises WriteError if its order means nothing, or if it is the first or the last; PlanError if the text is not YAML.
    """
    number = path[-1]
    if kind_of(path) not in ORDERED or not isinstance(number, int):
        raise WriteError(messages.NO_ORDER)
    by_path = {entry.path: entry for entry in entries(parse(Source("plan", text)))}
    first, second = sorted((number, number + way))
    pair = [by_path.get((*path[:-1], each)) for each in (first, second)]
    if pair[0] is None or pair[1] is None:
        raise WriteError(messages.NO_FURTHER)
    (a, b), (c, d) = ((each.start, each.end(text)) for each in pair if each is not None)
    return text[:a] + text[c:d] + text[b:c] + text[a:b] + text[d:]


def _enclosing(text: str, at: Iterable[int]) -> list[Path]:
    """Find for each place the smallest thing around it that can go, those that are inside another one left out."""
    around: dict[Path, None] = {}
    all_entries = list(entries(parse(Source("plan", text))))
    for offset in at:
        holding = [entry for entry in all_entries if entry.start <= offset <= entry.end(text) and _can_go(entry)]
        if holding:
            around[max(holding, key=lambda entry: len(entry.path)).path] = None
    return [path for path in around if not any(path[: len(other)] == other for other in around if other != path)]


def _can_go(entry: Entry) -> bool:
    if entry.path[0] == "walks":
        # A walk without one of its steps is another walk.
        return kind_of(entry.path) == "walk"
    if isinstance(entry.path[-1], int) and len(entry.path) > 1 and entry.path[-2] in _LISTS_OF_NAMES:
        return isinstance(entry.holder, ListNode) and len(entry.holder.items) > 1
    return bool(kind_of(entry.path))


def _without(text: str, paths: Iterable[Path]) -> str:
    """Return the text without the entries at these paths, of which none is inside another."""
    by_path = {entry.path: entry for entry in entries(parse(Source("plan", text)))}
    going = {path: by_path[path] for path in paths}
    # A list or map that is empty then goes as well, but for places: a screen may have nothing in it.
    while emptied := [
        path
        for path in {path[:-1] for path in going}
        if path and path[-1] not in _KEPT and not kind_of(path) and _all_go(by_path[path], path, going)
    ]:
        for path in emptied:
            going = {other: entry for other, entry in going.items() if other[: len(path)] != path}
            going[path] = by_path[path]
    for entry in sorted(going.values(), key=lambda entry: entry.start, reverse=True):
        text = _cut(text, entry, going)
    return text


def _all_go(entry: Entry, path: Path, going: dict[Path, Entry]) -> bool:
    node = entry.node
    if isinstance(node, ScalarNode) or node.pieces:
        return False
    if isinstance(node, MapNode):
        return all((*path, key.text) in going for key, _ in node.entries)
    return all((*path, number) in going for number in range(len(node.items)))


def _cut(text: str, entry: Entry, going: dict[Path, Entry]) -> str:
    """Cut an entry out; those behind it that go as well are cut already."""
    siblings: list[tuple[int, str | int]] = (
        [(key.at.start, key.text) for key, _ in entry.holder.entries]
        if isinstance(entry.holder, MapNode)
        else [(node.at.start, number) for number, node in enumerate(entry.holder.items, entry.first)]
    )
    stays = [(*entry.path[:-1], key) not in going for _, key in siblings]
    begin, end = entry.start, entry.end(text)
    if text[entry.holder.at.start] not in "[{":
        start, stop = text.rfind("\n", 0, begin) + 1, text.find("\n", end)
        first = begin == siblings[0][0]
        empty = f"{' ' * (entry.holder.at.column - 1)}[]\n" if first and not any(stays) and entry.path[0] in _KEPT[1:] else ""
        return text[:start] + empty + (text[stop + 1 :] if stop >= 0 else "")
    number = next(place for place, (at, _) in enumerate(siblings) if at == begin)
    if any(stays[number + 1 :]):
        return text[:begin] + text[siblings[number + 1][0] :]
    return text[:begin].rstrip().removesuffix(",") + text[end:]


def _without_arguments(text: str, at: Iterable[int], name: str) -> str:
    """Return the text without an argument of a name wherever it stands at one of the places."""
    for offset in sorted(set(at), reverse=True):
        if not text.startswith(name, offset) or text[offset - 1] not in "( ,":
            continue
        match = _ARGUMENT.match(text, offset + len(name))
        end = match.end() if match else offset + len(name)
        before, after = text[:offset], text[end:]
        if after.startswith(")"):
            before = before.rstrip().removesuffix(",")
            if before.endswith("("):
                before, after = before[:-1], after[1:]
        text = before + after
    return text
