"""The nearest correct word, for messages about a word that nothing knows."""

from __future__ import annotations

from difflib import get_close_matches
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Iterable


def nearest(word: str, known: Iterable[str]) -> str | None:
    """Return the known word that was most likely meant, or None where none is near."""
    found = get_close_matches(word, list(known), n=1, cutoff=0.6)
    return found[0] if found else None


def instead_of(word: str, known: Iterable[str], most: int = 8) -> str:
    """Say what to write in place of an unknown word: the nearest one, else what there is."""
    names = list(known)
    near = nearest(word, names)
    if near is not None:
        return f'did you mean "{near}"?'
    if not names:
        return "there is none to choose from"
    listed = ", ".join(names[:most])
    return f"choose from: {listed}" + (" …" if len(names) > most else "")
