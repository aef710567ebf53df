"""Which function decides what: events, and what follows from them."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from wise_ladder.ladder import matters, starting
from wise_ladder.ladder.deciding import Deciding
from wise_ladder.plan import events

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.ladder.matters import Matter
    from wise_ladder.ladder.small import Decision, Known
    from wise_ladder.ladder.state import Head
    from wise_ladder.plan.model import Plan


def decide(plan: Plan, head: Head, matter: Matter, known: Known = ()) -> Decision:
    """Return the small steps that answer a matter at this head, or a refusal.

    Raises Beneath where the answer hangs on what lies beneath and `known` does not hold it yet.
    """
    return _DECIDERS[type(matter)](Deciding(plan, head, known), matter)


_DECIDERS: dict[type, Callable[[Deciding, Any], Decision]] = {
    events.Launch: starting.launch,
    events.Tap: Deciding.tap,
    events.Back: Deciding.back,
    events.HeaderBack: Deciding.header_back,
    events.Answer: Deciding.answer,
    events.Home: starting.home,
    events.Reopen: starting.reopen,
    events.OutsideChange: starting.outside_change,
    events.Reply: starting.reply,
    events.Link: starting.link,
    events.SwipedAway: starting.swiped_away,
    events.Killed: starting.killed,
    events.LowMemory: starting.low_memory,
    matters.Do: Deciding.do,
    matters.Due: Deciding.due,
    matters.Again: Deciding.again,
    matters.World: Deciding.world,
    matters.Begin: starting.begin,
    matters.Uncover: starting.uncover,
    matters.Gone: Deciding.gone,
    matters.Shown: Deciding.shown,
    matters.Delivered: Deciding.delivered,
    matters.Turned: Deciding.turned,
    matters.Left: Deciding.left,
    matters.Unasked: Deciding.unasked,
}
