"""The second half of a step: doing, which applies effects to the ladders and decides nothing.

`WorkingState` is the state in the middle of a step. `apply_rungs`, `apply_overlays` and `apply_world` apply the effects,
and `apply` joins their tables. `paths` finds rungs that are not on the visible path.
"""

from __future__ import annotations

from itertools import count
from typing import TYPE_CHECKING, Any, TypeAlias

from msgspec.structs import replace

from wise_ladder.semantics import stack_queries
from wise_ladder.semantics.conditions import EvalContext, with_answers
from wise_ladder.semantics.paths import (
    find,
    has_at_most_one,
    is_lowest,
    ladder_of,
    right_beneath,
    rung_matches,
)
from wise_ladder.semantics.serials import used_serials
from wise_ladder.semantics.state import (
    NOBODY,
    Chain,
    Ladder,
    Question,
    Rung,
    State,
    is_app_timer,
    visible_screens,
)
from wise_ladder.semantics.working_ladders import WorkingLadders

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.plan.conditions import Condition
    from wise_ladder.plan.model import Guard, GuardId, Move, Plan
    from wise_ladder.plan.triggers import Trigger
    from wise_ladder.semantics.effects import Effect
    from wise_ladder.semantics.log import LogEntry
    from wise_ladder.semantics.state import ArmedGuard, OverlayInstance, RungData
    from wise_ladder.semantics.tasks import Task


