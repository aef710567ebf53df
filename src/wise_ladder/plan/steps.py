"""The lines of a walk: what is done and what is expected, read from phrases and written as phrases."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, Literal

from wise_ladder.plan import events, messages, model, triggers, values
from wise_ladder.plan.parse_operations import parse_set
from wise_ladder.plan.phrases import parse_target, read_arguments, typed
from wise_ladder.plan.suggest import suggest
from wise_ladder.plan.tokens import Cursor, Name, PhraseError, index_by_first_word, time_phrase

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.plan.events import Event, Expectation
    from wise_ladder.plan.phrases import Scope
    from wise_ladder.plan.values import Arguments

_RESERVED = re.compile(r"""[()=,>\[\]$":#]|^$|(?:^|\s)'|\b(is|and|or|not|once|exactly|else|twice|awaiting|on the ladder)\b""")


def parse_step(phrase: str, scope: Scope, taps: dict[str, tuple[values.Parameter, ...]]) -> Event | Expectation:
    """Read one line of a walk; `taps` are the taps of the whole plan with what they carry.

    Raises PhraseError if the phrase is not a step; an unknown name is noted in the scope.
    """
    cursor = Cursor(phrase)
    for words, read in _BY_FIRST.get(cursor.word, ()):
        if cursor.accept(*words):
            step = read(cursor, scope)
            break
    else:
        step = _tap(cursor, scope, taps) if cursor.accept("tap") else _value_is(cursor, scope)
    cursor.expect_end("this step")
    return step


def _tap(cursor: Cursor, scope: Scope, taps: dict[str, tuple[values.Parameter, ...]]) -> Event:
    name = cursor.name("the name of what is tapped", (("twice",),))
    carries = taps.get(name.text)
    if carries is None:
        scope.note(name.start, messages.NO_SUCH_TAP.format(name=name.text), suggest(name.text, taps))
        carries = ()
    known = {parameter.name: parameter for parameter in carries}
    given: dict[str, values.Value] = {}
    if cursor.accept("("):
        while not cursor.accept(")"):
            key = cursor.name("the name of an argument")
            cursor.expect("=")
            value = cursor.name("a value")
            if key.text in known:
                given[key.text] = typed(scope, known[key.text], value)
            else:
                scope.note(
                    key.start,
                    messages.TAP_CARRIES_NO_SUCH_ARGUMENT.format(tap=name.text, argument=key.text),
                    suggest(key.text, known),
                )
            cursor.accept(",")
    if known.keys() - given.keys():
        example = ", ".join(f"{parameter.name}={parameter.samples[0]}" for parameter in carries)
        scope.note(
            name.start,
            messages.TAP_CARRIES_AN_ARGUMENT.format(name=name.text),
            messages.WRITE_TAP_WITH.format(name=name.text, example=example),
        )
    twice = cursor.accept("twice")
    return events.Tap(name.text, tuple((key, given[key]) for key in known if key in given), twice)


def _see(cursor: Cursor, scope: Scope) -> events.See:
    target = parse_target(cursor, scope, whole=False, stops=())
    return events.See(target.screen, target.fixed)


def _see_something(cursor: Cursor, scope: Scope) -> events.See:
    """Read what is seen: a screen, or an overlay over it."""
    for overlay in scope.overlays:
        if cursor.rest == overlay:
            cursor.name("an overlay")
            return events.See(overlay)
    return _see(cursor, scope)


def _rung(cursor: Cursor, scope: Scope) -> events.See:
    """Read a rung of a ladder: `hive(id=7)`, or one that holds ladders: `home[diary: week > entry(id=3)]`."""
    rung = _see(cursor, scope)
    if not cursor.accept("["):
        return rung
    screen = scope.screens.get(rung.screen)
    tab = ""
    if screen is not None and screen.tabs:
        name = cursor.name("the name of a tab")
        tab = name.text
        tabs = [known for known, _ in screen.inside]
        if tab not in tabs:
            scope.note(name.start, messages.HAS_NO_SUCH_TAB.format(screen=rung.screen, tab=tab), suggest(tab, tabs))
        cursor.accept(":")
    elif screen is not None and not screen.inside:
        scope.note(cursor.place, messages.HOLDS_NO_LADDER.format(screen=rung.screen), messages.LEAVE_BRACKETS_OUT)
    inside = [_rung(cursor, scope)]
    while cursor.accept(">"):
        inside.append(_rung(cursor, scope))
    cursor.expect("]")
    return events.See(rung.screen, rung.arguments, tab, tuple(inside))


