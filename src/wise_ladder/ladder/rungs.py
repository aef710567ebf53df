"""Doing: puts, drops, and what follows for results, timers and overlays of rungs that go."""

from __future__ import annotations

from typing import TYPE_CHECKING, TypeAlias

from msgspec.structs import replace

from wise_ladder.ladder import happenings, small
from wise_ladder.ladder.cutting import told
from wise_ladder.ladder.doing import fits
from wise_ladder.ladder.happenings import Finding
from wise_ladder.ladder.state import Ladder, Mark, Result, Rung, all_rungs
from wise_ladder.ladder.words import face_words
from wise_ladder.ladder.world import OF_RUNGS, start_timer

if TYPE_CHECKING:
    from wise_ladder.ladder.doing import Doing
    from wise_ladder.plan.operations import Runs

# Puts


Timers: TypeAlias = "list[tuple[Rung, int, Runs]]"


def _made(doing: Doing, build: small.Build, timers: Timers) -> Rung:
    """Make a rung with what is inside it, and add to the timers to start."""
    serial = doing.free_serial()
    doing.made.append(serial)
    inner: list[tuple[Rung, int, Runs]] = []
    rung = Rung(build.face, serial, tuple(tuple(_made(doing, part, inner) for part in rungs) for rungs in build.inner))
    timers += [(rung, after, runs) for after, runs in build.timers]
    timers += inner
    return rung


def put(doing: Doing, do: small.Put) -> None:
    """A new rung on top."""
    if do.awaiting:
        await_result(doing, Mark(do.awaiting))
    timers: Timers = []
    rung = _made(doing, do.build, timers)
    doing.put_ladder(do.level, (*doing.ladder_at(do.level), rung))
    doing.happened.append(happenings.Came(rung))
    for timer in timers:
        start_timer(doing, *timer)


def swap(doing: Doing, do: small.Swap) -> None:
    """The top rung goes and another takes its place."""
    ladder = doing.ladder_at(do.level)
    gone = ladder[-1]
    timers: Timers = []
    rung = _made(doing, do.build, timers)
    doing.put_ladder(do.level, (*ladder[:-1], rung))
    doing.happened.append(happenings.Replaced(gone, rung))
    forget_rungs(doing, (gone,), do.level, whole=False)
    for timer in timers:
        start_timer(doing, *timer)


def front(doing: Doing, do: small.Front) -> None:
    """A tab comes to the front, and is filled where it was never there."""
    holder = doing.path[do.place]
    used = holder.face.used
    if used[-1] != do.tab:
        doing.happened.append(happenings.Switched(holder.face.screen, do.name))
    if do.going_back:
        used = used[:-1]
    # Where Back does not go by it, what was in front before makes no difference.
    before = [tab for tab in used if tab != do.tab] if doing.plan.policies.tab_back == "last used" else ()
    doing.put_face(holder, replace(holder.face, used=(*before, do.tab)))
    doing.inside = do.place + 1
    if not doing.ladder_at(doing.inside):
        put(doing, small.Put(doing.inside, do.first))
    elif do.to_root:
        _drop_above(doing, doing.inside, 1)


def hand_top(doing: Doing, do: small.HandTop) -> None:
    """The top rung gets other arguments."""
    top = doing.ladder_at(do.level)[-1]
    if top.face.arguments != do.arguments:
        face = replace(top.face, arguments=do.arguments)
        doing.put_face(top, face)
        doing.happened.append(happenings.Handed(top.face, face))


# Drops


def drop(doing: Doing, do: small.Drop) -> None:
    """The top rung goes, perhaps with a value."""
    _drop_above(doing, do.level, len(doing.ladder_at(do.level)) - 1, do.value)


def drop_to(doing: Doing, do: small.DropTo) -> None:
    """Rungs go down to the nearest one of a screen."""
    ladder = doing.ladder_at(do.level)
    place = next(place for place in reversed(range(len(ladder))) if fits(ladder[place], do.screen, do.arguments))
    if place == len(ladder) - 1 and not do.drop:
        doing.happened.append(happenings.Nothing(f"{do.screen} is on top already"))
    _drop_above(doing, do.level, place if do.drop else place + 1)


def drop_to_lowest(doing: Doing, do: small.DropToLowest) -> None:
    """All rungs but the lowest go."""
    _drop_above(doing, do.level, 1)


