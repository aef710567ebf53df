"""An update over a saved ladder: killed under the old version, reopened under the new one.

Every ladder that is met in the old version (breadth first; Moore 1959) is put into the new one as it was saved. What cannot
stand there is left out, and what the user sees then is told.
"""

from __future__ import annotations

import time
from collections import deque
from typing import TYPE_CHECKING, NamedTuple

from msgspec.structs import replace

from wise_ladder.plan import Event, events
from wise_ladder.plan.values import parse_value
from wise_ladder.semantics import Ladder, Phase, Rung, RungData, initial_state, step
from wise_ladder.semantics.offers import user_events
from wise_ladder.semantics.serials import timeless
from wise_ladder.trials import messages
from wise_ladder.trials.matching import SAME
from wise_ladder.trials.noticed import seen
from wise_ladder.walks.tape import Tape

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.plan import Plan
    from wise_ladder.plan.model import Screen
    from wise_ladder.plan.values import Arguments
    from wise_ladder.semantics import State
    from wise_ladder.trials.matching import Names


class Stranded(NamedTuple):
    """A rung of a saved ladder that cannot stand in the new version: why, what is seen then, and the path on the old one.

    `old`, `new`: the app as it was killed, and reopened, under both versions.
    """

    why: str
    seen: str
    tape: Tape
    old: Tape
    new: Tape

    @property
    def path(self) -> list[str]:
        """The steps in the old version, up to the kill."""
        return [*self.tape.as_steps()[:-1], "killed"]


class SavedLadders(NamedTuple):
    """What came of all saved ladders that were met: how many, whether these are all, and what cannot stand."""

    ladders: int
    whole: bool
    stranded: list[Stranded]


def carry_over(old: Plan, new: Plan, names: Names, seconds: float, goes_on: Callable[[], bool] = lambda: True) -> SavedLadders:
    """Put every ladder that is met in the old version within so many seconds into the new one, and list what cannot stand."""
    until, first = time.perf_counter() + seconds, initial_state(old)
    waiting, met, ladders = deque([(first, list[Event]())]), {timeless(first)}, set[Ladder]()
    found: dict[str, Stranded] = {}
    while waiting and time.perf_counter() < until and goes_on():
        state, path = waiting.popleft()
        killed = step(old, state, events.Killed())
        if killed.refused is None and (saved := timeless(killed.state).ladder) not in ladders:
            ladders.add(saved)
            reasons, reopened = _put_over(new, names, killed.state)
            for why in reasons:
                if why not in found:
                    words = seen(new, reopened.state_at(len(reopened.entries)), SAME).words
                    tape = Tape(old, first).rerun_on(old, events=path)
                    found[why] = Stranded(why, words, tape, _reopened(old, killed.state), reopened)
        for event in user_events(old, state):
            done = step(old, state, event)
            if done.refused is None and (after := timeless(done.state)) not in met:
                met.add(after)
                waiting.append((done.state, [*path, event]))
    return SavedLadders(len(ladders), not waiting, list(found.values()))


def _put_over(new: Plan, names: Names, killed: State) -> tuple[list[str], Tape]:
    """Reopen a killed app under the new version; return why which rungs cannot stand, and the run."""
    reasons: list[str] = []
    ladder = carried(new, names, killed.ladder, reasons)
    return reasons, _reopened(new, replace(initial_state(new), phase=Phase.KILLED, ladder=ladder, clock=killed.clock))


def _reopened(plan: Plan, killed: State) -> Tape:
    """Return the run that reopens a killed app, until its cover is gone: what comes after it is what matters."""
    tape = Tape(plan, killed).with_event(events.Reopen())[0]
    return tape if plan.cover is None else tape.with_event(events.Wait(max(plan.cover.least, plan.cover.most or 0)))[0]


def carried(new: Plan, names: Names, ladder: Ladder, reasons: list[str]) -> Ladder:
    """Return a ladder of the old version as it stands in the new one; `reasons`: where to tell why a rung cannot."""
    return tuple(rung for each in ladder if (rung := _rung(new, names, each, reasons)) is not None)


def _rung(new: Plan, names: Names, rung: Rung, reasons: list[str]) -> Rung | None:
    """Return a rung as it stands in the new version, None if it cannot."""
    data = rung.data
    screen = new.screen.get(names.screens.get(data.screen, data.screen))
    if screen is None:
        reasons.append(messages.SCREEN_GONE.format(screen=data.screen))
        return None
    arguments = names.carried(data.screen, data.arguments)
    if why := _misfit(screen, arguments):
        reasons.append(why)
        return None
    known = {fact.name: fact.values for fact in screen.holds}
    held = {names.facts.get(name, name): value for name, value in data.facts}
    facts = tuple((name, held[name] if held.get(name) in values else values[0]) for name, values in known.items())
    if len(rung.inner) != len(screen.inside):
        reasons.append(messages.INSIDE_DIFFERS.format(screen=data.screen, old=len(rung.inner), new=len(screen.inside)))
        return None
    inner = tuple(carried(new, names, each, reasons) for each in rung.inner)
    return Rung(RungData(screen.name, arguments, facts, data.tab_order), rung.serial, inner)


def _misfit(screen: Screen, arguments: Arguments) -> str:
    """Say which saved argument the screen does not take, or which it needs that was not saved."""
    takes = {taken.name: taken for taken in screen.takes}
    for name, value in arguments:
        if name not in takes or parse_value(takes[name], str(value)) is None:
            return messages.ARGUMENT_UNKNOWN.format(screen=screen.name, name=name, value=value)
    given = dict(arguments)
    lacks = next((taken.name for taken in screen.takes if taken.name not in given and taken.default is None), "")
    return messages.ARGUMENT_MISSING.format(screen=screen.name, name=lacks) if lacks else ""
