"""Values of arguments, and where in the text of a plan something stands."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias

from msgspec import Struct
from msgspec.structs import replace

if TYPE_CHECKING:
    from collections.abc import Iterable

Value: TypeAlias = str | int
"""A value of an argument: whole numbers are numbers, anything else is text (`yes` and `no` are words)."""

Arguments: TypeAlias = tuple[tuple[str, Value], ...]
"""Name and value of each argument, in the order in which the screen takes them."""


ResultValue: TypeAlias = Value | Arguments
"""What a result brings: a value, or several named parts, each with its value."""


class Span(Struct, frozen=True, gc=False, order=True):
    """A stretch of the plan's text.

    Start and end are offsets in characters in the whole text; line and column count from 1 in the file it stands in, which is
    named if it is an included one.
    """

    start: int
    end: int
    line: int
    column: int
    file: str = ""

    @property
    def short(self) -> str:
        """Write where it is for somebody who knows the plan: `:12`, `walks.yaml:12`."""
        return f"{self.file}:{self.line}"

    @property
    def words(self) -> str:
        """Write where it is in a sentence: `line 12`, `walks.yaml:12`."""
        return self.short if self.file else f"line {self.line}"

    def within(self, path: str) -> str:
        """Write where it is, the plan's own file being at a path: `plans/app.ladder.yaml:12`."""
        return f"{file_of(path, self.file)}:{self.line}"


class CodePlace(NamedTuple):
    """Where in the app's own code something is: a path from the folder of the project, and a line if one is named."""

    path: str
    line: int | None = None

    @property
    def words(self) -> str:
        """Write it as in the plan."""
        return self.path if self.line is None else f"{self.path}:{self.line}"


NO_SPAN = Span(0, 0, 0, 0)


def file_of(path: str, file: str) -> str:
    """Return the path of an included file of the plan at a path, that path itself if none is named."""
    return path[: max(path.rfind("/"), path.rfind("\\")) + 1] + file if file else path


class Parameter(Struct, frozen=True):
    """An argument that a screen takes; `samples` are tried where a tool has to make up a value."""

    name: str
    kind: Literal["whole number", "text", "one of"]
    samples: tuple[Value, ...]
    default: Value | None = None
    parts: tuple[Parameter, ...] = ()
    """Of a result that has several: its named parts; then it has no values itself."""

    @property
    def brings(self) -> tuple[Parameter, ...]:
        """What a move may use when this result comes: its parts, or itself."""
        return self.parts or (self,)


def value_words(value: ResultValue) -> str:
    """Write what a result brings for reading: `7`, `hive 7, look frames`."""
    return str(value) if isinstance(value, (str, int)) else ", ".join(f"{name} {each}" for name, each in value)


def merged(parameters: Iterable[Parameter]) -> dict[str, Parameter]:
    """Return one parameter for each name, with the samples of all of that name that are of its kind."""
    found: dict[str, Parameter] = {}
    for each in parameters:
        known = found.setdefault(each.name, each)
        if known.parts or each.parts:
            continue
        if known.kind == each.kind:
            found[each.name] = replace(known, samples=tuple(dict.fromkeys((*known.samples, *each.samples))))
    return found


def let_through(name: str, only: tuple[str, ...], excluded: tuple[str, ...]) -> bool:
    """Whether the lists after `only` and `but` let a name through; an empty `only` names all."""
    return (not only or name in only) and name not in excluded


def parse_value(parameter: Parameter, text: str) -> Value | None:
    """Read a word as a value of an argument; None if its type has no such value."""
    if parameter.kind == "whole number":
        digits = text.removeprefix("-")
        return int(text) if digits.isascii() and digits.isdigit() and len(digits) < 16 else None
    return None if parameter.kind == "one of" and text not in parameter.samples else text
