"""The second reading: a move as a whole, the guards it meets, puts, and what goes with a rung."""

from __future__ import annotations

from typing import Any

from tests.second.world import (
    Ladder,
    Move,
    Over,
    Place,
    Rung,
    Timer,
    View,
    World,
    everything,
    filled,
    holders,
    holds,
    place_of,
    restore,
    rung_of,
    seen_from,
    seen_inside,
    tops,
)
from wise_ladder.plan import Plan, triggers
from wise_ladder.plan import operations as o

Guards = list[tuple[Any, Place, bool]]  # each with the place it is for; yes: it holds, whatever is so now


class Stays(Exception):
    """A guard stands in the way: which, for what place, who was asked up to that."""


class Undone(Exception):
    """The move meets what it cannot do."""


class Before:
    """What is asked later of the time before a move."""

    def __init__(self, world: World) -> None:
        self.facts, self.saved, self.gone = dict(world.facts), world.saved(), [alike(each) for each in gone_of(world)]
        self.visible = world.visible() if world.phase == "open" and not world.cover else []


class Moves:
    """Does moves; what follows from them is noted for the agenda."""

    starting = remaking = False
    goal: Any
    operate: Any

    def __init__(self, plan: Plan, world: World) -> None:
        self.plan, self.world, self.granted = plan, world, list[Any]()
        self.log: list[tuple[Any, ...]] = []
        self.effects: list[str] = []
        owners: list[Any] = [*plan.screens, *plan.overlays]
        self.with_parts = {given.name for owner in owners for given in owner.gives if given.parts}
        self.begin()

    def begin(self) -> None:
        self.before = Before(self.world)
        self.asked, self.consulted, self.went, self.closed = set[Any](), set[Rung](), list[Rung](), list[Over]()
        self.came, self.phases, self.uncovered, self.emptied = list[Place](), list[str](), list[Rung](), list[Ladder]()
        self.rung_facts: dict[tuple[Place, str], str] = {}
        self.inside: Ladder | None = None
        self.out = self.remaking = False

    def say(self, *what: Any) -> None:
        self.log.append(what)

    def policy(self, name: str) -> Any:
        self.effects.append(f"{name} {getattr(self.plan.policies, name)}")
        return getattr(self.plan.policies, name)

    def foreign(self, rung: Rung | None) -> bool:
        """Whether a rung is a screen of another app."""
        return rung is not None and bool(self.plan.screen[rung.name].foreign)

    def is_tabs(self, rung: Rung) -> bool:
        return bool(self.plan.screen[rung.name].tabs)

    # A move as a whole

    def do(self, move: Move) -> None:
        """Do all operations of a move; what a guard decides, or what cannot be done, undoes it."""
        self.begin()
        said, self.granted = len(self.log), list(move.granted)
        try:
            if move.forward:
                self.world.phase, self.world.memory = "open", False
            if move.finding:
                self.say("finding", move.finding)
            if move.is_back:
                self.goal(move)
            self.operations(move)
        except Undone as undone:
            self.undo(said, undone)
        except Stays as stays:
            self.undo(said)
            self.stay(move, *stays.args)
        self.close()

    def undo(self, said: int, why: Undone | None = None) -> None:
        restore(self.before.saved)
        del self.log[said:]
        self.begin()
        if why is not None:
            self.say("finding", str(why))

    def stay(self, move: Move, guard: Any, place: Place, asked: set[Any]) -> None:
        if guard.decision == "ask":
            self.say("asked", guard.name)
            self.world.question = guard, place, move, next(iter(self.world.path[-1:]), None)
            return
        self.say("blocked" if guard.decision == "block" else "instead", guard.name)
        self.asked = asked
        self.act_for(place, guard.operations)

    def act_for(self, place: Place, does: tuple[Any, ...]) -> None:
        """Do what a guard does or an answer, for the guard's own place; nobody is asked about it."""
        said = len(self.log)
        try:
            self.operations(Move(does, at=self.ladder_of(place) if self.world.there(rung_of(place)) else None, place=place))
        except Undone as undone:
            self.undo(said, undone)

    def ladder_of(self, place: Place) -> Ladder:
        """The ladder that a move acts on which stands at a place."""
        if isinstance(place, Over) or place is None:
            return place.under.home if place and place.under else self.world.ladder
        return seen_inside(place) if place.inner else place.home

    def operations(self, move: Move) -> None:
        """One after the other: on the ladder of the move, or what is left around it, or on that of a tab change."""
        for what in move.does:
            if not self.out:
                self.operate(move, what, self.world.still(self.inside or move.at))
        while self.emptied and not self.out:
            ladder = self.emptied.pop()
            waits = ladder.holder is None and (self.world.cover or self.starting)
            if self.world.runs and not ladder.rungs and not waits and self.world.there(ladder.holder):
                self.fill(move, ladder)

    def fill(self, move: Move, ladder: Ladder) -> None:
        """A ladder was left empty: a flow goes, a tab gets its first rung, the app is left."""
        if ladder.holder is None:
            self.leave(move)
        elif self.is_tabs(ladder.holder):
            self.put_first(ladder)
        else:
            self.drop(move, ladder.holder)

    def close(self) -> None:
        """End a move: a question about something else goes, guards that come first are armed, what is seen waits no more."""
        world, path = self.world, self.world.path
        for over in self.came:
            if isinstance(over, Over) and any(o.TakeBack() in move.operations for move in self.moves_of(over)):
                over.undo = [(None, *was) for was in self.before.facts.items() if was not in world.facts.items()]
                held = [(over.under, name, was) for (rung, name), was in self.rung_facts.items() if rung is over.under]
                over.undo += [each for each in held if each[0] and each[0].facts[each[1]] != each[2]]
        if world.question is not None and world.question[3] not in path[-1:]:
            world.question = None
        if world.runs:
            self.arm()
        for rung in path if world.phase == "open" else ():
            self.settle(rung, "above", None)

    def arm(self) -> None:
        world = self.world
        owners: list[tuple[Rung | None, Any]] = [(None, self.plan.guards)]
        owners += [(rung, self.plan.screen[rung.name].guards) for rung in everything(world.ladder.rungs)]
        first = [(guard, rung) for rung, guards in owners for guard in guards if guard.first_in_line or guard.app_scoped]
        now = [(guard, rung) for guard, rung in first if holds(world, guard.condition, View(rung))]
        gone = {alike(each): each for each in reversed(gone_of(world))}
        self.log += [("finding", "handler outlived its screen") for each in gone if each not in self.before.gone]
        kept = [each for each in world.armed if each in now]
        world.armed = [*reversed(gone.values()), *kept, *(each for each in now if each not in kept)]

    # Guards

    def consult(self, move: Move, guards: Guards) -> None:
        """Ask guards, each once a move for each rung."""
        for guard, place, firm in guards if move.way is not None else ():
            if (guard.id, rung_of(place)) in self.asked:
                continue
            self.asked.add((guard.id, rung_of(place)))
            self.effects.append(f"way {move.way}")
            if guard.id in self.granted:
                self.granted.remove(guard.id)
                continue
            sees = move.way in guard.ways and move.way in self.plan.policies.guards_see
            if sees and (not guard.at_press or guard.name == move.taken_by) and (firm or self.stands(guard, place)):
                raise Stays(guard, place, set(self.asked))

    def stands(self, guard: Any, place: Place) -> bool:
        return holds(self.world, guard.condition, seen_from(place))

    def of_place(self, place: Rung | Over) -> Guards:
        known = self.plan.overlay if isinstance(place, Over) else self.plan.screen
        return [(guard, place, False) for guard in known[place.name].guards]

    def first_asked(self) -> Guards:
        """The armed guards that come first, the latest first; those of rungs that are gone while their condition holds."""
        path, there = self.world.path, self.world.there
        armed = [(guard, rung) for guard, rung in reversed(self.world.armed) if there(rung) or self.stands(guard, rung)]
        return [(guard, rung, rung is not None and rung not in path) for guard, rung in armed]

    def leaving(self, move: Move, going: list[Rung], *, app: bool = False) -> None:
        """Ask about all that goes when a rung goes with what is seen inside it, or the app is left: inside out."""
        if move.way is None or not (going or app):
            return
        seen = self.world.path
        guards = [each for each in self.first_asked() if each[2] and each[0].app_scoped]
        for rung in reversed([*holders(going[0].home if going else self.world.ladder), *going]):
            if rung in going and rung in seen:
                guards += [each for over in reversed(rung.over) for each in self.of_place(over)] + self.of_place(rung)
            elif rung in seen:
                guards += [each for each in self.of_place(rung) if each[0].watches == "everything inside"]
        guards += [each for over in reversed(self.world.over) if app for each in self.of_place(over)]
        self.consult(move, guards + [(g, None, False) for g in self.plan.guards if app or g.watches == "everything inside"])
        self.consulted |= {rung for rung in going if rung in seen}

    def unasked(self, going: list[Rung]) -> None:
        for rung in everything(going):
            for guard, _, _ in self.of_place(rung) if rung not in self.consulted else ():
                if (guard.id, rung) not in self.asked and self.stands(guard, rung):
                    self.say("unasked", guard.name, rung.name)

    # Puts

    def redirected(self, target: o.Target, link: str = "", met: Any = ()) -> tuple[o.Target, bool, bool]:
        """Send a put through the redirects: where it goes, whether elsewhere, whether in the wanted place's stead."""
        self.met, wanted, stands_in = list(met), target, False
        while (redirect := self.redirect_of(target)) is not None:
            if (target.screen, target.arguments) in self.met:
                self.say("finding", "redirects never end")
                break
            self.met.append((target.screen, target.arguments))
            self.say("redirected", target.screen, redirect.target.screen)
            target, stands_in = redirect.target, stands_in or redirect.remember
        if stands_in:
            self.want(wanted.screen, dict(wanted.arguments), link)
        return target, target is not wanted, stands_in

    def redirect_of(self, target: o.Target) -> Any:
        for redirect in () if self.plan.screen[target.screen].foreign else self.plan.redirects:
            named = target.screen in redirect.only if redirect.only else target.screen not in redirect.excluded
            if named and redirect.target.screen != target.screen and holds(self.world, redirect.condition, View()):
                return redirect
        return None

    def want(self, screen: str, args: dict[str, Any], link: str) -> None:
        for rung in everything(self.world.ladder.rungs) if self.world.wanted is not None else ():
            rung.stands_in = False
        self.world.wanted = screen, args, link

    def made(self, target: o.Target, stands_in: bool = False, given: list[Rung] | None = None, front: int = 0) -> Rung:
        """Make a rung; what is first inside it is put like anything else, unless it is given."""
        screen, args = self.plan.screen[target.screen], dict(target.arguments)
        rung = Rung(screen.name, args, {fact.name: fact.values[0] for fact in screen.holds}, stands_in=stands_in)
        if screen.inside:
            rung.inner, rung.used, wanted = [Ladder(rung, tab) for tab, _ in screen.inside], [front], self.world.wanted
            if given is None:
                first, _, first_stands_in = self.redirected(filled(screen.inside[0][1], args), met=self.met)
                given = [self.made(first, first_stands_in)]
                rung.stands_in = stands_in and self.world.wanted is wanted
            rung.inner[front].rungs = given
            for each in given:
                each.home = rung.inner[front]
        return rung

    def put(self, ladder: Ladder, rung: Rung) -> None:
        """Put a rung on a ladder, and start its timers, outer before inner."""
        ladder.rungs.append(rung)
        rung.home = ladder
        self.came += everything([rung])
        for each in everything([rung]):
            self.start_timers(each)
        for each in everything([rung]):
            self.drop_oldest(each.home, self.plan.screen[each.name])

    def drop_oldest(self, ladder: Ladder, screen: Any) -> None:
        """Let the lowest rungs of a screen go that are more than it may have on a ladder; who awaits one is told."""
        same = [rung for rung in ladder.rungs if rung.name == screen.name]
        surplus = same[: -screen.most] if screen.most else []
        self.unasked(surplus)
        for rung in surplus:
            beneath, uncovered = tops(ladder.rungs[: place_of(rung)]), [*self.uncovered]
            self.take(ladder, [rung])
            for caller in beneath:
                self.settle(caller, "above", None)
            self.uncovered = uncovered  # something is over them still

    def put_first(self, ladder: Ladder) -> None:
        holder: Any = ladder.holder
        first = self.plan.screen[holder.name].inside[holder.inner.index(ladder)][1]
        target, _, stands_in = self.redirected(filled(first, holder.args))
        self.put(ladder, self.made(target, stands_in))

    def start_timers(self, place: Rung | Over, kinds: Any = ("on ladder", "whatever happens")) -> None:
        timers = [move.trigger for move in self.moves_of(place) if isinstance(move.trigger, triggers.TimerTrigger)]
        for after, runs in dict.fromkeys((each.after, each.runs) for each in timers if each.runs in kinds):
            self.timer(after, runs, place, place.shell() if runs == "whatever happens" else None)

    def timer(self, after: int, kind: str, of: Place, left: Rung | None = None) -> None:
        self.world.timers.append(Timer(self.world.clock + after, kind, after, of, left))
        self.world.timers.sort(key=lambda timer: timer.due)

    def moves_of(self, place: Place) -> tuple[Any, ...]:
        if place is None:
            return self.plan.anywhere
        return (self.plan.screen.get(place.name) or self.plan.overlay[place.name]).moves

    # What goes

    def take(self, ladder: Ladder, gone: list[Rung], *, replaced: bool = False, value: str | None = None) -> bool:
        """Let rungs of a ladder go. Return whether one owed the value to a flow around it."""
        owed, world = False, self.world
        ladder.rungs = [rung for rung in ladder.rungs if rung not in gone]
        for rung in everything(gone):
            stays = replaced and rung in gone
            self.went.append(rung)
            self.closed += rung.over
            self.lose(rung)
            if rung.owes is not None and not stays:
                owed = self.pay(*rung.owes, value if rung in gone else None) or owed
            if rung.stands_in and not stays:
                world.wanted = None
            world.timers = [t for t in world.timers if t.of not in (rung, *rung.over) or t.kind == "whatever happens"]
        world.armed = [each for each in world.armed if each[0].app_scoped or world.there(each[1])]
        if not ladder.rungs:
            self.emptied.append(ladder)
        return owed

    def lose(self, rung: Rung) -> None:
        self.log += [("finding", "result lost") for _, value in rung.came if value is not None]

    def pay(self, rung: Rung, name: str, value: str | None) -> bool:
        return self.world.there(rung) and self.settle(rung, "inside", value, name) and value is not None

    def settle(self, rung: Rung, source: str, value: str | None, name: str = "") -> bool:
        """Turn what a rung awaits from somewhere into results; of a name only the latest. Return whether there was any."""
        waits = [wait for wait in rung.waits if wait[1] == source and (not name or wait[0] == name)]
        for wait in waits[-1:] if source != "above" else waits:
            rung.waits.remove(wait)
            rung.came.append((wait[0], value))
            self.uncovered.append(rung)
        return bool(waits)

    def uncover(self, rungs: list[Rung], value: str | None) -> None:
        """Give what is on top now, and what is seen inside it, what it waits for."""
        seen = tops(rungs)
        self.uncovered += [rung for rung in seen if rung.came]
        taken = [self.settle(rung, "above", value) for rung in seen]
        if value is not None and not any(taken):
            self.say("finding", "nobody waits")

    def drop(self, move: Move, rung: Any, value: Any = None) -> None:
        """Let a rung go, with the guards asked."""
        ladder = rung.home
        self.leaving(move, tops([rung]))
        self.unasked([rung])
        on_top = ladder.rungs[-1] is rung
        owed = self.take(ladder, [rung], value=value)
        self.uncover(ladder.rungs if on_top else [], None if owed else value)

    def down_to(self, move: Move, ladder: Ladder, keep: int) -> None:
        """Let all rungs but the lowest go, one after the other: what each awaits of the one above it is cancelled."""
        self.leaving(move, tops(ladder.rungs))
        above = ladder.rungs[keep:]
        self.unasked(above)
        for rung in [seen for lower in above[:-1] for seen in tops([lower])]:
            self.log += [("result", name, None, rung.name) for name, source in rung.waits if source == "above"]
        if above:
            self.take(ladder, above)
            self.uncover(ladder.rungs, None)

    def leave(self, move: Move) -> None:
        self.leaving(move, self.world.path, app=True)
        self.exit()

    def exit(self, *, whole: bool = False) -> None:
        """The app is left; `whole`: nothing of it runs on."""
        world, lives, rungs = (
            self.world,
            self.policy("leaving_ends") == "screens" and not whole,
            everything(self.world.ladder.rungs),
        )
        self.unasked([] if whole else world.ladder.rungs)
        for rung in rungs:
            self.lose(rung)
        self.went += [] if whole else rungs
        world.end(
            phase="outside",
            memory=lives,
            fresh=set(),
            timers=[t for t in world.timers if lives and t.kind == "whatever happens"],
        )
        world.ladder.rungs = []
        self.forget_facts(() if lives else ("memory", "ladder"))
        self.out, self.emptied = True, []

    def forget_facts(self, kept: tuple[str, ...]) -> None:
        self.world.facts |= {fact.name: fact.values[0] for fact in self.plan.facts if fact.lifetime in kept}

    def set_fact(self, name: str, value: str) -> None:
        kept = next(fact.lifetime for fact in self.plan.facts if fact.name == name)
        if kept == "disk" or self.world.runs or (self.world.memory if self.world.phase == "outside" else kept == "ladder"):
            self.world.facts[name] = value


def gone_of(world: World) -> list[tuple[Any, Any]]:
    """The armed guards whose rungs are gone."""
    return [each for each in world.armed if not world.there(each[1])]


def alike(entry: tuple[Any, Any]) -> Any:
    """What tells apart two guards whose rungs are gone."""
    return entry[0].id, entry[1].name, str(entry[1].args), str(entry[1].facts)
