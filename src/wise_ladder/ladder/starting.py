"""Deciding: how the app starts and ends, and what the world does to it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.ladder import small
from wise_ladder.ladder.asked import why_not
from wise_ladder.ladder.matters import Do
from wise_ladder.ladder.state import Phase
from wise_ladder.plan import operations

if TYPE_CHECKING:
    from wise_ladder.ladder import matters
    from wise_ladder.ladder.deciding import Deciding
    from wise_ladder.ladder.small import Decision, Small
    from wise_ladder.plan import events


def launch(on: Deciding, _event: events.Launch) -> Decision:
    if on.head.phase is not Phase.OUTSIDE:
        return small.Refusal(f"{on.plan.app} runs already")
    return _started(on, "")


def _started(on: Deciding, address: str) -> tuple[Small, ...]:
    """Start the app, with an address where there is one; the first screen comes after what is done at `launched`."""
    cover = on.plan.cover
    raised = (small.RaiseCover(cover.least, cover.most),) if cover is not None else ()
    return small.ComeBack(launched=True), *raised, *_arriving(on, address)


def _arriving(on: Deciding, address: str) -> tuple[Small, ...]:
    return (small.Arrive(address),) if address or on.head.arriving else ()


def begin(on: Deciding, _due: matters.Begin) -> Decision:
    """Put the first screen, or let the ladder that came back through the redirects.

    A start that hangs on conditions is put off until the cover goes, for it hangs on what is found out under it.
    """
    address = on.head.arriving
    if on.head.path:
        done = operations.Follow(address) if address else operations.Readmit()
        return *_arriving(on, ""), small.Then(Do(done, 0))
    if on.head.cover and len(on.plan.start) > 1:
        return ()
    first = _first_put(on, address)
    return *_arriving(on, ""), *((first,) if first is not None else ())


def _first_put(on: Deciding, address: str) -> small.Then | None:
    if address:
        return small.Then(Do(operations.Follow(address), 0))
    for choice in on.plan.start:
        why = why_not(on.view, choice.condition)
        on.hear("start", f"start with {choice.target.screen}", "passed" if why else "took it", why, choice)
        if not why:
            return small.Then(Do(operations.Push(choice.target), 0))
    return None


def uncover(on: Deciding, due: matters.Uncover) -> Decision:
    """Let the cover go where it may, and put what waited for that."""
    cover = on.plan.cover
    if cover is None or not on.head.cover:
        return ()
    if not due.over and (on.head.cover == "least" or not on.view.holds(cover.until)):
        return ()
    first = _first_put(on, on.head.arriving) if not on.head.path else None
    return (small.LiftCover(due.over), *((first,) if first is not None else ()))


def home(on: Deciding, _event: events.Home) -> Decision:
    return on.not_open() or (small.GoAway(by_back=False),)


def reopen(on: Deciding, _event: events.Reopen) -> Decision:
    if on.head.phase is Phase.KILLED:
        return _restored(on, "")
    if on.head.phase is not Phase.AWAY:
        return small.Refusal(f"{on.plan.app} is not in the background")
    return (small.ComeBack(launched=False),)


def _restored(on: Deciding, address: str) -> Decision:
    """Bring back what of the saved ladder the phone restores."""
    what = on.plan.policies.restore
    if what == "nothing" or not on.head.path:
        return small.Restore("nothing"), *_started(on, address)
    return small.Restore(what), small.ComeBack(launched=True), *_arriving(on, address)


def killed(on: Deciding, _event: events.Killed) -> Decision:
    if on.head.phase in {Phase.OUTSIDE, Phase.KILLED}:
        return small.Refusal(f"{on.plan.app} does not run")
    return (small.Die(crash=on.head.phase is Phase.OPEN),)


def swiped_away(on: Deciding, _event: events.SwipedAway) -> Decision:
    if on.head.phase is Phase.OUTSIDE:
        return small.Refusal(f"{on.plan.app} does not run")
    return (small.GoOut("by swiping it away", whole=True),)


def low_memory(on: Deciding, _event: events.LowMemory) -> Decision:
    if on.head.phase in {Phase.OUTSIDE, Phase.KILLED}:
        return small.Refusal(f"{on.plan.app} does not run")
    return (small.Free(),)


def link(on: Deciding, event: events.Link) -> Decision:
    """Open an address from outside, whatever the app is doing."""
    found = on.tables.link_of(event.address)
    if found.link is None and on.plan.unknown is None:
        return small.Refusal(f"{found.why}, and there is no screen for unknown addresses")
    if on.head.phase is Phase.OUTSIDE:
        return _started(on, event.address)
    if on.head.phase is Phase.KILLED:
        return _restored(on, event.address)
    back: tuple[Small, ...] = (small.ComeBack(launched=False),) if on.head.phase is Phase.AWAY else ()
    if on.head.cover and not on.head.path:
        return (*back, small.Arrive(event.address))
    if on.head.question is not None:
        answered = on.answered(on.plan.guard[on.head.question].answers[0].name)
        back = (*back, *answered) if isinstance(answered, tuple) else back
    cause = None if on.head.cover else on.cause("aside")
    return (*back, small.Then(Do(operations.Follow(event.address), 0, cause)))


def reply(on: Deciding, event: events.Reply) -> Decision:
    """Look whether a call can be answered so; what follows is decided where the call was made."""
    if event.call not in on.head.calling:
        return small.Refusal(f"{event.call} is not under way")
    outcome = on.plan.call[event.call].outcome(event.outcome)
    if outcome is None:
        return small.Refusal(f"{event.call} never gives {event.outcome}")
    if not on.view.holds(outcome.condition):
        return small.Refusal(f"{event.call} cannot give {event.outcome} as things stand")
    return ()


def outside_change(on: Deciding, event: events.OutsideChange) -> Decision:
    place = on.plan.place_of_fact.get(event.fact)
    if place is None:
        return small.Refusal(f"{event.fact} is no fact of the app")
    change = (on.head.facts[place], event.value)
    if change not in on.plan.facts[place].outside:
        return small.Refusal(f"the plan says of {event.fact} no change from outside from {change[0]} to {change[1]}")
    return (small.SetTo(place, event.fact, event.value),)
