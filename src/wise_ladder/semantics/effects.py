"""What deciding answers with: effects to apply, questions about what is beneath, or a refusal.

A `level` counts the ladders of the path from the outside in; an effect works on the ladder of that level. A `place` counts
the rungs of the path in the same way. The path is the visible one, or for what a hidden rung does the one to its ladder.
"""

from __future__ import annotations

from typing import Literal, TypeAlias

from msgspec import Struct

from wise_ladder.plan.model import GuardId, Move
from wise_ladder.plan.operations import FactValue, LeaveCause
from wise_ladder.plan.triggers import TimerScope
from wise_ladder.plan.values import Arguments, ResultValue, Value
from wise_ladder.semantics.log import Finding, LogEntry
from wise_ladder.semantics.state import RungData
from wise_ladder.semantics.tasks import OperationTask

ReturnedValue: TypeAlias = ResultValue | FactValue | tuple[tuple[str, Value | FactValue], ...]
"""What a rung or an overlay goes with; the facts in it are read when that is applied."""

# Small steps


class RungSpec(Struct, frozen=True):
    """A rung to be made: its face, its timers from the put on, and the rungs on each ladder it holds."""

    data: RungData
    timers: tuple[tuple[int, TimerScope], ...] = ()
    inner: tuple[tuple[RungSpec, ...], ...] = ()


class PushRung(Struct, frozen=True):
    """A new rung on top; the rung the move stands on awaits `awaiting` of it."""

    level: int
    build: RungSpec
    awaiting: str = ""


class ReplaceTop(Struct, frozen=True):
    """The top rung goes and a new one takes its place, and its duty to answer."""

    level: int
    build: RungSpec


class PopTop(Struct, frozen=True):
    """The rung at a place of the path goes; `value`: what it returns, None if it returns nothing."""

    place: int
    value: ReturnedValue | None = None


class PopDownTo(Struct, frozen=True):
    """Rungs go one after the other, down to the nearest one of the screen; `drop`: that one too. Looks beneath."""

    level: int
    screen: str
    arguments: Arguments
    drop: bool


class PopToLowest(Struct, frozen=True):
    """All rungs but the lowest go, one after the other."""

    level: int


class PopAll(Struct, frozen=True):
    """All rungs go at once."""

    level: int


class DropOldest(Struct, frozen=True):
    """Of more rungs of a screen on a ladder than it may have, the lowest go. Looks beneath."""

    level: int
    screen: str
    most: int


class SetTopArguments(Struct, frozen=True):
    """The top rung gets these arguments."""

    level: int
    arguments: Arguments


class SetFactValue(Struct, frozen=True):
    """The fact of the app at this place gets a value."""

    place: int
    name: str
    value: str


class SetRungFactValue(Struct, frozen=True):
    """A fact of the rung the move stands on gets a value; nothing if that rung is gone."""

    name: str
    value: str


class TakeBackSet(Struct, frozen=True):
    """What the move set that opened the overlay on which this move stands gets its values back."""


class OpenOverlay(Struct, frozen=True):
    """An overlay opens over a place (-1: the app); the rung on top awaits `awaiting` of it."""

    overlay: str
    place: int
    time: int | None
    awaiting: str = ""


class CloseOverlay(Struct, frozen=True):
    """The overlay of this name over a place (-1: the app) closes, with a value or without; None: the one whose time is over."""

    overlay: str
    place: int | None
    value: ReturnedValue | None = None


class ShowTab(Struct, frozen=True):
    """A tab of the tabs at a place comes to the front; the rest of the move acts there. `going_back`: by Back."""

    place: int
    tab: int
    name: str
    going_back: bool = False


class SetWanted(Struct, frozen=True):
    """The wanted place is this; `address`: the link that leads there."""

    data: RungData
    address: str = ""


class StandIn(Struct, frozen=True):
    """The top rung stands in the stead of the wanted place."""

    level: int


class ClearWanted(Struct, frozen=True):
    """The wanted place is forgotten: it was used."""

    why: str


class DeliverResult(Struct, frozen=True):
    """A result is handed to the rung at a place."""

    place: int
    name: str
    value: ResultValue | None


Consulted: TypeAlias = tuple[tuple[GuardId, int], ...]
"""Guards that were asked, each with its place on the path, as `Head.armed` gives it."""


class GuardsPassed(Struct, frozen=True):
    """These guards let what follows pass; the visible rungs from a place on were asked about."""

    guards: Consulted
    place: int


