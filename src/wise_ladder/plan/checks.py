"""What a whole plan can be checked for before anything runs: mistakes stop, doubts are told."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.plan import operations

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.model import Move, Plan
    from wise_ladder.plan.operations import Operation
    from wise_ladder.plan.source import Source

_DROPS = (operations.Pop, operations.PopTo, operations.PopToRoot, operations.Clear, operations.Return)
_PUTS = (operations.Push, operations.Replace, operations.Reach)


def check(source: Source, plan: Plan) -> None:
    """Note the mistakes and the doubts of a plan whose phrases were all read."""
    for move in plan.moves:
        _order_of_operations(source, move)
    for screen in plan.screens:
        _never_taken(source, screen.moves)
    _never_put(source, plan)


def _order_of_operations(source: Source, move: Move) -> None:
    drops = puts = 0
    cleared = False
    for operation in move.operations:
        if isinstance(operation, _DROPS):
            cleared = cleared or isinstance(operation, operations.Clear)
            if drops or puts:
                source.problem(move.at, f'"{move.text}" drops rungs after a drop or a put', "drop once, first, then put")
                return
            drops += 1
        elif isinstance(operation, _PUTS):
            puts += 1
    if cleared and not puts:
        source.problem(move.at, "a clear with nothing put after it", "add push SCREEN, or write leave")


def _never_taken(source: Source, moves: tuple[Move, ...]) -> None:
    always: set[str] = set()
    for move in moves:
        if not isinstance(move.trigger, operations.TapTrigger):
            continue
        if move.trigger.name in always:
            source.doubt(move.at, f'this "{move.when}" is never taken: one above it has no condition')
        if move.condition is None:
            always.add(move.trigger.name)


def _never_put(source: Source, plan: Plan) -> None:
    put = {choice.target.screen for choice in plan.start}
    for move in plan.moves:
        for operation in move.operations:
            put.update(_screens_put(operation))
    for screen in plan.screens:
        if screen.name not in put:
            source.doubt(screen.at, f'nothing puts the screen "{screen.name}"')


def _screens_put(operation: Operation) -> Iterator[str]:
    if isinstance(operation, _PUTS):
        yield operation.target.screen
    elif isinstance(operation, (operations.Pop, operations.PopTo)) and operation.otherwise is not None:
        yield from _screens_put(operation.otherwise)
