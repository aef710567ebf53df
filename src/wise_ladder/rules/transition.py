"""One step as the rules see it: what was seen before and after, which event was meant, what a Back would do."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias, TypeVar, get_args

from wise_ladder.plan import events
from wise_ladder.plan.values import NO_SPAN, Span
from wise_ladder.rules.in_flight import SEEN_SINCE
from wise_ladder.semantics.conditions import EvalContext, with_answers
from wise_ladder.semantics.log import (
    ArgumentsChanged,
    Came,
    FactChanged,
    Finding,
    GuardSkipped,
    LinkFollowed,
    LogEntry,
    Redirected,
    Replaced,
    SeenFor,
)
from wise_ladder.semantics.plan_index import index_of
from wise_ladder.semantics.reasons import move_words, redirect_words
from wise_ladder.semantics.run import run_event
from wise_ladder.semantics.state import Phase, State, all_rungs, visible_top
from wise_ladder.semantics.symbolic import SymbolicLadder
from wise_ladder.semantics.working_state import WorkingState

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.conditions import Condition
    from wise_ladder.plan.model import Move, Plan
    from wise_ladder.plan.policies import Way
    from wise_ladder.rules.actions import Action
    from wise_ladder.semantics.stack_queries import StackAnswers
    from wise_ladder.semantics.state import Ladder, Rung, RungData

_Happened = TypeVar("_Happened")


Feature: TypeAlias = Literal[
    "any",
    "came",
    "unasked",
    "moved",
    "moved back",
    "out",
    "facts",
    "finding",
    "link",
    "arrival",
    "saw",
    "tap",
    "back",
    "death",
    "waits",
]
FEATURES: dict[Feature, int] = {name: 1 << place for place, name in enumerate(get_args(Feature))}
"""What there is to see of a step at a glance, a bit for each."""
_OF_HAPPENINGS: dict[type, Feature] = {
    Came: "came",
    Replaced: "came",
    ArgumentsChanged: "came",
    GuardSkipped: "unasked",
    FactChanged: "facts",
    Finding: "finding",
    LinkFollowed: "link",
    SeenFor: "saw",
}
_BITS = {kind: FEATURES[sign] for kind, sign in _OF_HAPPENINGS.items()}
_BACK = (events.Back, events.HeaderBack)


class PlanRef(NamedTuple):
    """What is guilty: a screen, move, guard, redirect or link, in words, and where it stands in the plan's file."""

    words: str
    at: Span = NO_SPAN

    def within(self, path: str) -> str:
        """Name the line of a file where it stands, the file alone if it has none."""
        return path if self.at == NO_SPAN else self.at.within(path)


class Violation(NamedTuple):
    """What breaks a rule, and how, in a sentence; not `sure`: there was too much to check, so it may or may not break."""

    place: PlanRef
    words: str
    sure: bool = True


