"""The state of a running app: immutable, hashable, a tree of ladders.

A ladder is a tuple of rungs, lowest first. Times are milliseconds. Faces, rungs and heads remember their hash: they are shared
between many states and looked up at every step. The collector need not follow any of this, for nothing here leads in a circle.
"""

from __future__ import annotations

from enum import Enum
from typing import TYPE_CHECKING, ClassVar, Literal, TypeAlias

from msgspec import Struct

from wise_ladder.plan.model import GuardId, MoveId
from wise_ladder.plan.values import Arguments, ResultValue
from wise_ladder.semantics.tasks import OperationTask, Task

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.model import Plan
    from wise_ladder.plan.world import Replies


class Phase(Enum):
    """Where the app is: not running, in front, in the background, or killed with its ladder saved."""

    OUTSIDE = "outside"
    OPEN = "open"
    AWAY = "away"
    KILLED = "killed"

    # An enum member is one object for ever; its identity is the cheapest hash, and heads are hashed at every step.
    __hash__ = object.__hash__


class AwaitedResult(Struct, frozen=True, gc=False):
    """A result that a rung waits for.

    `overlay`: the overlay it comes from, none if it comes from a rung above; `inside`: it comes from a rung inside, which
    knows what it owes (`RungData.owes`).
    """

    name: str
    overlay: str = ""
    inside: bool = False


class Result(Struct, frozen=True, gc=False):
    """A result that has come and was not delivered yet; no value: it was cancelled."""

    name: str
    value: ResultValue | None


class RungData(Struct, frozen=True, gc=False, cache_hash=True):
    """What deciding may see of a rung."""

    screen: str
    arguments: Arguments = ()
    facts: tuple[tuple[str, str], ...] = ()
    """The facts it holds itself."""
    tab_order: tuple[int, ...] = ()
    """For flows and tabs: the ladders inside, in the order in which they were in front; the last one is in front now."""
    awaits: tuple[AwaitedResult, ...] = ()
    undelivered: tuple[Result, ...] = ()
    redirected: bool = False
    """Whether it stands in the stead of the wanted place."""
    owes: tuple[str, int] | None = None
    """The result it owes to a flow or tabs around it, and how many levels outwards these stand."""

    def same_screen(self, other: RungData) -> bool:
        """Whether both are the same screen with the same arguments, whatever they hold."""
        return self.screen == other.screen and self.arguments == other.arguments


class OverlayInstance(Struct, frozen=True, gc=False):
    """An overlay that is open; of several the one with the highest serial was opened last. `asker` awaits its answer."""

    name: str
    serial: int
    asker: int = 0
    facts: tuple[tuple[str, str], ...] = ()
    """The facts it holds itself."""
    takes_back: tuple[tuple[bool, str, str], ...] = ()
    """What the move that opened it has set, where a move of its own can take that back.

    Whether it is a fact of the rung it lies over, the fact, and the value before.
    """


class Rung(Struct, frozen=True, gc=False, cache_hash=True):
    """One entry of a ladder: `serial` tells apart what stands at one time, `inner` are the ladders it holds.

    A serial is free again after the step in which its rung or overlay went, so that a ladder that comes back is the very same.
    """

    data: RungData
    serial: int
    inner: tuple[Ladder, ...] = ()
    overlays: tuple[OverlayInstance, ...] = ()

    cut: ClassVar[bool] = False
    """Whether it stands for rungs that were left out (`SymbolicRungs`)."""
    timed: ClassVar[frozenset[int]] = frozenset()
    """Where it does, what in it timers may speak of."""
    plain: ClassVar[bool] = False
    saved: ClassVar[bool] = False
    settled: ClassVar[bool] = False

    @property
    def undelivered(self) -> tuple[Result, ...]:
        """The results that have come for it and were not delivered yet."""
        return self.data.undelivered

    @property
    def front(self) -> Ladder:
        """The ladder inside that is seen; empty if it holds none."""
        return self.inner[self.data.tab_order[-1]] if self.inner else ()


Ladder: TypeAlias = tuple[Rung, ...]


DeadlineKind: TypeAlias = Literal[
    "on ladder",
    "shown",
    "whatever happens",
    "overlay",
    "first frame",
    "frame",
    "reply",
    "cover least",
    "cover most",
    "of the app",
]


class Deadline(Struct, frozen=True, gc=False, order=True):
    """What falls due: when, in which order it was started, for the rung, overlay or call of which serial, after how long."""

    due: int
    order: int
    serial: int
    after: int
    kind: DeadlineKind = "on ladder"
    data: RungData | None = None
    """For a wait that runs whatever happens: the rung that began it. For a timer of the app: its name, as a screen."""


def is_app_timer(deadline: Deadline, name: str) -> bool:
    """Whether a deadline is that of the timer of the app of a name."""
    return deadline.kind == "of the app" and deadline.data is not None and deadline.data.screen == name


