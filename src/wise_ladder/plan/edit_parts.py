"""Changing what a plan's text says of any part: the keys of a map, or a single value."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.errors import WriteError
from wise_ladder.plan import messages
from wise_ladder.plan.edit_moves import PlanField, fields, set_fields
from wise_ladder.plan.parts import Entry, Path, entries
from wise_ladder.plan.source import MapNode, Source, is_empty, parse
from wise_ladder.plan.yaml_text import insert_after_line, last_end

if TYPE_CHECKING:
    from collections.abc import Mapping

USUAL: dict[str, tuple[str, ...]] = {
    "screen": ("takes", "holds", "gives", "header", "arrow", "weight"),
    "flow": ("screens", "start", "tabs"),
    "overlay": ("kind", "back", "of", "for", "gives"),
    "cover": ("least", "until", "most"),
    "memory": ("warn", "dies"),
    "move": ("when", "if", "do"),
    "guard": ("name", "if", "ways", "watches", "block", "ask", "do"),
    "redirect": ("to", "if", "send to", "remember"),
    "link": ("address", "build", "mode"),
    "start": ("if", "put"),
    "rule": ("rule", "screens", "if", "note", "name"),
}
"""The keys that are offered for each kind of part, besides those that are there."""


def part_fields(text: str, path: Path, kind: str) -> list[PlanField]:
    """List the keys of a part with what they say, the usual ones of its kind too; of a single value one field without a key.

    Raises WriteError if nothing is at the path, PlanError if the text is not YAML.
    """
    node = _entry(text, path).node
    if isinstance(node, MapNode) and node.entries:
        there = {field.key: field for field in fields(text, node.at)}
    elif kind in USUAL and (isinstance(node, MapNode) or is_empty(node)):
        there = {}
    else:
        return [PlanField("", text[node.at.start : last_end(node, text)], verbatim=True)]
    nested = {key.text for key, _ in node.entries} - set(there) if isinstance(node, MapNode) else set[str]()
    keys = dict.fromkeys((*USUAL.get(kind, ()), *there))
    return [there.get(key, PlanField(key, "")) for key in keys if key not in nested]


def set_part_fields(text: str, path: Path, new: Mapping[str, PlanField]) -> str:
    """Return the text with other values for keys of a part; a key with an empty value is deleted. Raises as `part_fields`."""
    entry = _entry(text, path)
    node, given = entry.node, {key: _verbatim(field) for key, field in new.items()}
    if "" in given:
        if not given[""].text.strip():
            raise WriteError(messages.VALUE_NEEDED)
        return text[: node.at.start] + given[""].text.strip() + text[last_end(node, text) :]
    if isinstance(node, MapNode) and node.entries:
        return set_fields(text, node.at, given)
    written = [f"{key}: {field.text.strip()}" for key, field in given.items() if field.text.strip()]
    if not written or entry.key is None:
        return text
    if isinstance(node, MapNode):
        return f"{text[: node.at.start]}{{{', '.join(written)}}}{text[node.at.end :]}"
    if text[entry.holder.at.start] == "{":
        end = entry.key.at.end
        colon = text.find(":", end) + 1 if text[end : end + 1] == ":" else end
        return f"{text[:colon]}{'' if colon > end else ':'} {{{', '.join(written)}}}{text[max(colon, node.at.end) :]}"
    indent = " " * (entry.key.at.column + 1)
    return insert_after_line(text, entry.key.at.end, "".join(f"{indent}{line}\n" for line in written))


def _verbatim(field: PlanField) -> PlanField:
    """Take what begins with a bracket as it is: it is a list or a map, not a phrase."""
    return field._replace(verbatim=True) if field.text.lstrip().startswith(("[", "{")) else field


def _entry(text: str, path: Path) -> Entry:
    entry = next((entry for entry in entries(parse(Source("plan", text))) if entry.path == path), None)
    if entry is None:
        raise WriteError(messages.PART_GONE)
    return entry
