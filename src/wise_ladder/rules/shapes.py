"""A state as the sweep keeps it: a shape, the values of the facts, and what of the ladders is left out.

A shape is a state without facts, clock and serials, in which each ladder keeps what timers, calls, overlays and guards know of,
and its top where that is seen. The lowest rung is left out (`Lowest`), and so is each row of rungs between (`Cut`), which stands
in a tail: a number for a row of rungs, so that two states with equal ladders share them.
"""

from __future__ import annotations

from itertools import count
from typing import TYPE_CHECKING, NamedTuple, TypeAlias, cast

from msgspec.structs import replace

from wise_ladder.ladder.cutting import UNREAD, Cut, Lowest, Unread
from wise_ladder.ladder.state import Calling, Face, Layer, Pending, Rung, Seen, State
from wise_ladder.plan import operations

if TYPE_CHECKING:
    from collections.abc import Callable, Container, Iterable, Iterator

    from wise_ladder.ladder.state import Ladder
    from wise_ladder.plan.model import Plan
    from wise_ladder.rules.zones import Clocks

Tail: TypeAlias = "tuple[int, tuple[Rung | int, ...]]"
"""A tail as it is made: the number of the cut it grows from (-1: none), and what is put over that: rungs, or whole tails."""
UNSEEN = Seen(None, 0, 0)
NOBODY = Face("", ())
SEEN = "\0seen"
"""Stands among the calls for what is seen since a moment, where that matters: no reply ever comes."""


class Shaped(NamedTuple):
    """A state in parts: the shape (its facts are all unread), the facts, the lowest rungs, and how each tail is made.

    A lowest rung that was left out already is told by its number.
    """

    shape: State
    facts: tuple[str, ...]
    lowest: tuple[Rung | int, ...]
    tails: tuple[Tail, ...]


class Shaping:
    """Takes the states of a plan apart."""

    def __init__(self, plan: Plan, flash: int = 0, guarded: Container[str] = ()) -> None:
        """Look what of a rung can make a difference when it goes.

        `flash`: how long it matters since when something is seen. `guarded`: screens that must not go without being asked.
        """
        self._first = {screen.name: tuple((fact.name, fact.values[0]) for fact in screen.holds) for screen in plan.screens}
        self._kept = {screen.name: tuple(fact.kept for fact in screen.holds) for screen in plan.screens}
        left = {move.where for move in plan.moves if isinstance(move.trigger, operations.LeftTrigger)}
        matters = (screen for screen in plan.screens if screen.name in left or (screen.guards and screen.name in guarded))
        self._matters = {screen.name for screen in matters}
        self._first_shown = any(move.trigger == operations.ShownTrigger(first=True) for move in plan.moves)
        replies = ((move.where, move.trigger) for move in plan.moves)
        self._wants = {(where, reply.call) for where, reply in replies if isinstance(reply, operations.ReplyTrigger)}
        self._unread = UNREAD[: len(plan.facts)]
        # One more than the slowest reply takes: whether it came as soon as it could is of interest too.
        self._takes = {call.name: max((outcome.takes for outcome in call.outcomes), default=0) + 1 for call in plan.calls}
        self._takes[SEEN] = flash

    def clocks(self, state: State) -> Clocks:
        """List what is under way in a state: its timers, then its calls."""
        timers = tuple((True, timer.after) for timer in state.pending)
        return (*timers, *((False, self._takes[call.name]) for call in state.calls))

    def shaped(self, state: State) -> Shaped:
        """Take a state apart."""
        cutting = _Cutting(self, state)
        ladder = cutting.ladder(state.ladder, seen=True)
        numbers = cutting.numbers
        for serial in sorted(cutting.layers):
            numbers[serial] = len(numbers)
        question = state.question and replace(state.question, serial=numbers.get(state.question.serial, -1))
        calls = tuple(self._asked(call) for call in state.calls)
        timers, calls = _in_order(state.pending, calls, lambda serial: numbers.get(serial, -1))
        shape = State(
            state.phase, _renumbered(ladder, numbers), self._unread, timers, 0, UNSEEN,
            _layers(state.layers, numbers), question, state.wanted,
            tuple(replace(entry, serial=numbers.get(entry.serial, -1)) for entry in state.armed),
            tuple(sorted(numbers[serial] for serial in state.unseen)) if self._first_shown else (), (True, True),
            state.cover, calls, (), state.arriving,
        )  # fmt: skip
        return Shaped(shape, state.facts, tuple(cutting.lowest), tuple(cutting.tails))

    def quiet(self, rung: Rung) -> int:
        """Say what can come of a rung that goes or is saved, as `Cut` does."""
        if rung.cut:
            return cast("Cut", rung).quiet
        face = rung.face
        if face.awaits or face.undelivered or face.redirected or rung.layers:
            return 0
        first = self._first[face.screen]
        still = face.own == first or all(
            value == was or kept != "memory"
            for (_, value), (_, was), kept in zip(face.own, first, self._kept[face.screen], strict=True)
        )
        if not still:
            return 0
        found = 1 if face.screen in self._matters or face.own != first else 2
        return min((found, *(self.quiet(part) for inner in rung.inner for part in inner)))

    def _asked(self, call: Calling) -> Calling:
        """Forget who made a call where nobody there wants its reply."""
        if call.serial == 0 or (call.where, call.name) in self._wants:
            return call
        return replace(call, serial=-1, where="", face=NOBODY)

    def known(self, state: State) -> set[int]:
        """Return the serials that something in a state knows of."""
        found = {timer.serial for timer in state.pending} | {self._asked(call).serial for call in state.calls}
        found.update(entry.serial for entry in state.armed)
        if self._first_shown:
            found.update(state.unseen)
        return found


