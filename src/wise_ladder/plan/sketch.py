"""A move sketched in one line while climbing: its tap, its operation, its target, which may not be there yet.

`orders` is a tap "orders" that pushes the screen orders; `open: replace order(id)` a tap "open(id)" that replaces; `done: pop`
needs no screen.
"""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.errors import WriteError
from wise_ladder.plan import messages, operations
from wise_ladder.plan.completion import Completion, complete
from wise_ladder.plan.edit_moves import SEPARATOR, add_move, add_screen
from wise_ladder.plan.parse_operations import OPERATION_PARSERS, parse_operation
from wise_ladder.plan.scopes import scope_of
from wise_ladder.plan.steps import quoted
from wise_ladder.plan.tokens import PhraseError

if TYPE_CHECKING:
    from wise_ladder.plan.model import Plan
    from wise_ladder.plan.operations import Operation

_TAP = re.compile(r"^([^:(]+?)\s*:\s+(.*)$", re.DOTALL)
_LISTED = re.compile(r"^(.*?)\(\s*([\w ,]+?)\s*\)$", re.DOTALL)


class Sketch(NamedTuple):
    """A move to be added: the name of its tap, what it carries, its operations, and the new screens with what they take."""

    tap: str
    carries: tuple[str, ...]
    phrases: tuple[str, ...]
    screens: tuple[tuple[str, tuple[str, ...]], ...]

    @property
    def when(self) -> str:
        """Write the trigger."""
        return f"tap {quoted(self.tap)}" + (f"({', '.join(self.carries)})" if self.carries else "")

    @property
    def words(self) -> str:
        """Say what is to be added."""
        new = "".join(f", {name} is new" for name, _ in self.screens)
        return f"{self.when}: {'; '.join(self.phrases)}{new}"


def parse_sketch(plan: Plan, where: str, typed: str) -> Sketch:
    """Read a line; raises WriteError if it is not a sketch."""
    match = _TAP.match(typed)
    tap, body = (match[1].strip(), match[2].strip()) if match else ("", typed.strip())
    if not body.strip(f"{SEPARATOR} "):
        raise WriteError(messages.SKETCH_NEEDS_A_SCREEN)
    carries: dict[str, None] = {}
    phrases: list[str] = []
    screens: dict[str, tuple[str, ...]] = {}
    target = ""
    for part in filter(None, map(str.strip, body.split(SEPARATOR))):
        phrase = part if part.split(maxsplit=1)[0] in OPERATION_PARSERS else f"push {part}"
        phrase, named = _whole(plan, where, phrase, carries, screens)
        target = target or named
        phrases.append(phrase)
    return Sketch(tap or target or phrases[0], tuple(carries), tuple(phrases), tuple(screens.items()))


def _whole(
    plan: Plan, where: str, phrase: str, carries: dict[str, None], screens: dict[str, tuple[str, ...]]
) -> tuple[str, str]:
    """Fill in what a target needs; return the phrase and the name of its screen, nothing if it puts none."""
    listed = _LISTED.match(phrase)
    names = tuple(name.strip() for name in listed[2].split(",") if name.strip()) if listed and "=" not in listed[2] else ()
    bare = listed[1] if listed and names else phrase
    try:
        target = _put(parse_operation(bare, scope_of(plan, where)))
    except PhraseError as error:
        raise WriteError(f"{error.what}{f'; {error.instead}' if error.instead else ''}") from None
    if target is None:
        return phrase, ""
    known = plan.screen.get(target.screen)
    if known is None:
        screens.setdefault(target.screen, names)
    if "(" in bare:
        return phrase, target.screen
    takes = names if known is None else tuple(taken.name for taken in known.takes if taken.default is None)
    here = {taken.name for taken in plan.screen[where].takes} if where in plan.screen else set[str]()
    carries.update(dict.fromkeys(name for name in takes if name not in here or names))
    given = f"({', '.join(f'{name}=${name}' for name in takes)})" if takes else ""
    word = bare[: len(bare) - len(bare.split(maxsplit=1)[1])]
    rest = bare[len(word) :]
    return f"{word}{rest.replace(target.screen, quoted(target.screen) + given, 1)}", target.screen


def _put(operation: Operation) -> operations.Target | None:
    done = operations.inner(operation)
    return done.target if isinstance(done, operations.Put) else None


def add_sketch(text: str, where: str | None, drawn: Sketch) -> str:
    """Return the text of a plan with what was sketched; raises WriteError or PlanError if it cannot be put in."""
    for name, takes in drawn.screens:
        text = add_screen(text, name, takes)
    return add_move(text, where, drawn.when, drawn.phrases)


def complete_sketch(plan: Plan, where: str, typed: str) -> list[Completion]:
    """List what may come next in a sketch: screens that are there, or operations."""
    match = _TAP.match(typed)
    begin = match.start(2) if match else 0
    begin = max(begin, typed.rfind(SEPARATOR) + 1)
    begin += len(typed[begin:]) - len(typed[begin:].lstrip())
    body, scope = typed[begin:], scope_of(plan, where)
    if body.split(maxsplit=1)[0:1] and body.split(maxsplit=1)[0] in OPERATION_PARSERS and " " in body:
        return [each._replace(start=each.start + begin) for each in complete(plan, "operation", body, scope)]
    screens = [each._replace(start=begin + each.start) for each in complete(plan, "target", body, scope)] if body else []
    return [*screens, *(each._replace(start=begin) for each in complete(plan, "operation", body, scope) if each.start == 0)]
