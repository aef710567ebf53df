"""Keeping a tape as a walk: into the plan's text, read back to be sure, and saved whole."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.errors import WritingError
from wise_ladder.plan.reading import read_plan_text
from wise_ladder.plan.source import read_text
from wise_ladder.plan.writing import save, with_walk

if TYPE_CHECKING:
    from pathlib import Path

    from wise_ladder.plan import Plan
    from wise_ladder.walks import Tape


def keep(path: Path, where: Path, name: str, tape: Tape, *, text: str | None = None, fresh: bool) -> Plan:
    """Write a tape as a walk of that name and return the plan as it is then.

    The text is taken from the file as it is now, so that a change made elsewhere is not lost, or is the one given, with edits
    not saved yet. `fresh`: `where` must not be there yet.
    Raises WritingError or PlanError; nothing was written then.
    """
    if fresh and where.exists():
        raise WritingError(f"{where.name} is there already: open it with wise-ladder open {where.name}")
    text = with_walk(read_text(path) if text is None else text, name, tape.as_steps(), tape.given(), tape.phone())
    plan = read_plan_text(text, str(where))
    save(where, text)
    return plan
