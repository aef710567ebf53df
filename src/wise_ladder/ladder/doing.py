"""The second half of a step: doing, which applies small steps to the ladders and decides nothing.

`Doing` is the state in the middle of a step; what each small step does to it stands in `rungs`, `overlays` and `world`, and the
table of them all in `applying`.
"""

from __future__ import annotations

from itertools import count
from typing import TYPE_CHECKING, Literal, cast

from msgspec.structs import replace

from wise_ladder.ladder import happenings, small
from wise_ladder.ladder.cutting import Untold
from wise_ladder.ladder.state import (
    Face,
    Head,
    Ladder,
    Question,
    Rung,
    Spot,
    State,
    all_rungs,
    open_layers,
    screens_beneath,
    serials_in,
    visible_path,
)
from wise_ladder.ladder.tables import tables
from wise_ladder.ladder.veiling import LAYERS_BEHIND, Veiled

if TYPE_CHECKING:
    from wise_ladder.ladder.cutting import Cut
    from wise_ladder.ladder.happenings import Happening
    from wise_ladder.ladder.matters import Matter
    from wise_ladder.ladder.veiling import Veil
    from wise_ladder.plan.model import GuardId, Move, Plan
    from wise_ladder.plan.values import Arguments

NOBODY = -1
"""The owner of a move that stands on no rung."""


