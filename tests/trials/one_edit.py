"""Versions of the demo with one edit each, of ten kinds, drawn by a seed."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.demo import combfield
from wise_ladder.errors import LadderError
from wise_ladder.link.faults import plant
from wise_ladder.plan.loader import read_plan_text
from wise_ladder.plan.parts import Part, parts
from wise_ladder.plan.remove import delete, move
from wise_ladder.plan.rename import rename

if TYPE_CHECKING:
    from collections.abc import Callable
    from random import Random

TEXT = combfield().read_text(encoding="utf-8")
PARTS = parts(TEXT)


def of(kind: str, *keys: str) -> list[Part]:
    return [part for part in PARTS if part.kind == kind and all(key in part.text for key in keys)]


def turned(random: Random) -> str:
    part = random.choice([part for part in of("move") if part.path[0] == "screens" and "do push" in part.text])
    return plant(TEXT, f"{part.path[1]}: {part.name}: replace")


def emptied(random: Random) -> str:
    part = random.choice([part for part in of("move") if part.path[0] == "screens" and part.name.startswith("tap")])
    return plant(TEXT, f"{part.path[1]}: {part.name}: nothing")


def deleted(random: Random, kind: str) -> str:
    return delete(TEXT, random.choice(of(kind)).path).text


def renamed(random: Random) -> str:
    return rename(TEXT, "screen", random.choice(of("screen")).name, "zorn")


def valued(random: Random, kind: str, values: dict[str, tuple[str, ...]]) -> str:
    key = random.choice(list(values))
    return plant(TEXT, f"{kind} {random.choice(of(kind)).name}: {key}: {random.choice(values[key])}")


EDITS: dict[str, Callable[[Random], str]] = {
    "a push replaces": turned,
    "a tap does nothing": emptied,
    "a guard is gone": lambda random: deleted(random, "guard"),
    "a redirect is gone": lambda random: deleted(random, "redirect"),
    "a link is gone": lambda random: deleted(random, "link"),
    "moves in another order": lambda random: move(TEXT, random.choice([p for p in of("redirect") if p.path[-1]]).path, -1),
    "a fact begins otherwise": lambda random: plant(TEXT, random.choice((
        "fact welcomed: values: [yes, no]", "fact pictures: values: [few, all]", "fact season: values: [winter, summer]"))),
    "a header is another": lambda random: valued(random, "screen", {"header": ("none",), "top bar": ("hidden",)}),
    "an overlay takes Back otherwise": lambda random: valued(random, "overlay", {"back": ("passes", "blocked"), "for": ("9s",)}),
    "the phone is another": lambda random: valued(random, "phone", {"tab back": ("outwards",), "back at root": ("away", "stay")}),
}  # fmt: skip


def version(random: Random, kind: str) -> str:
    """Draw a version with an edit of a kind, one that is a plan."""
    while True:
        try:
            text = EDITS[kind](random)
            read_plan_text(text)
        except LadderError:
            continue
        return text
