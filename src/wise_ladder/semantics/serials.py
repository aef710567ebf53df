"""The serials of what stands in a state: which there are, and states told apart without them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace

from wise_ladder.semantics.state import GONE, NOBODY, OverlayInstance, Rung, Seen, State, all_rungs
from wise_ladder.semantics.symbolic import SymbolicPart

if TYPE_CHECKING:
    from wise_ladder.semantics.state import Ladder, Question, StoppedMove


def used_serials(state: State) -> set[int]:
    """Return the serials of all that stands in a state, and of what an armed guard still remembers."""
    serials = {layer.serial for layer in state.overlays} | {entry.serial for entry in state.armed}
    if state.question is not None:
        serials |= serials_of(state.question)
    if isinstance(state.deadlines, SymbolicPart):
        serials |= state.deadlines.timed | state.deadlines.callers
    else:
        serials.update(timer.serial for timer in state.deadlines)
        serials.update(call.serial for call in state.calls)
    for rung in all_rungs(state.ladder):
        serials.add(rung.serial)
        if not rung.cut and rung.overlays:
            serials.update(layer.serial for layer in rung.overlays)
    return serials


def serials_of(question: Question) -> set[int]:
    """Return the serials that an open question knows of, besides the rung that it is asked over."""
    stopped = question.stopped
    return {question.rung, *(stopped.timed if isinstance(stopped, SymbolicPart) else serials_of_stopped(stopped))}


def serials_of_stopped(stopped: StoppedMove) -> set[int]:
    """Return the serials that a move knows of which a question stopped."""
    return {stopped.owner, stopped.layer, *(serial for serial, _ in stopped.chain or ())}


def timeless(state: State) -> State:
    """Return the state without clock, serials and what was seen since when: two that are equal so go on alike."""
    # New serials begin at 1: 0 stands for none in questions and overlays.
    numbers: dict[int, int] = {}
    ladder = _renumbered(state.ladder, numbers)
    layers = _layers(state.overlays, numbers)
    pending = tuple(
        replace(timer, due=timer.due - state.clock, order=0, serial=numbers.get(timer.serial, -1)) for timer in state.deadlines
    )
    calls = tuple(
        replace(call, started=call.started - state.clock, number=0, serial=numbers.get(call.serial, -1)) for call in state.calls
    )
    freed = tuple(sorted(numbers[serial] for serial in state.freed))
    question = renumbered_question(state.question, numbers)
    armed = tuple(replace(entry, serial=numbers.get(entry.serial, -1)) for entry in state.armed)
    unseen = tuple(sorted(numbers[serial] for serial in state.never_shown))
    seen = Seen(None, 0, 0)
    return replace(
        state,
        ladder=ladder,
        deadlines=pending,
        clock=0,
        seen=seen,
        overlays=layers,
        question=question,
        armed=armed,
        never_shown=unseen,
        calls=calls,
        freed=freed,
    )


def renumbered_question(question: Question | None, numbers: dict[int, int]) -> Question | None:
    """Return a question that speaks of other serials, -1 for what is gone."""
    if question is None:
        return None
    rung = numbers.get(question.rung, -1) if question.rung else 0
    stopped = question.stopped
    if isinstance(stopped, SymbolicPart):
        if any(numbers.get(serial) != serial for serial in stopped.timed):
            raise stopped.look()
    else:
        chain = stopped.chain and tuple((numbers.get(serial, -1), inside) for serial, inside in stopped.chain)
        owner = NOBODY if stopped.owner == NOBODY else numbers.get(stopped.owner, GONE)
        layer = numbers.get(stopped.layer, -1) if stopped.layer else 0
        stopped = replace(stopped, owner=owner, chain=chain, layer=layer)
    return replace(question, serial=numbers.get(question.serial, -1), rung=rung, stopped=stopped)


def _renumbered(ladder: Ladder, numbers: dict[int, int]) -> Ladder:
    rungs: list[Rung] = []
    for rung in ladder:
        serial = numbers.setdefault(rung.serial, len(numbers) + 1)
        if serial == rung.serial and not rung.inner and not rung.overlays:
            rungs.append(rung)
            continue
        inner = tuple(_renumbered(ladder, numbers) for ladder in rung.inner)
        rungs.append(Rung(rung.data, serial, inner, _layers(rung.overlays, numbers)))
    return tuple(rungs)


def _layers(layers: tuple[OverlayInstance, ...], numbers: dict[int, int]) -> tuple[OverlayInstance, ...]:
    return tuple(
        replace(layer, serial=numbers.setdefault(layer.serial, len(numbers) + 1), asker=numbers.get(layer.asker, 0))
        for layer in layers
    )
