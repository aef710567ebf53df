"""Deciding: how the app starts and ends, and what the world does to it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.ladder import small
from wise_ladder.ladder.asked import why_not
from wise_ladder.ladder.matters import Cause, Do
from wise_ladder.ladder.state import Phase
from wise_ladder.plan import operations

if TYPE_CHECKING:
    from wise_ladder.ladder import matters
    from wise_ladder.ladder.deciding import Deciding
    from wise_ladder.ladder.small import Decision, Small
    from wise_ladder.plan import events


def launch(on: Deciding, _event: events.Launch) -> Decision:
    """Start the app from outside."""
    if on.head.phase is not Phase.OUTSIDE:
        return small.Refusal(f"{on.plan.app} runs already")
    return _started(on, "")


def _started(on: Deciding, address: str) -> tuple[Small, ...]:
    """Start the app, with an address where there is one; the first screen comes after what is done at `launched`."""
    return small.ComeBack(launched=True), *_covered(on), *_arriving(on, address)


def _covered(on: Deciding) -> tuple[Small, ...]:
    cover = on.plan.cover
    return (small.RaiseCover(cover.least, cover.most),) if cover is not None else ()


def _arriving(on: Deciding, address: str) -> tuple[Small, ...]:
    return (small.Arrive(address),) if address or on.head.arriving or on.head.restored else ()


def begin(on: Deciding, _due: matters.Begin) -> Decision:
    """Put the first screen, or let the ladder that came back through the redirects; a link that came with it is next.

    A start that hangs on conditions is put off until the cover goes, for it hangs on what is found out under it; so is what
    becomes of a ladder that came back.
    """
    address = on.head.arriving
    if on.head.path:
        return () if on.head.cover else _back_again(on)
    if on.head.cover and len(on.plan.start) > 1:
        return ()
    first = _first_put(on, address)
    return *_arriving(on, ""), *((first,) if first is not None else ())


def _back_again(on: Deciding) -> tuple[Small, ...]:
    """Let a ladder that came back through the redirects, and then follow the link that brought the app back."""
    return small.Arrive(""), small.Then(Do(operations.Readmit(), 0)), *_next(on.head.arriving)


def _next(address: str) -> tuple[Small, ...]:
    return (small.Next(address),) if address else ()


def _first_put(on: Deciding, address: str) -> small.Then | None:
    if address:
        return small.Then(Do(operations.Follow(address, whole=True), 0))
    for choice in on.plan.start:
        holds = on.view.holds(choice.condition)
        why = "" if holds else why_not(on.view, choice.condition)
        on.hear("start", f"start with {choice.target.screen}", "took it" if holds else "passed", why, choice)
        if holds:
            return small.Then(Do(operations.Push(choice.target), 0))
    return None


def uncover(on: Deciding, due: matters.Uncover) -> Decision:
    """Let the cover go where it may, and put what waited for that."""
    cover = on.plan.cover
    if cover is None or not on.head.cover:
        return ()
    if not due.over and (on.head.cover == "least" or not on.view.holds(cover.until)):
        return ()
    if on.head.restored and on.head.path:
        return small.LiftCover(due.over), *_back_again(on)
    first = _first_put(on, on.head.arriving) if not on.head.path else None
    return (small.LiftCover(due.over), *((first,) if first is not None else ()))


def home(on: Deciding, _event: events.Home) -> Decision:
    """Send the app to the background."""
    return on.not_open() or (small.GoAway(by_back=False),)


def reopen(on: Deciding, _event: events.Reopen) -> Decision:
    """Bring the app back from the background, or what the phone saved of it."""
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
    covered = _covered(on) if on.plan.policies.cover_after_death == "yes" else ()
    return small.Restore(what), small.ComeBack(launched=True), *covered, small.Arrive(address, restored=True)


def killed(on: Deciding, _event: events.Killed) -> Decision:
    """End the app by the phone; in front it is a crash."""
    if on.head.phase in {Phase.OUTSIDE, Phase.KILLED}:
        return small.Refusal(f"{on.plan.app} does not run")
    return (small.Die(crash=on.head.phase is Phase.OPEN),)


def swiped_away(on: Deciding, _event: events.SwipedAway) -> Decision:
    """End the app by its user, from outside of it."""
    if on.head.phase is Phase.OUTSIDE:
        return small.Refusal(f"{on.plan.app} does not run")
    return (small.GoOut("by swiping it away", whole=True),)


def low_memory(on: Deciding, _event: events.LowMemory) -> Decision:
    """Let hidden rungs give up what they can."""
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
    if on.head.phase is Phase.AWAY:
        return small.ComeBack(launched=False), small.Next(event.address)
    if on.head.cover:
        if not on.head.path:
            return (small.Arrive(event.address),)
        # The app is still starting: what the link builds stands there instead, and nobody is asked.
        return small.Arrive(""), small.Then(Do(operations.Follow(event.address, whole=True), 0))
    if on.head.question is not None:
        answered = on.answered(on.plan.guard[on.head.question].answers[0].name)
        assert not isinstance(answered, small.Refusal), "it is one of its answers"  # noqa: S101
        return answered[0], small.Next(event.address), *answered[1:]
    return (small.Then(Do(operations.Follow(event.address), 0, Cause("aside"))),)


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
    """Let the world change a fact, as the plan declares."""
    place = on.plan.place_of_fact.get(event.fact)
    if place is None:
        return small.Refusal(f"{event.fact} is no fact of the app")
    change = (on.head.facts[place], event.value)
    if change not in on.plan.facts[place].outside:
        return small.Refusal(f"the plan says of {event.fact} no change from outside from {change[0]} to {change[1]}")
    return (small.SetTo(place, event.fact, event.value),)
