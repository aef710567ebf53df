"""Doing: what the phone does to an app: it is killed and comes back, its screens are remade, memory is low."""

from __future__ import annotations

from typing import TYPE_CHECKING, TypeAlias, cast

from msgspec.structs import replace

from wise_ladder.plan.triggers import PhaseTrigger
from wise_ladder.semantics import effects, log, messages
from wise_ladder.semantics.apply_world import OF_RUNGS, facts_stay, start_timer
from wise_ladder.semantics.log import Finding
from wise_ladder.semantics.opaque import OpaqueLadder
from wise_ladder.semantics.paths import find, ladder_of, spotted
from wise_ladder.semantics.state import AwaitedResult, Phase, Rung, RungData, all_rungs, visible_path
from wise_ladder.semantics.symbolic import SymbolicLadder

if TYPE_CHECKING:
    from wise_ladder.plan.model import Fact, Plan
    from wise_ladder.semantics.state import Ladder, OverlayInstance
    from wise_ladder.semantics.symbolic import SymbolicRungs
    from wise_ladder.semantics.working_state import Applier, WorkingState

GONE_CALLER = -1
"""The serial of a caller that is gone."""


def die(doing: WorkingState, do: effects.KillApp) -> None:
    """The app is killed: what was pending goes, what was awaited is lost, the ladder is saved."""
    survive = _still_awaited(doing) if doing.plan.policies.results_of_other_apps == "survive death" else frozenset()
    # What rungs lose that are left out is not said here.
    for rung in (rung for rung in all_rungs(doing.ladder) if not rung.cut):
        values = (result.name for result in rung.data.undelivered if result.value is not None)
        for name in (*(mark.name for mark in rung.data.awaits if (rung.serial, mark) not in survive), *values):
            words = messages.RESULT_LOST_BY_DEATH.format(screen=rung.data.screen, result=name)
            doing.log.append(Finding("result lost", words))
    if doing.never_shown:
        closed = {
            layer.serial for layer in (*doing.overlays, *(each for rung in all_rungs(doing.ladder) for each in rung.overlays))
        }
        doing.never_shown = tuple(serial for serial in doing.never_shown if serial not in closed)
    doing.phase, doing.deadlines, doing.calls, doing.overlays = Phase.KILLED, (), (), ()
    doing.question, doing.wanted, doing.armed, doing.begun = None, None, (), None
    doing.cover, doing.least, doing.held_link, doing.restored, doing.freed = False, False, "", False, ()
    doing.turn(())
    doing.put_ladder(0, all_saved(doing.plan, doing.ladder, survive))
    facts_stay(doing, ("disk", "ladder"))
    doing.log.append(log.AppKilled(do.crash))


Awaited: TypeAlias = "frozenset[tuple[int, AwaitedResult]]"
"""What rungs await, each with the serial of the rung."""


def _still_awaited(doing: WorkingState) -> Awaited:
    """Return what rungs await of another app's screen, which lives on while ours is killed."""
    if not doing.tables.foreign:
        return frozenset()
    found: set[tuple[int, AwaitedResult]] = set()
    for rung, chain in spotted(doing.ladder):
        if not _is_foreign(doing, rung):
            continue
        ladder = ladder_of(doing.ladder, chain) or ()
        place = next(place for place, other in enumerate(ladder) if other.serial == rung.serial)
        for under in visible_path(ladder[place - 1 : place] if place else ()):
            found |= {(under.serial, mark) for mark in under.data.awaits if not mark.overlay and not mark.inside}
        if rung.data.owes is not None:
            name, outwards = rung.data.owes
            holder = find(doing.ladder, chain[-outwards][0])
            marks = () if holder is None else holder.rung.data.awaits
            found |= {(chain[-outwards][0], mark) for mark in marks if mark.inside and mark.name == name}
    return frozenset(found)


def _is_foreign(doing: WorkingState, rung: Rung) -> bool:
    """Whether a rung is a screen of another app; of rungs that are left out it is asked whether there is one."""
    if rung.cut:
        return cast("SymbolicRungs", rung).holds_one_of(doing.tables.foreign, doing.tables.foreign)
    return rung.data.screen in doing.tables.foreign


def all_saved(plan: Plan, ladder: Ladder, survive: Awaited = frozenset()) -> Ladder:
    """Return a ladder as it is saved: without overlays and results, facts of rungs only if they are kept.

    `survive`: what is awaited all the same.
    """
    rungs = [_saved(plan, rung, survive) for rung in ladder]
    if isinstance(ladder, SymbolicLadder):
        return SymbolicLadder(rungs)
    return ladder if isinstance(ladder, OpaqueLadder) else tuple(rungs)


def _saved(plan: Plan, rung: Rung, survive: Awaited) -> Rung:
    if rung.cut:
        return cast("Rung", cast("SymbolicRungs", rung).as_saved())
    screen = plan.screen[rung.data.screen]
    kept = {fact.name: fact for fact in screen.holds}
    own = tuple(
        (name, kept[name].values[0] if kept[name].lifetime in {"none", "memory"} else value) for name, value in rung.data.facts
    )
    awaits = tuple(mark for mark in rung.data.awaits if (rung.serial, mark) in survive)
    owes = rung.data.owes if survive and screen.foreign else None
    data = replace(rung.data, facts=own, awaits=awaits, undelivered=(), redirected=False, owes=owes)
    return Rung(data, rung.serial, tuple(all_saved(plan, ladder, survive) for ladder in rung.inner))


