"""Changing what a plan's text says of a walk: a step edited or added, the whole renamed, copied or taken out."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.errors import WritingError
from wise_ladder.plan.source import Entries, Items, Node, Scalar, Source, parse
from wise_ladder.plan.writing import insert_after_line, last_end, scalar

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.values import Span


def with_step(text: str, at: Span, step: str) -> str:
    """Return the text with another step in the place of one; an empty one takes it out."""
    items, place = _list_of(text, at)
    if step.strip():
        return text[: at.start] + scalar(step.strip(), flow=text[items.at.start] == "[") + text[at.end :]
    if len(items.items) == 1:
        raise WritingError("this is the only step here; delete the walk, or write another one")
    if text[items.at.start] == "[":
        if place:
            return text[: items.items[place - 1].at.end] + text[last_end(items.items[place], text) :]
        return text[: at.start] + text[items.items[1].at.start :]
    start = text.rfind("\n", 0, at.start) + 1
    end = text.find("\n", at.end)
    return text[:start] + (text[end + 1 :] if end >= 0 else "")


def with_step_after(text: str, at: Span, step: str) -> str:
    """Return the text with a new step after one."""
    items, _ = _list_of(text, at)
    written = scalar(step.strip(), flow=True)
    if text[items.at.start] == "[":
        return f"{text[: at.end]}, {written}{text[at.end :]}"
    return insert_after_line(text, at.end, " " * (items.at.column - 1) + f"- {written}\n")


def renamed(text: str, name: str, new: str) -> str:
    """Return the text with another name for a walk; where others start from it, they start from it by the new name."""
    key, _ = _walk(text, name, new)
    text = text[: key.at.start] + scalar(new) + text[key.at.end :]
    for at in reversed([node.at for node in _scalars(parse(Source("plan", text))) if node.text == f"start from {name}"]):
        text = text[: at.start] + scalar(f"start from {new}", flow=True) + text[at.end :]
    return text


def copied(text: str, name: str, new: str) -> str:
    """Return the text with a copy of a walk under another name, right after it."""
    key, node = _walk(text, name, new)
    indent = " " * (key.at.column - 1)
    body = text[key.at.end : max(last_end(node, text), key.at.end)].rstrip()
    return insert_after_line(text, last_end(node, text), f"{indent}{scalar(new)}{body}\n")


def without_walk(text: str, name: str) -> str:
    """Return the text without a walk."""
    key, node = _walk(text, name, None)
    start = text.rfind("\n", 0, key.at.start) + 1
    end = text.find("\n", last_end(node, text))
    return text[:start] + (text[end + 1 :] if end >= 0 else "")


def _walk(text: str, name: str, new: str | None) -> tuple[Scalar, Node]:
    for key, node in parse(Source("plan", text)).entries:
        if key.text != "walks" or not isinstance(node, Entries):
            continue
        if text[node.at.start] == "{":
            raise WritingError("the walks stand in braces; write each on lines of its own first")
        if new is not None and any(other.text == new for other, _ in node.entries):
            raise WritingError(f'there is a walk "{new}" already; choose another name')
        for found in node.entries:
            if found[0].text == name:
                return found
    raise WritingError(f'there is no walk "{name}" any more')


def _list_of(text: str, at: Span) -> tuple[Items, int]:
    """Return the list that a step stands in, and its place there."""
    waiting: list[Node] = [parse(Source("plan", text))]
    while waiting:
        node = waiting.pop()
        if isinstance(node, Items):
            for place, item in enumerate(node.items):
                if item.at.start == at.start and isinstance(item, Scalar):
                    return node, place
            waiting += node.items
        elif isinstance(node, Entries):
            waiting += [inner for _, inner in node.entries]
    raise WritingError("the step does not stand there any more")


def _scalars(node: Node) -> Iterator[Scalar]:
    if isinstance(node, Scalar):
        yield node
    elif isinstance(node, Items):
        for item in node.items:
            yield from _scalars(item)
    else:
        for _, inner in node.entries:
            yield from _scalars(inner)
