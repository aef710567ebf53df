"""Doing: puts, drops, and what follows for results, timers and overlays of rungs that go."""

from __future__ import annotations

from typing import TYPE_CHECKING, TypeAlias

from msgspec.structs import replace

from wise_ladder.plan.operations import FactValue
from wise_ladder.plan.values import value_words
from wise_ladder.semantics import effects, log, messages
from wise_ladder.semantics.apply_world import OF_RUNGS, facts_held_by, start_timer, tell_lost
from wise_ladder.semantics.log import Finding
from wise_ladder.semantics.paths import Spotted, find, rung_matches, spotted
from wise_ladder.semantics.state import GONE, AwaitedResult, Result, Rung, RungData, visible_path
from wise_ladder.semantics.symbolic import looked_at, told
from wise_ladder.semantics.text import rung_text

if TYPE_CHECKING:
    from wise_ladder.plan.triggers import TimerScope
    from wise_ladder.plan.values import ResultValue
    from wise_ladder.semantics.state import Chain, Ladder
    from wise_ladder.semantics.working_state import Applier, WorkingState

# Puts


Timers: TypeAlias = "list[tuple[Rung, int, TimerScope]]"


def _made(doing: WorkingState, build: effects.RungSpec, timers: Timers) -> Rung:
    """Make a rung with what is inside it, and add to the timers to start."""
    serial = doing.free_serial()
    doing.made.append(serial)
    inner: list[tuple[Rung, int, TimerScope]] = []
    rung = Rung(build.data, serial, tuple(tuple(_made(doing, part, inner) for part in rungs) for rungs in build.inner))
    timers += [(rung, after, runs) for after, runs in build.timers]
    timers += inner
    return rung


def push_rung(doing: WorkingState, do: effects.PushRung) -> None:
    """A new rung on top."""
    owes = await_result(doing, do.awaiting, do.level) if do.awaiting else None
    timers: Timers = []
    rung = _made(doing, _owing(do.build, owes), timers)
    doing.put_ladder(do.level, (*doing.ladder_at(do.level), rung))
    doing.log.append(log.Came(rung))
    _start(doing, timers)


def replace_top(doing: WorkingState, do: effects.ReplaceTop) -> None:
    """The top rung goes and another takes its place."""
    ladder = doing.ladder_at(do.level)
    gone = ladder[-1]
    timers: Timers = []
    rung = _made(doing, _owing(do.build, gone.data.owes), timers)
    doing.put_ladder(do.level, (*ladder[:-1], rung))
    doing.log.append(log.Replaced(gone, rung))
    clean_up_after(doing, (gone,), do.level, whole=False)
    _start(doing, timers)


def _start(doing: WorkingState, timers: Timers) -> None:
    for rung, after, runs in timers:
        start_timer(doing, rung.data, rung.serial, after, runs)


def _owing(build: effects.RungSpec, owes: tuple[str, int] | None) -> effects.RungSpec:
    return replace(build, data=replace(build.data, owes=owes)) if owes else build


def show_tab(doing: WorkingState, do: effects.ShowTab) -> None:
    """A tab comes to the front."""
    holder = doing.track[do.place]
    used = holder.data.tab_order
    if used[-1] != do.tab:
        doing.log.append(log.Switched(holder.data.screen, do.name))
    if do.going_back:
        used = used[:-1]
    # Where Back does not go by it, what was in front before makes no difference.
    before = [tab for tab in used if tab != do.tab] if doing.plan.policies.tab_back == "last used" else ()
    way = doing.way_to_level(do.place)
    doing.set_data(holder, replace(holder.data, tab_order=(*before, do.tab)))
    doing.inside = (*way, (holder.serial, do.tab))
    doing.turn(doing.inside)


def set_top_arguments(doing: WorkingState, do: effects.SetTopArguments) -> None:
    """The top rung gets other arguments."""
    top = doing.ladder_at(do.level)[-1]
    if top.data.arguments != do.arguments:
        data = replace(top.data, arguments=do.arguments)
        doing.set_data(top, data)
        doing.log.append(log.ArgumentsChanged(top.data, data))


# Drops


