"""Both readings side by side: what one state says, and what happened, in words that both can be told in."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, NamedTuple

from tests.second.reading import Second
from tests.second.world import Rung, World, depth, restore
from wise_ladder.plan.events import Answer, Back
from wise_ladder.semantics import State, Step, initial_state, log, step
from wise_ladder.semantics.forecast import Descent, descent

if TYPE_CHECKING:
    from collections import Counter
    from collections.abc import Callable

    from wise_ladder.plan import Event, Plan


def of_state(state: State) -> dict[str, Any]:
    numbers: dict[int, int] = {}

    def ladder(rungs: Any) -> list[Any]:
        found = []
        for rung in rungs:
            numbers.setdefault(rung.serial, len(numbers))
            data = rung.data
            waits = [(m.name, m.overlay or ("inside" if m.inside else "above")) for m in data.awaits]
            came = [(r.name, r.value) for r in data.undelivered]
            inner = [ladder(each) for each in rung.inner]
            over = [(layer.name, dict(layer.facts)) for layer in rung.overlays]
            found.append(
                (
                    data.screen,
                    dict(data.arguments),
                    dict(data.facts),
                    inner,
                    data.tab_order[-1:],
                    over,
                    waits,
                    came,
                    data.redirected,
                    bool(data.owes),
                )
            )
        return found

    kinds = [(t, t.data.screen if t.kind == "of the app" and t.data else t.kind) for t in state.deadlines if t.kind != "reply"]
    pending = [(t.due, kind, t.after) for t, kind in kinds]
    return {
        "phase": state.phase.value,
        "ladder": ladder(state.ladder),
        "over": [(layer.name, dict(layer.facts)) for layer in state.overlays],
        "facts": list(state.facts),
        "pending": pending,
        "calls": [(call.name, call.started, call.where) for call in state.calls],
        "clock": state.clock,
        "question": state.question and state.question.guard,
        "wanted": state.wanted and (state.wanted.screen, dict(state.wanted.arguments), state.wanted.address),
        "armed": [(entry.guard, entry.gone) for entry in state.armed],
        "cover": (state.cover, state.held_link, state.restored),
        "memory": state.alive,
        "begun": state.begun is not None,
        "bars": state.bars,
        "seen": (state.seen.data and (state.seen.data.screen, state.seen.data.arguments), state.seen.waiting, state.seen.since),
    }


def of_world(plan: Plan, world: World) -> dict[str, Any]:
    def ladder(rungs: list[Rung]) -> list[Any]:
        return [
            (
                rung.name,
                dict(rung.args),
                dict(rung.facts),
                [ladder(inner.rungs) for inner in rung.inner],
                tuple(rung.used[-1:]),
                [(over.name, dict(over.facts)) for over in rung.over],
                list(rung.waits),
                list(rung.came),
                rung.stands_in,
                rung.owes is not None,
            )
            for rung in rungs
        ]

    return {
        "phase": world.phase,
        "ladder": ladder(world.ladder.rungs),
        "over": [(over.name, dict(over.facts)) for over in world.over],
        "facts": [world.facts[fact.name] for fact in plan.facts],
        "pending": [(t.due, t.kind, t.after) for t in world.timers],
        "calls": [(call.name, call.began, call.of.name if call.of else None) for call in world.calls],
        "clock": world.clock,
        "question": world.question and world.question[0].id,
        "wanted": world.wanted,
        "armed": [(guard.id, not world.there(rung)) for guard, rung in world.armed],
        "cover": (world.cover, world.held_link, world.came_back),
        "memory": world.memory,
        "begun": world.begun is not None,
        "bars": world.bars,
        "seen": (world.seen[0], world.seen[2], world.since),
    }


LOOK_AHEAD = 15
"""After each so many events both look ahead."""
NAMES: dict[type, Any] = {
    log.Finding: lambda h: ("finding", h.name),
    log.ResultCame: lambda h: ("result", h.name, h.value, h.screen),
    log.GuardSkipped: lambda h: ("unasked", h.guard, h.screen),
    log.QuestionOpened: lambda h: ("asked", h.guard),
    log.Blocked: lambda h: ("blocked", h.guard),
    log.GuardActed: lambda h: ("instead", h.guard),
    log.Redirected: lambda h: ("redirected", h.wanted, h.to),
    log.CallMade: lambda h: ("call", h.call),
    log.Replied: lambda h: ("reply", h.call, h.outcome),
}
KINDS = {"finding", "result", "unasked", "asked", "blocked", "instead", "redirected", "call", "reply"}


def of_step(done: Step) -> list[tuple[Any, ...]]:
    return sorted((NAMES[type(h)](h) for h in done.log if type(h) in NAMES), key=str)


class Difference(NamedTuple):
    """Where both readings first differ: at which event, in what, and both sides."""

    number: int
    what: str
    step: Any
    second: Any


def run(plan: Plan, draw: Callable[[State], Event | None], effects: Counter[str] | None = None) -> Difference | None:
    """Do events by both readings, each drawn for the state that is there; return where they first differ, None if nowhere."""
    state, world = initial_state(plan), World({fact.name: fact.values[0] for fact in plan.facts} | dict(plan.given.facts))
    number = 0
    while (event := draw(state)) is not None:
        done, second = step(plan, state, event), Second(plan, world)
        applied = second.run(event)
        if effects is not None:
            effects.update(second.effects)
        if ("finding", "runaway") in second.log and ("finding", "runaway") in of_step(done):
            # Where 64 things at once are cut off is a matter of counting.
            return None
        sides = of_state(done.state) | {"applied": done.refused is None, "log": of_step(done)}
        others = of_world(plan, world) | {"applied": applied, "log": of_log(second)}
        if number % LOOK_AHEAD == LOOK_AHEAD // 2:
            sides["descent"], others["descent"] = of_descent(descent(plan, done.state)), down(plan, world)
        for key, one in sides.items():
            if one != others[key]:
                return Difference(number, key, one, others[key])
        state, number = done.state, number + 1
    return None


def of_log(second: Second) -> list[tuple[Any, ...]]:
    return sorted((said for said in second.log if said[0] in KINDS), key=str)


def of_descent(found: Descent) -> tuple[int, str]:
    return (-1, "trap") if found.end == "trap" else (len(found.hops), found.end)


def down(plan: Plan, world: World) -> tuple[int, str]:
    """Press Back until it ends, questions answered by what goes on; how often, and where that leads. Nothing has changed then."""
    saved = world.saved()
    try:
        return _down(plan, world)
    finally:
        restore(saved)


def _down(plan: Plan, world: World) -> tuple[int, str]:
    count, most = 0, depth(world.ladder) + 64
    world.begun = None
    if plan.policies.system_back == "no":
        return 0, "no Back"
    while world.phase == "open":
        second = Second(plan, world)
        second.run(Back())
        for _ in plan.guard:
            question = world.question if world.phase == "open" else None
            onward = next((each for each in question[0].answers if not each.stays), None) if question else None
            if onward is not None:
                second = Second(plan, world)
                second.run(Answer(onward.name))
        if "back_at_root stay" in second.effects:
            return count, "root"
        count += 1
        if count >= most and world.phase == "open":
            return -1, "trap"
    return count, "ground" if world.phase == "outside" else "background"
