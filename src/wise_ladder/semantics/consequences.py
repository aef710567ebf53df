"""What follows from a move: screens that are shown, facts that changed, results that arrived, guards to ask again."""

from __future__ import annotations

from typing import TYPE_CHECKING, TypeAlias

from msgspec.structs import replace

from wise_ladder.plan import triggers
from wise_ladder.semantics import tasks
from wise_ladder.semantics.apply import stand_at
from wise_ladder.semantics.apply_world import add_pending, facts_held_by, follow_the_eyes, start_timer, visible_overlays
from wise_ladder.semantics.opaque import OpaqueRung
from wise_ladder.semantics.paths import find, ladder_of
from wise_ladder.semantics.state import GONE, Phase, RungData, all_rungs

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.semantics.state import Chain
    from wise_ladder.semantics.tasks import Task
    from wise_ladder.semantics.working_state import WorkingState

FRAME = 16
"""The milliseconds that one frame is seen."""
LAUNCHED = triggers.PhaseTrigger("launched")
WORLD = (LAUNCHED, triggers.PhaseTrigger("cover gone"), triggers.PhaseTrigger("low memory"))
RUNS = (Phase.OPEN, Phase.AWAY)
"""The phases in which moves of the app run."""

Agenda: TypeAlias = "list[tuple[Task, int, Chain]]"
"""What is to be decided, each with the serial of the rung or overlay that must be there then (0: any), and the way to it."""


def consequences(doing: WorkingState) -> Agenda:
    """List what is to be decided after a move."""
    agenda: Agenda = []
    known = doing.tables
    for rung, chain in doing.gone:
        data = rung.data
        if data.screen in known.left:
            agenda.append((tasks.RungLeft(data.screen, data.arguments, data.facts, len(chain)), GONE, chain))
    lefts = (each for each in doing.closed if each[0].name in known.left)
    agenda += [(tasks.RungLeft(layer.name, (), layer.facts, len(chain)), serial, chain) for layer, chain, serial in lefts]
    doing.gone, doing.closed = [], []
    # What a fresh start sets back has not turned.
    started = LAUNCHED in doing.world
    if doing.phase is Phase.OPEN:
        agenda += _delivered(doing)
    if doing.world:
        agenda += _world(doing)
    if doing.made or doing.opened:
        doing.never_shown = (*doing.never_shown, *doing.made, *doing.opened)
    sees, saw = _sees(doing.phase, doing.cover), _sees(doing.before.phase, doing.before.cover)
    if sees and (doing.path is not doing.path_before or not saw or doing.remade or _layered(doing)):
        follow_the_eyes(doing)
        _newly_visible(doing, agenda)
    elif saw:
        follow_the_eyes(doing)
    if known.facts_that_matter and not started and (doing.own_was or doing.facts != doing.before.facts):
        agenda += _facts_turned(doing)
    return agenda


def _layered(doing: WorkingState) -> bool:
    """Whether overlays are over what is seen, or were."""
    return doing.overlays != doing.before.overlays or any(rung.overlays for rung in doing.path)


def _sees(phase: Phase, cover: bool) -> bool:
    """Whether the user sees what is on the ladder."""
    return phase is Phase.OPEN and not cover


def _delivered(doing: WorkingState) -> Iterator[tuple[Task, int, Chain]]:
    """Results that are delivered now: to what is seen, and in a hidden ladder to what a hidden rung's move has uncovered."""
    for place, rung in enumerate(doing.path):
        for came in rung.undelivered:
            yield tasks.ResultArrived(came.name, came.value, place), rung.serial, ()
    for serial in dict.fromkeys(doing.hidden_results):
        spotted = find(doing.ladder, serial)
        if spotted is None or any(rung.serial == serial for rung in doing.path):
            continue
        ladder = ladder_of(doing.ladder, spotted.chain)
        if ladder and ladder[-1].serial == serial:
            for came in spotted.rung.undelivered:
                yield tasks.ResultArrived(came.name, came.value, len(spotted.chain)), serial, spotted.chain


def _world(doing: WorkingState) -> Iterator[tuple[Task, int, Chain]]:
    """What of the world happened: each place of the visible path reacts, inner first, then the app itself."""
    for what in (*WORLD, *(each for each in doing.world if each not in WORLD)):
        if what in doing.world:
            reacting = _reacting(doing) if what in doing.tables.world_in_places else ()
            for where, overlay, place, serial in reacting:
                if (where, what) in doing.tables.due:
                    yield tasks.PhaseTask(what, place, overlay), serial, ()
            if (None, what) in doing.tables.due:
                yield tasks.PhaseTask(what, -1), 0, ()
            if what == LAUNCHED:
                yield tasks.PutStart(), 0, ()
    doing.world = []


def _reacting(doing: WorkingState) -> Iterator[tuple[str, str, int, int]]:
    """Go through all that is on the visible path or over it, inner first: its name, if it is an overlay, place, serial."""
    over = visible_overlays(doing)
    for place in (-1, *reversed(range(len(doing.path)))):
        yield from ((layer.name, layer.name, place, layer.serial) for layer, at in reversed(over) if at == place)
        if place >= 0:
            yield doing.path[place].data.screen, "", place, doing.path[place].serial


