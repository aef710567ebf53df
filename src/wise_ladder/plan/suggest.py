"""The nearest correct word, for messages about a word that nothing knows."""

from __future__ import annotations

from difflib import get_close_matches
from functools import lru_cache
from heapq import nlargest
from itertools import pairwise
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Iterable


MAX_COMPARED = 20
"""In a long list, only the words that share most pairs of letters are compared letter by letter."""


@lru_cache(maxsize=20_000)
def _pairs(word: str) -> frozenset[str]:
    return frozenset(first + second for first, second in pairwise(f" {word} "))


def closest(word: str, known: Iterable[str]) -> str | None:
    """Return the known word that was most likely meant, or None if none is near."""
    return _nearest(word, tuple(known))


@lru_cache(maxsize=1_000)
def _nearest(word: str, names: tuple[str, ...]) -> str | None:
    if len(names) > MAX_COMPARED:
        wanted = _pairs(word[:200])
        names = tuple(nlargest(MAX_COMPARED, names, key=lambda name: 2 * len(wanted & _pairs(name)) - len(name)))
    matches = get_close_matches(word, names, n=1, cutoff=0.6)
    return matches[0] if matches else None


def suggest(word: str, known: Iterable[str], most: int = 8) -> str:
    """Suggest what to write for an unknown word: the nearest, else the list."""
    names = list(known)
    near = closest(word, names)
    if near is not None:
        return f'did you mean "{near}"?'
    if not names:
        return "there is none to choose from"
    listed = ", ".join(names[:most])
    return f"choose from: {listed}" + (" …" if len(names) > most else "")
