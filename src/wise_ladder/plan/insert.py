"""Putting something new into a plan's text, at the place where somebody would write it by hand."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.errors import WriteError
from wise_ladder.plan import messages
from wise_ladder.plan.source import ListNode, MapNode, Node, ScalarNode, Source, is_empty, parse, pieces
from wise_ladder.plan.yaml_text import add_section, insert_after_line, last_end, scalar

if TYPE_CHECKING:
    from collections.abc import Sequence

    from wise_ladder.plan.values import Span

SECTIONS = (
    "format", "app", "about", "include", "start", "policies", "phones", "cover", "memory", "facts", "calls", "flows", "screens",
    "overlays", "anywhere", "guards", "redirects", "links", "unknown address", "rules", "walks",
)  # fmt: skip
"""The sections of a plan in the order of the documents."""
_IN_ONE_LINE = ("takes", "holds", "gives")
"""What is written in one line as long as it is short."""
_LISTS = ("moves", "guards")
"""What is written on lines of its own."""


def insert_entry(text: str, path: Sequence[str], name: str, value: str) -> str:
    """Return the text with `name: value` after the other entries of the map at a path; what is missing of the path is made.

    `value` is YAML in one line, nothing for an entry without a value. Raises WriteError if the entry is there already or
    no map can be put there, PlanError if the text is not YAML.
    """
    written = f"{scalar(name, flow=True)}:{f' {value}' if value else ''}"
    return _insert(text, path, written, name)


def insert_item(text: str, path: Sequence[str], value: str) -> str:
    """Return the text with an item after the others of the list at a path. Otherwise as `insert_entry`."""
    return _insert(text, path, value, "")


def _insert(text: str, path: Sequence[str], written: str, name: str) -> str:
    if len(path) > 2 and path[2] in _LISTS:
        text = _on_lines(text, path[:2])
    holder, node, depth = _deepest(parse(Source("plan", text)), path)
    if name and isinstance(node, MapNode) and depth == len(path) and any(key.text == name for key, _ in node.entries):
        raise WriteError(messages.THERE_ALREADY.format(name=name))
    missing = list(path[depth:])
    dash = "" if name else "- "
    if missing and missing[-1] in _IN_ONE_LINE:
        written = f"{scalar(missing.pop())}: {_bracket(written, is_item=False)}"
    if not depth:
        body = "".join(f"{'  ' * level}{scalar(key)}:\n" for level, key in enumerate(missing))
        return (
            _new_section(text, missing[0], f"{body}{'  ' * len(missing)}{dash}{written}\n")
            if missing
            else _new_section(text, name, f"{written}\n")
        )
    key, node = _entry(holder, path[depth - 1])
    node = pieces(node)[-1]
    if _in_brackets(text, holder, node):
        written = f"{written} {{}}" if name and written.endswith(":") else written
        for step in reversed(missing):
            written, dash = f"{scalar(step, flow=True)}: {_bracket(written, is_item=bool(dash))}", ""
        return _into_brackets(text, key, node, written, is_item=bool(dash))
    if isinstance(node, (MapNode, ListNode)):
        indent, after = " " * (node.at.column - 1), last_end(node, text)
        if isinstance(node, ListNode) == bool(missing or not dash):
            raise WriteError(messages.NOT_SUCH_A_LIST.format(name=path[depth - 1]))
    elif is_empty(node):
        indent, after = " " * (key.at.column + 1), key.at.end
    else:
        raise WriteError(messages.NOT_SUCH_A_LIST.format(name=path[depth - 1]))
    lines = "".join(f"{indent}{'  ' * level}{scalar(step)}:\n" for level, step in enumerate(missing))
    return insert_after_line(text, after, f"{lines}{indent}{'  ' * len(missing)}{dash}{written}\n")


def _on_lines(text: str, path: Sequence[str]) -> str:
    """Return the text with each key of a place on a line of its own, if the place is in braces and nothing around it is."""
    holder, node, depth = _deepest(parse(Source("plan", text)), path)
    if depth < len(path) or not isinstance(node, MapNode) or not node.entries:
        return text
    if text[node.at.start] != "{" or text[holder.at.start] == "{" or "\n" in text[node.at.start : node.at.end]:
        return text
    key, _ = _entry(holder, path[-1])
    indent = " " * (key.at.column + 1)
    lines = "".join(f"\n{indent}{text[inner.at.start : last_end(value, text)]}" for inner, value in node.entries)
    return text[: node.at.start].rstrip() + lines + text[node.at.end :]


def _deepest(top: MapNode, path: Sequence[str]) -> tuple[MapNode, Node, int]:
    """Follow a path as far as it is there: the map that holds the last step, the node there, and how many steps there are."""
    holder, node = top, top
    for depth, step in enumerate(path):
        found = [(piece, value) for piece in pieces(node) if isinstance(piece, MapNode)
                 for key, value in piece.entries if key.text == step]  # fmt: skip
        if not found:
            return holder, node, depth
        holder, node = found[0]  # type: ignore[assignment]
    return holder, node, len(path)


def _entry(holder: MapNode, name: str) -> tuple[ScalarNode, Node]:
    return next((key, node) for key, node in holder.entries if key.text == name)


def _in_brackets(text: str, holder: MapNode, node: Node) -> bool:
    own = not isinstance(node, ScalarNode) and text[node.at.start] in "[{"
    return own or (isinstance(node, ScalarNode) and text[holder.at.start] == "{")


def _bracket(written: str, *, is_item: bool) -> str:
    return f"[{written}]" if is_item else f"{{{written}}}"


def _into_brackets(text: str, key: ScalarNode, node: Node, written: str, *, is_item: bool) -> str:
    if isinstance(node, (MapNode, ListNode)):
        if isinstance(node, ListNode) != is_item:
            raise WriteError(messages.NOT_SUCH_A_LIST.format(name=key.text))
        return _into(text, node.at, written, empty=not (node.entries if isinstance(node, MapNode) else node.items))
    if not is_empty(node):
        raise WriteError(messages.NOT_SUCH_A_LIST.format(name=key.text))
    colon = text.find(":", key.at.end, key.at.end + 1)
    begin = colon + 1 if colon >= 0 else key.at.end
    return f"{text[:begin]}{'' if colon >= 0 else ':'} {_bracket(written, is_item=is_item)}{text[max(begin, node.at.end) :]}"


def _into(text: str, at: Span, item: str, *, empty: bool) -> str:
    """Put an item before the bracket that ends a list or a map."""
    end = at.end - 1
    kept = text[:end].rstrip().removesuffix(",")
    kept += " " if kept.endswith(":") else ""
    return f"{kept}{'' if empty else ', '}{item}{text[end:]}"


def _new_section(text: str, name: str, lines: str) -> str:
    """Put a section before the first one that comes later in the documents, in a paragraph of its own if others have one."""
    entries = [entry for entry in parse(Source("plan", text)).entries if not entry[0].at.file]
    rank = SECTIONS.index(name) if name in SECTIONS else len(SECTIONS)
    later = next((key for key, _ in entries if key.text in SECTIONS and SECTIONS.index(key.text) > rank), None)
    apart = "\n" if "\n\n" in text.strip() else ""
    if later is None:
        return add_section(text, f"{apart}{lines}")
    start = text.rfind("\n", 0, later.at.start) + 1
    # Comments right above a section belong to it.
    while start and (above := text.rfind("\n", 0, start - 1) + 1) < start and text[above:start].lstrip().startswith("#"):
        start = above
    if lines.count("\n") == 1 and not text[:start].endswith("\n\n"):
        return f"{text[:start]}{lines}{text[start:]}"
    return f"{text[:start]}{'' if text[:start].endswith(chr(10) * 2) else apart}{lines}{apart}{text[start:]}"
