"""Crossings: which move leads where, by which operation?"""

from __future__ import annotations

import time
from typing import TYPE_CHECKING

from textual.containers import Horizontal
from textual.worker import get_current_worker

from wise_ladder.app import messages
from wise_ladder.app.canvas import CellStyle, TextRun
from wise_ladder.app.canvas_widget import CanvasWidget
from wise_ladder.app.crossings import detail_drawing, table
from wise_ladder.app.crossings.commands import CrossingsCommands
from wise_ladder.app.crossings.selection import CrossingSelection
from wise_ladder.app.status_line import StatusLine
from wise_ladder.app.view import View
from wise_ladder.plan.model import Guard, Move

if TYPE_CHECKING:
    from textual.app import ComposeResult

    from wise_ladder.app.canvas import Canvas
    from wise_ladder.app.palette import Palette
    from wise_ladder.app.workplace import Workplace
    from wise_ladder.plan.model import PlanPart
    from wise_ladder.walks.exploration import Exploration, WalkUsage

BREATH = 0.001
"""So many seconds the search waits after each state, so that keys are never kept waiting."""


class CrossingsSentence(StatusLine):
    """Which crossing is chosen."""

    def __init__(self, chart: CrossingSelection) -> None:
        """Speak of the chosen crossing."""
        super().__init__("sentence")
        self.chart = chart

    def words(self, palette: Palette, *, long: bool) -> list[TextRun]:
        """Say from where to where it leads, how, and how many walks take it."""
        crossing, soft, strong = self.chart.crossing, CellStyle(palette.soft), CellStyle(palette.text, bold=True)
        if crossing is None:
            return [TextRun(messages.NO_CROSSING, strong)]
        thing = crossing.part
        when = f"when {thing.when}" if isinstance(thing, Move) else f"guard {thing.name}" if isinstance(thing, Guard) else ""
        count = self.chart.count(crossing)
        used = (
            messages.TAKEN_BY_NONE
            if not count
            else messages.TAKEN_BY_ONE
            if count == 1
            else messages.TAKEN_BY.format(count=count)
        )
        gap = "     " if long else "  "
        return [
            TextRun(crossing.start, strong),
            TextRun(" crosses to " if long else " → ", soft),
            TextRun(crossing.end, strong),
            TextRun(f"{gap}{crossing.glyph} {crossing.kind}", strong),
            TextRun(f"  {when}", soft),
            TextRun(f"{gap}{used}", soft if count else CellStyle(palette.undecided)),
        ]


class TablePanel(CanvasWidget):
    """The table."""

    def __init__(self, chart: CrossingSelection) -> None:
        """Show a chart."""
        super().__init__("table")
        self.chart = chart

    def draw(self, width: int, height: int) -> Canvas:
        """Draw the table."""
        return table.draw(self.chart, self.palette, width, height)


class DetailPanel(CanvasWidget):
    """The chosen crossing."""

    def __init__(self, chart: CrossingSelection, host: Workplace) -> None:
        """Show what a chart has chosen."""
        super().__init__("chosen")
        self.chart, self.host = chart, host
        self.add_class("side")

    def draw(self, width: int, height: int) -> Canvas:
        """Draw it."""
        plan_text = detail_drawing.PlanText(self.host.document.text, str(self.host.document.path))
        return detail_drawing.draw(self.chart, plan_text, self.palette, width, height)


class CrossingsView(View):
    """Every move of a plan, from where to where."""

    about = messages.CROSSINGS

    def __init__(self, host: Workplace) -> None:
        """Show the plan of a host."""
        super().__init__(id="crossings", name="crossings")
        self.host, self.selection = host, CrossingSelection(host.plan)
        self.commands = CrossingsCommands(host, self.selection, self.refresh_view)
        self.status_line = CrossingsSentence(self.selection)
        self._parts = (self.status_line, TablePanel(self.selection), DetailPanel(self.selection, host))
        self._looked_at: object = None

    def compose(self) -> ComposeResult:
        """Lay the parts out."""
        yield self.status_line
        with Horizontal(classes="body"):
            yield self._parts[1]
            yield self._parts[2]

    def refresh_view(self) -> None:
        """Show the plan as it is now."""
        plan = self.host.document.plan
        if self.selection.plan is not plan:
            self.selection.take_up(plan)
        if self._looked_at is not plan:
            self._looked_at = plan
            self.host.run_worker(self._look, thread=True, group="crossings", exclusive=True)
        self.status_line.message = None
        self.changed()

    def changed(self) -> None:
        """Draw all parts again."""
        for part in self._parts:
            part.redraw()

    def choose(self, number: int) -> None:
        """Choose a crossing by its number among those shown."""
        if 0 <= number < len(self.selection.shown):
            self.selection.chosen = number
            self.refresh_view()

    def selected_parts(self) -> list[PlanPart]:
        """Return what the chosen crossing stands for."""
        return [self.selection.crossing.part] if self.selection.crossing is not None else []

    def _look(self) -> None:
        """Run the walks, then try everything for a while, off the screen's own thread."""
        from wise_ladder.walks.exploration import explore, walk_usage  # noqa: PLC0415

        plan, worker = self.host.document.plan, get_current_worker()
        usage = walk_usage(plan)
        if not worker.is_cancelled:
            self.host.call_later(self._walked, plan, usage)

            def goes_on() -> bool:
                time.sleep(BREATH)
                return not worker.is_cancelled

            explored = explore(plan, goes_on=goes_on)
            if not worker.is_cancelled:
                self.host.call_later(self._explored, plan, explored)

    def _walked(self, plan: object, usage: WalkUsage) -> None:
        if self.selection.plan is plan:
            self.selection.met(walked=usage)
            self.changed()

    def _explored(self, plan: object, explored: Exploration) -> None:
        if self.selection.plan is plan:
            self.selection.met(explored=explored)
            self.changed()
