"""Planting a fault into a plan, so that its stand-in goes another way than the plan says."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.errors import LadderError, UsageError
from wise_ladder.link import messages
from wise_ladder.plan.edit_moves import PlanField
from wise_ladder.plan.edit_parts import part_fields, set_part_fields
from wise_ladder.plan.loader import read_plan_text
from wise_ladder.plan.parse_operations import OPERATION_PARSERS
from wise_ladder.plan.parts import Part, parts
from wise_ladder.plan.remove import delete

if TYPE_CHECKING:
    from collections.abc import Callable

GONE, NOTHING = "gone", "nothing"
_SECTIONS = ("screens", "flows", "overlays")


def plant(text: str, fault: str) -> str:
    """Return the text of a plan with a fault planted.

    A fault is `PLACE: TRIGGER: OPERATIONS` for a move (`frames: tap hive look: push` keeps its target, `nothing` leaves it
    without operations), `PART: KEY: VALUE` or `PART: VALUE` for any part (`guard full basket: if: season is winter`), and
    `PART: gone`. Raises UsageError if it is none of these, fits nothing, or the plan cannot be read then.
    """
    words = [each.strip() for each in fault.split(": ", 2)]
    if len(words) < 2 or not all(words):
        raise UsageError(messages.BAD_FAULT.format(fault=fault))
    try:
        changed = _planted(text, fault, words)
        read_plan_text(changed, f"fault {fault}")
    except UsageError:
        raise
    except LadderError as error:
        raise UsageError(f"{fault}: {str(error).partition(chr(10))[0]}") from None
    if changed == text:
        raise UsageError(messages.FAULT_CHANGES_NOTHING.format(fault=fault))
    return changed


def _planted(text: str, fault: str, words: list[str]) -> str:
    place, what, value = words[0], words[1], words[2] if len(words) > 2 else ""
    if value and _moves(parts(text), place, what):
        return _each(text, lambda listed: _moves(listed, place, what), lambda text, part: _turned(text, part, value))
    found = next((part for part in parts(text) if place in {part.words, f"{part.kind} {part.name}"}), None)
    if found is None:
        raise UsageError(messages.FAULT_NO_PART.format(fault=fault, what=place))
    if not value and what == GONE:
        return delete(text, found.path).text
    key, written = (what, value) if value else ("", what)
    return set_part_fields(text, found.path, {key: PlanField(key, written, verbatim=True)})


def _moves(listed: list[Part], place: str, trigger: str) -> list[Part]:
    """List the moves of a place (or of `anywhere`) with a trigger."""
    moves = [part for part in listed if part.kind == "move" and part.name == trigger]
    return [part for part in moves if part.path[0] == place or (part.path[0] in _SECTIONS and part.path[1] == place)]


def _each(text: str, find: Callable[[list[Part]], list[Part]], change: Callable[[str, Part], str]) -> str:
    """Change several parts one after the other; the places of the others are looked up anew each time."""
    for number in range(len(find(parts(text)))):
        text = change(text, find(parts(text))[number])
    return text


def _turned(text: str, move: Part, value: str) -> str:
    done = next((field.text for field in part_fields(text, move.path, "move") if field.key == "do"), "")
    first, _, rest = done.partition(" ")
    if value == NOTHING or value.startswith("["):
        written = value if value != NOTHING else "[]"
    elif value in OPERATION_PARSERS and first in OPERATION_PARSERS and " " not in value:
        written = f"{value} {rest}".strip() if value not in {"pop", "clear", "leave"} else value
    else:
        written = f"[{', '.join(repr(each.strip()) for each in value.split(';'))}]"
    return set_part_fields(text, move.path, {"do": PlanField("do", written, verbatim=True)})
