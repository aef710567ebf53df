"""The full-screen application. Importing this package costs nothing; running it brings the interface library in."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.errors import UnforeseenError

if TYPE_CHECKING:
    from pathlib import Path

    from wise_ladder.app.persistence import StateDir
    from wise_ladder.plan import Plan
    from wise_ladder.plan.included import PlanText


def run(plan: Plan, path: Path, text: PlanText, *, example: bool) -> None:
    """Open the application on a plan read from a text; `example`: its file belongs to the program and is never written.

    Raises UnforeseenError if a bug ended it; the edits are kept for the next start.
    """
    from wise_ladder.app.application import LadderApp  # noqa: PLC0415 - the interface library is slow to import

    app = LadderApp(plan, path, text, example=example, memory=_memory())
    app.run()
    if app.broke:
        raise UnforeseenError(app.broke)


def last_plan() -> Path | None:
    """Return the last open plan; None if there was none, or it is gone."""
    from pathlib import Path  # noqa: PLC0415

    plan = _memory().start().plan
    return Path(plan) if plan and Path(plan).is_file() else None


def _memory() -> StateDir:
    from platformdirs import user_state_path  # noqa: PLC0415

    from wise_ladder.app.persistence import StateDir  # noqa: PLC0415

    return StateDir(user_state_path("wise-ladder"))
