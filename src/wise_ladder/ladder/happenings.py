"""What happened in a step, as a list of small facts: the tape and every message are made from it."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple, TypeAlias

if TYPE_CHECKING:
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
    """A fact has another value; `own`: a fact of the rung."""

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
    """A timer fell due."""

    face: Face
    after: int


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
    | Launched
    | WentAway
    | CameBack
    | LeftApp
    | Nothing
    | Finding
    | Saw
)
