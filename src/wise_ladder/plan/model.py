"""What a plan says, as plain data: the input of every other package.

Times are whole milliseconds, weights whole bytes. Nothing here knows of files or of YAML. The data are msgspec structs: they
are made, compared and hashed at C speed, and a hundred such classes cost no start-up time.
"""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias

from msgspec import Struct
from msgspec.structs import replace

from wise_ladder.plan.conditions import Condition
from wise_ladder.plan.events import Walk
from wise_ladder.plan.operations import Operation, StartTimer, Target, all_of, puts
from wise_ladder.plan.policies import DEFAULT_WAYS, Policies, Way
from wise_ladder.plan.rule import Rule, StarterSet
from wise_ladder.plan.triggers import RunsOutTrigger, Trigger
from wise_ladder.plan.values import NO_SPAN, CodePlace, Parameter, Span, let_through
from wise_ladder.plan.world import Call, Cover, Given, Link, MemoryLimits, Replies, Timer

if TYPE_CHECKING:
    from collections.abc import Callable

MAX_NESTED = 32
"""So many flows and tabs may stand inside each other."""

Lifetime: TypeAlias = Literal["memory", "disk", "ladder", "none"]
LIFETIMES: tuple[Lifetime, ...] = ("memory", "disk", "ladder")
HELD_LIFETIMES: tuple[Lifetime, ...] = ("none", "memory", "ladder", "disk")
"""Of facts that a rung or an overlay holds: `none` is lost when the screen is remade, `memory` when the app is killed."""


class Fact(Struct, frozen=True):
    """A named piece of state with a few possible values; the first is what it starts with."""

    name: str
    values: tuple[str, ...]
    lifetime: Lifetime = "memory"
    allowed_changes: tuple[tuple[str, str], ...] = ()
    """The changes the world may make, each from a value to a value."""
    at: Span = NO_SPAN


class MoveId(NamedTuple):
    """Which move: the screen, flow or overlay it stands on (None: anywhere) and its place among the moves there."""

    owner: str | None
    number: int


class Move(Struct, frozen=True):
    """What happens on a screen: a trigger, a condition, operations done as one."""

    trigger: Trigger
    condition: Condition | None
    operations: tuple[Operation, ...]
    owner: str | None
    """The screen, flow or overlay it stands on; None for `anywhere`."""
    number: int
    """Its place among the moves that stand there, from 0."""
    only: tuple[str, ...] = ()
    """For a move that stands anywhere: the only screens it is for; empty means all."""
    excluded: tuple[str, ...] = ()
    """For a move that stands anywhere: the screens it is not for."""
    when: str = ""
    """The trigger as it was written."""
    phrases: tuple[str, ...] = ()
    """The operations as they were written."""
    at: Span = NO_SPAN
    do_at: Span = NO_SPAN
    """Where the operations stand."""

    @property
    def id(self) -> MoveId:
        """Which move it is."""
        return MoveId(self.owner, self.number)

    @property
    def text(self) -> str:
        """The operations in one line."""
        return "; ".join(self.phrases)


class GuardId(NamedTuple):
    """Which guard: the screen, flow or overlay it stands on (None: the app) and its place among the guards there."""

    owner: str | None
    number: int


class AnswerOption(Struct, frozen=True):
    """An answer to a question: it stays, or it goes on; and what it does."""

    name: str
    stays: bool
    operations: tuple[Operation, ...] = ()


class Guard(Struct, frozen=True):
    """Stands in the way of leaving while its condition holds: blocks, asks, or does something else instead."""

    name: str
    id: GuardId
    condition: Condition | None
    decision: Literal["block", "ask", "do"]
    text: str = ""
    answers: tuple[AnswerOption, ...] = ()
    operations: tuple[Operation, ...] = ()
    ways: tuple[Way, ...] = DEFAULT_WAYS
    watches: Literal["its own", "everything inside", "what is put over it"] = "its own"
    first_in_line: bool = False
    app_scoped: bool = False
    """`scope: app`: stays armed after its rung went."""
    at_press: bool = False
    """`decides: at the press`: whether it takes a Back is not known before."""
    at: Span = NO_SPAN


class Arrow(Struct, frozen=True):
    """Where the header's arrow leads; `fresh`: to a new copy of what is there."""

    target: Target
    condition: Condition | None = None
    fresh: bool = False


