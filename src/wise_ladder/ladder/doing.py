"""The second half of a step: doing, which applies small steps to the ladders and decides nothing."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from wise_ladder.ladder import happenings, small
from wise_ladder.ladder.state import (
    Face,
    Ladder,
    Pending,
    Phase,
    Rung,
    Seen,
    State,
    all_rungs,
    rungs_beneath,
    top_rung,
    visible_path,
)

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable

    from wise_ladder.ladder.happenings import Happening
    from wise_ladder.ladder.small import Question
    from wise_ladder.plan.model import Move, Plan
    from wise_ladder.plan.values import Arguments


class Doing:
    """A state in the middle of a step, and what happened in it so far."""

    __slots__ = (
        "_before", "_owner", "clock", "facts", "happened", "ladder", "pending", "phase", "plan", "seen", "serials", "taken",
    )  # fmt: skip

    def __init__(self, plan: Plan, state: State) -> None:
        """Begin a step at a state."""
        self.plan = plan
        self.phase, self.ladder, self.facts, self.pending, self.clock, self.serials, self.seen = state
        self.happened: list[Happening] = []
        self.taken: list[Move] = []
        self._owner = 0
        self._before: tuple[State, int] | None = None

    def state(self) -> State:
        """Return the state as it is now."""
        return State(self.phase, self.ladder, self.facts, self.pending, self.clock, self.serials, self.seen)

    # A move as a whole

    def begin_move(self) -> None:
        """Remember where a move began, for the case that it is undone."""
        self._before = (self.state(), len(self.happened))

    def end_move(self) -> None:
        """Close a move: an app with nothing left on its ladder is left."""
        if self.phase is Phase.OPEN and not self.ladder:
            self.go_out(small.GoOut("because nothing is on its ladder"))

    def undo(self, do: small.Undo) -> None:
        assert self._before is not None, "a move began"  # noqa: S101
        state, count = self._before
        self.phase, self.ladder, self.facts, self.pending, self.clock, self.serials, self.seen = state
        del self.happened[count:]
        self.happened.append(do.finding)

    def apply(self, do: small.Small) -> bool:
        """Do one small step; True where it ends the move there and then."""
        _APPLY[type(do)](self, do)
        return isinstance(do, (small.Undo, small.GoOut))

    def take(self, do: small.Take) -> None:
        self.taken.append(do.move)
        if do.place is not None:
            self._owner = list(visible_path(self.ladder))[do.place].serial

    def say(self, do: small.Say) -> None:
        self.happened.append(do.happening)

    # Looking beneath

    def answer(self, question: Question) -> bool:
        """Answer what deciding cannot see at the head."""
        match question:
            case small.IsThere(level, screen, arguments):
                return any(_fits(rung, screen, arguments) for rung in self._ladder(level))
            case small.IsBeneath(level, screen):
                ladder = self._ladder(level)
                return len(ladder) > 1 and ladder[-2].face.screen == screen
            case small.DeeperThan(rungs):
                return sum(not rung.inner for rung in rungs_beneath(self.ladder)) > rungs

    def _ladder(self, level: int) -> Ladder:
        ladder = self.ladder
        for _ in range(level):
            top = ladder[-1]
            ladder = top.inner[top.front]
        return ladder

    def _with(self, level: int, ladder: Ladder) -> None:
        self.ladder = _at_level(self.ladder, level, ladder)

    # Rungs

    def _new_rung(self, face: Face) -> Rung:
        self.serials += 1
        return Rung(face, self.serials)

    def put(self, do: small.Put) -> None:
        rung = self._new_rung(do.face)
        self._with(do.level, (*self._ladder(do.level), rung))
        self.happened.append(happenings.Came(rung))
        self._start_timers(rung, do.timers)

    def swap(self, do: small.Swap) -> None:
        ladder = self._ladder(do.level)
        gone = ladder[-1]
        rung = self._new_rung(do.face)
        self._with(do.level, (*ladder[:-1], rung))
        self.happened.append(happenings.Replaced(gone, rung))
        self._forget((gone,))
        self._start_timers(rung, do.timers)

    def drop(self, do: small.Drop) -> None:
        self._drop_above(do.level, len(self._ladder(do.level)) - 1)

    def drop_to(self, do: small.DropTo) -> None:
        ladder = self._ladder(do.level)
        place = max(place for place, rung in enumerate(ladder) if _fits(rung, do.screen, do.arguments))
        if place == len(ladder) - 1 and not do.drop:
            self.happened.append(happenings.Nothing(f"{do.screen} is on top already"))
        self._drop_above(do.level, place if do.drop else place + 1)

    def drop_to_lowest(self, do: small.DropToLowest) -> None:
        self._drop_above(do.level, 1)

    def drop_all(self, do: small.DropAll) -> None:
        self._drop_above(do.level, 0)

    def _drop_above(self, level: int, keep: int) -> None:
        ladder = self._ladder(level)
        gone = ladder[keep:]
        if not gone:
            return
        self._with(level, ladder[:keep])
        self.happened.extend(happenings.Went(rung) for rung in reversed(gone))
        self._forget(gone)

    def hand_top(self, do: small.HandTop) -> None:
        ladder = self._ladder(do.level)
        top = ladder[-1]
        if top.face.arguments != do.arguments:
            face = Face(top.face.screen, do.arguments, top.face.own)
            self._with(do.level, (*ladder[:-1], Rung(face, top.serial, top.inner, top.front)))
            self.happened.append(happenings.Handed(top.face, face))

    # Facts

    def set_to(self, do: small.SetTo) -> None:
        was = self.facts[do.place]
        if was != do.value:
            self.facts = (*self.facts[: do.place], do.value, *self.facts[do.place + 1 :])
            self.happened.append(happenings.FactTurned(do.name, was, do.value))

    def set_own_to(self, do: small.SetOwnTo) -> None:
        rung = next((rung for rung in all_rungs(self.ladder) if rung.serial == self._owner), None)
        if rung is None:
            return
        was = dict(rung.face.own)[do.name]
        if was != do.value:
            own = tuple((name, do.value if name == do.name else value) for name, value in rung.face.own)
            face = Face(rung.face.screen, rung.face.arguments, own)
            self.ladder = _with_face(self.ladder, rung.serial, face)
            self.happened.append(happenings.FactTurned(do.name, was, do.value, own=True))

    # Phases

    def go_out(self, do: small.GoOut) -> None:
        self.phase, self.ladder, self.pending = Phase.OUTSIDE, (), ()
        self.facts = tuple(
            value if fact.kept == "disk" else fact.values[0] for fact, value in zip(self.plan.facts, self.facts, strict=True)
        )
        self.happened.append(happenings.LeftApp(do.how))

    def go_away(self, do: small.GoAway) -> None:
        self.phase = Phase.AWAY
        self.happened.append(happenings.WentAway(do.by_back))

    def come_back(self, do: small.ComeBack) -> None:
        self.phase = Phase.OPEN
        app = self.plan.app
        self.happened.append(happenings.Launched(app) if do.launched else happenings.CameBack(app))

    # Time

    def _start_timers(self, rung: Rung, timers: Iterable[int]) -> None:
        for after in timers:
            self.serials += 1
            timer = Pending(self.clock + after, self.serials, rung.serial, after)
            self.pending = tuple(sorted((*self.pending, timer)))
            self.happened.append(happenings.TimerStarted(rung.face, timer.due))

    def _forget(self, gone: Iterable[Rung]) -> None:
        if not self.pending:
            return
        faces = {rung.serial: rung.face for rung in all_rungs(tuple(gone))}
        self.happened.extend(
            happenings.TimerCancelled(faces[timer.serial], timer.due) for timer in self.pending if timer.serial in faces
        )
        self.pending = tuple(timer for timer in self.pending if timer.serial not in faces)

    def take_due(self, timer: Pending) -> small.Fire:
        """Take a due timer off the list and say whose it is."""
        self.pending = tuple(other for other in self.pending if other != timer)
        self._owner = timer.serial
        rung = next(rung for rung in all_rungs(self.ladder) if rung.serial == timer.serial)
        path = list(visible_path(self.ladder))
        level = next((level for level, seen in enumerate(path) if seen.serial == timer.serial), None)
        lowest = self.ladder[0].serial == timer.serial
        return small.Fire(rung.face, timer.after, level or 0, lowest, hidden=level is None or self.phase is not Phase.OPEN)

    def stop_timers(self) -> None:
        """Stop every timer: they would run for ever."""
        self.pending = ()

    # What is seen

    def look(self) -> None:
        """Note what the user sees now, and for how long something else was seen before."""
        top = top_rung(self.ladder) if self.phase is Phase.OPEN else None
        face = Face(*top.face[:2]) if top is not None else None
        serial = top.serial if top is not None else 0
        if (face, serial) != self.seen[:2]:
            self.happened.append(happenings.Saw(self.seen.face, self.seen.since, self.clock))
            self.seen = Seen(face, serial, self.clock)


def _fits(rung: Rung, screen: str, arguments: Arguments) -> bool:
    return rung.face.screen == screen and all(argument in rung.face.arguments for argument in arguments)


def _at_level(ladder: Ladder, level: int, new: Ladder) -> Ladder:
    if level == 0:
        return new
    top = ladder[-1]
    inner = _at_level(top.inner[top.front], level - 1, new)
    return (
        *ladder[:-1],
        Rung(top.face, top.serial, (*top.inner[: top.front], inner, *top.inner[top.front + 1 :]), top.front),
    )


def _with_face(ladder: Ladder, serial: int, face: Face) -> Ladder:
    return tuple(
        Rung(
            face if rung.serial == serial else rung.face,
            rung.serial,
            tuple(_with_face(inner, serial, face) for inner in rung.inner),
            rung.front,
        )
        for rung in ladder
    )


_APPLY: dict[type, Callable[[Doing, Any], None]] = {
    small.Put: Doing.put,
    small.Swap: Doing.swap,
    small.Drop: Doing.drop,
    small.DropTo: Doing.drop_to,
    small.DropToLowest: Doing.drop_to_lowest,
    small.DropAll: Doing.drop_all,
    small.HandTop: Doing.hand_top,
    small.SetTo: Doing.set_to,
    small.SetOwnTo: Doing.set_own_to,
    small.GoOut: Doing.go_out,
    small.GoAway: Doing.go_away,
    small.ComeBack: Doing.come_back,
    small.Say: Doing.say,
    small.Undo: Doing.undo,
    small.Take: Doing.take,
}
