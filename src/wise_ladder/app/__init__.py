"""The full-screen application. Importing this package costs nothing; running it brings the interface library in."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from pathlib import Path

    from wise_ladder.plan import Plan


def run(plan: Plan, path: Path, *, example: bool) -> None:
    """Open the bench on a plan; `example`: its file came along with the program and is not written to."""
    from wise_ladder.app.bench import Bench  # noqa: PLC0415 - the interface library is slow to import

    Bench(plan, path, example=example).run()
