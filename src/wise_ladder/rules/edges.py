"""One step as the rules see it: what was seen before and after, who meant what, what lies where, and what a Back would do."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias, TypeVar, get_args

from wise_ladder.ladder.asked import move_words, redirect_words
from wise_ladder.ladder.conditions import Beneath, View
from wise_ladder.ladder.cutting import Hidden
from wise_ladder.ladder.doing import Doing
from wise_ladder.ladder.happenings import (
    Came,
    FactTurned,
    Finding,
    Handed,
    Happening,
    LeftUnasked,
    LinkFollowed,
    Redirected,
    Replaced,
    Saw,
    Went,
)
from wise_ladder.ladder.moving import set_off
from wise_ladder.ladder.state import Phase, State, all_rungs, top_of
from wise_ladder.ladder.tables import tables
from wise_ladder.plan import events
from wise_ladder.plan.values import NOWHERE, Span
from wise_ladder.rules.shapes import SEEN

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.ladder.small import Known
    from wise_ladder.ladder.state import Face, Ladder, Rung
    from wise_ladder.plan.model import Move, Plan, Way
    from wise_ladder.plan.operations import Condition
    from wise_ladder.rules.choices import Choice

_Happened = TypeVar("_Happened")


Sign: TypeAlias = Literal[
    "any",
    "came",
    "went",
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
SIGNS: dict[Sign, int] = {name: 1 << place for place, name in enumerate(get_args(Sign))}
"""What there is to see of a step at a glance, a bit for each."""
_OF_HAPPENINGS: dict[type, Sign] = {
    Came: "came",
    Replaced: "came",
    Handed: "came",
    Went: "went",
    LeftUnasked: "went",
    FactTurned: "facts",
    Finding: "finding",
    LinkFollowed: "link",
    Saw: "saw",
}
_BITS = {kind: SIGNS[sign] for kind, sign in _OF_HAPPENINGS.items()}
_BACK = (events.Back, events.HeaderBack)
_FROM_OUTSIDE = (events.Link, events.Launch, events.Reopen, events.Killed, events.SwipedAway)


class Place(NamedTuple):
    """What is guilty: a screen, move, guard, redirect or link, in words, and where it stands in the plan's file."""

    words: str
    at: Span = NOWHERE

    def within(self, path: str) -> str:
        """Name the line of a file where it stands, the file alone where it has none."""
        return path if self.at == NOWHERE else f"{path}:{self.at.line}"


class Guilt(NamedTuple):
    """Who breaks a rule, and how, in a sentence; not `sure`: it was too much to look at, and may break it or not."""

    place: Place
    words: str
    sure: bool = True


class Edge:
    """A choice at a state and what came of it; of both states only what is looked at needs to be known."""

    def __init__(  # noqa: PLR0913 - the parts of one step
        self, plan: Plan, before: State, choice: Choice, after: State, happened: tuple[Happening, ...],
        taken: tuple[Move, ...] = (), *, refused: bool = False,
    ) -> None:  # fmt: skip
        """Take the step as it is; `refused`: nothing came of it."""
        self.plan, self.before, self.choice, self.after = plan, before, choice, after
        self.happened, self.taken, self.refused = happened, taken, refused
        self.meant = choice if type(choice) is not events.Answer else self._stood_in_the_way_of(choice)
        """What the user meant to do: the event itself, or what a question stood in the way of where an answer goes on."""
        self.top_before, self.top_after = seen_rung(before), seen_rung(after)
        """What is seen before and after, None where no screen is."""
        self.moved = (self.top_before.serial if self.top_before else 0) != (self.top_after.serial if self.top_after else 0)
        """Whether another rung is seen after than before."""
        self.out = before.phase is Phase.OPEN and after.phase is not Phase.OPEN
        """Whether the app was left, or went to the background."""

    def signs(self) -> int:
        """Return what there is to see of the step at a glance: bits of `SIGNS`."""
        found = SIGNS["any"]
        for happening in self.happened:
            found |= _BITS.get(type(happening), 0)
        if self.out:
            found |= SIGNS["out"] | SIGNS["moved"]
        if self.moved:
            found |= SIGNS["moved"] | (SIGNS["moved back"] if isinstance(self.meant, _BACK) else 0)
        if isinstance(self.choice, events.Tap):
            found |= SIGNS["tap"]
        elif isinstance(self.choice, events.Back):
            found |= SIGNS["back"]
        elif isinstance(self.choice, events.Killed):
            found |= SIGNS["death"]
        if self.after.cover or tables(self.plan).wait_overlays:
            found |= SIGNS["waits"]
        if found & SIGNS["link"] and self.arrives:
            found |= SIGNS["arrival"]
        return found

    @property
    def uncovers(self) -> bool:
        """Whether the app itself takes away what was seen, and what lay beneath is seen now."""
        if self.top_before is None or self.top_after is None or isinstance(self.choice, _FROM_OUTSIDE):
            return False
        gone = all(rung.serial != self.top_before.serial for rung in all_rungs(self.after.ladder))
        return gone and self.moved and self.top_after.serial not in self.came

    @property
    def arrives(self) -> bool:
        """Whether somebody came from outside and was not sent elsewhere."""
        outside = isinstance(self.choice, events.Link) or bool(self.before.arriving)
        return outside and bool(self.all_of(LinkFollowed)) and not self.all_of(Redirected)

    @property
    def stayed(self) -> Edge:
        """The same choice, if nothing had come of it."""
        return Edge(self.plan, self.before, self.choice, self.before, ())

    # Who meant what

    @property
    def pressed(self) -> Choice:
        """What the user pressed: the event itself, or what was asked about, whichever the answer."""
        question = self.before.question
        if question is not None and isinstance(self.choice, events.Answer) and isinstance(question.matter, events.Event):
            return question.matter
        return self.choice

    def _stood_in_the_way_of(self, choice: events.Answer) -> Choice | None:
        question = self.before.question
        if question is None:
            return choice
        guard = self.plan.guard[question.guard]
        stays = all(answer.stays for answer in guard.answers if answer.name == choice.name)
        return None if stays or not isinstance(question.matter, events.Event) else question.matter

    @cached_property
    def way(self) -> Way | None:
        """The way by which the user leaves, None where nobody does."""
        meant = self.meant
        if isinstance(meant, events.Back):
            return "system"
        if isinstance(meant, events.HeaderBack):
            return "header"
        if isinstance(meant, events.Link):
            return "aside"
        if isinstance(meant, events.Tap):
            where = self.taken[0].where if self.taken else None
            top = self.top_before
            own = top is not None and (where == top.face.screen or any(layer.name == where for layer in top.layers))
            return "in-app" if own else "aside"
        gone = (events.Home, events.Killed, events.SwipedAway, events.Launch, events.Reopen, events.LowMemory)
        return None if meant is None or isinstance(meant, gone) else "by itself"

    # What lies where

    @cached_property
    def came(self) -> dict[int, Rung]:
        """The rungs that came, by serial, what came inside them too."""
        rungs = [happening.rung for happening in self.all_of(Came)]
        rungs += [happening.came for happening in self.all_of(Replaced)]
        return {rung.serial: rung for rung in all_rungs(tuple(rungs))}

    def all_of(self, kind: type[_Happened]) -> list[_Happened]:
        """List what happened of one kind."""
        return [happening for happening in self.happened if isinstance(happening, kind)]

    def finding(self, *names: str) -> Finding | None:
        """Return the first finding of one of these names."""
        return next((found for found in self.all_of(Finding) if found.name in names), None)

    # Who is guilty

    @cached_property
    def culprit(self) -> Place:
        """The move that was taken last; else what came from outside, or the screen that was seen before."""
        if self.taken:
            return move_place(self.taken[-1])
        if isinstance(self.choice, events.Link):
            return link_place(self.plan, self.choice.address)
        return Place("reopen") if isinstance(self.choice, events.Reopen) else self.screen_before

    @cached_property
    def screen_before(self) -> Place:
        """The screen that was seen before."""
        return screen_place(self.plan, self.top_before.face if self.top_before else None)

    @cached_property
    def screen_after(self) -> Place:
        """The screen that is seen after."""
        return screen_place(self.plan, self.top_after.face if self.top_after else None)


