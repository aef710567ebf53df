"""Doing: facts, the wanted place, guards that come first, the app's phases, timers."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace

from wise_ladder.ladder import happenings, small
from wise_ladder.ladder.happenings import Finding
from wise_ladder.ladder.state import Armed, Pending, Phase, Rung, Wanted, all_rungs

if TYPE_CHECKING:
    from wise_ladder.ladder.doing import Doing

# Facts, the wanted place, armed guards


def set_to(doing: Doing, do: small.SetTo) -> None:
    """A fact of the app gets a value."""
    was = doing.facts[do.place]
    if was != do.value:
        doing.facts = (*doing.facts[: do.place], do.value, *doing.facts[do.place + 1 :])
        doing.happened.append(happenings.FactTurned(do.name, was, do.value))


def set_own_to(doing: Doing, do: small.SetOwnTo) -> None:
    """A fact of the rung that the move stands on gets a value."""
    rung = doing.owner_rung()
    was = None if rung is None else dict(rung.face.own).get(do.name)
    if rung is not None and was is not None and was != do.value:
        own = tuple((name, do.value if name == do.name else value) for name, value in rung.face.own)
        doing.put_face(rung, replace(rung.face, own=own))
        doing.own_was.setdefault((rung.serial, do.name), was)
        doing.happened.append(happenings.FactTurned(do.name, was, do.value, own=True))


def want(doing: Doing, do: small.Want) -> None:
    """The wanted place is remembered."""
    doing.wanted = Wanted(do.face.screen, do.face.arguments)
    doing.happened.append(happenings.Remembered(do.face))


def forget(doing: Doing, do: small.Forget) -> None:
    """The wanted place is forgotten."""
    if doing.wanted is not None:
        doing.wanted = None
        doing.happened.append(happenings.Forgotten(do.why))


def arm(doing: Doing, do: small.Arm) -> None:
    """Guards that come first are armed; those of hidden rungs stay as they were, those that outlive theirs too."""
    path = doing.path
    now = [Armed(guard, path[place].serial if place >= 0 else 0) for guard, place in do.guards]
    hidden = {rung.serial for rung in all_rungs(doing.ladder)} - {rung.serial for rung in path}
    outlived = [entry for entry in doing.armed if entry.gone and doing.plan.guard[entry.guard].outlives]
    kept = [entry for entry in doing.armed if entry in now or (entry.serial in hidden and not entry.gone)]
    for entry in outlived:
        if entry not in doing.before.armed:
            guard = doing.plan.guard[entry.guard]
            words = f"{guard.name} is still armed although its screen {entry.guard.where} is gone"
            doing.happened.append(Finding("handler outlived its screen", words))
    doing.armed = tuple(dict.fromkeys((*outlived, *kept, *now)))


# Phases


def go_out(doing: Doing, do: small.GoOut) -> None:
    """The app is left; facts on disk stay."""
    doing.phase, doing.ladder, doing.path, doing.pending, doing.layers = Phase.OUTSIDE, (), [], (), ()
    doing.question, doing.wanted, doing.armed, doing.unseen = None, None, (), ()
    doing.facts = tuple(
        value if fact.kept == "disk" else fact.values[0] for fact, value in zip(doing.plan.facts, doing.facts, strict=True)
    )
    doing.happened.append(happenings.LeftApp(do.how))


def go_away(doing: Doing, do: small.GoAway) -> None:
    """The app goes to the background."""
    doing.phase = Phase.AWAY
    doing.happened.append(happenings.WentAway(do.by_back))


def come_back(doing: Doing, do: small.ComeBack) -> None:
    """The app comes to the front."""
    doing.phase = Phase.OPEN
    app = doing.plan.app
    doing.happened.append(happenings.Launched(app) if do.launched else happenings.CameBack(app))


# Timers


def add_pending(doing: Doing, serial: int, after: int) -> None:
    """Start the timer of a rung or overlay."""
    order = max((timer.order for timer in doing.pending), default=0) + 1
    doing.pending = tuple(sorted((*doing.pending, Pending(doing.clock + after, order, serial, after))))


def start_timer(doing: Doing, rung: Rung, after: int) -> None:
    """Start a timer of a rung, and say so."""
    add_pending(doing, rung.serial, after)
    doing.happened.append(happenings.TimerStarted(rung.face, after))
