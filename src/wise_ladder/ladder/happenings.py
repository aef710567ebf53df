"""What happened in a step, as a list of small facts: the tape and every message are made from it."""

from __future__ import annotations

from typing import NamedTuple, TypeAlias

from wise_ladder.ladder.state import Face, Rung


class Came(NamedTuple):
    """A rung was put on top."""

    rung: Rung


class Went(NamedTuple):
    """A rung was dropped."""

    rung: Rung


class Replaced(NamedTuple):
    """The top rung went and another took its place."""

    gone: Rung
    came: Rung


class Handed(NamedTuple):
    """A rung that was there already got other arguments."""

    was: Face
    now: Face


class FactTurned(NamedTuple):
    """A fact has another value; `own`: a fact of a rung."""

    name: str
    was: str
    now: str
    own: bool = False


class TimerStarted(NamedTuple):
    """A timer of a rung runs."""

    face: Face
    due: int


class TimerCancelled(NamedTuple):
    """A timer stopped because its rung went."""

    face: Face
    due: int


class TimerFired(NamedTuple):
    """A timer fell due; what it belongs to, and how long it ran."""

    whose: str
    after: int


class Opened(NamedTuple):
    """An overlay opened."""

    overlay: str


class Closed(NamedTuple):
    """An overlay closed; `by_itself`: its time was over, or its rung went."""

    overlay: str
    by_itself: bool = False


class Switched(NamedTuple):
    """A tab came to the front."""

    tabs: str
    tab: str


class Redirected(NamedTuple):
    """A put went to another screen than the wanted one."""

    wanted: str
    to: str


class Remembered(NamedTuple):
    """The wanted place is this."""

    face: Face


class Forgotten(NamedTuple):
    """The wanted place was forgotten, and why."""

    why: str


class Asked(NamedTuple):
    """A guard asks."""

    guard: str
    text: str


class Answered(NamedTuple):
    """A question was answered."""

    guard: str
    answer: str


class QuestionGone(NamedTuple):
    """A question went unanswered, because what it was about is no longer seen."""

    guard: str


class Blocked(NamedTuple):
    """A guard let nobody pass."""

    guard: str


class DidInstead(NamedTuple):
    """A guard does something else instead of leaving."""

    guard: str


class LeftUnasked(NamedTuple):
    """A rung went although its guard was armed, and the guard was not asked."""

    guard: str
    screen: str


class Awaits(NamedTuple):
    """A rung begins to wait for a result."""

    name: str
    screen: str


class ResultCame(NamedTuple):
    """A result was delivered; no value: it was cancelled."""

    name: str
    value: str | None
    screen: str


class ResultDropped(NamedTuple):
    """Nobody waits for a result any more: who did is gone, together with who owed it."""

    name: str
    screen: str


class Launched(NamedTuple):
    """The app was started."""

    app: str


class WentAway(NamedTuple):
    """The app went to the background; `by_back`: by Back at the root."""

    by_back: bool


class CameBack(NamedTuple):
    """The app came back from the background."""

    app: str


class LeftApp(NamedTuple):
    """The app was left: by Back at the root, by its own code, or by surprise."""

    how: str


class Nothing(NamedTuple):
    """Nothing happened, and why."""

    why: str


class Finding(NamedTuple):
    """An oddity of the run, and what it was."""

    name: str
    words: str


class Saw(NamedTuple):
    """What was seen for a stretch of time, None for the ground."""

    face: Face | None
    since: int
    until: int


Happening: TypeAlias = (
    Came
    | Went
    | Replaced
    | Handed
    | FactTurned
    | TimerStarted
    | TimerCancelled
    | TimerFired
    | Opened
    | Closed
    | Switched
    | Redirected
    | Remembered
    | Forgotten
    | Asked
    | Answered
    | QuestionGone
    | Blocked
    | DidInstead
    | LeftUnasked
    | Awaits
    | ResultCame
    | ResultDropped
    | Launched
    | WentAway
    | CameBack
    | LeftApp
    | Nothing
    | Finding
    | Saw
)