def pop_top(doing: WorkingState, do: effects.PopTop) -> None:
    """The rung of a place goes, perhaps with a value."""
    value = returned(doing, do.value)
    ladder = doing.ladder_at(do.place)
    rung = ladder[-1] if do.place >= len(doing.track) else doing.track[do.place]
    place = next(place for place in reversed(range(len(ladder))) if ladder[place].serial == rung.serial)
    doing.put_ladder(do.place, (*ladder[:place], *ladder[place + 1 :]))
    doing.log.append(log.Went(rung))
    owed = clean_up_after(doing, (rung,), do.place, value=value)
    on_top = place == len(ladder) - 1
    _uncovered(doing, do.place, None if owed else value, rungs=on_top)


def pop_down_to(doing: WorkingState, do: effects.PopDownTo) -> None:
    """Rungs go down to the nearest one of a screen."""
    ladder = doing.ladder_at(do.level)
    place = next(place for place in reversed(range(len(ladder))) if rung_matches(ladder[place], do.screen, do.arguments))
    if place == len(ladder) - 1 and not do.drop:
        doing.log.append(log.NoEffect(messages.ON_TOP_ALREADY.format(screen=do.screen)))
    _one_after_the_other(doing, do.level, place if do.drop else place + 1)


def pop_to_lowest(doing: WorkingState, do: effects.PopToLowest) -> None:
    """All rungs but the lowest go."""
    _one_after_the_other(doing, do.level, 1)


def pop_all(doing: WorkingState, do: effects.PopAll) -> None:
    """All rungs go at once."""
    gone = doing.ladder_at(do.level)
    if gone:
        doing.put_ladder(do.level, gone[:0])
        doing.log.extend(log.Went(rung) for rung in reversed(gone))
        clean_up_after(doing, gone, do.level)


def drop_oldest(doing: WorkingState, do: effects.DropOldest) -> None:
    """The lowest of too many rungs of a screen go, one after the other; who awaits one of them gets nothing."""
    for going_one in _oldest(doing, do):
        rung, ladder = going_one.rung, doing.ladder_at(do.level)
        place = next(place for place, other in enumerate(ladder) if other.serial == rung.serial)
        doing.put_ladder(do.level, (*ladder[:place], *ladder[place + 1 :]))
        doing.log.append(log.Went(rung))
        clean_up_after(doing, (rung,), do.level)
        for caller in visible_path(ladder[place - 1 : place] if place else ()):
            if marks := _from_above(caller.data):
                resolve_awaited(doing, caller, marks, None)


def _oldest(doing: WorkingState, do: effects.DropOldest) -> list[Spotted]:
    """List the rungs of a screen that are too many on a ladder, lowest first."""
    ladder, way = doing.ladder_at(do.level), doing.way_to_level(do.level)
    same = [rung for rung in reversed(ladder) if rung_matches(rung, do.screen)]
    return [Spotted(rung, way) for rung in reversed(same[do.most :])]


def _one_after_the_other(doing: WorkingState, level: int, keep: int) -> None:
    """Let the rungs above the lowest ones go: what each awaited of the one above it is cancelled, though it goes next."""
    ladder = doing.ladder_at(level)
    gone = ladder[keep:]
    if not gone:
        return
    doing.put_ladder(level, ladder[:keep])
    doing.log.extend(log.Went(rung) for rung in reversed(gone))
    for rung in reversed(gone[:-1]):
        if not rung.plain:
            faces = [seen.data for seen in visible_path((rung,))]
            doing.log.extend(log.ResultCame(m.name, None, data.screen) for data in faces for m in _from_above(data))
    clean_up_after(doing, gone, level, uncovered=True)
    _uncovered(doing, level, None)


def _from_above(data: RungData) -> list[AwaitedResult]:
    """List what a rung awaits from the rung right above it."""
    return [mark for mark in data.awaits if not mark.overlay and not mark.inside]


def going(doing: WorkingState, do: effects.Drop) -> list[Spotted]:
    """List the rungs that an effect is about to take away, what stands inside them too, each with the way to its ladder."""
    match do:
        case effects.PopTop(place):
            return list(spotted(tuple(doing.track[place : place + 1]), doing.way_to_level(place)))
        case effects.ReplaceTop(level):
            return list(spotted(doing.ladder_at(level)[-1:], doing.way_to_level(level)))
        case effects.PopDownTo(level, screen, arguments, drop):
            ladder = doing.ladder_at(level)
            place = next(place for place in reversed(range(len(ladder))) if rung_matches(ladder[place], screen, arguments))
            return list(spotted(ladder[place if drop else place + 1 :], doing.way_to_level(level)))
        case effects.PopToLowest(level):
            return list(spotted(doing.ladder_at(level)[1:], doing.way_to_level(level)))
        case effects.PopAll(level):
            return list(spotted(doing.ladder_at(level), doing.way_to_level(level)))
        case effects.DropOldest(level):
            surplus = {each.rung.serial for each in _oldest(doing, do)}
            rungs = tuple(rung for rung in doing.ladder_at(level) if rung.serial in surplus)
            return list(spotted(rungs, doing.way_to_level(level)))
        case effects.ExitApp(_, whole):
            return [] if whole else list(spotted(doing.ladder))


