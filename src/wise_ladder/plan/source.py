"""The text of a plan and its YAML as nodes that know where they stand.

YAML is taken apart by the events of its parser and never turned into objects: `yes` and `7` stay the words that were written,
each node keeps its place, and what is dangerous (aliases that explode, tags, endless nesting) is refused as it is met.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, TypeAlias

import yaml
from msgspec import Struct

from wise_ladder.errors import PlanError
from wise_ladder.plan import messages
from wise_ladder.plan.values import Span
from wise_ladder.safe import CONTROL, named, unsafe

if TYPE_CHECKING:
    from collections.abc import Iterator

MAX_NESTING = 32
MAX_NODES = 200_000
"""More than the largest plan within the other limits has."""
MAX_PROBLEMS = 200
"""At most this many are listed; a file with more is not a plan."""
MAX_CHARACTERS = 2_000
"""For a single phrase or name."""
_TAB = "\t"
_TEXTS = {"about", "text"}
"""The keys of what is written for people: these may have several lines."""


class ScalarNode(Struct, frozen=True, gc=False):
    """A single word or phrase; `raw` tells whether each character stands in the file as it is here, `inset` from where."""

    text: str
    at: Span
    verbatim: bool
    quote_width: int


class ListNode(Struct, frozen=True, gc=False):
    """A list."""

    items: tuple[Node, ...]
    at: Span


class MapNode(Struct, frozen=True, gc=False):
    """A map, in the order of the file."""

    entries: tuple[tuple[ScalarNode, Node], ...]
    at: Span


Node: TypeAlias = ScalarNode | ListNode | MapNode


@dataclass(frozen=True, slots=True, order=True)
class Problem:
    """Something wrong in a plan: where, what, and what to write instead."""

    line: int
    column: int
    what: str
    hint: str = ""
    lacks: tuple[str, ...] = ()
    """What is not declared: its kind, then its name; of a value or an argument also what it belongs to, before its name."""


@dataclass(slots=True)
class Source:
    """The text of one plan file, and the problems found in it so far."""

    name: str
    text: str
    problems: list[Problem] = field(default_factory=list)
    doubts: list[Problem] = field(default_factory=list)

    def add_error(self, at: Span, what: str, instead: str = "", shift: int = 0, lacks: tuple[str, ...] = ()) -> None:
        """Note something wrong, `shift` characters into the stretch. Raises PlanError when there are too many."""
        self.problems.append(Problem(at.line, at.column + shift, what, instead, lacks))
        if len(self.problems) >= MAX_PROBLEMS:
            raise PlanError([*self.shown(self.problems), messages.MORE_MISTAKES.format(name=self.name, most=MAX_PROBLEMS)])

    def add_warning(self, at: Span, what: str) -> None:
        """Note something that may be meant, and probably is not."""
        self.doubts.append(Problem(at.line, at.column, what))

    def raise_errors(self) -> None:
        """Raise PlanError with every problem there is, in the order of the file; nothing if there is none."""
        if self.problems:
            raise PlanError(self.shown(self.problems))

    def shown(self, problems: list[Problem]) -> list[str]:
        """Write problems out, in the order of the file, each with its line and a caret under the place."""
        lines = self.text.splitlines()
        return [_show(self.name, problem, lines) for problem in sorted(set(problems))]


def _show(name: str, problem: Problem, lines: list[str]) -> str:
    head = f"{name}:{problem.line}:{problem.column}: {problem.what}"
    if problem.hint:
        head += f"; {problem.hint}"
    if not 1 <= problem.line <= len(lines):
        return head
    line, column = lines[problem.line - 1].replace(_TAB, " "), problem.column - 1
    begin = max(0, column - 60) if len(line) > 110 else 0
    part = line[begin : begin + 110]
    gutter = f"{problem.line:5} | "
    return f"{head}\n{gutter}{part}\n{' ' * (len(gutter) - 2)}| {' ' * (column - begin)}^"


def parse(source: Source) -> MapNode:
    """Take the YAML of a plan apart.

    Raises PlanError at the first place that is not YAML, or that a plan may not have (an alias, a tag, deep nesting).
    """
    for match in CONTROL.finditer(source.text):
        line = source.text.count("\n", 0, match.start()) + 1
        at = Span(line, match.start() - source.text.rfind("\n", 0, match.start()), 0, 0)
        source.add_error(
            at, messages.CONTROL_CHARACTER.format(character=named(match.group())), messages.REMOVE_IT_FROM_PLAIN_TEXT
        )
    source.raise_errors()
    try:
        events = yaml.parse(source.text, Loader=getattr(yaml, "CSafeLoader", yaml.SafeLoader))
        return _Builder(source, events).document()
    except yaml.MarkedYAMLError as error:
        mark = error.problem_mark or error.context_mark
        at = Span(mark.line + 1, mark.column + 1, 0, 0) if mark else Span(1, 1, 0, 0)
        what, instead = _plain_words(str(error.problem or error.context or "not YAML"))
    except yaml.reader.ReaderError as error:
        place = error.position if isinstance(error.position, int) else 0
        place = min(place, len(source.text))
        line = source.text.count("\n", 0, place) + 1
        at = Span(line, place - source.text.rfind("\n", 0, place), 0, 0)
        what, instead = messages.ILLEGAL_CHARACTER, messages.REMOVE_IT
    source.add_error(at, what, instead)
    source.raise_errors()
    raise AssertionError("unreachable: the problem just noted was raised")


def _plain_words(problem: str) -> tuple[str, str]:
    for theirs, what, instead in messages.YAML_WORDS:
        if theirs in problem:
            return what, instead
    return messages.NOT_YAML.format(problem=problem), ""


class _Builder:
    """Builds nodes from the parser's events; stops at what a plan may not have."""

    def __init__(self, source: Source, events: Iterator[yaml.Event]) -> None:
        self._source = source
        self._events = events
        self._count = 0

    def document(self) -> MapNode:
        for event in self._events:
            if isinstance(event, (yaml.StreamStartEvent, yaml.DocumentStartEvent)):
                continue
            if isinstance(event, yaml.StreamEndEvent):
                break
            node = self._node(event, 0)
            if not isinstance(node, MapNode):
                break
            for later in self._events:
                if isinstance(later, yaml.DocumentStartEvent):
                    self._refuse(later, messages.SECOND_DOCUMENT, messages.ONE_DOCUMENT)
            return node
        self._source.add_error(Span(1, 1, 0, 0), messages.NOT_A_PLAN, messages.BEGIN_WITH_APP)
        self._source.raise_errors()
        raise AssertionError("unreachable: the problem just noted was raised")

    def _refuse(self, event: yaml.Event, what: str, instead: str) -> None:
        self._source.add_error(_span(event, event), what, instead)
        self._source.raise_errors()

    def _node(self, event: yaml.Event, depth: int, *, is_name: bool = True) -> Node:
        if isinstance(event, yaml.AliasEvent):
            self._refuse(event, messages.ALIAS.format(name=event.anchor), messages.WRITE_VALUE_ITSELF)
        if event.anchor is not None:
            self._refuse(event, messages.ANCHOR.format(name=event.anchor), messages.NO_ALIASES)
        if event.tag is not None and event.tag != "!":
            self._refuse(event, messages.TAG.format(name=event.tag), messages.NO_TAGS)
        if depth > MAX_NESTING:
            self._refuse(event, messages.TOO_DEEP.format(most=MAX_NESTING), messages.FLATTEN_IT)
        self._count += 1
        if self._count > MAX_NODES:
            self._refuse(event, messages.TOO_MANY_NODES.format(most=MAX_NODES), messages.SPLIT_IT_INTO_SEVERAL_PLANS)
        if isinstance(event, yaml.ScalarEvent):
            if len(event.value) > MAX_CHARACTERS:
                self._refuse(event, messages.PHRASE_TOO_LONG.format(most=MAX_CHARACTERS), messages.SHORTEN_IT)
            if (fault := unsafe(event.value.rstrip("\n"), is_name=is_name)) is not None:
                self._source.add_error(
                    _span(event, event), messages.INVISIBLE_CHARACTER.format(character=named(fault.group())), messages.REMOVE_IT
                )
            return self._scalar(event)
        if isinstance(event, yaml.SequenceStartEvent):
            items: list[Node] = []
            for inner in self._events:
                if isinstance(inner, yaml.SequenceEndEvent):
                    return ListNode(tuple(items), _span(event, inner))
                items.append(self._node(inner, depth + 1))
        return self._entries(event, depth)

    def _entries(self, event: yaml.Event, depth: int) -> MapNode:
        entries: list[tuple[ScalarNode, Node]] = []
        seen: set[str] = set()
        for inner in self._events:
            if isinstance(inner, yaml.MappingEndEvent):
                return MapNode(tuple(entries), _span(event, inner))
            key = self._node(inner, depth + 1)
            is_text = isinstance(key, ScalarNode) and key.text in _TEXTS
            value = self._node(next(self._events), depth + 1, is_name=not is_text)
            if not isinstance(key, ScalarNode):
                self._source.add_error(key.at, messages.KEY_IS_A_PHRASE)
                continue
            if key.text in seen:
                self._source.add_error(key.at, messages.KEY_TWICE.format(name=key.text), messages.KEEP_ONE)
                continue
            seen.add(key.text)
            entries.append((key, value))
        raise AssertionError("unreachable: the parser ends each map")

    def _scalar(self, event: yaml.ScalarEvent) -> ScalarNode:
        at, style = _span(event, event), event.style
        inset = 1 if style else 0
        raw = self._source.text.startswith(event.value, at.start + inset) and style not in ("|", ">")
        return ScalarNode(event.value, at, raw, inset)


def _span(first: yaml.Event, last: yaml.Event) -> Span:
    start, end = first.start_mark, last.end_mark
    return Span(start.line + 1, start.column + 1, start.index, end.index)
