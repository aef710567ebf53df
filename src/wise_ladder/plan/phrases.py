"""The small grammar of triggers, conditions and operations.

A phrase is read against what the plan declares (a `Scope`): names are looked up as they are met, so that what comes out is
whole, and a name nobody knows becomes a problem with its place and the nearest correct word. Reading goes on after such a
problem; only a phrase that cannot be taken apart at all stops, with `PhraseError`.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, TypeVar

from msgspec.structs import replace

from wise_ladder.plan import conditions, messages, operations, triggers, values
from wise_ladder.plan.suggest import suggest
from wise_ladder.plan.tokens import Cursor, Name, PhraseError, StopWords

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping

    from wise_ladder.plan.conditions import Condition
    from wise_ladder.plan.map_reader import Reporter
    from wise_ladder.plan.model import Fact, Overlay, Screen
    from wise_ladder.plan.operations import Target
    from wise_ladder.plan.triggers import Trigger
    from wise_ladder.plan.values import Parameter, Value

AFTER_TARGET: tuple[StopWords, ...] = (("once",), ("exactly",), ("else",), ("on",), ("awaiting",), ("and", "drop", "it"))
_IN_CONDITION: tuple[StopWords, ...] = (
    ("is",), ("and",), ("or",), ("on", "the", "ladder"), ("in", "front"), ("at", "its", "root"), ("runs",),
)  # fmt: skip
_TRIGGERS = tuple(phrase for kind in triggers.TRIGGERS for phrase in kind.record.phrases)

_T = TypeVar("_T")


@dataclass(slots=True)
class Scope:
    """What a phrase may name where it stands."""

    note: Reporter
    screens: Mapping[str, Screen]
    facts: Mapping[str, Fact]
    own: Mapping[str, Fact] = field(default_factory=dict)
    takes: Mapping[str, Parameter] = field(default_factory=dict)
    carried: dict[str, Parameter | None] = field(default_factory=dict)
    """What the tap carries, or the result that came; the type of what a tap carries is learnt from where it is handed to."""
    overlays: Mapping[str, Overlay] = field(default_factory=dict)
    results: Mapping[str, Parameter] = field(default_factory=dict)
    calls: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    """Each call with the names of its outcomes."""
    timers: tuple[str, ...] = ()
    guards: tuple[str, ...] = ()
    """The names of guards, where a walk may name them."""
    answers: tuple[str, ...] = ()
    """The answers to questions, where a walk may name them."""
    gives: Mapping[str, Parameter] | None = None
    """What may be returned from here; None: whatever any screen gives."""

    def screen(self, name: Name) -> Screen | None:
        """Look up a screen; an unknown one is noted."""
        return self._known(name, self.screens, "screen")

    def overlay(self, name: Name) -> Overlay | None:
        """Look up an overlay; an unknown one is noted."""
        return self._known(name, self.overlays, "overlay")

    def flow(self, name: Name) -> Screen | None:
        """Look up a flow or tabs; anything else is noted."""
        return self._known(name, {key: screen for key, screen in self.screens.items() if screen.inside}, "flow")

    def tab(self, name: Name) -> None:
        """Look up a tab; an unknown one is noted."""
        self._known(name, {tab: screen for screen in self.screens.values() if screen.tabs for tab, _ in screen.inside}, "tab")

    def result(self, name: Name) -> Parameter | None:
        """Look up the type of a result; one that nothing gives is noted."""
        return self._known(name, self.results, "result that a screen or overlay gives")

    def call(self, name: Name) -> tuple[str, ...]:
        """Look up the outcomes of a call; an unknown one is noted."""
        return self._known(name, self.calls, "call") or ()

    def timer(self, name: Name) -> None:
        """Look up a timer of the app; an unknown one is noted."""
        self._known(name, dict.fromkeys(self.timers, name), "timer")

    def outcome(self, call: Name, name: Name) -> None:
        """Look up an outcome of a call; an unknown one of either is noted."""
        known = self.call(call)
        if known and name.text not in known:
            self.note(name.start, messages.NEVER_GIVES.format(call=call.text, outcome=name.text), suggest(name.text, known))

    def fact(self, name: Name) -> Fact | None:
        """Look up a fact, of the rung first; an unknown one is noted."""
        return self._known(name, {**self.facts, **self.own}, "fact")

    def value(self, fact: Fact, name: Name) -> None:
        """Note a value that the fact does not have."""
        if name.text not in fact.values:
            what, lacks = messages.HAS_NOT_THE_VALUE.format(name=fact.name, value=name.text), ("value", fact.name, name.text)
            self.note(name.start, what, suggest(name.text, fact.values), lacks)

    def _known(self, name: Name, known: Mapping[str, _T], what: str) -> _T | None:
        value = known.get(name.text)
        if value is None:
            lacks = (what, name.text)
            self.note(name.start, messages.NO_SUCH_THING.format(what=what, name=name.text), suggest(name.text, known), lacks)
        return value


# Targets and their arguments


def parse_target(cursor: Cursor, scope: Scope, *, whole: bool = True, stops: tuple[StopWords, ...] = AFTER_TARGET) -> Target:
    """Read a screen with arguments; `whole`: each argument without a default must be there."""
    name = cursor.name("the name of a screen", stops)
    written = list(read_arguments(cursor))
    screen = scope.screen(name)
    if screen is None:
        return operations.Target(name.text)
    takes = {parameter.name: parameter for parameter in screen.takes}
    given: dict[str, Value | operations.Variable] = {}
    for key, value in written:
        parameter = takes.get(key.text)
        if parameter is None:
            what, lacks = messages.TAKES_NO_SUCH_ARGUMENT.format(screen=name.text, argument=key.text), (screen.name, key.text)
            scope.note(key.start, what, suggest(key.text, takes), ("argument", *lacks))
        elif key.text in given:
            scope.note(key.start, messages.GIVEN_TWICE.format(name=key.text), messages.KEEP_ONE_OF_TWO)
        else:
            given[key.text] = _bound(scope, parameter, value)
    if whole:
        for parameter in screen.takes:
            if parameter.name in given:
                continue
            if parameter.default is None:
                example = f"{name.text}({parameter.name}={parameter.samples[0]})"
                scope.note(
                    name.start,
                    messages.NEEDS_AN_ARGUMENT.format(text=name.text, name=parameter.name),
                    messages.WRITE_EXAMPLE.format(example=example),
                    ("needed", name.text, parameter.name),
                )
            else:
                given[parameter.name] = parameter.default
    return operations.Target(name.text, tuple((key, given[key]) for key in takes if key in given))


def parse_lone_target(phrase: str, scope: Scope) -> Target:
    """Read a phrase that is nothing but a screen with its arguments. Raises PhraseError if more follows."""
    cursor = Cursor(phrase)
    target = parse_target(cursor, scope, stops=())
    cursor.expect_end("a screen")
    return target


def read_arguments(cursor: Cursor) -> Iterable[tuple[Name, tuple[bool, Name]]]:
    """Read `(NAME=VALUE, ...)`, nothing if there is none: each name, whether its value is a `$` variable, and the value."""
    if not cursor.accept("("):
        return
    while not cursor.accept(")"):
        key = cursor.name("the name of an argument")
        cursor.expect("=")
        variable = cursor.accept("$")
        yield key, (variable, _one_value(cursor))
        cursor.accept(",")


def _one_value(cursor: Cursor) -> Name:
    """Read a value; of several words only the last could be the next argument's name, so spaces need quotes."""
    name = cursor.name("a value")
    first, _, rest = name.text.partition(" ")
    if not rest or cursor.phrase[name.start : name.start + 1] in "\"'":
        return name
    if cursor.next_is("="):
        raise PhraseError(name.start + len(first) + 1, messages.ARGUMENTS_TOUCH, messages.ADD_A_COMMA)
    raise PhraseError(name.start, messages.HAS_SPACES.format(text=name.text), messages.QUOTE_IT.format(text=name.text))


