"""The second half of a step: doing, which applies effects to the ladders and decides nothing.

`WorkingState` is the state in the middle of a step. `apply_rungs`, `apply_overlays` and `apply_world` apply the effects,
and `apply` joins their tables. `paths` finds rungs that are not on the visible path.
"""

from __future__ import annotations

from itertools import count
from typing import TYPE_CHECKING, Any, Literal, TypeAlias, cast

from msgspec.structs import replace

from wise_ladder.semantics import effects
from wise_ladder.semantics.conditions import EvalContext, with_answers
from wise_ladder.semantics.opaque import LAYERS_BEHIND, OpaqueLadder
from wise_ladder.semantics.paths import (
    exchanged,
    find,
    front_chain,
    has_at_most_one,
    is_lowest,
    ladder_of,
    open_path,
    right_beneath,
    rung_matches,
)
from wise_ladder.semantics.plan_index import index_of
from wise_ladder.semantics.serials import used_serials
from wise_ladder.semantics.state import (
    COVERED,
    ELSEWHERE,
    HIDDEN,
    NOBODY,
    OUT_OF_SIGHT,
    VISIBLE,
    Chain,
    Head,
    HeadRung,
    Ladder,
    Question,
    Rung,
    State,
    is_app_timer,
    open_layers,
    visible_path,
    visible_screens,
)
from wise_ladder.semantics.symbolic import SymbolicPart

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.plan.model import Guard, GuardId, Move, Plan
    from wise_ladder.plan.operations import Condition
    from wise_ladder.plan.triggers import Trigger
    from wise_ladder.semantics.effects import Effect
    from wise_ladder.semantics.log import LogEntry
    from wise_ladder.semantics.opaque import OpaqueRung
    from wise_ladder.semantics.state import ArmedGuard, RungData
    from wise_ladder.semantics.tasks import Task


