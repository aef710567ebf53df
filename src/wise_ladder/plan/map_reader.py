"""Reading a map of the plan key by key: each kind of value has its reader, and an unknown key is a problem."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, Protocol, TypeVar

from wise_ladder.plan import messages
from wise_ladder.plan.source import ListNode, MapNode, Node, ScalarNode, Source, is_empty
from wise_ladder.plan.suggest import suggest
from wise_ladder.plan.tokens import PhraseError, parse_size, parse_time
from wise_ladder.plan.values import CodePlace

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from wise_ladder.plan.values import Span

_CODE = re.compile(r"([^:/\\][^:\\]*)(?::([1-9]\d{0,6}))?")
_T = TypeVar("_T")
_Word = TypeVar("_Word", bound=str)


class MapReader:
    """One map of the plan; `done` notes the keys that nothing read."""

    def __init__(self, source: Source, node: MapNode, what: str) -> None:
        """Begin reading; `what` names the section in messages."""
        self.source, self.at, self.what = source, node.at, what
        self._nodes = {key.text: (key, value) for key, value in node.entries}
        self.asked: list[str] = []

    def node(self, key: str) -> Node | None:
        """Return the value of a key, None if it is not there or empty."""
        self.asked.append(key)
        node = self._nodes.get(key)
        return None if node is None or is_empty(node[1]) else node[1]

    def at_of(self, key: str) -> Span:
        """Return where a key stands, or the section if it does not."""
        return self._nodes[key][0].at if key in self._nodes else self.at

    def require(self, key: str, example: str) -> Node | None:
        """Return the value of a key, and note if there is none."""
        node = self.node(key)
        if node is None:
            self.source.add_error(
                self.at_of(key),
                messages.LACKS_A_KEY.format(what=self.what, key=key),
                messages.WRITE_KEY.format(key=key, example=example),
            )
        return node

    def word(self, key: str, choices: tuple[_Word, ...]) -> _Word:
        """Return one of a few words; the first if the key is not there."""
        scalar = self.scalar(key)
        if scalar is None:
            return choices[0]
        for choice in choices:
            if choice == scalar.text:
                return choice
        self.source.add_error(
            scalar.at, messages.HAS_NOT_THE_VALUE.format(name=key, value=scalar.text), suggest(scalar.text, choices)
        )
        return choices[0]

    def scalar(self, key: str) -> ScalarNode | None:
        """Return a single word or phrase; anything else is noted."""
        node = self.node(key)
        return None if node is None else as_scalar(self.source, node, f'"{key}"')

    def scalars(self, key: str) -> list[ScalarNode]:
        """Return a list of words or phrases, or the single one that stands there."""
        node = self.node(key)
        return [] if node is None else as_scalars(self.source, node, f'"{key}"')

    def words(self, key: str, choices: tuple[_Word, ...]) -> tuple[_Word, ...]:
        """Return several of a few words; none if the key is not there."""
        words: list[_Word] = []
        for scalar in self.scalars(key):
            same = [choice for choice in choices if choice == scalar.text]
            if not same:
                self.source.add_error(
                    scalar.at, messages.HAS_NOT_THE_VALUE.format(name=key, value=scalar.text), suggest(scalar.text, choices)
                )
            words += same
        return tuple(words)

    def code(self, at: Span) -> None:
        """Note where in the app's own code the part is whose place in the plan is given, if it is said."""
        scalar = self.scalar("code")
        if scalar is None:
            return
        match = _CODE.fullmatch(scalar.text)
        if match is None or ".." in match[1].split("/"):
            self.source.add_error(scalar.at, messages.NOT_A_CODE_PLACE.format(text=scalar.text), messages.WRITE_A_CODE_PLACE)
        else:
            self.source.code.append((at, CodePlace(match[1], int(match[2]) if match[2] else None)))

    def flag(self, key: str) -> bool:
        """Return whether yes was written."""
        return self.word(key, ("no", "yes")) == "yes"

    def time(self, key: str) -> int | None:
        """Return a time in milliseconds, None if there is none."""
        scalar = self.scalar(key)
        return None if scalar is None else parse_or_report(self.source, scalar, lambda: parse_time(scalar.text))

    def count(self, key: str) -> int | None:
        """Return a whole number of at least 1, None if there is none."""
        scalar = self.scalar(key)
        if scalar is None:
            return None
        if not scalar.text.isdecimal() or len(scalar.text) > 6 or int(scalar.text) < 1:
            self.source.add_error(scalar.at, messages.NOT_A_COUNT.format(key=key, text=scalar.text), messages.WRITE_A_COUNT)
            return None
        return int(scalar.text)

    def size(self, key: str) -> int | None:
        """Return a weight such as 24MB in bytes, None if there is none."""
        scalar = self.scalar(key)
        return None if scalar is None else parse_or_report(self.source, scalar, lambda: parse_size(scalar.text))

    def entries(self, key: str) -> Iterator[tuple[ScalarNode, Node]]:
        """Go through the map that stands under a key; anything else is noted."""
        node = self.node(key)
        if isinstance(node, MapNode):
            yield from node.entries
        elif node is not None:
            self.source.add_error(
                node.at, messages.MUST_BE_A_MAP_OF_NAMES.format(key=key), messages.WRITE_A_MAP_OF_NAMES.format(key=key)
            )

    def items(self, key: str) -> tuple[Node, ...]:
        """Return the list that stands under a key; anything else is noted."""
        node = self.node(key)
        if node is None:
            return ()
        if isinstance(node, ListNode):
            return node.items
        self.source.add_error(node.at, messages.MUST_BE_A_LIST.format(key=key), messages.BEGIN_WITH_DASHES)
        return ()

    def report_unknown_keys(self, elsewhere: Callable[[str], str] = lambda _key: "") -> None:
        """Report each unknown key; `elsewhere` says what to write instead of one that belongs somewhere else."""
        for key, (scalar, _) in self._nodes.items():
            if key not in self.asked:
                instead = elsewhere(key) or suggest(key, dict.fromkeys(self.asked), most=20)
                self.source.add_error(scalar.at, messages.UNKNOWN_KEY.format(what=self.what, key=key), instead)