class Transition:
    """A choice at a state and what came of it; of both states only what is looked at needs to be known."""

    def __init__(  # noqa: PLR0913 - the parts of one step
        self, plan: Plan, before: State, choice: Action, after: State, happened: tuple[LogEntry, ...],
        taken: tuple[Move, ...] = (), *, refused: bool = False, watched: frozenset[str] = frozenset(),
    ) -> None:  # fmt: skip
        """Take the step as it is; `refused`: nothing came of it; `watched`: the screens that rules look for beneath others."""
        self.plan, self.before, self.action, self.after = plan, before, choice, after
        self.log, self.moves, self.refused, self.watched = happened, taken, refused, watched
        choice = events.Back() if type(choice) is events.BackFinished else choice
        self.meant = choice if type(choice) is not events.Answer else self._stood_in_the_way_of(choice)
        """What the user meant to do: the event itself, or what a question stood in the way of where an answer goes on."""
        self.top_before, self.top_after = seen_rung(before), seen_rung(after)
        """What is seen before and after, None if no screen is."""
        self.moved = (self.top_before.serial if self.top_before else 0) != (self.top_after.serial if self.top_after else 0)
        """Whether another rung is seen after than before."""
        self.out = before.phase is Phase.OPEN and after.phase is not Phase.OPEN
        """Whether the app was left, or went to the background."""

    def features(self) -> int:
        """Return what there is to see of the step at a glance: bits of `FEATURES`."""
        bits = FEATURES["any"]
        for happening in self.log:
            bits |= _BITS.get(type(happening), 0)
        if self.out:
            bits |= FEATURES["out"] | FEATURES["moved"]
        if self.moved:
            bits |= FEATURES["moved"] | (FEATURES["moved back"] if isinstance(self.meant, _BACK) else 0)
        if isinstance(self.action, events.Tap):
            bits |= FEATURES["tap"]
        elif isinstance(self.action, events.Back):
            bits |= FEATURES["back"]
        elif isinstance(self.action, events.Killed):
            bits |= FEATURES["death"]
        if self.after.cover or index_of(self.plan).wait_overlays:
            bits |= FEATURES["waits"]
        if bits & FEATURES["link"] and self.arrives:
            bits |= FEATURES["arrival"]
        return bits

    @property
    def uncovers(self) -> bool:
        """Whether the app itself takes away what was seen, and what lay beneath is seen now."""
        if self.top_before is None or self.top_after is None or isinstance(self.action, events.OpenLink):
            return False
        gone = all(rung.serial != self.top_before.serial for rung in all_rungs(self.after.ladder))
        return gone and self.moved and self.top_after.serial not in self.came

    def look_at_what_death_takes(self) -> None:
        """Look at rungs that were left out and change when they are saved: what they lose is not told of them as a whole."""
        for rung in all_rungs(self.before.ladder):
            if rung.cut and not rung.saved:
                _ = rung.data

    @property
    def arrives(self) -> bool:
        """Whether a link arrived from outside and was not redirected."""
        if not self.all_of(LinkFollowed) or self.all_of(Redirected):
            return False
        return isinstance(self.action, events.OpenLink) or bool(self.before.held_link)

    @property
    def as_self_loop(self) -> Transition:
        """The same choice, if nothing had come of it."""
        return Transition(self.plan, self.before, self.action, self.before, ())

    # Which event was meant

    @property
    def pressed(self) -> Action:
        """What the user pressed: the event itself, or what was asked about, whichever the answer."""
        question = self.before.question
        if question is not None and isinstance(self.action, events.Answer):
            matter = question.stopped.matter
            return matter if isinstance(matter, events.Event) else self.action
        return events.Back() if isinstance(self.action, events.BackFinished) else self.action

    def _stood_in_the_way_of(self, choice: events.Answer) -> Action | None:
        question = self.before.question
        if question is None:
            return choice
        guard = self.plan.guard[question.guard]
        stays = all(answer.stays for answer in guard.answers if answer.name == choice.name)
        if stays or not isinstance(question.stopped.matter, events.Event):
            return None
        return question.stopped.matter

    @cached_property
    def way(self) -> Way | None:
        """The way by which the user leaves, None if they do not."""
        meant = self.meant
        if isinstance(meant, events.Back):
            return "system"
        if isinstance(meant, events.HeaderBack):
            return "header"
        if isinstance(meant, events.OpenLink):
            return "aside"
        if isinstance(meant, events.Tap):
            where = self.moves[0].owner if self.moves else None
            top = self.top_before
            own = top is not None and (where == top.data.screen or any(layer.name == where for layer in top.overlays))
            return "in-app" if own else "aside"
        return None if meant is None or isinstance(meant, (events.Home, events.Killed, events.SwipedAway)) else "by itself"

    # What lies where

    @cached_property
    def came(self) -> dict[int, Rung]:
        """The rungs that came, by serial, what came inside them too."""
        rungs = [happening.rung for happening in self.all_of(Came)]
        rungs += [happening.came for happening in self.all_of(Replaced)]
        return {rung.serial: rung for rung in all_rungs(tuple(rungs))}

    def all_of(self, kind: type[_Happened]) -> list[_Happened]:
        """List what happened of one kind."""
        return [happening for happening in self.log if isinstance(happening, kind)]

    def finding(self, *names: str) -> Finding | None:
        """Return the first finding of one of these names."""
        return next((entry for entry in self.all_of(Finding) if entry.name in names), None)

    # What is guilty

    @cached_property
    def culprit(self) -> PlanRef:
        """The move that was taken last; else what came from outside, or the screen that was seen before."""
        if self.moves:
            return move_place(self.moves[-1])
        if isinstance(self.action, events.OpenLink):
            return link_place(self.plan, self.action.address)
        return PlanRef("reopen") if isinstance(self.action, events.Reopen) else self.screen_before

    @cached_property
    def screen_before(self) -> PlanRef:
        """The screen that was seen before."""
        return screen_place(self.plan, self.top_before.data if self.top_before else None)

    @cached_property
    def screen_after(self) -> PlanRef:
        """The screen that is seen after."""
        return screen_place(self.plan, self.top_after.data if self.top_after else None)


