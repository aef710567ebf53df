"""Rules about where Back leads: where it lands, from where it leaves the app, and whether there is a way back at all."""

from __future__ import annotations

from itertools import chain
from typing import TYPE_CHECKING, cast

from wise_ladder.ladder import happenings
from wise_ladder.ladder.deciding import STAYS_AT_ROOT
from wise_ladder.ladder.offers import taps
from wise_ladder.ladder.state import Phase, all_rungs, open_layers, visible_path
from wise_ladder.ladder.words import face_words
from wise_ladder.plan import events
from wise_ladder.plan.model import THE_GROUND
from wise_ladder.rules.edges import Edge, Guilt, answered, goes_on_by_itself, holds, link_place, seen_rung, what_if

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.ladder.cutting import Cut
    from wise_ladder.ladder.state import Rung, State
    from wise_ladder.plan.model import Rule


def never_land_on(rule: Rule, edge: Edge) -> Iterator[Guilt]:
    """Find a way back that lands on a screen of the rule while the condition holds."""
    top = edge.top_after
    if top is None or not edge.moved or edge.top_before is None or top.face.screen not in rule.screens:
        return
    back = isinstance(edge.meant, (events.Back, events.HeaderBack))
    if (back or edge.uncovers) and holds(edge.plan, edge.after, rule.condition):
        yield Guilt(edge.screen_before, f"Back from {face_words(edge.top_before.face)} lands on {face_words(top.face)}")


def back_lands(rule: Rule, edge: Edge) -> Iterator[Guilt]:
    """Find a Back by one of the ways, from a screen of the rule, that lands elsewhere than allowed."""
    top = edge.top_before
    if edge.way not in rule.ways or top is None or top.face.screen not in rule.screens or not edge.moved:
        return
    if isinstance(edge.meant, (events.Back, events.HeaderBack)) and holds(edge.plan, edge.before, rule.condition):
        after = edge.top_after
        where = THE_GROUND if after is None else after.face.screen
        if where not in rule.lands:
            lands = "leaves the app" if after is None else f"lands on {face_words(after.face)}"
            yield Guilt(edge.screen_before, f"Back from {face_words(top.face)} {lands}")


def leaves_only_from(rule: Rule, edge: Edge) -> Iterator[Guilt]:
    """Find a Back that leaves the app from another screen than allowed, or an app that is left empty."""
    top = edge.top_before
    if top is None or not edge.out:
        return
    left = edge.all_of(happenings.LeftApp)
    if left and left[0].how == "because nothing is on its ladder":
        yield Guilt(edge.culprit, "the app is left because nothing is on its ladder")
    elif isinstance(edge.pressed, events.Back) and not any(
        rung.face.screen in rule.screens for rung in visible_path(edge.before.ladder)
    ):
        yield Guilt(edge.screen_before, f"Back leaves the app from {face_words(top.face)}")


def links_have_a_way_back(rule: Rule, edge: Edge) -> Iterator[Guilt]:
    """Follow Back after a link, its questions answered, and find where that leaves the app or lands elsewhere."""
    top = edge.top_after
    if top is None or not edge.arrives or _begins(edge, top):
        return
    back = what_if(edge.plan, edge.after, events.Back())
    if back is None:
        return
    back = answered(back)
    if not back.moved:
        return
    address = edge.all_of(happenings.LinkFollowed)[-1].address
    place = link_place(edge.plan, address)
    landed = seen_rung(back.after)
    if landed is None:
        yield Guilt(place, f"after {address} Back leaves the app")
    elif rule.lands and landed.face.screen not in rule.lands:
        yield Guilt(place, f"after {address} Back lands on {face_words(landed.face)}")


def _begins(edge: Edge, top: Rung) -> bool:
    """Whether a screen stands alone that a launch without a link can begin with, so that leaving from it is right."""
    alone = all(rung.inner for rung in visible_path(edge.after.ladder)[:-1])
    return alone and top.face.screen in edge.plan.first_screens


MOST_LOOKS = 64
"""So many states that take the place of one are tried; what is not reached by then is not said to be out of reach."""


