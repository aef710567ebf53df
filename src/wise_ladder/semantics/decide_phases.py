"""Deciding: how the app starts and ends, and what the world does to it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.plan import operations
from wise_ladder.semantics import effects, messages
from wise_ladder.semantics.reasons import unmet_part
from wise_ladder.semantics.state import Phase
from wise_ladder.semantics.symbolic import looked_at
from wise_ladder.semantics.tasks import Cause, OperationTask

if TYPE_CHECKING:
    from wise_ladder.plan import events
    from wise_ladder.semantics import tasks
    from wise_ladder.semantics.decide import Decider
    from wise_ladder.semantics.effects import Decision, Effect


def launch(on: Decider, _event: events.Launch) -> Decision:
    """Start the app from outside."""
    if on.head.phase is not Phase.OUTSIDE:
        return effects.Refusal(messages.RUNS_ALREADY.format(app=on.plan.app))
    return _started(on, "")


def _started(on: Decider, address: str) -> tuple[Effect, ...]:
    """Start the app, with an address if there is one; the first screen comes after what is done at `launched`."""
    return effects.ToForeground(launched=True), *_covered(on), *_arriving(on, address)


def _covered(on: Decider) -> tuple[Effect, ...]:
    cover = on.plan.cover
    return (effects.RaiseCover(cover.least, cover.most),) if cover is not None else ()


def _arriving(on: Decider, address: str) -> tuple[Effect, ...]:
    return (effects.HoldLink(address),) if address or on.head.restored or on.head.arriving else ()


def begin(on: Decider, _due: tasks.PutStart) -> Decision:
    """Put the first screen, or let the ladder that came back through the redirects; a link that came with it is next.

    A start that depends on conditions is put off until the cover goes, for it depends on what is found out under it; so is what
    becomes of a ladder that came back.
    """
    address = on.head.arriving
    if on.head.path:
        return () if on.head.cover else _back_again(on)
    if on.head.cover and len(on.plan.start) > 1:
        return ()
    first = _first_put(on, address)
    return *_arriving(on, ""), *((first,) if first is not None else ())


def _back_again(on: Decider) -> tuple[Effect, ...]:
    """Let a ladder that came back through the redirects, and then follow the link that brought the app back."""
    return effects.HoldLink(""), effects.DecideNext(OperationTask(operations.RecheckRedirects(), 0)), *_next(on.head.arriving)


def _next(address: str) -> tuple[Effect, ...]:
    return (effects.Next(looked_at(address)),) if address else ()


def _first_put(on: Decider, address: str) -> effects.DecideNext | None:
    if address:
        return effects.DecideNext(OperationTask(operations.Follow(looked_at(address), whole=True), 0))
    for choice in on.plan.start:
        holds = on.view.holds(choice.condition)
        why = "" if holds else unmet_part(on.view, choice.condition)
        on.hear("start", f"start with {choice.target.screen}", "took it" if holds else "passed", why, choice)
        if holds:
            return effects.DecideNext(OperationTask(operations.Push(choice.target), 0))
    return None


def uncover(on: Decider, due: tasks.CheckCover) -> Decision:
    """Let the cover go where it may, and put what waited for that."""
    cover = on.plan.cover
    if cover is None or not on.head.cover:
        return ()
    if not due.over and (on.head.cover == "least" or not on.view.holds(cover.until)):
        return ()
    if on.head.restored and on.head.path:
        return effects.LiftCover(due.over), *_back_again(on)
    first = _first_put(on, on.head.arriving) if not on.head.path else None
    return (effects.LiftCover(due.over), *((first,) if first is not None else ()))


def home(on: Decider, _event: events.Home) -> Decision:
    """Send the app to the background."""
    return on.not_open() or (effects.ToBackground(by_back=False),)


def reopen(on: Decider, _event: events.Reopen) -> Decision:
    """Bring the app back from the background, or what the phone saved of it."""
    if on.head.phase is Phase.KILLED:
        return _restored(on, "")
    if on.head.phase is not Phase.AWAY:
        return effects.Refusal(messages.NOT_AWAY.format(app=on.plan.app))
    top = on.head.path[-1].data.screen if on.head.path else None
    apart = (effects.PopTop(len(on.head.path) - 1),) if top is not None and on.plan.screen[top].apart else ()
    return effects.ToForeground(launched=False), *apart


def _restored(on: Decider, address: str) -> Decision:
    """Bring back what of the saved ladder the phone restores."""
    what = on.plan.policies.restore
    if what == "nothing" or not on.head.path:
        return effects.Restore("nothing"), *_started(on, address)
    covered = _covered(on) if on.plan.policies.cover_after_death == "yes" else ()
    return effects.Restore(what), effects.ToForeground(launched=True), *covered, effects.HoldLink(address, restored=True)


def killed(on: Decider, _event: events.Killed) -> Decision:
    """End the app by the phone; in front it is a crash."""
    if on.head.phase in {Phase.OUTSIDE, Phase.KILLED}:
        return effects.Refusal(messages.NOT_RUNNING.format(app=on.plan.app))
    return (effects.KillApp(crash=on.head.phase is Phase.OPEN),)


def swiped_away(on: Decider, _event: events.SwipedAway) -> Decision:
    """End the app by its user, from outside of it."""
    if on.head.phase is Phase.OUTSIDE:
        return effects.Refusal(messages.NOT_RUNNING.format(app=on.plan.app))
    return (effects.ExitApp("swiped away", whole=True),)


def low_memory(on: Decider, _event: events.LowMemory) -> Decision:
    """Let hidden rungs free what they can."""
    if on.head.phase in {Phase.OUTSIDE, Phase.KILLED}:
        return effects.Refusal(messages.NOT_RUNNING.format(app=on.plan.app))
    return (effects.FreeHidden(),)


def remade(on: Decider, _event: events.Remade) -> Decision:
    """Make the screens anew, as a phone does that is turned."""
    return on.not_open() or (effects.Remake(),)


def link(on: Decider, event: events.OpenLink) -> Decision:
    """Open an address from outside, whatever the app is doing."""
    match = on.tables.link_of(event.address)
    if match.link is None and on.plan.unknown_target is None:
        return effects.Refusal(messages.NO_SCREEN_FOR_ADDRESS.format(why=match.why))
    if on.head.phase is Phase.OUTSIDE:
        return _started(on, event.address)
    if on.head.phase is Phase.KILLED:
        return _restored(on, event.address)
    if on.head.phase is Phase.AWAY:
        return effects.ToForeground(launched=False), effects.Next(event.address)
    if on.head.cover:
        if not on.head.path:
            return (effects.HoldLink(event.address),)
        # The app is still starting: the link's build replaces it, and no guard is asked.
        return effects.HoldLink(""), effects.DecideNext(OperationTask(operations.Follow(event.address, whole=True), 0))
    if on.head.question is not None:
        answered = on.answered(on.plan.guard[on.head.question].answers[0].name)
        assert not isinstance(answered, effects.Refusal), "it is one of its answers"  # noqa: S101
        return answered[0], effects.Next(event.address), *answered[1:]
    return (effects.DecideNext(OperationTask(operations.Follow(event.address), 0, Cause("aside"))),)


def reply(on: Decider, event: events.Reply) -> Decision:
    """Check whether a call can get this reply; its consequences are decided where the call was made."""
    if event.call not in on.head.calling:
        return effects.Refusal(messages.NOT_PENDING.format(call=event.call))
    outcome = on.plan.call[event.call].outcome(event.outcome)
    if outcome is None:
        return effects.Refusal(messages.NEVER_GIVES.format(call=event.call, outcome=event.outcome))
    if not on.view.holds(outcome.condition):
        return effects.Refusal(messages.CANNOT_GIVE_NOW.format(call=event.call, outcome=event.outcome))
    return ()


def run_out(_on: Decider, due: tasks.AppTimerDue) -> Decision:
    """A timer of the app runs out: who waits for that reacts when the step goes on."""
    return (effects.ReportRunOut(due.timer),)


def outside_change(on: Decider, event: events.OutsideChange) -> Decision:
    """Let the world change a fact, as the plan declares."""
    place = on.plan.fact_index.get(event.fact)
    if place is None:
        return effects.Refusal(messages.NO_SUCH_FACT.format(fact=event.fact))
    change = (on.head.facts[place], event.value)
    if change not in on.plan.facts[place].allowed_changes:
        return effects.Refusal(messages.NOT_FROM_OUTSIDE.format(fact=event.fact, was=change[0], new=change[1]))
    return (effects.SetFactValue(place, event.fact, event.value),)