class Doing:
    """A state in the middle of a step, and what happened in it so far."""

    __slots__ = (
        "armed",
        "arriving",
        "asked",
        "bars",
        "before",
        "calls",
        "clock",
        "cover",
        "facts",
        "freed",
        "given",
        "gone",
        "happened",
        "happened_before",
        "inside",
        "ladder",
        "layers",
        "made",
        "matter",
        "own_was",
        "owner",
        "passed",
        "path",
        "path_before",
        "pending",
        "phase",
        "plan",
        "question",
        "seen",
        "spent",
        "start",
        "starting",
        "tables",
        "taken",
        "unseen",
        "wanted",
        "world",
    )  # fmt: skip

    def __init__(self, plan: Plan, state: State) -> None:
        """Begin a step at a state."""
        self.plan, self.tables = plan, tables(plan)
        self._set(state)
        self.path = visible_path(state.ladder)
        """The visible path, from the outside in; never changed in place."""
        self.start, self.spent = state, set[int]()
        """The state in which the step began, and the serials that are not free in it."""
        self.happened: list[Happening] = []
        self.taken: list[Move] = []
        self.matter: Matter | None = None
        self.passed: tuple[GuardId, ...] = ()
        self.starting = False
        """Whether the app has started and its first screen is yet to come."""
        self.owner = NOBODY
        """The serial of the rung that the move stands on."""
        self.before, self.path_before, self.happened_before = state, self.path, 0
        """The state in which the move began, its visible path, and how much had happened by then."""
        self._clear()

    def _clear(self) -> None:
        self.asked = False
        """Whether the guards let the move pass already."""
        self.inside: int | None = None
        """The level that a tab change has turned the rest of the move to."""
        self.gone: list[tuple[Rung, int, bool]] = []
        """The rungs that went in this move, the level each stood on, and whether guards were asked about it."""
        self.made: list[int] = []
        """The serials of the rungs that were put in this move."""
        self.world: list[str] = []
        """What of the world happened in this move, as triggers name it: launched, cover gone, low memory."""
        self.own_was: dict[tuple[int, str], str] = {}
        """The facts of rungs that were set in this move, by serial and name, and what they were."""

    def _set(self, state: State) -> None:
        self.phase, self.ladder, self.facts, self.pending = state.phase, state.ladder, state.facts, state.pending
        self.clock, self.seen, self.layers = state.clock, state.seen, state.layers
        self.question, self.wanted, self.armed = state.question, state.wanted, state.armed
        self.unseen, self.bars, self.cover, self.calls = state.unseen, state.bars, state.cover, state.calls
        self.given, self.arriving, self.freed = state.given, state.arriving, state.freed

    def state(self) -> State:
        """Return the state as it is now."""
        return State(
            self.phase, self.ladder, self.facts, self.pending, self.clock, self.seen, self.layers,
             self.question, self.wanted, self.armed, self.unseen, self.bars,
            self.cover, self.calls, self.given, self.arriving, self.freed,
        )  # fmt: skip

    def head(self) -> Head:
        """Return all that deciding may look at."""
        path, ladder, layered = self.path, self.ladder, self.layers != ()
        if isinstance(ladder, Veiled):
            return self._veiled_head(cast("Veil", path[0]))
        spots = []
        for rung in path:
            face = rung.face
            spots.append(Spot(face, len(ladder) == 1))
            if rung.layers:
                layered = True
            if rung.inner:
                ladder = rung.inner[face.used[-1]]
        calling = self._calling()
        if not (layered or self.question or self.armed or self.cover or self.arriving):
            return Head(self.phase, self.facts, tuple(spots), wanted=self.wanted, calling=calling)
        layers = tuple((name, place) for _, name, place in open_layers(self.layers, path)) if layered else ()
        places = {rung.serial: place for place, rung in enumerate(path)}
        armed = tuple((entry.guard, -1 if entry.serial == 0 else places.get(entry.serial, -2)) for entry in self.armed)
        question = self.question.guard if self.question else None
        least = self.cover and any(timer.kind == "cover least" for timer in self.pending)
        cover: Literal["", "least", "up"] = "" if not self.cover else "least" if least else "up"
        return Head(self.phase, self.facts, tuple(spots), layers, question, self.wanted, armed, cover, calling, self.arriving)

    def _veiled_head(self, veil: Veil) -> Head:
        path, layers = cast("tuple[Spot, ...]", veil.path), cast("tuple[tuple[str, int], ...]", LAYERS_BEHIND)
        question = self.question.guard if self.question else None
        return Head(
            self.phase, self.facts, path, layers, question, self.wanted, calling=self._calling(), arriving=self.arriving
        )

    def _calling(self) -> tuple[str, ...]:
        return self.calls if isinstance(self.calls, Untold) else tuple([call.name for call in self.calls])

    # A move as a whole

    def begin_move(self) -> None:
        """Remember where a move began, for the case that it is undone."""
        if self.happened or self.taken or self.asked:
            self.before, self.path_before, self.happened_before = self.state(), self.path, len(self.happened)
            self._clear()

    def undo_move(self) -> None:
        """Take back all that the move did."""
        self._set(self.before)
        self.path = self.path_before
        del self.happened[self.happened_before :]
        self._clear()

    def take(self, do: small.Take) -> None:
        """Note the move that is taken, and the rung it stands on."""
        self.taken.append(do.move)
        if do.place is not None:
            self.owner = self.path[do.place].serial

    def owner_rung(self) -> Rung | None:
        """Return the rung that the move stands on; the one on top where it stands on none or its own is gone."""
        if self.owner != NOBODY:
            for rung in self.path:
                if rung.serial == self.owner:
                    return rung
            for rung in all_rungs(self.ladder):
                if rung.serial == self.owner:
                    return rung
        return self.path[-1] if self.path else None

    def free_serial(self, *, highest: bool = False) -> int:
        """Return a serial for what is made now: the lowest that is free in this step, or one above all others."""
        spent = self.spent = self.spent or {0} | serials_in(self.start)
        serial = max(spent) + 1 if highest else next(serial for serial in count(1) if serial not in spent)
        spent.add(serial)
        return serial

    # Guards and questions

    def undo(self, do: small.Undo) -> None:
        """The move meets what it cannot do."""
        self.undo_move()
        self.happened.append(do.finding)

    def stop(self, do: small.Stop) -> None:
        """A guard lets nobody pass."""
        self.undo_move()
        self.happened.append(do.happening)

    def let_pass(self, _do: small.Pass) -> None:
        """The guards let the move pass."""
        self.asked = True

    def ask(self, do: small.Ask) -> None:
        """A guard asks."""
        self.undo_move()
        assert self.matter is not None, "guards are asked about something"  # noqa: S101
        self.question = Question(do.guard, self.matter, self.passed, self.path[-1].serial if self.path else 0)
        self.happened.append(happenings.Asked(do.name, do.text))

    def answer_question(self, do: small.AnswerQuestion) -> None:
        """The question is answered."""
        self.question = None
        self.happened.append(happenings.Answered(do.name, do.answer))

    def drop_question(self) -> None:
        """A question goes, its way untaken, when its rung is no longer the visible one."""
        if self.question is not None and (not self.path or self.path[-1].serial != self.question.serial):
            self.happened.append(happenings.QuestionGone(self.plan.guard[self.question.guard].name))
            self.question = None

    # The ladders

    def answer(self, question: small.Question) -> bool:
        """Answer what deciding cannot see at the head."""
        match question:
            case small.IsThere(level, screen, arguments):
                return any(fits(rung, screen, arguments) for rung in reversed(self.ladder_at(level)))
            case small.IsBeneath(level, screen):
                ladder = self.ladder_at(level)
                return len(ladder) > 1 and ladder[-2].face.screen == screen
            case small.DeeperThan(rungs):
                return len(screens_beneath(self.ladder)) > rungs

    def ladder_at(self, level: int) -> Ladder:
        """Return the ladder of a level of the visible path; empty where there is none."""
        if level == 0:
            return self.ladder
        return self.path[level - 1].front if level <= len(self.path) else ()

    def put_ladder(self, level: int, ladder: Ladder) -> None:
        """Give the ladder of a level other rungs."""
        while level:
            level -= 1
            holder = self.path[level]
            inner, place = holder.inner, holder.face.used[-1]
            holder = Rung(holder.face, holder.serial, (*inner[:place], ladder, *inner[place + 1 :]), holder.layers)
            ladder = (*self.ladder_at(level)[:-1], holder)
        self.ladder = ladder
        self.path = visible_path(ladder)

    def put_rung(self, rung: Rung) -> None:
        """Put a changed rung in the place of the one of its serial, wherever it stands."""
        place = len(self.path)
        while place:
            place -= 1
            if self.path[place].serial == rung.serial:
                self.put_ladder(place, (*self.ladder_at(place)[:-1], rung))
                return
        self.ladder = _exchanged(self.ladder, rung)
        self.path = visible_path(self.ladder)

    def put_face(self, rung: Rung, face: Face) -> None:
        """Give a rung another face."""
        self.put_rung(Rung(face, rung.serial, rung.inner, rung.layers))


def fits(rung: Rung, screen: str, arguments: Arguments) -> bool:
    """Whether a rung is of a screen and has these arguments, among others."""
    if rung.cut:
        return cast("Cut", rung).holds((screen, arguments))
    return rung.face.screen == screen and all(argument in rung.face.arguments for argument in arguments)


def _exchanged(ladder: Ladder, new: Rung) -> Ladder:
    if all(rung.cut for rung in ladder):
        return ladder
    found = []
    for rung in ladder:
        if rung.serial == new.serial:
            found.append(new)
        elif rung.inner:
            found.append(replace(rung, inner=tuple(_exchanged(inner, new) for inner in rung.inner)))
        else:
            found.append(rung)
    return tuple(found)
