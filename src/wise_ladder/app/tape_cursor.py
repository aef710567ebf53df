"""What Climb is about, without a screen: a run that can be stepped back and forth and taken another way."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.app.tape_history import History
from wise_ladder.plan.events import Answer, Back, HeaderBack, Launch, Tap, Wait
from wise_ladder.semantics import Phase, descent, forecast, initial_state, offers, summarize
from wise_ladder.semantics.forecast import leads_back
from wise_ladder.semantics.guard_status import guards_standing
from wise_ladder.semantics.log import ArgumentsChanged, Came, FactChanged, Replaced, Went
from wise_ladder.semantics.state import all_rungs, open_layers, visible_path, visible_rungs, visible_top
from wise_ladder.semantics.taps import taps_offered
from wise_ladder.semantics.text import duration_text
from wise_ladder.semantics.weight import weight
from wise_ladder.semantics.working_state import WorkingState
from wise_ladder.walks import Tape
from wise_ladder.walks.seen import seen_intervals

if TYPE_CHECKING:
    from wise_ladder.plan import Event, Plan
    from wise_ladder.plan.model import Guard, Overlay
    from wise_ladder.semantics import Descent, EventSummary, Forecast, Offer, Rung, State, Step
    from wise_ladder.semantics.guard_status import GuardStatus
    from wise_ladder.walks import Entry
    from wise_ladder.walks.seen import SeenInterval

MOST_RUNGS, FEWEST_BACKS = 6_000, 12
"""After each key the Backs ahead may meet so many rungs in all, but so many Backs are always looked at.

Each Back costs as much time as the ladder is deep; a ladder of 77 rungs is looked down to the ground.
"""
MAX_STEPS = 60
"""So many steps back the strip of what was seen goes."""


class Tapes(NamedTuple):
    """The tapes of a plan that is not shown: the present one with the position on it, and those that were left."""

    plan: Plan
    tape: Tape
    position: int
    wish: int
    left: tuple[tuple[Tape, int], ...]


class TapeCursor:
    """A run with a place on its tape. Doing something at an earlier place takes another branch; the one left is kept."""

    def __init__(self, plan: Plan) -> None:
        """Begin before the first launch."""
        self.plan = plan
        self.tape = Tape(plan, initial_state(plan))
        self.position = 0
        self._wish = 0
        """The position before an edit cut the tape, 0 if none did: it is restored when the steps apply again."""
        self._left: list[tuple[Tape, int]] = []
        self._history = History()

    def begin(self, plan: Plan) -> None:
        """Begin with another plan, before its first launch."""
        self.plan = plan
        self._left.clear()
        self._at(Tape(plan, initial_state(plan)), 0)

    def put_aside(self) -> Tapes:
        """Return all tapes, to be taken back later; `begin` or `take_back` follows."""
        return Tapes(self.plan, self.tape, self.position, self._wish, tuple(self._left))

    def take_back(self, tapes: Tapes) -> None:
        """Go on where tapes were put aside."""
        self.plan = tapes.plan
        self._left[:] = tapes.left
        self._at(tapes.tape, tapes.position)
        self._wish = tapes.wish

    def first_tap(self, name: str) -> Tap:
        """Return the tap of a name that is offered here, with the first of its samples; one that is not carries nothing."""
        offered = (offer.event for offer in self.moment.offers)
        return next((event for event in offered if isinstance(event, Tap) and event.name == name), Tap(name))

    @cached_property
    def moment(self) -> Snapshot:
        """Everything there is to see at this place of the tape."""
        entry = self.tape.entries[self.position - 1] if self.position else None
        self._history.follow(self.tape.entries)
        return Snapshot(self.plan, self.tape, self.position, self.tape.state_at(self.position), entry, self._history)

    def _at(self, tape: Tape, place: int) -> None:
        self.tape, self.position, self._wish = tape, place, 0
        self.__dict__.pop("moment", None)

    def do(self, event: Event) -> Step:
        """Do an event here; a refused one changes nothing."""
        here = self.tape.prefix(self.position)
        tape, done = here.with_event(event)
        if done.refused is None:
            if self.position < len(self.tape.entries):
                follows = self.tape.entries[self.position].event
                if follows == event:
                    # The very step that was taken from here before: walk on along the tape instead of branching.
                    self._at(self.tape, self.position + 1)
                    return done
            if self.tape.rest or self.position < len(self.tape.entries):
                self._left.append((self.tape, self.position))
            self._at(tape, len(tape.entries))
        return done

    def let_time_run(self) -> Step | None:
        """Let time run to the next pending thing; None if nothing is pending."""
        state = self.moment.state
        if not state.deadlines:
            return None
        return self.do(Wait(max(state.deadlines[0].due - state.clock, 0)))

    def repeat(self) -> Step | None:
        """Do the last step again; None if there is none."""
        entry = self.moment.entry
        return self.do(entry.event) if entry is not None else None

    def launch(self) -> Step:
        """Launch if the app is not running; else begin another tape, from the first state, and keep the one left."""
        if self.moment.state.phase is Phase.OUTSIDE:
            return self.do(Launch())
        self._left.append((self.tape, self.position))
        tape, done = Tape(self.plan, self.tape.first).with_event(Launch())
        self._at(tape, len(tape.entries))
        return done

    def go(self, place: int) -> bool:
        """Go to a place of the tape; False if you stand there already."""
        place = min(max(place, 0), len(self.tape.entries))
        if place == self.position:
            return False
        self._at(self.tape, place)
        return True

    def resume_branch(self) -> bool:
        """Go back to the tape that was left last, and keep the present one instead; False if none was."""
        if not self._left:
            return False
        tape, place = self._left.pop()
        self._left.insert(0, (self.tape, self.position))
        if tape.plan is not self.plan:
            tape = tape.rerun_on(self.plan)
        self._at(tape, min(place, len(tape.entries)))
        return True

    def take_up_plan(self, plan: Plan) -> None:
        """Go on with a changed plan: the same events are run again; those that do not apply are kept, after the others."""
        tape, wish = self.tape.rerun_on(plan), self._wish or self.position
        self.plan = plan
        self._at(tape, min(wish, len(tape.entries)))
        self._wish = wish if wish > self.position else 0

    def give(self, fact: str, value: str) -> None:
        """Begin a tape with another value of a fact; the one left is kept, where anything was done on it."""
        if self.tape.entries:
            self._left.append((self.tape, self.position))
        given = tuple((dict(self.tape.first_facts()) | {fact: value}).items())
        self._at(Tape(self.plan, initial_state(self.plan, given)), 0)

    def take_up(self, tape: Tape) -> None:
        """Go to the end of another tape; the one left is kept, where anything was done on it."""
        if self.tape.entries:
            self._left.append((self.tape, self.position))
        self._at(tape, len(tape.entries))

    @property
    def left(self) -> int:
        """How many tapes were left and are kept."""
        return len(self._left)


@dataclass(frozen=True)
class WayBack:
    """One way out of what is seen: its name, the tap's number where it is one, and what it would do."""

    name: str
    forecast: Forecast
    back: bool
    """Whether it leads down."""
    when: str = ""


