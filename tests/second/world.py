"""The second reading: its state, ways through it, and conditions."""

from __future__ import annotations

from copy import copy
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Any

from wise_ladder.plan import conditions as c
from wise_ladder.plan import operations as o

Args = dict[str, Any]


@dataclass(eq=False)
class Ladder:
    """The app's, or one inside a flow or tabs: those are its holder."""

    holder: Rung | None = None
    tab: str = ""
    rungs: list[Rung] = field(default_factory=list)


@dataclass(eq=False)
class Rung:
    """`waits`: names of results, and where each comes from: above, inside, an overlay; `came`: results not delivered yet."""

    name: str
    args: Args = field(default_factory=dict)
    facts: dict[str, str] = field(default_factory=dict)
    home: Ladder = field(default_factory=Ladder)
    inner: list[Ladder] = field(default_factory=list)
    used: list[int] = field(default_factory=list)
    over: list[Over] = field(default_factory=list)
    waits: list[tuple[str, str]] = field(default_factory=list)
    came: list[tuple[str, str | None]] = field(default_factory=list)
    stands_in: bool = False
    owes: tuple[Rung, str] | None = None

    def shell(self) -> Rung:
        """The rung as it is now, for when it has gone."""
        return Rung(self.name, dict(self.args), dict(self.facts))


@dataclass(eq=False)
class Over:
    """An overlay that is open: over which rung, none for one of the app; `asker` awaits its answer."""

    name: str
    under: Rung | None
    number: int
    asker: Rung | None = None
    facts: dict[str, str] = field(default_factory=dict)
    undo: list[tuple[Rung | None, str, str]] = field(default_factory=list)

    def shell(self) -> Rung:
        return Rung(self.name, facts=dict(self.facts))


Place = Rung | Over | None  # where a move or a guard stands; None: the app, anywhere


@dataclass
class Timer:
    """`left`: what `of` was at first, for one that outlives it."""

    due: int
    kind: str
    after: int
    of: Place
    left: Rung | None = None


@dataclass
class Call:
    name: str
    began: int
    of: Place


@dataclass
class Move:
    """`way`: by which guards are asked, none: nobody is; `at`: the ladder it acts on, none: the app's."""

    does: tuple[Any, ...]
    way: str | None = None
    at: Ladder | None = None
    place: Place = None
    taken_by: str = ""
    granted: tuple[Any, ...] = ()
    finding: str = ""
    is_back: bool = False
    forward: bool = False


@dataclass
class World:
    """Everything there is between two events. `armed`: guards, each with its rung; `number`: how many overlays were opened."""

    facts: dict[str, str]
    phase: str = "outside"
    ladder: Ladder = field(default_factory=Ladder)
    over: list[Over] = field(default_factory=list)
    timers: list[Timer] = field(default_factory=list)
    calls: list[Call] = field(default_factory=list)
    armed: list[tuple[Any, Rung | None]] = field(default_factory=list)
    fresh: set[Place] = field(default_factory=set)
    clock: int = 0
    number: int = 0
    question: Any = None  # the guard, its place, the move it is about, over which rung
    wanted: tuple[str, Args, str] | None = None
    cover: bool = False
    held_link: str = ""
    came_back: bool = False
    begun: tuple[Any, ...] | None = None  # what the gesture of Back has promised
    memory: bool = False
    bars: tuple[bool, ...] = (True, True)
    seen: tuple[Any, ...] = (None, None, "")
    since: int = 0

    def end(self, **more: Any) -> None:
        """All that does not outlive the app goes, but for the ladder."""
        lists: Any = {"over": [], "timers": [], "calls": [], "armed": []}
        none = dict.fromkeys(("question", "wanted", "begun"))
        self.__dict__.update({**lists, **none, "cover": False, "held_link": "", "came_back": False, "memory": False, **more})

    def saved(self) -> list[tuple[Any, dict[str, Any]]]:
        """What `restore` takes to make everything as it is now."""
        rungs = everything(self.ladder.rungs)
        things: list[Any] = [self, self.ladder, *rungs, *(ladder for rung in rungs for ladder in rung.inner)]
        things += [*self.over, *(over for rung in rungs for over in rung.over)]
        copied = (list, dict, set)
        return [(each, {k: copy(v) if isinstance(v, copied) else v for k, v in vars(each).items()}) for each in things]

    def call(self, name: str) -> Any:
        return next((call for call in self.calls if call.name == name), None)

    @property
    def path(self) -> list[Rung]:
        """The visible path."""
        return tops(self.ladder.rungs)

    @property
    def innermost(self) -> Ladder:
        """The innermost visible ladder."""
        return along(self.ladder)[-1]

    @property
    def runs(self) -> bool:
        return self.phase in {"open", "away"}

    def there(self, place: Place) -> bool:
        """Whether a rung is on a ladder, an overlay open."""
        if isinstance(place, Over):
            return place in (place.under.over if place.under else self.over) and self.there(place.under)
        return place is None or (place in place.home.rungs and self.there(place.home.holder))

    def still(self, ladder: Ladder | None) -> Ladder:
        """The ladder, or if that is gone the nearest around it."""
        while ladder is not None and ladder.holder is not None and not self.there(ladder.holder):
            ladder = ladder.holder.home
        return ladder or self.ladder

    def hidden(self, ladder: Ladder | None) -> bool:
        return ladder is not None and ladder not in along(self.ladder)

    def lying(self, path: list[Rung]) -> list[Over]:
        """The overlays of the app and over a path, opened last at the end."""
        return sorted([*self.over, *(over for rung in path for over in rung.over)], key=lambda over: over.number)

    def visible(self) -> list[Place]:
        """What is visible, inner first."""
        found: list[Place] = [*reversed(self.over)]
        for rung in reversed(self.path):
            found += [*reversed(rung.over), rung]
        return found