class PendingCall(Struct, frozen=True, gc=False):
    """A pending call: its number among those, when it was made, by which rung (0: the app) and place."""

    name: str
    number: int
    started: int
    serial: int
    where: str | None
    data: RungData | None
    reply: str = ""
    """How it will be answered by itself."""


WaitKind: TypeAlias = Literal["", "cover", "wait"]


class Seen(Struct, frozen=True, gc=False):
    """What the user sees, None for the ground, the rung's serial, since when; `look`: the cover, or a wait overlay over it."""

    data: RungData | None
    serial: int
    since: int
    waiting: WaitKind = ""


Chain: TypeAlias = tuple[tuple[int, int], ...]
"""The way to a ladder from the outside in: the serial of each flow or tabs, and which of its ladders leads on."""


NOBODY, GONE = -1, -3
"""The owner of a move that stands on no rung, or on one that is gone."""


class StoppedMove(Struct, frozen=True, gc=False, cache_hash=True):
    """What a question stands in the way of: a move, and the guards that had let it pass."""

    matter: Task
    """What set the move off."""
    does: tuple[OperationTask, ...]
    """What the move is to do."""
    passed: tuple[GuardId, ...]
    move: MoveId | None = None
    """The move of the plan that it is, if it is one."""
    stands: int | None = None
    """The place of the visible path that the move stands on."""
    owner: int = NOBODY
    """The serial of the rung that the move stands on, if it is hidden or gone."""
    chain: Chain | None = None
    """The way to the ladder that the move acts on, if it is hidden."""
    layer: int = 0
    """The serial of the overlay that the move stands on, if it is one of an overlay; it may have closed meanwhile."""


class Question(Struct, frozen=True, gc=False):
    """An open question: whose it is, over which rung, and what it stands in the way of."""

    guard: GuardId
    rung: int
    """The serial of the guard's rung, 0: the app."""
    serial: int
    """That of the rung that it is asked over."""
    stopped: StoppedMove


class Wanted(Struct, frozen=True, gc=False, cache_hash=True):
    """The wanted place; `address`: the link that leads there."""

    screen: str
    arguments: Arguments
    address: str = ""


class ArmedGuard(Struct, frozen=True, gc=False):
    """A guard that is first in line or outlives its screen, armed by the rung of a serial (0: the app)."""

    guard: GuardId
    serial: int
    gone: bool = False
    data: RungData | None = None
    """What the rung showed before it went; None if it is still there."""


BackOutcome: TypeAlias = Literal["lands", "stays", "closes", "asks", "blocked", "leaves", "goes away"]


class Promise(Struct, frozen=True, gc=False):
    """What Back would do when its gesture was begun, and on what screen that ends."""

    outcome: BackOutcome
    screen: str = ""
    arguments: Arguments = ()


class State(Struct, frozen=True, gc=False, cache_hash=True):
    """Everything there is of a running app between two events."""

    phase: Phase
    ladder: Ladder
    facts: tuple[str, ...]
    """The values in the order of the plan's facts."""
    deadlines: tuple[Deadline, ...]
    """In the order in which they fall due."""
    clock: int
    seen: Seen
    overlays: tuple[OverlayInstance, ...] = ()
    """The overlays of the app itself."""
    question: Question | None = None
    wanted: Wanted | None = None
    armed: tuple[ArmedGuard, ...] = ()
    """In the order in which they were armed."""
    never_shown: tuple[int, ...] = ()
    """The rungs that were put and never shown yet."""
    bars: tuple[bool, bool] = (True, True)
    """Whether the top bar and the bottom bar are shown."""
    cover: bool = False
    """Whether the cover is up."""
    calls: tuple[PendingCall, ...] = ()
    """In the order in which they were made."""
    scripted_replies: tuple[tuple[str, str], ...] = ()
    """Replies that come by themselves, call and outcome; of several for a call each in its turn."""
    held_link: str = ""
    """The address that waits for the cover to go."""
    freed: tuple[int, ...] = ()
    """The rungs that gave up what they held when the phone was short of memory."""
    alive: bool = False
    """For an app that is outside: whether its memory lives on."""
    restored: bool = False
    """Whether the ladder came back after the app was killed, and has yet to go through the redirects."""
    least: bool = False
    """Whether the cover is up for its least time yet."""
    begun: Promise | None = None
    """What was promised when the gesture of Back was begun, if it is neither finished nor cancelled yet."""


VISIBLE, HIDDEN, COVERED = 0, 1, 2
"""How a rung stands: on the visible path, on top of a hidden ladder, or beneath others on its own ladder."""


ELSEWHERE, OUT_OF_SIGHT = -2, -10
"""The place of a guard whose rung is visible but not on the path, and of the first of those whose rung is hidden or gone."""


class HeadRung(Struct, frozen=True, gc=False, cache_hash=True):
    """A rung of a path as the head shows it."""

    data: RungData
    lowest: bool
    stands: int = VISIBLE
    tab: int = -1
    """For tabs: the ladder in which the path goes on, if it is not the one in front."""

    @property
    def inside(self) -> int:
        """Return the ladder of a flow or tabs in which the path goes on."""
        return self.data.tab_order[-1] if self.tab < 0 else self.tab


