"""Taps: which moves can be triggered at a head, and what a tap passes to their operations."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace

from wise_ladder.plan import operations, triggers
from wise_ladder.plan.addresses import filled_in
from wise_ladder.plan.values import let_through
from wise_ladder.semantics.plan_index import filled

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.model import Move, Plan
    from wise_ladder.plan.operations import Operation
    from wise_ladder.plan.values import Value
    from wise_ladder.semantics.effects import ReturnedValue
    from wise_ladder.semantics.state import Head


def applies_to(move: Move, screen: str) -> bool:
    """Whether a move that stands anywhere is for this screen."""
    return let_through(screen, move.only, move.excluded)


def in_another_app(plan: Plan, head: Head) -> bool:
    """Whether what is seen is a screen of another app."""
    return bool(head.path) and plan.screen[head.path[-1].data.screen].foreign


def taps_offered(plan: Plan, head: Head) -> Iterator[tuple[Move, triggers.TapTrigger]]:
    """Go through the moves that a tap can set off at a head: of an overlay that takes the taps, or innermost place first."""
    covering = [name for name, _ in head.layers if plan.overlay[name].modal]
    moves: list[Move]
    if in_another_app(plan, head):
        moves = list(plan.screen[head.path[-1].data.screen].moves)
        yield from ((move, move.trigger) for move in moves if isinstance(move.trigger, triggers.TapTrigger))
        return
    if covering:
        moves = list(plan.overlay[covering[-1]].moves)
    else:
        moves = [move for spot in reversed(head.path) for move in plan.screen[spot.data.screen].moves]
        moves += [move for move in plan.anywhere if applies_to(move, head.path[-1].data.screen)]
    moves += [move for name, _ in head.layers if not plan.overlay[name].modal for move in plan.overlay[name].moves]
    for move in moves:
        if isinstance(move.trigger, triggers.TapTrigger):
            yield move, move.trigger


def carries_all(move: Move, values: dict[str, Value]) -> bool:
    """Whether a tap hands on all that the trigger of a move carries."""
    trigger = move.trigger
    return isinstance(trigger, triggers.TapTrigger) and all(carried.name in values for carried in trigger.carries)


def bound(value: operations.ResultPart | operations.NamedParts) -> ReturnedValue:
    """Return what an operation that is done returns: its variables were filled in before."""
    return tuple((name, _part(part)) for name, part in value) if isinstance(value, tuple) else _part(value)


def returned_words(value: ReturnedValue) -> str:
    """Write what an operation returns; of a fact its name."""
    if isinstance(value, tuple):
        return ", ".join(f"{name} {returned_words(part)}" for name, part in value)
    return value.name if isinstance(value, operations.FactValue) else str(value)


def _part(part: operations.ResultPart) -> Value | operations.FactValue:
    assert not isinstance(part, operations.Variable)  # noqa: S101 - `bind` has filled it in
    return part


def _filled_part(part: operations.ResultPart, values: dict[str, Value]) -> operations.ResultPart:
    return values[part.name] if isinstance(part, operations.Variable) else part


def bind(operation: Operation, values: dict[str, Value]) -> Operation:
    """Return an operation with its variables filled in."""
    if isinstance(operation, operations.Put):
        return replace(operation, target=filled(operation.target, values))
    if isinstance(operation, operations.OnFlow):
        return replace(operation, operation=bind(operation.operation, values))
    if isinstance(operation, (operations.Return, operations.Close)):
        value = operation.value
        if isinstance(value, tuple):
            return replace(operation, value=tuple((name, _filled_part(part, values)) for name, part in value))
        return replace(operation, value=_filled_part(value, values))
    if isinstance(operation, (operations.SetFact, operations.SetRungFact)) and isinstance(operation.value, operations.Variable):
        return replace(operation, value=values[operation.value.name])
    if isinstance(operation, operations.Follow):
        return operations.Follow(filled_in(operation.address, values))
    if isinstance(operation, (operations.Pop, operations.PopTo, operations.GoToWanted)):
        otherwise = operation.fallback and bind(operation.fallback, values)
        if isinstance(operation, operations.PopTo):
            return replace(operation, target=filled(operation.target, values), fallback=otherwise)
        return replace(operation, fallback=otherwise)
    return operation