def way_back_without_system(rule: Rule, edge: Edge) -> Iterator[Guilt]:
    """Try the header and each tap, also of what takes the screen's place: what lies beneath must be reached so."""
    top, after = edge.top_after, edge.after
    if top is None or after.question is not None or (rule.screens and top.face.screen not in rule.screens):
        return
    over = open_layers(after.layers, visible_path(after.ladder))
    if all(len(ladder) == 1 for ladder in _around(after)) or any(edge.plan.overlay[name].modal for _, name, _ in over):
        return
    looks, met = [after], {_look(after)}
    for look in looks:
        # Most often the header is enough.
        for event in chain[events.Event]([events.HeaderBack()], (tap for tap, _ in taps(edge.plan, look))):
            tried = what_if(edge.plan, look, event)
            if tried is None:
                continue
            now = answered(tried).after
            if _is_beneath(after, now):
                return
            if _look(now) not in met and _in_its_place(after, now):
                met.add(_look(now))
                looks.append(now)
        if len(looks) > MOST_LOOKS:
            yield Guilt(
                edge.screen_after, f"{len(looks)} looks of {face_words(top.face)} were tried, and there are more", sure=False
            )
            return
    yield Guilt(edge.screen_after, f"{face_words(top.face)} has no way back of its own")


def _look(state: State) -> object:
    """Return what makes a difference to what can be tapped: what is seen, what lies over it, and the facts."""
    path = visible_path(state.ladder)
    return tuple(rung.face for rung in path), tuple(name for _, name, _ in open_layers(state.layers, path)), state.facts


def _is_beneath(before: State, now: State) -> bool:
    """Whether what is seen lay beneath, or is put anew in the stead of an equal one that lay there and is gone."""
    top = seen_rung(now)
    if top is None:
        return False
    beneath = [rung for ladder in _around(before) for rung in ladder[:-1]]
    if any(top.serial == each.serial for each in all_rungs(tuple(beneath))):
        return True
    left = {rung.serial for rung in all_rungs(now.ladder)}
    gone = (rung for rung in beneath if rung.serial not in left)
    return any(cast("Cut", rung).holds(top.face) if rung.cut else rung.face.same_place(top.face) for rung in gone)


def _around(state: State) -> list[tuple[Rung, ...]]:
    return [state.ladder, *(rung.front for rung in visible_path(state.ladder)[:-1])]


def _in_its_place(before: State, now: State) -> bool:
    """Whether a state shows the same screen otherwise, or another in its place: no rung more, and the same ones beneath."""

    def beneath(state: State) -> list[list[int]]:
        return [[rung.serial for rung in ladder[:-1]] for ladder in _around(state)]

    return now.phase is Phase.OPEN and beneath(before) == beneath(now)


MOST_BACKS = 64


def no_traps(_rule: Rule, edge: Edge) -> Iterator[Guilt]:
    """Follow Back as long as nothing is left or closed by it: what comes round so, never moves or has no end, is a trap.

    Where a Back takes something away, the state it leads to is judged by itself.
    """
    if edge.choice != events.Back() or edge.before.phase is not Phase.OPEN or edge.before.question is not None:
        return
    hop, met = answered(edge), {edge.before}
    while True:
        if hop.after.phase is not Phase.OPEN or _less(edge.before, hop.after):
            return
        if STAYS_AT_ROOT in hop.happened:
            # On such a phone the root is as far as Back gets.
            return
        if goes_on_by_itself(edge.plan, hop.after):
            return
        if hop.after in met or len(met) > MOST_BACKS:
            where = face_words(edge.top_before.face if edge.top_before else None)
            yield Guilt(edge.screen_before, f"no number of Backs gets out from {where}")
            return
        met.add(hop.after)
        tried = what_if(edge.plan, hop.after, events.Back())
        if tried is None:
            return
        hop = answered(tried)


def _less(before: State, after: State) -> bool:
    """Whether something went from the ladders or over them, and nothing came instead."""
    was, now = list(all_rungs(before.ladder)), list(all_rungs(after.ladder))
    rungs = {rung.serial for rung in was} - {rung.serial for rung in now}
    came = {rung.serial for rung in now} - {rung.serial for rung in was}
    if len(rungs) != len(came):
        return len(rungs) > len(came)
    overlays = len(before.layers) + sum(len(rung.layers) for rung in was)
    return len(after.layers) + sum(len(rung.layers) for rung in now) < overlays
