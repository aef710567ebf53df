"""A rule that is asked for by its name, and the shortest steps that break it as a walk."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.errors import RuleError
from wise_ladder.plan.events import Walk, WalkStep
from wise_ladder.plan.steps import event_phrase
from wise_ladder.plan.suggest import suggest
from wise_ladder.rules import messages
from wise_ladder.rules.starter import rules_in_force
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.verdicts import Bounds

if TYPE_CHECKING:
    from collections.abc import Iterable

    from wise_ladder.plan import Plan
    from wise_ladder.plan.rule import Rule

SECONDS = 5.0
"""So long a break is looked for at most."""


def rule_called(rules: Iterable[Rule], name: str) -> Rule:
    """Return the rule of a name; raises RuleError if none is called so."""
    by_name = {rule.called: rule for rule in rules}
    if name not in by_name:
        raise RuleError(messages.NO_SUCH_RULE.format(name=name, instead=suggest(name, list(by_name))))
    return by_name[name]


class Broken(NamedTuple):
    """The shortest steps that break a rule as a walk, and what is wrong, in a sentence."""

    walk: Walk
    words: str


def as_walk(plan: Plan, name: str) -> Broken:
    """Return the shortest steps that break a rule as a walk.

    Raises RuleError if there is no such rule, or nothing breaks it.
    """
    sweep = Sweep(plan, Bounds(seconds=SECONDS), (rule_called(rules_in_force(plan), name),))
    while not sweep.finished and not sweep.found[0]:
        sweep.run(0.1)
    (verdict,) = sweep.verdicts()
    if not verdict.counterexamples:
        raise RuleError(messages.NOTHING_BREAKS.format(name=name, words=verdict.words))
    counterexample = verdict.counterexamples[0]
    steps = tuple(WalkStep(entry.event, event_phrase(entry.event)) for entry in counterexample.tape.entries)
    violation, place = counterexample.guilt.words, counterexample.place.words
    words = messages.BROKEN_BY.format(words=verdict.words, violation=violation, place=place)
    return Broken(
        Walk(
            messages.BREAKING_WALK.format(name=name),
            steps,
            phone=counterexample.tape.phone(),
            named_given=counterexample.tape.plan.given.name,
        ),
        words,
    )
