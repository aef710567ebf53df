"""Since when something is seen, where it matters that nothing flashes by."""

from __future__ import annotations

from typing import TYPE_CHECKING, TypeAlias

from msgspec.structs import replace

from wise_ladder.ladder.cutting import Untold, untold
from wise_ladder.ladder.happenings import Happening, Saw
from wise_ladder.ladder.state import Calling, Face, Phase, State, open_layers, visible_path
from wise_ladder.rules.shapes import SEEN
from wise_ladder.rules.zones import as_soon_as

if TYPE_CHECKING:
    from wise_ladder.ladder.state import Look
    from wise_ladder.plan.model import Plan
    from wise_ladder.rules.zones import Zone


_Look: TypeAlias = "tuple[Face | None, int, Look]"


class Eyes:
    """Keeps among the calls since when what is seen is seen, and notes what went by itself too soon.

    A flash counts only where neither the user's haste nor a late reply is to blame: what ended it began with it, or it had
    begun by a timer and the reply came as soon as it could.
    """

    def __init__(self, plan: Plan, flash: int) -> None:
        """Note what is seen for less than `flash` milliseconds."""
        self._flash = flash
        self._waits = {overlay.name for overlay in plan.overlays if overlay.kind == "wait"}

    def follow(
        self, before: State, after: State, zone: Zone, by: int | None, happened: tuple[Happening, ...], takes: int = 0
    ) -> tuple[State, tuple[Happening, ...]]:
        """Go on to another state; `by`: the number of the timer or call that did it, None: the user; `takes`: of a call."""
        was, now = self.sees(before), self.sees(after)
        calls = after.calls
        if isinstance(calls, Untold):
            # Nothing new is under way, so what is seen since now cannot flash.
            return (after if was == now else replace(after, calls=untold(calls.place, turned=True))), happened
        if was != now:
            if by is not None and was is not None and was[0] is not None and was[2] != "cover":
                happened = (*happened, *self._flashed(before, was, zone, by, takes))
            calls = tuple(call for call in calls if call.name != SEEN)
            if now is not None and self._may_flash(before, after, calls, by):
                number = max((call.number for call in calls), default=0) + 1
                by_timer = by is not None and by < len(before.pending)
                calls = (*calls, Calling(SEEN, number, 0, 0, "" if by_timer else None, None))
        if not after.pending and all(call.name == SEEN for call in calls):
            # Nothing is under way that could end it; what may begin later takes its own time.
            calls = ()
        return (after if calls is after.calls else replace(after, calls=calls)), happened

    def _may_flash(self, before: State, after: State, calls: tuple[Calling, ...], by: int | None) -> bool:
        """Whether what is seen now can go too soon: what may end it is under way, and begins now unless a timer began it."""
        if by is not None and by < len(before.pending):
            return bool(after.pending or calls)
        soon = any(timer.due >= 0 and timer.after < self._flash for timer in after.pending)
        return soon or any(call.started >= 0 for call in calls)

    def _flashed(self, before: State, was: _Look, zone: Zone, by: int, takes: int) -> tuple[Happening, ...]:
        place = next((place for place, call in enumerate(before.calls) if call.name == SEEN), None)
        if place is None:
            return ()
        size = round(len(zone) ** 0.5)
        seen, ended = len(before.pending) + place + 1, by + 1
        if before.calls[place].where is None and zone[seen * size + ended] > 0:
            return ()
        if by >= len(before.pending):
            soonest = as_soon_as(zone, size - 1, by, takes)
            if soonest is None:
                return ()
            zone = soonest
        least = -zone[seen * size]
        return (Saw(was[0], 0, least, was[2]),) if least < self._flash else ()

    def sees(self, state: State) -> _Look | None:
        """Return what is seen, and which rung's it is."""
        if state.phase is not Phase.OPEN:
            return None
        if state.cover:
            return None, 0, "cover"
        path = visible_path(state.ladder)
        if not path:
            return None
        look: Look = ""
        if self._waits and any(name in self._waits for _, name, _ in open_layers(state.layers, path)):
            look = "wait"
        top = path[-1]
        return Face(top.face.screen, top.face.arguments), top.serial, look
