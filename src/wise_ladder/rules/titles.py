"""What a rule is called: by the name that the plan gives it, else by what it says."""

from __future__ import annotations

from collections import Counter
from typing import TYPE_CHECKING

from msgspec.structs import replace

from wise_ladder.plan.rules import RULES
from wise_ladder.plan.tokens import size_phrase, time_phrase

if TYPE_CHECKING:
    from collections.abc import Iterable

    from wise_ladder.plan.rule import Rule


def about(rule: Rule) -> str:
    """Say in few words what a rule is about."""
    parts = [", ".join(rule.screens)]
    if rule.lands:
        parts.append(f"on {', '.join(rule.lands)}")
    if rule.limit is not None:
        parts.append(limit_words(rule))
    if rule.ways and rule.ways != RULES[rule.name].ways:
        parts.append(f"by {', '.join(rule.ways)}")
    if rule.condition is not None and rule.condition_text:
        parts.append(f"if {rule.condition_text}")
    return " ".join(part for part in parts if part)


def named(rule: Rule) -> str:
    """Name a rule: by its title, else by what it says."""
    return rule.called or rule.title or says(rule)


def short_names(rules: Iterable[Rule]) -> tuple[str, ...]:
    """Name each rule as shortly as no other of them is named."""
    rules = tuple(rules)
    count = Counter(rule.short for rule in rules)
    return tuple(rule.short if count[rule.short] == 1 else named(rule) for rule in rules)


def says(rule: Rule) -> str:
    """Say which rule it is, and what it is about."""
    return f"{rule.name}: {about(rule)}" if about(rule) else rule.name


def with_names(rules: Iterable[Rule]) -> tuple[Rule, ...]:
    """Give each rule a name that no other has; of several that say the same, the later ones get a number."""
    rules = tuple(rules)
    taken = {rule.title for rule in rules if rule.title}
    named_rules: list[Rule] = []
    for rule in rules:
        called, number = named(rule), 1
        while not rule.title and called in taken:
            number += 1
            called = f"{says(rule)} ({number})"
        taken.add(called)
        named_rules.append(replace(rule, called=called))
    return tuple(named_rules)


def limit_words(rule: Rule) -> str:
    """Write what a rule allows, in its unit; it must have a limit."""
    assert rule.limit is not None  # noqa: S101 - the caller has looked
    keys = (*RULES[rule.name].required, *RULES[rule.name].optional)
    if "size" in keys:
        return size_phrase(rule.limit)
    return time_phrase(rule.limit) if "time" in keys else f"{rule.limit} {'rung' if rule.limit == 1 else 'rungs'}"
