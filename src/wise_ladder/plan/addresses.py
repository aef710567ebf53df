"""Addresses and the templates they are matched by: `combfield://hives/{id}{?look,day}`.

A template is a URI Template (RFC 6570, 2012) of level 3, read backwards: `{id}` is a part without a slash, `{+rest}` may hold
slashes, `{?a,b}` are named values behind a question mark, in any order, each of them optional.
"""

from __future__ import annotations

import re
from functools import lru_cache
from typing import TYPE_CHECKING, NamedTuple
from urllib.parse import parse_qsl, quote, unquote

from wise_ladder.plan import messages
from wise_ladder.plan.tokens import PhraseError

if TYPE_CHECKING:
    from collections.abc import Mapping

    from wise_ladder.plan.values import Value

_NAME = re.compile(r"[A-Za-z][A-Za-z0-9_]*")
_SCHEME = re.compile(r"[A-Za-z][A-Za-z0-9+.-]*://")
_HEAD = re.compile(r"[A-Za-z][A-Za-z0-9+.-]*://(?:\{[^{}]*\}|[^/?#{])*")
"""The scheme and the host."""
_BAD_ESCAPE = re.compile(r"%(?![0-9A-Fa-f]{2})")
_HOLE = re.compile(r"\{([^{}]*)\}")


class Template(NamedTuple):
    """A template taken apart: what the part before the question mark must look like, and the names behind it."""

    pattern: re.Pattern[str]
    parts: tuple[str, ...]
    """The names in `{id}` and `{+rest}`, in order."""
    asked: tuple[str, ...]
    """The names in `{?a,b}`."""

    @property
    def names(self) -> tuple[str, ...]:
        """All names, in order."""
        return self.parts + self.asked


@lru_cache(maxsize=4096)
def template(text: str) -> Template:
    """Take a template apart; raises PhraseError if it is not one."""
    head = _HEAD.match(text)
    if head is None:
        raise PhraseError(0, messages.NO_SCHEME.format(text=text), messages.BEGIN_WITH_SCHEME)

    def literal(start: int, end: int) -> str:
        """Return the pattern of text that is not a hole: upper case makes no difference in scheme and host."""
        middle = min(max(head.end(), start), end)
        return (f"(?i:{re.escape(text[start:middle])})" if middle > start else "") + re.escape(text[middle:end])

    pattern, at = "", 0
    parts: list[str] = []
    asked: list[str] = []
    for hole in _HOLE.finditer(text):
        pattern += literal(at, hole.start())
        at = hole.end()
        kind, names = (hole[1][0], hole[1][1:]) if hole[1][:1] in "+?" and hole[1] else ("", hole[1])
        for name in names.split(","):
            if not _NAME.fullmatch(name) or (kind != "?" and "," in names):
                raise PhraseError(hole.start(), messages.NOT_A_PLACE.format(hole=hole[0]), messages.WRITE_ANY_PLACE)
            if name in parts + asked:
                raise PhraseError(hole.start(), messages.PLACE_TWICE.format(name=name), messages.RENAME_THE_SECOND)
            (asked if kind == "?" else parts).append(name)
        if kind == "?" and at != len(text):
            raise PhraseError(hole.start(), messages.NOT_AT_THE_END.format(hole=hole[0]), messages.WRITE_IT_LAST)
        if kind == "+" and "([^?#]+)" in pattern:
            raise PhraseError(hole.start(), messages.TWO_LONG_PLACES, messages.KEEP_ONE_OF_THEM)
        # A value ends where the text after it begins: so there is one way to match, and no long search for it.
        after = text[at : at + 1]
        if after == "{" and kind != "?" and text[at + 1 : at + 2] != "?":
            raise PhraseError(at, messages.PLACES_TOUCH, messages.ADD_A_SLASH)
        end = re.escape(after) if after not in {"", "{"} else ""
        pattern += {"": f"([^/?#{end}]+)", "+": "([^?#]+)", "?": ""}[kind]
    rest = text[at:]
    if "{" in rest or "}" in rest or re.search(r"[{}]", _HOLE.sub("", text)):
        raise PhraseError(0, messages.LONE_BRACE, messages.WRITE_A_PLACE)
    if "?" in _HOLE.sub("", text):
        raise PhraseError(text.index("?"), messages.UNNAMED_VALUES, messages.WRITE_NAMED_VALUES)
    pattern += literal(at, len(text))
    return Template(re.compile(pattern if text.endswith("://") else pattern.rstrip("/")), tuple(parts), tuple(asked))


def values_in(text: str, address: str) -> dict[str, str] | None:
    """Return what an address says for the names of a template, None if it does not match.

    A fragment, a slash at the end, and upper case in scheme and host make no difference (RFC 3986, 6.2.2); a percent sign
    that is not followed by two hexadecimal digits is no match.
    """
    pattern = template(text)
    path, _, query = address.partition("#")[0].partition("?")
    if _BAD_ESCAPE.search(path) or _BAD_ESCAPE.search(query):
        return None
    match = pattern.pattern.fullmatch(_without_end(path))
    if match is None:
        return None
    named = {name: unquote(part) for name, part in zip(pattern.parts, match.groups(), strict=True)}
    given = dict(parse_qsl(query, keep_blank_values=True))
    return {**named, **{name: given[name] for name in pattern.asked if name in given}}


def _without_end(path: str) -> str:
    """Leave out the slashes at the end, but for those of the scheme."""
    scheme = _SCHEME.match(path)
    start = scheme.end() if scheme else 0
    return path[:start] + path[start:].rstrip("/")


def filled_in(text: str, values: Mapping[str, Value]) -> str:
    """Write an address from a template and its values; names behind the question mark that have none are left out."""

    def fill(hole: re.Match[str]) -> str:
        inner = hole[1]
        if inner.startswith("?"):
            pairs = [f"{name}={quote(str(values[name]), safe='')}" for name in inner[1:].split(",") if name in values]
            return "?" + "&".join(pairs) if pairs else ""
        name = inner.removeprefix("+")
        return quote(str(values.get(name, "")), safe="/" if inner.startswith("+") else "")

    return _HOLE.sub(fill, text)