HeaderButton: TypeAlias = Literal["arrow", "menu", "none"]
Bar: TypeAlias = Literal["unsaid", "shown", "hidden", "as they were"]
BARS: tuple[Bar, ...] = ("unsaid", "shown", "hidden", "as they were")


class Screen(Struct, frozen=True):
    """One screen of the app; `holds` are facts that each of its rungs has for itself.

    A flow is a screen that holds a ladder of its own, tabs one that holds several: `inside` names each and its first screen.
    """

    name: str
    takes: tuple[Parameter, ...] = ()
    holds: tuple[Fact, ...] = ()
    gives: tuple[Parameter, ...] = ()
    """The results it may return, each with its type and values."""
    moves: tuple[Move, ...] = ()
    guards: tuple[Guard, ...] = ()
    weight: int = 0
    hidden: int | None = None
    """What it weighs after low memory while it is not visible; None: as much as before."""
    foreign: bool = False
    """Whether it is a screen of another app: nothing of ours is asked or tapped there."""
    apart: bool = False
    """Of a screen of another app: whether who leaves for home and reopens our app comes back to ours."""
    most: int | None = None
    """Of more of its rungs than this on one ladder the lowest goes; None: any number may be there."""
    plays: int = 0
    """So many milliseconds it must be seen before it may go by itself."""
    top_bar: Bar = "unsaid"
    bottom_bar: Bar = "unsaid"
    header: HeaderButton = "arrow"
    menu: str = ""
    """The overlay that the header's menu button opens."""
    arrow: tuple[Arrow, ...] = ()
    inside: tuple[tuple[str, Target], ...] = ()
    tabs: bool = False
    at: Span = NO_SPAN


def tab_for(holder: Screen, following: str) -> int | None:
    """Return which ladder inside a screen the next screen of a link's build stands on; None: it stands over that screen.

    In tabs, this is the tab that begins with the next screen.
    """
    firsts = [first.screen for _, first in holder.inside]
    if following in firsts:
        return firsts.index(following)
    return 0 if holder.inside and not holder.tabs else None


OverlayKind: TypeAlias = Literal["dialog", "sheet", "drawer", "wait", "notice", "bar"]
OVERLAY_KINDS: tuple[OverlayKind, ...] = ("dialog", "sheet", "drawer", "wait", "notice", "bar")
OnBack: TypeAlias = Literal["closes", "blocked", "passes"]
DEFAULT_BACK: dict[OverlayKind, OnBack] = {
    "dialog": "closes",
    "sheet": "closes",
    "drawer": "closes",
    "wait": "blocked",
    "notice": "passes",
    "bar": "passes",
}


class Overlay(Struct, frozen=True):
    """Something on top of a rung that is not a screen of its own."""

    name: str
    kind: OverlayKind
    of: str = ""
    """The flow, tabs or `app` it belongs to; nothing: the rung it is opened on."""
    back: OnBack = "closes"
    time: int | None = None
    """After so many milliseconds it goes by itself."""
    gives: tuple[Parameter, ...] = ()
    moves: tuple[Move, ...] = ()
    guards: tuple[Guard, ...] = ()
    at: Span = NO_SPAN
    holds: tuple[Fact, ...] = ()
    """Facts that it has for itself while it is open."""

    @property
    def modal(self) -> bool:
        """Whether it takes the taps: all but a notice and a bar do."""
        return self.kind not in {"notice", "bar"}


class Redirect(Struct, frozen=True):
    """Sends a put of these screens (none named: of all) to another, and perhaps remembers where it was meant to go."""

    target: Target
    only: tuple[str, ...] = ()
    excluded: tuple[str, ...] = ()
    condition: Condition | None = None
    remember: bool = False
    at: Span = NO_SPAN

    def is_for(self, screen: str) -> bool:
        """Whether it may turn a put of a screen away; it never catches its own target."""
        return let_through(screen, self.only, self.excluded) and screen != self.target.screen


class StartChoice(Struct, frozen=True):
    """The screen that is put at launch if the condition holds; the first that does is taken."""

    target: Target
    condition: Condition | None = None


PlanPart: TypeAlias = Move | Guard | Redirect | Link
"""What of a plan is asked when something happens, and can be edited by itself."""


class PlanWarning(Struct, frozen=True):
    """Something that may be meant and probably is not: where it stands, and what it is; `told`: ready to print."""

    at: Span
    what: str
    told: str


