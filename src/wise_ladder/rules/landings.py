"""Back from everywhere: what each way back does on each screen, as a sweep meets it, with a shortest path to each."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias, get_args

from wise_ladder.plan import events
from wise_ladder.rules.replay import Infeasible, replay
from wise_ladder.rules.transition import Transition
from wise_ladder.semantics import log
from wise_ladder.semantics.state import Phase, visible_rungs

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.plan import Plan
    from wise_ladder.rules.replay import PathStep
    from wise_ladder.semantics.state import State
    from wise_ladder.walks.tape import Tape

WayName: TypeAlias = Literal["system", "header", "app"]
"""The system's Back, the header button, or a tap of the app that leads down."""
LandingKind: TypeAlias = Literal["lands", "leaves", "goes away", "asks", "blocked", "closes", "stays"]
WAYS: tuple[WayName, ...] = get_args(WayName)
MAX_PATHS = 8
"""So many paths to one landing are tried in a level: not each order of steps has times that allow it."""


class Landing(NamedTuple):
    """What one way back does on a screen: the kind, and the screen it lands on, or the guard that asks or blocks."""

    screen: str
    way: WayName
    kind: LandingKind
    name: str = ""


class LandingPath(NamedTuple):
    """A shortest way to a landing: a tape, and how many steps of a sweep it has, waits that only pass time left out."""

    tape: Tape
    steps: int


class Landings:
    """What each way back was seen to do, each with a shortest tape at whose end it does so."""

    def __init__(self, plan: Plan, first: State) -> None:
        """Begin with nothing known; `first` is the state that paths begin with."""
        self._plan, self._first = plan, first
        self.paths: dict[Landing, LandingPath] = {}
        self.unproved: set[Landing] = set()
        """What was met, but no run with real times showed it so far."""
        self._noted: dict[Landing, list[Callable[[], list[PathStep]]]] = {}

    def wants(self, landing: Landing) -> bool:
        """Whether another path to a landing is of use."""
        return landing not in self.paths and len(self._noted.get(landing, ())) < MAX_PATHS

    def note(self, landing: Landing, path: Callable[[], list[PathStep]]) -> None:
        """Keep a landing that was met in this level; `path` finds the steps to it."""
        self._noted.setdefault(landing, []).append(path)

    def confirm(self) -> None:
        """Run the paths of this level by `step`, with real times, and keep those that do what was met."""
        noted, self._noted = self._noted, {}
        for landing, paths in sorted(noted.items()):
            for path in paths:
                steps = path()
                try:
                    tape = replay(self._plan, self._first, steps)
                except Infeasible:
                    continue
                if last_landing(tape) == landing:
                    self.paths[landing] = LandingPath(tape, len(steps))
                    self.unproved.discard(landing)
                    break
            else:
                self.unproved.add(landing)


def last_landing(tape: Tape) -> Landing | None:
    """Return what the last step of a tape did, if it was a way back."""
    number = len(tape.entries)
    event, done = tape.entries[-1]
    return landing_of(Transition(tape.plan, tape.state_at(number - 1), event, done.state, done.log, done.moves))


def landing_of(edge: Transition) -> Landing | None:
    """Return what a way back did in a step; None if the step is no way back, or nothing is seen before it."""
    top = edge.top_before
    if top is None or edge.refused or (edge.before.question is not None and not isinstance(edge.action, events.Answer)):
        return None
    screen = top.data.screen
    match edge.meant:
        case events.Back():
            return _done_by(edge, screen, "system")
        case events.HeaderBack():
            return _done_by(edge, screen, "header")
        case events.Tap() if _leads_down(edge):
            return _done_by(edge, screen, "app")
    return None


def _done_by(edge: Transition, screen: str, way: WayName) -> Landing:
    after = edge.after
    if after.phase is not Phase.OPEN:
        return Landing(screen, way, "leaves" if after.phase is Phase.OUTSIDE else "goes away")
    if after.question is not None:
        return Landing(screen, way, "asks", edge.plan.guard[after.question.guard].name)
    if blocked := edge.all_of(log.Blocked):
        return Landing(screen, way, "blocked", blocked[0].guard)
    if edge.moved and edge.top_after is not None:
        return Landing(screen, way, "lands", edge.top_after.data.screen)
    return Landing(screen, way, "closes" if edge.all_of(log.Closed) else "stays")


def _leads_down(edge: Transition) -> bool:
    """Whether a tap leaves the app, or lands on what lay beneath."""
    after = edge.top_after
    if edge.out or after is None:
        return edge.out
    return edge.moved and any(rung.serial == after.serial for rung, _ in visible_rungs(edge.before.ladder) if not rung.cut)