def clean_up_after(
    doing: WorkingState,
    gone: Ladder,
    level: int,
    *,
    whole: bool = True,
    uncovered: bool = False,
    value: ResultValue | None = None,
) -> bool:
    """Do what follows from rungs that went: timers, overlays, results, the wanted place; return whether one owed the value.

    `whole`: nothing took the place of the rung; `uncovered`: all but the top rung were uncovered before they went.
    """
    way = doing.way_to_level(level)
    cleaned = [each for each in spotted(gone, way) if not each.rung.plain]
    rungs = [each.rung for each in cleaned]
    doing.gone += [(each.rung, each.chain) for each in cleaned]
    names = {serial: "" for rung in gone for serial in rung.timed}
    owed = False
    told_before = {rung.serial for lower in gone[:-1] for rung in visible_path((lower,))} if uncovered else ()
    for rung, chain in cleaned:
        data = rung.data
        names[rung.serial] = data.screen
        for layer in rung.overlays:
            names[layer.serial] = layer.name
            doing.closed.append((layer, chain, GONE))
            doing.log.append(log.Closed(layer.name, by_itself=True))
        doing.log.extend(
            log.ResultDropped(mark.name, data.screen)
            for mark in data.awaits
            if rung.serial not in told_before or mark.overlay or mark.inside
        )
        for result in data.undelivered:
            tell_lost(doing, data, result)
        if data.owes and (whole or rung is not gone[-1]):
            owed = _pay(doing, data.owes, chain, value if rung is gone[-1] else None) or owed
        if data.redirected and (whole or rung is not gone[-1]) and doing.wanted:
            doing.wanted = None
            doing.log.append(log.Forgotten(messages.STAND_IN_WENT.format(screen=data.screen)))
    stop_timers(doing, rungs, names)
    if doing.freed:
        doing.freed = tuple(serial for serial in doing.freed if serial not in names)
    if doing.never_shown:
        doing.never_shown = tuple(serial for serial in doing.never_shown if serial not in names)
    doing.made = [serial for serial in doing.made if serial not in names]
    doing.opened = [serial for serial in doing.opened if serial not in names]
    if doing.armed:
        faces = {rung.serial: RungData(rung.data.screen, rung.data.arguments, rung.data.facts) for rung in rungs}
        doing.armed = tuple(
            replace(entry, gone=True, data=faces.get(entry.serial)) if entry.serial in names and not entry.gone else entry
            for entry in doing.armed
        )
    if not doing.ladder_at(level):
        doing.emptied.append(way)
    return owed


def stop_timers(doing: WorkingState, rungs: list[Rung], names: dict[int, str]) -> None:
    """Stop the timers of rungs and overlays that went; `names`: the serials of all of them."""
    if told(doing.deadlines):
        faces = {rung.serial: rung.data for rung in rungs}
        stopped = (timer for timer in doing.deadlines if timer.serial in faces and timer.kind in OF_RUNGS)
        doing.log.extend(log.TimerCancelled(faces[timer.serial], timer.due - doing.clock) for timer in stopped)
        stops = (*OF_RUNGS, "overlay")
        doing.deadlines = tuple(timer for timer in doing.deadlines if timer.serial not in names or timer.kind not in stops)


# Results


def returned(doing: WorkingState, value: effects.ReturnedValue | None) -> ResultValue | None:
    """Return what a rung or an overlay goes with, its facts as they are now; None if what holds one of them is gone."""
    if isinstance(value, tuple):
        parts = [(name, _fact_now(doing, part) if isinstance(part, FactValue) else part) for name, part in value]
        there = tuple((name, part) for name, part in parts if part is not None)
        return there if len(there) == len(parts) else None
    return _fact_now(doing, value) if isinstance(value, FactValue) else value


def _fact_now(doing: WorkingState, fact: FactValue) -> str | None:
    if fact.own:
        rung = None if doing.where in doing.plan.overlay else doing.owner_rung()
        held = facts_held_by(doing, doing.layer) if rung is None else rung.data.facts
        return dict(held).get(fact.name)
    # Nothing reads the result before it is delivered: what was left out is looked at now.
    return looked_at(doing.facts[doing.plan.fact_index[fact.name]])


