"""Reading a map of the plan key by key: each kind of value has its reader, and a key nobody asked for is a problem."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol, TypeVar

from wise_ladder.plan.nearest import instead_of
from wise_ladder.plan.source import Entries, Items, Node, Scalar, Source
from wise_ladder.plan.tokens import PhraseError, size_of, time_of

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from wise_ladder.plan.values import Span

_T = TypeVar("_T")
_Word = TypeVar("_Word", bound=str)


class Section:
    """One map of the plan; `done` notes the keys that nothing read."""

    def __init__(self, source: Source, node: Entries, what: str) -> None:
        """Begin reading; `what` names the section in messages."""
        self.source, self.at, self.what = source, node.at, what
        self._nodes = {key.text: (key, value) for key, value in node.entries}
        self.asked: list[str] = []

    def node(self, key: str) -> Node | None:
        """Return the value of a key, None where it is not there or empty."""
        self.asked.append(key)
        found = self._nodes.get(key)
        return None if found is None or is_empty(found[1]) else found[1]

    def at_of(self, key: str) -> Span:
        """Return where a key stands, or the section where it does not."""
        return self._nodes[key][0].at if key in self._nodes else self.at

    def need(self, key: str, example: str) -> Node | None:
        """Return the value of a key, and note where there is none."""
        found = self.node(key)
        if found is None:
            self.source.problem(self.at_of(key), f'{self.what} has no "{key}"', f"write {key}: {example}")
        return found

    def word(self, key: str, choices: tuple[_Word, ...]) -> _Word:
        """Return one of a few words; the first where the key is not there."""
        scalar = self.scalar(key)
        if scalar is None:
            return choices[0]
        for choice in choices:
            if choice == scalar.text:
                return choice
        self.source.problem(scalar.at, f'"{key}" is never "{scalar.text}"', instead_of(scalar.text, choices))
        return choices[0]

    def scalar(self, key: str) -> Scalar | None:
        """Return a single word or phrase; anything else is noted."""
        node = self.node(key)
        return None if node is None else as_scalar(self.source, node, f'"{key}"')

    def scalars(self, key: str) -> list[Scalar]:
        """Return a list of words or phrases, or the single one that stands there."""
        node = self.node(key)
        return [] if node is None else as_scalars(self.source, node, f'"{key}"')

    def words(self, key: str, choices: tuple[_Word, ...]) -> tuple[_Word, ...]:
        """Return several of a few words; none where the key is not there."""
        found: list[_Word] = []
        for scalar in self.scalars(key):
            same = [choice for choice in choices if choice == scalar.text]
            if not same:
                self.source.problem(scalar.at, f'"{key}" is never "{scalar.text}"', instead_of(scalar.text, choices))
            found += same
        return tuple(found)

    def flag(self, key: str) -> bool:
        """Return whether yes was written."""
        return self.word(key, ("no", "yes")) == "yes"

    def time(self, key: str) -> int | None:
        """Return a time in milliseconds, None where there is none."""
        scalar = self.scalar(key)
        return None if scalar is None else phrase(self.source, scalar, lambda: time_of(scalar.text))

    def size(self, key: str) -> int | None:
        """Return a weight such as 24MB in bytes, None where there is none."""
        scalar = self.scalar(key)
        return None if scalar is None else phrase(self.source, scalar, lambda: size_of(scalar.text))

    def entries(self, key: str) -> Iterator[tuple[Scalar, Node]]:
        """Go through the map that stands under a key; anything else is noted."""
        node = self.node(key)
        if isinstance(node, Entries):
            yield from node.entries
        elif node is not None:
            self.source.problem(node.at, f'"{key}" must be a map of names', f"write {key}: {{NAME: ...}}")

    def items(self, key: str) -> tuple[Node, ...]:
        """Return the list that stands under a key; anything else is noted."""
        node = self.node(key)
        if node is None:
            return ()
        if isinstance(node, Items):
            return node.items
        self.source.problem(node.at, f'"{key}" must be a list', "begin each item with a dash")
        return ()

    def done(self) -> None:
        """Note each key that nothing asked for."""
        for key, (scalar, _) in self._nodes.items():
            if key not in self.asked:
                self.source.problem(
                    scalar.at, f'{self.what} has no key "{key}"', instead_of(key, dict.fromkeys(self.asked), most=20)
                )


def is_empty(node: Node) -> bool:
    """Whether nothing was written: `key:` and no more."""
    return isinstance(node, Scalar) and node.text == "" and node.inset == 0


def as_scalar(source: Source, node: Node, what: str) -> Scalar | None:
    """Return a word or phrase; a list or a map is noted."""
    if isinstance(node, Scalar):
        return node
    instead = ""
    if isinstance(node, Entries):
        instead = 'put a phrase with ": " or "{" in quotes'
    source.problem(node.at, f"{what} must be a single phrase", instead)
    return None


def as_scalars(source: Source, node: Node, what: str) -> list[Scalar]:
    """Return the words or phrases of a list, or the single one; anything else is noted."""
    nodes = node.items if isinstance(node, Items) else (node,)
    return [scalar for inner in nodes if (scalar := as_scalar(source, inner, what)) is not None]


def phrase(source: Source, scalar: Scalar, read: Callable[[], _T]) -> _T | None:
    """Read a phrase; what it cannot be read for is noted at its place, and None returned."""
    try:
        return read()
    except PhraseError as error:
        note_in(source, scalar)(error.at, error.what, error.instead)
        return None


class Noting(Protocol):
    """Takes a problem: where in the phrase, what, what to write instead."""

    def __call__(self, at: int, what: str, instead: str = "") -> None: ...


def note_in(source: Source, scalar: Scalar) -> Noting:
    """Return what notes a problem at a place within a phrase."""

    def note(at: int, what: str, instead: str = "") -> None:
        source.problem(scalar.at, what, instead, shift=scalar.inset + at if scalar.raw else 0)

    return note