def _newly_visible(doing: WorkingState, agenda: Agenda) -> None:
    """Add what newly visible rungs and overlays set off; update which were never shown."""
    known, unseen = doing.tables, doing.never_shown
    if _may_wake(doing):
        before = set[int]() if doing.remade else _seen_before(doing)
        now = [each for each in reversed(list(_reacting(doing))) if each[3] not in before]
        starts = not doing.remade or doing.plan.policies.pending_when_remade == "is lost"
        for where, overlay, place, serial in now:
            data = RungData(overlay) if overlay else doing.path[place].data
            for after in known.shown_timers.get(where, ()) if starts else ():
                start_timer(doing, data, serial, after, "shown")
        later = doing.plan.policies.shown_acts == "after it"
        again = not doing.remade or doing.plan.policies.shown_when_remade == "yes"
        for first in (True, False) if again else ():
            for where, overlay, place, serial in now:
                if (where, first) in known.shown and (not first or serial in unseen):
                    if later:
                        add_pending(doing, serial, FRAME, "first frame" if first else "frame")
                    else:
                        agenda.append((tasks.BecameVisible(place, first, overlay), serial, ()))
    if unseen:
        seen = {serial for *_, serial in _reacting(doing)}
        doing.never_shown = tuple(serial for serial in unseen if serial not in seen)


def _may_wake(doing: WorkingState) -> bool:
    """Whether something that is seen now reacts when it comes to be seen."""
    waking = doing.tables.waking
    if not waking:
        return False
    return any(layer.name in waking for layer in doing.overlays) or any(
        rung.wakes
        if isinstance(rung, OpaqueRung)
        else rung.data.screen in waking or any(layer.name in waking for layer in rung.overlays)
        for rung in doing.path
    )


def _seen_before(doing: WorkingState) -> set[int]:
    """Return the serials of the rungs and overlays that were seen when the move began."""
    if not _sees(doing.before.phase, doing.before.cover):
        return set()
    layers = (*doing.before.overlays, *(layer for rung in doing.path_before for layer in rung.overlays))
    return {rung.serial for rung in doing.path_before} | {layer.serial for layer in layers}


def _facts_turned(doing: WorkingState) -> Iterator[tuple[Task, int, Chain]]:
    known, path = doing.tables, doing.path
    turned = [
        (fact.name, now)
        for fact, was, now in zip(doing.plan.facts, doing.before.facts, doing.facts, strict=True)
        if (fact.name, now) in known.facts_that_matter and was != now
    ]
    in_places = doing.own_was or not known.facts_in_places.isdisjoint(turned)
    for where, overlay, place, serial in _reacting(doing) if in_places else ():
        own: list[tuple[str, str]] = []
        if doing.own_was and serial not in doing.made and serial not in doing.opened:
            held = facts_held_by(doing, serial) if overlay else path[place].data.facts
            own = [(name, value) for name, value in held if doing.own_was.get((serial, name), value) != value]
        for name, value in (*own, *turned):
            if (where, name, value) in known.turned:
                yield tasks.FactTask(name, value, place, overlay), serial, ()
    if path:
        yield from ((tasks.FactTask(name, value, -1), 0, ()) for name, value in turned if (None, name, value) in known.turned)
    if known.turned_hidden:
        yield from _hidden_turned(doing, turned, {rung.serial for rung in path})


def _hidden_turned(doing: WorkingState, turned: list[tuple[str, str]], seen: set[int]) -> Iterator[tuple[Task, int, Chain]]:
    """Let hidden screens that say so react, once per screen: its highest rung."""
    highest: dict[str, int] = {}
    for rung in all_rungs(doing.ladder):
        if rung.serial not in seen:
            highest[rung.data.screen] = rung.serial
    for name, value in turned:
        for screen, serial in highest.items():
            if (screen, name, value) in doing.tables.turned_hidden:
                yield tasks.FactTask(name, value, 0, hidden=screen), serial, ()


def relocate(doing: WorkingState, matter: Task, serial: int, chain: Chain) -> Task | None:
    """Return a matter with the place its rung has now; None if the rung is no longer seen."""
    if isinstance(matter, tasks.RungLeft):
        doing.owner, doing.chain = serial, doing.still_there(chain)
        spotted = find(doing.ladder, serial)
        ladder = ladder_of(doing.ladder, doing.chain)
        lowest = not ladder or (spotted is not None and ladder[0].serial == serial)
        # The move of another rung that went may have left the app by now.
        return replace(matter, level=len(doing.chain), lowest=lowest, out=doing.phase is Phase.OUTSIDE)
    if not serial:
        return matter if doing.phase in RUNS else None
    if isinstance(matter, tasks.FactTask) and matter.hidden:
        return _hidden_placed(doing, matter, serial)
    if doing.phase is not Phase.OPEN:
        return None
    if isinstance(matter, tasks.ResultArrived):
        return _delivery(doing, matter, serial, chain)
    place = next((place for _, _, place, other in _reacting(doing) if other == serial), None)
    if place is None or not isinstance(matter, (tasks.BecameVisible, tasks.FactTask, tasks.PhaseTask)):
        return None
    return replace(matter, place=place)


def _hidden_placed(doing: WorkingState, matter: tasks.FactTask, serial: int) -> tasks.FactTask | None:
    spotted = find(doing.ladder, serial)
    if spotted is None or doing.phase not in RUNS:
        return None
    level, lowest = stand_at(doing, spotted)
    data = spotted.rung.data
    return replace(matter, arguments=data.arguments, own=data.facts, level=level, lowest=lowest)


def _delivery(doing: WorkingState, matter: tasks.ResultArrived, serial: int, chain: Chain) -> tasks.ResultArrived | None:
    spotted = find(doing.ladder, serial)
    if spotted is None or not any((r.name, r.value) == (matter.name, matter.value) for r in spotted.rung.undelivered):
        return None
    ladder = ladder_of(doing.ladder, spotted.chain)
    seen = any(rung.serial == serial for rung in doing.path)
    if not ladder or ladder[-1].serial != serial or (not seen and spotted.chain != chain):
        return None
    if not seen:
        stand_at(doing, spotted)
        doing.turn(spotted.chain)
    return replace(matter, place=len(spotted.chain))


# Deciding