@dataclass(frozen=True)
class Snapshot:
    """A place on the tape, and what follows from it; each part is worked out when it is first looked at."""

    plan: Plan
    tape: Tape
    position: int
    state: State
    entry: Entry | None
    history: History

    @cached_property
    def before(self) -> State:
        """The state one step earlier."""
        return self.tape.state_at(max(self.position - 1, 0))

    @cached_property
    def top(self) -> Rung | None:
        """The rung you stand on; None on the ground and under the cover."""
        return visible_top(self.state) if self.state.phase is Phase.OPEN and not self.state.cover else None

    @cached_property
    def rungs(self) -> tuple[Rung, ...]:
        """The rungs of the visible path, lowest first."""
        return tuple(rung for rung, _ in visible_rungs(self.state.ladder))

    @cached_property
    def visible(self) -> frozenset[int]:
        """The serials of the rungs on the visible path."""
        return frozenset(rung.serial for rung in visible_path(self.state.ladder))

    @cached_property
    def levels(self) -> dict[int, int]:
        """How deep inside flows and tabs each rung stands, by its serial."""
        return {rung.serial: level for rung, level in visible_rungs(self.state.ladder)}

    @cached_property
    def guards(self) -> list[GuardStatus]:
        """The guards of the visible path."""
        return guards_standing(self.plan, self.state) if self.state.phase is Phase.OPEN else []

    @cached_property
    def question(self) -> Guard | None:
        """The guard whose question is open."""
        return self.plan.guard[self.state.question.guard] if self.state.question else None

    @cached_property
    def answers(self) -> tuple[tuple[str, EventSummary], ...]:
        """The answers to the open question, and what each would do."""
        if self.question is None:
            return ()
        names = [answer.name for answer in self.question.answers]
        return tuple((name, summarize(forecast(self.plan, self.state, Answer(name)))) for name in names)

    @cached_property
    def overlays(self) -> tuple[Overlay, ...]:
        """The overlays over what is seen, opened last at the end."""
        path = visible_path(self.state.ladder)
        return tuple(self.plan.overlay[name] for _, name, _ in open_layers(self.state.overlays, path))

    @cached_property
    def new_serials(self) -> frozenset[int]:
        """The rungs that the last step put, or handed other arguments."""
        happened = self.entry.step.log if self.entry else ()
        came = {happening.rung.serial for happening in happened if isinstance(happening, Came)}
        came |= {happening.came.serial for happening in happened if isinstance(happening, Replaced)}
        handed = {happening.now for happening in happened if isinstance(happening, ArgumentsChanged)}
        return frozenset(came | {rung.serial for rung in self.rungs if rung.data in handed})

    @cached_property
    def went(self) -> tuple[Rung, ...]:
        """The rungs that the last step took, the highest first."""
        happened = self.entry.step.log if self.entry else ()
        gone = (h.rung if isinstance(h, Went) else h.gone for h in happened if isinstance(h, (Went, Replaced)))
        before = {rung.serial for rung in all_rungs(self.before.ladder)}
        return tuple(rung for rung in gone if rung.serial in before)

    @cached_property
    def turned(self) -> dict[str, str]:
        """The facts that the last step turned, with what they were before it."""
        turned: dict[str, str] = {}
        for happening in self.entry.step.log if self.entry else ():
            if isinstance(happening, FactChanged):
                turned.setdefault(happening.name, happening.was)
        return turned

    @cached_property
    def descent(self) -> Descent:
        """The Backs from here down, up to a readable number."""
        return descent(self.plan, self.state, max(MOST_RUNGS // max(len(self.rungs), 1), FEWEST_BACKS))

    @cached_property
    def offers(self) -> tuple[Offer, ...]:
        """What can be tapped."""
        return offers(self.plan, self.state)

    @cached_property
    def uncovered(self) -> tuple[str, ...]:
        """The names of what can be tapped on what the next Back would uncover."""
        if not self.descent.hops or self.descent.hops[0].outcome != "lands":
            return ()
        head = WorkingState(self.plan, self.descent.hops[0].step.state).head()
        return tuple(dict.fromkeys(trigger.name for _, trigger in taps_offered(self.plan, head)))

    @cached_property
    def stretches(self) -> list[SeenInterval]:
        """What was seen on the last steps up to here."""
        return seen_intervals(self.tape.entries[max(self.position - MAX_STEPS, 0) : self.position])

    def effect(self, offer: Offer) -> EventSummary:
        """Report what a tap would do."""
        return summarize(offer.forecast)

    @property
    def _has_menu(self) -> bool:
        return self.top is not None and self.plan.screen[self.top.data.screen].header == "menu"

    @cached_property
    def ways(self) -> tuple[WayBack, ...]:
        """Each way out of what is seen: system, header, the taps that lead down, and what goes by itself."""
        if self.state.phase is not Phase.OPEN:
            return ()
        ways = [
            WayBack("system", forecast(self.plan, self.state, Back()), back=True),
            WayBack("header ≡" if self._has_menu else "header ←", forecast(self.plan, self.state, HeaderBack()), back=True),
        ]
        ways += [
            WayBack(f"tap {offer.number}", offer.forecast, back=True)
            for offer in self.offers
            if leads_back(self.state, offer.forecast)
        ]
        if self.state.deadlines:
            wait = max(self.state.deadlines[0].due - self.state.clock, 0)
            itself = forecast(self.plan, self.state, Wait(wait))
            ways.append(WayBack("by itself", itself, back=False, when=f"in {duration_text(wait)}"))
        return tuple(ways)

    def how_it_came(self, serial: int) -> tuple[int, Event] | None:
        """Return the number of the step that put a rung, and its event."""
        return self.history.how_it_came(serial, self.position)

    @property
    def findings(self) -> int:
        """How many findings there are on the tape up to here."""
        return self.history.findings(self.position)

    @cached_property
    def weight(self) -> int:
        """What all rungs weigh together, in bytes."""
        return weight(self.plan, self.state)
