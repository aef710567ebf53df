"""The command `compare`: what a user notices of a change, between two files or since a revision of the git repository."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder import messages
from wise_ladder.drawings import draw_tape
from wise_ladder.errors import UsageError
from wise_ladder.plan.files import save
from wise_ladder.plan.loader import read_plan
from wise_ladder.plan.revisions import plan_since
from wise_ladder.reports import compare_report
from wise_ladder.safe import visible
from wise_ladder.trials.compare import compare as compared

if TYPE_CHECKING:
    import argparse
    from pathlib import Path

    from wise_ladder.trials.compare import Versions

MOST_DRAWN = 3
"""So many differences are drawn on a page."""


def compare(call: argparse.Namespace) -> int:
    """Compare two versions as a call wants it; return the exit code: 0 the same, 1 different."""
    if len(call.plans) != (1 if call.since else 2):
        raise UsageError(messages.COMPARE_TWO)
    if call.output is not None and call.output.suffix != ".md":
        raise UsageError(messages.PAGE_NAME.format(path=call.output))
    old = plan_since(call.plans[0], call.since) if call.since else read_plan(call.plans[0])
    versions = compared(old, read_plan(call.plans[-1]), call.seconds)
    if call.output is not None:
        save(call.output, compare_report.as_markdown(versions, _drawn(versions, call.output)))
    if call.format == "json":
        print(compare_report.as_json(versions).decode())
    else:
        for line in compare_report.as_text(versions):
            print(visible(line))
    return 0 if versions.same else 1


def _drawn(versions: Versions, page: Path) -> list[tuple[str, str]]:
    """Draw the first differences as film strips of both versions beside a page; return the names of the pictures."""
    names: list[tuple[str, str]] = []
    for number, each in enumerate(versions.noticed[:MOST_DRAWN], 1):
        pictures = [page.with_name(f"{page.stem}-{number}-{which}.svg") for which in ("before", "after")]
        for tape, picture in zip((each.old, each.new), pictures, strict=True):
            draw_tape(tape, each.event, picture)
        names.append((pictures[0].name, pictures[1].name))
    return names
