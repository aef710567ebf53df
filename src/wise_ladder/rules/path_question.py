"""Questions after a path: how they are read, and what may come next while one is typed."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.errors import QuestionError
from wise_ladder.plan.completion import Completion, complete
from wise_ladder.plan.model import Guard, Move, Redirect
from wise_ladder.plan.phrases import parse_condition
from wise_ladder.plan.scopes import scope_of
from wise_ladder.plan.steps import FINDING_NAMES
from wise_ladder.plan.suggest import suggest
from wise_ladder.plan.tokens import PhraseError
from wise_ladder.rules import messages
from wise_ladder.rules.landings import Landing, LandingKind
from wise_ladder.rules.used_parts import parts_of

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan import Plan
    from wise_ladder.plan.conditions import Condition
    from wise_ladder.rules.used_parts import PartKey

MOST_OFFERED = 10
_SCREENS_FOLLOW = ((" beneath ", ("",)), (" lands on ", ("",)), ("Back from ", (" lands on ",)))
"""The words that a screen follows, and what may follow that; the later ones of a question first."""
_BACK = re.compile(
    r"^back from (?P<screen>.+?) (?:lands on (?P<end>.+)|(?P<leaves>leaves(?: the app)?)|asks (?P<guard>.+))$", re.IGNORECASE
)
_SEEN = re.compile(r"^(?P<screen>.+?) seen(?: and (?P<condition>.+))?$")
_BENEATH = re.compile(r"^(?P<below>.+?) beneath (?P<screen>.+?)(?: and (?P<condition>.+))?$")
_USED = re.compile(r"^(?P<part>.+?) (?:used|taken)$")
_FINDING = re.compile(r"^finding (?P<name>.+)$")


class Question(NamedTuple):
    """What is looked for: a screen that is seen with a condition, what a way back does, a part that is used, or a finding."""

    words: str
    screen: str = ""
    """The screen that is to be seen; a flow or tabs where what is inside is seen."""
    condition: Condition | None = None
    beneath: str = ""
    """The screen that is to be beneath it, right beneath or further down."""
    landing: Landing | None = None
    """What the system's Back or the header button is to do."""
    parts: frozenset[PartKey] = frozenset()
    """Of these one is to be used."""
    finding: str = ""
    owners: tuple[str, ...] = ()
    """The screens that it is about, where it asks for a landing or a part."""

    @property
    def of_state(self) -> bool:
        """Whether it asks for a state, not for what a step does."""
        return self.landing is None and not self.parts and not self.finding


def parse_question(plan: Plan, text: str) -> Question:
    """Read a question; raises QuestionError if it is none, with what can be asked."""
    words = " ".join(text.split())
    if match := _BACK.match(words):
        kind: LandingKind = "lands" if match["end"] else "asks" if match["guard"] else "leaves"
        name, screen = _screen(plan, match["end"]) if match["end"] else match["guard"] or "", _screen(plan, match["screen"])
        return Question(words, landing=Landing(screen, "system", kind, name), owners=(screen,))
    if match := _USED.match(words):
        return _of_part(plan, words, match["part"])
    if match := _FINDING.match(words):
        if match["name"] not in FINDING_NAMES:
            instead = suggest(match["name"], FINDING_NAMES, most=len(FINDING_NAMES))
            raise QuestionError(messages.NO_SUCH_FINDING.format(name=match["name"], instead=instead))
        return Question(words, finding=match["name"])
    if match := _SEEN.match(words):
        screen = _screen(plan, match["screen"])
        return Question(words, screen, _condition(plan, screen, match["condition"]))
    if match := _BENEATH.match(words):
        below, screen = _screen(plan, match["below"]), _screen(plan, match["screen"])
        return Question(words, screen, _condition(plan, screen, match["condition"]), below)
    return Question(words, condition=_condition(plan, None, words))


def _of_part(plan: Plan, words: str, name: str) -> Question:
    named: dict[str, list[PartKey]] = {}
    for part, known in _part_names(plan):
        named.setdefault(known, []).append(part)
    if name not in named:
        raise QuestionError(messages.NO_SUCH_PART.format(name=name, instead=suggest(name, list(named))))
    owners: list[str | None] = []
    for part in named[name]:
        match part:
            case Move():
                owners.append(part.owner)
            case Guard():
                owners.append(part.id.owner)
            case Redirect():
                owners += part.only
    return Question(
        words, parts=frozenset(named[name]), owners=tuple(dict.fromkeys(each for each in owners if each in plan.screen))
    )


def _part_names(plan: Plan) -> Iterator[tuple[PartKey, str]]:
    """Go through the names of all that can be used but for screens, the shorter ones that several parts may share first."""
    for part, place in parts_of(plan):
        match part:
            case Move():
                yield part, part.when
            case Redirect():
                yield from ((part, f"redirect of {screen}") for screen in part.only)
                yield part, f"redirect to {part.target.screen}"
        if not isinstance(part, str):
            yield part, place.words


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
    if of_screens and any(typed.startswith(f"{name} ") for name in plan.screen):
        return of_screens
    others = [f"finding {name}" for name in FINDING_NAMES] + [f"{name} used" for _, name in _part_names(plan)]
    begun = [Completion(0, text) for text in dict.fromkeys(["Back from ", *others]) if typed and text.startswith(typed)]
    return [*of_screens, *complete(plan, "condition", typed, scope_of(plan)), *begun][:MOST_OFFERED]


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
