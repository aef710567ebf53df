"""The words of a phrase, and a cursor that reads them.

Phrases are read by hand: names may hold spaces, and where one ends is told by the words that may follow it, which differ from
phrase to phrase. A name that holds such a word is written in quotes.
"""

from __future__ import annotations

import re
from contextlib import contextmanager
from functools import lru_cache
from typing import TYPE_CHECKING, NamedTuple, TypeVar

from wise_ladder.plan import messages

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

_TOKEN = re.compile(
    r"""\s*(?:(?P<quoted>"[^"]*"|'[^']*')|(?P<mark>[()=,>\[\]$]|:(?=\s|$))|(?P<word>[^\s()=,>\[\]$"'](?:[^\s()=,>\[\]$":]|:(?!\s|$))*)|(?P<bad>\S))"""
)
_TIME = re.compile(r"(\d{1,9}(?:\.\d{1,6})?)(ms|s|min)")
_SIZE = re.compile(r"(\d{1,9}(?:\.\d{1,6})?) ?(B|KB|MB|GB)")
_BYTES = {"B": 1, "KB": 1000, "MB": 1_000_000, "GB": 1_000_000_000}
MAX_DEEP = 32
MAX_LONG = 2_000
_UNIT = {"ms": 1, "s": 1000, "min": 60_000}

StopWords = tuple[str, ...]
"""Words that end a name where they stand one after the other."""


class PhraseError(Exception):
    """A phrase that cannot be read on: where in it, what is wrong, what to write instead."""

    def __init__(self, at: int, what: str, instead: str = "") -> None:
        """Note the place as a number of characters from the start of the phrase."""
        super().__init__(what)
        self.at, self.what, self.instead = at, what, instead


class Token(NamedTuple):
    """A word, a quoted name or a mark."""

    text: str
    start: int
    end: int
    kind: str


class Name(NamedTuple):
    """A name as written, and where in the phrase it begins."""

    text: str
    start: int


@lru_cache(4_096)
def tokens(phrase: str) -> tuple[Token, ...]:
    """Split a phrase; raises PhraseError at a quote that is never closed.

    What was read lately is remembered: after an edit nearly all phrases are as they were.
    """
    tokens: list[Token] = []
    at = 0
    while match := _TOKEN.match(phrase, at):
        kind = match.lastgroup or "bad"
        if kind == "bad":
            raise PhraseError(match.start(kind), messages.QUOTE_NOT_CLOSED, messages.CLOSE_IT)
        text = match.group(kind)
        tokens.append(Token(text[1:-1] if kind == "quoted" else text, match.start(kind), match.end(kind), kind))
        at = match.end()
    return tuple(tokens)