def _bound(scope: Scope, parameter: Parameter, value: tuple[bool, Name]) -> Value | operations.Variable:
    variable, name = value
    if not variable:
        return typed(scope, parameter, name)
    if name.text in scope.carried and scope.carried[name.text] is None:
        scope.carried[name.text] = replace(parameter, name=name.text)
        return operations.Variable(name.text)
    carried = scope.carried.get(name.text)
    known = carried or scope.takes.get(name.text)
    if known is None:
        choices = [*scope.carried, *scope.takes]
        scope.note(name.start, messages.NO_SUCH_ARGUMENT_HERE.format(name=name.text), suggest(name.text, choices))
    # The values of a result are texts that any argument but a number may have.
    elif known.kind != parameter.kind and (carried is None or "whole number" in {known.kind, parameter.kind}):
        scope.note(
            name.start,
            messages.TAKES_ANOTHER_TYPE.format(argument=name.text, kind=known.kind, name=parameter.name, kind2=parameter.kind),
        )
    return operations.Variable(name.text)


def typed(scope: Scope, parameter: Parameter, name: Name) -> Value:
    """Read the value of an argument as its type wants it; another one is noted."""
    value = values.parse_value(parameter, name.text)
    if value is not None:
        return value
    if parameter.kind == "whole number":
        what = messages.NOT_A_WHOLE_NUMBER.format(name=parameter.name, value=name.text)
        instead = messages.WRITE_EXAMPLE.format(example=parameter.samples[0])
    else:
        what = messages.HAS_NOT_THE_VALUE.format(name=parameter.name, value=name.text)
        instead = suggest(name.text, [str(sample) for sample in parameter.samples])
    if name.text in scope.carried or name.text in scope.takes:
        instead = messages.WRITE_ARGUMENT.format(name=name.text)
    scope.note(name.start, what, instead)
    return name.text


