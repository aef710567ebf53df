"""The second reading: its state, ways through it, and conditions."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from wise_ladder.plan import operations as o

At = tuple[tuple[int, int], ...]  # the way to a ladder: the number of each flow or tabs around it, and which of its ladders
Args = dict[str, Any]


@dataclass
class Over:
    """An overlay that is open; `asker` awaits its answer."""

    id: int
    name: str
    asker: int = 0


@dataclass
class Rung:
    """`waits`: names of results, and where each comes from: above, inside, an overlay; `came`: results not delivered yet."""

    id: int
    screen: str
    args: Args
    facts: dict[str, str]
    inner: list[list[Rung]] = field(default_factory=list)
    used: list[int] = field(default_factory=list)
    over: list[Over] = field(default_factory=list)
    waits: list[tuple[str, str]] = field(default_factory=list)
    came: list[tuple[str, str | None]] = field(default_factory=list)
    stands_in: bool = False
    owes: tuple[int, str] | None = None

    def copy(self) -> Rung:
        inner = [[rung.copy() for rung in ladder] for ladder in self.inner]
        lists = inner, list(self.used), list(self.over), list(self.waits), list(self.came)
        return Rung(self.id, self.screen, dict(self.args), dict(self.facts), *lists, self.stands_in, self.owes)

    def shell(self) -> Rung:
        return Rung(self.id, self.screen, dict(self.args), dict(self.facts))

    @property
    def front(self) -> int:
        return self.used[-1]

    @property
    def inside(self) -> At:
        return ((self.id, self.front),) if self.inner else ()


@dataclass
class Timer:
    """`of`: the number of a rung or overlay; `left`: of what outlives its rung, what that was."""

    due: int
    kind: str
    of: int
    after: int
    left: Rung | None = None


@dataclass
class Call:
    id: int
    name: str
    began: int
    where: str | None
    of: int
    was: Rung | None


@dataclass
class Move:
    """`way`: by which guards are asked, none: nobody is; `at`: the ladder it acts on; `owner`, `layer`: its rung, its overlay."""

    does: tuple[Any, ...]
    way: str | None = None
    at: At = ()
    owner: int = 0
    where: str | None = None
    layer: int = 0
    taken_by: str = ""
    granted: tuple[Any, ...] = ()
    finding: str = ""
    is_back: bool = False
    forward: bool = False


@dataclass
class World:
    """Everything there is between two events. `armed`: guards, the rung of each, and what that was if it is gone."""

    facts: dict[str, str]
    phase: str = "outside"
    ladder: list[Rung] = field(default_factory=list)
    over: list[Over] = field(default_factory=list)
    timers: list[Timer] = field(default_factory=list)
    calls: list[Call] = field(default_factory=list)
    armed: list[tuple[Any, int, Rung | None]] = field(default_factory=list)
    fresh: set[int] = field(default_factory=set)
    clock: int = 0
    number: int = 0
    question: tuple[Any, int, Move, int] | None = None  # the guard, its rung, the move it is about, over which rung
    wanted: tuple[str, Args, str] | None = None
    cover: bool = False
    held_link: str = ""
    came_back: bool = False
    memory: bool = False
    bars: tuple[bool, ...] = (True, True)
    seen: tuple[Any, ...] = (None, 0, "")
    since: int = 0

    def copy(self) -> World:
        new = World(**self.__dict__)
        new.facts, new.ladder, new.over = dict(self.facts), [rung.copy() for rung in self.ladder], list(self.over)
        new.timers, new.calls, new.armed, new.fresh = list(self.timers), list(self.calls), list(self.armed), set(self.fresh)
        return new

    @property
    def path(self) -> list[Rung]:
        """The visible path."""
        return tops(self.ladder)

    @property
    def runs(self) -> bool:
        return self.phase in {"open", "away"}

    @property
    def way_in(self) -> At:
        """The way to the innermost visible ladder."""
        return tuple(step for rung in self.path for step in rung.inside)

    def everything(self) -> list[tuple[Rung, At]]:
        return everything(self.ladder)

    def find(self, number: int) -> tuple[Rung, At] | None:
        return next((each for each in everything(self.ladder) if each[0].id == number), None) if number > 0 else None

    def stand(self, rung: Rung | None) -> At:
        """The way to the ladder that a rung stands in."""
        found = self.find(rung.id) if rung else None
        return found[1] if found else ()

    def overlays(self, path: list[Rung]) -> list[tuple[Over, Rung | None]]:
        """The overlays of the app and over a path, opened last at the end."""
        lying: list[tuple[Over, Rung | None]] = [(over, None) for over in self.over]
        return sorted(lying + [(over, rung) for rung in path for over in rung.over], key=lambda each: each[0].id)

    def find_over(self, number: int) -> tuple[Over, Rung | None] | None:
        return next((each for each in self.overlays([r for r, _ in self.everything()]) if each[0].id == number), None)

    def at(self, at: At) -> list[Rung] | None:
        """The ladder that a way leads to, None if something on it is gone."""
        ladder = self.ladder
        for number, tab in at:
            holder = next((rung for rung in ladder if rung.id == number), None)
            if holder is None:
                return None
            ladder = holder.inner[tab]
        return ladder

    def ladder_at(self, at: At) -> list[Rung]:
        ladder = self.at(at)
        assert ladder is not None, at
        return ladder

    def still(self, at: At) -> At:
        while self.at(at) is None:
            at = at[:-1]
        return at

    def along(self, at: At) -> list[Rung]:
        """The flows and tabs along a way, and then the tops from its ladder inwards."""
        holders = [next(rung for rung in self.ladder_at(at[:n]) if rung.id == at[n][0]) for n in range(len(at))]
        return holders + tops(self.ladder_at(at))


def tops(ladder: list[Rung]) -> list[Rung]:
    path: list[Rung] = []
    while ladder:
        path.append(ladder[-1])
        ladder = path[-1].inner[path[-1].front] if path[-1].inner else []
    return path


def everything(ladder: list[Rung], at: At = ()) -> list[tuple[Rung, At]]:
    """Every rung, outer before inner, lowest first, each with the way to its ladder."""
    found: list[tuple[Rung, At]] = []
    for rung in ladder:
        found.append((rung, at))
        for number, inner in enumerate(rung.inner):
            found += everything(inner, (*at, (rung.id, number)))
    return found


def place(ladder: list[Rung], rung: Rung) -> int:
    return next(number for number, each in enumerate(ladder) if each is rung)


@dataclass
class View:
    """Who reads a condition: the app (no rung), or a rung; `at`: of one that is gone, where it stood."""

    rung: Rung | None = None
    values: Args = field(default_factory=dict)
    at: At = ()


def holds(world: World, condition: Any, view: View) -> bool:
    match condition:
        case None:
            return True
        case o.FactIs(name, value):
            return world.facts[name] == value
        case o.OwnIs(name, value):
            return view.rung is not None and view.rung.facts.get(name) == value
        case o.ArgumentIs(name, value):
            return bool({**(view.rung.args if view.rung else {}), **view.values}.get(name) == value)
        case o.Not(inner):
            return not holds(world, inner, view)
        case o.All(parts):
            return all(holds(world, part, view) for part in parts)
        case o.Either(parts):
            return any(holds(world, part, view) for part in parts)
        case o.DepthOver(rungs):
            return depth(world.ladder) > rungs
        case o.Alone():
            return len(world.ladder) == 1 if view.rung is None else stands(world, view)[1] == 0
        case o.OnLadder(screen):
            return any(rung.screen == screen for rung in around(world, view))
        case o.BeneathIs(screen):
            return any(rung.screen == screen for rung in beneath(world, view))
    raise AssertionError(condition)


def depth(ladder: list[Rung]) -> int:
    return sum(depth(rung.inner[rung.front]) if rung.inner else 1 for rung in ladder)


def stands(world: World, view: View) -> tuple[At, int]:
    """Where the reader stands: the way to its ladder, and how many rungs lie beneath it there."""
    path = world.path
    found = world.find(view.rung.id if view.rung else path[-1].id if path else 0)
    if found is None:
        at = world.still(view.at)
        return at, len(world.ladder_at(at))
    return found[1], place(world.ladder_at(found[1]), found[0])


def around(world: World, view: View) -> list[Rung]:
    """The rungs of the visible ladders; for a hidden reader those of the ladders on the way to it."""
    hidden = view.rung is not None and all(rung.id != view.rung.id for rung in world.path)
    at = stands(world, view)[0] if hidden else ()
    found, ladder = list[Rung](), world.ladder
    for level, rung in enumerate(world.along(at)):
        found += ladder[: place(ladder, rung) + 1]
        ladder = rung.inner[at[level][1] if level < len(at) else rung.front] if rung.inner else []
    return found


def beneath(world: World, view: View) -> list[Rung]:
    at, number = stands(world, view)
    while number == 0 and at:
        outer = world.ladder_at(at[:-1])
        number, at = next(n for n, rung in enumerate(outer) if rung.id == at[-1][0]), at[:-1]
    return tops([world.ladder_at(at)[number - 1]]) if number else []


def filled(target: o.Target, values: Args) -> o.Target:
    given = [(name, values[v.name] if isinstance(v, o.Variable) else v) for name, v in target.arguments]
    return o.Target(target.screen, tuple(given))