class _Cutting:
    """One state that is taken apart."""

    def __init__(self, shaping: Shaping, state: State) -> None:
        self.shaping, self.known = shaping, shaping.known(state)
        self.numbers: dict[int, int] = {0: 0}
        self.layers = {layer.serial for layer in state.layers}
        self.lowest: list[Rung | int] = []
        self.tails: list[Tail] = []

    def ladder(self, ladder: Ladder, *, seen: bool) -> Ladder:
        if not ladder:
            return ()
        found = [self._first(ladder[0], seen=seen and len(ladder) == 1)]
        run: list[Rung] = []
        for rung in ladder[1:]:
            top = seen and rung is ladder[-1]
            if not top and not self._stays(rung):
                run.append(rung)
                continue
            found += [self._cut(run)] if run else []
            found.append(self._rung(rung, seen=top))
            run = []
        return (*found, self._cut(run)) if run else tuple(found)

    def _first(self, rung: Rung, *, seen: bool) -> Rung:
        if seen or self._stays(rung):
            return self._rung(rung, seen=seen)
        self.lowest.append(cast("Cut", rung).number if rung.cut else nameless(rung))
        return cast("Rung", Lowest(len(self.lowest) - 1, self.shaping.quiet(rung)))

    def _stays(self, rung: Rung) -> bool:
        """Whether something knows of a rung, or of what is inside it, so that it cannot be left out."""
        if rung.cut:
            return False
        if rung.serial in self.known or rung.layers or any(mark.overlay for mark in rung.face.awaits):
            return True
        return any(part.cut or self._stays(part) for inner in rung.inner for part in inner)

    def _rung(self, rung: Rung, *, seen: bool) -> Rung:
        self.numbers[rung.serial] = len(self.numbers)
        self.layers.update(layer.serial for layer in rung.layers)
        if not rung.inner:
            return rung
        front = rung.face.used[-1]
        inner = tuple(self.ladder(part, seen=seen and place == front) for place, part in enumerate(rung.inner))
        return Rung(rung.face, rung.serial, inner, rung.layers)

    def _cut(self, middle: list[Rung]) -> Rung:
        source, over = (cast("Cut", middle[0]).number, middle[1:]) if middle[0].cut else (-1, middle)
        quiet = min(self.shaping.quiet(rung) for rung in middle)
        self.tails.append((source, tuple(cast("Cut", rung).number if rung.cut else nameless(rung) for rung in over)))
        return cast("Rung", Cut(len(self.tails) - 1, quiet))


def nameless(rung: Rung) -> Rung:
    """Return a rung without serials, as it stands in a tail."""
    return Rung(rung.face, 0, tuple(tuple(nameless(part) for part in inner) for inner in rung.inner))


def _renumbered(ladder: Ladder, numbers: dict[int, int]) -> Ladder:
    return tuple(
        rung
        if rung.cut
        else Rung(
            rung.face,
            numbers[rung.serial],
            tuple(_renumbered(inner, numbers) for inner in rung.inner),
            _layers(rung.layers, numbers),
        )
        for rung in ladder
    )


