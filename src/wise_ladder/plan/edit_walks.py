"""Changing what a plan's text says of a walk: a step edited or added, the whole renamed, copied or taken out."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.errors import WriteError
from wise_ladder.plan import messages
from wise_ladder.plan.source import ListNode, MapNode, Node, ScalarNode, Source, parse
from wise_ladder.plan.yaml_text import insert_after_line, last_end, scalar

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.values import Span


def set_step(text: str, at: Span, step: str) -> str:
    """Return the text with another step in the place of one; an empty one deletes it. Raises WriteError for the only step."""
    items, place = _list_of(text, at)
    if step.strip():
        return text[: at.start] + scalar(step.strip(), flow=text[items.at.start] == "[") + text[at.end :]
    if len(items.items) == 1:
        raise WriteError(messages.ONLY_STEP)
    if text[items.at.start] == "[":
        if place:
            return text[: items.items[place - 1].at.end] + text[last_end(items.items[place], text) :]
        return text[: at.start] + text[items.items[1].at.start :]
    start = text.rfind("\n", 0, at.start) + 1
    end = text.find("\n", at.end)
    return text[:start] + (text[end + 1 :] if end >= 0 else "")


def insert_step(text: str, at: Span, step: str) -> str:
    """Return the text with a new step after one."""
    items, _ = _list_of(text, at)
    written = scalar(step.strip(), flow=True)
    if text[items.at.start] == "[":
        return f"{text[: at.end]}, {written}{text[at.end :]}"
    return insert_after_line(text, at.end, " " * (items.at.column - 1) + f"- {written}\n")


def rename_walk(text: str, name: str, new: str) -> str:
    """Return the text with another name for a walk; where others start from it, they start from it by the new name."""
    key, _ = _walk(text, name, new)
    text = text[: key.at.start] + scalar(new) + text[key.at.end :]
    for at in reversed([node.at for node in _scalars(parse(Source("plan", text))) if node.text == f"start from {name}"]):
        text = text[: at.start] + scalar(f"start from {new}", flow=True) + text[at.end :]
    return text


def copy_walk(text: str, name: str, new: str) -> str:
    """Return the text with a copy of a walk under another name, right after it."""
    key, node = _walk(text, name, new)
    indent = " " * (key.at.column - 1)
    body = text[key.at.end : max(last_end(node, text), key.at.end)].rstrip()
    return insert_after_line(text, last_end(node, text), f"{indent}{scalar(new)}{body}\n")


def delete_walk(text: str, name: str) -> str:
    """Return the text without a walk."""
    key, node = _walk(text, name, None)
    start = text.rfind("\n", 0, key.at.start) + 1
    end = text.find("\n", last_end(node, text))
    return text[:start] + (text[end + 1 :] if end >= 0 else "")


def _walk(text: str, name: str, new: str | None) -> tuple[ScalarNode, Node]:
    for key, node in parse(Source("plan", text)).entries:
        if key.text != "walks" or not isinstance(node, MapNode):
            continue
        if text[node.at.start] == "{":
            raise WriteError(messages.BRACED_WALKS)
        if new is not None and any(other.text == new for other, _ in node.entries):
            raise WriteError(messages.WALK_EXISTS.format(name=new))
        for entry in node.entries:
            if entry[0].text == name:
                return entry
    raise WriteError(messages.WALK_GONE.format(name=name))


def _list_of(text: str, at: Span) -> tuple[ListNode, int]:
    """Return the list that a step stands in, and its place there."""
    waiting: list[Node] = [parse(Source("plan", text))]
    while waiting:
        node = waiting.pop()
        if isinstance(node, ListNode):
            for place, item in enumerate(node.items):
                if item.at.start == at.start and isinstance(item, ScalarNode):
                    return node, place
            waiting += node.items
        elif isinstance(node, MapNode):
            waiting += [inner for _, inner in node.entries]
    raise WriteError(messages.STEP_GONE)


def _scalars(node: Node) -> Iterator[ScalarNode]:
    if isinstance(node, ScalarNode):
        yield node
    elif isinstance(node, ListNode):
        for item in node.items:
            yield from _scalars(item)
    else:
        for _, inner in node.entries:
            yield from _scalars(inner)
