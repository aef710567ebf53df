"""From the text of a plan file to a `Plan`, or to every problem in it at once.

Two passes: first what is declared (facts, screens and what they take), then the phrases, which may name all of it.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace

from wise_ladder.plan import checks, model, operations
from wise_ladder.plan.declared import Declared, read_declared
from wise_ladder.plan.nearest import instead_of
from wise_ladder.plan.phrases import fixed_arguments, read_condition, read_operation, read_target, read_trigger
from wise_ladder.plan.sections import Section, note_in, phrase
from wise_ladder.plan.source import Entries, Items, Node, Scalar, Source, parse, read_text
from wise_ladder.plan.steps import gather_taps
from wise_ladder.plan.tokens import Cursor
from wise_ladder.plan.walks import read_walks

if TYPE_CHECKING:
    from pathlib import Path

    from wise_ladder.plan.model import Move, Plan, Screen
    from wise_ladder.plan.operations import Condition, Operation, Trigger
    from wise_ladder.plan.phrases import Scope
    from wise_ladder.plan.values import Parameter

MOST_MOVES = 20_000


def read_plan(path: Path) -> Plan:
    """Read and check a plan file; raises PlanError with every problem in it."""
    return read_plan_text(read_text(path), str(path))


def read_plan_text(text: str, name: str = "plan") -> Plan:
    """Read and check the text of a plan; raises PlanError with every problem in it, named after `name`."""
    source = Source(name, text)
    top = Section(source, parse(source), "a plan")
    declared = read_declared(source, top)
    moves = _Moves(source, declared)
    screens = tuple(moves.of_screen(screen, section) for screen, section in declared.sections)
    anywhere = moves.read(top.items("anywhere"), None)
    all_moves = (*(move for screen in screens for move in screen.moves), *anywhere)
    if len(all_moves) > MOST_MOVES:
        source.problem(top.at_of("screens"), f"more than {MOST_MOVES} moves", "part the app into several plans")
    start = moves.start(top.need("start", "the first screen"))
    walks = read_walks(source, top, declared, gather_taps(all_moves))
    top.done()
    plan = model.Plan(declared.app, start, declared.policies, declared.facts, screens, anywhere, walks)
    if not source.problems:
        checks.check(source, plan)
    source.stop_on_problems()
    return replace(plan, doubts=tuple(source.shown(source.doubts)))


class _Moves:
    """The second pass: phrases that may name every screen and every fact."""

    def __init__(self, source: Source, declared: Declared) -> None:
        self._source, self._declared = source, declared

    def of_screen(self, screen: Screen, section: Section | None) -> Screen:
        if section is None:
            return screen
        moves = self.read(section.items("moves"), screen)
        section.done()
        return replace(screen, moves=moves)

    def read(self, nodes: tuple[Node, ...], screen: Screen | None) -> tuple[Move, ...]:
        found = (self._move(node, screen, number) for number, node in enumerate(nodes))
        return tuple(move for move in found if move is not None)

    def _move(self, node: Node, screen: Screen | None, number: int) -> Move | None:
        if not isinstance(node, Entries):
            self._source.problem(node.at, "a move is a map", "write {when: tap NAME, do: push SCREEN}")
            return None
        section = Section(self._source, node, "a move")
        section.need("when", "tap NAME")
        section.need("do", "push SCREEN")
        when, asked, do = section.scalar("when"), section.scalar("if"), section.scalars("do")
        only, but = ((), ()) if screen else (self._listed(section, "for"), self._listed(section, "except"))
        section.done()
        carried: dict[str, Parameter | None] = {}
        trigger = None if when is None else self._trigger(when, screen, carried)
        # Operations before the condition: what a tap carries learns its type from the screen it is handed to.
        done = tuple(found for line in do if (found := self._operation(line, screen, carried)) is not None)
        condition = self._condition(asked, screen, carried)
        if when is None or trigger is None:
            return None
        if isinstance(trigger, operations.TapTrigger):
            trigger = replace(trigger, carries=self._carries(when, carried))
        text = "; ".join(line.text for line in do)
        where = screen.name if screen else None
        return model.Move(trigger, condition, done, where, number, only, but, when.text, text, section.at)

    def _scope(self, scalar: Scalar, screen: Screen | None, carried: dict[str, Parameter | None]) -> Scope:
        scope = self._declared.scope(scalar)
        scope.carried = carried
        if screen is not None:
            scope.own = {fact.name: fact for fact in screen.holds}
            scope.takes = {parameter.name: parameter for parameter in screen.takes}
        return scope

    def _trigger(self, when: Scalar, screen: Screen | None, carried: dict[str, Parameter | None]) -> Trigger | None:
        return phrase(self._source, when, lambda: read_trigger(when.text, self._scope(when, screen, carried)))

    def _operation(self, line: Scalar, screen: Screen | None, carried: dict[str, Parameter | None]) -> Operation | None:
        return phrase(self._source, line, lambda: read_operation(line.text, self._scope(line, screen, carried)))

    def _condition(self, asked: Scalar | None, screen: Screen | None, carried: dict[str, Parameter | None]) -> Condition | None:
        if asked is None:
            return None
        return phrase(self._source, asked, lambda: read_condition(asked.text, self._scope(asked, screen, carried)))

    def _carries(self, when: Scalar, carried: dict[str, Parameter | None]) -> tuple[Parameter, ...]:
        for name, parameter in carried.items():
            if parameter is None:
                at = when.text.find(name, when.text.find("("))
                note_in(self._source, when)(at, f'nothing takes the "{name}" of this tap', f"hand it on as ${name}")
        return tuple(parameter for parameter in carried.values() if parameter is not None)

    def _listed(self, section: Section, key: str) -> tuple[str, ...]:
        scalars = section.scalars(key)
        known = self._declared.screens
        for scalar in scalars:
            if scalar.text not in known:
                self._source.problem(scalar.at, f'there is no screen "{scalar.text}"', instead_of(scalar.text, known))
        return tuple(scalar.text for scalar in scalars)

    def start(self, node: Node | None) -> tuple[model.StartChoice, ...]:
        if isinstance(node, Scalar):
            return self._choice(node, None)
        if isinstance(node, Entries):
            self._source.problem(node.at, '"start" is a screen or a list', "write start: SCREEN")
        if not isinstance(node, Items):
            return ()
        found: list[model.StartChoice] = []
        for item in node.items:
            if not isinstance(item, Entries):
                self._source.problem(item.at, "a choice of the start is a map", "write {if: CONDITION, put: SCREEN}")
                continue
            section = Section(self._source, item, "a choice of the start")
            section.need("put", "SCREEN")
            put = section.scalar("put")
            found += self._choice(put, section.scalar("if")) if put is not None else ()
            section.done()
        if found and found[-1].condition is not None:
            self._source.problem(node.at, "no start where no condition holds", "end the list with {put: SCREEN}")
        return tuple(found)

    def _choice(self, put: Scalar, asked: Scalar | None) -> tuple[model.StartChoice, ...]:
        scope = self._scope(put, None, {})
        target = phrase(self._source, put, lambda: read_target(Cursor(put.text), scope, stops=()))
        condition = self._condition(asked, None, {})
        return (model.StartChoice(operations.Target(target.screen, fixed_arguments(target)), condition),) if target else ()
