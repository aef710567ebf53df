"""Doing: overlays that open and close."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace

from wise_ladder.plan.values import value_words
from wise_ladder.semantics import effects, log, messages
from wise_ladder.semantics.apply_rungs import await_answer, resolve_awaited, returned
from wise_ladder.semantics.apply_world import (
    OF_RUNGS,
    add_pending,
    open_overlay_of,
    put_layer,
    set_on_rung,
    set_to,
    start_timer,
)
from wise_ladder.semantics.log import Finding
from wise_ladder.semantics.paths import Spotted, find
from wise_ladder.semantics.state import OverlayInstance, Rung, RungData, all_rungs
from wise_ladder.semantics.symbolic import told

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.semantics.working_state import Applier, WorkingState


def layers_of(doing: WorkingState) -> Iterator[tuple[OverlayInstance, Rung | None]]:
    """Go through all overlays that are open, each with the rung it is over, none if it is the app's."""
    yield from ((layer, None) for layer in doing.overlays)
    yield from ((layer, rung) for rung in all_rungs(doing.ladder) for layer in rung.overlays)


def open_overlay(doing: WorkingState, do: effects.OpenOverlay) -> None:
    """An overlay opens."""
    serial = doing.free_serial(highest=True)
    facts = doing.tables.own[do.overlay]
    layer = OverlayInstance(do.overlay, serial, await_answer(doing, do.awaiting, do.overlay) if do.awaiting else 0, facts)
    if do.place < 0:
        doing.overlays = (*doing.overlays, layer)
    else:
        rung = doing.track[do.place]
        doing.put_rung(replace(rung, overlays=(*rung.overlays, layer)))
    doing.opened.append(serial)
    doing.log.append(log.Opened(do.overlay))
    if do.time is not None:
        add_pending(doing, serial, do.time, "overlay")
    for after, runs in doing.tables.timers.get(do.overlay, ()):
        start_timer(doing, RungData(do.overlay, (), facts), serial, after, runs)


def close_overlay(doing: WorkingState, do: effects.CloseOverlay) -> None:
    """An overlay closes, and gives its value to what awaits it."""
    layer, holder = _sought(doing, do)
    if layer is None:
        return
    value = returned(doing, do.value)
    if holder is None:
        doing.overlays = tuple(other for other in doing.overlays if other != layer)
    else:
        rung = holder.rung
        doing.put_rung(replace(rung, overlays=tuple(other for other in rung.overlays if other != layer)))
    stops = (*OF_RUNGS, "overlay")
    if any(timer.kind in stops and timer.serial == layer.serial for timer in told(doing.deadlines)):
        doing.deadlines = tuple(timer for timer in doing.deadlines if timer.kind not in stops or timer.serial != layer.serial)
    doing.never_shown = tuple(serial for serial in doing.never_shown if serial != layer.serial)
    doing.opened = [serial for serial in doing.opened if serial != layer.serial]
    doing.log.append(log.Closed(do.overlay, by_itself=do.place is None))
    over = (-1, ()) if holder is None else (holder.rung.serial, holder.chain)
    doing.closed.append((layer, over[1], over[0]))
    asker = find(doing.ladder, layer.asker) if layer.asker else None
    marks = [mark for mark in asker.rung.data.awaits if mark.overlay == do.overlay] if asker is not None else []
    if asker is not None and marks:
        resolve_awaited(doing, asker.rung, marks[-1:], value)
        doing.hidden_results.append(asker.rung.serial)
    elif value is not None:
        words = messages.ANSWER_NOBODY_AWAITS.format(overlay=do.overlay, value=value_words(value))
        doing.log.append(Finding("nobody waits", words))


def note_what_was_set(doing: WorkingState) -> None:
    """At the end of a move, note for overlays that it opened what it has set, where they can take that back."""
    for serial in doing.opened:
        layer, over = open_overlay_of(doing, serial) or (None, None)
        if layer is not None and layer.name in doing.tables.take_back:
            app = zip(doing.plan.facts, doing.before.facts, doing.facts, strict=True)
            was = [(False, fact.name, before) for fact, before, now in app if before != now]
            if over is not None:
                held = dict(over.rung.data.facts)
                own = ((name, before) for (holder, name), before in doing.own_was.items() if holder == over.rung.serial)
                was += [(True, name, before) for name, before in own if held.get(name) != before]
            put_layer(doing, replace(layer, takes_back=tuple(was)))


def take_back(doing: WorkingState, _do: effects.TakeBackSet) -> None:
    """Facts get the values back that they had before the move that opened the overlay on which this move stands."""
    layer, over = open_overlay_of(doing, doing.layer) or (None, None)
    for own, name, value in layer.takes_back if layer is not None else ():
        if not own:
            set_to(doing, effects.SetFactValue(doing.plan.fact_index[name], name, value))
        elif over is not None:
            set_on_rung(doing, over.rung.serial, name, value)


def _sought(doing: WorkingState, do: effects.CloseOverlay) -> tuple[OverlayInstance | None, Spotted | None]:
    """Return the overlay that is to close, and the rung it is over, none if it is the app's."""
    if do.place is None:
        return open_overlay_of(doing, doing.layer) or (None, None)
    holder = None if do.place < 0 else Spotted(doing.track[do.place], doing.way_to_level(do.place))
    layers = doing.overlays if holder is None else holder.rung.overlays
    return next((layer for layer in reversed(layers) if layer.name == do.overlay), None), holder


APPLY: dict[type, Applier] = {
    effects.OpenOverlay: open_overlay,
    effects.CloseOverlay: close_overlay,
    effects.TakeBackSet: take_back,
}
