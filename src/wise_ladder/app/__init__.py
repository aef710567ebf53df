"""The full-screen application. Importing this package costs nothing; running it brings the interface library in."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from pathlib import Path

    from wise_ladder.app.remembering import Memory
    from wise_ladder.plan import Plan


def run(plan: Plan, path: Path, *, example: bool) -> None:
    """Open the bench on a plan; `example`: its file came along with the program and is not written to."""
    from wise_ladder.app.bench import Bench  # noqa: PLC0415 - the interface library is slow to import

    Bench(plan, path, example=example, memory=_memory()).run()


def last_plan() -> Path | None:
    """Return the plan that was on the bench the last time; None where there was none, or it is gone."""
    from pathlib import Path  # noqa: PLC0415

    found = _memory().start().plan
    return Path(found) if found and Path(found).is_file() else None


def _memory() -> Memory:
    from platformdirs import user_state_path  # noqa: PLC0415

    from wise_ladder.app.remembering import Memory  # noqa: PLC0415

    return Memory(user_state_path("wise-ladder"))