def drop_all(doing: Doing, do: small.DropAll) -> None:
    """All rungs go."""
    _drop_above(doing, do.level, 0)


def _drop_above(doing: Doing, level: int, keep: int, value: str | None = None) -> None:
    ladder = doing.ladder_at(level)
    gone = ladder[keep:]
    if not gone:
        return
    doing.put_ladder(level, ladder[:keep])
    doing.happened.extend(happenings.Went(rung) for rung in reversed(gone))
    forget_rungs(doing, gone, level)
    _uncovered(doing, value)


def forget_rungs(doing: Doing, gone: Ladder, level: int, *, whole: bool = True) -> None:
    """Do what follows from rungs that went: timers, overlays, results, the wanted place."""
    rungs = [rung for rung in all_rungs(gone) if not rung.plain]
    doing.gone += [(rung, level, doing.asked) for rung in rungs]
    names = {serial: "" for rung in gone for serial in rung.timed}
    for rung in rungs:
        face = rung.face
        names[rung.serial] = face.screen
        for layer in rung.layers:
            names[layer.serial] = layer.name
            doing.happened.append(happenings.Closed(layer.name, by_itself=True))
        doing.happened.extend(happenings.ResultDropped(mark.name, face.screen) for mark in face.awaits)
        for result in face.undelivered:
            words = f"{result.name} came for {face_words(face)}, which went before it got it"
            doing.happened.append(Finding("result lost", words))
        if face.redirected and whole and doing.wanted:
            doing.wanted = None
            doing.happened.append(happenings.Forgotten(f"{face.screen} went, which stood in its place"))
    if told(doing.pending):
        faces = {rung.serial: rung.face for rung in rungs}
        stopped = (timer for timer in doing.pending if timer.serial in faces and timer.kind in OF_RUNGS)
        doing.happened.extend(happenings.TimerCancelled(faces[timer.serial], timer.due - doing.clock) for timer in stopped)
        stops = (*OF_RUNGS, "overlay")
        doing.pending = tuple(timer for timer in doing.pending if timer.serial not in names or timer.kind not in stops)
    if doing.freed:
        doing.freed = tuple(serial for serial in doing.freed if serial not in names)
    if doing.unseen:
        doing.unseen = tuple(serial for serial in doing.unseen if serial not in names)
    if doing.armed:
        doing.armed = tuple(replace(entry, gone=True) if entry.serial in names else entry for entry in doing.armed)


# Results


def await_result(doing: Doing, mark: Mark) -> None:
    """The rung that the move stands on begins to wait."""
    owner = doing.owner_rung()
    if owner is not None:
        doing.put_face(owner, replace(owner.face, awaits=(*owner.face.awaits, mark)))
        doing.happened.append(happenings.Awaits(mark.name, owner.face.screen))


def settle(doing: Doing, rung: Rung, overlay: str, value: str | None) -> bool:
    """Turn what a rung awaits from an overlay, or from a rung above it, into results; return whether it awaited any."""
    marks = [mark for mark in rung.face.awaits if mark.overlay == overlay]
    if not marks:
        return False
    awaits = tuple(mark for mark in rung.face.awaits if mark.overlay != overlay)
    results = tuple(Result(mark.name, value) for mark in marks)
    doing.put_face(rung, replace(rung.face, awaits=awaits, undelivered=(*rung.face.undelivered, *results)))
    return True


def _uncovered(doing: Doing, value: str | None) -> None:
    """The rung that is on top now gets what it awaits: what was returned, else a cancelled result."""
    top = doing.path[-1] if doing.path else None
    if (top is None or not top.face.awaits or not settle(doing, top, "", value)) and value is not None:
        words = f"{value} was returned, but {face_words(top.face if top else None)} awaits nothing"
        doing.happened.append(Finding("nobody waits", words))


def deliver(doing: Doing, do: small.Deliver) -> None:
    """A result reaches its rung."""
    rung = doing.path[do.place]
    left = list(rung.face.undelivered)
    left.remove(Result(do.name, do.value))
    doing.put_face(rung, replace(rung.face, undelivered=tuple(left)))
    doing.happened.append(happenings.ResultCame(do.name, do.value, rung.face.screen))
