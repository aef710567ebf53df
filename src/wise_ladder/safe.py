"""Characters that are not seen but do something: refused in plans, and made visible wherever text leaves the program."""

from __future__ import annotations

import re

JOINERS = "\u200c\u200d"
"""What some scripts need to join or part letters."""
_CONTROLS = "\\x00-\\x08\\x0b\\x0c\\x0e-\\x1f\\x7f-\\x9f\u2028\u2029\ud800-\udfff\ufffe\uffff"
_DIRECTIONS = "\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069"
_NOT_SEEN = "\u00ad\u034f\u180e\u200b\u2060-\u2064\ufeff\ufff9-\ufffb\U000e0000-\U000e007f"
CONTROL = re.compile(f"[{_CONTROLS}]")
"""What may stand nowhere in a file, tabs and ends of lines aside."""
_UNSAFE = re.compile(f"[\t\r\n{_CONTROLS}{_DIRECTIONS}{_NOT_SEEN}{JOINERS}]")
_UNSAFE_IN_TEXT = re.compile(f"[\r{_CONTROLS}{_DIRECTIONS}{_NOT_SEEN}]")


def unsafe(text: str, *, is_name: bool) -> re.Match[str] | None:
    """Find the first character that a name, or else a text, may not have; texts may have ends of lines and joiners."""
    return (_UNSAFE if is_name else _UNSAFE_IN_TEXT).search(text)


def named(character: str) -> str:
    """Write a character so that it can be seen, as U+001B."""
    return f"U+{ord(character):04X}"


def visible(text: str, *, lines: bool = True) -> str:
    r"""Return a text with what is not seen written out, as in \u001b; `lines`: ends of lines and tabs stay."""
    pattern = _UNSAFE_IN_TEXT if lines else _UNSAFE
    return pattern.sub(lambda match: f"\\u{ord(match.group()):04x}", text)


def made_visible(value: object) -> object:
    """Return lists, maps and texts, as JSON is made of them, with every text as `visible` writes it."""
    if isinstance(value, str):
        return visible(value)
    if isinstance(value, dict):
        return {made_visible(key): made_visible(each) for key, each in value.items()}
    return [made_visible(each) for each in value] if isinstance(value, list) else value
