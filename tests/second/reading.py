"""The second reading: events, and time."""

from __future__ import annotations

from functools import partial
from typing import Any

from tests.second.follow import AT_ONCE, WHILE_SHOWN, Following
from tests.second.world import (
    Ladder,
    Move,
    Over,
    Place,
    Rung,
    Timer,
    View,
    everything,
    filled,
    holds,
    place_of,
    restore,
    rung_of,
    seen_from,
    tops,
)
from wise_ladder.plan import events, triggers
from wise_ladder.plan import operations as o
from wise_ladder.plan.link_match import match_link

QUIET = (o.SetFact, o.SetRungFact, o.StartCall, o.CancelCall, o.StartTimer, o.StopTimer, o.TakeBack)
TOUCHES = (events.Tap, events.Back, events.BackBegun, events.HeaderBack, events.Answer)
PUTS = (o.Push, o.Replace, o.Reach)


class Refused(Exception):
    """The event does not apply."""


def only_if(applies: Any) -> None:
    if not applies:
        raise Refused


class Second(Following):
    """One step: `run` an event, and read `world`, `log` and `effects` afterwards."""

    def run(self, event: events.Event) -> bool:
        """Do an event; return whether it applied. If not, everything is as before."""
        saved = self.world.saved()
        for timer in self.plan.timers if isinstance(event, TOUCHES) else ():
            if timer.anew_when_touched and any(each.kind == timer.name for each in self.world.timers):
                self.world.timers = [each for each in self.world.timers if each.kind != timer.name]
                self.timer(timer.after, timer.name, None)
        try:
            getattr(self, type(event).__name__.lower())(event)
        except Refused:
            restore(saved)
            self.log.clear()
            return False
        if not isinstance(event, events.Wait):
            self.look(by_itself=isinstance(event, (events.OutsideChange, events.Reply)))
        return True

    # From the user

    def backbegun(self, _event: Any) -> None:
        world = self.world
        only_if(world.phase == "open" and not world.cover and world.begun is None)
        only_if(self.policy("back_gesture") == "yes" and self.plan.policies.system_back == "yes")
        saved, second, before = world.saved(), Second(self.plan, world), self.outlook()
        second.run(events.Back())
        promise = second.done_since(before)
        restore(saved)
        self.change(lambda: setattr(world, "begun", promise))

    def backcancelled(self, _event: Any) -> None:
        self.change_if(self.world.phase == "open" and self.world.begun is not None, lambda: setattr(self.world, "begun", None))

    def backfinished(self, _event: Any) -> None:
        only_if(self.world.phase == "open" and self.world.begun is not None)
        promise, self.world.begun = self.world.begun, None
        before = self.outlook()
        self.back(events.Back())
        if self.done_since(before) != promise:
            self.say("finding", "promise broken")

    def outlook(self) -> tuple[Any, ...]:
        """What tells what a Back has done: what is seen, what is asked, how many overlays lie anywhere."""
        world = self.world
        over = len(world.over) + sum(len(rung.over) for rung in everything(world.ladder.rungs))
        return next(iter(world.path[-1:]), None), world.question, over

    def done_since(self, before: tuple[Any, ...]) -> tuple[Any, ...]:
        """What a Back has done, as far as the gesture shows it."""
        world, (top, question, over) = self.world, self.outlook()
        if world.phase != "open":
            return ("leaves",) if world.phase == "outside" else ("goes away",)
        if question is not None and question is not before[1]:
            return "asks", question[0].name
        if any(said[0] == "blocked" for said in self.log):
            return ("blocked",)
        if top is None or top is not before[0]:
            return ("lands", top.name, tuple(top.args.items())) if top else ("lands",)
        return ("closes",) if before[1] is not None or over < before[2] else ("stays",)

    def only_if_free(self) -> None:
        only_if(self.world.phase == "open" and not (self.world.begun or self.world.cover or self.world.question))

    def launch(self, _event: Any) -> None:
        self.change_if(self.world.phase == "outside", lambda: self.start(""))

    def tap(self, event: Any) -> None:
        self.only_if_free()
        world, path, values = self.world, self.world.path, dict(event.arguments)
        lying = world.lying(path)[::-1]
        places: list[Place] = [path[-1]] if self.foreign(path[-1]) else [over for over in lying if not self.is_modal(over)]
        if not self.foreign(path[-1]):
            places += [over for over in lying if self.is_modal(over)][:1] or [*reversed(path), None]
        fitting = ((self.tapped(event, place, seen_from(place, values)), place) for place in places)
        move, place = next((each for each in fitting if each[0] is not None), (None, None))
        only_if(move)
        rung, top = rung_of(place), path[-1]
        left, way = rung and rung.shell(), "in-app" if rung is top else "aside"
        home = rung.home if rung else None
        self.carry(self.move(move, place, values, way))
        if not event.twice or world.phase != "open" or world.question is not None or world.cover:
            return
        if self.policy("taps_in_transition") == "taken" or world.path[-1:] == [top]:
            self.count, there = 0, world.there(rung)
            own = place.facts if isinstance(place, Over) else None
            again = self.tapped(event, place, View(rung if there else left, values, home, own), again=True)
            if again is not None and there:
                self.carry(self.move(again, place, values, way))
            elif again is not None and left is not None:
                self.carry(Move(self.bound(again, {**left.args, **values}), way, world.still(home), place))

    def tapped(self, event: Any, place: Place, view: View, *, again: bool = False) -> Any:
        moves = [m for m in self.moves_of(place) if isinstance(m.trigger, triggers.TapTrigger) and m.trigger.name == event.name]
        return self.choose(
            [m for m in moves if all(each.name in dict(event.arguments) for each in m.trigger.carries)], view, again=again
        )

    def back(self, event: Any) -> None:
        only_if(self.world.phase == "open" and self.world.begun is None and self.policy("system_back") == "yes")
        if self.world.cover:
            self.change(self.exit)
        elif self.world.question is not None:
            self.answered(self.world.question[0].answers[0].name)
        else:
            self.carry(Move((), None if self.foreign(self.world.path[-1]) else "system", taken_by=event.taken_by, is_back=True))

    def goal(self, move: Move) -> None:
        """Ask the guards that are first in line, then do what Back is for."""
        self.consult(move, [each for each in self.first_asked() if each[0].first_in_line])
        world, ladder = self.world, self.world.innermost
        for over in reversed(world.lying(world.path)) if not self.foreign(world.path[-1]) else ():
            if self.plan.overlay[over.name].back == "closes":
                self.lift(move, over, None)
            if self.plan.overlay[over.name].back != "passes":
                return
        while len(ladder.rungs) < 2 and ladder.holder:
            tabs = ladder.holder
            if self.is_tabs(tabs) and self.policy("tab_back") != "outwards":
                for tab in tabs.used[-2:-1] if self.plan.policies.tab_back == "last used" else [0] if tabs.used[-1] else []:
                    name = self.plan.screen[tabs.name].inside[tab][0]
                    self.to_front(move, o.Switch(name, going_back=True), tabs, tab)
                    return
            ladder = tabs.home
        if len(ladder.rungs) > 1:
            self.operate(move, o.Pop(), ladder)
            return
        if self.policy("back_at_root") != "stay":
            self.leaving(move, world.path, app=True)
        if self.plan.policies.back_at_root == "leave":
            self.exit()
        elif self.plan.policies.back_at_root == "away":
            world.phase, world.begun = "away", None

    def headerback(self, _event: Any) -> None:
        self.only_if_free()
        world, top, ladder = self.world, self.world.path[-1], self.world.innermost
        screen, modal = self.plan.screen[top.name], any(self.is_modal(over) for over in world.lying(world.path))
        only_if(not modal and (screen.header == "arrow" or (screen.header == "menu" and screen.menu)))
        does: tuple[Any, ...] = (o.Open(screen.menu),) if screen.header == "menu" else ()
        arrow = next((each for each in screen.arrow if holds(world, each.condition, View(top))), None)
        if not does and arrow is not None:
            target = filled(arrow.target, top.args)
            only_if(arrow.fresh or (top.name, top.args) != (target.screen, dict(target.arguments)))
            there = self.nearest(ladder, target.screen, dict(target.arguments)) is not None
            does = (*((o.PopTo(target),) if there else ()), *((o.Replace(target),) if arrow.fresh or not there else ()))
        while not does and len(ladder.rungs) < 2:
            only_if(ladder.holder and not self.is_tabs(ladder.holder))
            ladder = ladder.holder.home if ladder.holder else ladder
        self.carry(Move(does or (o.Pop(),), "header", ladder))

    def answer(self, event: Any) -> None:
        only_if(self.world.begun is None)
        self.answered(event.name)

    def answered(self, name: str) -> None:
        world, question = self.world, self.world.question
        given: Any = next((each for each in question[0].answers if each.name == name), None) if question else None
        only_if(world.phase == "open" and given)
        guard, place, move, _ = question
        world.question = None
        self.begin()
        before, hidden = self.before, False
        self.act_for(place, given.operations)
        self.before = before
        if given.stays:
            self.close()
        else:
            facts, opened = self.rung_facts, self.came
            move = Move(**{**move.__dict__, "granted": (*move.granted, guard.id), "finding": ""})
            hidden = world.hidden(move.at)
            self.do(move)
            self.before, self.rung_facts, self.came = before, {**self.rung_facts, **facts}, [*opened, *self.came]
        self.follow_up(self.follows(hidden))

    # The phone and the world

    def change_if(self, applies: Any, what: Any) -> None:
        only_if(applies)
        self.change(what)

    def change(self, what: Any = None, *, first: Any = ()) -> None:
        """Do something that is no move of the plan, and what follows from it."""
        self.begin()
        if what is not None:
            what()
        self.close()
        self.follow_up([*first, *self.follows(hidden=False)])

    def to(self, phase: str) -> Any:
        return lambda: self.world.__dict__.update(phase=phase, begun=None)

    def home(self, _event: Any) -> None:
        self.change_if(self.world.phase == "open", self.to("away"))

    def reopen(self, _event: Any) -> None:
        self.change_if(
            self.world.phase in {"away", "killed"},
            self.to_front_again if self.world.phase == "away" else lambda: self.come_back(""),
        )

    def to_front_again(self) -> None:
        """Our app is in front again; a screen of another app that runs apart is not."""
        self.world.phase = "open"
        top = next(iter(self.world.path[-1:]), None)
        if top is not None and self.plan.screen[top.name].apart:
            self.drop(Move(()), top)
            self.operations(Move(()))

    def start(self, address: str, *, covered: bool = True) -> None:
        self.world.phase, self.world.memory, self.starting, self.out = "open", False, True, False
        self.world.held_link, cover = address, self.plan.cover
        self.phases.append("launched")
        if cover is not None and covered:
            self.world.cover = True
            for after, kind in ((cover.least or None, "cover least"), (cover.most, "cover most")):
                if after is not None:
                    self.timer(after, kind, None)

    def come_back(self, address: str) -> None:
        world, restored, covered = self.world, self.policy("restore"), self.policy("cover_after_death") == "yes"
        if restored == "nothing" or not world.ladder.rungs:
            world.ladder.rungs, world.fresh, covered = [], set(), True
            self.forget_facts(("memory", "ladder"))
        else:
            if restored == "top":
                only_tops(world.ladder)
            for rung in everything(world.ladder.rungs):
                self.start_timers(rung, ("on ladder",))
            world.came_back = True
        self.start(address, covered=covered)

    def killed(self, _event: Any) -> None:
        self.change_if(self.world.runs, self.die)

    def die(self) -> None:
        kept = self.policy("results_of_other_apps") == "survive death"
        others = [rung for rung in everything(self.world.ladder.rungs) if kept and self.foreign(rung)]
        lives: dict[Rung, list[tuple[str, str]]] = {}
        for rung in others:
            for under in tops(rung.home.rungs[: place_of(rung)]):
                lives.setdefault(under, []).extend(wait for wait in under.waits if wait[1] == "above")
            if rung.owes is not None:
                lives.setdefault(rung.owes[0], []).extend(
                    wait for wait in rung.owes[0].waits if wait == (rung.owes[1], "inside")
                )
        for rung in everything(self.world.ladder.rungs):
            self.lose(rung)
            waits = [wait for wait in rung.waits if wait in lives.get(rung, [])]
            self.log += [("finding", "result lost")] * (len(rung.waits) - len(waits))
            first = {
                fact.name: fact.values[0] for fact in self.plan.screen[rung.name].holds if fact.lifetime in {"none", "memory"}
            }
            rung.__dict__.update(facts=rung.facts | first, waits=waits, came=[], over=[], stands_in=False)
            if rung.owes is not None and (rung not in others or (rung.owes[1], "inside") not in lives.get(rung.owes[0], [])):
                rung.owes = None
        self.world.end(phase="killed")
        self.forget_facts(("memory",))

    def remade(self, _event: Any) -> None:
        self.change_if(self.world.phase == "open", self.remake)

    def remake(self) -> None:
        """All rungs and overlays are made anew: facts, pending things, what is shown, as the plan and the phone say."""
        world, lost = self.world, self.policy("pending_when_remade") == "is lost"
        rungs = everything(world.ladder.rungs)
        places: list[Rung | Over] = [*rungs, *(over for rung in rungs for over in rung.over), *world.over]
        for place in places:
            known = self.plan.overlay if isinstance(place, Over) else self.plan.screen
            place.facts |= {fact.name: fact.values[0] for fact in known[place.name].holds if fact.lifetime == "none"}
        for rung in rungs if lost else ():
            self.log += [("finding", "result lost") for _ in (*rung.waits, *(value for _, value in rung.came if value))]
            rung.waits, rung.came = [], []
        if lost:
            world.timers = [each for each in world.timers if each.kind not in {"on ladder", *WHILE_SHOWN}]
            for call in world.calls:
                call.of = None if call.of is None else Rung(call.of.name)
            for place in places:
                self.start_timers(place, ("on ladder",))
        if self.policy("question_when_remade") == "goes":
            world.question = None
        self.remaking = True

    def swipedaway(self, _event: Any) -> None:
        self.change_if(self.world.phase != "outside", lambda: self.exit(whole=True))

    def lowmemory(self, _event: Any) -> None:
        self.change_if(self.world.runs, lambda: self.phases.append("low memory"))

    def outsidechange(self, event: Any) -> None:
        changes = {fact.name: fact.allowed_changes for fact in self.plan.facts}.get(event.fact, ())
        self.change_if(
            (self.world.facts.get(event.fact), event.value) in changes, lambda: self.set_fact(event.fact, event.value)
        )

    def openlink(self, event: Any) -> None:
        world, address = self.world, event.address
        only_if(match_link(self.plan.links, address).link is not None or self.plan.unknown_target is not None)
        if world.phase in {"outside", "killed"}:
            self.change(lambda: self.start(address) if world.phase == "outside" else self.come_back(address))
        elif world.phase == "away":
            self.next_link = address
            self.change(self.to("open"))
        elif world.cover and not world.ladder.rungs:
            self.change(lambda: world.__dict__.update(held_link=address, came_back=False))
        elif world.cover:
            world.held_link, world.came_back = "", False
            self.carry(Move((o.Follow(address, whole=True),)))
        elif world.question is not None:
            self.next_link = address
            self.answered(self.world.question[0].answers[0].name)
        else:
            self.carry(Move((o.Follow(address),), "aside"))

    # Time

    def reply(self, event: Any) -> None:
        world, call = self.world, self.world.call(event.call)
        outcome: Any = self.plan.call[event.call].outcome(event.outcome)
        only_if(call is not None and outcome is not None)
        if call.began + outcome.takes > world.clock:
            self.wait(events.Wait(call.began + outcome.takes - world.clock))
            self.reply(event)
            return
        only_if(holds(world, outcome.condition, View()))
        self.count, world.calls = 0, [each for each in world.calls if each is not call]
        self.say("reply", event.call, event.outcome)
        self.due(triggers.ReplyTrigger(event.call, event.outcome), call.of, None)

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
        over = timer.of
        if timer.kind == "overlay" and isinstance(over, Over):
            self.change(lambda: self.lift(None, over, None))
        elif timer.kind in self.plan.timer:
            self.change(lambda: self.phases.append(timer.kind))
        elif timer.kind in {"cover most", "cover least"}:
            self.change(first=[partial(self.uncover_app, True)] if timer.kind == "cover most" else ())
        elif timer.kind in {"frame", "first frame"}:
            self.change(first=[partial(self.react, over, triggers.ShownTrigger(timer.kind == "first frame"))])
        else:
            self.due(triggers.TimerTrigger(timer.after, timer.kind), timer.of, timer.left)  # type: ignore[arg-type]

    def due(self, trigger: Any, place: Place, was: Rung | None) -> None:
        """A timer is due or a call is answered: the place that began it reacts, wherever it is."""
        world, rung, gone = self.world, rung_of(place), not self.world.there(place)
        hidden = place is not None and (world.phase != "open" or gone or (rung is not None and rung not in world.path))
        moves = [move for move in self.moves_of(place) if move.trigger == trigger]
        app = place is None or (isinstance(place, Over) and self.plan.overlay[place.name].of == "app")
        own = (was.facts if was else {}) if gone else place.facts if place else {}
        view = View(None if app else was or Rung("") if gone else rung, own=own if isinstance(place, Over) else None)
        move = self.choose(moves, view)
        loud = move is not None and not all(isinstance(each, QUIET) for each in move.operations)
        if gone and isinstance(trigger, triggers.ReplyTrigger):
            self.log += [("finding", "reply to a gone screen")] if moves else []
            self.change()
        elif move is None:
            self.change()
        elif not gone:
            self.carry(self.move(move, place, {}, "by itself", "acted while hidden" if hidden and loud else ""))
        else:
            after, puts = world.phase == "outside" and loud, any(isinstance(o.inner(each), PUTS) for each in move.operations)
            finding = "acted after leaving" if after else "acted while hidden" if loud else ""
            does = self.bound(move, was.args if was else {})
            self.carry(Move(does if puts or not after else (), "by itself", None, was, finding=finding, forward=after and puts))

    def look(self, *, by_itself: bool) -> None:
        """Note what is seen now; bars follow."""
        world = self.world
        path = world.path if world.phase == "open" and not world.cover else []
        waits = any(self.plan.overlay[over.name].kind == "wait" for over in world.lying(path))
        what = "cover" if world.phase == "open" and world.cover else "wait" if waits else ""
        top = path[-1] if path else None
        now = ((top.name, tuple(top.args.items())) if top else None, top, what)
        if now == world.seen:
            return
        was, time = world.seen, world.clock - world.since
        if was[0] is not None and by_itself and self.plan.screen[was[0][0]].plays > time and not world.there(was[1]):
            self.say("finding", "cut short")
        world.seen, world.since = now, world.clock
        if top is not None:
            bars = (self.plan.screen[top.name].top_bar, self.plan.screen[top.name].bottom_bar)
            said = [self.policy("bars_left_unsaid") if bar == "unsaid" else bar for bar in bars]
            world.bars = tuple({"shown": True, "hidden": False}.get(b, old) for b, old in zip(said, world.bars, strict=True))


def only_tops(ladder: Ladder) -> None:
    ladder.rungs = ladder.rungs[-1:]
    for inner in ladder.rungs[0].inner if ladder.rungs else ():
        only_tops(inner)
