"""From where to where a plan leads, by which operation: one crossing for each put, drop or redirect that is written in it."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.plan import operations
from wise_ladder.plan.link_match import match_link

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.model import Guard, Move, Plan, Redirect
    from wise_ladder.plan.operations import CrossingKind, Operation

GLYPHS: dict[CrossingKind, str] = {
    "push": "↑",
    "replace": "⇄",
    "clear, then push": "■",
    "reach": "◎",
    "pop": "↓",
    "pop to": "⇓",
    "return": "↲",
    "redirect": "↷",
    "leave": "○",
    "switch": "◎",
    "stay": "▴",
}
ANYWHERE, BENEATH, STAYS, GROUND = "anywhere", "beneath", "stays", "the ground"
"""Rows and columns that are not screens: anywhere, the rung beneath, the current screen, out of the app."""


class Crossing(NamedTuple):
    """A way from a place to a place; several may be of one move."""

    start: str
    end: str
    kind: CrossingKind
    part: Move | Guard | Redirect

    @property
    def glyph(self) -> str:
        """The glyph of its operation."""
        return GLYPHS[self.kind]


def crossings(plan: Plan) -> list[Crossing]:
    """List every crossing of a plan, in the order of the file."""
    rows: list[Crossing] = []
    for move in plan.moves:
        rows += _of(plan, move.owner or ANYWHERE, move, move.operations)
    for guard in plan.guard.values():
        done = guard.operations + tuple(operation for answer in guard.answers for operation in answer.operations)
        if done:
            rows += _of(plan, guard.id.owner or ANYWHERE, guard, done)
    for redirect in plan.redirects:
        rows += (Crossing(name, redirect.target.screen, "redirect", redirect) for name in redirect.only or (ANYWHERE,))
    return rows


def _of(plan: Plan, start: str, thing: Move | Guard, done: tuple[Operation, ...]) -> list[Crossing]:
    rows: list[Crossing] = []
    cleared = False
    for operation in done:
        inner = operations.inner(operation)
        cleared = cleared or isinstance(inner, (operations.Clear, operations.PopToRoot))
        rows += (Crossing(start, end, kind, thing) for end, kind in _ends(plan, inner, cleared=cleared))
    moved = [crossing for crossing in dict.fromkeys(rows) if crossing.kind != "stay"]
    return moved or [Crossing(start, STAYS, "stay", thing)]


def _ends(plan: Plan, done: Operation, *, cleared: bool) -> Iterator[tuple[str, CrossingKind]]:
    kind = done.record.crossing
    match done:
        case operations.Push(target) if cleared:
            yield target.screen, "clear, then push"
        case operations.Push(target) | operations.Replace(target) | operations.Reach(target) | operations.PopTo(target):
            yield target.screen, kind
        case operations.Leave():
            yield GROUND, kind
        case operations.Switch(tab):
            firsts = (target.screen for screen in plan.screens if screen.tabs for name, target in screen.inside if name == tab)
            yield from ((first, kind) for first in firsts)
        case operations.Follow(address):
            link = match_link(plan.links, address).link or next((link for link in plan.links if link.address == address), None)
            if link is not None:
                yield link.build[-1].screen, "clear, then push" if link.mode == "rebuild" else kind
        case _ if kind != "stay":
            yield BENEATH, kind
    if otherwise := operations.fallback_of(done):
        yield from _ends(plan, operations.inner(otherwise), cleared=cleared)


def places(plan: Plan, ways: list[Crossing]) -> tuple[list[str], list[str]]:
    """Return the rows and the columns of the table: the screens in the order of the file, then what else crossings join."""
    screens = [screen.name for screen in plan.screens]
    starts, ends = {crossing.start for crossing in ways}, {crossing.end for crossing in ways}
    rows = [*screens, *(overlay.name for overlay in plan.overlays if overlay.name in starts)]
    rows += [ANYWHERE] if ANYWHERE in starts else []
    columns = [*((BENEATH,) if BENEATH in ends else ()), *screens]
    columns += [name for name in (STAYS, GROUND) if name in ends]
    return rows, columns
