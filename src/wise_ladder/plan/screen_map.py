"""The map of a plan: its screens and what leads from each to which, without a drawing."""

from __future__ import annotations

from collections import ChainMap
from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias

from wise_ladder.errors import QuestionError
from wise_ladder.plan import messages, operations
from wise_ladder.plan.crossings import ANYWHERE, BENEATH, GLYPHS, GROUND, crossings
from wise_ladder.plan.map_groups import home_groups
from wise_ladder.plan.model import Guard, Move
from wise_ladder.plan.operations import CrossingKind
from wise_ladder.plan.suggest import suggest

if TYPE_CHECKING:
    from collections.abc import Mapping

    from wise_ladder.plan.crossings import Crossing
    from wise_ladder.plan.map_groups import Group
    from wise_ladder.plan.model import Plan, PlanPart

BoxKind: TypeAlias = Literal["screen", "flow", "overlay", "start", "redirect", "anywhere", "ground", "elsewhere"]
WayKind: TypeAlias = CrossingKind | Literal["open", "link", "drawn elsewhere", "text"]
_OTHER_GLYPHS: dict[WayKind, str] = {"open": "▫", "link": "⇥", "drawn elsewhere": "→", "text": ""}
WAY_GLYPHS: Mapping[WayKind, str] = ChainMap(_OTHER_GLYPHS, dict(GLYPHS.items()))
START, OUTSIDE, EVERYWHERE = "\0start", "\0the ground", "\0anywhere"
"""The keys of the boxes that are not screens. No name in a plan begins with this character, so they differ from all screens."""


class MapLine(NamedTuple):
    """One way from a box to another, or down: what it does, what sets it off, and the part of the plan."""

    kind: WayKind
    words: str
    part: PlanPart | None = None

    @property
    def text(self) -> str:
        """The way as it is written beside its arrow."""
        return f"{WAY_GLYPHS[self.kind]} {self.words}".strip()


class MapBox(NamedTuple):
    """A box of the map: a screen, a flow or tabs, an overlay that leads on, or where a path begins or ends.

    `key` names it among all boxes. `lines` are the ways that lead to no other box: down, or to the same screen again.
    """

    key: str
    kind: BoxKind
    title: str
    group: Group
    lines: tuple[MapLine, ...] = ()
    links: tuple[MapLine, ...] = ()
    """The addresses that lead here from outside."""


class MapArrow(NamedTuple):
    """What leads from one box to another: all ways share one arrow."""

    start: str
    end: str
    lines: tuple[MapLine, ...]

    @property
    def dashed(self) -> bool:
        """Whether no move is among its ways: redirects, links, what stands first."""
        return all(not isinstance(line.part, (Move, Guard)) for line in self.lines)


class ScreenMap(NamedTuple):
    """The boxes in the order of the plan, and the arrows between them."""

    boxes: tuple[MapBox, ...]
    arrows: tuple[MapArrow, ...]

    def only(self, keys: set[str]) -> ScreenMap:
        """Leave out all other boxes, and what leads from or to them."""
        boxes = tuple(box for box in self.boxes if box.key in keys)
        return ScreenMap(boxes, tuple(arrow for arrow in self.arrows if {arrow.start, arrow.end} <= keys))


def screen_map(plan: Plan) -> ScreenMap:
    """Lay the boxes and arrows of a plan out of its crossings, links and redirects."""
    return _Builder(plan).built()


def around(plan: Plan, drawn: ScreenMap, screen: str, most: int = 2) -> ScreenMap:
    """Leave only what is at most so many arrows away from a screen, along or against them.

    Raises QuestionError if there is no such screen.
    """
    if screen not in plan.screen:
        raise QuestionError(messages.NO_SUCH_SCREEN.format(name=screen) + f"; {suggest(screen, list(plan.screen))}")
    keys = {screen}
    for _ in range(most):
        near = (arrow for arrow in drawn.arrows if arrow.start in keys or arrow.end in keys)
        keys = keys | {key for arrow in near for key in (arrow.start, arrow.end)}
    return drawn.only(keys)