class OpenQuestion(Struct, frozen=True):
    """The whole move is undone, and a question opens in its place."""

    guard: GuardId
    place: int
    name: str
    text: str


class Block(Struct, frozen=True):
    """The whole move is undone, and what blocked it is logged; `asked`: the guards asked until then."""

    happening: LogEntry
    asked: Consulted = ()


class ActFor(Struct, frozen=True):
    """What follows is done for the place of the guard that stood in the way, or that asked."""

    where: str | None


class AnswerQuestion(Struct, frozen=True):
    """The question goes."""

    name: str
    answer: str


class ResumeBlocked(Struct, frozen=True):
    """The blocked move is resumed, without asking the guards that passed."""


class ExitApp(Struct, frozen=True):
    """The app is left, and why; `whole`: nothing of it runs on, whatever the phone does else."""

    cause: LeaveCause
    whole: bool = False


class ToBackground(Struct, frozen=True):
    """The app goes to the background."""

    by_back: bool


class ToForeground(Struct, frozen=True):
    """The app comes to the front, from the background or for the first time."""

    launched: bool


class RaiseCover(Struct, frozen=True):
    """The cover goes up for its least time, and for its longest at most."""

    least: int
    most: int | None


class LiftCover(Struct, frozen=True):
    """The cover goes; `over`: because its longest time was over."""

    over: bool


class HoldLink(Struct, frozen=True):
    """What waits for the cover to go: an address, and a ladder that came back, which has to go through the redirects."""

    address: str
    restored: bool = False


class Next(Struct, frozen=True):
    """A link is opened when all that follows from this move is done."""

    address: str


class MakeCall(Struct, frozen=True):
    """A call is made by the place of the move; `again`: pending ones are cancelled."""

    call: str
    again: bool = False


class DropCalls(Struct, frozen=True):
    """The calls of this name are cancelled."""

    call: str


class BeginTimer(Struct, frozen=True):
    """A timer of the app begins, or begins anew."""

    timer: str
    after: int


class EndTimer(Struct, frozen=True):
    """A timer of the app stops."""

    timer: str


class ReportRunOut(Struct, frozen=True):
    """A timer of the app has run out, and who waits for that reacts."""

    timer: str


class KillApp(Struct, frozen=True):
    """The phone ends the app; its ladder is saved."""

    crash: bool


class Restore(Struct, frozen=True):
    """The saved ladder comes back: all of it, the top of each level, or nothing."""

    what: Literal["all", "top", "nothing"]


class Remake(Struct, frozen=True):
    """All rungs stay and are made anew: what they hold and do not keep is lost."""


class FreeHidden(Struct, frozen=True):
    """Rungs that are not visible free what they hold."""


class AddEntry(Struct, frozen=True):
    """Something to be told and nothing to be done."""

    happening: LogEntry


class Rollback(Struct, frozen=True):
    """The whole move is undone, with a finding."""

    finding: Finding


class DecideNext(Struct, frozen=True):
    """Something to be decided next, at the head as it is then; `part`: a part of an operation, else one of the move itself."""

    do: OperationTask
    part: bool = False


class TakeMove(Struct, frozen=True):
    """A move was found; it stands on the rung of this place of the path, None for a hidden one or none."""

    move: Move
    place: int | None


Drop: TypeAlias = PopTop | ReplaceTop | PopDownTo | PopToLowest | PopAll | DropOldest | ExitApp
"""The effects that take rungs away."""

Effect: TypeAlias = (
    Drop
    | PushRung
    | SetTopArguments
    | SetFactValue
    | SetRungFactValue
    | TakeBackSet
    | OpenOverlay
    | CloseOverlay
    | ShowTab
    | SetWanted
    | StandIn
    | ClearWanted
    | DeliverResult
    | GuardsPassed
    | OpenQuestion
    | Block
    | ActFor
    | AnswerQuestion
    | ResumeBlocked
    | ToBackground
    | ToForeground
    | RaiseCover
    | LiftCover
    | HoldLink
    | Next
    | MakeCall
    | DropCalls
    | BeginTimer
    | EndTimer
    | ReportRunOut
    | KillApp
    | Restore
    | FreeHidden
    | Remake
    | AddEntry
    | Rollback
    | DecideNext
    | TakeMove
)

# Answers


class Refusal(Struct, frozen=True):
    """The event does not apply now, and why."""

    why: str


Decision: TypeAlias = tuple[Effect, ...] | Refusal