def await_result(doing: WorkingState, name: str, level: int) -> tuple[str, int] | None:
    """The rung that the move stands on begins to wait for what is put on a ladder; return what that owes if it is inside."""
    owner = doing.owner_rung()
    if owner is None:
        return None
    place = next((place for place, rung in enumerate(doing.track) if rung.serial == owner.serial), len(doing.track))
    inside = place < level
    _add_mark(doing, owner, AwaitedResult(name, inside=inside))
    return (name, level - place) if inside else None


def await_answer(doing: WorkingState, name: str, overlay: str) -> int:
    """The rung that the move stands on begins to wait for an overlay; return its serial, 0 for none."""
    owner = doing.owner_rung()
    if owner is None:
        return 0
    _add_mark(doing, owner, AwaitedResult(name, overlay))
    return owner.serial


def _add_mark(doing: WorkingState, owner: Rung, mark: AwaitedResult) -> None:
    doing.set_data(owner, replace(owner.data, awaits=(*owner.data.awaits, mark)))
    doing.log.append(log.Awaits(mark.name, owner.data.screen))


def resolve_awaited(doing: WorkingState, rung: Rung, marks: list[AwaitedResult], value: ResultValue | None) -> None:
    """Turn marks of a rung into results."""
    awaits = list(rung.data.awaits)
    for mark in marks:
        awaits.remove(mark)
    results = tuple(Result(mark.name, value) for mark in marks)
    doing.set_data(rung, replace(rung.data, awaits=tuple(awaits), undelivered=(*rung.data.undelivered, *results)))


def _pay(doing: WorkingState, owes: tuple[str, int], chain: Chain, value: ResultValue | None) -> bool:
    """A rung went that owed a result to a flow or tabs around it: return whether these got the value."""
    name, outwards = owes
    holder = find(doing.ladder, chain[-outwards][0]) if outwards <= len(chain) else None
    marks = [mark for mark in holder.rung.data.awaits if mark.inside and mark.name == name] if holder else []
    if holder is None or not marks:
        return False
    resolve_awaited(doing, holder.rung, marks[-1:], value)
    doing.hidden_results.append(holder.rung.serial)
    return value is not None


def _uncovered(doing: WorkingState, level: int, value: ResultValue | None, *, rungs: bool = True) -> None:
    """What is on top of a ladder now, and what is seen inside it, gets what it awaits: what was returned, else cancelled."""
    ladder = doing.ladder_at(level)
    path = visible_path(ladder[-1:]) if rungs else []
    got = False
    for place, rung in enumerate(path):
        if rung.data.undelivered:
            doing.hidden_results.append(rung.serial)
        marks = _from_above(rung.data)
        if marks:
            resolve_awaited(doing, visible_path(doing.ladder_at(level)[-1:])[place], marks, value)
            doing.hidden_results.append(rung.serial)
            got = True
    if value is not None and not got:
        data = path[-1].data if path else doing.path[-1].data if doing.path else None
        words = messages.RESULT_NOBODY_AWAITS.format(value=value_words(value), rung=rung_text(data))
        doing.log.append(Finding("nobody waits", words))


def uncover_what_is_seen(doing: WorkingState) -> None:
    """Whatever is seen although something was put over it for a result gets no result any more: it is cancelled."""
    for place, rung in enumerate(doing.path):
        if not rung.cut and (marks := _from_above(rung.data)):
            resolve_awaited(doing, doing.path[place], marks, None)


def deliver_result(doing: WorkingState, do: effects.DeliverResult) -> None:
    """A result reaches its rung."""
    rung = doing.track[do.place]
    left = list(rung.data.undelivered)
    left.remove(Result(do.name, do.value))
    doing.set_data(rung, replace(rung.data, undelivered=tuple(left)))
    doing.log.append(log.ResultCame(do.name, do.value, rung.data.screen))


APPLY: dict[type, Applier] = {
    effects.PushRung: push_rung,
    effects.ReplaceTop: replace_top,
    effects.PopTop: pop_top,
    effects.PopDownTo: pop_down_to,
    effects.PopToLowest: pop_to_lowest,
    effects.PopAll: pop_all,
    effects.DropOldest: drop_oldest,
    effects.SetTopArguments: set_top_arguments,
    effects.ShowTab: show_tab,
    effects.DeliverResult: deliver_result,
}
