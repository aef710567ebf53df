"""What of a plan no rule can notice: it is left out before states are taken together, so that there are fewer of them.

These are some timers of the app, and some notices. The timers are those whose end no move waits for. Conditions can only ask
whether such a timer runs. A fact of the app says so in its place, and the world may end that at any time. So all that the timer
can do is still there, and more.

The notices are those that take no tap and no Back, hold nothing, and owe nobody an answer: a state with such a notice and one
without it do the same (a bisimulation; Milner 1989). Every state of the plan has its like in what is left of the plan, so what
holds there holds here. Timers of notices go with them: a rule that is silent while something is pending can only become
stricter by that.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, TypeVar

from msgspec import Struct
from msgspec.structs import replace

from wise_ladder.plan.conditions import FactIs, TimerRuns
from wise_ladder.plan.model import Fact
from wise_ladder.plan.operations import Close, OnFlow, Open, SetFact, StartTimer, StopTimer, TakeBack, all_of, inner
from wise_ladder.plan.triggers import RunsOutTrigger

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from wise_ladder.plan.model import Guard, Overlay, Plan, Screen
    from wise_ladder.plan.operations import Operation
    from wise_ladder.plan.rule import Rule

_Owner = TypeVar("_Owner", "Screen", "Overlay")
NOTICES_OPEN_AGAIN = "survives remaking"
"""The one rule that asks whether a notice opens: once more, when screens are remade."""

_IDLE_RUNS = ("no", "yes")
"""Whether a timer runs, as the values of a fact."""
_REACTING = ("start", "screens", "overlays", "anywhere", "guards", "redirects", "calls", "cover")
"""What of a plan has conditions and operations."""


def sliced(plan: Plan, rules: tuple[Rule, ...]) -> Plan:
    """Return a plan without the timers and notices that none of these rules can notice."""
    plan = _without_timers(plan, rules)
    if any(rule.name == NOTICES_OPEN_AGAIN for rule in rules):
        return plan
    names = frozenset(overlay.name for overlay in plan.overlays if _inert(plan, overlay))
    return _without(plan, names) if names else plan


def left_out(plan: Plan, thin: Plan) -> tuple[str, ...]:
    """Name the notices and timers of a plan that another one is without."""
    notices = {overlay.name for overlay in thin.overlays}
    timers = {timer.name for timer in thin.timers}
    gone = [f"notice {overlay.name}" for overlay in plan.overlays if overlay.name not in notices]
    return (*gone, *(f"timer {timer.name}" for timer in plan.timers if timer.name not in timers))


def _without_timers(plan: Plan, rules: tuple[Rule, ...]) -> Plan:
    """Put a fact in the place of each timer of which nothing but whether it runs makes a difference."""
    if any(isinstance(done, TakeBack) for _, operations in _everything_done(plan) for done in all_of(operations)):
        # That turns facts and no timers.
        return plan
    needed = {move.trigger.timer for move in plan.moves if isinstance(move.trigger, RunsOutTrigger)}

    def note(part: object) -> object:
        if isinstance(part, TimerRuns):
            needed.add(part.timer)
        return part

    _changed(rules, note)
    names = {timer.name: f"timer {timer.name}" for timer in plan.timers if timer.name not in needed}
    facts = {timer: Fact(name, _IDLE_RUNS, allowed_changes=(_IDLE_RUNS[::-1],)) for timer, name in names.items()}
    if not facts or any(fact.name in plan.fact_index for fact in facts.values()):
        return plan

    def instead(part: object) -> object:
        if not isinstance(part, TimerRuns | StartTimer | StopTimer) or part.timer not in facts:
            return part
        name, (idle, runs) = facts[part.timer].name, _IDLE_RUNS
        if isinstance(part, TimerRuns):
            return FactIs(name, runs)
        return SetFact(name, runs if isinstance(part, StartTimer) else idle)

    kept = tuple(timer for timer in plan.timers if timer.name not in facts)
    parts = {name: _changed(getattr(plan, name), instead) for name in _REACTING}
    return replace(plan, **parts, facts=(*plan.facts, *facts.values()), timers=kept)


def _changed(part: object, change: Callable[[object], object]) -> object:
    """Return plain data in which a function changed what it wants to change."""
    if type(part) is tuple:
        return tuple([_changed(each, change) for each in part])
    changed = change(part)
    if changed is not part or not isinstance(part, Struct):
        return changed
    return replace(part, **{name: _changed(getattr(part, name), change) for name in part.__struct_fields__})


def _inert(plan: Plan, overlay: Overlay) -> bool:
    """Whether nothing but its own time depends on an overlay."""
    if overlay.kind != "notice" or overlay.back != "passes" or overlay.time is None:
        return False
    if overlay.moves or overlay.guards or overlay.gives or overlay.holds:
        return False
    for owner, operations in _everything_done(plan):
        for each in operations:
            direct, *instead = (part for part in all_of((each,)) if not isinstance(part, OnFlow))
            if any(_names(part, overlay.name) for part in instead):
                # What is done instead of something must not become nothing.
                return False
            # Where there is no place to open it, there would be a finding.
            elsewhere = overlay.of not in {"", "app"} and owner != overlay.of
            if isinstance(direct, Open) and direct.overlay == overlay.name and (elsewhere or direct.awaiting):
                return False
    return True


def _names(operation: Operation, overlay: str) -> bool:
    return isinstance(operation, Open | Close) and operation.overlay == overlay


def _everything_done(plan: Plan) -> Iterator[tuple[str | None, tuple[Operation, ...]]]:
    """Go through the operations of all moves and guards, each with what they stand on."""
    yield from ((move.owner, move.operations) for move in plan.moves)
    for guard in plan.guard.values():
        yield guard.id.owner, guard.operations
        yield from ((guard.id.owner, answer.operations) for answer in guard.answers)


def _without(plan: Plan, names: frozenset[str]) -> Plan:
    def done(operations: tuple[Operation, ...]) -> tuple[Operation, ...]:
        return tuple(each for each in operations if not any(_names(inner(each), name) for name in names))

    def guards(those: tuple[Guard, ...]) -> tuple[Guard, ...]:
        return tuple(
            replace(
                guard,
                operations=done(guard.operations),
                answers=tuple(replace(answer, operations=done(answer.operations)) for answer in guard.answers),
            )
            for guard in those
        )

    def owners(those: tuple[_Owner, ...]) -> tuple[_Owner, ...]:
        return tuple(replace(each, guards=guards(each.guards)) for each in those)

    thin = replace(plan, overlays=tuple(overlay for overlay in plan.overlays if overlay.name not in names))
    thin = thin.with_moves(lambda move: replace(move, operations=done(move.operations)))
    return replace(thin, screens=owners(thin.screens), overlays=owners(thin.overlays), guards=guards(thin.guards))
