"""The second pass over a plan: reading phrases, which may name everything that is declared."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, TypeAlias

from wise_ladder.plan import messages, model
from wise_ladder.plan.map_reader import MapReader, parse_or_report, reporter_for
from wise_ladder.plan.parse_operations import parse_operation
from wise_ladder.plan.phrases import parse_condition, parse_lone_target
from wise_ladder.plan.suggest import suggest

if TYPE_CHECKING:
    from wise_ladder.plan.conditions import Condition
    from wise_ladder.plan.declarations import Declarations
    from wise_ladder.plan.model import Overlay, Screen
    from wise_ladder.plan.operations import Operation, Target
    from wise_ladder.plan.phrases import Scope
    from wise_ladder.plan.source import ScalarNode, Source
    from wise_ladder.plan.values import Parameter

CarriedArguments: TypeAlias = "dict[str, Parameter | None]"


class PhraseReader:
    """Reads phrases where they stand; a mistake is noted, and reading goes on."""

    def __init__(self, source: Source, declared: Declarations) -> None:
        """Begin with everything that is declared."""
        self._source, self._declared = source, declared

    def _target(self, scalar: ScalarNode, screen: Screen | None) -> Target | None:
        scope = self._scope(scalar, screen, {})
        return parse_or_report(self._source, scalar, lambda: parse_lone_target(scalar.text, scope))

    def _scope(
        self, scalar: ScalarNode, place: Screen | Overlay | None, carried: CarriedArguments, *, of_guard: bool = False
    ) -> Scope:
        scope = self._declared.scope(scalar)
        scope.carried = carried
        if place is not None:
            scope.gives = {given.name: given for given in place.gives}
            scope.own = {fact.name: fact for fact in place.holds}
        if isinstance(place, model.Screen):
            # What a guard does cannot pass on arguments: its rung may be gone by then.
            scope.takes = {} if of_guard else {parameter.name: parameter for parameter in place.takes}
        return scope

    def _operations(
        self, lines: list[ScalarNode], place: Screen | Overlay | None, carried: CarriedArguments, *, of_guard: bool = False
    ) -> tuple[Operation, ...]:
        scopes = ((line, self._scope(line, place, carried, of_guard=of_guard)) for line in lines)
        read = (parse_or_report(self._source, line, partial(parse_operation, line.text, scope)) for line, scope in scopes)
        return tuple(operation for operation in read if operation is not None)

    def _condition(
        self, asked: ScalarNode | None, place: Screen | Overlay | None, carried: CarriedArguments
    ) -> Condition | None:
        if asked is None:
            return None
        return parse_or_report(self._source, asked, lambda: parse_condition(asked.text, self._scope(asked, place, carried)))

    def _carries(self, written: ScalarNode, carried: CarriedArguments, start: int, what: str) -> tuple[Parameter, ...]:
        for name, parameter in carried.items():
            if parameter is None:
                at = written.text.find(name, start)
                reporter_for(self._source, written)(
                    at, messages.NOTHING_USES.format(name=name, what=what), messages.HAND_IT_ON.format(name=name)
                )
        return tuple(parameter for parameter in carried.values() if parameter is not None)

    def _listed(self, section: MapReader, key: str) -> tuple[str, ...]:
        scalars = section.scalars(key)
        for scalar in scalars:
            self._known_screen(scalar)
        return tuple(scalar.text for scalar in scalars)

    def _known_screen(self, scalar: ScalarNode) -> None:
        known = self._declared.screens
        if scalar.text not in known:
            what = messages.NO_SUCH_SCREEN.format(name=scalar.text)
            self._source.add_error(scalar.at, what, suggest(scalar.text, known), lacks=("screen", scalar.text))