class WorkingState:
    """A state in the middle of a step, and what happened in it so far."""

    __slots__ = (
        "alive", "answered", "armed", "asked", "bars", "before", "calls", "chain", "clock", "closed", "consulted", "cover",
        "deadlines", "emptied", "facts", "freed", "gone", "granted", "guards_rung", "held_link", "hidden_results", "inside",
        "ladder", "layer", "least", "left_granted", "log", "log_before", "made", "matter", "moves", "never_shown", "next",
        "opened", "overlays", "own_was", "owner", "path", "path_before", "phase", "plan", "question", "restored",
        "scripted_replies", "seen", "spent", "start", "starting", "steps", "tables", "track", "wanted", "way", "where",
        "world",
    )  # fmt: skip

    def __init__(self, plan: Plan, state: State) -> None:
        """Begin a step at a state."""
        self.plan, self.tables = plan, index_of(plan)
        self._set(state)
        self.path = self.track = visible_path(state.ladder)
        """The visible path, and the one that is worked on, from the outside in; never changed in place."""
        self.way: Chain = ()
        """The way to the ladder that is worked on, if it is not on the visible path."""
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
        self.closed: list[tuple[str, Chain, int]] = []
        """The overlays that closed, the way to the ladder of the rung each lay over, and that rung's serial."""
        self.hidden_results: list[int] = []
        """The hidden rungs that a hidden rung's move has uncovered."""
        self.world: list[Trigger] = []
        """What happened in this move that is no place's own: the app was launched, memory is low, a timer ran out ..."""
        self.own_was: dict[tuple[int, str], str] = {}
        """The facts of rungs that were set in this move, by serial and name, and what they were."""

    def _set(self, state: State) -> None:
        self.phase, self.ladder, self.facts, self.deadlines = state.phase, state.ladder, state.facts, state.deadlines
        self.clock, self.seen, self.overlays = state.clock, state.seen, state.overlays
        self.question, self.wanted, self.armed = state.question, state.wanted, state.armed
        self.never_shown, self.bars, self.cover, self.calls = state.never_shown, state.bars, state.cover, state.calls
        self.scripted_replies, self.held_link, self.freed, self.alive = (
            state.scripted_replies,
            state.held_link,
            state.freed,
            state.alive,
        )
        self.restored, self.least = state.restored, state.least

    def state(self) -> State:
        """Return the state as it is now."""
        return State(
            phase=self.phase,
            ladder=self.ladder,
            facts=self.facts,
            deadlines=self.deadlines,
            clock=self.clock,
            seen=self.seen,
            overlays=self.overlays,
            question=self.question,
            wanted=self.wanted,
            armed=self.armed,
            never_shown=self.never_shown,
            bars=self.bars,
            cover=self.cover,
            calls=self.calls,
            scripted_replies=self.scripted_replies,
            held_link=self.held_link,
            freed=self.freed,
            alive=self.alive,
            restored=self.restored,
            least=self.least,
        )

    # What deciding may look at

    def head(self) -> Head:
        """Return all that deciding may look at: the path that is worked on, and what stands over it."""
        path, ladder, layered = self.track, self.ladder, self.overlays != ()
        if isinstance(ladder, OpaqueLadder):
            return self._veiled_head(cast("OpaqueRung", path[0]))
        spots = []
        if path is self.path:
            for rung in path:
                data = rung.data
                spots.append(HeadRung(data, len(ladder) == 1))
                if rung.overlays:
                    layered = True
                if rung.inner:
                    ladder = rung.inner[data.tab_order[-1]]
        else:
            spots = self._hidden_spots()
            layered = layered or any(rung.overlays for rung in path)
        calling = self._calling()
        if not (layered or self.question or self.armed or self.cover or self.held_link or self.restored):
            return Head(self.phase, self.facts, tuple(spots), wanted=self.wanted, calling=calling)
        layers = tuple((name, place) for _, name, place in open_layers(self.overlays, path)) if layered else ()
        places = {rung.serial: place for place, rung in enumerate(path)}
        if path is not self.path:
            places = {rung.serial: places.get(rung.serial, ELSEWHERE) for rung in self.path}
        places[0] = -1
        armed = tuple((each.guard, places.get(each.serial, OUT_OF_SIGHT - number)) for number, each in enumerate(self.armed))
        question = self.question.guard if self.question else None
        cover = self._cover()
        return Head(
            self.phase, self.facts, tuple(spots), layers, question, self.wanted, armed, cover, calling, self.held_link,
            self.restored,
        )  # fmt: skip

    def _hidden_spots(self) -> list[HeadRung]:
        spots, visible = [], True
        for place, rung in enumerate(self.track):
            ladder, number = self.ladder_at(place), self._inside(place)
            visible = visible and place < len(self.path) and self.path[place].serial == rung.serial
            stands = VISIBLE if visible else HIDDEN if ladder[-1].serial == rung.serial else COVERED
            tab = number if rung.inner and number != rung.data.tab_order[-1] else -1
            spots.append(HeadRung(rung.data, ladder[0].serial == rung.serial, stands, tab))
        return spots

    def _veiled_head(self, veil: OpaqueRung) -> Head:
        path, layers = cast("tuple[HeadRung, ...]", veil.path), cast("tuple[tuple[str, int], ...]", LAYERS_BEHIND)
        question = self.question.guard if self.question else None
        return Head(
            self.phase,
            self.facts,
            path,
            layers,
            question,
            self.wanted,
            cover=self._cover(),
            calling=self._calling(),
            arriving=self.held_link,
            restored=self.restored,
        )

    def _cover(self) -> Literal["", "least", "up"]:
        if not self.cover:
            return ""
        return "least" if self.least else "up"

    def _calling(self) -> tuple[str, ...]:
        return self.calls if isinstance(self.calls, SymbolicPart) else tuple([call.name for call in self.calls])

    def answer(self, question: effects.StackQuery) -> bool:
        """Answer what deciding cannot see at the head."""
        match question:
            case effects.IsThere(level, screen, arguments):
                return any(rung_matches(rung, screen, arguments) for rung in reversed(self.ladder_at(level)))
            case effects.OnPath(place, screen):
                return any(rung_matches(rung, screen) for rung in self._rungs_of_path(place))
            case effects.IsBeneath(place, screen):
                return any(rung.data.screen == screen for rung in right_beneath(self._way_to(place)))
            case effects.DeeperThan(rungs):
                return len(visible_screens(self.ladder)) > rungs
            case effects.TabIsEmpty(place, tab):
                return not self.track[place].inner[tab]
            case effects.IsInFront(place, name):
                tabs, number = self._tabs_around(place, name)
                return tabs is not None and tabs.data.tab_order[-1] == number
            case effects.IsAtRoot(place, name):
                tabs, number = self._tabs_around(place, name)
                return tabs is not None and has_at_most_one(tabs.inner[number])
            case effects.TimerIsRunning(name):
                return any(is_app_timer(timer, name) for timer in self.deadlines)
            case effects.ArmedHolds(number):
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
        if self.log or self.moves or self.asked or self.consulted or self.deadlines is not self.before.deadlines:
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

    # The ladders

    def turn(self, way: Chain) -> None:
        """Work on the path that leads along a chain and then the tops."""
        self.way = way
        if not way or way == front_chain(self.path)[: len(way)]:
            self.way, self.track = (), self.path
        else:
            self.way, self.track = open_path(self.ladder, way)

    def way_to_level(self, level: int) -> Chain:
        """Return the way to a ladder of the path that is worked on."""
        return tuple((self.track[place].serial, self._inside(place)) for place in range(min(level, len(self.track))))

    def still_there(self, chain: Chain) -> Chain:
        """Return as much of a chain as is still there."""
        return open_path(self.ladder, chain)[0]

    def _inside(self, place: int) -> int:
        """Return which ladder inside the rung of a place the path goes on in; -1 if it holds none."""
        if place < len(self.way):
            return self.way[place][1]
        used = self.track[place].data.tab_order
        return used[-1] if used else -1

    def ladder_at(self, level: int) -> Ladder:
        """Return the ladder of a level of the path that is worked on; empty if there is none."""
        if level == 0:
            return self.ladder
        if level > len(self.track) or not self.track[level - 1].inner:
            return ()
        return self.track[level - 1].inner[self._inside(level - 1)]

    def put_ladder(self, level: int, ladder: Ladder) -> None:
        """Give the ladder of a level other rungs."""
        while level:
            level -= 1
            holder, number, outer = self.track[level], self._inside(level), self.ladder_at(level)
            inner = (*holder.inner[:number], ladder, *holder.inner[number + 1 :])
            holder = Rung(holder.data, holder.serial, inner, holder.overlays)
            if outer[-1].serial == holder.serial:
                ladder = (*outer[:-1], holder)
            else:
                ladder = tuple(holder if rung.serial == holder.serial else rung for rung in outer)
        self._set_ladder(ladder)

    def _set_ladder(self, ladder: Ladder) -> None:
        self.ladder = ladder
        self.path = visible_path(ladder)
        self.turn(self.way)

    def put_rung(self, rung: Rung) -> None:
        """Put a changed rung in the place of the one of its serial, wherever it stands."""
        for place in reversed(range(len(self.track))):
            if self.track[place].serial == rung.serial:
                outer = self.ladder_at(place)
                top = outer[-1].serial == rung.serial
                changed = (*outer[:-1], rung) if top else tuple(rung if o.serial == rung.serial else o for o in outer)
                self.put_ladder(place, changed)
                return
        self._set_ladder(exchanged(self.ladder, rung))

    def set_data(self, rung: Rung, data: RungData) -> None:
        """Give a rung another face."""
        self.put_rung(Rung(data, rung.serial, rung.inner, rung.overlays))


Applier: TypeAlias = "Callable[[WorkingState, Any], None]"
"""Applies effects of one kind."""