class Head(Struct, frozen=True, gc=False, cache_hash=True):
    """What decides the next step, and nothing else of the state."""

    phase: Phase
    facts: tuple[str, ...]
    path: tuple[HeadRung, ...]
    """The visible path from the outside in; for what a hidden rung does, the path to the top of the ladder it stands in."""
    layers: tuple[tuple[str, int], ...] = ()
    """The overlays over the visible path, opened last at the end: name, and the place on the path (-1: the app)."""
    question: GuardId | None = None
    wanted: Wanted | None = None
    armed: tuple[tuple[GuardId, int], ...] = ()
    """Guards that come first, armed last at the end, and their place on the path.

    -1: the app; `OUT_OF_SIGHT` less their number here: hidden or gone; `UNKNOWN_CALLER`: visible, but not on the path.
    """
    cover: Literal["", "least", "up"] = ""
    """The cover: gone, up for its least time yet, or up longer than that."""
    calling: tuple[str, ...] = ()
    """The pending calls."""
    arriving: str = ""
    """The address that waits for the cover to go."""
    restored: bool = False
    """Whether the ladder came back, and has yet to go through the redirects."""
    begun: bool = False
    """Whether the gesture of Back was begun."""
    held: tuple[tuple[str, tuple[tuple[str, str], ...]], ...] = ()
    """The facts that overlays over the path hold, by the name of the overlay."""


def initial_state(plan: Plan, given: tuple[tuple[str, str], ...] = (), replies: Replies | None = None) -> State:
    """Return the state before the first launch.

    `given`: facts that differ from what the plan begins with; `replies`: those that come by themselves instead of the plan's.
    """
    values = {fact.name: fact.values[0] for fact in plan.facts} | dict(plan.given.facts) | dict(given)
    facts = tuple(values[fact.name] for fact in plan.facts)
    coming = plan.given.replies if replies is None else replies
    return State(Phase.OUTSIDE, (), facts, (), 0, Seen(None, 0, 0), scripted_replies=coming)


def visible_path(ladder: Ladder) -> list[Rung]:
    """Return the outermost top rung, then the top of the ladder seen in it, and so on to the innermost."""
    path: list[Rung] = []
    while ladder:
        top = ladder[-1]
        path.append(top)
        inner = top.inner
        ladder = inner[top.data.tab_order[-1]] if inner else ()
    return path


def front_ladder(ladder: Ladder) -> Ladder:
    """Return the innermost ladder that is seen."""
    for rung in visible_path(ladder)[:-1]:
        ladder = rung.front
    return ladder


def top_rung(ladder: Ladder) -> Rung | None:
    """Return the innermost visible rung, None if there is none."""
    top = None
    while ladder:
        top = ladder[-1]
        inner = top.inner
        ladder = inner[top.data.tab_order[-1]] if inner else ()
    return top


def visible_top(state: State) -> Rung | None:
    """Return the innermost rung on the visible path of a state, None if there is none."""
    return top_rung(state.ladder)


def open_layers(layers: tuple[OverlayInstance, ...], path: list[Rung]) -> list[tuple[int, str, int]]:
    """List the overlays over a visible path, opened last at the end: serial, name, place (-1: the app)."""
    layers_open = [(layer.serial, layer.name, -1) for layer in layers]
    for place, rung in enumerate(path):
        if rung.overlays:
            layers_open += [(layer.serial, layer.name, place) for layer in rung.overlays]
    layers_open.sort()
    return layers_open


def visible_rungs(ladder: Ladder, level: int = 0) -> Iterator[tuple[Rung, int]]:
    """Go through the rungs, lowest first, each with its level: a flow or tabs before the ladder in front that it holds."""
    for rung in ladder:
        yield rung, level
        yield from visible_rungs(rung.front, level + 1)


def visible_screens(ladder: Ladder) -> list[Rung]:
    """List the rungs that hold no ladder themselves, lowest first, of flows and tabs those of the ladder in front."""
    return [rung for rung, _ in visible_rungs(ladder) if not rung.inner]


def all_rungs(ladder: Ladder) -> Iterator[Rung]:
    """Go through every rung there is, hidden ladders included."""
    for rung in ladder:
        yield rung
        for inner in rung.inner:
            yield from all_rungs(inner)


def depth(state: State) -> int:
    """Count the rungs that hold no ladder themselves, of flows and tabs those of the ladder in front."""
    return len(visible_screens(state.ladder))


def fact_value(plan: Plan, state: State, name: str) -> str | None:
    """Return the value of a fact: of what is seen that holds one of that name, overlays first, inner first; else of the app."""
    path = visible_path(state.ladder)
    layers = sorted((*state.overlays, *(layer for rung in path for layer in rung.overlays)), key=lambda layer: -layer.serial)
    for held in (*(layer.facts for layer in layers), *(rung.data.facts for rung in reversed(path))):
        for own, value in held:
            if own == name:
                return value
    place = plan.fact_index.get(name)
    return None if place is None else state.facts[place]
