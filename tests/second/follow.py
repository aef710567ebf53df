"""The second reading: the moves of a plan, and what follows from one."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, Any

from msgspec.structs import replace

from tests.second.moves import Before
from tests.second.operate import Operations
from tests.second.world import Move, Over, Place, Rung, View, everything, filled, holds, rung_of, seen_from
from wise_ladder.plan import conditions as c
from wise_ladder.plan import events, triggers
from wise_ladder.plan import operations as o
from wise_ladder.plan.addresses import filled_in

if TYPE_CHECKING:
    from collections.abc import Callable

    Next = Callable[
        [], bool | None
    ]  # one thing that follows: None if nothing came of it, else whether a hidden ladder was moved

AT_ONCE = 64
PHASES: tuple[Any, ...] = (
    triggers.PhaseTrigger("launched"),
    triggers.PhaseTrigger("cover gone"),
    triggers.PhaseTrigger("low memory"),
)
WHILE_SHOWN = {"shown", "first frame", "frame"}


class Following(Operations):
    next_link, count = "", 0
    openlink: Any

    # Moves of the plan

    def choose(self, moves: Any, view: View, *, again: bool = False) -> Any:
        """The first move whose condition holds, of those anywhere one that is for the screen that is seen."""
        screen = self.world.path[-1].name if self.world.path else ""
        for move in moves:
            limited = move.owner is None and not again and ((move.only and screen not in move.only) or screen in move.excluded)
            if not limited and holds(self.world, move.condition, view):
                return move
        return None

    def bound(self, move: Any, values: dict[str, Any]) -> tuple[Any, ...]:
        self.effects.append(f"trigger {trigger_name(move.trigger)}")
        return tuple(bind(operation, values) for operation in move.operations)

    def move(self, move: Any, place: Place, values: dict[str, Any], way: str, finding: str = "") -> Move:
        """A move of the plan that stands at a place which is there."""
        does = self.bound(move, {**(place.args if isinstance(place, Rung) else {}), **values})
        return Move(does, way, self.ladder_of(place), place, finding=finding)

    def carry(self, move: Move) -> None:
        hidden = self.world.hidden(move.at)
        self.do(move)
        self.follow_up(self.follows(hidden))

    # What follows from a move

    def follow_up(self, agenda: list[Next]) -> None:
        """Do what follows, one thing after the other, until nothing is left."""
        while agenda or self.world.cover or self.next_link:
            self.count += 1
            if self.count > AT_ONCE:
                self.say("finding", "runaway")
                self.next_link = ""
                break
            if agenda:
                hidden = agenda.pop(0)()
            elif self.next_link:
                address, self.next_link = self.next_link, ""
                if self.world.runs:
                    self.openlink(events.OpenLink(address))
                return
            else:
                hidden = self.uncover_app()
                if hidden is None:
                    break
            agenda = [*self.follows(hidden), *agenda] if hidden is not None else agenda
        if self.world.cover and not self.world.timers and not self.world.calls and not self.may_go():
            self.say("finding", "cover never goes")

    def follows(self, hidden: bool) -> list[Next]:
        """List what follows from the move that was just done; `hidden`: a hidden rung's."""
        world, left = self.world, triggers.LeftTrigger()
        gone: list[Rung | Over] = [*self.went, *self.closed]
        found: list[Next] = [partial(self.react_left, place) for place in gone if self.of(place, left)]
        if world.phase == "open":
            found += [partial(self.deliver, rung, *came, True) for rung in world.path for came in rung.came]
            for rung in everything(world.ladder.rungs) if hidden else ():
                if rung in self.uncovered and rung not in world.path and rung.home.rungs[-1] is rung:
                    found += [partial(self.deliver, rung, *came, False) for came in rung.came]
        for trigger in [*PHASES, *map(triggers.RunsOutTrigger, self.plan.timer)]:
            what = getattr(trigger, "what", None) or trigger.timer
            if what in self.phases:
                found += [partial(self.react, place, trigger) for place in (*world.visible(), None) if self.of(place, trigger)]
                found += [self.first_start] if what == "launched" else []
        world.fresh |= set(self.came)
        found += self.now_shown() + ([] if "launched" in self.phases else self.turned())
        self.went, self.closed, self.phases = [], [], []
        return found

    def of(self, place: Place, *wanted: Any) -> list[Any]:
        return [move for move in self.moves_of(place) if move.trigger in wanted]

    def now_shown(self) -> list[Next]:
        """Start what runs while shown, stop it where something is hidden, and list what becomes visible."""
        world, found = self.world, list[Any]()
        now = world.visible()[::-1] if world.phase == "open" and not world.cover else []
        new: list[Any] = [place for place in now if self.remaking or place not in self.before.visible]
        world.timers = [timer for timer in world.timers if timer.kind not in WHILE_SHOWN or timer.of in now]
        starts = not self.remaking or self.policy("pending_when_remade") == "is lost"
        for place in new if starts else ():
            self.start_timers(place, ("shown",))
        for first in (True, False) if not self.remaking or self.policy("shown_when_remade") == "yes" else ():
            trigger = triggers.ShownTrigger(first)
            for place in new:
                if self.of(place, trigger) and (not first or place in world.fresh):
                    if self.policy("shown_acts") == "after it":
                        self.timer(16, "first frame" if first else "frame", place)
                    else:
                        found.append(partial(self.react, place, trigger))
        world.fresh -= set(now)
        return found

    def turned(self) -> list[Next]:
        """List who reacts to facts that have another value than before the move."""
        world, found = self.world, list[Any]()
        facts = [each for each in world.facts.items() if each not in self.before.facts.items()]
        for place in [*world.visible(), *([None] if world.path else [])]:
            held = place.facts.items() if place is not None and place not in self.came else ()
            own = [(fact, value) for fact, value in held if self.rung_facts.get((place, fact), value) != value]
            for fact in (*own, *facts):
                wanted = [triggers.BecomesTrigger(*fact, even_hidden=even) for even in (True, False)]
                found += [partial(self.react, place, *wanted)] if self.of(place, *wanted) else []
        highest = {rung.name: rung for rung in everything(world.ladder.rungs) if rung not in world.path}
        for trigger in [triggers.BecomesTrigger(*fact, even_hidden=True) for fact in facts]:
            found += [partial(self.react_hidden, rung, trigger) for rung in highest.values() if self.of(rung, trigger)]
        return found

    def may_go(self) -> bool:
        """Whether a declared change from outside could matter to the cover."""
        asked, reached = facts_of(self.plan.cover.until if self.plan.cover else None), set(self.world.facts.items())
        reacts = {(m.trigger.fact, m.trigger.value) for m in self.plan.moves if isinstance(m.trigger, triggers.BecomesTrigger)}
        while new := {(f.name, b) for f in self.plan.facts for a, b in f.allowed_changes if (f.name, a) in reached} - reached:
            if any(name in asked or (name, value) in reacts for name, value in new):
                return True
            reached |= new
        return False

    # One thing that follows

    def act(self, moves: Any, place: Place, values: Any = ()) -> bool | None:
        """Let a place do the first of its moves whose condition holds."""
        move = self.choose(moves, seen_from(place, values))
        if move is None:
            return None
        done = self.move(move, place, dict(values), "by itself")
        hidden = self.world.hidden(done.at)
        self.do(done)
        return hidden

    def react(self, place: Place, *wanted: Any) -> bool | None:
        """Let a visible place react, or the app itself."""
        sees = self.world.runs if place is None else self.world.phase == "open" and place in self.world.visible()
        return self.act(self.of(place, *wanted), place) if sees else None

    def react_hidden(self, rung: Rung, trigger: Any) -> bool | None:
        return self.act(self.of(rung, trigger), rung) if self.world.there(rung) and self.world.runs else None

    def react_left(self, place: Rung | Over) -> bool | None:
        rung, lay_over = rung_of(place), isinstance(place, Over)
        ladder = self.world.still(rung.home if rung else None)
        if lay_over and rung is not None and not self.world.there(rung):
            rung = Rung("")
        own = place.facts if isinstance(place, Over) else None
        move = self.choose(self.of(place, triggers.LeftTrigger()), View(rung, at=ladder, own=own))
        if move is None:
            return None
        does = self.bound(move, {} if lay_over or rung is None else rung.args)
        hidden = self.world.hidden(ladder)
        self.do(
            Move(
                tuple(each for each in does if self.world.phase != "outside" or isinstance(each, o.SetFact)),
                "by itself",
                ladder,
                place,
            )
        )
        return hidden

    def deliver(self, rung: Rung, name: str, value: str | None, was_seen: bool) -> bool | None:
        world = self.world
        gone = world.phase != "open" or not world.there(rung) or (name, value) not in rung.came
        if gone or rung.home.rungs[-1] is not rung or (was_seen and rung not in world.path):
            return None
        rung.came.remove((name, value))
        self.say("result", name, value, rung.name)
        fits = value is None or isinstance(value, tuple) == (name in self.with_parts)
        moves = self.of(rung, triggers.ResultTrigger(name, value is None)) if fits else []
        found = self.act(moves, rung, (value if isinstance(value, tuple) else ((name, value),)) if value else ())
        if found is None:
            self.do(Move(()))
        return bool(found)

    def first_start(self) -> bool | None:
        """Put what the app starts with, or let what came back be seen; under a cover not yet, but for the only start."""
        world, self.starting = self.world, False
        if not world.runs or (world.cover and (world.ladder.rungs or len(self.plan.start) > 1)):
            return None
        self.readmit() if world.ladder.rungs else self.first_put()
        return False

    def readmit(self) -> None:
        """Let what a ladder that came back shows go through the redirects; then the link is next that brought the app back."""
        self.begin()
        world, top = self.world, self.world.path[-1]
        self.next_link, world.held_link, world.came_back = world.held_link, "", False
        target, sent, stands_in = self.redirected(o.Target(top.name, tuple(top.args.items())))
        if sent:
            rung = self.made(target, stands_in)
            self.operate(Move(()), o.Clear(), world.ladder)
            self.put(world.ladder, rung)
        self.close()

    def first_put(self) -> None:
        address, self.world.held_link, self.world.came_back = self.world.held_link, "", False
        starts = [choice.target for choice in self.plan.start if holds(self.world, choice.condition, View())]
        self.do(Move((o.Follow(address, whole=True),) if address else tuple(o.Push(each) for each in starts[:1])))

    def uncover_app(self, over: bool = False) -> bool | None:
        """Let the cover go, if it may; `over`: its time is."""
        world, cover, was = self.world, self.plan.cover, Before(self.world)
        least = any(timer.kind == "cover least" for timer in world.timers)
        if cover is None or not world.cover or (not over and (least or not holds(world, cover.until, View()))):
            return None
        world.cover, world.timers = False, [t for t in world.timers if not t.kind.startswith("cover")]
        if world.came_back and world.ladder.rungs:
            self.readmit()
        elif not world.ladder.rungs:
            self.first_put()
        else:
            self.do(Move(()))
        world.held_link, self.before = "", was
        self.phases.append("cover gone")
        return False