class _Builder:
    def __init__(self, plan: Plan) -> None:
        self.plan, self.groups = plan, home_groups(plan)
        self.boxes: dict[str, MapBox] = {}
        self.arrows: dict[tuple[str, str], list[MapLine]] = {}

    def built(self) -> ScreenMap:
        plan, ways = self.plan, crossings(self.plan)
        starts = {way.start for way in ways if way.kind != "stay"}
        self.box(START, "start", plan.app, ())
        for screen in plan.screens:
            self.box(screen.name, "flow" if screen.inside else "screen", screen.name, self.group_of(screen.name))
        for overlay in plan.overlays:
            if overlay.name in starts:
                self.box(overlay.name, "overlay", overlay.name, self.groups[overlay.name])
        for choice in plan.start:
            self.arrow(START, choice.target.screen, MapLine("push", "launch"))
        for screen in plan.screens:
            for tab, first in screen.inside:
                self.arrow(screen.name, first.screen, MapLine("switch", tab or "begins here"))
        for way in ways:
            self.way(way)
        self.opens()
        self.redirects()
        for link in plan.links:
            self.link(link.build[-1].screen, MapLine("link", link.address, link))
        if plan.unknown_target is not None:
            self.link(plan.unknown_target.screen, MapLine("link", "unknown address"))
        arrows = [MapArrow(start, end, tuple(dict.fromkeys(lines))) for (start, end), lines in self.arrows.items()]
        return ScreenMap(tuple(self.boxes.values()), tuple(arrows))

    def group_of(self, name: str) -> Group:
        """Return where a box stands; the box of a flow stands inside what it holds."""
        return (*self.groups[name], name) if self.plan.screen[name].inside else self.groups[name]

    def box(self, key: str, kind: BoxKind, title: str, group: Group) -> None:
        self.boxes.setdefault(key, MapBox(key, kind, title, group))

    def arrow(self, start: str, end: str, line: MapLine) -> None:
        lines = self.arrows.setdefault((start, end), [])
        # A tab that a tap of its name brings to the front need not be told twice.
        if not any(line.part is None and known.part is None for known in lines):
            lines.append(line)

    def line(self, key: str, line: MapLine) -> None:
        box = self.boxes[key]
        if line not in box.lines:
            self.boxes[key] = box._replace(lines=(*box.lines, line))

    def way(self, way: Crossing) -> None:
        if way.kind in {"stay", "redirect"}:
            return
        line = MapLine(way.kind, _words(way.part), way.part)
        start, end = way.start, way.end
        if start == ANYWHERE and _owner(way.part) is None:
            start = EVERYWHERE
            self.box(start, "anywhere", ANYWHERE, ())
        if end in {BENEATH, way.start}:
            self.line(start, line)
            return
        if way.kind == "leave":
            end = OUTSIDE
            self.box(end, "ground", GROUND, ())
        self.arrow(start, end, line)

    def opens(self) -> None:
        for move in self.plan.moves:
            for done in move.operations:
                inner = operations.inner(done)
                if isinstance(inner, operations.Open) and inner.overlay in self.boxes and move.owner in self.boxes:
                    self.arrow(move.owner, inner.overlay, MapLine("open", _words(move), move))

    def redirects(self) -> None:
        """A redirect of one screen is an arrow; one of several is a box that lists them."""
        for redirect in self.plan.redirects:
            target, names = redirect.target.screen, redirect.only
            line = MapLine("redirect", "redirect", redirect)
            if len(names) == 1:
                self.arrow(names[0], target, line)
            else:
                title = ", ".join(names) or (
                    f"anything but {', '.join(redirect.excluded)}" if redirect.excluded else "anything"
                )
                key = f"\0redirect of {title}"
                self.box(key, "redirect", title, self.boxes[target].group)
                self.arrow(key, target, line)

    def link(self, screen: str, line: MapLine) -> None:
        box = self.boxes[screen]
        self.boxes[screen] = box._replace(links=(*box.links, line))


def _owner(part: PlanPart) -> str | None:
    return part.owner if isinstance(part, Move) else part.id.owner if isinstance(part, Guard) else None


def _words(part: PlanPart) -> str:
    if isinstance(part, Move):
        return part.when
    return f"guard {part.name}" if isinstance(part, Guard) else "redirect"
