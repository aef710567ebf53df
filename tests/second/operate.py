"""The second reading: what each operation does."""

from __future__ import annotations

from typing import Any

from tests.second.moves import Moves, Undone
from tests.second.world import Call, Ladder, Move, Over, Rung, along, filled, holders, place_of, rung_of, tops
from wise_ladder.plan import operations as o
from wise_ladder.plan.link_match import match_link
from wise_ladder.plan.model import MAX_NESTED


class Operations(Moves):
    def operate(self, move: Move, what: Any, ladder: Ladder) -> None:
        world, top, at = self.world, ladder.rungs[-1:], rung_of(move.place)
        self.effects.append(type(what).__name__)
        match what:
            case o.Push():
                self.push(move, what, ladder)
            case o.Replace(target):
                target, _, stands_in = self.redirected(target)
                rung = self.too_deep(self.made(target, stands_in), ladder)
                if top:
                    self.leaving(move, tops(top))
                    rung.owes = top[0].owes
                    self.unasked(top)
                    self.take(ladder, top, replaced=True)
                self.put(ladder, rung)
            case o.Reach(target, exactly):
                args = dict(target.arguments)
                there = self.nearest(ladder, target.screen, args if exactly else {})
                if top and (top[0].name, top[0].args) == (target.screen, args):
                    return
                if there is None:
                    self.push(move, o.Push(target), ladder)
                    return
                if there is not top[0] or exactly:
                    self.down_to(move, ladder, place_of(there) + 1)
                there.args = args
            case o.Pop():
                self.pop(move, what, ladder)
            case o.PopTo(target, drop, otherwise):
                there = self.nearest(ladder, target.screen, dict(target.arguments))
                if there is None:
                    self.otherwise(move, otherwise, ladder, "nothing to pop to")
                elif drop or there is not top[0]:
                    self.down_to(move, ladder, place_of(there) + (not drop))
            case o.PopToRoot() if len(ladder.rungs) > 1:
                self.down_to(move, ladder, 1)
            case o.Clear():
                self.leaving(move, tops(top))
                self.unasked(ladder.rungs)
                self.take(ladder, ladder.rungs)
            case o.Return(given, flow):
                value = self.given(move, given)
                going = self.flow(ladder, flow).holder if flow else next(iter(top), None)
                while going and len(going.home.rungs) == 1 and going.home.holder and not self.is_tabs(going.home.holder):
                    going = going.home.holder
                if going and len(going.home.rungs) > 1:
                    self.drop(move, going, value)
                    return
                self.say("finding", "nobody waits")
                if self.plan.policies.pop_at_root == "leave":
                    self.at_root(move)
            case o.CloseFlow(flow):
                self.drop(move, self.flow(ladder, flow).holder)
            case o.Open():
                self.open(move, what, ladder)
            case o.Close(given, name):
                value = self.given(move, given)
                path = self.path_of(ladder)
                lying = [over for over in world.lying(path) if over.name == name or (not name and self.is_modal(over))]
                if lying:
                    self.lift(move, lying[-1], None if value == "" else value)
            case o.Switch():
                for tabs in [*top, *reversed(holders(ladder))]:
                    names = [tab for tab, _ in self.plan.screen[tabs.name].inside]
                    if what.tab in names:
                        self.to_front(move, what, tabs, names.index(what.tab))
                        return
                raise Undone("no such tab here")
            case o.SetFact(name, value):
                self.set_fact(name, str(value))
            case o.SetRungFact(name, value):
                self.set_own(move.place if isinstance(move.place, Over) else at, name, str(value))
            case o.TakeBack():
                for holder, name, value in move.place.undo if isinstance(move.place, Over) and world.there(move.place) else []:
                    if holder is None:
                        self.set_fact(name, value)
                    else:
                        self.set_own(holder, name, value)
            case o.StartCall(name):
                again, pending = self.plan.call[name].again, [call for call in world.calls if call.name == name]
                if again == "restart":
                    world.calls = [call for call in world.calls if call not in pending]
                if not pending or again != "ignore":
                    self.say("call", name)
                    world.calls.append(Call(name, world.clock, move.place))
            case o.CancelCall(name):
                world.calls = [call for call in world.calls if call.name != name]
            case o.StartTimer(name):
                world.timers = [timer for timer in world.timers if timer.kind != name]
                self.timer(self.plan.timer[name].after, name, None)
            case o.StopTimer(name):
                world.timers = [timer for timer in world.timers if timer.kind != name]
            case o.Remember() if world.path:
                self.want(world.path[-1].name, dict(world.path[-1].args), "")
            case o.GoToWanted(otherwise):
                wanted, world.wanted = world.wanted, None
                if wanted is None:
                    self.otherwise(move, otherwise, ladder)
                elif wanted[2]:
                    self.open_link(move, wanted[2], whole=True)
                else:
                    self.operate(move, o.Replace(o.Target(wanted[0], tuple(wanted[1].items()))), ladder)
            case o.Follow(address, whole):
                self.open_link(move, address, whole)
            case o.Leave():
                self.leave(move)
            case o.OnFlow("app", operation):
                self.operate(move, operation, world.ladder)
            case o.OnFlow(name, operation):
                self.operate(move, operation, self.flow(ladder, name))

    def given(self, move: Move, value: Any) -> Any:
        """What is returned, with facts as they are now; nothing if what holds one of them is gone."""
        if isinstance(value, tuple):
            parts = tuple((name, self.given(move, part)) for name, part in value)
            return None if any(part is None for _, part in parts) else parts
        if not isinstance(value, o.FactValue):
            return value
        place = move.place if isinstance(move.place, Over) else rung_of(move.place)
        held = place.facts if value.own and place is not None and self.world.there(place) else {}
        return held.get(value.name) if value.own else self.world.facts[value.name]

    def set_own(self, place: Rung | Over | None, name: str, value: str) -> None:
        """Set a fact that a rung or an overlay holds."""
        if place is not None and self.world.there(place) and name in place.facts:
            self.rung_facts.setdefault((place, name), place.facts[name])
            place.facts[name] = value

    def otherwise(self, move: Move, operation: Any, ladder: Ladder, finding: str = "") -> None:
        if operation is not None:
            self.operate(move, operation, ladder)
        elif finding:
            raise Undone(finding)

    def nearest(self, ladder: Ladder, screen: str, args: dict[str, Any]) -> Rung | None:
        return next((r for r in reversed(ladder.rungs) if r.name == screen and args.items() <= r.args.items()), None)

    def flow(self, ladder: Ladder, name: str) -> Ladder:
        """The ladder inside the nearest flow of a name, on the way to a ladder and on to what is seen inside that."""
        found = next((each for each in reversed(along(ladder)) if each.holder and each.holder.name == name), None)
        if found is None:
            raise Undone("no such flow here")
        return found

    def path_of(self, ladder: Ladder) -> list[Rung]:
        return holders(ladder) + tops(ladder.rungs)

    def is_modal(self, over: Over) -> bool:
        return bool(self.plan.overlay[over.name].modal)

    def too_deep(self, rung: Rung, ladder: Ladder) -> Rung:
        if rung.inner and len(holders(ladder)) >= MAX_NESTED:
            raise Undone("nested too deep")
        return rung

    def caller(self, move: Move, awaiting: str) -> Rung | None:
        rung = rung_of(move.place) or next(iter(self.world.path[-1:]), None)
        return rung if awaiting and rung and self.world.there(rung) else None

    def push(self, move: Move, what: o.Push, ladder: Ladder) -> None:
        (target, sent, stands_in), top = self.redirected(what.target), ladder.rungs[-1:]
        same = bool(top) and (top[0].name, top[0].args) == (target.screen, dict(target.arguments))
        if same and ((self.policy("push_of_a_twin") == "nothing") or what.once or sent):
            top[0].stands_in = top[0].stands_in or stands_in
            if what.awaiting:
                self.say("finding", "awaits nothing")
            return
        rung = self.too_deep(self.made(target, stands_in), ladder)
        covered = [guard for each in reversed(tops(top)) if each in self.world.path for guard in self.of_place(each)]
        self.consult(move, [each for each in covered if each[0].watches == "what is put over it"])
        caller = self.caller(move, what.awaiting)
        if caller is not None:
            inside = caller in holders(ladder)
            caller.waits.append((what.awaiting, "inside" if inside else "above"))
            rung.owes = (caller, what.awaiting) if inside else None
        self.put(ladder, rung)

    def pop(self, move: Move, what: o.Pop, ladder: Ladder) -> None:
        lying = [over for over in self.world.lying(tops(ladder.rungs)) if over.under and self.is_modal(over)]
        if lying and self.policy("pop_meets_overlay") == "closes instead":
            self.lift(move, lying[-1], None)
            return
        holder: Any = ladder.holder
        rung: Any = next(iter(ladder.rungs[-1:]), None)
        if len(ladder.rungs) == 1 and what.fallback is None and holder and not self.is_tabs(holder):
            rung = holder
            if rung.home.rungs[-1] is rung:
                self.operate(move, what, rung.home)
                return
        elif len(ladder.rungs) < 2:
            self.otherwise(move, what.fallback, ladder) if what.fallback is not None else self.at_root(move)
            return
        self.drop(move, rung)
        if what.rungs > 1:
            self.operate(move, o.Pop(what.rungs - 1, what.fallback), rung.home)

    def at_root(self, move: Move) -> None:
        if self.policy("pop_at_root") == "finding":
            self.say("finding", "pop at the root")
        elif self.plan.policies.pop_at_root == "leave":
            self.leave(move)

    def open(self, move: Move, what: o.Open, ladder: Ladder) -> None:
        overlay, world, path = self.plan.overlay[what.overlay], self.world, self.path_of(ladder)
        fitting = [rung for rung in path if overlay.of in {rung.name, ""}]
        if not path or (overlay.of != "app" and not fitting):
            self.say("finding", "nowhere to open")
            return
        if any(over.name == overlay.name for over in world.lying(path)):
            return
        caller, under = self.caller(move, what.awaiting), None if overlay.of == "app" else fitting[-1]
        world.number += 1
        over = Over(overlay.name, under, world.number, caller, {fact.name: fact.values[0] for fact in overlay.holds})
        if caller is not None:
            caller.waits.append((what.awaiting, overlay.name))
        (under.over if under else world.over).append(over)
        self.came.append(over)
        self.effects.append(f"overlay {overlay.kind}")
        if overlay.time is not None:
            self.timer(overlay.time, "overlay", over)
        self.start_timers(over)

    def lift(self, move: Move | None, over: Over, value: Any) -> None:
        """Let an overlay close; with a move, its guards are asked, if it is visible."""
        if move is not None and (over.under is None or over.under in self.world.path):
            self.consult(move, self.of_place(over))
        (over.under.over if over.under else self.world.over).remove(over)
        self.world.timers = [t for t in self.world.timers if t.of is not over or t.kind == "whatever happens"]
        self.closed.append(over)
        answers = over.asker is not None and self.world.there(over.asker) and self.settle(over.asker, over.name, value)
        if value is not None and not answers:
            self.say("finding", "nobody waits")

    def to_front(self, move: Move, what: o.Switch, tabs: Rung, tab: int) -> None:
        front = tabs.used[-1]
        if tab != front or what.to_root:
            self.leaving(move, tops(tabs.inner[front].rungs))
        self.inside = tabs.inner[tab]
        tabs.used = [*(each for each in (tabs.used[:-1] if what.going_back else tabs.used) if each != tab), tab]
        if not self.inside.rungs:
            self.put_first(self.inside)
        elif what.to_root:
            self.down_to(Move(()), self.inside, 1)

    def plainly(self, target: o.Target) -> Rung:
        """Make a rung with what is first inside it, without redirects."""
        inside = self.plan.screen[target.screen].inside
        return self.made(target, given=[self.plainly(filled(inside[0][1], dict(target.arguments)))] if inside else None)

    def open_link(self, move: Move, address: str, whole: bool = False) -> None:
        found, world = match_link(self.plan.links, address), self.world
        if found.link is None:
            if self.plan.unknown_target is not None:
                self.operate(move, o.Push(filled(self.plan.unknown_target, {"address": address})), world.innermost)
            return
        self.effects.append(f"link {found.link.mode}")
        targets = [filled(target, found.values) for target in found.link.build]
        if found.link.mode != "rebuild" and not whole and world.path:
            put = o.Reach(targets[-1]) if found.link.mode == "reach" else o.Push(targets[-1])
            self.operate(move, put, world.ladder if found.link.mode == "over all" else world.innermost)
            return
        last, sent, stands_in = self.redirected(targets[-1], address)
        rungs = [self.made(last, stands_in)]
        for target in reversed(targets[:-1] if not sent else ()):
            screen = self.plan.screen[target.screen]
            firsts = [first.screen for _, first in screen.inside]
            if rungs[0].name in firsts or (firsts and not screen.tabs):
                tab = firsts.index(rungs[0].name) if rungs[0].name in firsts else 0
                rungs = [self.made(target, given=rungs, front=tab)]
            else:
                rungs = [self.plainly(target), *rungs]
        self.operate(move, o.Clear(), world.ladder)
        for rung in rungs:
            self.put(world.ladder, rung)
