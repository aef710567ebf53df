"""Which words may come next in a phrase.

The grammar is asked itself: a word is offered where reading it finds nothing wrong before its end, so that what is offered and
what is read never part.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias

from wise_ladder.plan.operations import OPERATIONS
from wise_ladder.plan.parse_operations import parse_operation
from wise_ladder.plan.phrases import parse_condition, parse_lone_target, parse_trigger
from wise_ladder.plan.steps import STEP_WORDS, parse_step, quoted, taps_by_name
from wise_ladder.plan.tokens import PhraseError
from wise_ladder.plan.triggers import TRIGGERS

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from wise_ladder.plan.model import Plan, Screen
    from wise_ladder.plan.phrases import Scope
    from wise_ladder.plan.values import Value

Kind: TypeAlias = Literal["operation", "condition", "trigger", "target", "event", "step"]
"""An event is a step that does something; a step may expect something too."""

MOST_SHOWN = 8
_FREE: tuple[Kind, ...] = ("trigger", "event", "step")
"""Phrases in which any name may stand: where nonsense parses, nothing is offered."""
_TAILS: dict[Kind, tuple[str, ...]] = {"condition": (" is x", " on the ladder", " in front", " runs")}
"""What must be able to follow a name: only then it is looked up."""
_NONSENSE = "qqqq"
_EVENTS = (
    "launch", "tap", "back", "begun", "finished", "cancelled", "header back", "wait", "home", "reopen", "killed", "swiped away",
    "low memory", "remade", "answer", "link", "set", "replies", "twice", "taken by",
)  # fmt: skip


def _fixed(phrase: str) -> str:
    """Return the words of a trigger that are the same in every plan, without names in capitals and times."""
    return " ".join(word for word in phrase.split() if word.islower() and word.isalpha())


_GRAMMAR: dict[Kind, tuple[str, ...]] = {
    "operation": (
        *(words for kind in OPERATIONS for words in kind.record.begins),
        *(words for kind in OPERATIONS for words in kind.record.more),
    ),
    "condition": ("is", "not", "and", "or", "alone", "on the ladder", "runs", "in front", "at its root", "beneath is",
                  "depth over"),
    "trigger": tuple(dict.fromkeys((*(_fixed(phrase) for kind in TRIGGERS for phrase in kind.record.phrases), "even hidden"))),
    "target": (),
    "event": _EVENTS,
    "step": tuple(dict.fromkeys((*_EVENTS, *STEP_WORDS, "at least", "is", "is cancelled", "shown", "hidden"))),
}  # fmt: skip


class Completion(NamedTuple):
    """A word that may stand from `start` on."""

    start: int
    text: str


def complete(plan: Plan, kind: Kind, phrase: str, scope: Scope) -> list[Completion]:
    """List the words that may end a phrase as it is so far, the likeliest first."""
    words, names = _GRAMMAR[kind], tuple(_names(plan, scope, taps=kind in {"event", "step"}))
    read = _reader(plan, kind, scope)
    for start in _starts(phrase):
        before, begun = phrase[:start], phrase[start:]
        fitting = [word for word in dict.fromkeys((*words, *names)) if word.startswith(begun) and word != begun]
        if not fitting or (kind in _FREE and _goes(read, scope, before, _NONSENSE)):
            continue
        tails = _TAILS.get(kind, ("",))
        completions = [
            Completion(start, word)
            for word in fitting
            if _goes(read, scope, before, word)
            and (word in words or any(_goes(read, scope, before, word, tail) for tail in tails))
        ]
        if completions:
            return completions[:MOST_SHOWN]
    return []


def _starts(phrase: str) -> Iterator[int]:
    """Go through the places where the word that is being written may begin: names hold spaces."""
    yield from (at for at in range(len(phrase) + 1) if at == 0 or phrase[at - 1] in " (=,$")


def _goes(read: Callable[[str], object], scope: Scope, before: str, word: str, tail: str = "") -> bool:
    """Whether a word can stand here, with something after it: what is wrong, if anything, comes behind the word."""
    phrase = before + word
    wrong: list[int] = []
    note, carried = scope.note, dict(scope.carried)
    scope.note = lambda at, _what, _instead="", _lacks=(): wrong.append(at)
    try:
        read(phrase + tail)
    except PhraseError as error:
        wrong.append(error.at)
    finally:
        scope.note, scope.carried = note, carried
    return all(at >= len(phrase) for at in wrong)


def _reader(plan: Plan, kind: Kind, scope: Scope) -> Callable[[str], object]:
    match kind:
        case "operation":
            return lambda phrase: parse_operation(phrase, scope)
        case "condition":
            return lambda phrase: parse_condition(phrase, scope)
        case "trigger":
            return lambda phrase: parse_trigger(phrase, scope)
        case "target":
            return lambda phrase: parse_lone_target(phrase, scope)
        case "event" | "step":
            taps = taps_by_name(plan.moves)
            return lambda phrase: parse_step(phrase, scope, taps)


def _names(plan: Plan, scope: Scope, *, taps: bool) -> Iterator[str]:
    if taps:
        for name, carries in taps_by_name(plan.moves).items():
            yield _with_values(name, {parameter.name: parameter.samples[0] for parameter in carries})
        for link in plan.links:
            yield link.address
    facts = {**scope.facts, **scope.own}
    yield from map(quoted, (*facts, *scope.takes))
    yield from (quoted(value) for fact in facts.values() for value in fact.values)
    yield from (_put(screen, scope) for screen in plan.screens)
    yield from (quoted(screen.name) for screen in plan.screens if screen.takes)
    yield from (quoted(tab) for screen in plan.screens if screen.tabs for tab, _ in screen.inside)
    yield from map(quoted, (*scope.overlays, *scope.calls, *scope.timers, *scope.results, *scope.guards, *scope.answers))
    yield from (quoted(str(value)) for result in scope.results.values() for value in result.samples)
    yield from (quoted(outcome) for outcomes in scope.calls.values() for outcome in outcomes)


def _put(screen: Screen, scope: Scope) -> str:
    known = {**scope.takes, **scope.carried}
    return _with_values(
        screen.name,
        {
            taken.name: f"${taken.name}" if taken.name in known else taken.samples[0]
            for taken in screen.takes
            if not taken.default
        },
    )


def _with_values(name: str, values: dict[str, Value]) -> str:
    listed = ", ".join(f"{key}={value}" for key, value in values.items())
    return f"{quoted(name)}({listed})" if listed else quoted(name)
