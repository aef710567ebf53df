"""The parts of a plan's text: each screen, move, guard, fact ... with its place, in the order of the file."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple, TypeAlias

from msgspec.structs import replace

from wise_ladder.plan.source import ListNode, MapNode, Node, ScalarNode, Source, parse, pieces
from wise_ladder.plan.yaml_text import last_end

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.values import Span

Path: TypeAlias = "tuple[str | int, ...]"
"""Keys and list indexes from the top of the file down to a node."""

ANY_KEY, ANY_ITEM = "*", "#"
_PLACES = ("screens", "flows", "overlays")


def _on_places(*keys: str) -> tuple[tuple[str, ...], ...]:
    return tuple((section, ANY_KEY, *keys) for section in _PLACES)


KINDS: dict[str, tuple[tuple[str, ...], ...]] = {
    "screen": (("screens", ANY_KEY),),
    "flow": (("flows", ANY_KEY),),
    "overlay": (("overlays", ANY_KEY),),
    "tab": (("flows", ANY_KEY, "tabs", ANY_KEY),),
    "argument": _on_places("takes", ANY_KEY),
    "fact": (("facts", ANY_KEY), *_on_places("holds", ANY_KEY)),
    "result": _on_places("gives", ANY_KEY),
    "call": (("calls", ANY_KEY),),
    "reply": (("calls", ANY_KEY, ANY_KEY),),
    "timer": (("timers", ANY_KEY),),
    "move": (("anywhere", ANY_ITEM), *_on_places("moves", ANY_ITEM)),
    "guard": (("guards", ANY_ITEM), *_on_places("guards", ANY_ITEM)),
    "answer": (("guards", ANY_ITEM, "ask", "answers", ANY_ITEM), *_on_places("guards", ANY_ITEM, "ask", "answers", ANY_ITEM)),
    "redirect": (("redirects", ANY_ITEM),),
    "link": (("links", ANY_ITEM),),
    "start": (("start", ANY_ITEM),),
    "arrow": _on_places("arrow"),
    "menu": _on_places("menu"),
    "cover": (("cover",),),
    "memory": (("memory",),),
    "unknown address": (("unknown address",),),
    "policy": (("policies", ANY_KEY),),
    "phone": (("phones", ANY_KEY),),
    "given": (("givens", ANY_KEY),),
    "rule": (("rules", ANY_ITEM),),
    "walk": (("walks", ANY_KEY),),
}
"""Where each kind of part stands."""
ORDERED = ("move", "guard", "redirect", "link", "rule", "start", "answer")
"""Kinds of which the first one that fits is taken, or that are asked in the order of the file."""
_OF_A_PLACE = ("arrow", "menu")
"""What a place has once: it is named after the place."""
_NAMED_BY: dict[str, tuple[str, ...]] = {"move": ("when",), "guard": ("name",), "link": ("address",), "rule": ("name", "rule")}


NOT_REPLIES = ("again", "never silent")
"""Keys of a call that name no reply."""


class Part(NamedTuple):
    """A part: its kind, its name as it is written, what else it says in one line, its path, and where it stands."""

    kind: str
    name: str
    text: str
    path: Path
    at: Span

    @property
    def words(self) -> str:
        """Name it for reading: `screen hive`, `cover`."""
        return self.kind if self.kind == self.name else f"{self.kind} {self.name}"


class Entry(NamedTuple):
    """An entry of a map, or an item of a list (then `key` is None), with the node that holds it and its path.

    `first`: the number of the first item of the holder, which is not 0 if that is a further piece of a list in several files.
    """

    path: Path
    holder: MapNode | ListNode
    key: ScalarNode | None
    node: Node
    first: int = 0

    @property
    def start(self) -> int:
        """Where it begins."""
        return (self.key or self.node).at.start

    def end(self, text: str) -> int:
        """Return where its last word ends."""
        return max(last_end(self.node, text), self.key.at.end if self.key is not None else self.start)


def entries(top: MapNode) -> Iterator[Entry]:
    """Go through all entries and items of a plan, each before what is in it."""
    waiting: list[tuple[Path, Node]] = [((), top)]
    while waiting:
        path, node = waiting.pop()
        inner: list[tuple[Path, Node]] = []
        first = 0
        for piece in pieces(node):
            if isinstance(piece, MapNode):
                for key, value in piece.entries:
                    yield Entry((*path, key.text), piece, key, value)
                    inner.append(((*path, key.text), value))
            elif isinstance(piece, ListNode):
                for number, item in enumerate(piece.items, first):
                    yield Entry((*path, number), piece, None, item, first)
                    inner.append(((*path, number), item))
                first += len(piece.items)
        waiting += reversed(inner)


def kind_of(path: Path) -> str:
    """Return the kind of the part at a path, nothing if none stands there."""
    for kind, patterns in KINDS.items():
        if any(_fits(path, pattern) for pattern in patterns):
            return "" if kind == "reply" and path[-1] in NOT_REPLIES else kind
    return ""


def _fits(path: Path, pattern: tuple[str, ...]) -> bool:
    return len(path) == len(pattern) and all(
        (wanted == ANY_ITEM) if isinstance(step, int) else wanted in {step, ANY_KEY}
        for step, wanted in zip(path, pattern, strict=True)
    )


def parts(text: str) -> list[Part]:
    """List the parts of a plan's text in the order of the file; raises PlanError if it is not YAML."""
    return [
        Part(kind, *_told(entry, kind, text), entry.path, _span(entry, text))
        for entry in sorted(entries(parse(Source("plan", text))), key=lambda entry: entry.start)
        if (kind := kind_of(entry.path))
    ]


def _span(entry: Entry, text: str) -> Span:
    at = (entry.key or entry.node).at
    return replace(at, end=entry.end(text))


def _told(entry: Entry, kind: str, text: str) -> tuple[str, str]:
    """Return the name of a part, and what else it says."""
    written = " ".join(text[entry.node.at.start : last_end(entry.node, text)].split())
    if entry.key is not None:
        inner = written if isinstance(entry.node, ScalarNode) or written.startswith(("[", "{")) else ""
        return str(entry.path[1]) if kind in _OF_A_PLACE else entry.key.text, inner
    if not isinstance(entry.node, MapNode):
        return written, ""
    values = {key.text: " ".join(text[node.at.start : last_end(node, text)].split()) for key, node in entry.node.entries}
    if kind == "answer":
        return next(iter(values.items()), ("", ""))
    plain = {key.text: node.text for key, node in entry.node.entries if isinstance(node, ScalarNode)}
    key = next((key for key in _NAMED_BY.get(kind, ()) if key in plain), next(iter(values), ""))
    return plain.get(key, values.get(key, "")), ", ".join(f"{name} {value}" for name, value in values.items() if name != key)
