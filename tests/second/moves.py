"""The second reading: a move as a whole, the guards it meets, puts, and what goes with a rung."""

from __future__ import annotations

from typing import Any

from tests.second.world import At, Move, Rung, Timer, View, World, everything, filled, holds, place, tops
from wise_ladder.plan import Plan
from wise_ladder.plan import operations as o


class Stays(Exception):
    """A guard stands in the way: which, its rung, who was asked up to that."""


class Undone(Exception):
    """The move meets what it cannot do."""


class Moves:
    """Does moves; what follows from them is noted for the agenda."""

    starting = False

    def __init__(self, plan: Plan, world: World) -> None:
        self.plan, self.world, self.granted = plan, world, list[Any]()
        self.log: list[tuple[Any, ...]] = []
        self.effects: list[str] = []
        self.begin()

    def begin(self) -> None:
        self.before = self.world.copy()
        self.asked, self.consulted, self.went, self.closed = set[Any](), set[int](), list[Any](), list[Any]()
        self.came, self.phases, self.uncovered, self.emptied = list[int](), list[str](), list[int](), list[At]()
        self.rung_facts: dict[tuple[int, str], str] = {}
        self.inside: At | None = None
        self.out = False

    def number(self) -> int:
        self.world.number += 1
        return self.world.number

    def say(self, *what: Any) -> None:
        self.log.append(what)

    def policy(self, name: str) -> Any:
        self.effects.append(f"{name} {getattr(self.plan.policies, name)}")
        return getattr(self.plan.policies, name)

    def holds(self, condition: Any, rung: Rung | None) -> bool:
        return holds(self.world, condition, View(rung))

    # A move as a whole

    def do(self, move: Move) -> None:
        """Do all operations of a move; what a guard decides, or what cannot be done, undoes it."""
        self.begin()
        said = len(self.log)
        try:
            if move.forward:
                self.world.phase, self.world.memory = "open", False
            if move.finding:
                self.say("finding", move.finding)
            if move.is_back:
                self.goal(move)
            self.operations(move)
        except Undone as undone:
            self.undo(said)
            self.say("finding", str(undone))
        except Stays as stays:
            self.undo(said)
            self.stay(move, *stays.args)
        self.close()

    def goal(self, move: Move) -> None:
        raise NotImplementedError

    def operate(self, move: Move, what: Any, at: At) -> None:
        raise NotImplementedError

    def undo(self, said: int) -> None:
        number, before = self.world.number, self.before
        self.world.__dict__.update(before.copy().__dict__)
        self.world.number = number
        del self.log[said:]
        self.begin()

    def stay(self, move: Move, guard: Any, of: int, asked: set[Any]) -> None:
        if guard.decision == "ask":
            path = self.world.path
            self.say("asked", guard.name)
            self.world.question = guard, of, move, path[-1].id if path else 0
            return
        self.say("blocked" if guard.decision == "block" else "instead", guard.name)
        self.asked = asked
        self.act_for(guard, of, guard.operations)

    def act_for(self, guard: Any, of: int, does: tuple[Any, ...]) -> None:
        """Do what a guard does or an answer, for the guard's own place; nobody is asked about it."""
        found, where = self.world.find(abs(of)), guard.id.where
        move = Move(does, owner=abs(of), where=where)
        if found is not None:
            rung, at = found
            move.at = at + rung.inside if where == rung.screen else at
        over = found[0].over if found else self.world.over
        move.layer = max((each.id for each in over if each.name == where), default=0)
        said = len(self.log)
        try:
            self.operations(move)
        except Undone as undone:
            self.undo(said)
            self.say("finding", str(undone))

    def operations(self, move: Move) -> None:
        """One after the other: on the ladder of the move, or what is left around it, or on that of a tab change."""
        for what in move.does:
            if not self.out:
                self.operate(move, what, self.world.still(move.at if self.inside is None else self.inside))
        while self.emptied and not self.out:
            at = self.emptied.pop()
            if self.world.runs and self.world.at(at) == [] and (at or not (self.world.cover or self.starting)):
                self.fill(move, at)

    def fill(self, move: Move, at: At) -> None:
        """A ladder was left empty: a flow goes, a tab gets its first rung, the app is left."""
        if not at:
            self.leaving(move, [], 0, app=True)
            self.exit()
        elif self.plan.screen[self.world.along(at)[-1].screen].tabs:
            self.put_first(at)
        else:
            self.drop(move, self.world.along(at), at, len(at) - 1)

    def close(self) -> None:
        """End a move: a question about something else goes, guards that come first are armed, what is seen waits no more."""
        world, path = self.world, self.world.path
        if world.question is not None and (not path or path[-1].id != world.question[3]):
            world.question = None
        if world.runs:
            self.arm()
        for rung in path if world.phase == "open" else ():
            self.settle(rung, [wait for wait in rung.waits if wait[1] == "above"], None)

    def arm(self) -> None:
        world = self.world
        owners: list[tuple[Rung | None, Any]] = [(None, self.plan.guards)]
        owners += [(rung, self.plan.screen[rung.screen].guards) for rung, _ in world.everything()]
        now = [
            (g, rung.id if rung else 0, None)
            for rung, guards in owners
            for g in guards
            if g.first_in_line or g.outlives
            if self.holds(g.condition, rung)
        ]
        gone = {alike(entry): entry for entry in reversed(world.armed) if entry[2] is not None}
        known = [alike(entry) for entry in self.before.armed if entry[2] is not None]
        self.log += [("finding", "handler outlived its screen") for each in gone if each not in known]
        kept = [entry for entry in world.armed if entry in now]
        world.armed = [*reversed(gone.values()), *kept, *(entry for entry in now if entry not in kept)]

    # Guards: 0 is the app, less its number a rung that is hidden or gone

    def consult(self, move: Move, guards: list[tuple[Any, int, Rung | None]]) -> None:
        """Ask guards, each once a move for each rung."""
        for guard, of, rung in guards if move.way is not None else ():
            if (guard.id, abs(of)) in self.asked:
                continue
            self.asked.add((guard.id, abs(of)))
            self.effects.append(f"way {move.way}")
            if guard.id in self.granted:
                self.granted.remove(guard.id)
                continue
            sees = move.way in guard.ways and move.way in self.plan.policies.guards_see
            if sees and (not guard.at_press or guard.name == move.taken_by) and (of < 0 or self.holds(guard.condition, rung)):
                raise Stays(guard, of, set(self.asked))

    def first_asked(self) -> list[tuple[Any, int, Rung | None]]:
        """The armed guards that come first, the latest first; those of rungs that are gone while their condition holds."""
        seen = {rung.id: rung for rung in self.world.path}
        armed = [each for each in reversed(self.world.armed) if each[2] is None or self.holds(each[0].condition, each[2])]
        return [(g, n if left is None and (n == 0 or n in seen) else -n, seen.get(n)) for g, n, left in armed]

    def leaving(self, move: Move, path: list[Rung], first: int, *, app: bool = False) -> None:
        """Ask about all that goes when the rung of a place on a path goes, or the app is left: inside out."""
        if move.way is None or (not app and first >= len(path)):
            return
        seen, plan = {rung.id for rung in self.world.path}, self.plan
        guards = [each for each in self.first_asked() if each[1] < 0 and each[0].outlives]
        for number, rung in reversed([(n, rung) for n, rung in enumerate(path) if rung.id in seen]):
            if number >= first:
                guards += [(g, rung.id, rung) for over in reversed(rung.over) for g in plan.overlay[over.name].guards]
            own = plan.screen[rung.screen].guards
            guards += [(g, rung.id, rung) for g in own if number >= first or g.watches == "everything inside"]
        guards += [(g, 0, None) for over in reversed(self.world.over) if app for g in plan.overlay[over.name].guards]
        self.consult(move, guards + [(g, 0, None) for g in plan.guards if app or g.watches == "everything inside"])
        self.consulted |= {rung.id for rung in path[first:] if rung.id in seen}

    def unasked(self, going: list[tuple[Rung, At]]) -> None:
        for rung, _ in going:
            for guard in self.plan.screen[rung.screen].guards if rung.id not in self.consulted else ():
                if (guard.id, rung.id) not in self.asked and self.holds(guard.condition, rung):
                    self.say("unasked", guard.name, rung.screen)

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
        for redirect in self.plan.redirects:
            named = target.screen in redirect.only if redirect.only else target.screen not in redirect.but
            if named and redirect.target.screen != target.screen and self.holds(redirect.condition, None):
                return redirect
        return None

    def want(self, screen: str, args: dict[str, Any], link: str) -> None:
        for rung, _ in self.world.everything() if self.world.wanted is not None else ():
            rung.stands_in = False
        self.world.wanted = screen, args, link

    def made(self, target: o.Target, stands_in: bool = False, given: list[Rung] | None = None, tab: int = 0) -> Rung:
        """Make a rung; what is first inside it is put like anything else, unless it is given."""
        screen, args = self.plan.screen[target.screen], dict(target.arguments)
        rung = Rung(0, screen.name, args, {fact.name: fact.values[0] for fact in screen.holds}, stands_in=stands_in)
        if screen.inside:
            rung.inner, rung.used, wanted = [[] for _ in screen.inside], [tab], self.world.wanted
            if given is None:
                first, _, first_stands_in = self.redirected(filled(screen.inside[0][1], args), met=self.met)
                given = [self.made(first, first_stands_in)]
                rung.stands_in = stands_in and self.world.wanted is wanted
            rung.inner[tab] = given
        return rung

    def put(self, at: At, rung: Rung) -> None:
        """Put a rung on a ladder, and start its timers, outer before inner."""
        self.world.ladder_at(at).append(rung)
        for each, _ in everything([rung]):
            each.id = self.number()
            self.came.append(each.id)
        for each, _ in everything([rung]):
            self.start_timers(each)

    def put_first(self, at: At) -> None:
        holder = self.world.along(at)[len(at) - 1]
        target, _, stands_in = self.redirected(filled(self.plan.screen[holder.screen].inside[at[-1][1]][1], holder.args))
        self.put(at, self.made(target, stands_in))

    def start_timers(self, was: Rung, kinds: Any = ("on ladder", "whatever happens")) -> None:
        triggers = [m.trigger for m in self.moves_of(was.screen) if isinstance(m.trigger, o.TimerTrigger)]
        for after, runs in dict.fromkeys((each.after, each.runs) for each in triggers if each.runs in kinds):
            self.timer(after, runs, was.id, was if runs == "whatever happens" else None)

    def timer(self, after: int, kind: str, of: int, left: Rung | None = None) -> None:
        self.world.timers.append(Timer(self.world.clock + after, kind, of, after, left and left.shell()))
        self.world.timers.sort(key=lambda timer: timer.due)

    def moves_of(self, where: str | None) -> tuple[Any, ...]:
        return self.plan.anywhere if where is None else (self.plan.screen.get(where) or self.plan.overlay[where]).moves

    # What goes

    def take(self, at: At, rungs: list[Rung], replaced: bool = False, steps: bool = False, value: str | None = None) -> bool:
        """Let rungs of a ladder go; `steps`: one after the other. Return whether one owed the value to a flow around it."""
        owed, world, ladder = False, self.world, self.world.ladder_at(at)
        ladder[:] = [rung for rung in ladder if all(rung is not gone for gone in rungs)]
        for seen in [seen for lower in rungs[:-1] if steps for seen in tops([lower])]:
            for wait in [wait for wait in seen.waits if wait[1] == "above"]:
                seen.waits.remove(wait)
                self.say("result", wait[0], None, seen.screen)
        for rung, where in everything(rungs, at):
            stays, gone = replaced and rung is rungs[-1], {rung.id, *(over.id for over in rung.over)}
            self.went.append((rung, where))
            self.closed += [(over.name, where, rung.id) for over in rung.over]
            self.lose(rung)
            if rung.owes is not None and not stays:
                owed = self.pay(rung.owes, value if rung is rungs[-1] else None) or owed
            if rung.stands_in and not stays:
                world.wanted = None
            world.timers = [t for t in world.timers if t.of not in gone or t.kind == "whatever happens"]
            armed = [(g, n, rung.shell() if n in gone and left is None else left) for g, n, left in world.armed]
            world.armed = [each for each in armed if each[2] is None or each[0].outlives]
        if not ladder:
            self.emptied.append(at)
        return owed

    def lose(self, rung: Rung) -> None:
        for _ in [value for _, value in rung.came if value is not None]:
            self.say("finding", "result lost")

    def pay(self, owes: tuple[int, str], value: str | None) -> bool:
        found = self.world.find(owes[0])
        waits = [wait for wait in found[0].waits if wait == (owes[1], "inside")] if found else []
        if found is not None:
            self.settle(found[0], waits[-1:], value)
        return bool(waits) and value is not None

    def settle(self, rung: Rung, waits: list[tuple[str, str]], value: str | None) -> None:
        for wait in waits:
            rung.waits.remove(wait)
            rung.came.append((wait[0], value))
            self.uncovered.append(rung.id)

    def uncover(self, ladder: list[Rung], value: str | None) -> None:
        """Give what is on top now, and what is seen inside it, what it waits for."""
        seen = [(rung, [wait for wait in rung.waits if wait[1] == "above"]) for rung in tops(ladder)]
        self.uncovered += [rung.id for rung, _ in seen if rung.came]
        for rung, waits in seen:
            self.settle(rung, waits, value)
        if value is not None and not any(waits for _, waits in seen):
            self.say("finding", "nobody waits")

    def drop(self, move: Move, path: list[Rung], at: At, level: int, value: str | None = None) -> None:
        """Let the rung of a place on a path go, with the guards asked."""
        self.leaving(move, path, level)
        ladder, rung = self.world.ladder_at(at[:level]), path[level]
        self.unasked(everything([rung], at[:level]))
        on_top = ladder[-1] is rung
        owed = self.take(at[:level], [rung], value=value)
        self.uncover(ladder if on_top else [], None if owed else value)

    def down_to(self, move: Move, at: At, path: list[Rung], to: Rung | None) -> None:
        """Let all rungs above one go, one after the other."""
        self.leaving(move, path, len(at))
        ladder = self.world.ladder_at(at)
        above = ladder[place(ladder, to) + 1 :] if to is not None else list(ladder)
        self.unasked(everything(above, at))
        if above:
            self.take(at, above, steps=True)
            self.uncover(ladder, None)

    def exit(self, *, whole: bool = False) -> None:
        """The app is left; `whole`: nothing of it runs on."""
        world, lives = self.world, self.policy("leaving_ends") == "screens" and not whole
        self.unasked([] if whole else world.everything())
        for rung, at in world.everything():
            self.lose(rung)
            self.went += [] if whole else [(rung, at)]
        left: dict[str, Any] = {"timers": [t for t in world.timers if t.kind == "whatever happens"] if lives else []}
        kept: dict[str, Any] = {
            "facts": world.facts,
            "clock": world.clock,
            "number": world.number,
            "bars": world.bars,
            "seen": world.seen,
            "since": world.since,
        }
        world.__dict__.update(World(**kept, **left, memory=lives).__dict__)
        self.forget_facts(() if lives else ("memory", "ladder"))
        self.out, self.emptied = True, []

    def forget_facts(self, kept: tuple[str, ...]) -> None:
        self.world.facts |= {fact.name: fact.values[0] for fact in self.plan.facts if fact.kept in kept}

    def set_fact(self, name: str, value: str) -> None:
        kept = next(fact.kept for fact in self.plan.facts if fact.name == name)
        if kept == "disk" or self.world.runs or (self.world.memory if self.world.phase == "outside" else kept == "ladder"):
            self.world.facts[name] = value

    def caller(self, move: Move) -> Rung | None:
        found = self.world.find(move.owner)
        return found[0] if found else self.world.path[-1] if self.world.path and not move.owner else None


def alike(entry: tuple[Any, int, Rung | None]) -> Any:
    """What tells apart two guards whose rungs are gone."""
    guard, _, left = entry
    return guard.id, left and (left.screen, str(left.args), str(left.facts))