def bind(what: Any, values: dict[str, Any]) -> Any:
    """Fill in the variables of an operation."""
    if isinstance(what, o.Follow):
        return o.Follow(filled_in(what.address, values))
    if hasattr(what, "operation"):
        return replace(what, operation=bind(what.operation, values))
    if isinstance(value := getattr(what, "value", None), o.Variable):
        return replace(what, value=values[value.name])
    if isinstance(value, tuple):
        return replace(what, value=tuple((name, values[v.name] if isinstance(v, o.Variable) else v) for name, v in value))
    if hasattr(what, "target"):
        what = replace(what, target=filled(what.target, values))
    return replace(what, fallback=bind(what.fallback, values)) if getattr(what, "fallback", None) else what


def trigger_name(trigger: Any) -> str:
    more = sorted({"runs", "first", "even_hidden", "cancelled", "what"} & set(trigger.__struct_fields__))
    return " ".join([type(trigger).__name__, *(str(getattr(trigger, name)) for name in more)])


def facts_of(condition: Any) -> set[str]:
    match condition:
        case c.FactIs(name, _):
            return {name}
        case c.Not(inner):
            return facts_of(inner)
        case c.AllOf(parts) | c.AnyOf(parts):
            return set[str]().union(*map(facts_of, parts))
    return set()
