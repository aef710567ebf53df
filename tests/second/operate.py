"""The second reading: what each operation does."""

from __future__ import annotations

from typing import Any

from tests.second.moves import Moves, Undone
from tests.second.world import At, Call, Move, Over, Rung, everything, filled, place
from wise_ladder.plan import operations as o
from wise_ladder.plan.linking import link_of
from wise_ladder.plan.model import MOST_NESTED


class Operations(Moves):
    def operate(self, move: Move, what: Any, at: At) -> None:
        world, plan, path, ladder = self.world, self.plan, self.world.along(at), self.world.ladder_at(at)
        self.effects.append(type(what).__name__)
        match what:
            case o.Push():
                self.push(move, what, at, path)
            case o.Replace(target):
                target, _, stands_in = self.redirected(target)
                rung = self.too_deep(self.made(target, stands_in), at)
                if ladder:
                    self.leaving(move, path, len(at))
                    rung.owes = ladder[-1].owes
                    self.unasked(everything(ladder[-1:], at))
                    self.take(at, ladder[-1:], replaced=True)
                self.put(at, rung)
            case o.Reach(target, exactly):
                args = dict(target.arguments)
                there = [r for r in ladder if r.screen == target.screen and (not exactly or args.items() <= r.args.items())]
                if ladder and ladder[-1].screen == target.screen and ladder[-1].args == args:
                    return
                if not there:
                    self.push(move, o.Push(target), at, path)
                    return
                if there[-1] is not ladder[-1] or exactly:
                    self.down_to(move, at, path, there[-1])
                there[-1].args = args
            case o.Pop(rungs, otherwise):
                self.pop(move, what, rungs, otherwise, at, path, ladder)
            case o.PopTo(target, drop, otherwise):
                args = dict(target.arguments)
                there = [r for r in ladder if r.screen == target.screen and args.items() <= r.args.items()]
                if not there:
                    self.otherwise(move, otherwise, at, "nothing to pop to")
                elif drop or there[-1] is not ladder[-1]:
                    under = place(ladder, there[-1])
                    self.down_to(move, at, path, there[-1] if not drop else ladder[under - 1] if under else None)
            case o.PopToRoot() if len(ladder) > 1:
                self.down_to(move, at, path, ladder[0])
            case o.Clear():
                self.leaving(move, path, len(at))
                self.unasked(everything(ladder, at))
                self.take(at, list(ladder))
            case o.Return(value, flow):
                path, level = self.around(flow, path) if flow else (path, len(at))
                way = self.way(path, at)
                while level and len(world.ladder_at(way[:level])) == 1 and not plan.screen[path[level - 1].screen].tabs:
                    level -= 1
                if len(world.ladder_at(way[:level])) > 1:
                    self.drop(move, path, way, level, value)
                    return
                self.say("finding", "nobody waits")
                if plan.policies.pop_at_root == "leave":
                    self.at_root(move)
            case o.CloseFlow(flow):
                path, level = self.around(flow, path)
                self.drop(move, path, self.way(path, at), level)
            case o.Open():
                self.open(move, what, path)
            case o.Close(value, name):
                lying = [e for e in world.overlays(path) if e[0].name == name or (not name and plan.overlay[e[0].name].modal)]
                if lying:
                    hidden = lying[-1][1] is not None and path[-1].id not in {rung.id for rung in world.path}
                    self.lift(None if hidden else move, *lying[-1], value or None)
            case o.Switch():
                self.switch(move, what, at, path)
            case o.SetFact(name, value):
                self.set_fact(name, value)
            case o.SetOwn(name, value):
                found = world.find(move.owner)
                if found is not None and name in found[0].facts:
                    self.rung_facts.setdefault((found[0].id, name), found[0].facts[name])
                    found[0].facts[name] = value
            case o.StartCall(name):
                again, pending = plan.call[name].again, [call for call in world.calls if call.name == name]
                if again == "restart":
                    world.calls = [call for call in world.calls if call.name != name]
                if not pending or again != "ignore":
                    found = world.find(move.owner)
                    self.say("call", name)
                    of = move.layer or move.owner
                    world.calls.append(
                        Call(self.number(), name, world.clock, move.where, of, found[0].shell() if found else None)
                    )
            case o.CancelCall(name):
                world.calls = [call for call in world.calls if call.name != name]
            case o.Remember() if world.path:
                self.want(world.path[-1].screen, dict(world.path[-1].args), "")
            case o.GoToWanted(otherwise):
                wanted, world.wanted = world.wanted, None
                if wanted is None:
                    self.otherwise(move, otherwise, at)
                elif wanted[2]:
                    self.open_link(move, wanted[2], whole=True)
                else:
                    self.operate(move, o.Replace(o.Target(wanted[0], tuple(wanted[1].items()))), at)
            case o.Follow(address, whole):
                self.open_link(move, address, whole)
            case o.Leave():
                self.leaving(move, world.path, 0, app=True)
                self.exit()
            case o.On("app", operation):
                self.operate(move, operation, ())
            case o.On(name, operation):
                levels = [level for level, rung in enumerate(path) if rung.screen == name]
                if not levels:
                    raise Undone("no such flow here")
                self.operate(move, operation, self.way(path, at)[: levels[-1] + 1])

    def otherwise(self, move: Move, operation: Any, at: At, finding: str = "") -> None:
        if operation is not None:
            self.operate(move, operation, at)
        elif finding:
            raise Undone(finding)

    def way(self, path: list[Rung], at: At) -> At:
        """The way that a path goes, along another as far as they are one."""
        return tuple(at[n] if n < len(at) and at[n][0] == r.id else (r.id, r.used[-1]) for n, r in enumerate(path) if r.inner)

    def around(self, flow: str, path: list[Rung]) -> tuple[list[Rung], int]:
        """Find the nearest flow of a name outwards; if it is visible, with what is seen inside it."""
        levels = [level for level, rung in enumerate(path) if rung.screen == flow]
        if not levels:
            raise Undone("no such flow here")
        seen = any(rung is path[levels[-1]] for rung in self.world.path)
        return (self.world.path if seen else path), levels[-1]

    def too_deep(self, rung: Rung, at: At) -> Rung:
        if rung.inner and len(at) >= MOST_NESTED:
            raise Undone("nested too deep")
        return rung

    def push(self, move: Move, what: o.Push, at: At, path: list[Rung]) -> None:
        (target, sent, stands_in), top = self.redirected(what.target), self.world.ladder_at(at)[-1:]
        same = bool(top) and (top[0].screen, top[0].args) == (target.screen, dict(target.arguments))
        if same and ((self.policy("push_of_a_twin") == "nothing") or what.once or sent):
            top[0].stands_in = top[0].stands_in or stands_in
            if what.awaiting:
                self.say("finding", "awaits nothing")
            return
        rung = self.too_deep(self.made(target, stands_in), at)
        covered = [each for each in reversed(path[len(at) :]) if any(each is seen for seen in self.world.path)]
        guards = [(g, r.id, r) for r in covered for g in self.plan.screen[r.screen].guards]
        self.consult(move, [each for each in guards if each[0].watches == "what is put over it"])
        caller = self.caller(move) if what.awaiting else None
        if caller is not None:
            inside = any(number == caller.id for number, _ in at)
            caller.waits.append((what.awaiting, "inside" if inside else "above"))
            rung.owes = (caller.id, what.awaiting) if inside else None
        self.put(at, rung)

    def pop(self, move: Move, what: Any, rungs: int, otherwise: Any, at: At, path: list[Rung], ladder: list[Rung]) -> None:
        lying = [e for e in self.world.overlays(path[len(at) :]) if e[1] is not None and self.plan.overlay[e[0].name].modal]
        if lying and self.policy("pop_meets_overlay") == "closes instead":
            self.lift(move, *lying[-1], None)
            return
        level = len(at)
        if len(ladder) == 1 and otherwise is None and at and not self.plan.screen[path[level - 1].screen].tabs:
            level -= 1
            if self.world.ladder_at(at[:level])[-1] is path[level]:
                self.operate(move, what, at[:level])
                return
        elif len(ladder) < 2:
            self.otherwise(move, otherwise, at) if otherwise is not None else self.at_root(move)
            return
        self.drop(move, path, at, level)
        if rungs > 1:
            self.operate(move, o.Pop(rungs - 1, otherwise), at[:level])

    def at_root(self, move: Move) -> None:
        if self.policy("pop_at_root") == "finding":
            self.say("finding", "pop at the root")
        elif self.plan.policies.pop_at_root == "leave":
            self.leaving(move, self.world.path, 0, app=True)
            self.exit()

    def open(self, move: Move, what: o.Open, path: list[Rung]) -> None:
        overlay = self.plan.overlay[what.overlay]
        fitting = [rung for rung in path if overlay.of in {rung.screen, ""}]
        if not path or (overlay.of != "app" and not fitting):
            self.say("finding", "nowhere to open")
            return
        if any(over.name == overlay.name for over, _ in self.world.overlays(path)):
            return
        caller = self.caller(move) if what.awaiting else None
        over = Over(self.number(), overlay.name, caller.id if caller else 0)
        if caller is not None:
            caller.waits.append((what.awaiting, overlay.name))
        (self.world.over if overlay.of == "app" else fitting[-1].over).append(over)
        self.came.append(over.id)
        self.effects.append(f"overlay {overlay.kind}")
        if overlay.time is not None:
            self.timer(overlay.time, "overlay", over.id)
        self.start_timers(Rung(over.id, overlay.name, {}, {}))

    def lift(self, move: Move | None, over: Over, rung: Rung | None, value: str | None) -> None:
        """Let an overlay close; with a move, its guards are asked."""
        if move is not None:
            self.consult(move, [(g, rung.id if rung else 0, rung) for g in self.plan.overlay[over.name].guards])
        (self.world.over if rung is None else rung.over).remove(over)
        self.world.timers = [t for t in self.world.timers if t.of != over.id or t.kind == "whatever happens"]
        self.closed.append((over.name, self.world.stand(rung), rung.id if rung else 0))
        asker = self.world.find(over.asker)
        waits = [wait for wait in asker[0].waits if wait[1] == over.name] if asker else []
        if asker is not None:
            self.settle(asker[0], waits[-1:], value)
        if value is not None and not waits:
            self.say("finding", "nobody waits")

    def switch(self, move: Move, what: o.Switch, at: At, path: list[Rung]) -> None:
        for level in reversed(range(min(len(at) + 1, len(path)))):
            names = [tab for tab, _ in self.plan.screen[path[level].screen].inside]
            if what.tab in names:
                self.to_front(move, what, self.way(path, at)[:level], path[level], names.index(what.tab))
                return
        raise Undone("no such tab here")

    def to_front(self, move: Move, what: o.Switch, at: At, tabs: Rung, tab: int) -> None:
        seen = any(rung is tabs for rung in self.world.path)
        if tab != tabs.front or what.to_root:
            self.leaving(move, self.world.path if seen else self.world.along((*at, (tabs.id, tabs.front))), len(at) + 1)
        self.inside = (*at, (tabs.id, tab))
        tabs.used = [*(each for each in (tabs.used[:-1] if what.going_back else tabs.used) if each != tab), tab]
        if not tabs.inner[tab]:
            self.put_first(self.inside)
        elif what.to_root:
            self.down_to(Move(()), self.inside, [], tabs.inner[tab][0])

    def open_link(self, move: Move, address: str, whole: bool = False) -> None:
        found, path = link_of(self.plan.links, address), self.world.path
        if found.link is None:
            if self.plan.unknown is not None:
                self.operate(move, o.Push(filled(self.plan.unknown, {"address": address})), self.world.way_in)
            return
        self.effects.append(f"link {found.link.mode}")
        targets = [filled(target, found.values) for target in found.link.build]
        if found.link.mode != "rebuild" and not whole and path:
            put = o.Push(targets[-1]) if found.link.mode == "on top" else o.Reach(targets[-1])
            self.operate(move, put, self.world.way_in)
            return
        last, sent, stands_in = self.redirected(targets[-1], address)
        rungs = [self.made(last, stands_in)]
        for target in reversed(targets[:-1] if not sent else ()):
            firsts = [first.screen for _, first in self.plan.screen[target.screen].inside]
            tab = firsts.index(rungs[0].screen) if rungs[0].screen in firsts else 0
            rungs = [self.made(target, given=rungs, tab=tab)] if firsts else [self.made(target), *rungs]
        self.operate(move, o.Clear(), ())
        for rung in rungs:
            self.put((), rung)
