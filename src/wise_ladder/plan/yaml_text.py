"""Putting a change back into a plan's text: only the changed stretch differs, comments and order stay as they are."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

import yaml

from wise_ladder.errors import WriteError
from wise_ladder.plan import messages
from wise_ladder.plan.included import end_of_own_file
from wise_ladder.plan.source import ListNode, MapNode, Node, Source, parse
from wise_ladder.safe import named, unsafe

if TYPE_CHECKING:
    from collections.abc import Sequence


def add_walk(text: str, name: str, steps: list[str], given: list[str], phone: str = "") -> str:
    """Return the text with a walk added after the others; `phone`: the one it is run on, if that is not the first.

    Raises WriteError if no walk can have that name, one has it already, or the walks stand in braces,
    PlanError if the text is not YAML.
    """
    if fault := unsafe(name, is_name=True):
        raise WriteError(messages.INVISIBLE_IN_NAME.format(character=named(fault.group())))
    top = parse(Source("plan", text))
    walks = next(((key, node) for key, node in top.entries if key.text == "walks"), None)
    if walks is None:
        return add_section(text, "\nwalks:\n" + walk_text("  ", name, steps, given, phone))
    key, node = walks
    if not isinstance(node, MapNode):
        return insert_after_line(text, key.at.end, walk_text("  ", name, steps, given, phone))
    if any(other.text == name for other, _ in node.entries):
        raise WriteError(messages.WALK_EXISTS.format(name=name))
    node = (node.pieces or (node,))[-1]
    if text[node.at.start : node.at.start + 1] == "{":
        raise WriteError(messages.BRACED_WALKS)
    indent = " " * (node.entries[0][0].at.column - 1)
    return insert_after_line(text, last_end(node, text), "\n" + walk_text(indent, name, steps, given, phone))


def next_operation(phrases: Sequence[str]) -> list[str]:
    """Turn the first put of a move: push, replace, reach, clear and push; raises WriteError if there is none."""
    for place, phrase in enumerate(phrases):
        word, _, rest = phrase.partition(" ")
        if word not in _TURNS:
            continue
        target = _AFTER.split(rest)[0].strip()
        before, after = list(phrases[:place]), list(phrases[place + 1 :])
        if word == "push" and before and before[-1] == "clear":
            return [*before[:-1], f"push {target}", *after]
        if word == "reach":
            return [*before, "clear", f"push {target}", *after]
        return [*before, f"{_TURNS[word]} {target}", *after]
    raise WriteError(messages.NO_SCREEN_TO_TURN)


_TURNS = {"push": "replace", "replace": "reach", "reach": "clear"}
_AFTER = re.compile(r"\s(?=once\b|awaiting\b|exactly\b|on\b)")


def walk_text(indent: str, name: str, steps: list[str], given: list[str], phone: str) -> str:
    """Write a walk as an entry of `walks`."""
    lines = [f"{indent}{scalar(name)}:"]
    if phone:
        lines.append(f"{indent}  phone: {scalar(phone)}")
    if given:
        lines.append(f"{indent}  given: [{', '.join(scalar(line, flow=True) for line in given)}]")
    if given or phone:
        lines.append(f"{indent}  steps:")
        lines += [f"{indent}    - {scalar(line)}" for line in steps]
    else:
        lines += [f"{indent}  - {scalar(line)}" for line in steps]
    return "\n".join(lines) + "\n"


def scalar(text: str, *, flow: bool = False) -> str:
    """Write a phrase as YAML: as it is where it reads back so, else in quotes."""
    try:
        read = yaml.compose(f"[{text}]" if flow else f"- {text}")
        plain = isinstance(read, yaml.SequenceNode) and [node.value for node in read.value] == [text]
        keyed = flow or yaml.compose(f"{text}: x").value[0][0].value == text
    except (yaml.YAMLError, AttributeError, TypeError, IndexError):
        plain = keyed = False
    return text if plain and keyed else "'" + text.replace("'", "''") + "'"


def last_end(node: Node, text: str) -> int:
    """Return where the last word or bracket of a node ends; its own span goes on to whatever comes next."""
    if text[node.at.start : node.at.start + 1] in {"[", "{"}:
        return node.at.end
    if isinstance(node, MapNode) and node.entries:
        key, value = node.entries[-1]
        return max(key.at.end, last_end(value, text))
    if isinstance(node, ListNode) and node.items:
        return max(last_end(node.items[-1], text), node.items[-1].at.start)
    return node.at.end


def add_section(text: str, lines: str) -> str:
    """Return the text with lines put at the end of the plan's own file."""
    end = end_of_own_file(text)
    return _ending_in_line(text[:end]) + lines + text[end:]


def insert_after_line(text: str, at: int, new: str) -> str:
    """Return the text with lines put after the one that a place is in."""
    end = text.find("\n", at)
    if end < 0:
        return _ending_in_line(text) + new
    return text[: end + 1] + new + text[end + 1 :]


def _ending_in_line(text: str) -> str:
    return text if text.endswith("\n") or not text else text + "\n"
