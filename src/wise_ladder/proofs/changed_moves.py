"""Which moves of a plan were changed where nothing else was: what did not read them is as it was.

Decisions and judges read the condition and the operations of a move through `PlanIndex.reading`. A few read a summary of all
moves. These summaries must be the same, and so must everything else in the plan, including the triggers of the moves.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import msgspec
from msgspec.structs import replace

from wise_ladder.rules.cutting import Callers
from wise_ladder.semantics.plan_index import index_of

if TYPE_CHECKING:
    from wise_ladder.plan import Plan
    from wise_ladder.plan.model import Move

_OF_THE_FILE = {"at", "do_at", "when", "phrases", "note", "title", "called", "starter", "condition_text"}
"""What only says where something stands, or how it was written."""


def bare(content: Any) -> Any:
    """Return plain data without what says where something stands, or how it was written."""
    if isinstance(content, dict):
        return {name: bare(each) for name, each in content.items() if name not in _OF_THE_FILE}
    return [bare(each) for each in content] if isinstance(content, list | tuple) else content


def bare_plan(plan: Plan) -> Any:
    """Return all of a plan that decisions depend on, besides its rules."""
    some = replace(plan, walks=(), warnings=(), code=(), about="", rules=(), phones=(), phone="", givens=())
    return bare(msgspec.to_builtins(some))


def changed_moves(before: Plan, now: Plan) -> int | None:
    """Return the bits of the moves that have other conditions or operations; None if something else is other, too."""
    if _besides_moves(before) != _besides_moves(now):
        return None
    changed = (_does(move) != _does(other) for move, other in zip(before.moves, now.moves, strict=True))
    return sum(1 << place for place, other in enumerate(changed) if other)


def _besides_moves(plan: Plan) -> Any:
    summaries = plan.beats, plan.first_screens, plan.only_called, index_of(plan).take_back, Callers(plan).free_of_place
    return bare_plan(plan.with_moves(lambda move: replace(move, condition=None, operations=()))), summaries


def _does(move: Move) -> Any:
    return bare(msgspec.to_builtins((move.condition, move.operations)))