class Cursor:
    """Reads a phrase from left to right."""

    def __init__(self, phrase: str) -> None:
        """Raise PhraseError if the phrase has no words or a quote is never closed."""
        self.phrase = phrase
        self._depth = 0
        self._tokens = tokens(phrase)
        self._at = 0
        if not self._tokens:
            raise PhraseError(0, messages.NOTHING_HERE)

    @contextmanager
    def deeper(self) -> Iterator[None]:
        """Read one level deeper in the phrase; raises PhraseError if it is nested beyond all reading."""
        self._depth += 1
        if self._depth > MAX_DEEP:
            raise PhraseError(self.place, messages.TOO_DEEP.format(most=MAX_DEEP), messages.SPLIT_THE_MOVE)
        yield
        self._depth -= 1

    @property
    def place(self) -> int:
        """Where the next word begins; past the last one, the end of the phrase."""
        return self._tokens[self._at].start if self._at < len(self._tokens) else len(self.phrase.rstrip())

    @property
    def ended(self) -> bool:
        """Whether every word was read."""
        return self._at >= len(self._tokens)

    @property
    def rest(self) -> str:
        """What was not read yet, as written."""
        return self.phrase[self.place :].strip()

    @property
    def word(self) -> str:
        """The next word, unquoted; nothing if there is none."""
        if self._at >= len(self._tokens):
            return ""
        token = self._tokens[self._at]
        return "" if token.kind == "quoted" else token.text

    def next_is(self, *words: str) -> bool:
        """Whether the next words are these, unquoted."""
        if self.word != words[0]:
            return False
        if len(words) == 1:
            return True
        part = self._tokens[self._at : self._at + len(words)]
        return len(part) == len(words) and all(
            token.kind != "quoted" and token.text == word for token, word in zip(part, words, strict=True)
        )

    def accept(self, *words: str) -> bool:
        """Read these words where they are next, and tell whether they were."""
        if not self.next_is(*words):
            return False
        self._at += len(words)
        return True

    def expect(self, *words: str) -> None:
        """Read these words; raises PhraseError if there are others."""
        if not self.accept(*words):
            raise PhraseError(self.place, self._expected(f'"{" ".join(words)}"'))

    def expect_end(self, after: str) -> None:
        """Raise PhraseError if words are left over."""
        if not self.ended:
            raise PhraseError(self.place, messages.CANNOT_FOLLOW.format(rest=self.rest, after=after))

    def name(self, what: str, stops: Sequence[StopWords] = ()) -> Name:
        """Read a name up to a mark, a stop or the end; raises PhraseError if there is none."""
        start = self.place
        if not self.ended and self._tokens[self._at].kind == "quoted":
            self._at += 1
            return Name(self._tokens[self._at - 1].text, start)
        words: list[str] = []
        while not self.ended and self._tokens[self._at].kind == "word" and not any(self.next_is(*stop) for stop in stops):
            words.append(self._tokens[self._at].text)
            self._at += 1
        if not words:
            raise PhraseError(start, self._expected(what))
        return Name(" ".join(words), start)

    def address(self) -> str:
        """Read all that is left as one address, in quotes or not; raises PhraseError if it is not one."""
        start, rest = self.place, self.rest
        quoted = not self.ended and self._tokens[self._at].kind == "quoted"
        text = self._tokens[self._at].text if quoted else rest
        self._at = self._at + 1 if quoted else len(self._tokens)
        if not text or " " in text or len(text) > MAX_LONG:
            raise PhraseError(start, self._expected("an address such as combfield://hives/7"))
        return text

    def rest_as_name(self, what: str) -> str:
        """Read all that is left as one name, in quotes or not; raises PhraseError if nothing is."""
        start, rest = self.place, self.rest
        quoted = self._at == len(self._tokens) - 1 and self._tokens[self._at].kind == "quoted"
        text = self._tokens[self._at].text if quoted else rest
        self._at = len(self._tokens)
        if not text:
            raise PhraseError(start, messages.EXPECTED.format(what=what))
        return text

    def whole_number(self, what: str) -> int:
        """Read a whole number; raises PhraseError if there is none."""
        number = self.number_next()
        if number is None:
            raise PhraseError(self.place, self._expected(what))
        return number

    def number_next(self) -> int | None:
        """Read a whole number where you are next."""
        if self.ended or not (text := self._tokens[self._at].text).isdigit() or not text.isascii() or len(text) > 9:
            return None
        self._at += 1
        return int(text)

    def time(self) -> int:
        """Read a time such as 400ms, 1.5s or 2min, in milliseconds; raises PhraseError if there is none."""
        start = self.place
        if self.ended:
            raise PhraseError(start, self._expected("a time such as 400ms or 2s"))
        self._at += 1
        return parse_time(self._tokens[self._at - 1].text, start)

    def size(self) -> int:
        """Read a weight such as 24MB, in bytes; raises PhraseError if there is none."""
        start = self.place
        if self.ended:
            raise PhraseError(start, self._expected("a weight such as 24MB"))
        self._at += 1
        return parse_size(self._tokens[self._at - 1].text, start)

    def time_next(self) -> bool:
        """Whether the next word is a time."""
        return not self.ended and _TIME.fullmatch(self._tokens[self._at].text) is not None

    def _expected(self, what: str) -> str:
        return f"expected {what}" + (f', not "{self.rest}"' if not self.ended else "")


_Reader = TypeVar("_Reader")


def index_by_first_word(readers: Sequence[tuple[StopWords, _Reader]]) -> dict[str, list[tuple[StopWords, _Reader]]]:
    """Sort what reads a phrase by the word it begins with, each still in its order."""
    index: dict[str, list[tuple[StopWords, _Reader]]] = {}
    for words, read in readers:
        index.setdefault(words[0], []).append((words, read))
    return index


def parse_time(text: str, start: int = 0) -> int:
    """Read a time in milliseconds; raises PhraseError if the text is not one or it is over a day."""
    match = _TIME.fullmatch(text)
    if match is None:
        raise PhraseError(start, messages.NOT_A_TIME.format(text=text), messages.WRITE_A_TIME)
    time = round(float(match[1]) * _UNIT[match[2]])
    if time > 86_400_000:
        raise PhraseError(start, messages.OVER_A_DAY.format(text=text), messages.AT_MOST_A_DAY)
    return time


def parse_size(text: str, start: int = 0) -> int:
    """Read a weight such as 24MB in bytes; raises PhraseError if the text is not one."""
    match = _SIZE.fullmatch(text)
    if match is None:
        raise PhraseError(start, messages.NOT_A_WEIGHT.format(text=text), messages.WRITE_A_WEIGHT)
    return round(float(match[1]) * _BYTES[match[2]])


def size_phrase(size: int) -> str:
    """Write a weight as a plan does: 24MB, 500KB."""
    unit = next(unit for unit in ("GB", "MB", "KB", "B") if size >= _BYTES[unit] or unit == "B")
    return f"{size / _BYTES[unit]:.1f}".removesuffix(".0") + unit


def time_phrase(time: int) -> str:
    """Write a time as a phrase does: 400ms below a second or if it has a fraction, else 2s."""
    return f"{time // 1000}s" if time >= 1000 and time % 1000 == 0 else f"{time}ms"
