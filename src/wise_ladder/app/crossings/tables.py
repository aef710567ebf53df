"""The two tables of Crossings, and which of them is shown."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from wise_ladder.app.crossings.back_selection import BackSelection
from wise_ladder.app.crossings.selection import CrossingSelection

if TYPE_CHECKING:
    from wise_ladder.app.crossings.grid import Grid
    from wise_ladder.plan import Plan


class CrossingTables:
    """The table of moves and the table of Back."""

    def __init__(self, plan: Plan) -> None:
        """Begin with the moves."""
        self.moves, self.backs, self.shows_back = CrossingSelection(plan), BackSelection(), False

    @property
    def grid(self) -> Grid[Any]:
        """The table that is shown."""
        return self.backs if self.shows_back else self.moves
