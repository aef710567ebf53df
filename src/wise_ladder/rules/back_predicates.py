"""Rules about where Back leads: where it lands, from where it leaves the app, and whether there is a way back at all."""

from __future__ import annotations

from itertools import chain
from typing import TYPE_CHECKING, cast

from wise_ladder.plan import events
from wise_ladder.plan.model import THE_GROUND
from wise_ladder.rules import messages
from wise_ladder.rules.transition import (
    Transition,
    Violation,
    answered,
    goes_on_by_itself,
    holds,
    link_place,
    seen_rung,
    try_event,
)
from wise_ladder.semantics import log
from wise_ladder.semantics.decide_back import STAYS_AT_ROOT
from wise_ladder.semantics.offers import taps
from wise_ladder.semantics.shared_address import shared_address
from wise_ladder.semantics.state import Phase, all_rungs, open_layers, visible_path
from wise_ladder.semantics.text import rung_text

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.rule import Rule
    from wise_ladder.semantics.state import Rung, State
    from wise_ladder.semantics.symbolic import SymbolicRungs


def never_land_on(rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Find a way back that lands on a screen of the rule while the condition holds."""
    top = edge.top_after
    if top is None or not edge.moved or edge.top_before is None or top.data.screen not in rule.screens:
        return
    back = isinstance(edge.meant, (events.Back, events.HeaderBack))
    if (back or edge.uncovers) and holds(edge.plan, edge.after, rule.condition):
        yield Violation(
            edge.screen_before, messages.BACK_LANDS.format(start=rung_text(edge.top_before.data), end=rung_text(top.data))
        )


def back_lands(rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Find a Back by one of the ways, from a screen of the rule, that lands elsewhere than allowed."""
    top = edge.top_before
    if edge.way not in rule.ways or top is None or top.data.screen not in rule.screens or not edge.moved:
        return
    if isinstance(edge.meant, (events.Back, events.HeaderBack)) and holds(edge.plan, edge.before, rule.condition):
        after = edge.top_after
        where = THE_GROUND if after is None else after.data.screen
        if where not in rule.lands:
            start = rung_text(top.data)
            if after is None:
                yield Violation(edge.screen_before, messages.BACK_LEAVES.format(start=start))
            else:
                yield Violation(edge.screen_before, messages.BACK_LANDS.format(start=start, end=rung_text(after.data)))


def leaves_only_from(rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Find a Back that leaves the app from another screen than allowed, or an app that is left empty."""
    top = edge.top_before
    if top is None or not edge.out:
        return
    left = edge.all_of(log.AppLeft)
    if left and left[0].cause == "empty":
        yield Violation(edge.culprit, messages.LADDER_EMPTY)
    elif isinstance(edge.pressed, events.Back) and not any(
        rung.data.screen in rule.screens for rung in visible_path(edge.before.ladder)
    ):
        yield Violation(edge.screen_before, messages.BACK_LEAVES.format(start=rung_text(top.data)))


def links_have_a_way_back(rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Follow Back after a link, its questions answered, and find where that leaves the app or lands elsewhere."""
    top = edge.top_after
    if top is None or not edge.arrives or _begins(edge, top):
        return
    back = try_event(edge.plan, edge.after, events.Back())
    if back is None:
        return
    back = answered(back)
    if not back.moved:
        return
    address = edge.all_of(log.LinkFollowed)[-1].address
    place = link_place(edge.plan, address)
    landed = seen_rung(back.after)
    if landed is None:
        yield Violation(place, messages.BACK_LEAVES_AFTER_LINK.format(address=address))
    elif rule.lands and landed.data.screen not in rule.lands:
        yield Violation(place, messages.BACK_LANDS_AFTER_LINK.format(address=address, end=rung_text(landed.data)))


def addresses_lead_back(rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Open the address of the place where one stands, and find where that shows another screen, or has no way back."""
    top, after = edge.top_after, edge.after
    if top is None or after.question is not None or (rule.screens and top.data.screen not in rule.screens):
        return
    address = shared_address(edge.plan, after)
    if address is None:
        if rule.screens:
            yield Violation(edge.screen_after, messages.NO_ADDRESS.format(rung=rung_text(top.data)))
        return
    tried = try_event(edge.plan, after, events.OpenLink(address))
    opened = None if tried is None else answered(tried)
    shown = None if opened is None else seen_rung(opened.after)
    if opened is None or shown is None or not shown.data.same_screen(top.data):
        where = rung_text(shown.data if shown is not None else None)
        words = messages.ADDRESS_SHOWS_ANOTHER.format(address=address, rung=rung_text(top.data), other=where)
        yield Violation(link_place(edge.plan, address), words)
    elif not _begins(opened, shown):
        back = try_event(edge.plan, opened.after, events.Back())
        if back is not None and seen_rung(answered(back).after) is None:
            yield Violation(link_place(edge.plan, address), messages.BACK_LEAVES_AFTER_LINK.format(address=address))


def _begins(edge: Transition, top: Rung) -> bool:
    """Whether a screen stands alone that a launch without a link can begin with, so that leaving from it is right."""
    alone = all(rung.inner for rung in visible_path(edge.after.ladder)[:-1])
    return alone and top.data.screen in edge.plan.first_screens


MAX_LOOKS = 64
"""So many states that take the place of one are tried; what is not reached by then is not said to be out of reach."""


def way_back_without_system(rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Try the header and each tap, also of what takes the screen's place: what is beneath must be reached so."""
    top, after = edge.top_after, edge.after
    if top is None or after.question is not None or (rule.screens and top.data.screen not in rule.screens):
        return
    over = open_layers(after.overlays, visible_path(after.ladder))
    if all(len(ladder) == 1 for ladder in _around(after)) or any(edge.plan.overlay[name].modal for _, name, _ in over):
        return
    looks, met = [after], {_look(after)}
    for look in looks:
        # Most often the header is enough.
        for event in chain[events.Event]([events.HeaderBack()], (tap for tap, _ in taps(edge.plan, look))):
            tried = try_event(edge.plan, look, event)
            if tried is None:
                continue
            now = answered(tried).after
            if _is_beneath(after, now):
                return
            if _look(now) not in met and _in_its_place(after, now):
                met.add(_look(now))
                looks.append(now)
        if len(looks) > MAX_LOOKS:
            yield Violation(
                edge.screen_after, messages.TOO_MANY_LOOKS.format(count=len(looks), rung=rung_text(top.data)), sure=False
            )
            return
    yield Violation(edge.screen_after, messages.NO_WAY_BACK.format(rung=rung_text(top.data)))


def _look(state: State) -> object:
    """Return what makes a difference to what can be tapped: what is seen, what is over it, and the facts."""
    path = visible_path(state.ladder)
    return tuple(rung.data for rung in path), tuple(name for _, name, _ in open_layers(state.overlays, path)), state.facts


def _is_beneath(before: State, now: State) -> bool:
    """Whether what is seen lay beneath, or is put again in the stead of an equal one that lay there and is gone."""
    top = seen_rung(now)
    if top is None:
        return False
    beneath = [rung for ladder in _around(before) for rung in ladder[:-1]]
    if any(top.serial == each.serial for each in all_rungs(tuple(beneath))):
        return True
    left = {rung.serial for rung in all_rungs(now.ladder)}
    gone = (rung for rung in beneath if rung.serial not in left)
    return any(cast("SymbolicRungs", rung).holds(top.data) if rung.cut else rung.data.same_screen(top.data) for rung in gone)


def _around(state: State) -> list[tuple[Rung, ...]]:
    return [state.ladder, *(rung.front for rung in visible_path(state.ladder)[:-1])]


def _in_its_place(before: State, now: State) -> bool:
    """Whether a state shows the same screen otherwise, or another in its place: no rung more, and the same ones beneath."""

    def beneath(state: State) -> list[list[int]]:
        return [[rung.serial for rung in ladder[:-1]] for ladder in _around(state)]

    return now.phase is Phase.OPEN and beneath(before) == beneath(now)


MAX_BACKS = 64


def no_traps(_rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Follow Back as long as nothing is left or closed by it: what comes round so, never moves or has no end, is a trap.

    Where a Back takes something away, the state it leads to is judged by itself.
    """
    if edge.action != events.Back() or edge.before.phase is not Phase.OPEN or edge.before.question is not None:
        return
    hop, met = answered(edge), {edge.before}
    while True:
        if hop.after.phase is not Phase.OPEN or _less(edge.before, hop.after):
            return
        if STAYS_AT_ROOT in hop.log:
            # On such a phone the root is as far as Back gets.
            return
        if goes_on_by_itself(edge.plan, hop.after):
            return
        if hop.after in met or len(met) > MAX_BACKS:
            where = rung_text(edge.top_before.data if edge.top_before else None)
            yield Violation(edge.screen_before, messages.TRAP.format(rung=where))
            return
        met.add(hop.after)
        tried = try_event(edge.plan, hop.after, events.Back())
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
    overlays = len(before.overlays) + sum(len(rung.overlays) for rung in was)
    return len(after.overlays) + sum(len(rung.overlays) for rung in now) < overlays