def parse_arrow(phrase: str, scope: Scope) -> tuple[Target, None, bool]:
    """Read where the arrow leads: `to S(args)`, perhaps `fresh`."""
    cursor = Cursor(phrase)
    cursor.accept("to")
    target = parse_target(cursor, scope, stops=(("fresh",),))
    fresh = cursor.accept("fresh")
    cursor.expect_end("an arrow")
    return target, None, fresh


# Triggers


def parse_trigger(phrase: str, scope: Scope) -> Trigger:
    """Read what sets a move off, and put what its tap carries into the scope; raises PhraseError if it is not a trigger."""
    cursor = Cursor(phrase)
    for words, trigger in _PLAIN_TRIGGERS:
        if cursor.accept(*words):
            cursor.expect_end("this trigger")
            return trigger
    if not cursor.next_is("tap") and not cursor.time_next():
        return _event_trigger(cursor, scope)
    if cursor.time_next():
        after = cursor.time()
        for runs in triggers.TIMER_SCOPES:
            if cursor.accept(*runs.split()):
                cursor.expect_end("a timer")
                return triggers.TimerTrigger(after, runs)
        raise PhraseError(
            cursor.place, messages.NO_TIMER_SCOPE, messages.WRITE_ONE_OF.format(choices=", ".join(triggers.TIMER_SCOPES))
        )
    cursor.expect("tap")
    name = cursor.name("the name of what is tapped")
    if cursor.accept("("):
        while not cursor.accept(")"):
            scope.carried[cursor.name("the name of an argument").text] = None
            cursor.accept(",")
    cursor.expect_end("a tap")
    return triggers.TapTrigger(name.text)


def _event_trigger(cursor: Cursor, scope: Scope) -> Trigger:
    name = cursor.name("a trigger", (("becomes",), ("gives",), ("comes", "back"), ("is", "cancelled"), ("runs", "out")))
    if cursor.accept("gives"):
        outcome = cursor.name("an outcome")
        cursor.expect_end("this trigger")
        scope.outcome(name, outcome)
        return triggers.ReplyTrigger(name.text, outcome.text)
    if cursor.accept("runs", "out"):
        cursor.expect_end("this trigger")
        scope.timer(name)
        return triggers.RunsOutTrigger(name.text)
    if cursor.accept("becomes"):
        value = cursor.name("a value", (("even", "hidden"),))
        hidden = cursor.accept("even", "hidden")
        cursor.expect_end("this trigger")
        if name.text in scope.own:
            scope.value(scope.own[name.text], value)
        elif (fact := scope.fact(name)) is not None:
            scope.value(fact, value)
        return triggers.BecomesTrigger(name.text, value.text, hidden)
    for words, cancelled in ((("comes", "back"), False), (("is", "cancelled"), True)):
        if cursor.accept(*words):
            cursor.expect_end("this trigger")
            result = scope.result(name)
            if not cancelled:
                brings = (values.Parameter(name.text, "one of", ("",)),) if result is None else result.brings
                scope.carried.update({part.name: part for part in brings})
            return triggers.ResultTrigger(name.text, cancelled)
    word = name.text.partition(" ")[0]
    raise PhraseError(0, messages.UNKNOWN_TRIGGER.format(word=word), messages.WRITE_ONE_OF.format(choices=", ".join(_TRIGGERS)))