def move_place(move: Move) -> Place:
    """Name a move."""
    return Place(move_words(move), move.at)


def screen_place(plan: Plan, face: Face | None) -> Place:
    """Name a screen; the start where none is seen."""
    return Place("the start") if face is None else Place(face.screen, plan.screen[face.screen].at)


def link_place(plan: Plan, address: str) -> Place:
    """Name a link by the address it has in the plan."""
    link = tables(plan).link_of(address).link
    return Place("unknown address") if link is None else Place(link.address, link.at)


def redirect_place(plan: Plan, wanted: str, to: str) -> Place:
    """Name the first redirect that sends from a screen to another."""
    for redirect in plan.redirects:
        if redirect.target.screen == to and redirect.is_for(wanted):
            return Place(f"redirect of {redirect_words(redirect)}", redirect.at)
    return Place("redirects")


def seen_rung(state: State) -> Rung | None:
    """Return the rung that is seen, None where the app is not open, covered or empty."""
    if state.phase is not Phase.OPEN or state.cover:
        return None
    return top_of(state)


def ladders(ladder: Ladder) -> Iterator[Ladder]:
    """Go through a ladder and all that stand inside it, as far as they are known."""
    if isinstance(ladder, Hidden):
        return
    yield ladder
    for rung in ladder:
        for inner in rung.inner:
            yield from ladders(inner)


def holds(plan: Plan, state: State, condition: Condition | None, place: int = -1) -> bool:
    """Whether a condition holds, seen from a place of the visible path, from the top where none is named."""
    doing = Doing(plan, state)
    head, known = doing.head(), ()
    answered: Known = known
    while True:
        view = View(plan, head, answered)
        try:
            return (view.at(place % len(head.path)) if head.path else view).holds(condition)
        except Beneath as asked:
            answered = (*answered, (asked.question, doing.answer(asked.question)))


def what_if(plan: Plan, state: State, event: events.Event) -> Edge | None:
    """Do an event on a copy, no time passing; None where it is refused."""
    doing = Doing(plan, state)
    if set_off(doing, event) is not None:
        return None
    return Edge(plan, state, event, doing.state(), tuple(doing.happened), tuple(doing.taken))


def answered(edge: Edge) -> Edge:
    """Answer what a step asks, and what is asked upon that, by the first answer that goes on, as long as there is one."""
    for _ in edge.plan.guard:
        question = edge.after.question
        answers = edge.plan.guard[question.guard].answers if question is not None else ()
        onward = next((answer.name for answer in answers if not answer.stays), None)
        done = what_if(edge.plan, edge.after, events.Answer(onward)) if onward is not None else None
        if done is None:
            break
        edge = Edge(edge.plan, edge.before, edge.choice, done.after, done.happened, done.taken)
    return edge


def goes_on_by_itself(plan: Plan, state: State) -> bool:
    """Whether something is under way that must come: a timer, or a call that is never silent."""
    return bool(state.pending) or any(call.name != SEEN and not plan.call[call.name].silent for call in state.calls)
