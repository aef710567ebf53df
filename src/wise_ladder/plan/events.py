"""What happens to a running app, and what a walk expects of it, as plain data."""

from __future__ import annotations

from typing import TypeAlias

from msgspec import Struct

from wise_ladder.plan.values import NO_SPAN, Arguments, ResultValue, Span


class Launch(Struct, frozen=True, tag=True):
    """The user starts the app."""


class Tap(Struct, frozen=True, tag=True, cache_hash=True):
    """The user taps something on what is seen, perhaps twice in quick succession."""

    name: str
    arguments: Arguments = ()
    twice: bool = False


class Back(Struct, frozen=True, tag=True):
    """The system's Back; `taken_by`: the guard that decides at the press, and takes this one."""

    taken_by: str = ""


class BackBegun(Struct, frozen=True, tag=True):
    """The user begins the gesture of Back, and is shown what it would uncover."""


class BackFinished(Struct, frozen=True, tag=True):
    """The user finishes the gesture that was begun: it is Back."""


class BackCancelled(Struct, frozen=True, tag=True):
    """The user takes the gesture back that was begun: nothing happens."""


class HeaderBack(Struct, frozen=True, tag=True):
    """The button in the header."""


class Home(Struct, frozen=True, tag=True):
    """The user goes to the phone's home screen; the app stays in the background."""


class Reopen(Struct, frozen=True, tag=True):
    """The user comes back to the app in the background."""


class Wait(Struct, frozen=True, tag=True):
    """So many milliseconds pass; what falls due on the way happens."""

    time: int


class OutsideChange(Struct, frozen=True, tag=True):
    """The world changes a fact."""

    fact: str
    value: str


class Answer(Struct, frozen=True, tag=True):
    """The user answers the open question."""

    name: str


class Reply(Struct, frozen=True, tag=True):
    """A call is answered, at the earliest when its least time is over."""

    call: str
    outcome: str


class OpenLink(Struct, frozen=True, tag=True):
    """An address is opened from outside."""

    address: str


class SwipedAway(Struct, frozen=True, tag=True):
    """The user takes the app off the list of those that run."""


class Killed(Struct, frozen=True, tag=True):
    """The phone ends the app in the background, or it crashes in front; its saved ladder waits."""


class LowMemory(Struct, frozen=True, tag=True):
    """The phone is short of memory, and says so."""


class Remade(Struct, frozen=True, tag=True):
    """The screens are remade: the phone is turned, the language or the size of letters changes."""


Event: TypeAlias = (
    Answer
    | Launch
    | Tap
    | Back
    | BackBegun
    | BackFinished
    | BackCancelled
    | HeaderBack
    | Home
    | Reopen
    | Wait
    | OutsideChange
    | Reply
    | OpenLink
    | SwipedAway
    | Killed
    | LowMemory
    | Remade
)


class See(Struct, frozen=True, tag=True):
    """The screen is what the user sees; arguments that are not named may be anything."""

    screen: str
    arguments: Arguments = ()
    tab: str = ""
    """For a rung that holds ladders: the tab that must be in front."""
    inside: tuple[See, ...] | None = None
    """For a rung that holds ladders: the rungs of the one in front; None if they are not compared."""


class LadderIs(Struct, frozen=True, tag=True):
    """These rungs and no others are on the ladder, lowest first; arguments that are not named may be anything.

    Without brackets flows and tabs are looked through: only the rungs count that hold no ladder themselves.
    """

    rungs: tuple[See, ...]


class DepthIs(Struct, frozen=True, tag=True):
    """So many rungs are on the visible path."""

    rungs: int


class Outside(Struct, frozen=True, tag=True):
    """The app is not running."""


class Away(Struct, frozen=True, tag=True):
    """The app is in the background."""


class ValueIs(Struct, frozen=True, tag=True):
    """A fact of the app, or of the rung that is seen, has this value."""

    fact: str
    value: str


class NeverSaw(Struct, frozen=True, tag=True):
    """The screen was not seen since the walk began."""

    screen: str


class SawAtLeast(Struct, frozen=True, tag=True):
    """The screen was seen for so many milliseconds at a stretch since the walk began."""

    screen: str
    time: int


class Called(Struct, frozen=True, tag=True):
    """The call was made so many times since the walk began."""

    call: str
    times: int


class WaitedAtMost(Struct, frozen=True, tag=True):
    """The cover or a wait overlay was seen for no more milliseconds than this, all in all."""

    time: int


class MemoryAtMost(Struct, frozen=True, tag=True):
    """All rungs together never weighed more bytes than this since the walk began."""

    size: int


class BackLandsOn(Struct, frozen=True, tag=True):
    """Back, pressed now, would land on the screen; nothing is done."""

    rung: See


class BackLeaves(Struct, frozen=True, tag=True):
    """Back, pressed now, would leave the app; nothing is done."""


class BackAsks(Struct, frozen=True, tag=True):
    """Back, pressed now, would be met by this guard's question; nothing is done."""

    guard: str


class AddressIs(Struct, frozen=True, tag=True):
    """The place that is seen has this address; an empty address: the place has none."""

    address: str = ""


class QuestionIs(Struct, frozen=True, tag=True):
    """The question of this guard is open; none is if no guard is named."""

    guard: str = ""


class ResultIs(Struct, frozen=True, tag=True):
    """The last result of this name was this value; None: it was cancelled."""

    name: str
    value: ResultValue | None = None
    """For a result with parts: the parts that must match."""


class HeaderButtonIs(Struct, frozen=True, tag=True):
    """What the header shows: arrow, menu or none."""

    button: str


class BarsAre(Struct, frozen=True, tag=True):
    """Both bars are shown, or both hidden."""

    shown: bool


class FindingIs(Struct, frozen=True, tag=True):
    """A finding of this name was made since the walk began; none at all if no name is given."""

    name: str = ""


class StartFrom(Struct, frozen=True, tag=True):
    """Another walk ends here, and this one begins where it ended; what was met before does not count."""

    walk: str


Expectation: TypeAlias = (
    See
    | StartFrom
    | LadderIs
    | DepthIs
    | Outside
    | Away
    | ValueIs
    | NeverSaw
    | SawAtLeast
    | Called
    | WaitedAtMost
    | MemoryAtMost
    | BackLandsOn
    | BackLeaves
    | BackAsks
    | AddressIs
    | QuestionIs
    | ResultIs
    | HeaderButtonIs
    | BarsAre
    | FindingIs
)


class WalkStep(Struct, frozen=True, tag=True):
    """One line of a walk: something done or something expected, and how it was written."""

    what: Event | Expectation
    text: str = ""
    at: Span = NO_SPAN


class Repeat(Struct, frozen=True, tag=True):
    """Steps that are done so many times."""

    times: int
    steps: tuple[WalkStep | Repeat, ...]


class Walk(Struct, frozen=True, tag=True):
    """A written path: what is done and what must be seen on it."""

    name: str
    steps: tuple[WalkStep | Repeat, ...]
    given: tuple[tuple[str, str], ...] = ()
    """Facts and the values they have before the first step."""
    replies: tuple[tuple[str, str], ...] = ()
    """How calls are answered by themselves: of several for one call each in its turn, the last one ever after."""
    phone: str = ""
    """The phone it is run on; none: the one that is chosen."""
    named_given: str = ""
    """The named given that it begins with; none: the one that is chosen."""
    at: Span = NO_SPAN
