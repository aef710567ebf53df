"""Rules about what the phone does to an app: it is killed and comes back, its screens are remade."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.plan import events
from wise_ladder.rules import messages
from wise_ladder.rules.transition import Transition, Violation, face_of, screen_place, try_event
from wise_ladder.semantics import log
from wise_ladder.semantics.state import RungData, all_rungs, open_layers, visible_path, visible_top
from wise_ladder.semantics.text import rung_text

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.rule import Rule


def survives_death(rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Kill the app, reopen it, and find what is seen otherwise or lost, of what the phone promises to keep."""
    before, what = visible_top(edge.before), edge.plan.policies.restore
    if not isinstance(edge.action, events.Killed) or before is None or edge.before.cover or what == "nothing":
        return
    reopened = try_event(edge.plan, edge.after, events.Reopen())
    after = None if reopened is None else visible_top(reopened.after)
    if reopened is None or after is None or after.data.screen in rule.screens:
        return
    if not after.data.same_screen(before.data):
        yield Violation(
            screen_place(edge.plan, before.data),
            messages.REOPENS_ELSEWHERE.format(rung=rung_text(before.data), other=rung_text(after.data)),
        )
        return
    path = visible_path(edge.before.ladder)
    lost = [(before.data, name) for _, name, _ in open_layers(edge.before.overlays, path)
            if edge.plan.overlay[name].kind != "notice"]  # fmt: skip
    now = {rung.serial: rung.data for rung in all_rungs(reopened.after.ladder) if not rung.cut}
    for rung in path if what == "top" else all_rungs(edge.before.ladder):
        if not rung.saved:
            lost += [(rung.data, name) for name in _lost(rung.data, now.get(rung.serial))]
    for data in dict.fromkeys(data for data, _ in lost):
        names = " and ".join(name for other, name in lost if other == data)
        words = messages.LOST_BY_DEATH.format(top=rung_text(before.data), names=names, rung=rung_text(data))
        yield Violation(screen_place(edge.plan, data), words)


def survives_remaking(rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Find what is seen otherwise, is lost, or happens a second time when the screens are remade."""
    before, after = visible_top(edge.before), edge.top_after
    if not isinstance(edge.action, events.Remade) or before is None or edge.before.cover:
        return
    if after is None or not after.data.same_screen(before.data):
        words = messages.REMADE_ELSEWHERE.format(rung=rung_text(before.data), other=rung_text(face_of(after)))
        yield Violation(screen_place(edge.plan, before.data), words)
        return
    now = {rung.serial: rung.data for rung in all_rungs(edge.after.ladder) if not rung.cut}
    for rung in all_rungs(edge.before.ladder):
        # What was left out and is as it would be saved loses nothing.
        if rung.saved or rung.data.screen in rule.screens:
            continue
        if lost := list(_lost(rung.data, now.get(rung.serial))):
            words = messages.LOST_WHEN_REMADE.format(names=" and ".join(lost), rung=rung_text(rung.data))
            yield Violation(screen_place(edge.plan, rung.data), words)
    for happening in edge.log if before.data.screen not in rule.screens else ():
        if isinstance(happening, log.CallMade) and happening.call in {call.name for call in edge.before.calls}:
            yield Violation(edge.culprit, messages.CALLED_AGAIN.format(call=happening.call))
        elif isinstance(happening, log.Opened):
            yield Violation(edge.culprit, messages.OPENED_AGAIN.format(overlay=happening.overlay))


def _lost(was: RungData, now: RungData | None) -> Iterator[str]:
    """Name what a rung lost: what it held, and results that it awaited or had got."""
    now = RungData("") if now is None else now
    yield from (f"{name} {value}" for name, value in was.facts if (name, value) not in now.facts)
    awaited = (mark.name for mark in was.awaits if mark not in now.awaits)
    came = (came.name for came in was.undelivered if came.value is not None and came not in now.undelivered)
    yield from dict.fromkeys((*awaited, *came))
