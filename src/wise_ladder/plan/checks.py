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
_PUTS = (operations.Push, operations.Replace, operations.Reach, operations.GoToWanted)


def check(source: Source, plan: Plan) -> None:
    """Note the mistakes and the doubts of a plan whose phrases were all read."""
    for screen in plan.screens:
        if screen.inside and _begins_with_itself(plan, screen.name):
            source.problem(screen.at, f'"{screen.name}" begins with itself', "begin it with a screen")
    for move in plan.moves:
        _order_of_operations(source, move)
    for place in plan.places:
        _never_taken(source, place.moves)
        _results_nobody_takes(source, place.moves)
    _never_put(source, plan)


def _begins_with_itself(plan: Plan, name: str) -> bool:
    seen: set[str] = set()
    waiting = [target.screen for _, target in plan.screen[name].inside]
    while waiting:
        inner = waiting.pop()
        if inner == name:
            return True
        if inner not in seen:
            seen.add(inner)
            waiting += [target.screen for _, target in plan.screen[inner].inside]
    return False


def _order_of_operations(source: Source, move: Move) -> None:
    """On one ladder a move drops at most once, and puts afterwards; another ladder begins anew."""
    drops = puts = 0
    cleared = False
    for operation in move.operations:
        if isinstance(operation, (operations.Switch, operations.On)):
            drops = puts = 0
        done = _inner(operation)
        if isinstance(done, _DROPS):
            cleared = cleared or isinstance(done, operations.Clear)
            if drops or puts:
                source.problem(move.at, f'"{move.text}" drops rungs after a drop or a put', "drop once, first, then put")
                return
            drops += 1
        elif isinstance(done, _PUTS):
            puts += 1
    if cleared and not puts:
        source.problem(move.at, "a clear with nothing put after it", "add push SCREEN, or write leave")


def _inner(operation: Operation) -> Operation:
    return _inner(operation.operation) if isinstance(operation, operations.On) else operation


def _never_taken(source: Source, moves: tuple[Move, ...]) -> None:
    always: set[str] = set()
    for move in moves:
        if not isinstance(move.trigger, operations.TapTrigger):
            continue
        if move.trigger.name in always:
            source.doubt(move.at, f'this "{move.when}" is never taken: one above it has no condition')
        if move.condition is None:
            always.add(move.trigger.name)


def _results_nobody_takes(source: Source, moves: tuple[Move, ...]) -> None:
    taken = {
        (move.trigger.name, move.trigger.cancelled) for move in moves if isinstance(move.trigger, operations.ResultTrigger)
    }
    for move in moves:
        for operation in move.operations:
            done = _inner(operation)
            name = done.awaiting if isinstance(done, (operations.Push, operations.Open)) else ""
            if name and (name, False) not in taken:
                source.doubt(move.at, f'nothing happens when "{name}" comes back')
            elif name and (name, True) not in taken:
                source.doubt(move.at, f'nothing happens when "{name}" is cancelled')


def _never_put(source: Source, plan: Plan) -> None:
    put = {choice.target.screen for choice in plan.start}
    put.update(redirect.target.screen for redirect in plan.redirects)
    put.update(target.screen for screen in plan.screens for _, target in screen.inside)
    put.update(arrow.target.screen for screen in plan.screens for arrow in screen.arrow)
    opened = {screen.menu for screen in plan.screens}
    guards = plan.guard.values()
    done = [operation for move in plan.moves for operation in move.operations]
    done += [operation for guard in guards for operation in guard.operations]
    done += [operation for guard in guards for answer in guard.answers for operation in answer.operations]
    for operation in done:
        put.update(_screens_put(operation))
        if isinstance(operation, operations.Open):
            opened.add(operation.overlay)
    for screen in plan.screens:
        if screen.name not in put:
            source.doubt(screen.at, f'nothing puts the screen "{screen.name}"')
    for overlay in plan.overlays:
        if overlay.name not in opened:
            source.doubt(overlay.at, f'nothing opens "{overlay.name}"')


def _screens_put(operation: Operation) -> Iterator[str]:
    if isinstance(operation, operations.On):
        yield from _screens_put(operation.operation)
    elif isinstance(operation, (operations.Push, operations.Replace, operations.Reach)):
        yield operation.target.screen
    elif isinstance(operation, (operations.Pop, operations.PopTo, operations.GoToWanted)) and operation.otherwise is not None:
        yield from _screens_put(operation.otherwise)
