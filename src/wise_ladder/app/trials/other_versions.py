"""What the open plan can be compared with: itself before an edit, as saved, at a revision, on another phone; another file."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.app.trials import messages
from wise_ladder.demo import twin
from wise_ladder.plan.files import real_path, typed_path
from wise_ladder.plan.loader import read_plan

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator
    from pathlib import Path

    from wise_ladder.app.document import Document
    from wise_ladder.plan import Plan


class OtherVersion(NamedTuple):
    """A version to compare with: its name, and how it comes about beside the open plan; None if there is none any more."""

    name: str
    beside: Callable[[Plan], Plan | None]


def other_versions(document: Document) -> Iterator[tuple[OtherVersion, str]]:
    """Go through what needs no more to be said, each with what it is; the most likely first."""
    if document.compared is not None:
        yield OtherVersion(messages.AGAINST_EDIT, lambda plan: _placed(_before_edit(document), plan)), document.compared[0]
    if document.unsaved:
        yield OtherVersion(messages.AGAINST_SAVED, lambda plan: _placed(document.saved_plan(), plan)), document.path.name
    if (path := twin(real_path(document.path))) is not None:
        words = messages.AGAINST_FAULTY if ".fault." in path.name else messages.AGAINST_FIXED
        yield _read(words, path), path.name
    for where in document.plan.others():
        yield OtherVersion(where, partial(_elsewhere, where)), messages.AGAINST_WHERE


def at_revision(path: Path, revision: str) -> OtherVersion:
    """Read a plan as it was at a revision; raises LadderError if that cannot be done."""
    from wise_ladder.plan.revisions import plan_since  # noqa: PLC0415

    return OtherVersion(revision, partial(_placed, plan_since(path, revision)))


def of_file(typed: str) -> OtherVersion:
    """Read another plan file; raises LadderError if that cannot be done."""
    return _read(typed, typed_path(typed))


def _read(name: str, path: Path) -> OtherVersion:
    return OtherVersion(name, partial(_placed, read_plan(path)))


def _placed(other: Plan | None, plan: Plan) -> Plan | None:
    """Return another version where the open plan runs."""
    return other if other is None or other.where == plan.where else other.placed_like(plan)


def _before_edit(document: Document) -> Plan | None:
    return document.compared[1].plan if document.compared is not None else None


def _elsewhere(where: str, plan: Plan) -> Plan | None:
    return plan.others().get(where)
