"""Path to a state: a question in the words of a plan, and the shortest paths to what it asks for."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.errors import QuestionError
from wise_ladder.plan.completion import Completion, complete
from wise_ladder.plan.model import Rule
from wise_ladder.plan.operations import AllOf, BeneathIs, OnLadder
from wise_ladder.plan.phrases import parse_condition
from wise_ladder.plan.scopes import scope_of
from wise_ladder.plan.suggest import suggest
from wise_ladder.plan.tokens import PhraseError
from wise_ladder.rules import messages
from wise_ladder.rules.landings import Landing, LandingKind
from wise_ladder.rules.sweep import Sweep
from wise_ladder.semantics.state import visible_screens
from wise_ladder.semantics.text import rung_text

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from wise_ladder.plan import Plan
    from wise_ladder.plan.operations import Condition
    from wise_ladder.rules.verdicts import Bounds, SweepExtent
    from wise_ladder.walks.tape import Tape

MOST_PATHS, MOST_OFFERED = 5, 10
SLICE = 0.1
"""So many seconds the sweep runs before it looks for an answer."""
_SCREENS_FOLLOW = ((" beneath ", ("",)), (" lands on ", ("",)), ("Back from ", (" lands on ",)))
"""The words that a screen follows, and what may follow that; the later ones of a question first."""
_BACK = re.compile(
    r"^back from (?P<screen>.+?) (?:lands on (?P<end>.+)|(?P<leaves>leaves(?: the app)?)|asks (?P<guard>.+))$", re.IGNORECASE
)
_SEEN = re.compile(r"^(?P<screen>.+?) seen(?: and (?P<condition>.+))?$")
_BENEATH = re.compile(r"^(?P<below>.+?) beneath (?P<screen>.+?)(?: and (?P<condition>.+))?$")


class Question(NamedTuple):
    """What is looked for: a screen that is seen with a condition, or what a way back does."""

    words: str
    screens: tuple[str, ...] = ()
    condition: Condition | None = None
    landing: Landing | None = None
    """What the system's Back or the header button is to do."""


class FoundPath(NamedTuple):
    """A shortest path: its tape, its steps, and the ladder at its end, lowest rung first."""

    tape: Tape
    steps: int
    ladder: str


class Answer(NamedTuple):
    """The paths to what was asked for, at most five with different ends, and how far the sweep looked.

    `doubt` says why there may be a path although none was found; it is empty if there is none within those steps.
    """

    paths: list[FoundPath]
    extent: SweepExtent
    doubt: str = ""


def parse_question(plan: Plan, text: str) -> Question:
    """Read a question; raises QuestionError if it is none, with what can be asked."""
    words = " ".join(text.split())
    if match := _BACK.match(words):
        kind: LandingKind = "lands" if match["end"] else "asks" if match["guard"] else "leaves"
        name = _screen(plan, match["end"]) if match["end"] else match["guard"] or ""
        return Question(words, landing=Landing(_screen(plan, match["screen"]), "system", kind, name))
    if match := _SEEN.match(words):
        screen = _screen(plan, match["screen"])
        return Question(words, (screen,), _condition(plan, screen, match["condition"]))
    if match := _BENEATH.match(words):
        below, screen = _screen(plan, match["below"]), _screen(plan, match["screen"])
        beneath = BeneathIs(below) if below == screen else OnLadder(below)
        also = _condition(plan, screen, match["condition"])
        return Question(words, (screen,), beneath if also is None else AllOf((beneath, also)))
    return Question(words, (), _condition(plan, None, words))


def complete_question(plan: Plan, typed: str) -> list[Completion]:
    """List what may come next in a question: screens, then what is asked of one, or the words of a condition."""
    if " and " not in typed:
        for words, ends in _SCREENS_FOLLOW:
            if words in typed:
                return _screens(plan, typed, typed.rfind(words) + len(words), ends)
    if " and " in typed:
        begin = typed.rfind(" and ") + 5
        return [each._replace(start=each.start + begin) for each in complete(plan, "condition", typed[begin:], scope_of(plan))]
    of_screens = _screens(plan, typed, 0, (" seen", " beneath "))
    return [*of_screens, *complete(plan, "condition", typed, scope_of(plan))][:MOST_OFFERED]


def _screens(plan: Plan, typed: str, begin: int, ends: tuple[str, ...]) -> list[Completion]:
    """Offer the screens that begin with what stands after a place of the line, each with what may follow."""
    begun = typed[begin:]
    texts = [f"{name}{end}" for name in plan.screen for end in ends]
    return [Completion(begin, text) for text in texts if text.startswith(begun) and text != begun][:MOST_OFFERED]


def _screen(plan: Plan, name: str) -> str:
    if name not in plan.screen:
        raise QuestionError(messages.NO_SUCH_SCREEN.format(name=name, instead=suggest(name, list(plan.screen))))
    return name


def _condition(plan: Plan, screen: str | None, text: str | None) -> Condition | None:
    if text is None:
        return None
    wrong: list[str] = []
    scope = scope_of(plan, screen)
    scope.note = lambda _at, what, instead="", _lacks=(): wrong.append(f"{what}; {instead}" if instead else what)
    try:
        condition = parse_condition(text, scope)
    except PhraseError as error:
        raise QuestionError(messages.NOT_A_QUESTION.format(text=text)) from error
    if wrong:
        raise QuestionError(wrong[0])
    return condition


def answer(plan: Plan, question: Question, bounds: Bounds, goes_on: Callable[[], bool] = lambda: True) -> Answer:
    """Sweep until some number of steps has an answer, or a bound is met, or `goes_on` is false."""
    asked = Rule("in no state", question.screens, condition=question.condition, condition_text=question.words)
    sweep = Sweep(plan, bounds, () if question.landing is not None else (asked,))
    found: list[tuple[Tape, int]] = []
    while not found and not sweep.finished and goes_on():
        sweep.run(SLICE, goes_on)
        found = list(_found(sweep, question))
    paths: dict[str, FoundPath] = {}
    for tape, steps in sorted(found, key=lambda each: each[1]):
        ladder = " > ".join(rung_text(rung.data) for rung in visible_screens(tape.state_at(len(tape.entries)).ladder))
        paths.setdefault(ladder, FoundPath(tape, steps, ladder))
    landing = question.landing
    doubt = sweep.verdicts()[0].caveat if landing is None else messages.NOT_REPLAYED if _unproved(sweep, landing) else ""
    told = Answer(list(paths.values())[:MOST_PATHS], sweep.extent(), doubt)
    sweep.release()
    return told


def _found(sweep: Sweep, question: Question) -> Iterator[tuple[Tape, int]]:
    if question.landing is None:
        yield from ((each.tape, each.steps) for each in sweep.found[0])
        return
    for way in ("system", "header"):
        path = sweep.landings.paths.get(question.landing._replace(way=way))
        if path is not None:
            yield path.tape, path.steps


def _unproved(sweep: Sweep, landing: Landing) -> bool:
    """Whether the landing was met, but no run showed it."""
    return any(landing._replace(way=way) in sweep.landings.unproved for way in ("system", "header"))