THE_GROUND = "the ground"
AS_DECLARED = "as declared"
"""Facts begin with their first values."""


class Plan(Struct, frozen=True, eq=False, weakref=True, dict=True):
    """One app. Two plans are the same only if they are the very same object, so that tables can be kept for each."""

    app: str
    start: tuple[StartChoice, ...]
    policies: Policies
    facts: tuple[Fact, ...]
    screens: tuple[Screen, ...]
    overlays: tuple[Overlay, ...] = ()
    anywhere: tuple[Move, ...] = ()
    guards: tuple[Guard, ...] = ()
    redirects: tuple[Redirect, ...] = ()
    calls: tuple[Call, ...] = ()
    timers: tuple[Timer, ...] = ()
    cover: Cover | None = None
    links: tuple[Link, ...] = ()
    unknown_target: Target | None = None
    """Where an address leads that no link matches."""
    memory: MemoryLimits = MemoryLimits()
    phones: tuple[tuple[str, Policies], ...] = ()
    """Named sets of policies; the first applies if none is chosen."""
    phone: str = ""
    """The one that is in force."""
    givens: tuple[Given, ...] = ()
    """Named sets of what the app begins with; none applies if none is chosen."""
    given: Given = Given()
    """The one that is in force; without a name: facts begin as they are declared."""
    walks: tuple[Walk, ...] = ()
    rules: tuple[Rule | StarterSet, ...] = (StarterSet(),)
    """What must hold; if the plan says nothing, the starter set."""
    about: str = ""
    """What the plan is for, in a sentence."""
    warnings: tuple[PlanWarning, ...] = ()
    """What may be meant and probably is not."""

    code: tuple[tuple[Span, CodePlace], ...] = ()
    """Where in the app's own code parts are, each with its place in the plan."""

    @cached_property
    def code_of(self) -> dict[Span, CodePlace]:
        """Where in the app's own code each part is, by its place in the plan; moves and guards are where their screen is."""
        code = dict(self.code)
        places: list[Screen | Overlay] = [*self.screens, *self.overlays]
        for place in places:
            for at in (*(move.at for move in place.moves), *(guard.at for guard in place.guards)):
                if place.at in code:
                    code.setdefault(at, code[place.at])
        return code

    @cached_property
    def screen(self) -> dict[str, Screen]:
        """Each screen, flow and tabs by its name."""
        return {screen.name: screen for screen in self.screens}

    @cached_property
    def overlay(self) -> dict[str, Overlay]:
        """Each overlay by its name."""
        return {overlay.name: overlay for overlay in self.overlays}

    @cached_property
    def fact_index(self) -> dict[str, int]:
        """Where in a state's facts the value of each fact stands."""
        return {fact.name: place for place, fact in enumerate(self.facts)}

    @cached_property
    def call(self) -> dict[str, Call]:
        """Each call by its name."""
        return {call.name: call for call in self.calls}

    @cached_property
    def timer(self) -> dict[str, Timer]:
        """Each timer of the app by its name."""
        return {timer.name: timer for timer in self.timers}

    @cached_property
    def beats(self) -> frozenset[str]:
        """The timers of the app that are started again when one runs out: that one runs tells nothing about an end."""
        by_time = (move for move in self.moves if isinstance(move.trigger, RunsOutTrigger))
        return frozenset(done.timer for move in by_time for done in all_of(move.operations) if isinstance(done, StartTimer))

    def screens_opened(self, name: str) -> list[str]:
        """Return a screen, and after it what stands first inside it, where it is a flow or tabs."""
        inside = self.screen[name].inside
        return [name, *(self.screens_opened(inside[0][1].screen) if inside else ())]

    @cached_property
    def first_screens(self) -> frozenset[str]:
        """The screens that can be lowest after a launch without a link: the start, its redirects, what goes on by itself."""
        names = [choice.target.screen for choice in self.start] + _put_by_themselves(self.anywhere)
        screens: set[str] = set()
        while names:
            inside = self.screens_opened(names.pop())
            sent = (each for each in self.redirects if any(each.is_for(name) for name in inside))
            more = [redirect.target.screen for redirect in sent]
            more += [target for name in inside for target in _put_by_themselves(self.screen[name].moves)]
            screens.update(inside)
            names += [name for name in more if name not in screens]
        return frozenset(screens)

    @cached_property
    def only_called(self) -> frozenset[str]:
        """The screens that come only where their result is awaited."""
        done = [operation for move in self.moves for operation in move.operations]
        for guard in self.guard.values():
            done += [*guard.operations, *(operation for answer in guard.answers for operation in answer.operations)]
        others = {put.target.screen for put in puts(done) if not getattr(put, "awaiting", "")}
        others |= {choice.target.screen for choice in self.start}
        others |= {target.screen for link in self.links for target in link.build}
        others |= {target.screen for screen in self.screens for _, target in screen.inside}
        others |= {redirect.target.screen for redirect in self.redirects}
        return frozenset(screen.name for screen in self.screens if screen.name not in others)

    @property
    def owners(self) -> list[Screen | Overlay]:
        """Everything that moves and guards can stand on."""
        return [*self.screens, *self.overlays]

    @cached_property
    def guard(self) -> dict[GuardId, Guard]:
        """Each guard by its id."""
        return {guard.id: guard for guards in (self.guards, *(place.guards for place in self.owners)) for guard in guards}

    @property
    def moves(self) -> tuple[Move, ...]:
        """Every move in the order of the file, those that stand anywhere last."""
        return tuple(move for place in self.owners for move in place.moves) + self.anywhere

    def with_moves(self, change: Callable[[Move], Move]) -> Plan:
        """Return the plan with each move changed."""

        def changed(moves: tuple[Move, ...]) -> tuple[Move, ...]:
            return tuple([change(move) for move in moves])

        return replace(
            self,
            screens=tuple([replace(screen, moves=changed(screen.moves)) for screen in self.screens]),
            overlays=tuple([replace(overlay, moves=changed(overlay.moves)) for overlay in self.overlays]),
            anywhere=changed(self.anywhere),
        )

    @property
    def things(self) -> tuple[PlanPart, ...]:
        """Every move, guard, redirect and link."""
        return *self.moves, *self.guard.values(), *self.redirects, *self.links

    def on_phone(self, name: str) -> Plan:
        """Return the same plan with the policies of a phone; raises KeyError if there is no such phone."""
        policies = dict(self.phones)[name]
        return self if name == self.phone else replace(self, policies=policies, phone=name)

    def with_given(self, name: str) -> Plan:
        """Return the plan that begins with what is given by a name, with none as declared; raises KeyError if there is none."""
        given = {"": Given(), **{each.name: each for each in self.givens}}[name]
        return self if name == self.given.name else replace(self, given=given)

    def placed_like(self, other: Plan) -> Plan:
        """Return the plan on the phone and with the named given of another version of it, as far as it has them."""
        plan = self.on_phone(other.phone) if other.phone in dict(self.phones) else self
        return plan.with_given(other.given.name) if other.given.name in {each.name for each in plan.givens} else plan

    def for_walk(self, walk: Walk) -> Plan:
        """Return the plan on the phone, and with the named given, that a walk asks for."""
        plan = self.on_phone(walk.phone) if walk.phone else self
        return plan.with_given(walk.named_given) if walk.named_given else plan

    def coming(self, replies: Replies) -> Replies:
        """Return the replies that come by themselves: these, and for other calls those of the named given."""
        return *replies, *(each for each in self.given.replies if each[0] not in dict(replies))

    @property
    def where(self) -> str:
        """Say which of several phones it runs on, and what named given it begins with; nothing if there is no choice."""
        phone = [f"on {self.phone}"] if len(self.phones) > 1 else []
        return ", ".join([*phone, *([f"given {self.given.name}"] if self.given.name else [])])

    def others(self) -> dict[str, Plan]:
        """Return the same plan on each other phone, and with each other named given; by what is different there."""
        phones = {f"on {name}": self.on_phone(name) for name, _ in self.phones if name != self.phone}
        names = ["", *(given.name for given in self.givens)]
        givens = {f"given {name}" if name else AS_DECLARED: self.with_given(name) for name in names if name != self.given.name}
        return phones | givens


def _put_by_themselves(moves: tuple[Move, ...]) -> list[str]:
    """Name the screens put by moves that run by themselves."""
    themselves = (move for move in moves if move.trigger.record.by_itself)
    return [put.target.screen for move in themselves for put in puts(move.operations)]
