"""Small plans for the tests, in the scenario of the demo."""

import textwrap

from wise_ladder.demo import combfield
from wise_ladder.plan import Event, Plan
from wise_ladder.plan.loader import read_plan, read_plan_text
from wise_ladder.plan.steps import with_arguments
from wise_ladder.semantics import State, Step, initial_state, step
from wise_ladder.semantics.state import visible_screens

COMBFIELD = read_plan(combfield())


def plan_of(text: str) -> Plan:
    """Read a plan whose head may be left out: app and start are filled in."""
    text = textwrap.dedent(text)
    for line in ("start: hives", "app: Combfield"):
        if not any(other.startswith(line.split(":")[0] + ":") for other in text.splitlines()):
            text = f"{line}\n{text}"
    return read_plan_text(text)


def run(
    plan: Plan, *events: Event, given: tuple[tuple[str, str], ...] = (), replies: tuple[tuple[str, str], ...] = ()
) -> State:
    """Do events from the first state on; each must apply."""
    state = initial_state(plan, given, replies)
    for event in events:
        state = done(plan, state, event).state
    return state


def done(plan: Plan, state: State, event: Event) -> Step:
    """Do one event that must apply."""
    found = step(plan, state, event)
    if found.refused is not None:
        raise AssertionError(f"{event} was refused: {found.refused}")
    return found


def ladder(state: State) -> str:
    """Write the visible ladder as walks do: `hives > hive(id=7)`."""
    return " > ".join(with_arguments(rung.data.screen, rung.data.arguments) for rung in visible_screens(state.ladder))