def _ladder(cursor: Cursor, scope: Scope) -> Expectation:
    rungs = [_rung(cursor, scope)]
    while cursor.accept(">"):
        rungs.append(_rung(cursor, scope))
    return events.LadderIs(tuple(rungs))


def _depth(cursor: Cursor, _scope: Scope) -> Expectation:
    return events.DepthIs(cursor.whole_number("a number of rungs"))


def _start_from(cursor: Cursor, _scope: Scope) -> Expectation:
    return events.StartFrom(cursor.rest_as_name("the name of a walk"))


def _never_saw(cursor: Cursor, scope: Scope) -> Expectation:
    name = cursor.name("the name of a screen")
    scope.screen(name)
    return events.NeverSaw(name.text)


def _lands(cursor: Cursor, scope: Scope) -> Expectation:
    return events.BackLandsOn(_see(cursor, scope))


def _wait(cursor: Cursor, _scope: Scope) -> Event:
    return events.Wait(cursor.time())


def _set(cursor: Cursor, scope: Scope) -> Event:
    fact, value = parse_set(cursor, scope)
    return events.OutsideChange(fact, value)


def _back(cursor: Cursor, scope: Scope) -> Event:
    cursor.accept(",")
    return events.Back(_guard(cursor, scope)) if cursor.accept("taken", "by") else events.Back()


def _guard(cursor: Cursor, scope: Scope) -> str:
    name = cursor.name("the name of a guard")
    if name.text not in scope.guards:
        scope.note(name.start, messages.NO_SUCH_GUARD.format(name=name.text), suggest(name.text, scope.guards))
    return name.text


def _asked(cursor: Cursor, scope: Scope) -> Expectation:
    return events.QuestionIs(_guard(cursor, scope))


def _back_asks(cursor: Cursor, scope: Scope) -> Expectation:
    return events.BackAsks(_guard(cursor, scope))


def _answer(cursor: Cursor, scope: Scope) -> Event:
    name = cursor.name("an answer")
    if name.text not in scope.answers:
        scope.note(name.start, messages.NO_SUCH_ANSWER.format(name=name.text), suggest(name.text, scope.answers))
    return events.Answer(name.text)


def _got(cursor: Cursor, scope: Scope) -> Expectation:
    name = cursor.name("the name of a result", (("is", "cancelled"),))
    result = scope.result(name)
    if result is not None and cursor.next_is("("):
        return events.ResultIs(name.text, _parts(cursor, scope, result))
    if cursor.accept("is", "cancelled"):
        return events.ResultIs(name.text)
    cursor.expect("=")
    value = cursor.name("a value")
    return events.ResultIs(name.text, typed(scope, result, value) if result is not None else value.text)


def _parts(cursor: Cursor, scope: Scope, result: values.Parameter) -> Arguments:
    """Read what some parts of a result must be."""
    parts = {part.name: part for part in result.parts}
    found: list[tuple[str, values.Value]] = []
    for key, (_, value) in read_arguments(cursor):
        if key.text in parts:
            found.append((key.text, typed(scope, parts[key.text], value)))
        else:
            scope.note(key.start, messages.NO_SUCH_PART.format(result=result.name, part=key.text), suggest(key.text, parts))
    return tuple(found)


def _button(cursor: Cursor, scope: Scope) -> Expectation:
    name = cursor.name("arrow, menu or none")
    if name.text not in _BUTTONS:
        scope.note(name.start, messages.HEADER_NEVER_SHOWS.format(name=name.text), suggest(name.text, _BUTTONS))
    return events.HeaderButtonIs(name.text)


def _bars(cursor: Cursor, _scope: Scope) -> Expectation:
    if cursor.accept("hidden"):
        return events.BarsAre(shown=False)
    cursor.expect("shown")
    return events.BarsAre(shown=True)


def _finding(cursor: Cursor, scope: Scope) -> Expectation:
    name = cursor.name("the name of a finding")
    if name.text not in FINDING_NAMES:
        scope.note(name.start, messages.NO_SUCH_FINDING.format(name=name.text), suggest(name.text, FINDING_NAMES, most=20))
    return events.FindingIs(name.text)