def _layers(layers: Iterable[Layer], numbers: dict[int, int]) -> tuple[Layer, ...]:
    return tuple(Layer(layer.name, numbers[layer.serial]) for layer in layers)


BEGUN = -1
"""When what a shape knows to be under way began or falls due: before now; the zone knows more."""


def _in_order(
    pending: Iterable[Pending], calls: Iterable[Calling], named: Callable[[int], int]
) -> tuple[tuple[Pending, ...], tuple[Calling, ...]]:
    """Number what is under way from 1, each with another serial for its owner."""
    timers = tuple(
        Pending(BEGUN, order, named(timer.serial), timer.after, timer.kind, timer.face)
        for order, timer in enumerate(pending, 1)
    )
    return timers, tuple(
        Calling(call.name, number, BEGUN, named(call.serial), call.where, call.face) for number, call in enumerate(calls, 1)
    )


def settled(state: State, old: State) -> tuple[State, tuple[int, ...]]:
    """Put in order what is under way after something was done; of each thing its old number comes with it, -1: new."""
    pending = sorted(state.pending, key=lambda timer: (timer.due >= 0, timer.order))
    kept = [-1 if timer.due >= 0 else timer.order - 1 for timer in pending]
    kept += [-1 if call.started >= 0 else len(old.pending) + call.number - 1 for call in state.calls]
    timers, calls = _in_order(pending, state.calls, lambda serial: serial)
    return replace(state, pending=timers, calls=calls), tuple(kept)


# Putting back what was left out


def opened(state: State, number: int, rung: Rung, rest: int | None) -> State:
    """Put the highest rung of a cut back in its place; `rest`: how quiet the rest is, None where there is none."""
    top = _named((rung,), _free(state))
    back = top if rest is None else (cast("Rung", Cut(number, rest)), *top)
    return _put_back(state, "rung", number, back)


def opened_lowest(state: State, number: int, rung: Rung) -> State:
    """Put a lowest rung back in its place."""
    return _put_back(state, "lowest", number, _named((rung,), _free(state)))


def _put_back(state: State, what: str, number: int, back: Ladder) -> State:
    there = _each_cut(state.ladder, lambda cut: back if (cut.what, cut.number) == (what, number) else None)
    return replace(state, ladder=there)


def whole(state: State, left_out: Callable[[Cut], Ladder]) -> State:
    """Put back all that was left out."""
    free = _free(state)
    return replace(state, ladder=_each_cut(state.ladder, lambda cut: _named(left_out(cut), free)))


def _free(state: State) -> Iterator[int]:
    highest = max((layer.serial for layer in state.layers), default=0)
    return count(max(highest, _highest(state.ladder)) + 1)


def _named(ladder: Ladder, free: Iterator[int]) -> Ladder:
    return tuple(
        Rung(rung.face, next(free), tuple(_named(inner, free) for inner in rung.inner), rung.layers) for rung in ladder
    )


def _each_cut(ladder: Ladder, instead: Callable[[Cut], Ladder | None]) -> Ladder:
    found: list[Rung] = []
    for rung in ladder:
        if rung.cut:
            other = instead(cast("Cut", rung))
            found += (rung,) if other is None else other
        elif rung.inner:
            inner = tuple(_each_cut(part, instead) for part in rung.inner)
            found.append(Rung(rung.face, rung.serial, inner, rung.layers))
        else:
            found.append(rung)
    return tuple(found)


def _highest(ladder: Ladder) -> int:
    """Return the highest serial of rungs and overlays."""
    found = 0
    for rung in ladder:
        if not rung.cut:
            found = max(
                found, rung.serial, *(layer.serial for layer in rung.layers), *(_highest(inner) for inner in rung.inner)
            )
    return found


def read(state: State, place: int, value: str) -> State:
    """Put in the value of a fact that was left out."""
    return replace(state, facts=(*state.facts[:place], value, *state.facts[place + 1 :]))


def changes(facts: tuple[str, ...]) -> tuple[tuple[int, str], ...]:
    """List the facts that have a value now whatever they had before: place and value."""
    return tuple((place, value) for place, value in enumerate(facts) if not isinstance(value, Unread))