def restore(saved: list[tuple[Any, dict[str, Any]]]) -> None:
    for thing, was in saved:
        thing.__dict__.update(was)


def tops(rungs: list[Rung]) -> list[Rung]:
    """The last of some rungs, and what is seen inside it."""
    path = rungs[-1:]
    while path and path[-1].inner and (inside := seen_inside(path[-1]).rungs):
        path.append(inside[-1])
    return path


def seen_inside(rung: Rung) -> Ladder:
    return rung.inner[rung.used[-1]]


def holders(ladder: Ladder) -> list[Rung]:
    """The flows and tabs around a ladder, outer first."""
    return [*holders(ladder.holder.home), ladder.holder] if ladder.holder else []


def along(ladder: Ladder) -> list[Ladder]:
    """The ladders around one, itself, and those seen inside it."""
    return [*(rung.home for rung in holders(ladder)), ladder, *(seen_inside(rung) for rung in tops(ladder.rungs) if rung.inner)]


def everything(rungs: list[Rung]) -> list[Rung]:
    """Rungs and all inside them, outer before inner, lowest first."""
    return [each for rung in rungs for each in (rung, *(r for ladder in rung.inner for r in everything(ladder.rungs)))]


def rung_of(place: Place) -> Rung | None:
    return place.under if isinstance(place, Over) else place


@dataclass
class View:
    """Who reads a condition: the app (no rung), or a rung; `at`: of one that is gone, where it stood."""

    rung: Rung | None = None
    values: Args = field(default_factory=dict)
    at: Ladder | None = None
    own: dict[str, str] | None = None  # the facts of an overlay, if it is one that reads


def holds(world: World, condition: Any, view: View) -> bool:
    match condition:
        case None:
            return True
        case c.FactIs(name, value):
            return world.facts[name] == value
        case c.RungFactIs(name, value):
            held = view.own if view.own is not None else view.rung.facts if view.rung is not None else {}
            return held.get(name) == value
        case c.ArgumentIs(name, value):
            return bool({**(view.rung.args if view.rung else {}), **view.values}.get(name) == value)
        case c.Not(inner):
            return not holds(world, inner, view)
        case c.AllOf(parts) | c.AnyOf(parts):
            return (all if isinstance(condition, c.AllOf) else any)(holds(world, part, view) for part in parts)
        case c.DepthOver(rungs):
            return depth(world.ladder) > rungs
        case c.Alone():
            return len(world.ladder.rungs) == 1 if view.rung is None else stands(world, view)[1] == 0
        case c.OnLadder(screen):
            hidden = view.rung is not None and view.rung not in world.path
            ladders = along(stands(world, view)[0] if hidden else world.ladder)
            seen = [lower.rungs[: place_of(upper.holder) + 1] for lower, upper in pairwise(ladders) if upper.holder]
            return any(rung.name == screen for rungs in (*seen, ladders[-1].rungs) for rung in rungs)
        case c.BeneathIs(screen):
            ladder, below = stands(world, view)
            while not below and (holder := ladder.holder):
                ladder, below = holder.home, place_of(holder)
            return below > 0 and any(rung.name == screen for rung in tops(ladder.rungs[:below]))
        case c.TimerRuns(name):
            return any(timer.kind == name for timer in world.timers)
        case c.TabInFront(tab) | c.TabAtRoot(tab):
            top = next(iter(world.path[-1:]), None) if view.rung is None else view.rung
            around = holders(stands(world, view)[0]) + ([top] if top is not None and world.there(top) else [])
            found: Any = next((ladder for holder in reversed(around) for ladder in holder.inner if ladder.tab == tab), None)
            in_front = found and seen_inside(found.holder) is found
            return bool(in_front if isinstance(condition, c.TabInFront) else found and len(found.rungs) < 2)
    raise AssertionError(condition)


def depth(ladder: Ladder) -> int:
    return sum(depth(seen_inside(rung)) if rung.inner else 1 for rung in ladder.rungs)


def place_of(rung: Rung) -> int:
    """How many rungs lie beneath one in its ladder."""
    return rung.home.rungs.index(rung)


def stands(world: World, view: View) -> tuple[Ladder, int]:
    """Where the reader stands: its ladder, and how many rungs lie beneath it there."""
    rung = view.rung or next(iter(world.path[-1:]), None)
    if rung is not None and world.there(rung):
        return rung.home, place_of(rung)
    ladder = world.still(view.at)
    return ladder, len(ladder.rungs)


def seen_from(place: Place, values: Any = ()) -> View:
    """What a place reads that is there."""
    return View(rung_of(place), dict(values), own=place.facts if isinstance(place, Over) else None)


def filled(target: o.Target, values: Args) -> o.Target:
    return o.Target(
        target.screen, tuple((name, values[v.name] if isinstance(v, o.Variable) else v) for name, v in target.arguments)
    )
