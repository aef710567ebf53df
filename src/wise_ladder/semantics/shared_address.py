"""The address of the place where one stands, read backwards from the links."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.plan.addresses import filled_in
from wise_ladder.plan.operations import Variable
from wise_ladder.semantics.plan_index import filled, index_of
from wise_ladder.semantics.state import Phase, front_ladder, visible_path

if TYPE_CHECKING:
    from wise_ladder.plan.model import Plan
    from wise_ladder.plan.operations import Target
    from wise_ladder.plan.values import Value
    from wise_ladder.plan.world import Link
    from wise_ladder.semantics.state import Rung, State


def shared_address(plan: Plan, state: State) -> str | None:
    """Return the address that an app would hand on from here, None if no link leads to what is seen.

    It is the address of the first link whose build ends with the screen that is seen. What that screen's arguments do not tell
    is read from the rungs beneath, and the address must lead to this screen with these arguments again.
    """
    path = visible_path(state.ladder) if state.phase is Phase.OPEN and not state.cover else []
    if not path:
        return None
    data = path[-1].data
    for link in plan.links:
        if link.build and link.build[-1].screen == data.screen:
            values = _values(link, path, state)
            address = filled_in(link.address, values) if values is not None else ""
            match = index_of(plan).link_of(address) if address else None
            if match is not None and match.link is link and filled(link.build[-1], match.values).fixed == data.arguments:
                return address
    return None


def _values(link: Link, path: list[Rung], state: State) -> dict[str, Value] | None:
    """Return what the address must say for the rungs to be those of the build; None if it cannot."""
    values = _bound({}, link.build[-1], path[-1])
    wanted = {parameter.name for parameter in link.carries}
    for target in reversed(link.build[:-1]):
        if values is None or wanted <= values.keys():
            break
        beneath = [rung for ladder in (state.ladder, front_ladder(state.ladder)) for rung in ladder if rung is not path[-1]]
        same = next((rung for rung in reversed(beneath) if rung.data.screen == target.screen), None)
        values = values if same is None else _bound(values, target, same)
    defaults = {each.name: each.default for each in link.carries if each.default is not None}
    return None if values is None or wanted - values.keys() - defaults.keys() else {**defaults, **values}


def _bound(values: dict[str, Value], target: Target, rung: Rung) -> dict[str, Value] | None:
    """Return the values with those that make a target this rung; None if there are none."""
    own, found = dict(rung.data.arguments), dict(values)
    for name, value in target.arguments:
        if name not in own:
            return None
        if isinstance(value, Variable):
            if found.setdefault(value.name, own[name]) != own[name]:
                return None
        elif own[name] != value:
            return None
    return found
