"""The text of a plan and its YAML as nodes that know where they stand.

YAML is taken apart by the events of its parser and never turned into objects: `yes` and `7` stay the words that were written,
each node keeps its place, and what is dangerous (aliases that explode, tags, endless nesting) is refused as it is met.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, TypeAlias

import yaml
from msgspec import Struct
from msgspec.structs import replace

from wise_ladder.errors import PlanError
from wise_ladder.plan import messages
from wise_ladder.plan.included import SHARED, split
from wise_ladder.plan.values import Span
from wise_ladder.safe import CONTROL, named, unsafe

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.included import TextPart
    from wise_ladder.plan.values import CodePlace

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
    """A list; `pieces`: if it stands in several files, the list of each, and `at` is the last one's."""

    items: tuple[Node, ...]
    at: Span
    pieces: tuple[ListNode, ...] = ()


class MapNode(Struct, frozen=True, gc=False):
    """A map, in the order of the file; `pieces`: if it stands in several files, the map of each, and `at` is the last one's."""

    entries: tuple[tuple[ScalarNode, Node], ...]
    at: Span
    pieces: tuple[MapNode, ...] = ()


Node: TypeAlias = ScalarNode | ListNode | MapNode


@dataclass(frozen=True, slots=True, order=True)
class Problem:
    """Something wrong in a plan: where, what, and what to write instead."""

    at: Span
    what: str
    hint: str = ""
    lacks: tuple[str, ...] = ()
    """What is not declared: its kind, then its name; of a value or an argument also what it belongs to, before its name."""


@dataclass(slots=True)
class Source:
    """The text of a plan, whose own file has a name, and the problems found in it so far."""

    name: str
    text: str
    problems: list[Problem] = field(default_factory=list)
    doubts: list[Problem] = field(default_factory=list)
    code: list[tuple[Span, CodePlace]] = field(default_factory=list)
    """Where in the app's own code the parts of the plan are, each with its place in the plan."""

    def add_error(self, at: Span, what: str, instead: str = "", shift: int = 0, lacks: tuple[str, ...] = ()) -> None:
        """Note something wrong, `shift` characters into the stretch. Raises PlanError when there are too many."""
        at = replace(at, start=at.start + shift, column=at.column + shift)
        self.problems.append(Problem(at, what, instead, lacks))
        if len(self.problems) >= MAX_PROBLEMS:
            raise PlanError([*self.shown(self.problems), messages.MORE_MISTAKES.format(name=self.name, most=MAX_PROBLEMS)])

    def add_warning(self, at: Span, what: str) -> None:
        """Note something that may be meant, and probably is not."""
        self.doubts.append(Problem(at, what))

    def raise_errors(self) -> None:
        """Raise PlanError with every problem there is, in the order of the file; nothing if there is none."""
        if self.problems:
            raise PlanError(self.shown(self.problems))

    def shown(self, problems: list[Problem]) -> list[str]:
        """Write problems out, in the order of the file, each with its line and a caret under the place."""
        lines = {part.file: part.text.splitlines() for part in split(self.text)}
        return [_show(self.name, problem, lines[problem.at.file]) for problem in sorted(set(problems))]

    def at(self, offset: int) -> Span:
        """Return the place of an offset in the text."""
        part = next(part for part in reversed(split(self.text)) if part.start <= offset)
        before = part.text[: offset - part.start]
        return Span(offset, offset, before.count("\n") + 1, len(before) - before.rfind("\n"), part.file)


def _show(name: str, problem: Problem, lines: list[str]) -> str:
    at = problem.at
    head = f"{at.within(name)}:{at.column}: {problem.what}"
    if problem.hint:
        head += f"; {problem.hint}"
    if not 1 <= at.line <= len(lines):
        return head
    line, column = lines[at.line - 1].replace(_TAB, " "), at.column - 1
    begin = max(0, column - 60) if len(line) > 110 else 0
    part = line[begin : begin + 110]
    gutter = f"{at.line:5} | "
    return f"{head}\n{gutter}{part}\n{' ' * (len(gutter) - 2)}| {' ' * (column - begin)}^"


def parse(source: Source, *, empty: bool = False) -> MapNode:
    """Take the YAML of a plan apart; what stands in several files is joined. `empty`: there need not be anything.

    Raises PlanError at the first place that is not YAML, or that a plan may not have (an alias, a tag, deep nesting).
    """
    for match in CONTROL.finditer(source.text):
        source.add_error(
            source.at(match.start()),
            messages.CONTROL_CHARACTER.format(character=named(match.group())),
            messages.REMOVE_IT_FROM_PLAIN_TEXT,
        )
    source.raise_errors()
    tops = [_parse_part(source, part, empty=empty or bool(part.file)) for part in split(source.text)]
    return tops[0] if len(tops) == 1 else _joined(source, tops)


def _parse_part(source: Source, part: TextPart, *, empty: bool) -> MapNode:
    try:
        events = yaml.parse(part.text, Loader=getattr(yaml, "CSafeLoader", yaml.SafeLoader))
        return _Builder(source, part, events).document(empty=empty)
    except yaml.MarkedYAMLError as error:
        mark = error.problem_mark or error.context_mark
        at = Span(part.start, part.start, mark.line + 1 if mark else 1, mark.column + 1 if mark else 1, part.file)
        what, instead = _plain_words(str(error.problem or error.context or "not YAML"))
    except yaml.reader.ReaderError as error:
        place = error.position if isinstance(error.position, int) else 0
        at = source.at(part.start + min(place, len(part.text)))
        what, instead = messages.ILLEGAL_CHARACTER, messages.REMOVE_IT
    source.add_error(at, what, instead)
    source.raise_errors()
    raise AssertionError("unreachable: the problem just noted was raised")


