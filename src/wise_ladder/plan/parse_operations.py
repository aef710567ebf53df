"""The phrases of operations: `push hive(id=7) once`, `pop to S and drop it`, `return yellow from FLOW`."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace

from wise_ladder.plan import messages, operations
from wise_ladder.plan.addresses import template
from wise_ladder.plan.phrases import AFTER_TARGET, parse_target, read_arguments
from wise_ladder.plan.suggest import closest, suggest
from wise_ladder.plan.tokens import Cursor, Name, PhraseError, index_by_first_word
from wise_ladder.plan.values import Parameter, parse_value

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping, Sequence

    from wise_ladder.plan.operations import Operation
    from wise_ladder.plan.phrases import Scope

_OPERATIONS = tuple(dict.fromkeys(words for kind in operations.OPERATIONS for words in kind.record.begins))


def parse_operation(phrase: str, scope: Scope) -> Operation:
    """Read one operation; raises PhraseError if it is not one."""
    cursor = Cursor(phrase)
    operation = _operation(cursor, scope)
    if cursor.accept("then") or cursor.accept("and") or cursor.accept(","):
        raise PhraseError(cursor.place, messages.ONE_OPERATION, messages.WRITE_SEVERAL)
    cursor.expect_end("an operation")
    return operation


def _operation(cursor: Cursor, scope: Scope) -> Operation:
    start = cursor.place
    for words, read in OPERATION_PARSERS.get(cursor.word, ()):
        if cursor.accept(*words):
            return _placed(cursor, scope, read(cursor, scope))
    word = cursor.name("an operation").text.partition(" ")[0]
    instead = (
        suggest(word, _OPERATIONS)
        if closest(word, _OPERATIONS)
        else messages.WRITE_ONE_OF.format(choices=", ".join(_OPERATIONS))
    )
    raise PhraseError(start, messages.UNKNOWN_OPERATION.format(word=word), instead)


def _placed(cursor: Cursor, scope: Scope, operation: Operation) -> Operation:
    if not cursor.accept("on"):
        return operation
    name = cursor.name("a flow or app", (("else",),))
    if name.text != "app":
        scope.flow(name)
    return operations.OnFlow(name.text, operation)


def _push(cursor: Cursor, scope: Scope) -> Operation:
    target = parse_target(cursor, scope)
    once = cursor.accept("once")
    return operations.Push(target, once, _awaiting(cursor, scope))


def _awaiting(cursor: Cursor, scope: Scope) -> str:
    if not cursor.accept("awaiting"):
        return ""
    name = cursor.name("the name of a result", AFTER_TARGET)
    scope.result(name)
    return name.text


def _replace(cursor: Cursor, scope: Scope) -> Operation:
    return operations.Replace(parse_target(cursor, scope))


def _pop_to_root(_cursor: Cursor, _scope: Scope) -> Operation:
    return operations.PopToRoot()


def _pop_to(cursor: Cursor, scope: Scope) -> Operation:
    target = parse_target(cursor, scope, whole=False)
    drop = cursor.accept("and", "drop", "it")
    return operations.PopTo(target, drop, _otherwise(cursor, scope))


def _pop(cursor: Cursor, scope: Scope) -> Operation:
    start = cursor.place
    rungs = cursor.number_next()
    if rungs == 0:
        raise PhraseError(start, messages.POPS_NOTHING, messages.WRITE_POP)
    return operations.Pop(1 if rungs is None else rungs, _otherwise(cursor, scope))


def _otherwise(cursor: Cursor, scope: Scope) -> Operation | None:
    cursor.accept(",")
    if not cursor.accept("else"):
        return None
    with cursor.deeper():
        return _operation(cursor, scope)


def _clear(_cursor: Cursor, _scope: Scope) -> Operation:
    return operations.Clear()


def _reach(cursor: Cursor, scope: Scope) -> Operation:
    target = parse_target(cursor, scope)
    return operations.Reach(target, exactly=cursor.accept("exactly"))


def _set(cursor: Cursor, scope: Scope) -> Operation:
    fact, value = _parse_set(cursor, scope, variables=True)
    return operations.SetRungFact(fact, value) if fact in scope.own else operations.SetFact(fact, value)


def _take_back(_cursor: Cursor, _scope: Scope) -> Operation:
    return operations.TakeBack()


def _leave(_cursor: Cursor, _scope: Scope) -> Operation:
    return operations.Leave()


def _return(cursor: Cursor, scope: Scope) -> Operation:
    start = cursor.place
    parts = list(read_arguments(cursor)) if cursor.next_is("(") else None
    value = _variable_or_value(cursor) if parts is None else None
    flow = cursor.name("the name of a flow", (("else",), ("on",))) if cursor.accept("from") else None
    gives = scope.results if scope.gives is None else dict(scope.gives)
    if flow is not None and (screen := scope.flow(flow)) is not None:
        gives = {**gives, **{given.name: given for given in screen.gives}}
    given = _given(scope, *value, gives) if value is not None else _given_parts(scope, parts or [], gives, start)
    return operations.Return(given, flow.text if flow else "")


def _variable_or_value(cursor: Cursor) -> tuple[bool, Name]:
    variable = cursor.accept("$")
    return variable, cursor.name("a value", (("from",),))


def _given_parts(
    scope: Scope, written: Sequence[tuple[Name, tuple[bool, Name]]], gives: Mapping[str, Parameter], start: int
) -> operations.NamedParts:
    """Read the named parts of a result; parts that no result here has are noted."""
    names = {key.text for key, _ in written}
    result = next((each for each in gives.values() if {part.name for part in each.parts} == names), None)
    if result is None:
        known = [", ".join(f"{part.name}={part.samples[0]}" for part in each.parts) for each in gives.values() if each.parts]
        instead = messages.PARTS_ARE.format(parts=known[0]) if known else messages.ADD_GIVES
        scope.note(start, messages.NO_SUCH_PARTS.format(parts=", ".join(sorted(names))), instead)
        return ()
    by_name = {key.text: value for key, value in written}
    return tuple((part.name, _given(scope, *by_name[part.name], {part.name: part})) for part in result.parts)


def _given(scope: Scope, variable: bool, value: Name, gives: Mapping[str, Parameter]) -> operations.ResultPart:
    """Read a value that is given as a result, or what has it; one that no result can have is noted."""
    gives = {name: given for name, given in gives.items() if not given.parts}
    if not gives:
        scope.note(value.start, messages.NO_RESULT_GIVEN_HERE.format(name=value.text), messages.ADD_GIVES)
        return value.text
    if variable:
        return _given_argument(scope, value, gives)
    read = (parse_value(given, value.text) for given in gives.values())
    found = next((each for each in read if each is not None), None)
    if found is not None:
        return found
    choices = [str(sample) for given in gives.values() for sample in given.samples]
    instead = suggest(value.text, choices)
    if value.text in scope.carried or value.text in scope.takes:
        instead = messages.WRITE_ARGUMENT.format(name=value.text)
    scope.note(value.start, messages.NO_SUCH_RESULT.format(name=value.text), instead)
    return value.text


def _given_argument(scope: Scope, name: Name, gives: Mapping[str, Parameter]) -> operations.Variable | operations.FactValue:
    fact = scope.own.get(name.text) or scope.facts.get(name.text)
    if fact is not None and name.text not in scope.carried and name.text not in scope.takes:
        if not any(given.kind == "text" or set(fact.values) <= set(given.samples) for given in gives.values()):
            values = " or ".join(dict.fromkeys(", ".join(map(str, given.samples)) for given in gives.values()))
            scope.note(name.start, messages.FACT_HAS_OTHER_VALUES.format(fact=fact.name, values=values))
        return operations.FactValue(fact.name, fact.name in scope.own)
    known = scope.carried.get(name.text) or scope.takes.get(name.text)
    if known is None and name.text in scope.carried:
        # What a tap carries takes its type from where it is handed to.
        scope.carried[name.text] = replace(next(iter(gives.values())), name=name.text)
    elif known is None:
        choices = [*scope.carried, *scope.takes, *scope.own, *scope.facts]
        scope.note(name.start, messages.NO_SUCH_ARGUMENT_HERE.format(name=name.text), suggest(name.text, choices))
    elif all(given.kind != known.kind for given in gives.values()):
        kinds = " or ".join(dict.fromkeys(given.kind for given in gives.values()))
        scope.note(name.start, messages.RESULT_OF_ANOTHER_TYPE.format(argument=name.text, kind=known.kind, kinds=kinds))
    return operations.Variable(name.text)


def _close(cursor: Cursor, scope: Scope) -> Operation:
    if cursor.ended or cursor.next_is("else"):
        return operations.Close()
    if cursor.accept("with"):
        gives, start = scope.results if scope.gives is None else scope.gives, cursor.place
        if cursor.next_is("("):
            return operations.Close(_given_parts(scope, list(read_arguments(cursor)), gives, start))
        return operations.Close(_given(scope, *_variable_or_value(cursor), gives))
    name = cursor.name("a flow or an overlay", (("on",), ("else",)))
    if name.text in scope.overlays:
        return operations.Close(overlay=name.text)
    scope.flow(name)
    return operations.CloseFlow(name.text)


def _open(cursor: Cursor, scope: Scope) -> Operation:
    name = cursor.name("the name of an overlay", AFTER_TARGET)
    scope.overlay(name)
    return operations.Open(name.text, _awaiting(cursor, scope))


def _switch(cursor: Cursor, scope: Scope) -> Operation:
    name = cursor.name("the name of a tab", (("to", "root"),))
    scope.tab(name)
    return operations.Switch(name.text, cursor.accept("to", "root"))


def _remember(_cursor: Cursor, _scope: Scope) -> Operation:
    return operations.Remember()


def _go_to_wanted(cursor: Cursor, scope: Scope) -> Operation:
    return operations.GoToWanted(_otherwise(cursor, scope))


def _call(cursor: Cursor, scope: Scope) -> Operation:
    name = cursor.name("the name of a call", (("else",),))
    scope.call(name)
    return operations.StartCall(name.text)


def _cancel(cursor: Cursor, scope: Scope) -> Operation:
    name = cursor.name("the name of a call", (("else",),))
    scope.call(name)
    return operations.CancelCall(name.text)


def _start(cursor: Cursor, scope: Scope) -> Operation:
    name = cursor.name("the name of a timer", (("else",),))
    scope.timer(name)
    return operations.StartTimer(name.text)


def _stop(cursor: Cursor, scope: Scope) -> Operation:
    name = cursor.name("the name of a timer", (("else",),))
    scope.timer(name)
    return operations.StopTimer(name.text)


def _follow(cursor: Cursor, scope: Scope) -> Operation:
    """Read an address to its end; `{id}` in it is an argument."""
    start = cursor.place
    address = cursor.address()
    for name in template(address).names:
        if name in scope.carried:
            if scope.carried[name] is None:
                scope.carried[name] = Parameter(name, "text", ("some", "other"))
        elif name not in scope.takes:
            known = [*scope.carried, *scope.takes]
            scope.note(start + address.index("{"), messages.NOTHING_HERE_HAS_THE_NAME.format(name=name), suggest(name, known))
    return operations.Follow(address)


_READERS: tuple[tuple[tuple[str, ...], Callable[[Cursor, Scope], Operation]], ...] = (
    (("push",), _push),
    (("replace",), _replace),
    (("pop", "to", "root"), _pop_to_root),
    (("pop", "to"), _pop_to),
    (("pop",), _pop),
    (("clear",), _clear),
    (("reach",), _reach),
    (("set",), _set),
    (("take", "back"), _take_back),
    (("leave",), _leave),
    (("return",), _return),
    (("close",), _close),
    (("open",), _open),
    (("show",), _open),
    (("switch",), _switch),
    (("remember", "this", "place"), _remember),
    (("go", "to", "wanted"), _go_to_wanted),
    (("call",), _call),
    (("cancel",), _cancel),
    (("start",), _start),
    (("stop",), _stop),
    (("follow",), _follow),
)


OPERATION_PARSERS = index_by_first_word(_READERS)


def parse_set(cursor: Cursor, scope: Scope) -> tuple[str, str]:
    """Read `FACT VALUE`, where both may hold spaces: the longest fact that is known is taken."""
    fact, value = _parse_set(cursor, scope, variables=False)
    return fact, value if isinstance(value, str) else ""


def _parse_set(cursor: Cursor, scope: Scope, *, variables: bool) -> tuple[str, str | operations.Variable]:
    known = {**scope.facts, **scope.own}
    fact = next((name for name in sorted(known, key=len, reverse=True) if cursor.accept(*name.split())), None)
    if fact is None:
        written = cursor.name("the name of a fact")
        if written.text not in known:
            scope.fact(Name(written.text.rsplit(" ", 1)[0], written.start))
            return written.text, ""
        fact = written.text
    variable = variables and cursor.accept("$")
    value = cursor.name(f'a value of "{fact}"', (("else",),))
    if not variable:
        scope.value(known[fact], value)
        return fact, value.text
    parameter = scope.carried.get(value.text) or scope.takes.get(value.text)
    if parameter is None and value.text in scope.carried:
        scope.carried[value.text] = Parameter(value.text, "one of", known[fact].values)
    elif parameter is None:
        choices = [*scope.carried, *scope.takes]
        scope.note(value.start, messages.NO_SUCH_ARGUMENT_HERE.format(name=value.text), suggest(value.text, choices))
    elif parameter.kind != "one of" or not set(parameter.samples) <= set(known[fact].values):
        scope.note(value.start, messages.SET_TO_OTHER_VALUES.format(argument=value.text, fact=fact))
    return fact, operations.Variable(value.text)
