"""A rule that is asked for by its name, and the shortest steps that break it as a walk."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.errors import RuleError
from wise_ladder.plan.nearest import instead_of
from wise_ladder.plan.reading import read_plan_text
from wise_ladder.plan.writing import with_walk
from wise_ladder.rules.starter import rules_in_force
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.verdicts import Bounds

if TYPE_CHECKING:
    from collections.abc import Iterable

    from wise_ladder.plan import Plan, Walk
    from wise_ladder.plan.model import Rule

SECONDS = 5.0
"""So long a break is looked for at most."""


def rule_called(rules: Iterable[Rule], name: str) -> Rule:
    """Return the rule of a name; raises RuleError where none is called so."""
    found = {rule.called: rule for rule in rules}
    if name not in found:
        raise RuleError(f'there is no rule "{name}"; {instead_of(name, list(found))}')
    return found[name]


class Broken(NamedTuple):
    """The shortest steps that break a rule as a walk, the plan that has this walk, and what is wrong, in a sentence."""

    plan: Plan
    walk: Walk
    words: str


def as_walk(plan: Plan, text: str, name: str) -> Broken:
    """Return the shortest steps that break a rule as a walk of the plan; `text`: what the plan says.

    Raises RuleError where there is no such rule, or nothing was found that breaks it.
    """
    sweep = Sweep(plan, Bounds(seconds=SECONDS), (rule_called(rules_in_force(plan), name),))
    while not sweep.over and not sweep.found[0]:
        sweep.go_on(0.1)
    (verdict,) = sweep.verdicts()
    if not verdict.guilty:
        raise RuleError(f'nothing breaks the rule "{name}": it {verdict.words}')
    found, walk = verdict.guilty[0], f"what breaks {name}"
    tape = found.tape
    again = read_plan_text(with_walk(text, walk, tape.as_steps()[:-1], tape.given(), tape.phone()))
    if plan.phone:
        again = again.on_phone(plan.phone)
    words = f"The rule is {verdict.words}: {found.guilt.words}. To blame is {found.place.words}."
    return Broken(again, next(each for each in again.walks if each.name == walk), words)
