"""Doing: overlays that open and close."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace

from wise_ladder.ladder import happenings, small
from wise_ladder.ladder.cutting import told
from wise_ladder.ladder.happenings import Finding
from wise_ladder.ladder.rungs import await_result, settle
from wise_ladder.ladder.state import Layer, Mark, Rung, all_rungs
from wise_ladder.ladder.world import add_pending

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.ladder.doing import Doing


def layers_of(doing: Doing) -> Iterator[tuple[Layer, Rung | None]]:
    """Go through all overlays that are open, each with the rung it lies over, none where it is the app's."""
    yield from ((layer, None) for layer in doing.layers)
    yield from ((layer, rung) for rung in all_rungs(doing.ladder) for layer in rung.layers)


def lay(doing: Doing, do: small.Lay) -> None:
    """An overlay opens."""
    layer = Layer(do.overlay, doing.free_serial(highest=True))
    if do.awaiting:
        await_result(doing, Mark(do.awaiting, do.overlay))
    if do.place < 0:
        doing.layers = (*doing.layers, layer)
    else:
        rung = doing.path[do.place]
        doing.put_rung(replace(rung, layers=(*rung.layers, layer)))
    doing.happened.append(happenings.Opened(do.overlay))
    if do.time is not None:
        add_pending(doing, layer.serial, do.time, "overlay")


def lift(doing: Doing, do: small.Lift) -> None:
    """The overlay of a name that was opened last closes, and gives its value to who awaits it."""
    found = [entry for entry in layers_of(doing) if entry[0].name == do.overlay]
    if not found:
        return
    layer, holder = max(found, key=lambda entry: entry[0].serial)
    if holder is None:
        doing.layers = tuple(other for other in doing.layers if other != layer)
    else:
        doing.put_rung(replace(holder, layers=tuple(other for other in holder.layers if other != layer)))
    if any(timer.kind == "overlay" and timer.serial == layer.serial for timer in told(doing.pending)):
        doing.pending = tuple(timer for timer in doing.pending if timer.kind != "overlay" or timer.serial != layer.serial)
    doing.happened.append(happenings.Closed(do.overlay, do.by_itself))
    for rung in all_rungs(doing.ladder):
        # What awaits an overlay is never left out.
        if not rung.cut and rung.face.awaits and settle(doing, rung, do.overlay, do.value):
            return
    if do.value is not None:
        words = f"{do.overlay} closed with {do.value}, but nobody awaits it"
        doing.happened.append(Finding("nobody waits", words))
