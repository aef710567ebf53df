"""The second reading: events, what follows from a move, time."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from tests.second.operate import Operations
from tests.second.world import At, Move, Rung, Timer, View, filled, holds
from wise_ladder.plan import events
from wise_ladder.plan import operations as o
from wise_ladder.plan.addresses import filled_in
from wise_ladder.plan.linking import link_of

AT_ONCE = 64
QUIET = (o.SetFact, o.SetOwn, o.StartCall, o.CancelCall)


class Refused(Exception):
    """The event does not apply."""


def only_if(applies: Any) -> None:
    if not applies:
        raise Refused


class Second(Operations):
    """One step: `run` an event, and read `world`, `log` and `effects` afterwards."""

    next_link, count = "", 0

    def run(self, event: events.Event) -> bool:
        """Do an event; return whether it applied. If not, everything is as before."""
        before = self.world.copy()
        try:
            getattr(self, type(event).__name__.lower())(event)
        except Refused:
            self.world.__dict__.update(before.__dict__)
            self.log.clear()
            return False
        if not isinstance(event, events.Wait):
            self.look(by_itself=isinstance(event, (events.OutsideChange, events.Reply)))
        return True

    # From the user

    def launch(self, _event: Any) -> None:
        only_if(self.world.phase == "outside")
        self.change(lambda: self.start(""))

    def tap(self, event: Any) -> None:
        world = self.world
        only_if(world.phase == "open" and not world.cover and world.question is None)
        path, over, values = world.path, world.overlays(world.path)[::-1], dict(event.arguments)
        notices = [(each.name, rung, each.id) for each, rung in over if not self.plan.overlay[each.name].modal]
        modal = [(each.name, rung, each.id) for each, rung in over if self.plan.overlay[each.name].modal][:1]
        rest: list[Any] = modal or [*((rung.screen, rung, 0) for rung in reversed(path)), (None, None, 0)]
        fitting = ((self.tapped(event, where, View(rung, values)), where, rung, layer) for where, rung, layer in notices + rest)
        found = next((each for each in fitting if each[0] is not None), None)
        only_if(found)
        move, where, rung, layer = found or (None, None, None, 0)
        way, was, left, top = "in-app" if rung is path[-1] else "aside", world.stand(rung), rung and rung.shell(), path[-1].id
        self.act(move, rung, layer, values, way)
        if not event.twice or world.phase != "open" or world.question is not None or world.cover:
            return
        same = bool(world.path) and world.path[-1].id == top
        if self.policy("taps_in_transition") == "taken" or same:
            there, self.count = world.find(left.id) if left else None, 0
            rung = there[0] if there else None
            again = self.tapped(event, where, View(rung or left, values, was), again=True)
            if again is not None and (rung or not left):
                self.act(again, rung, layer, values, way)
            elif again is not None and left is not None:
                self.carry(Move(self.bound(again, {**left.args, **values}), way, world.still(was), left.id, where, layer))

    def tapped(self, event: Any, where: str | None, view: View, *, again: bool = False) -> Any:
        names = {name for name, _ in event.arguments}
        moves = [m for m in self.moves_of(where) if isinstance(m.trigger, o.TapTrigger) and m.trigger.name == event.name]
        return self.choose([m for m in moves if all(each.name in names for each in m.trigger.carries)], view, again=again)

    def choose(self, moves: Any, view: View, *, again: bool = False) -> Any:
        """The first move whose condition holds, of those anywhere one that is for the screen that is seen."""
        screen = self.world.path[-1].screen if self.world.path else ""
        for move in moves:
            limited = move.where is None and not again and ((move.only and screen not in move.only) or screen in move.but)
            if not limited and holds(self.world, move.condition, view):
                return move
        return None

    def bound(self, move: Any, values: dict[str, Any]) -> tuple[Any, ...]:
        return tuple(bind(operation, values) for operation in move.operations)

    def stands_at(self, rung: Rung | None, layer: int) -> At:
        """The way to the ladder that a move acts on which stands on a rung, or on an overlay over it."""
        return self.world.stand(rung) + (rung.inside if rung and not layer else ())

    def act(self, move: Any, rung: Rung | None, layer: int, values: dict[str, Any], way: str, finding: str = "") -> None:
        """Do a move that stands on a rung (none: anywhere, or an overlay of the app), and what follows."""
        self.effects.append(f"trigger {trigger_name(move.trigger)}")
        given = {**(rung.args if rung and not layer else {}), **values}
        at, owner = self.stands_at(rung, layer), rung.id if rung else 0
        self.carry(Move(self.bound(move, given), way, at, owner, move.where, layer, finding=finding))

    def carry(self, move: Move) -> None:
        hidden = move.at != self.world.way_in[: len(move.at)]
        self.do(move)
        self.follow_up(self.follows(hidden))

    def back(self, event: Any) -> None:
        world = self.world
        only_if(world.phase == "open" and self.policy("system_back") == "yes")
        if world.cover:
            self.change(self.exit)
        elif world.question is not None:
            self.answer(events.Answer(world.question[0].answers[0].name))
        else:
            self.carry(Move((), "system", taken_by=event.taken_by, is_back=True))

    def goal(self, move: Move) -> None:
        """Ask the guards that are first in line, then do what Back is for."""
        self.consult(move, [each for each in self.first_asked() if each[0].first_in_line])
        world, at, path = self.world, self.world.way_in, self.world.path
        for over, rung in reversed(world.overlays(path)):
            if self.plan.overlay[over.name].back == "closes":
                self.lift(move, over, rung, None)
            if self.plan.overlay[over.name].back != "passes":
                return
        for level in reversed(range(len(path))):
            if len(world.ladder_at(at[:level])) > 1:
                self.operate(move, o.Pop(), at[:level])
                return
            if level and self.plan.screen[path[level - 1].screen].tabs and self.policy("tab_back") != "outwards":
                tabs, last_used = path[level - 1], self.plan.policies.tab_back == "last used"
                to = tabs.used[-2:-1] if last_used else [0] if tabs.front else []
                for tab in to:
                    name = self.plan.screen[tabs.screen].inside[tab][0]
                    self.to_front(move, o.Switch(name, going_back=True), at[: level - 1], tabs, tab)
                    return
        if self.policy("back_at_root") != "stay":
            self.leaving(move, path, 0, app=True)
        if self.plan.policies.back_at_root == "leave":
            self.exit()
        elif self.plan.policies.back_at_root == "away":
            world.phase = "away"

    def headerback(self, _event: Any) -> None:
        world, path = self.world, self.world.path
        only_if(world.phase == "open" and not world.cover and world.question is None)
        only_if(not any(self.plan.overlay[over.name].modal for over, _ in world.overlays(path)))
        screen, at = self.plan.screen[path[-1].screen], world.way_in
        only_if(screen.header == "arrow" or (screen.header == "menu" and screen.menu))
        does: tuple[Any, ...] = (o.Open(screen.menu),) if screen.header == "menu" else ()
        arrow = next((each for each in screen.arrow if self.holds(each.condition, path[-1])), None)
        if not does and arrow is not None:
            target = filled(arrow.target, path[-1].args)
            args = dict(target.arguments)
            only_if(arrow.fresh or (path[-1].screen, path[-1].args) != (target.screen, args))
            there = any(r.screen == target.screen and args.items() <= r.args.items() for r in world.ladder_at(at))
            does = (*((o.PopTo(target),) if there else ()), *((o.Replace(target),) if arrow.fresh or not there else ()))
        level = len(path) - 1
        while not does and len(world.ladder_at(at[:level])) < 2:
            only_if(level and not self.plan.screen[path[level - 1].screen].tabs)
            level -= 1
        self.carry(Move(does or (o.Pop(),), "header", at[:level]))

    def answer(self, event: Any) -> None:
        question, world = self.world.question, self.world
        only_if(world.phase == "open" and question is not None)
        assert question is not None
        guard, of, move, _ = question
        given = next((each for each in guard.answers if each.name == event.name), None)
        only_if(given)
        assert given is not None
        world.question = None
        self.begin()
        before = self.before
        self.act_for(guard, of, given.operations)
        self.before, hidden = before, False
        if given.stays:
            self.close()
        else:
            facts, opened = self.rung_facts, self.came
            move = Move(**{**move.__dict__, "granted": (*move.granted, guard.id), "finding": ""})
            self.granted, hidden = list(move.granted), move.at != world.way_in[: len(move.at)]
            self.do(move)
            self.before, self.rung_facts, self.came = before, {**self.rung_facts, **facts}, [*opened, *self.came]
        self.follow_up(self.follows(hidden))

    # The phone and the world

    def change(self, what: Any = None, *, first: Any = ()) -> None:
        """Do something that is no move of the plan, and what follows from it."""
        self.begin()
        if what is not None:
            what()
        self.close()
        self.follow_up([*first, *self.follows(hidden=False)])

    def to(self, phase: str) -> Any:
        return lambda: setattr(self.world, "phase", phase)

    def home(self, _event: Any) -> None:
        only_if(self.world.phase == "open")
        self.change(self.to("away"))

    def reopen(self, _event: Any) -> None:
        only_if(self.world.phase in {"away", "killed"})
        self.change(self.to("open") if self.world.phase == "away" else lambda: self.come_back(""))

    def start(self, address: str, *, covered: bool = True) -> None:
        self.world.phase, self.world.memory, self.starting, self.out = "open", False, True, False
        self.world.held_link, cover = address, self.plan.cover
        self.phases.append("launched")
        if cover is not None and covered:
            self.world.cover = True
            for after, kind in ((cover.least or None, "cover least"), (cover.most, "cover most")):
                if after is not None:
                    self.timer(after, kind, 0)

    def come_back(self, address: str) -> None:
        world, restore, covered = self.world, self.policy("restore"), self.policy("cover_after_death") == "yes"
        if restore == "nothing" or not world.ladder:
            world.ladder, world.fresh = [], set()
            self.forget_facts(("memory", "ladder"))
            self.start(address)
            return
        if restore == "top":
            world.ladder = only_tops(world.ladder)
        for rung, _ in world.everything():
            self.start_timers(rung, ("on ladder",))
        world.came_back = True
        self.start(address, covered=covered)

    def killed(self, _event: Any) -> None:
        only_if(self.world.runs)
        self.change(self.die)

    def die(self) -> None:
        world = self.world
        for rung, _ in world.everything():
            self.lose(rung)
            self.log += [("finding", "result lost")] * len(rung.waits)
            first = {fact.name: fact.values[0] for fact in self.plan.screen[rung.screen].holds if fact.kept == "memory"}
            rung.__dict__.update(facts=rung.facts | first, waits=[], came=[], over=[], stands_in=False, owes=None)
        kept = {name: getattr(world, name) for name in ("facts", "ladder", "fresh", "clock", "number", "bars", "seen", "since")}
        world.__dict__.update(type(world)(**kept, phase="killed").__dict__)
        self.forget_facts(("memory",))

    def swipedaway(self, _event: Any) -> None:
        only_if(self.world.phase != "outside")
        self.change(lambda: self.exit(whole=True))

    def lowmemory(self, _event: Any) -> None:
        only_if(self.world.runs)
        self.change(lambda: self.phases.append("low memory"))

    def outsidechange(self, event: Any) -> None:
        changes = {fact.name: fact.outside for fact in self.plan.facts}.get(event.fact, ())
        only_if((self.world.facts.get(event.fact), event.value) in changes)
        self.change(lambda: self.set_fact(event.fact, event.value))

    def link(self, event: Any) -> None:
        world, address = self.world, event.address
        only_if(link_of(self.plan.links, address).link is not None or self.plan.unknown is not None)
        if world.phase in {"outside", "killed"}:
            self.change(lambda: self.start(address) if world.phase == "outside" else self.come_back(address))
        elif world.phase == "away" or (world.question is not None and not world.cover):
            self.next_link = address
            if world.question is None or world.phase == "away":
                self.change(self.to("open"))
            else:
                self.answer(events.Answer(world.question[0].answers[0].name))
        elif world.cover and not world.ladder:
            self.change(lambda: setattr(world, "held_link", address))
        elif world.cover:
            world.held_link, world.came_back = "", False
            self.carry(Move((o.Follow(address, whole=True),)))
        else:
            self.carry(Move((o.Follow(address),), "aside"))

    # Time

    def reply(self, event: Any) -> None:
        world, call = self.world, next((call for call in self.world.calls if call.name == event.call), None)
        outcome = self.plan.call[event.call].outcome(event.outcome)
        only_if(call is not None and outcome is not None)
        assert call is not None
        assert outcome is not None
        if call.began + outcome.takes > world.clock:
            self.wait(events.Wait(call.began + outcome.takes - world.clock))
            self.reply(event)
            return
        only_if(self.holds(outcome.condition, None))
        self.count = 0
        world.calls = [each for each in world.calls if each is not call]
        self.say("reply", event.call, event.outcome)
        self.due(o.ReplyTrigger(event.call, event.outcome), call.where, call.of, call.was)

    def wait(self, event: Any) -> None:
        world, until, instant, count, fired = self.world, self.world.clock + event.time, -1, 0, 0
        while world.timers and world.timers[0].due <= until:
            timer = world.timers[0]
            count, instant, fired, self.count = count + 1 if timer.due == instant else 1, timer.due, fired + 1, 0
            if count > AT_ONCE:
                self.say("finding", "runaway")
                world.timers = []
                break
            if timer.due > world.clock:
                self.look(by_itself=fired > 1)
                world.clock = timer.due
            world.timers.pop(0)
            self.fire(timer)
        self.look(by_itself=fired > 0)
        world.clock = until

    def fire(self, timer: Timer) -> None:
        over = self.world.find_over(timer.of)
        if timer.kind == "overlay" and over is not None:
            self.change(lambda: self.lift(None, *over, None))
        elif timer.kind in {"cover most", "cover least"}:
            self.change(first=[("cover", True)] if timer.kind == "cover most" else ())
        elif timer.kind in {"frame", "first frame"}:
            self.change(first=[("shown", timer.of, timer.kind == "first frame")])
        else:
            rung = timer.left or (self.world.find(timer.of) or (None,))[0]
            where = over[0].name if over else rung.screen if rung else None
            self.due(o.TimerTrigger(timer.after, timer.kind), where, timer.of, timer.left)  # type: ignore[arg-type]

    def due(self, trigger: Any, where: str | None, of: int, was: Rung | None) -> None:
        """A timer is due or a call is answered: the place that began it reacts, wherever it is."""
        world, overlay = self.world, self.plan.overlay.get(where or "")
        over, found = world.find_over(of) if overlay else None, world.find(of)
        rung = over[1] if over else found[0] if found and not overlay else None
        gone = where is not None and rung is None and over is None
        hidden = where is not None and (
            world.phase != "open" or gone or (rung is not None and all(r is not rung for r in world.path))
        )
        moves = [move for move in self.moves_of(where) if move.trigger == trigger]
        if gone and isinstance(trigger, o.ReplyTrigger):
            self.log += [("finding", "reply to a gone screen")] if moves else []
            self.change()
            return
        seen_by = None if where is None or (overlay and overlay.of == "app") else rung or was or Rung(of, "", {}, {})
        if overlay and was is not None and seen_by is was:
            seen_by = Rung(of, "", {}, {})
        move = self.choose(moves, View(seen_by))
        loud = move is not None and not all(isinstance(each, QUIET) for each in move.operations)
        if move is None:
            self.change()
        elif world.phase == "outside" and loud:
            self.effects.append(f"trigger {trigger_name(trigger)}")
            if any(isinstance(each, (o.Push, o.Replace, o.Reach)) for each in move.operations):
                does = self.bound(move, was.args if was else {})
                self.carry(Move(does, "by itself", (), of, where, finding="acted after leaving", forward=True))
            else:
                self.say("finding", "acted after leaving")
                self.change()
        elif gone:
            self.effects.append(f"trigger {trigger_name(trigger)}")
            does = self.bound(move, was.args if was else {})
            self.carry(Move(does, "by itself", (), of, where, finding="acted while hidden" if loud else ""))
        else:
            self.act(move, rung, of if overlay else 0, {}, "by itself", "acted while hidden" if hidden and loud else "")

    def look(self, *, by_itself: bool) -> None:
        """Note what is seen now; bars follow."""
        world = self.world
        path = world.path if world.phase == "open" and not world.cover else []
        waits = any(self.plan.overlay[over.name].kind == "wait" for over, _ in world.overlays(path))
        what = "cover" if world.phase == "open" and world.cover else "wait" if waits else ""
        top = path[-1] if path else None
        now = ((top.screen, tuple(top.args.items())) if top else None, top.id if top else 0, what)
        if now == world.seen:
            return
        was, time = world.seen, world.clock - world.since
        if was[0] is not None and by_itself and self.plan.screen[was[0][0]].plays > time and world.find(was[1]) is None:
            self.say("finding", "cut short")
        world.seen, world.since = now, world.clock
        if top is not None:
            bars = (self.plan.screen[top.screen].top_bar, self.plan.screen[top.screen].bottom_bar)
            said = [self.policy("bars_left_unsaid") if bar == "unsaid" else bar for bar in bars]
            world.bars = tuple(
                {"shown": True, "hidden": False}.get(bar, old) for bar, old in zip(said, world.bars, strict=True)
            )

    # What follows from a move

    def follow_up(self, agenda: list[Any]) -> None:
        """Do what follows, one thing after the other, until nothing is left."""
        while agenda or self.world.cover or self.next_link:
            self.count += 1
            if self.count > AT_ONCE:
                self.say("finding", "runaway")
                self.next_link = ""
                break
            if not agenda:
                agenda, self.next_link = [("link", self.next_link) if self.next_link else ("cover", False)], ""
            kind, *rest = agenda.pop(0)
            if kind == "link":
                if self.world.runs:
                    self.link(events.Link(*rest))
                return
            hidden = getattr(self, f"then_{kind}")(*rest)
            if hidden is None and kind == "cover":
                break
            agenda = [*self.follows(hidden), *agenda] if hidden is not None else agenda
        if self.world.cover and not self.world.timers and not self.world.calls and not self.may_go():
            self.say("finding", "cover never goes")

    def follows(self, hidden: bool) -> list[Any]:
        """List what follows from the move that was just done; `hidden`: a hidden rung's."""
        world, out = self.world, self.world.phase == "outside"
        lefts = [(rung.screen, rung, at, 0) for rung, at in self.went] + [(name, None, at, of) for name, at, of in self.closed]
        found: list[Any] = [("left", *each, out) for each in lefts if self.of(each[0], o.LeftTrigger())]
        if world.phase == "open":
            found += [("result", rung.id, *came, True) for rung in world.path for came in rung.came]
            for rung, at in world.everything() if hidden else ():
                if rung.id in self.uncovered and rung not in world.path and world.ladder_at(at)[-1] is rung:
                    found += [("result", rung.id, *came, False) for came in rung.came]
        for what in ("launched", "cover gone", "low memory"):
            if what in self.phases:
                trigger = o.WorldTrigger(what)
                places = [*self.reacting(), (None, 0)]
                found += [("at", *each, trigger) for each in places if self.of(each[0], trigger)]
                found += [("begin",)] if what == "launched" else []
        world.fresh |= set(self.came)
        found += self.now_shown() + ([] if "launched" in self.phases else self.turned())
        self.went, self.closed, self.phases = [], [], []
        return found

    def of(self, where: str | None, trigger: Any) -> list[Any]:
        return [move for move in self.moves_of(where) if move.trigger == trigger]

    def reacting(self, world: Any = None) -> list[tuple[str | None, int]]:
        """What is visible, inner first: its name and number."""
        world = world or self.world
        found: list[tuple[str | None, int]] = [(over.name, over.id) for over in reversed(world.over)]
        for rung in reversed(world.path):
            found += [*((over.name, over.id) for over in reversed(rung.over)), (rung.screen, rung.id)]
        return found

    def now_shown(self) -> list[Any]:
        """Start what runs while shown, stop it where something is hidden, and list what becomes visible."""
        world, found, before = self.world, list[Any](), self.before
        now = self.reacting()[::-1] if world.phase == "open" and not world.cover else []
        was = {number for _, number in self.reacting(before)} if before.phase == "open" and not before.cover else set()
        visible = {number for _, number in now}
        world.timers = [t for t in world.timers if t.kind != "shown" or t.of in visible]
        for name, number in now:
            if number not in was:
                self.start_timers(Rung(number, name or "", {}, {}), ("shown",))
        for first in (True, False):
            for name, number in now:
                if number not in was and self.of(name, o.ShownTrigger(first)) and (not first or number in world.fresh):
                    if self.policy("shown_acts") == "after it":
                        self.timer(16, "first frame" if first else "frame", number)
                    else:
                        found.append(("shown", number, first))
        world.fresh -= visible
        return found

    def turned(self) -> list[Any]:
        """List who reacts to facts that have another value than before the move."""
        world, found = self.world, list[Any]()
        facts = [(name, value) for name, value in world.facts.items() if value != self.before.facts[name]]
        seen = {rung.id: rung for rung in world.path}
        for name, number in [*self.reacting(), *([(None, 0)] if seen else [])]:
            held = seen[number].facts.items() if number in seen and number not in self.came else ()
            own = [(fact, value) for fact, value in held if self.rung_facts.get((number, fact), value) != value]
            found += [("turned", *fact, name, number) for fact in (*own, *facts) if self.of_fact(name, *fact)]
        highest = {rung.screen: rung.id for rung, _ in world.everything() if rung.id not in seen}
        hidden = [(fact, name, n) for fact in facts for name, n in highest.items() if self.of_fact(name, *fact, hidden=True)]
        return found + [("hidden", *fact, name, number) for fact, name, number in hidden]

    def of_fact(self, where: str | None, fact: str, value: str, *, hidden: bool = False) -> list[Any]:
        kinds = [o.BecomesTrigger(fact, value, even_hidden=True), *([] if hidden else [o.BecomesTrigger(fact, value)])]
        return [move for move in self.moves_of(where) if move.trigger in kinds]

    def may_go(self) -> bool:
        """Whether a declared change from outside could matter to the cover."""
        asked, reached = facts_of(self.plan.cover.until if self.plan.cover else None), set(self.world.facts.items())
        reacts = {(m.trigger.fact, m.trigger.value) for m in self.plan.moves if isinstance(m.trigger, o.BecomesTrigger)}
        while new := {(f.name, b) for f in self.plan.facts for a, b in f.outside if (f.name, a) in reached} - reached:
            if any(name in asked or (name, value) in reacts for name, value in new):
                return True
            reached |= new
        return False

    # One thing that follows: None if nothing came of it, else whether it acted on a hidden ladder

    def first(self, moves: Any, rung: Rung | None, layer: int, values: Any = (), app: bool = False) -> bool | None:
        move = self.choose(moves, View(None if app else rung, dict(values)))
        if move is None:
            return None
        self.effects.append(f"trigger {trigger_name(move.trigger)}")
        at = self.stands_at(rung, layer)
        hidden = at != self.world.way_in[: len(at)]
        given = {**(rung.args if rung and not layer else {}), **dict(values)}
        self.do(Move(self.bound(move, given), "by itself", at, rung.id if rung else 0, move.where, layer))
        return hidden

    def then_at(self, where: str | None, number: int, trigger: Any, moves: Any = None) -> bool | None:
        """Let a visible place react, or the app itself."""
        world, moves = self.world, self.of(where, trigger) if moves is None else moves
        if where is None:
            return self.first(moves, None, 0) if world.runs else None
        over, rung = world.find_over(number), world.find(number)
        if world.phase != "open" or all(number != each for _, each in self.reacting()):
            return None
        return self.first(moves, over[1], number) if over else self.first(moves, rung[0], 0) if rung else None

    def then_shown(self, number: int, first: bool) -> bool | None:
        name = next((name for name, each in self.reacting() if each == number), None)
        return self.then_at(name, number, o.ShownTrigger(first)) if name is not None else None

    def then_turned(self, fact: str, value: str, where: str | None, number: int) -> bool | None:
        return self.then_at(where, number, None, self.of_fact(where, fact, value))

    def then_hidden(self, fact: str, value: str, where: str, number: int) -> bool | None:
        there = self.world.find(number)
        moves = self.of_fact(where, fact, value, hidden=True)
        return self.first(moves, there[0], 0) if there is not None and self.world.runs else None

    def then_left(self, where: str, was: Rung | None, at: At, lay_over: int, out: bool) -> bool | None:
        world, at = self.world, self.world.still(at)
        under, overlay = world.find(lay_over), self.plan.overlay.get(where)
        app = overlay is not None and overlay.of == "app"
        view = View() if app else View(under[0] if under else was or Rung(-1, "", {}, {}), at=at)
        move = self.choose(self.of(where, o.LeftTrigger()), view)
        if move is None:
            return None
        self.effects.append("trigger left")
        does = [each for each in self.bound(move, was.args if was else {}) if not out or isinstance(each, o.SetFact)]
        hidden = at != world.way_in[: len(at)]
        self.do(Move(tuple(does), "by itself", at, was.id if was else lay_over, where))
        return hidden

    def then_result(self, number: int, name: str, value: str | None, was_seen: bool) -> bool | None:
        there = self.world.find(number)
        if self.world.phase != "open" or there is None or (name, value) not in there[0].came:
            return None
        rung, at = there
        if self.world.ladder_at(at)[-1] is not rung or (was_seen and all(each is not rung for each in self.world.path)):
            return None
        rung.came.remove((name, value))
        self.say("result", name, value, rung.screen)
        found = self.first(
            self.of(rung.screen, o.ResultTrigger(name, value is None)), rung, 0, ((name, value),) if value else ()
        )
        if found is None:
            self.do(Move(()))
        return bool(found)

    def then_begin(self) -> bool | None:
        self.starting = False
        world = self.world
        if not world.runs or (world.cover and (world.ladder or len(self.plan.start) > 1)):
            return None
        self.readmit() if world.ladder else self.first_put()
        return False

    def readmit(self) -> None:
        """Let what a ladder that came back shows go through the redirects; then the link is next that brought the app back."""
        self.begin()
        world, top = self.world, self.world.path[-1]
        self.next_link, world.held_link, world.came_back = world.held_link, "", False
        target, sent, stands_in = self.redirected(o.Target(top.screen, tuple(top.args.items())))
        if sent:
            rung = self.made(target, stands_in)
            self.operate(Move(()), o.Clear(), ())
            self.put((), rung)
        self.close()

    def first_put(self) -> None:
        address, self.world.held_link = self.world.held_link, ""
        starts = [choice.target for choice in self.plan.start if self.holds(choice.condition, None)]
        self.do(Move((o.Follow(address, whole=True),) if address else tuple(o.Push(each) for each in starts[:1])))

    def then_cover(self, over: bool) -> bool | None:
        world, cover, was = self.world, self.plan.cover, self.world.copy()
        least = any(timer.kind == "cover least" for timer in world.timers)
        if cover is None or not world.cover or (not over and (least or not self.holds(cover.until, None))):
            return None
        world.cover, world.timers = False, [t for t in world.timers if not t.kind.startswith("cover")]
        if world.came_back:
            self.readmit()
        elif not world.ladder:
            self.first_put()
        else:
            self.do(Move(()))
        world.held_link = ""
        self.before = was
        self.phases.append("cover gone")
        return False


def only_tops(ladder: list[Rung]) -> list[Rung]:
    for rung in ladder[-1:]:
        rung.inner = [only_tops(inner) for inner in rung.inner]
    return ladder[-1:]


def bind(what: Any, values: dict[str, Any]) -> Any:
    """Fill in the variables of an operation."""
    if isinstance(what, o.Follow):
        return o.Follow(filled_in(what.address, values))
    if hasattr(what, "operation"):
        return replace(what, operation=bind(what.operation, values))
    if hasattr(what, "target"):
        what = replace(what, target=filled(what.target, values))
    return replace(what, otherwise=bind(what.otherwise, values)) if getattr(what, "otherwise", None) else what


def trigger_name(trigger: Any) -> str:
    more = sorted({"runs", "first", "even_hidden", "cancelled", "what"} & set(trigger.__struct_fields__))
    return " ".join([type(trigger).__name__, *(str(getattr(trigger, name)) for name in more)])


def facts_of(condition: Any) -> set[str]:
    match condition:
        case o.FactIs(name, _):
            return {name}
        case o.Not(inner):
            return facts_of(inner)
        case o.All(parts) | o.Either(parts):
            return set[str]().union(*map(facts_of, parts))
    return set()
