"""What came of a step, and what happened in it as a list of small facts: the tape and every message are made from it."""

from __future__ import annotations

from typing import TypeAlias

from msgspec import Struct

from wise_ladder.plan.model import Move
from wise_ladder.plan.operations import LeaveCause
from wise_ladder.plan.values import ResultValue
from wise_ladder.semantics.state import Promise, Rung, RungData, State, WaitKind


class Came(Struct, frozen=True, gc=False):
    """A rung was put on top."""

    rung: Rung


class Went(Struct, frozen=True, gc=False):
    """A rung was dropped."""

    rung: Rung


class Replaced(Struct, frozen=True, gc=False):
    """The top rung went and another took its place."""

    gone: Rung
    came: Rung


class ArgumentsChanged(Struct, frozen=True, gc=False):
    """A rung that was there already got other arguments."""

    was: RungData
    now: RungData


class FactChanged(Struct, frozen=True, gc=False):
    """A fact has another value; `own`: a fact of a rung."""

    name: str
    was: str
    now: str
    own: bool = False


class TimerStarted(Struct, frozen=True, gc=False):
    """A timer of a rung runs, and is due after so long."""

    data: RungData
    after: int


class TimerCancelled(Struct, frozen=True, gc=False):
    """A timer stopped because its rung went; it would have been due after so long."""

    data: RungData
    left: int


class TimerFired(Struct, frozen=True, gc=False):
    """A timer fell due; what it belongs to, and how long it ran."""

    whose: str
    after: int


class CallMade(Struct, frozen=True, gc=False):
    """A call is pending."""

    call: str


class CallDropped(Struct, frozen=True, gc=False):
    """A call was cancelled."""

    call: str


class Replied(Struct, frozen=True, gc=False):
    """A call was answered."""

    call: str
    outcome: str


class ReplyDropped(Struct, frozen=True, gc=False):
    """A reply came for a place that is gone and had no use for it."""

    call: str
    outcome: str


class CoverUp(Struct, frozen=True, gc=False):
    """The cover is up."""


class CoverGone(Struct, frozen=True, gc=False):
    """The cover has gone; `over`: because its longest time was over."""

    over: bool


class LinkFollowed(Struct, frozen=True, gc=False):
    """An address was opened."""

    address: str


class UnknownAddress(Struct, frozen=True, gc=False):
    """An address leads nowhere, and why."""

    address: str
    why: str


class AppKilled(Struct, frozen=True, gc=False):
    """The phone ended the app; `crash`: in front."""

    crash: bool


class Restored(Struct, frozen=True, gc=False):
    """The saved ladder came back, or what of it."""

    what: str


class BackPromised(Struct, frozen=True, gc=False):
    """The gesture of Back was begun, and it was shown what it would do."""

    promise: Promise


class BackTakenBack(Struct, frozen=True, gc=False):
    """The gesture of Back was cancelled."""


class ScreensRemade(Struct, frozen=True, gc=False):
    """The screens were remade."""


class MemoryLow(Struct, frozen=True, gc=False):
    """The phone was short of memory; so many rungs gave up what they held."""

    freed: int


class Opened(Struct, frozen=True, gc=False):
    """An overlay opened."""

    overlay: str


class Closed(Struct, frozen=True, gc=False):
    """An overlay closed; `by_itself`: its time was over, or its rung went."""

    overlay: str
    by_itself: bool = False


class Switched(Struct, frozen=True, gc=False):
    """A tab came to the front."""

    tabs: str
    tab: str


class Redirected(Struct, frozen=True, gc=False):
    """A put went to another screen than the wanted one."""

    wanted: str
    to: str


class Remembered(Struct, frozen=True, gc=False):
    """The wanted place is this."""

    data: RungData


class Forgotten(Struct, frozen=True, gc=False):
    """The wanted place was forgotten, and why."""

    why: str


class QuestionOpened(Struct, frozen=True, gc=False):
    """A guard asks."""

    guard: str
    text: str


class Answered(Struct, frozen=True, gc=False):
    """A question was answered."""

    guard: str
    answer: str


class QuestionGone(Struct, frozen=True, gc=False):
    """A question went unanswered, because what it was about is no longer seen."""

    guard: str


class Blocked(Struct, frozen=True, gc=False):
    """A guard blocked the move."""

    guard: str


class GuardActed(Struct, frozen=True, gc=False):
    """A guard does something else instead of leaving."""

    guard: str


class GuardSkipped(Struct, frozen=True, gc=False):
    """A rung went although its guard was armed, and the guard was not asked."""

    guard: str
    screen: str


class Awaits(Struct, frozen=True, gc=False):
    """A rung begins to wait for a result."""

    name: str
    screen: str


class ResultCame(Struct, frozen=True, gc=False):
    """A result was delivered; no value: it was cancelled."""

    name: str
    value: ResultValue | None
    screen: str


class ResultDropped(Struct, frozen=True, gc=False):
    """An awaited result is dropped: the caller is gone, together with the screen that owed it."""

    name: str
    screen: str


class Launched(Struct, frozen=True, gc=False):
    """The app was started."""

    app: str


class WentToBackground(Struct, frozen=True, gc=False):
    """The app went to the background; `by_back`: by Back at the root."""

    by_back: bool


class CameToFront(Struct, frozen=True, gc=False):
    """The app came back from the background."""

    app: str


class AppLeft(Struct, frozen=True, gc=False):
    """The app was left, and why."""

    cause: LeaveCause


class NoEffect(Struct, frozen=True, gc=False):
    """Nothing happened, and why; `already_here`: what was to come is there."""

    why: str
    already_here: bool = False


class Finding(Struct, frozen=True, gc=False):
    """An oddity of the run, and what it was."""

    name: str
    words: str


class SeenFor(Struct, frozen=True, gc=False):
    """What was seen for a stretch of time, None for the ground."""

    data: RungData | None
    since: int
    until: int
    look: WaitKind = ""
    """Whether it was the cover, or a wait overlay lay over it."""


LadderEntry: TypeAlias = (
    Came
    | Went
    | Replaced
    | ArgumentsChanged
    | FactChanged
    | TimerStarted
    | TimerCancelled
    | TimerFired
    | Opened
    | Closed
    | Switched
    | Redirected
    | Remembered
    | Forgotten
    | Awaits
    | ResultCame
    | ResultDropped
)
"""What happened to rungs, their facts, timers and results."""
PhoneEntry: TypeAlias = (
    CallMade
    | CallDropped
    | Replied
    | ReplyDropped
    | CoverUp
    | CoverGone
    | LinkFollowed
    | UnknownAddress
    | AppKilled
    | Restored
    | MemoryLow
    | ScreensRemade
    | BackPromised
    | BackTakenBack
    | Launched
    | WentToBackground
    | CameToFront
    | AppLeft
    | SeenFor
)
"""What the phone, servers and the app as a whole did."""
GuardEntry: TypeAlias = QuestionOpened | Answered | QuestionGone | Blocked | GuardActed | GuardSkipped | NoEffect | Finding
"""What guards did, and what could not be done."""
LogEntry: TypeAlias = LadderEntry | PhoneEntry | GuardEntry


class Step(Struct, frozen=True, gc=False):
    """What came of an event: the state after it, what happened, the moves that were taken; or why it was refused."""

    state: State
    log: tuple[LogEntry, ...]
    moves: tuple[Move, ...] = ()
    refused: str | None = None
