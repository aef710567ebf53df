"""How long something has been seen, to detect flashes."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from msgspec.structs import replace

from wise_ladder.rules.in_flight import SEEN_SINCE
from wise_ladder.rules.transition import seen_rung
from wise_ladder.rules.zones import elapsed_at_most
from wise_ladder.semantics.log import LogEntry, SeenFor
from wise_ladder.semantics.state import PendingCall, Phase, RungData, State, open_layers, top_rung, visible_path
from wise_ladder.semantics.symbolic import SymbolicPart, untold

if TYPE_CHECKING:
    from wise_ladder.plan.model import Plan
    from wise_ladder.rules.zones import Zone
    from wise_ladder.semantics.state import Rung, WaitKind


class FlashTracker:
    """Keeps among the calls since when what is seen is seen, and notes what went by itself too soon.

    A flash counts only if neither the user's haste nor a late reply is to blame: what ended it began with it, or it had
    begun by a timer and the reply came as soon as it could.
    """

    def __init__(self, plan: Plan, flash: int) -> None:
        """Note what is seen for less than `flash` milliseconds."""
        self._flash = flash
        self._waits = {overlay.name for overlay in plan.overlays if overlay.kind == "wait"}

    def observe(
        self, before: State, after: State, zone: Zone, by: int | None, happened: tuple[LogEntry, ...], takes: int = 0
    ) -> tuple[State, tuple[LogEntry, ...]]:
        """Go on to another state; `by`: the number of the timer or call that did it, None: the user; `takes`: of a call."""
        calls, turned = after.calls, self.turned(before, after)
        if isinstance(calls, SymbolicPart):
            # Nothing new is pending, so what is seen since now cannot flash.
            anew = untold(calls.place, known=calls.known._replace(turned=True))
            return (replace(after, calls=anew) if turned else after), happened
        if turned:
            if by is not None and (top := seen_rung(before)) is not None:
                happened = (*happened, *self._flashed(before, top, zone, by, takes))
            calls = tuple(call for call in calls if call.name != SEEN_SINCE)
            if _something(after) and self._may_flash(before, after, calls, by):
                number = max((call.number for call in calls), default=0) + 1
                by_timer = by is not None and by < len(before.deadlines)
                calls = (*calls, PendingCall(SEEN_SINCE, number, 0, 0, "" if by_timer else None, None))
        if not after.deadlines and all(call.name == SEEN_SINCE for call in calls):
            # Nothing is pending that could end it; what may begin later takes its own time.
            calls = ()
        return (after if calls is after.calls else replace(after, calls=calls)), happened

    def _may_flash(self, before: State, after: State, calls: tuple[PendingCall, ...], by: int | None) -> bool:
        """Whether what is seen now can go too soon: what may end it is pending, and begins now unless a timer began it."""
        if by is not None and by < len(before.deadlines):
            return bool(after.deadlines or calls)
        soon = any(timer.due >= 0 and timer.after < self._flash for timer in after.deadlines)
        return soon or any(call.started >= 0 for call in calls)

    def _flashed(self, before: State, top: Rung, zone: Zone, by: int, takes: int) -> tuple[LogEntry, ...]:
        place = next((place for place, call in enumerate(before.calls) if call.name == SEEN_SINCE), None)
        if place is None:
            return ()
        size = round(len(zone) ** 0.5)
        seen, ended = len(before.deadlines) + place + 1, by + 1
        if before.calls[place].where is None and zone[seen * size + ended] > 0:
            return ()
        if by >= len(before.deadlines):
            soonest = elapsed_at_most(zone, size - 1, by, takes)
            if soonest is None:
                return ()
            zone = soonest
        least = -zone[seen * size]
        data = RungData(top.data.screen, top.data.arguments)
        return (SeenFor(data, 0, least, self._look(before)),) if least < self._flash else ()

    def turned(self, before: State, after: State) -> bool:
        """Whether something else is seen after than before."""
        was, now = _something(before), _something(after)
        if was != now or was != "rung":
            return was != now
        if before.ladder is after.ladder and before.overlays == after.overlays:
            return False
        above, top = top_rung(before.ladder), top_rung(after.ladder)
        assert above is not None and top is not None  # noqa: S101 - something is seen
        same = above.serial == top.serial and above.data.same_screen(top.data)
        return not same or self._look(before) != self._look(after)

    def _look(self, state: State) -> WaitKind:
        layers = open_layers(state.overlays, visible_path(state.ladder)) if self._waits else ()
        return "wait" if any(name in self._waits for _, name, _ in layers) else ""


def _something(state: State) -> Literal["", "cover", "rung"]:
    """Say whether something of the app is seen: the cover, or a rung."""
    if state.phase is not Phase.OPEN:
        return ""
    return "cover" if state.cover else "rung" if state.ladder else ""