_BUTTONS = ("arrow", "menu", "none")
FINDING_NAMES = (
    "pop at the root", "nothing to pop to", "acted while hidden", "runaway", "nobody waits", "awaits nothing", "result lost",
    "redirects never end", "no such flow here", "no such tab here", "nowhere to open", "handler outlived its screen",
    "nested too deep", "reply to a gone screen", "acted after leaving", "cover never goes", "cut short", "memory warning",
    "out of memory", "promise broken",
)  # fmt: skip
"""The oddities that a run can tell."""


def _outcome(cursor: Cursor, scope: Scope, call: Name) -> events.Reply:
    outcome = cursor.name("an outcome")
    scope.outcome(call, outcome)
    return events.Reply(call.text, outcome.text)


def _link(cursor: Cursor, _scope: Scope) -> Event:
    return events.OpenLink(cursor.address())


def _saw(cursor: Cursor, scope: Scope) -> Expectation:
    name = cursor.name("the name of a screen", (("at", "least"),))
    scope.screen(name)
    cursor.expect("at", "least")
    return events.SawAtLeast(name.text, cursor.time())


def _called(cursor: Cursor, scope: Scope) -> Expectation:
    name = next((call for call in sorted(scope.calls, key=len, reverse=True) if cursor.accept(*call.split())), None)
    if name is None:
        written = cursor.name("the name of a call")
        name = written.text
        if name not in scope.calls:
            words = [word for word in name.split() if not word.isdigit() and word not in {"time", "times"}]
            scope.call(Name(" ".join(words), written.start))
            return events.Called(name, 0)
    times = cursor.whole_number("how often")
    if not cursor.accept("time"):
        cursor.expect("times")
    return events.Called(name, times)


def _value_is(cursor: Cursor, scope: Scope) -> Event | Expectation:
    name = cursor.name("a step", (("is",), ("replies",)))
    if cursor.accept("replies"):
        return _outcome(cursor, scope, name)
    if not cursor.accept("is"):
        words = name.text.split()
        instead = suggest(words[0], [*(" ".join(first) for first, _ in _READERS), "tap"], most=20)
        raise PhraseError(0, messages.NO_SUCH_STEP.format(word=words[0]), instead)
    value = cursor.name("a value")
    own = scope.own.get(name.text)
    fact = own or scope.fact(name)
    if fact is not None:
        scope.value(fact, value)
    return events.ValueIs(name.text, value.text)


def parse_given(phrase: str, scope: Scope) -> tuple[Literal["fact", "reply"], str, str]:
    """Read what a walk is given before its first step: `FACT is VALUE`, `CALL replies OUTCOME`."""
    cursor = Cursor(phrase)
    name = cursor.name("a fact or a call", (("is",), ("replies",)))
    if cursor.accept("replies"):
        reply = _outcome(cursor, scope, name)
        cursor.expect_end("what is given")
        return "reply", reply.call, reply.outcome
    cursor.expect("is")
    value = cursor.name("a value")
    cursor.expect_end("what is given")
    fact = scope.fact(Name(name.text, name.start))
    if fact is not None:
        scope.value(fact, value)
    return "fact", name.text, value.text


