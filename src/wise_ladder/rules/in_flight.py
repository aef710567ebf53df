"""What is pending in a state of the sweep: timers and calls, in order, with since when as far as it matters."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from wise_ladder.rules.zones import Zone
from wise_ladder.semantics.state import Deadline, PendingCall, RungData

if TYPE_CHECKING:
    from collections.abc import Iterable

    from wise_ladder.semantics.state import State

NOBODY, OWN = RungData("", ()), RungData("\0", ())
"""Placeholder for the data of a caller: nothing more is known, or that the caller is the rung's own screen."""
SEEN_SINCE = "\0seen"
"""Stands among the calls for what is seen since a moment, if that matters: no reply ever comes."""


class InFlight(Struct, frozen=True, gc=False, cache_hash=True):
    """What is pending, and since when."""

    pending: tuple[Deadline, ...]
    calls: tuple[PendingCall, ...]
    zone: Zone

    @property
    def names(self) -> frozenset[str]:
        """The names of the calls."""
        return frozenset([call.name for call in self.calls])


MOST_ALIKE = 2
"""Where states are taken together, so many pending calls that are alike stand for any number of them."""
BEGUN = -1
"""When what a shape knows to be pending began or falls due: before now; the zone knows more."""


def by_name(call: PendingCall) -> str:
    """Return what calls are put in order by: which of two of different names was made first makes no difference."""
    return call.name


def by_caller(call: PendingCall) -> tuple[str, int, str]:
    """Return what calls are put in order by where it does not matter which was made first."""
    return call.name, call.serial, call.where or ""


def alike(call: PendingCall, calls: Iterable[PendingCall]) -> int:
    """Count the calls that differ from one in nothing but when they were made."""
    return sum(replace(each, number=call.number) == call for each in calls)


def few_alike(calls: Iterable[PendingCall]) -> list[PendingCall]:
    """Return calls without those of which `MOST_ALIKE` that are alike were made before."""
    few: list[PendingCall] = []
    for call in calls:
        if alike(call, few) < MOST_ALIKE:
            few.append(call)
    return few


def more_alike(before: tuple[PendingCall, ...], after: tuple[PendingCall, ...], old: list[int]) -> list[PendingCall]:
    """List calls of which one more may be pending after a step: where `MOST_ALIKE` were alike, there may have been more.

    `old`: the place that each call had before, negative for new ones.
    """
    were = {place: alike(call, before) for place, call in enumerate(before)}
    left = {replace(call, number=0) for call, place in zip(after, old, strict=True) if were.get(place) == MOST_ALIKE}
    return [call for call in left if alike(call, after) < MOST_ALIKE]


def numbered(pending: Iterable[Deadline], calls: Iterable[PendingCall]) -> tuple[tuple[Deadline, ...], tuple[PendingCall, ...]]:
    """Number what is pending from 1."""
    timers = [
        Deadline(BEGUN, order, timer.serial, timer.after, timer.kind, timer.data) for order, timer in enumerate(pending, 1)
    ]
    made = [PendingCall(call.name, number, BEGUN, call.serial, call.where, call.data) for number, call in enumerate(calls, 1)]
    return tuple(timers), tuple(made)


def in_order(state: State, old: State) -> tuple[State, tuple[int, ...]]:
    """Put in order what is pending after something was done; of each thing its old number comes with it, -1: new."""
    if not state.deadlines and not state.calls:
        return state, ()
    pending = sorted(state.deadlines, key=lambda timer: (timer.due >= 0, timer.order))
    pending_calls = sorted(state.calls, key=by_name)
    kept = [-1 if timer.due >= 0 else timer.order - 1 for timer in pending]
    kept += [-1 if call.started >= 0 else len(old.deadlines) + call.number - 1 for call in pending_calls]
    timers, calls = numbered(pending, pending_calls)
    return replace(state, deadlines=timers, calls=calls), tuple(kept)