def _joined(source: Source, tops: list[MapNode]) -> MapNode:
    """Join the sections of the files of a plan."""
    sections: dict[str, tuple[ScalarNode, list[Node]]] = {}
    for top in tops:
        for key, node in top.entries:
            if key.text in sections and key.text not in SHARED:
                source.add_error(key.at, messages.KEY_TWICE.format(name=key.text), messages.KEEP_ONE)
            else:
                sections.setdefault(key.text, (key, []))[1].append(node)
    return MapNode(tuple((key, _one(source, key.text, nodes)) for key, nodes in sections.values()), tops[0].at)


def _one(source: Source, name: str, nodes: list[Node]) -> Node:
    """Make one section of those that have a name."""
    written = [node for node in nodes if not is_empty(node)]
    if len(written) < 2:
        return (written or nodes)[0]
    maps = [node for node in written if isinstance(node, MapNode)]
    if len(maps) == len(written):
        entries: dict[str, tuple[ScalarNode, Node]] = {}
        for key, value in (entry for each in maps for entry in each.entries):
            if key.text in entries:
                source.add_error(key.at, messages.KEY_TWICE.format(name=key.text), messages.KEEP_ONE)
            entries.setdefault(key.text, (key, value))
        return MapNode(tuple(entries.values()), maps[-1].at, tuple(maps))
    if name == "include":
        written = [ListNode((node,), node.at) if isinstance(node, ScalarNode) else node for node in written]
    lists = [node for node in written if isinstance(node, ListNode)]
    if len(lists) < len(written):
        odd = next((node for node in written if type(node) is not type(written[0])), written[1])
        source.add_error(odd.at, messages.SECTION_OF_TWO_KINDS.format(name=name), messages.WRITE_AS_IN_THE_OTHER_FILE)
        return written[0]
    return ListNode(tuple(item for each in lists for item in each.items), lists[-1].at, tuple(lists))


def pieces(node: Node) -> tuple[Node, ...]:
    """Return what each file has of a section in several files; of anything else, the node itself."""
    return (node,) if isinstance(node, ScalarNode) else node.pieces or (node,)


def is_empty(node: Node) -> bool:
    """Whether nothing was written: `key:` and no more."""
    return isinstance(node, ScalarNode) and node.text == "" and node.quote_width == 0


def _plain_words(problem: str) -> tuple[str, str]:
    for theirs, what, instead in messages.YAML_WORDS:
        if theirs in problem:
            return what, instead
    return messages.NOT_YAML.format(problem=problem), ""


class _Builder:
    """Builds nodes from the parser's events; stops at what a plan may not have."""

    def __init__(self, source: Source, part: TextPart, events: Iterator[yaml.Event]) -> None:
        self._source = source
        self._file, self._start = part.file, part.start
        self._events = events
        self._count = 0

    def document(self, *, empty: bool) -> MapNode:
        for event in self._events:
            if isinstance(event, (yaml.StreamStartEvent, yaml.DocumentStartEvent)):
                continue
            if isinstance(event, yaml.StreamEndEvent):
                break
            node = self._node(event, 0)
            if not isinstance(node, MapNode):
                empty = empty and is_empty(node)
                break
            for later in self._events:
                if isinstance(later, yaml.DocumentStartEvent):
                    self._refuse(later, messages.SECOND_DOCUMENT, messages.ONE_DOCUMENT)
            return node
        at = Span(self._start, self._start, 1, 1, self._file)
        if empty:
            return MapNode((), at)
        self._source.add_error(at, messages.NOT_A_PLAN, "" if self._file else messages.BEGIN_WITH_APP)
        self._source.raise_errors()
        raise AssertionError("unreachable: the problem just noted was raised")

    def _refuse(self, event: yaml.Event, what: str, instead: str) -> None:
        self._source.add_error(self._span(event, event), what, instead)
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
                    self._span(event, event),
                    messages.INVISIBLE_CHARACTER.format(character=named(fault.group())),
                    messages.REMOVE_IT,
                )
            return self._scalar(event)
        if isinstance(event, yaml.SequenceStartEvent):
            items: list[Node] = []
            for inner in self._events:
                if isinstance(inner, yaml.SequenceEndEvent):
                    return ListNode(tuple(items), self._span(event, inner))
                items.append(self._node(inner, depth + 1))
        return self._entries(event, depth)

    def _entries(self, event: yaml.Event, depth: int) -> MapNode:
        entries: list[tuple[ScalarNode, Node]] = []
        seen: set[str] = set()
        for inner in self._events:
            if isinstance(inner, yaml.MappingEndEvent):
                return MapNode(tuple(entries), self._span(event, inner))
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
        at, style = self._span(event, event), event.style
        inset = 1 if style else 0
        raw = self._source.text.startswith(event.value, at.start + inset) and style not in ("|", ">")
        return ScalarNode(event.value, at, raw, inset)

    def _span(self, first: yaml.Event, last: yaml.Event) -> Span:
        start, end = first.start_mark, last.end_mark
        return Span(self._start + start.index, self._start + end.index, start.line + 1, start.column + 1, self._file)