def restore(doing: WorkingState, do: effects.Restore) -> None:
    """The saved ladder comes back, or what of it."""
    if do.what == "nothing":
        doing.never_shown = ()
        doing.put_ladder(0, ())
        facts_stay(doing, ("disk",))
    elif do.what == "top":
        doing.put_ladder(0, _tops(doing.ladder))
        left = {rung.serial for rung in all_rungs(doing.ladder)}
        doing.never_shown = tuple(serial for serial in doing.never_shown if serial in left)
    doing.log.append(log.Restored(do.what))
    start_on_ladder(doing)


def _tops(ladder: tuple[Rung, ...]) -> tuple[Rung, ...]:
    return tuple(
        Rung(rung.data, rung.serial, tuple(_tops(inner) for inner in rung.inner), rung.overlays) for rung in ladder[-1:]
    )


# Screens that are remade


def remake(doing: WorkingState, _do: effects.Remake) -> None:
    """All rungs and overlays stay and are made anew."""
    lost = doing.plan.policies.pending_when_remade == "is lost"
    doing.put_ladder(0, _all_remade(doing, doing.ladder, lost=lost))
    doing.overlays = _layers_remade(doing, doing.overlays)
    if lost:
        _pending_is_lost(doing)
    if doing.question is not None and doing.plan.policies.question_when_remade == "goes":
        doing.log.append(log.QuestionGone(doing.plan.guard[doing.question.guard].name))
        doing.question = None
    doing.remade = True
    doing.log.append(log.ScreensRemade())


def _all_remade(doing: WorkingState, ladder: Ladder, *, lost: bool) -> Ladder:
    # Where saving changes nothing, remaking changes nothing.
    return ladder if all(rung.saved for rung in ladder) else tuple(_remade(doing, rung, lost=lost) for rung in ladder)


def _remade(doing: WorkingState, rung: Rung, *, lost: bool) -> Rung:
    if rung.saved:
        return rung
    data = replace(rung.data, facts=_still_held(rung.data.facts, doing.plan.screen[rung.data.screen].holds))
    if lost:
        values = (result.name for result in data.undelivered if result.value is not None)
        for name in (*(mark.name for mark in data.awaits), *values):
            words = messages.RESULT_LOST_WHEN_REMADE.format(screen=data.screen, result=name)
            doing.log.append(Finding("result lost", words))
        data = replace(data, awaits=(), undelivered=())
    inner = tuple(_all_remade(doing, ladder, lost=lost) for ladder in rung.inner)
    return Rung(data, rung.serial, inner, _layers_remade(doing, rung.overlays))


def _layers_remade(doing: WorkingState, layers: tuple[OverlayInstance, ...]) -> tuple[OverlayInstance, ...]:
    return tuple(
        replace(layer, facts=_still_held(layer.facts, doing.plan.overlay[layer.name].holds)) if layer.facts else layer
        for layer in layers
    )


def _still_held(facts: tuple[tuple[str, str], ...], declared: tuple[Fact, ...]) -> tuple[tuple[str, str], ...]:
    return tuple(
        (name, fact.values[0] if fact.lifetime == "none" else value)
        for (name, value), fact in zip(facts, declared, strict=True)
    )


def _pending_is_lost(doing: WorkingState) -> None:
    """Timers of rungs and overlays begin anew, those that were shown when it is shown; a reply finds nobody."""
    doing.deadlines = tuple(timer for timer in doing.deadlines if timer.kind not in OF_RUNGS)
    doing.calls = tuple(call if call.where is None else replace(call, serial=GONE_CALLER) for call in doing.calls)
    start_on_ladder(doing)
    for layer in (*(layer for rung in all_rungs(doing.ladder) if not rung.cut for layer in rung.overlays), *doing.overlays):
        for after, runs in doing.tables.timers.get(layer.name, ()):
            if runs == "on ladder":
                start_timer(doing, RungData(layer.name, (), layer.facts), layer.serial, after, runs)


def start_on_ladder(doing: WorkingState) -> None:
    """Start the timers anew that run from the put of each rung."""
    if any(runs == "on ladder" for timers in doing.tables.timers.values() for _, runs in timers):
        for rung in [rung for rung in all_rungs(doing.ladder) if not rung.saved]:
            for after, runs in doing.tables.timers.get(rung.data.screen, ()):
                if runs == "on ladder":
                    start_timer(doing, rung.data, rung.serial, after, runs)


def free(doing: WorkingState, _do: effects.FreeHidden) -> None:
    """Rungs that are not visible free what they hold, where their screen says that they can."""
    seen = {rung.serial for rung in doing.path}
    lighter = {screen.name for screen in doing.plan.screens if screen.hidden is not None}
    freed = tuple(rung.serial for rung in all_rungs(doing.ladder) if rung.data.screen in lighter and rung.serial not in seen)
    doing.freed = tuple(dict.fromkeys((*doing.freed, *freed)))
    doing.world.append(PhaseTrigger("low memory"))
    doing.log.append(log.MemoryLow(len(freed)))


APPLY: dict[type, Applier] = {
    effects.KillApp: die,
    effects.Restore: restore,
    effects.FreeHidden: free,
    effects.Remake: remake,
}