def as_scalar(source: Source, node: Node, what: str) -> ScalarNode | None:
    """Return a word or phrase; a list or a map is noted."""
    if isinstance(node, ScalarNode):
        return node
    instead = messages.QUOTE_PHRASE if isinstance(node, MapNode) else ""
    source.add_error(node.at, messages.MUST_BE_A_PHRASE.format(what=what), instead)
    return None


def as_scalars(source: Source, node: Node, what: str) -> list[ScalarNode]:
    """Return the words or phrases of a list, or the single one; anything else is noted."""
    nodes = node.items if isinstance(node, ListNode) else (node,)
    return [scalar for inner in nodes if (scalar := as_scalar(source, inner, what)) is not None]


def parse_or_report(source: Source, scalar: ScalarNode, read: Callable[[], _T]) -> _T | None:
    """Read a phrase; what it cannot be read for is noted at its place, and None returned."""
    try:
        return read()
    except PhraseError as error:
        reporter_for(source, scalar)(error.at, error.what, error.instead)
        return None


class Reporter(Protocol):
    """Takes a problem: where in the phrase, what, what to write instead, and what is not declared (see `Problem`)."""

    def __call__(self, at: int, what: str, instead: str = "", lacks: tuple[str, ...] = ()) -> None: ...


def reporter_for(source: Source, scalar: ScalarNode) -> Reporter:
    """Return what notes a problem at a place within a phrase."""

    def note(at: int, what: str, instead: str = "", lacks: tuple[str, ...] = ()) -> None:
        source.add_error(scalar.at, what, instead, shift=scalar.quote_width + at if scalar.verbatim else 0, lacks=lacks)

    return note
