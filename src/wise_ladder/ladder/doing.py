"""The second half of a step: doing, which applies small steps to the ladders and decides nothing."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from wise_ladder.ladder import happenings, matters, small
from wise_ladder.ladder.state import (
    Armed,
    Face,
    Head,
    Ladder,
    Layer,
    Mark,
    Pending,
    Phase,
    Question,
    Result,
    Rung,
    Seen,
    Spot,
    State,
    Wanted,
    all_rungs,
    open_layers,
    screens_beneath,
    top_rung,
    visible_path,
)
from wise_ladder.ladder.tables import tables
from wise_ladder.ladder.words import face_words

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable

    from wise_ladder.ladder.happenings import Happening
    from wise_ladder.ladder.matters import Matter
    from wise_ladder.plan.model import GuardId, Move, Plan
    from wise_ladder.plan.values import Arguments

NOBODY = -1
"""The owner of a move that stands on no rung."""


class Doing:
    """A state in the middle of a step, and what happened in it so far."""

    __slots__ = (
        "_before", "_owner", "armed", "asked", "bars", "clock", "facts", "gone", "happened", "inside", "ladder", "layers",
        "made", "matter", "own_turned", "passed", "pending", "phase", "plan", "question", "seen", "serials", "tables", "taken",
        "unseen", "wanted",
    )  # fmt: skip

    def __init__(self, plan: Plan, state: State) -> None:
        """Begin a step at a state."""
        self.plan, self.tables = plan, tables(plan)
        self._set(state)
        self.happened: list[Happening] = []
        self.taken: list[Move] = []
        self.matter: Matter | None = None
        self.passed: tuple[GuardId, ...] = ()
        self.asked = False
        """Whether the guards let the move pass already."""
        self.inside: int | None = None
        """The level that a tab change has turned the rest of the move to."""
        self.gone: list[tuple[Rung, int, bool]] = []
        """The rungs that went in this move, the level each stood on, and whether guards were asked about it."""
        self.made: list[int] = []
        """The serials of the rungs that were put in this move."""
        self.own_turned = False
        """Whether a fact of a rung turned in this move."""
        self._owner = NOBODY
        self._before: tuple[State, int] = (state, 0)

    def _set(self, state: State) -> None:
        (
            self.phase, self.ladder, self.facts, self.pending, self.clock, self.serials, self.seen,
            self.layers, self.question, self.wanted, self.armed, self.unseen, self.bars,
        ) = state  # fmt: skip

    def state(self) -> State:
        """Return the state as it is now."""
        return State(
            self.phase, self.ladder, self.facts, self.pending, self.clock, self.serials, self.seen,
            self.layers, self.question, self.wanted, self.armed, self.unseen, self.bars,
        )  # fmt: skip

    def head(self) -> Head:
        """Return all that deciding may look at."""
        path: list[Spot] = []
        ladder, layered = self.ladder, bool(self.layers)
        while ladder:
            top = ladder[-1]
            path.append(Spot(top.face, len(ladder) == 1))
            layered = layered or bool(top.layers)
            ladder = top.front
        head = Head(self.phase, self.facts, tuple(path))
        if not (layered or self.question or self.wanted or self.armed):
            return head
        rungs = visible_path(self.ladder)
        layers = tuple((name, place) for _, name, place in open_layers(self.layers, rungs)) if layered else ()
        places = {rung.serial: place for place, rung in enumerate(rungs)}
        armed = tuple((entry.guard, -1 if entry.serial == 0 else places.get(entry.serial, -2)) for entry in self.armed)
        question = self.question.guard if self.question else None
        return Head(self.phase, self.facts, head.path, layers, question, self.wanted, armed)

    # A move as a whole

    def begin_move(self) -> None:
        """Remember where a move began, for the case that it is undone."""
        if self.happened or self.taken:
            self._before = (self.state(), len(self.happened))
        self.asked, self.inside, self.gone, self.made, self.own_turned = False, None, [], [], False

    @property
    def before(self) -> State:
        """The state in which the move began."""
        return self._before[0]

    def _undo(self) -> None:
        state, count = self._before
        self._set(state)
        del self.happened[count:]
        self.gone, self.made, self.own_turned = [], [], False

    def apply(self, do: small.Small) -> None:
        """Do one small step."""
        _APPLY[type(do)](self, do)

    def take(self, do: small.Take) -> None:
        self.taken.append(do.move)
        if do.place == 0:
            self._owner = self.ladder[-1].serial
        elif do.place is not None:
            self._owner = visible_path(self.ladder)[do.place].serial

    def say(self, do: small.Say) -> None:
        self.happened.append(do.happening)

    def undo(self, do: small.Undo) -> None:
        self._undo()
        self.happened.append(do.finding)

    def stop(self, do: small.Stop) -> None:
        self._undo()
        self.happened.append(do.happening)

    def let_pass(self, _do: small.Pass) -> None:
        self.asked = True

    def ask(self, do: small.Ask) -> None:
        self._undo()
        assert self.matter is not None, "guards are asked about something"  # noqa: S101
        top = top_rung(self.ladder)
        self.question = Question(do.guard, self.matter, self.passed, top.serial if top else 0)
        self.happened.append(happenings.Asked(do.name, do.text))

    def answer_question(self, do: small.AnswerQuestion) -> None:
        self.question = None
        self.happened.append(happenings.Answered(do.name, do.answer))

    # Looking beneath

    def answer(self, question: small.Question) -> bool:
        """Answer what deciding cannot see at the head."""
        match question:
            case small.IsThere(level, screen, arguments):
                return any(_fits(rung, screen, arguments) for rung in self._ladder(level))
            case small.IsBeneath(level, screen):
                ladder = self._ladder(level)
                return len(ladder) > 1 and ladder[-2].face.screen == screen
            case small.DeeperThan(rungs):
                return len(screens_beneath(self.ladder)) > rungs

    def _ladder(self, level: int) -> Ladder:
        ladder = self.ladder
        for _ in range(level):
            if not ladder:
                return ()
            ladder = ladder[-1].front
        return ladder

    def _with(self, level: int, ladder: Ladder) -> None:
        self.ladder = _at_level(self.ladder, level, ladder)

    def _with_face(self, serial: int, face: Face) -> None:
        self.ladder = _changed(self.ladder, serial, lambda rung: rung._replace(face=face))

    # Puts

    def _made(self, build: small.Build) -> tuple[Rung, list[tuple[Rung, int]]]:
        """Make a rung with what is inside it, and list the timers to start."""
        self.serials += 1
        serial = self.serials
        timers: list[tuple[Rung, int]] = []
        inner: tuple[Ladder, ...] = ()
        if build.first is not None:
            first, timers = self._made(build.first)
            inner = ((first,), *(() for _ in range(build.ladders - 1)))
        rung = Rung(build.face, serial, inner)
        self.made.append(serial)
        return rung, [*((rung, after) for after in build.timers), *timers]

    def put(self, do: small.Put) -> None:
        if do.awaiting:
            self._await(Mark(do.awaiting))
        rung, timers = self._made(do.build)
        self._with(do.level, (*self._ladder(do.level), rung))
        self.happened.append(happenings.Came(rung))
        self._start_timers(timers)

    def swap(self, do: small.Swap) -> None:
        ladder = self._ladder(do.level)
        gone = ladder[-1]
        rung, timers = self._made(do.build)
        self._with(do.level, (*ladder[:-1], rung))
        self.happened.append(happenings.Replaced(gone, rung))
        self._forget((gone,), do.level, whole=False)
        self._start_timers(timers)

    def front(self, do: small.Front) -> None:
        holder = visible_path(self.ladder)[do.place]
        used = holder.face.used
        if do.going_back:
            used = tuple(tab for tab in used[:-1] if tab != do.tab)
        face = holder.face._replace(used=(*(tab for tab in used if tab != do.tab), do.tab))
        if holder.face.used[-1] != do.tab:
            self.happened.append(happenings.Switched(holder.face.screen, do.name))
        self._with_face(holder.serial, face)
        self.inside = do.place + 1
        if not self._ladder(self.inside):
            self.put(small.Put(self.inside, do.first))
        elif do.to_root:
            self._drop_above(self.inside, 1)

    # Drops

    def drop(self, do: small.Drop) -> None:
        self._drop_above(do.level, len(self._ladder(do.level)) - 1, do.value)

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

    def _drop_above(self, level: int, keep: int, value: str | None = None) -> None:
        ladder = self._ladder(level)
        gone = ladder[keep:]
        if not gone:
            return
        self._with(level, ladder[:keep])
        self.happened.extend(happenings.Went(rung) for rung in reversed(gone))
        self._forget(gone, level)
        self._uncovered(value)

    def _uncovered(self, value: str | None) -> None:
        """The rung that is on top now gets what it awaits: what was returned, else a cancelled result."""
        top = top_rung(self.ladder)
        marks = () if top is None else tuple(mark for mark in top.face.awaits if not mark.overlay)
        if top is None or not marks:
            if value is not None:
                words = f"{value} was returned, but {face_words(top.face if top else None)} awaits nothing"
                self.happened.append(happenings.Finding("nobody waits", words))
            return
        results = tuple(Result(mark.name, value) for mark in marks)
        awaits = tuple(mark for mark in top.face.awaits if mark.overlay)
        self._with_face(top.serial, top.face._replace(awaits=awaits, undelivered=(*top.face.undelivered, *results)))

    def _forget(self, gone: Iterable[Rung], level: int, *, whole: bool = True) -> None:
        """Do what follows from rungs that went: timers, overlays, results, the wanted place."""
        gone = tuple(gone)
        if len(gone) == 1 and not (self.pending or self.unseen or self.armed) and gone[0][2:] == _PLAIN_RUNG:
            face = gone[0].face
            if not (face.awaits or face.undelivered or face.redirected):
                self.gone.append((gone[0], level, self.asked))
                return
        rungs = list(all_rungs(gone))
        names = {rung.serial: face_words(rung.face) for rung in rungs}
        for rung in rungs:
            self.happened.extend(happenings.Closed(layer.name, by_itself=True) for layer in rung.layers)
            names.update((layer.serial, layer.name) for layer in rung.layers)
            self.happened.extend(happenings.ResultDropped(mark.name, rung.face.screen) for mark in rung.face.awaits)
            for result in rung.face.undelivered:
                words = f"{result.name} came for {face_words(rung.face)}, which went before it got it"
                self.happened.append(happenings.Finding("result lost", words))
            if rung.face.redirected and whole and self.wanted is not None:
                self.wanted = None
                self.happened.append(happenings.Forgotten(f"{rung.face.screen} went, which stood in its place"))
            self.gone.append((rung, level, self.asked))
        if self.pending:
            faces = {rung.serial: rung.face for rung in rungs}
            self.happened.extend(
                happenings.TimerCancelled(faces[timer.serial], timer.due) for timer in self.pending if timer.serial in faces
            )
            self.pending = tuple(timer for timer in self.pending if timer.serial not in names)
        if self.unseen:
            self.unseen = tuple(serial for serial in self.unseen if serial not in names)
        if self.armed:
            self.armed = tuple(self._armed_after(entry, names) for entry in self.armed)

    @staticmethod
    def _armed_after(entry: Armed, names: dict[int, str]) -> Armed:
        return entry._replace(gone=True) if entry.serial in names else entry

    def hand_top(self, do: small.HandTop) -> None:
        top = self._ladder(do.level)[-1]
        if top.face.arguments != do.arguments:
            face = top.face._replace(arguments=do.arguments)
            self._with_face(top.serial, face)
            self.happened.append(happenings.Handed(top.face, face))

    # Results

    def _await(self, mark: Mark) -> None:
        owner = self._owner_rung() or top_rung(self.ladder)
        if owner is not None:
            self._with_face(owner.serial, owner.face._replace(awaits=(*owner.face.awaits, mark)))
            self.happened.append(happenings.Awaits(mark.name, owner.face.screen))

    def _owner_rung(self) -> Rung | None:
        if self._owner == NOBODY:
            return None
        return next((rung for rung in all_rungs(self.ladder) if rung.serial == self._owner), None)

    def deliver(self, do: small.Deliver) -> None:
        rung = visible_path(self.ladder)[do.place]
        left = list(rung.face.undelivered)
        left.remove(Result(do.name, do.value))
        self._with_face(rung.serial, rung.face._replace(undelivered=tuple(left)))
        self.happened.append(happenings.ResultCame(do.name, do.value, rung.face.screen))

    # Overlays

    def lay(self, do: small.Lay) -> None:
        self.serials += 1
        layer = Layer(do.overlay, self.serials)
        if do.awaiting:
            self._await(Mark(do.awaiting, do.overlay))
        if do.place < 0:
            self.layers = (*self.layers, layer)
        else:
            serial = visible_path(self.ladder)[do.place].serial
            self.ladder = _changed(self.ladder, serial, lambda rung: rung._replace(layers=(*rung.layers, layer)))
        self.happened.append(happenings.Opened(do.overlay))
        if do.time is not None:
            self.serials += 1
            self.pending = tuple(sorted((*self.pending, Pending(self.clock + do.time, self.serials, layer.serial, do.time))))

    def lift(self, do: small.Lift) -> None:
        found = [entry for entry in self._all_layers() if entry[0].name == do.overlay]
        if not found:
            return
        layer, holder = max(found, key=lambda entry: entry[0].serial)
        if holder is None:
            self.layers = tuple(other for other in self.layers if other != layer)
        else:
            self.ladder = _changed(self.ladder, holder.serial, lambda rung: _without(rung, layer))
        self.pending = tuple(timer for timer in self.pending if timer.serial != layer.serial)
        self.happened.append(happenings.Closed(do.overlay, do.by_itself))
        for rung in all_rungs(self.ladder):
            marks = [mark for mark in rung.face.awaits if mark.overlay == do.overlay]
            if marks:
                awaits = tuple(mark for mark in rung.face.awaits if mark.overlay != do.overlay)
                results = tuple(Result(mark.name, do.value) for mark in marks)
                face = rung.face._replace(awaits=awaits, undelivered=(*rung.face.undelivered, *results))
                self._with_face(rung.serial, face)
                return
        if do.value is not None:
            words = f"{do.overlay} closed with {do.value}, but nobody awaits it"
            self.happened.append(happenings.Finding("nobody waits", words))

    def _all_layers(self) -> list[tuple[Layer, Rung | None]]:
        found: list[tuple[Layer, Rung | None]] = [(layer, None) for layer in self.layers]
        found += [(layer, rung) for rung in all_rungs(self.ladder) for layer in rung.layers]
        return found

    # Facts, wanted place, armed guards

    def set_to(self, do: small.SetTo) -> None:
        was = self.facts[do.place]
        if was != do.value:
            self.facts = (*self.facts[: do.place], do.value, *self.facts[do.place + 1 :])
            self.happened.append(happenings.FactTurned(do.name, was, do.value))

    def set_own_to(self, do: small.SetOwnTo) -> None:
        rung = self._owner_rung() or top_rung(self.ladder)
        was = None if rung is None else dict(rung.face.own).get(do.name)
        if rung is not None and was is not None and was != do.value:
            own = tuple((name, do.value if name == do.name else value) for name, value in rung.face.own)
            self._with_face(rung.serial, rung.face._replace(own=own))
            self.own_turned = True
            self.happened.append(happenings.FactTurned(do.name, was, do.value, own=True))

    def want(self, do: small.Want) -> None:
        self.wanted = Wanted(do.face.screen, do.face.arguments)
        self.happened.append(happenings.Remembered(do.face))

    def forget(self, do: small.Forget) -> None:
        if self.wanted is not None:
            self.wanted = None
            self.happened.append(happenings.Forgotten(do.why))

    def arm(self, do: small.Arm) -> None:
        path = visible_path(self.ladder)
        now = [Armed(guard, path[place].serial if place >= 0 else 0) for guard, place in do.guards]
        hidden = {rung.serial for rung in all_rungs(self.ladder)} - {rung.serial for rung in path}
        outlived = [entry for entry in self.armed if entry.gone and self.plan.guard[entry.guard].outlives]
        kept = [entry for entry in self.armed if entry in now or (entry.serial in hidden and not entry.gone)]
        for entry in outlived:
            if entry not in self._before[0].armed:
                guard = self.plan.guard[entry.guard]
                words = f"{guard.name} is still armed although its screen {entry.guard.where} is gone"
                self.happened.append(happenings.Finding("handler outlived its screen", words))
        self.armed = tuple(dict.fromkeys((*outlived, *kept, *now)))

    # Phases

    def go_out(self, do: small.GoOut) -> None:
        self.phase, self.ladder, self.pending, self.layers = Phase.OUTSIDE, (), (), ()
        self.question, self.wanted, self.armed, self.unseen = None, None, (), ()
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

    def _start_timers(self, timers: Iterable[tuple[Rung, int]]) -> None:
        for rung, after in timers:
            self.serials += 1
            timer = Pending(self.clock + after, self.serials, rung.serial, after)
            self.pending = tuple(sorted((*self.pending, timer)))
            self.happened.append(happenings.TimerStarted(rung.face, timer.due))

    def take_due(self, timer: Pending) -> matters.Fire | matters.Gone:
        """Take a due timer off the list and say whose it is."""
        self.pending = tuple(other for other in self.pending if other != timer)
        for layer, _ in self._all_layers():
            if layer.serial == timer.serial:
                return matters.Gone(layer.name)
        self._owner = timer.serial
        rung = next(rung for rung in all_rungs(self.ladder) if rung.serial == timer.serial)
        path = visible_path(self.ladder)
        hidden = self.phase is not Phase.OPEN or all(seen.serial != timer.serial for seen in path)
        level, lowest = self._standing(timer.serial)
        face = rung.face
        return matters.Fire(face.screen, face.arguments, face.own, timer.after, level, lowest, hidden)

    def _standing(self, serial: int) -> tuple[int, bool]:
        """Return the level of the visible path nearest to a rung, and whether it is the lowest there."""
        ladder, level = self.ladder, 0
        while ladder:
            if any(rung.serial == serial for rung in ladder):
                return level, ladder[0].serial == serial
            if all(rung.serial != serial for rung in all_rungs(ladder[-1].front)):
                break
            ladder, level = ladder[-1].front, level + 1
        return level, False

    def stop_timers(self) -> None:
        """Stop every timer: they would run for ever."""
        self.pending = ()

    # What is seen

    def look(self) -> None:
        """Note what the user sees now, and for how long something else was seen before; bars and question follow."""
        top = top_rung(self.ladder) if self.phase is Phase.OPEN else None
        seen = self.seen
        serial = top.serial if top is not None else 0
        if serial == seen.serial and (top is None or (seen.face is not None and seen.face.arguments == top.face.arguments)):
            return
        face = Face(*top.face[:2]) if top is not None else None
        self.happened.append(happenings.Saw(self.seen.face, self.seen.since, self.clock))
        self.seen = Seen(face, serial, self.clock)
        if top is not None:
            above, below = self.tables.bars[top.face.screen]
            self.bars = (self.bars[0] if above is None else above, self.bars[1] if below is None else below)

    def drop_question(self) -> None:
        """A question goes, its way untaken, when its rung is no longer the visible one."""
        top = top_rung(self.ladder)
        if self.question is not None and (top is None or top.serial != self.question.serial):
            self.happened.append(happenings.QuestionGone(self.plan.guard[self.question.guard].name))
            self.question = None


_PLAIN_RUNG = ((), ())
"""No ladder inside and no overlay over it."""


def _fits(rung: Rung, screen: str, arguments: Arguments) -> bool:
    return rung.face.screen == screen and all(argument in rung.face.arguments for argument in arguments)


def _at_level(ladder: Ladder, level: int, new: Ladder) -> Ladder:
    if level == 0:
        return new
    top = ladder[-1]
    place = top.face.used[-1]
    inner = _at_level(top.inner[place], level - 1, new)
    return (*ladder[:-1], top._replace(inner=(*top.inner[:place], inner, *top.inner[place + 1 :])))


def _changed(ladder: Ladder, serial: int, change: Callable[[Rung], Rung]) -> Ladder:
    """Return the ladder with the rung of a serial changed, wherever it stands."""
    if ladder and ladder[-1].serial == serial:
        return (*ladder[:-1], change(ladder[-1]))
    found = []
    for rung in ladder:
        new = change(rung) if rung.serial == serial else rung
        if rung.inner:
            new = new._replace(inner=tuple(_changed(inner, serial, change) for inner in new.inner))
        found.append(new)
    return tuple(found)


def _without(rung: Rung, layer: Layer) -> Rung:
    return rung._replace(layers=tuple(other for other in rung.layers if other != layer))


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
    small.Lay: Doing.lay,
    small.Lift: Doing.lift,
    small.Front: Doing.front,
    small.Want: Doing.want,
    small.Forget: Doing.forget,
    small.Deliver: Doing.deliver,
    small.Pass: Doing.let_pass,
    small.Ask: Doing.ask,
    small.Stop: Doing.stop,
    small.AnswerQuestion: Doing.answer_question,
    small.GoOut: Doing.go_out,
    small.GoAway: Doing.go_away,
    small.ComeBack: Doing.come_back,
    small.Say: Doing.say,
    small.Undo: Doing.undo,
    small.Take: Doing.take,
    small.Arm: Doing.arm,
}