def move_place(move: Move) -> PlanRef:
    """Name a move."""
    return PlanRef(move_words(move), move.at)


def screen_place(plan: Plan, data: RungData | None) -> PlanRef:
    """Name a screen; the start if none is seen."""
    return PlanRef("the start") if data is None else PlanRef(data.screen, plan.screen[data.screen].at)


def link_place(plan: Plan, address: str) -> PlanRef:
    """Name a link by the address it has in the plan."""
    link = index_of(plan).link_of(address).link
    return PlanRef("unknown address") if link is None else PlanRef(link.address, link.at)


def redirect_place(plan: Plan, wanted: str, to: str) -> PlanRef:
    """Name the first redirect that sends from a screen to another."""
    for redirect in plan.redirects:
        if redirect.target.screen == to and redirect.is_for(wanted):
            return PlanRef(f"redirect of {redirect_words(redirect)}", redirect.at)
    return PlanRef("redirects")


def seen_rung(state: State) -> Rung | None:
    """Return the rung that is seen, None if the app is not open, covered or empty."""
    if state.phase is not Phase.OPEN or state.cover:
        return None
    return visible_top(state)


def face_of(rung: Rung | None) -> RungData | None:
    """Return the face of a rung, if there is one."""
    return None if rung is None else rung.data


def ladders(ladder: Ladder) -> Iterator[Ladder]:
    """Go through a ladder and all that stand inside it, as far as they are known."""
    if isinstance(ladder, SymbolicLadder):
        return
    yield ladder
    for rung in ladder:
        for inner in rung.inner:
            yield from ladders(inner)


def holds(plan: Plan, state: State, condition: Condition | None, place: int = -1) -> bool:
    """Whether a condition holds, seen from a place of the visible path, from the top if none is named."""
    doing = WorkingState(plan, state)
    head = doing.head()

    def holds_with(known: StackAnswers) -> bool:
        view = EvalContext(plan, head, known)
        return (view.at(place % len(head.path)) if head.path else view).holds(condition)

    return with_answers(holds_with, doing.answer)


def try_event(plan: Plan, state: State, event: events.Event) -> Transition | None:
    """Do an event on a copy, no time passing; None if it is refused."""
    doing = WorkingState(plan, state)
    if run_event(doing, event) is not None:
        return None
    return Transition(plan, state, event, doing.state(), tuple(doing.log), tuple(doing.moves))


def answered(edge: Transition) -> Transition:
    """Answer what a step asks, and what is asked upon that, by the first answer that goes on, as long as there is one."""
    for _ in edge.plan.guard:
        question = edge.after.question
        answers = edge.plan.guard[question.guard].answers if question is not None else ()
        onward = next((answer.name for answer in answers if not answer.stays), None)
        done = try_event(edge.plan, edge.after, events.Answer(onward)) if onward is not None else None
        if done is None:
            break
        edge = Transition(edge.plan, edge.before, edge.action, done.after, done.log, done.moves)
    return edge


def goes_on_by_itself(plan: Plan, state: State) -> bool:
    """Whether something is pending that must come: a timer, or a call that is never silent."""
    timers = (
        timer
        for timer in state.deadlines
        if timer.kind != "of the app" or timer.data is None or timer.data.screen not in plan.beats
    )
    return any(True for _ in timers) or any(call.name != SEEN_SINCE and not plan.call[call.name].silent for call in state.calls)
