"""A path traced on a map: which arrows its steps take, and arrows of its own for what no move leads to."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.plan.crossings import GROUND
from wise_ladder.plan.events import OpenLink
from wise_ladder.plan.screen_map import EVERYWHERE, OUTSIDE, START, MapArrow, MapBox, MapLine
from wise_ladder.plan.steps import event_text
from wise_ladder.semantics.log import LinkFollowed
from wise_ladder.semantics.plan_index import index_of
from wise_ladder.semantics.state import Phase, open_layers, visible_path
from wise_ladder.walks.exploration import parts_used

if TYPE_CHECKING:
    from wise_ladder.plan.screen_map import ScreenMap
    from wise_ladder.semantics import State
    from wise_ladder.walks.tape import Entry, Tape


class MapTrace(NamedTuple):
    """The steps of a path, counted from 1: by the ends of the arrows they take, by the boxes that their links lead to.

    `extra` are the arrows that the map has not, `end` is the box in which the path ends.
    """

    taken: dict[tuple[str, str], list[int]]
    at: dict[str, list[int]]
    extra: tuple[MapArrow, ...]
    end: str

    def steps(self, arrow: MapArrow) -> tuple[int, ...]:
        """Return the steps that take an arrow."""
        return tuple(self.taken.get((arrow.start, arrow.end), ()))


NO_TRACE = MapTrace({}, {}, (), "")
"""No path."""


def trace_on(drawn: ScreenMap, tape: Tape) -> tuple[ScreenMap, MapTrace]:
    """Trace a tape on a map; the map gets a box for the ground if the path ends there."""
    trace = MapTrace({}, {}, (), START)
    extra: dict[tuple[str, str], list[MapLine]] = {}
    for number, entry in enumerate(tape.entries, 1):
        before = tape.state_at(number - 1)
        start, end = _box_of(before, begun=number > 1), _box_of(entry.step.state)
        arrows = _taken(drawn, tape, entry, before)
        for arrow in arrows:
            trace.taken.setdefault((arrow.start, arrow.end), []).append(number)
        seen = {end, *_names(entry.step.state)}
        if start != end and all(arrow.end not in seen for arrow in arrows):
            if _is_link_to(drawn, tape, entry, end):
                trace.at.setdefault(end, []).append(number)
            else:
                trace.taken.setdefault((start, end), []).append(number)
                if all((arrow.start, arrow.end) != (start, end) for arrow in drawn.arrows):
                    extra.setdefault((start, end), []).append(MapLine("text", event_text(entry.event)))
        trace = trace._replace(end=end)
    keys = {box.key for box in drawn.boxes}
    if OUTSIDE not in keys and any(OUTSIDE in ends for ends in extra):
        drawn = drawn._replace(boxes=(*drawn.boxes, MapBox(OUTSIDE, "ground", GROUND, ())))
    arrows = [MapArrow(start, end, tuple(dict.fromkeys(lines))) for (start, end), lines in extra.items()]
    return drawn, trace._replace(extra=tuple(arrows))


def _taken(drawn: ScreenMap, tape: Tape, entry: Entry, before: State) -> list[MapArrow]:
    """List the arrows that the moves, guards and redirects of a step stand for."""
    used = parts_used(tape.plan, entry.step.moves, entry.step.log)
    parts = [part[0] if isinstance(part, tuple) else part for part in used]
    path = visible_path(before.ladder)
    places = {EVERYWHERE, *(rung.data.screen for rung in path), *(name for _, name, _ in open_layers(before.overlays, path))}
    # A redirect of several screens is a box of its own.
    places |= {box.key for box in drawn.boxes if box.kind == "redirect"}
    return [
        arrow
        for arrow in drawn.arrows
        if arrow.start in places and any(line.part in parts for line in arrow.lines if line.part is not None)
    ]


def _is_link_to(drawn: ScreenMap, tape: Tape, entry: Entry, end: str) -> bool:
    followed = [happening.address for happening in entry.step.log if isinstance(happening, LinkFollowed)]
    if not isinstance(entry.event, OpenLink) or not followed:
        return False
    link = index_of(tape.plan).link_of(followed[0]).link
    return any(line.part is link for box in drawn.boxes if box.key == end for line in box.links)


def _box_of(state: State, *, begun: bool = True) -> str:
    """Name the box in which a path is: the screen at the top, the ground, or the start where nothing runs yet."""
    if state.phase is Phase.OPEN and state.ladder:
        return visible_path(state.ladder)[-1].data.screen
    return OUTSIDE if begun else START


def _names(state: State) -> set[str]:
    return {rung.data.screen for rung in visible_path(state.ladder)} if state.phase is Phase.OPEN else set()