class WorkingState(WorkingLadders):
    """A state in the middle of a step, and what happened in it so far."""

    __slots__ = (
        "answered", "asked", "before", "chain", "closed", "consulted", "emptied", "gone", "granted", "guards_rung",
        "hidden_results", "inside", "layer", "left_granted", "log", "log_before", "made", "matter", "moves", "next",
        "opened", "own_was", "owner", "path_before", "remade", "spent", "start", "starting", "steps", "where", "world",
    )  # fmt: skip

    def __init__(self, plan: Plan, state: State) -> None:
        """Begin a step at a state."""
        super().__init__(plan, state)
        self.start, self.spent = state, set[int]()
        """The state in which the step began, and the serials that are not free in it."""
        self.log: list[LogEntry] = []
        self.moves: list[Move] = []
        self.answered: Question | None = None
        """The question that was answered last."""
        self.guards_rung = 0
        """The serial of the rung of the guard that stood in the way last, or that asked; 0: the app."""
        self.next = ""
        """The address of a link that is opened when all else is done."""
        self.starting = False
        """Whether the app has started and its first screen is yet to come."""
        self.begin_matter()
        self.before, self.path_before, self.log_before = state, self.path, 0
        """The state in which the move began, its visible path, and how much had happened by then."""
        self._clear()

    def begin_matter(self) -> None:
        """Forget whose the last move was, before something else is decided."""
        self.matter: Task | None = None
        self.steps: tuple[Effect, ...] = ()
        """The move as deciding found it."""
        self.owner = NOBODY
        """The serial of the rung that the move stands on."""
        self.where: str | None = None
        """The screen or overlay that the move stands on, None for the app."""
        self.layer = 0
        """The serial of the overlay that the move stands on, or whose time is over."""
        self.chain: Chain | None = None
        """The way to the ladder that the move acts on, if that is hidden."""
        self.granted: tuple[GuardId, ...] = ()
        """The guards whose questions about this move were answered by going on."""
        self.turn(())

    def _clear(self) -> None:
        self.asked: list[tuple[GuardId, int]] = []
        """The guards that let the move pass, each with the serial of its rung (0: the app)."""
        self.left_granted = list(self.granted)
        """Those of the granted that were not met yet."""
        self.consulted: set[int] = set()
        """The serials of the rungs about which guards were asked."""
        self.inside: Chain | None = None
        """The way to the tab that a tab change has turned the rest of the move to."""
        self.gone: list[tuple[Rung, Chain]] = []
        """The rungs that went in this move, and the way to the ladder each stood in."""
        self.emptied: list[Chain] = []
        """The ladders that were left without a rung."""
        self.made: list[int] = []
        """The serials of the rungs that were put in this move."""
        self.opened: list[int] = []
        """The serials of the overlays that were opened in this move."""
        self.closed: list[tuple[OverlayInstance, Chain, int]] = []
        """The overlays that closed, the way to the ladder of the rung each lay over, and that rung's serial."""
        self.hidden_results: list[int] = []
        """The hidden rungs that a hidden rung's move has uncovered."""
        self.world: list[Trigger] = []
        """What happened in this move that is no place's own: the app was launched, memory is low, a timer ran out ..."""
        self.remade = False
        """Whether the screens were remade in this move."""
        self.own_was: dict[tuple[int, str], str] = {}
        """The facts of rungs that were set in this move, by serial and name, and what they were."""

    # What deciding may look at

    def answer(self, question: stack_queries.StackQuery) -> bool:
        """Answer what deciding cannot see at the head."""
        match question:
            case stack_queries.IsThere(level, screen, arguments):
                return any(rung_matches(rung, screen, arguments) for rung in reversed(self.ladder_at(level)))
            case stack_queries.OnPath(place, screen):
                return any(rung_matches(rung, screen) for rung in self._rungs_of_path(place))
            case stack_queries.IsBeneath(place, screen):
                return any(rung.data.screen == screen for rung in right_beneath(self._way_to(place)))
            case stack_queries.DeeperThan(rungs):
                return len(visible_screens(self.ladder)) > rungs
            case stack_queries.TabIsEmpty(place, tab):
                return not self.track[place].inner[tab]
            case stack_queries.IsInFront(place, name):
                tabs, number = self._tabs_around(place, name)
                return tabs is not None and tabs.data.tab_order[-1] == number
            case stack_queries.IsAtRoot(place, name):
                tabs, number = self._tabs_around(place, name)
                return tabs is not None and has_at_most_one(tabs.inner[number])
            case stack_queries.TimerIsRunning(name):
                return any(is_app_timer(timer, name) for timer in self.deadlines)
            case stack_queries.ArmedHolds(number):
                return self._takes_back(self.armed[number])

    def _rungs_of_path(self, place: int | None) -> list[Rung]:
        """List the rungs of the ladders that a path goes through, up to the rung that leads on; the innermost first."""
        before = self.way
        if place is None:
            where = find(self.ladder, self.owner)
            self.turn(self.still_there(self.chain or ()) if where is None else where.chain)
        elif place < 0 or (place < len(self.path) and self.path[place].serial == self.track[place].serial):
            # A visible rung sees the visible ladders, also during the move of a hidden one.
            self.turn(())
        rungs: list[Rung] = []
        for level in reversed(range(len(self.track))):
            for rung in self.ladder_at(level):
                rungs.append(rung)
                if rung.serial == self.track[level].serial:
                    break
        self.turn(before)
        return rungs

    def _way_to(self, place: int | None) -> list[tuple[Ladder, int]]:
        if place is not None:
            before = self.way
            self.turn(() if place < 0 else before)
            places = range((place if place >= 0 else len(self.track) - 1) + 1)
            found_way = [(self.ladder_at(each), self.track[each].serial) for each in places]
            self.turn(before)
            return found_way
        spotted = find(self.ladder, self.owner)
        chain = (self.chain or ()) if spotted is None else spotted.chain
        serials = [*(serial for serial, _ in chain), 0 if spotted is None else self.owner]
        return [(ladder_of(self.ladder, chain[:level]) or (), serial) for level, serial in enumerate(serials)]

    def _tabs_around(self, place: int | None, tab: str) -> tuple[Rung | None, int]:
        """Return the nearest tabs around a place that have a tab, and its number; None if there are none."""
        for ladder, serial in reversed(self._way_to(place)):
            for rung in ladder:
                if rung.serial == serial:
                    names = [name for name, _ in self.plan.screen[rung.data.screen].inside]
                    if tab in names:
                        return rung, names.index(tab)
        return None, 0

    def _takes_back(self, entry: ArmedGuard) -> bool:
        """Whether an armed guard holds: that of a rung on a ladder does, or it would not be armed."""
        return entry.data is None or self.guard_holds(self.plan.guard[entry.guard], entry.serial, entry.data)

    def guard_holds(self, guard: Guard, serial: int, was: RungData | None) -> bool:
        """Whether the condition of a guard holds, wherever its rung stands.

        `serial`: of that rung, 0: the app; `was`: its face.
        """
        seen = WorkingState(self.plan, replace(self.state(), armed=()))
        if was is None:
            return seen.holds(guard.condition, lambda view: view)
        return seen.holds(guard.condition, seen.from_rung(serial, was))

    def from_rung(self, serial: int, was: RungData) -> Callable[[EvalContext], EvalContext]:
        """Say what a rung sees, wherever it stands; `was`: its face, if it may be gone."""
        spotted = find(self.ladder, serial)
        self.owner, self.chain = serial, None if spotted is None else spotted.chain
        data = was if spotted is None else spotted.rung.data
        lowest = is_lowest(self.ladder, spotted) if spotted else not self.ladder
        return lambda view: view.of(data.facts, dict(data.arguments), lowest=lowest)

    def holds(self, condition: Condition | None, place: Callable[[EvalContext], EvalContext]) -> bool:
        """Whether a condition holds as a place sees it, whatever it asks for."""
        head = self.head()
        return with_answers(lambda known: place(EvalContext(self.plan, head, known)).holds(condition), self.answer)

    # A move as a whole

    def begin_move(self) -> None:
        """Remember where a move began, for the case that it is undone."""
        changed = self.deadlines is not self.before.deadlines or self.begun is not self.before.begun
        if changed or self.log or self.moves or self.asked or self.consulted:
            self.before, self.path_before, self.log_before = self.state(), self.path, len(self.log)
            self._clear()

    def undo_move(self) -> None:
        """Take back all that the move did."""
        self._set(self.before)
        self.path = self.path_before
        self.turn(())
        del self.log[self.log_before :]
        self._clear()

    def owner_rung(self) -> Rung | None:
        """Return the rung that the move stands on, None if it is gone; the one on top if the move stands on none."""
        if self.owner == NOBODY:
            return self.path[-1] if self.path else None
        for rung in self.track:
            if rung.serial == self.owner:
                return rung
        spotted = find(self.ladder, self.owner)
        return None if spotted is None else spotted.rung

    def free_serial(self, *, highest: bool = False) -> int:
        """Return a serial for what is made now: the lowest that is free in this step, or one above all others."""
        spent = self.spent = self.spent or {0} | used_serials(self.start)
        serial = max(spent) + 1 if highest else next(serial for serial in count(1) if serial not in spent)
        spent.add(serial)
        return serial


Applier: TypeAlias = "Callable[[WorkingState, Any], None]"
"""Applies effects of one kind."""
