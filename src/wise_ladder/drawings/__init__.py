"""Pictures for others: SVG and PDF, with a title, without a date, the same bytes each time."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from pathlib import Path

    from wise_ladder.plan import Plan
    from wise_ladder.walks import WalkRun


def draw_walk(plan: Plan, result: WalkRun, output: Path) -> None:
    """Draw a walk as a film strip of ladders; the ending of the file's name tells the format.

    Raises WriteError if the file cannot be written.
    """
    # The plotting library is slow to import, and only drawing needs it.
    from matplotlib import rc_context  # noqa: PLC0415

    from wise_ladder.drawings.figure_file import SETTINGS, write  # noqa: PLC0415
    from wise_ladder.drawings.film_strip import film_strip  # noqa: PLC0415

    with rc_context(SETTINGS):
        write(film_strip(plan, result), output)


__all__ = ["draw_walk"]