_PLAIN_TRIGGERS: tuple[tuple[tuple[str, ...], Trigger], ...] = (
    (("shown",), triggers.ShownTrigger()),
    (("first", "shown"), triggers.ShownTrigger(first=True)),
    (("left",), triggers.LeftTrigger()),
    (("launched",), triggers.PhaseTrigger("launched")),
    (("cover", "gone"), triggers.PhaseTrigger("cover gone")),
    (("low", "memory"), triggers.PhaseTrigger("low memory")),
)


# Conditions


def parse_condition(phrase: str, scope: Scope) -> Condition:
    """Read the condition of a move; raises PhraseError if it is not one."""
    cursor = Cursor(phrase)
    condition = _either(cursor, scope)
    cursor.expect_end("a condition")
    return condition


def _either(cursor: Cursor, scope: Scope) -> Condition:
    parts = [_all(cursor, scope)]
    while cursor.accept("or"):
        parts.append(_all(cursor, scope))
    return parts[0] if len(parts) == 1 else conditions.AnyOf(tuple(parts))


def _all(cursor: Cursor, scope: Scope) -> Condition:
    parts = [_one(cursor, scope)]
    while cursor.accept("and"):
        parts.append(_one(cursor, scope))
    return parts[0] if len(parts) == 1 else conditions.AllOf(tuple(parts))


def _one(cursor: Cursor, scope: Scope) -> Condition:
    if cursor.accept("not"):
        with cursor.deeper():
            return conditions.Not(_one(cursor, scope))
    if cursor.accept("("):
        with cursor.deeper():
            inner = _either(cursor, scope)
        cursor.expect(")")
        return inner
    if cursor.accept("alone"):
        return conditions.Alone()
    if cursor.accept("depth", "over"):
        return conditions.DepthOver(cursor.whole_number("a number of rungs"))
    if cursor.accept("beneath", "is"):
        turned = cursor.accept("not")
        return _turned(turned, conditions.BeneathIs(_screen_name(cursor, scope, _IN_CONDITION)))
    name = cursor.name("a fact, an argument or a screen", _IN_CONDITION)
    if cursor.accept("on", "the", "ladder"):
        scope.screen(name)
        return conditions.OnLadder(name.text)
    if cursor.accept("runs"):
        scope.timer(name)
        return conditions.TimerRuns(name.text)
    for words, about in ((("in", "front"), conditions.TabInFront), (("at", "its", "root"), conditions.TabAtRoot)):
        if cursor.accept(*words):
            scope.tab(name)
            return about(name.text)
    if not cursor.accept("is"):
        raise PhraseError(cursor.place, messages.IS_EXPECTED.format(text=name.text), messages.WRITE_IS.format(text=name.text))
    turned = cursor.accept("not")
    return _turned(turned, _is(scope, name, cursor.name("a value", _IN_CONDITION)))


def _turned(turned: bool, condition: Condition) -> Condition:
    return conditions.Not(condition) if turned else condition


def _screen_name(cursor: Cursor, scope: Scope, stops: tuple[StopWords, ...]) -> str:
    name = cursor.name("the name of a screen", stops)
    scope.screen(name)
    return name.text


def _is(scope: Scope, name: Name, value: Name) -> Condition:
    carried = scope.carried.get(name.text)
    parameter = carried or scope.takes.get(name.text)
    if parameter is not None:
        return conditions.ArgumentIs(name.text, typed(scope, parameter, value))
    fact = scope.fact(name)
    if fact is not None:
        scope.value(fact, value)
    kind = conditions.RungFactIs if name.text in scope.own else conditions.FactIs
    return kind(name.text, value.text)
