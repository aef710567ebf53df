"""Which function decides what: events, and what follows from them."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from wise_ladder.plan import events
from wise_ladder.semantics import decide_phases, tasks
from wise_ladder.semantics.decide import Decider

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.plan.model import Plan
    from wise_ladder.semantics.effects import Decision
    from wise_ladder.semantics.stack_queries import StackAnswers
    from wise_ladder.semantics.state import Head
    from wise_ladder.semantics.tasks import Task


def decide(plan: Plan, head: Head, matter: Task, known: StackAnswers = ()) -> Decision:
    """Return the effects that answer a matter at this head, or a refusal.

    Raises QueryNeeded if the answer depends on lower rungs and is not in `known`.
    """
    return _DECIDERS[type(matter)](Decider(plan, head, known), matter)


_DECIDERS: dict[type, Callable[[Decider, Any], Decision]] = {
    events.Launch: decide_phases.launch,
    events.Tap: Decider.tap,
    events.Back: Decider.back,
    events.BackBegun: Decider.back_begun,
    events.BackFinished: Decider.back_ended,
    events.BackCancelled: Decider.back_ended,
    events.HeaderBack: Decider.header_back,
    events.Answer: Decider.answer,
    events.Home: decide_phases.home,
    events.Reopen: decide_phases.reopen,
    events.OutsideChange: decide_phases.outside_change,
    events.Reply: decide_phases.reply,
    events.OpenLink: decide_phases.link,
    events.SwipedAway: decide_phases.swiped_away,
    events.Killed: decide_phases.killed,
    events.LowMemory: decide_phases.low_memory,
    events.Remade: decide_phases.remade,
    tasks.OperationTask: Decider.do,
    tasks.TriggerTask: Decider.due,
    tasks.SecondTap: Decider.again,
    tasks.PhaseTask: Decider.world,
    tasks.PutStart: decide_phases.begin,
    tasks.CheckCover: decide_phases.uncover,
    tasks.AppTimerDue: decide_phases.run_out,
    tasks.OverlayExpired: Decider.gone,
    tasks.BecameVisible: Decider.shown,
    tasks.ResultArrived: Decider.delivered,
    tasks.FactTask: Decider.turned,
    tasks.RungLeft: Decider.left,
    tasks.CheckUnasked: Decider.unasked,
}
