"""Changing what a plan's text says of one move, guard or redirect, and adding moves and screens: the rest stays as it is."""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.errors import WriteError
from wise_ladder.plan import messages
from wise_ladder.plan.insert import insert_entry, insert_item
from wise_ladder.plan.source import ListNode, MapNode, Node, ScalarNode, Source, parse
from wise_ladder.plan.yaml_text import last_end, scalar

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from wise_ladder.plan.model import Move
    from wise_ladder.plan.values import Span

SEPARATOR = ";"
"""What parts several phrases where they are written in one line."""
_LISTS = ("do",)
_SECTIONS = ("screens", "flows", "overlays")


class PlanField(NamedTuple):
    """A key of a move, guard or redirect, and what is written there in one line; `raw`: as YAML, if it is not a phrase."""

    key: str
    text: str
    verbatim: bool = False


def fields(text: str, at: Span) -> list[PlanField]:
    """List the keys of the map that stands at a place of the text; raises WriteError if none does."""
    fields: list[PlanField] = []
    for key, node in _entry(text, at).entries:
        if isinstance(node, ScalarNode):
            fields.append(PlanField(key.text, node.text))
        elif isinstance(node, ListNode) and all(isinstance(item, ScalarNode) for item in node.items):
            parts = [item.text for item in node.items if isinstance(item, ScalarNode)]
            fields.append(PlanField(key.text, f"{SEPARATOR} ".join(parts) if key.text in _LISTS else ", ".join(parts)))
        elif "\n" not in (written := text[node.at.start : node.at.end].rstrip()):
            fields.append(PlanField(key.text, written, verbatim=True))
    return fields


def set_fields(text: str, at: Span, new: Mapping[str, PlanField]) -> str:
    """Return the text with other values for keys of the map at a place; an empty one goes, one that was not there is put first.

    Raises WriteError if no map stands there any more.
    """
    entry = _entry(text, at)
    places = {key.text: number for number, (key, _) in enumerate(entry.entries)}
    changes: list[tuple[int, int, str]] = []
    for key, field in new.items():
        number = places.get(key)
        written = _written(field)
        if number is None:
            if written:
                changes.append(_before(text, entry, key, written))
            continue
        node = entry.entries[number][1]
        if written:
            start = node.at.start
            changes.append(
                (
                    start,
                    max(start, last_end(node, text)),
                    written if start > entry.entries[number][0].at.end + 1 else f" {written}",
                )
            )
        else:
            changes.append((*_stretch(text, entry, number), ""))
    for start, end, put in sorted(changes, reverse=True):
        text = text[:start] + put + text[end:]
    return text


def set_operations(text: str, move: Move, phrases: Sequence[str]) -> str:
    """Return the text with other operations in the place of a move's; nothing else is touched."""
    return set_fields(text, move.at, {"do": PlanField("do", f"{SEPARATOR} ".join(phrases))})


def _written(field: PlanField) -> str:
    if field.verbatim:
        return field.text.strip()
    parts = [part.strip() for part in field.text.split(SEPARATOR if field.key in _LISTS else "\n") if part.strip()]
    if field.key in {"to", "except", "for", "ways"} and "," in field.text:
        parts = [part.strip() for part in field.text.split(",") if part.strip()]
    shown = [scalar(part, flow=True) for part in parts]
    if not shown:
        # Nothing to be done is written down, so that it is seen to be meant.
        return "[]" if field.key in _LISTS else ""
    return shown[0] if len(shown) == 1 else f"[{', '.join(shown)}]"


def _before(text: str, entry: MapNode, key: str, written: str) -> tuple[int, int, str]:
    """Put a new key before the last one: a condition stands between a trigger and what is done."""
    start = entry.entries[-1][0].at
    between = ", " if text[entry.at.start] == "{" else "\n" + " " * (start.column - 1)
    return start.start, start.start, f"{key}: {written}{between}"


def _stretch(text: str, entry: MapNode, number: int) -> tuple[int, int]:
    if number + 1 < len(entry.entries):
        return entry.entries[number][0].at.start, entry.entries[number + 1][0].at.start
    if number == 0:
        return entry.entries[0][0].at.start, last_end(entry.entries[0][1], text)
    before = entry.entries[number - 1][1]
    return last_end(before, text), last_end(entry.entries[number][1], text)


def _entry(text: str, at: Span) -> MapNode:
    entry = _maps(text).get(at.start)
    if entry is None:
        raise WriteError(messages.PART_GONE)
    return entry


@lru_cache(maxsize=2)
def _maps(text: str) -> dict[int, MapNode]:
    """Return each map of a text by where it starts; the same text is asked about again and again."""
    maps: dict[int, MapNode] = {}
    waiting: list[Node] = [node for _, node in parse(Source("plan", text)).entries]
    while waiting:
        node = waiting.pop()
        if isinstance(node, MapNode):
            if node.entries:
                maps[node.at.start] = node
            waiting += [inner for _, inner in node.entries]
        elif isinstance(node, ListNode):
            waiting += node.items
    return maps


# Adding


def add_screen(text: str, name: str, takes: Sequence[str] = ()) -> str:
    """Return the text with a screen added after the others; each argument it takes is a whole number.

    Raises PlanError if the text is not YAML, WriteError if there is such a screen or there can be none.
    """
    text = insert_entry(text, ("screens",), name, "")
    for each in takes:
        text = insert_entry(text, ("screens", name, "takes"), each, "whole number")
    return text


def add_move(text: str, where: str | None, when: str, phrases: Sequence[str]) -> str:
    """Return the text with a move added after the others of a place, None for those that stand anywhere.

    Raises PlanError if the text is not YAML, WriteError if there is no such place.
    """
    shown = [scalar(phrase, flow=True) for phrase in phrases]
    done = shown[0] if len(shown) == 1 else f"[{', '.join(shown)}]"
    move = f"{{when: {scalar(when, flow=True)}, do: {done}}}"
    return insert_item(text, ("anywhere",) if where is None else (*place_path(text, where), "moves"), move)


def place_path(text: str, name: str) -> tuple[str, str]:
    """Return the section and the name of a screen, flow or overlay; raises WriteError if there is none of that name."""
    for key, node in parse(Source("plan", text)).entries:
        if key.text in _SECTIONS and isinstance(node, MapNode) and any(inner.text == name for inner, _ in node.entries):
            return key.text, name
    raise WriteError(messages.NO_SUCH_PLACE.format(name=name))
