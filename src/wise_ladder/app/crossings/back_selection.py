"""The second table of Crossings, without a screen: on which screens each way back leads where, as far as the sweep knows."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.app import messages
from wise_ladder.app.crossings.grid import Grid
from wise_ladder.plan.crossings import GROUND
from wise_ladder.plan.steps import quoted
from wise_ladder.rules.back_cells import ENDS, BackCell, back_cells, back_places
from wise_ladder.rules.back_table import back_table

if TYPE_CHECKING:
    from wise_ladder.app.sweep_runner import SweepStatus
    from wise_ladder.plan import Plan


class BackSelection(Grid[BackCell]):
    """Where Back leads from everywhere."""

    def __init__(self) -> None:
        """Begin with nothing known."""
        super().__init__()
        self.status: SweepStatus | None = None
        self._known: tuple[Plan, int] | None = None
        self._all: list[BackCell] = []

    @property
    def total(self) -> int:
        """How many cells there are, those that are not shown with them."""
        return len(self._all)

    def take_up(self, status: SweepStatus | None) -> bool:
        """Show what a sweep knows now; return whether that is more than before."""
        self.status = status
        known = None if status is None else (status.plan, len(status.landings))
        if known == self._known:
            return False
        self._known = known
        self._all = [] if status is None else back_cells(back_table(status.plan, status.landings))
        self._lay_out()
        return True

    def find(self, wanted: str) -> None:
        """Show only cells that have all these words: screens, ways, what is asked."""
        self.wanted = wanted
        self._lay_out()

    def go_surprise(self) -> bool:
        """Choose the next cell with a surprise; False if there is none."""
        return self.go_next([number for number, cell in enumerate(self.shown) if cell.surprise])

    def rule(self) -> str:
        """Write the rule that Back from the chosen screen lands where it is known to, as a line that adds it; may be empty."""
        here = self.current
        if here is None:
            return ""
        ends = [cell.end for cell in self._all if cell.start == here.start and "system" in cell.ways]
        lands = [quoted(end) for end in ends if end not in ENDS.values() or end == GROUND]
        return messages.BACK_RULE.format(screen=quoted(here.start), ends=", ".join(lands)) if lands else ""

    def _lay_out(self) -> None:
        words = self.wanted.lower().split()
        matching = [cell for cell in self._all if all(word in _words(cell) for word in words)]
        rows, columns = back_places(self.status.plan, matching) if self.status is not None else ([], [])
        self.lay_out(matching, rows, columns)


def _words(cell: BackCell) -> str:
    told = (f"{row.landing.way} {row.words} {row.decides} {row.surprise}" for row in cell.rows)
    return f"{cell.start} {cell.end} {' '.join(told)}".lower()
