"""Plans at a revision of the git repository in which they lie, read through the git program."""

from __future__ import annotations

import io
import subprocess
import tarfile
import tempfile
from pathlib import Path
from typing import TYPE_CHECKING

from wise_ladder.errors import PlanError, UsageError
from wise_ladder.plan import messages
from wise_ladder.plan.loader import read_plan
from wise_ladder.plan.plan_files import plan_paths

if TYPE_CHECKING:
    from collections.abc import Sequence

    from wise_ladder.plan import Plan


def plan_since(path: Path, revision: str) -> Plan:
    """Read a plan, with all that it includes, as it was at a revision.

    Raises UsageError if there is no git, no repository or no such revision, PlanError if the plan was not there then or
    cannot be read.
    """
    archive = _git(path, revision, "archive", "--format=tar", revision, "--", "*.yaml")
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
            raise PlanError([words.replace(kept, f"{revision}:{path.parent}") for words in error.messages]) from None


def changed_since(paths: Sequence[Path], revision: str) -> list[Path]:
    """Return those plans of which any file is not as it was at a revision, or is not known to git.

    Raises UsageError if there is no git, no repository or no such revision.
    """
    changed: list[Path] = []
    for path in paths:
        files = [str(each.resolve()) for each in plan_paths(path)]
        same = _git(path, revision, "diff", "--quiet", revision, "--", *files) is not None
        known = _git(path, revision, "ls-files", "--error-unmatch", "--", *files) is not None
        if not same or not known:
            changed.append(path)
    return changed


def _git(path: Path, revision: str, *words: str) -> bytes | None:
    """Run git in the folder of a plan and return what it prints, None if it says that this is not so.

    Raises UsageError if there is no git, no repository or no such revision.
    """
    folder = str(path.resolve().parent)

    def run(*words: str) -> subprocess.CompletedProcess[bytes]:
        return subprocess.run(["git", "-C", folder, *words], capture_output=True, check=False)  # noqa: S603, S607

    try:
        if run("rev-parse").returncode:
            raise UsageError(messages.NO_REPOSITORY.format(path=path))
        if run("rev-parse", "--verify", "--quiet", "--end-of-options", f"{revision}^{{commit}}").returncode:
            raise UsageError(messages.NO_SUCH_REVISION.format(path=path, revision=revision))
        done = run(*words)
    except OSError as error:
        raise UsageError(messages.NO_GIT.format(why=error.strerror)) from None
    return done.stdout if done.returncode == 0 else None
