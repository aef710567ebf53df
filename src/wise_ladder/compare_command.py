"""The command `compare`: what a user notices of a change, between two files or since a revision of the git repository."""

from __future__ import annotations

import io
import subprocess
import tarfile
import tempfile
from pathlib import Path
from typing import TYPE_CHECKING

from wise_ladder import messages
from wise_ladder.errors import PlanError, UsageError
from wise_ladder.plan.loader import read_plan
from wise_ladder.reports import compare_report
from wise_ladder.safe import visible
from wise_ladder.trials.compare import compare as compared

if TYPE_CHECKING:
    import argparse

    from wise_ladder.plan import Plan


def compare(call: argparse.Namespace) -> int:
    """Compare two versions as a call wants it; return the exit code: 0 the same, 1 different."""
    if len(call.plans) != (1 if call.since else 2):
        raise UsageError(messages.COMPARE_TWO)
    old = plan_since(call.plans[0], call.since) if call.since else read_plan(call.plans[0])
    versions = compared(old, read_plan(call.plans[-1]), call.seconds)
    if call.format == "json":
        print(compare_report.as_json(versions).decode())
    else:
        for line in compare_report.as_text(versions):
            print(visible(line))
    return 0 if versions.same else 1


def plan_since(path: Path, revision: str) -> Plan:
    """Read a plan, with all that it includes, as it was at a revision of the git repository in which it lies.

    Raises UsageError if there is no git, no repository or no such revision, PlanError if the plan was not there or unreadable.
    """
    folder = path.resolve().parent
    if _git(folder, path, "rev-parse", "--verify", "--quiet", "--end-of-options", f"{revision}^{{commit}}") is None:
        raise UsageError(messages.NO_SUCH_REVISION.format(path=path, revision=revision))
    archive = _git(folder, path, "archive", "--format=tar", revision, "--", "*.yaml")
    with tempfile.TemporaryDirectory() as kept:
        if archive is not None:
            with tarfile.open(fileobj=io.BytesIO(archive)) as files:
                files.extractall(kept, filter="data")
        there = Path(kept) / path.name
        if not there.exists():
            raise PlanError([messages.NOT_AT_REVISION.format(path=path, revision=revision)])
        try:
            return read_plan(there)
        except PlanError as error:
            words = [each.replace(kept, f"{revision}:{path.parent}") for each in error.messages]
            raise PlanError(words) from None


def _git(folder: Path, path: Path, *words: str) -> bytes | None:
    """Run git in a folder and return what it prints, None if it says that this cannot be done."""
    try:
        inside = subprocess.run(["git", "-C", str(folder), "rev-parse"], capture_output=True, check=False)  # noqa: S603, S607
        if inside.returncode:
            raise UsageError(messages.NO_REPOSITORY.format(path=path))
        done = subprocess.run(["git", "-C", str(folder), *words], capture_output=True, check=False)  # noqa: S603, S607
    except OSError as error:
        raise UsageError(messages.NO_GIT.format(why=error.strerror)) from None
    return done.stdout if done.returncode == 0 else None
