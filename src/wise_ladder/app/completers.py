"""What completes a phrase in a line of a dialog: several operations may stand there, one after the other."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.plan import Plan
    from wise_ladder.plan.completion import Completion, Kind
    from wise_ladder.plan.values import Parameter

PHRASES: dict[str, Kind] = {
    "when": "trigger", "if": "condition", "until": "condition", "do": "operation", "send to": "target", "put": "target",
    "start": "target",
}  # fmt: skip
"""The keys of a plan that hold a phrase, and its kind."""


def completer(
    plan: Plan, key: str, where: str | None, carried: tuple[Parameter, ...]
) -> Callable[[str], list[Completion]] | None:
    """Return what completes the phrase at a key, None if no phrase stands there.

    `where` is the place that it stands on, None for anywhere; `carried` is what the tap carries.
    """
    from wise_ladder.plan.completion import complete  # noqa: PLC0415
    from wise_ladder.plan.edit_moves import SEPARATOR  # noqa: PLC0415
    from wise_ladder.plan.scopes import scope_of  # noqa: PLC0415

    kind = PHRASES.get(key)
    if kind is None:
        return None

    def found(typed: str) -> list[Completion]:
        begin = typed.rfind(SEPARATOR) + 1 if kind == "operation" else 0
        begin += len(typed[begin:]) - len(typed[begin:].lstrip())
        words = complete(plan, kind, typed[begin:], scope_of(plan, where, carried))
        return [word._replace(start=word.start + begin) for word in words]

    return found
