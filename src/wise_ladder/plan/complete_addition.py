"""What may come next in a line that adds a part to the plan."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.plan.addition import ADDERS, PAIRS, kind_of_line
from wise_ladder.plan.completion import Completion, complete
from wise_ladder.plan.edit_moves import SEPARATOR
from wise_ladder.plan.rename import carried_by
from wise_ladder.plan.rules import RULES
from wise_ladder.plan.scopes import scope_of

if TYPE_CHECKING:
    from wise_ladder.plan.completion import Kind
    from wise_ladder.plan.model import Plan


def complete_addition(plan: Plan, where: str | None, typed: str, first: str = "") -> list[Completion]:
    """List what may come next in a line: a kind of part, a key, or the next word of the phrase that is being written.

    `first` is the kind that is offered at the beginning of a line, with its words.
    """
    if first and not kind_of_line(typed)[0]:
        of_first = complete_addition(plan, where, f"{first} {typed}")
        offered = [each._replace(start=0, text=f"{first} {each.text}") for each in of_first]
        return [*offered, *complete_addition(plan, where, typed)]
    kind, rest = kind_of_line(typed)
    begin = len(typed) - len(rest.lstrip())
    if not kind:
        begun = [Completion(0, f"{word} ") for word in ADDERS if typed and word.startswith(typed)]
        return [*begun, *_of_move(plan, where, typed, 0)]
    if kind in PAIRS and (kind != "rule" or ":" in rest):
        return _of_pairs(kind, typed, begin)
    match kind:
        case "anywhere":
            return _of_move(plan, None, typed, begin)
        case "rule":
            needed = {rule: f": {spec.required[0]} " if spec.required else "" for rule, spec in RULES.items()}
            return [
                Completion(begin, f"{rule}{needed[rule]}")
                for rule in RULES
                if f"{rule}{needed[rule]}" != typed[begin:] and rule.startswith(typed[begin:])
            ]
        case "redirect" if " if " in rest:
            return _phrase(plan, None, "condition", typed, typed.rfind(" if ") + 4)
        case "redirect":
            last = max(typed.rfind(" to ") + 4 if " to " in typed else begin, typed.rfind(", ") + 2)
            return _phrase(plan, None, "target", typed, last)
        case "guard":
            return _of_guard(plan, where, typed)
        case "link" | "flow" | "tabs" | "tab":
            return _phrase(plan, None, "target", typed, _after_last(typed, (", ", ": ", " ")))
    return []


def _of_pairs(kind: str, typed: str, begin: int) -> list[Completion]:
    begin = max(begin, typed.rfind(", ") + 2 if ", " in typed else 0, typed.find(": ") + 2 if ": " in typed else 0)
    return [Completion(begin, key) for key in PAIRS[kind] if key.startswith(typed[begin:]) and key != typed[begin:]]


def _of_move(plan: Plan, where: str | None, typed: str, begin: int) -> list[Completion]:
    if ": " in typed[begin:]:
        return _phrase(plan, where, "operation", typed, max(typed.find(": ", begin) + 2, typed.rfind(SEPARATOR) + 1))
    if " if " in typed[begin:]:
        return _phrase(plan, where, "condition", typed, typed.find(" if ", begin) + 4)
    return _phrase(plan, where, "trigger", typed, begin)


def _of_guard(plan: Plan, where: str | None, typed: str) -> list[Completion]:
    if ":" not in typed:
        return _phrase(plan, where, "condition", typed, typed.find(" if ") + 4) if " if " in typed else []
    return _phrase(plan, where, "operation", typed, _after_last(typed, (": ", SEPARATOR, ", ")))


def _after_last(typed: str, marks: tuple[str, ...]) -> int:
    """Return where the last piece of a line begins."""
    return max((typed.rfind(mark) + len(mark) for mark in marks if mark in typed), default=len(typed))


def _phrase(plan: Plan, where: str | None, kind: Kind, typed: str, begin: int) -> list[Completion]:
    begin += len(typed[begin:]) - len(typed[begin:].lstrip())
    tap = carried_by(plan, typed.partition(":")[0])
    return [each._replace(start=each.start + begin) for each in complete(plan, kind, typed[begin:], scope_of(plan, where, tap))]
