"""The starter set: the rules that most apps want, with what they are about recognised in the plan."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from msgspec.structs import replace

from wise_ladder.plan import conditions, operations
from wise_ladder.plan.conditions import AllOf, AnyOf, Condition, FactIs, Not
from wise_ladder.plan.operations import all_of
from wise_ladder.plan.rule import Rule, StarterSet
from wise_ladder.plan.rules import FLASH
from wise_ladder.plan.steps import quoted
from wise_ladder.rules.titles import with_names
from wise_ladder.semantics.conditions import facts_of

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.model import Plan, Redirect, Screen
    from wise_ladder.plan.operations import Operation

ALWAYS = (
    "no twins", "no pile-up", "no traps", "waiting ends", "results come back", "redirects end", "links have a way back",
)  # fmt: skip


class Recognition(NamedTuple):
    """What the starter set takes the screens and facts of a plan for."""

    splash: tuple[str, ...]
    """They only go on by themselves."""
    sign_in: tuple[str, ...]
    """Where redirects that remember send to."""
    protected: tuple[Redirect, ...]
    """The redirects that remember: what they turn away is protected."""
    unsettled: tuple[FactIs, ...]
    """The facts that such redirects ask for, with the value that says that it is not known yet."""
    signed_in: Condition | None
    """When the user is signed in; None if there is no such redirect."""

    def allowed(self, redirect: Redirect) -> Condition:
        """Return when what a redirect turns away may be seen: always, unless the user is known to be signed out."""
        assert redirect.condition is not None  # noqa: S101 - only such are recognised
        about = facts_of(redirect.condition)
        return _either((Not(redirect.condition), *(each for each in self.unsettled if each.name in about)))


def recognise(plan: Plan, starter: StarterSet = StarterSet()) -> Recognition:  # noqa: B008 - it is frozen
    """Say what is a splash, a sign-in, what is behind it, and when the user is signed in."""
    splash = (screen.name for screen in plan.screens if _goes_on_by_itself(screen))
    remembering = [redirect for redirect in plan.redirects if redirect.remember and redirect.condition is not None]
    sign_in = tuple(
        name for name in dict.fromkeys(redirect.target.screen for redirect in remembering) if name not in starter.not_sign_in
    )
    protected = tuple(redirect for redirect in remembering if redirect.only)
    conditions = [redirect.condition for redirect in protected if redirect.condition is not None]
    unsettled = tuple(_unsettled(plan, conditions, sign_in))
    signed_in = _all((*map(Not, conditions), *map(Not, unsettled))) if conditions else None
    return Recognition(
        tuple(name for name in splash if name not in starter.not_splash), sign_in, protected, unsettled, signed_in
    )


class RecognisedWords(NamedTuple):
    """The same in words: names of screens, and conditions as a plan writes them."""

    splash: list[str]
    sign_in: list[str]
    protected: list[str]
    signed_in: str
    unsettled: list[str]


def recognised_words(plan: Plan, starter: StarterSet) -> RecognisedWords:
    """Say in words what the starter set recognises in a plan."""
    words = recognise(plan, starter)
    behind = (name for redirect in words.protected for name in redirect.only if name not in starter.not_protected)
    signed_in = condition_words(plan, words.signed_in) if words.signed_in is not None else ""
    unsettled = [_words(each) for each in words.unsettled]
    return RecognisedWords([*words.splash], [*words.sign_in], [*dict.fromkeys(behind)], signed_in, unsettled)


def _goes_on_by_itself(screen: Screen) -> bool:
    triggers = [move.trigger for move in screen.moves]
    puts = any(done.record.shows for move in screen.moves for done in move.operations)
    return puts and not screen.inside and all(trigger.record.by_itself for trigger in triggers)


def _unsettled(plan: Plan, conditions: list[Condition], sign_in: tuple[str, ...]) -> Iterator[FactIs]:
    """Go through the facts that are not known at first: nothing sets that value, and not only the sign-in settles it.

    That is so where moves of other screens set values that turn people away, and values that do not.
    """
    for fact in plan.facts:
        about = [condition for condition in conditions if fact.name in facts_of(condition)]
        elsewhere = {value for where, value in _set_to(plan, fact.name) if where not in sign_in}
        anywhere = {value for _, value in _set_to(plan, fact.name)} | {after for _, after in fact.allowed_changes}
        settled = {truth for value in elsewhere for condition in about for truth in _may_be(condition, fact.name, value)}
        if about and settled == {True, False} and fact.values[0] not in anywhere:
            yield FactIs(fact.name, fact.values[0])


def _set_to(plan: Plan, fact: str) -> Iterator[tuple[str | None, str]]:
    """Go through the values that moves and guards give a fact, and the places of these."""
    done: list[tuple[str | None, Operation]] = [(move.owner, each) for move in plan.moves for each in move.operations]
    for guard in plan.guard.values():
        asked = (each for answer in guard.answers for each in answer.operations)
        done += [(guard.id.owner, each) for each in (*guard.operations, *asked)]
    for where, operation in done:
        for each in all_of([operation]):
            if isinstance(each, operations.SetFact) and each.name == fact and isinstance(each.value, str):
                yield where, each.value


def _may_be(condition: Condition, fact: str, value: str) -> set[bool]:
    """Return what a condition can come to where a fact has a value."""
    match condition:
        case FactIs(name, wanted):
            return {value == wanted} if name == fact else {True, False}
        case Not(inner):
            return {not truth for truth in _may_be(inner, fact, value)}
        case AllOf(parts) | AnyOf(parts):
            decides = isinstance(condition, AnyOf)
            each = [_may_be(part, fact, value) for part in parts]
            possible = {decides} if any(decides in truths for truths in each) else set[bool]()
            return possible | ({not decides} if all((not decides) in truths for truths in each) else set())
        case _:
            return {True, False}


def _all(parts: tuple[Condition, ...]) -> Condition:
    return parts[0] if len(parts) == 1 else AllOf(parts)


def _either(parts: tuple[Condition, ...]) -> Condition:
    return parts[0] if len(parts) == 1 else AnyOf(parts)


def condition_words(plan: Plan, condition: Condition) -> str:
    """Write a condition as a plan does; one about a single fact by the values for which it holds."""
    names = facts_of(condition)
    fact = next((fact for fact in plan.facts if {fact.name} == names), None)
    if fact is not None:
        truths = {value: _may_be(condition, fact.name, value) for value in fact.values}
        if all(len(each) == 1 for each in truths.values()):
            return " or ".join(f"{quoted(fact.name)} is {quoted(value)}" for value, each in truths.items() if each == {True})
    return _words(condition)


def _words(condition: Condition) -> str:
    match condition:
        case FactIs(name, value) | conditions.RungFactIs(name, value) | conditions.ArgumentIs(name, value):
            return f"{quoted(name)} is {quoted(str(value))}"
        case conditions.Alone():
            return "alone"
        case conditions.DepthOver(rungs):
            return f"depth over {rungs}"
        case conditions.OnLadder(screen):
            return f"{quoted(screen)} on the ladder"
        case conditions.BeneathIs(screen):
            return f"beneath is {quoted(screen)}"
        case conditions.TabInFront(tab):
            return f"{quoted(tab)} in front"
        case conditions.TabAtRoot(tab):
            return f"{quoted(tab)} at its root"
        case conditions.TimerRuns(timer):
            return f"{quoted(timer)} runs"
        case Not(inner):
            return f"not {_words(inner)}" if not isinstance(inner, (AllOf, AnyOf)) else f"not ({_words(inner)})"
        case AllOf(parts):
            return " and ".join(f"({_words(part)})" if isinstance(part, AnyOf) else _words(part) for part in parts)
        case AnyOf(parts):
            return " or ".join(_words(part) for part in parts)


def rules_in_force(plan: Plan) -> tuple[Rule, ...]:
    """List the rules of a plan, those of the starter set in its place, each with a name of its own."""
    rules: list[Rule] = []
    for rule in plan.rules:
        if isinstance(rule, StarterSet):
            named = [other.name for other in plan.rules if isinstance(other, Rule)]
            rules += [one for one in _starter(plan, rule) if one.screens or one.name not in named]
        else:
            rules.append(rule)
    return with_names(rules)


def _starter(plan: Plan, starter: StarterSet) -> Iterator[Rule]:
    about = recognise(plan, starter)
    rules: list[Rule] = []
    if about.splash:
        rules.append(Rule("never beneath", about.splash, note="a splash goes on by itself"))
        rules.append(Rule("never land on", about.splash, note="a splash goes on by itself"))
    for redirect in about.protected:
        names = tuple(name for name in redirect.only if name not in starter.not_protected)
        allowed = about.allowed(redirect)
        words = condition_words(plan, allowed)
        rules.append(Rule("protected", names, condition=allowed, condition_text=words, note="behind a sign-in"))
    if about.sign_in and about.signed_in is not None:
        words = condition_words(plan, about.signed_in)
        rules.append(
            Rule("never land on", about.sign_in, condition=about.signed_in, condition_text=words, note="a sign-in is done with")
        )
    rules += [Rule(name) for name in ALWAYS]
    if any(guard.at_press for guard in plan.guard.values()):
        rules.append(Rule("forecast is known"))
    rules.append(Rule("no flash", limit=FLASH))
    yield from (replace(rule, starter=True, at=starter.at) for rule in rules if rule.name not in starter.without)
