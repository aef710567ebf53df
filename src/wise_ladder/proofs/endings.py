"""How what is pending may end, where it is not kept which call was made first: a reply may come to any of them."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from msgspec.structs import replace

from wise_ladder.plan.events import Reply
from wise_ladder.rules.actions import Elapse
from wise_ladder.rules.in_flight import SEEN_SINCE
from wise_ladder.semantics.symbolic import UNKNOWN_CALLER, RepliedCall

if TYPE_CHECKING:
    from wise_ladder.rules.abstraction import Abstraction
    from wise_ladder.rules.actions import Action
    from wise_ladder.rules.in_flight import InFlight
    from wise_ladder.semantics.state import PendingCall


class Ending(NamedTuple):
    """What is pending, in an order in which some of it may end."""

    pending: InFlight
    timers: bool
    """Whether its timers may."""
    calls: frozenset[str]
    """The names of the calls that may get a reply; of each name the first does."""

    def has(self, choice: Action) -> bool:
        """Whether it may end so."""
        return choice.call in self.calls if isinstance(choice, Reply) else self.timers and isinstance(choice, Elapse)


class Endings(NamedTuple):
    """All ways in which something pending may end."""

    alone: frozenset[RepliedCall]
    """The calls whose replies are decided without a word about what else is pending."""
    orders: tuple[Ending, ...]


def endings(shaping: Abstraction, under_way: InFlight, *, any_first: bool) -> Endings:
    """Return the ways in which something pending may end; `any_first`: of calls with the same name, any may be answered."""
    calls = [call for call in under_way.calls if call.name != SEEN_SINCE]
    if not any_first:
        return Endings(frozenset(), (Ending(under_way, timers=True, calls=frozenset(call.name for call in calls)),))
    kinds = [replace(call, number=0) for call in calls]
    names = [call.name for call in calls]
    alone = {call for call in kinds if shaping.by_itself(call) and (call.serial != UNKNOWN_CALLER or kinds.count(call) == 1)}
    orders = {under_way: Ending(under_way, timers=True, calls=frozenset())}
    for call, kind in zip(calls, kinds, strict=True):
        if kind not in alone:
            first = shaping.timeless_as_is(under_way, _with_first(under_way.calls, call))
            ending = orders.get(first, Ending(first, timers=False, calls=frozenset()))
            orders[first] = ending._replace(calls=ending.calls | {call.name})
    replied = frozenset(RepliedCall(call, again=names.count(call.name) > 1) for call in alone)
    return Endings(replied, tuple(orders.values()))


def _with_first(calls: tuple[PendingCall, ...], first: PendingCall) -> list[PendingCall]:
    """Put a call before the others of its name."""
    return sorted(calls, key=lambda call: (call.name, call is not first))