_READERS: tuple[tuple[tuple[str, ...], Callable[[Cursor, Scope], Event | Expectation]], ...] = (
    (("launch",), lambda _cursor, _scope: events.Launch()),
    (("back", "would", "land", "on"), _lands),
    (("back", "would", "leave"), lambda _cursor, _scope: events.BackLeaves()),
    (("back", "would", "ask"), _back_asks),
    (("back", "begun"), lambda _cursor, _scope: events.BackBegun()),
    (("back", "finished"), lambda _cursor, _scope: events.BackFinished()),
    (("back", "cancelled"), lambda _cursor, _scope: events.BackCancelled()),
    (("back",), _back),
    (("answer",), _answer),
    (("address", "is"), lambda cursor, _scope: events.AddressIs(cursor.address())),
    (("no", "address"), lambda _cursor, _scope: events.AddressIs()),
    (("asked",), _asked),
    (("not", "asked"), lambda _cursor, _scope: events.QuestionIs()),
    (("got",), _got),
    (("header", "button", "is"), _button),
    (("bars",), _bars),
    (("no", "findings"), lambda _cursor, _scope: events.FindingIs()),
    (("finding",), _finding),
    (("header", "back"), lambda _cursor, _scope: events.HeaderBack()),
    (("wait",), _wait),
    (("set",), _set),
    (("home",), lambda _cursor, _scope: events.Home()),
    (("reopen",), lambda _cursor, _scope: events.Reopen()),
    (("see",), _see_something),
    (("ladder",), _ladder),
    (("depth",), _depth),
    (("outside",), lambda _cursor, _scope: events.Outside()),
    (("away",), lambda _cursor, _scope: events.Away()),
    (("start", "from"), _start_from),
    (("never", "saw"), _never_saw),
    (("saw",), _saw),
    (("called",), _called),
    (("waited", "at", "most"), lambda cursor, _scope: events.WaitedAtMost(cursor.time())),
    (("memory", "at", "most"), lambda cursor, _scope: events.MemoryAtMost(cursor.size())),
    (("link",), _link),
    (("swiped", "away"), lambda _cursor, _scope: events.SwipedAway()),
    (("killed",), lambda _cursor, _scope: events.Killed()),
    (("low", "memory"), lambda _cursor, _scope: events.LowMemory()),
    (("remade",), lambda _cursor, _scope: events.Remade()),
)

_BY_FIRST = index_by_first_word(_READERS)
STEP_WORDS = tuple(" ".join(words) for words, _ in _READERS)
"""What a step may begin with, but for names of facts and calls."""

# Writing


def quoted(name: str) -> str:
    """Write a name so that a phrase reads it back: in quotes if it holds a word or a mark of the grammar."""
    return f'"{name}"' if _RESERVED.search(name) or name != " ".join(name.split()) else name


def with_arguments(name: str, arguments: Arguments) -> str:
    """Write a name with arguments as phrases do: hive(id=7)."""
    if not arguments:
        return quoted(name)
    listed = ", ".join(f"{key}={_value(value)}" for key, value in arguments)
    return f"{quoted(name)}({listed})"


def _value(value: values.Value) -> str:
    return f'"{value}"' if isinstance(value, str) and (_RESERVED.search(value) or " " in value) else str(value)


_PLAIN: dict[type, str] = {
    events.Launch: "launch",
    events.HeaderBack: "header back",
    events.BackBegun: "back begun",
    events.BackFinished: "back finished",
    events.BackCancelled: "back cancelled",
    events.Home: "home",
    events.Reopen: "reopen",
    events.SwipedAway: "swiped away",
    events.Killed: "killed",
    events.LowMemory: "low memory",
    events.Remade: "remade",
}
"""Events that are always written alike."""


def event_phrase(event: Event) -> str:
    """Write an event as the step of a walk."""
    match event:
        case events.Tap(name, arguments, twice):
            return f"tap {with_arguments(name, arguments)}{' twice' if twice else ''}"
        case events.Back(taken_by):
            return f"back taken by {quoted(taken_by)}" if taken_by else "back"
        case events.Answer(name):
            return f"answer {quoted(name)}"
        case events.Wait(time):
            return f"wait {time_phrase(time)}"
        case events.OutsideChange(fact, value):
            return f"set {quoted(fact)} {quoted(value)}"
        case events.Reply(call, outcome):
            return f"{quoted(call)} replies {quoted(outcome)}"
        case events.OpenLink(address):
            return f"link {address}"
        case _:
            return _PLAIN[type(event)]


def event_text(event: Event) -> str:
    """Say an event for reading: `tap hive 7`."""
    if isinstance(event, events.Tap):
        twice = ["twice"] if event.twice else []
        return " ".join(["tap", event.name, *(str(value) for _, value in event.arguments), *twice])
    return event_phrase(event)


def taps_by_name(moves: tuple[model.Move, ...]) -> dict[str, tuple[values.Parameter, ...]]:
    """List the taps among moves with what they carry; of taps of one name the one that carries most."""
    taps: dict[str, tuple[values.Parameter, ...]] = {}
    for move in moves:
        if isinstance(trigger := move.trigger, triggers.TapTrigger) and len(trigger.carries) >= len(taps.get(trigger.name, ())):
            taps[trigger.name] = trigger.carries
    return taps
