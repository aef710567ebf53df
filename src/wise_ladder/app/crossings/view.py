"""Crossings: which move leads where, by which operation?"""

from __future__ import annotations

from typing import TYPE_CHECKING

from textual.containers import Horizontal
from textual.worker import get_current_worker

from wise_ladder.app import messages, view_help
from wise_ladder.app.breath import goes_on_while
from wise_ladder.app.canvas import CellStyle, TextRun
from wise_ladder.app.canvas_widget import CanvasWidget
from wise_ladder.app.crossings import back_drawing, detail_drawing, table
from wise_ladder.app.crossings.commands import CrossingsCommands
from wise_ladder.app.crossings.tables import CrossingTables
from wise_ladder.app.status_line import StatusLine
from wise_ladder.app.view import View
from wise_ladder.plan.model import Guard, Move

if TYPE_CHECKING:
    from textual.app import ComposeResult

    from wise_ladder.app.canvas import Canvas
    from wise_ladder.app.palette import Palette
    from wise_ladder.app.sweep_runner import SweepStatus
    from wise_ladder.app.workplace import Workplace
    from wise_ladder.plan.model import PlanPart
    from wise_ladder.walks.exploration import Exploration, WalkUsage


class CrossingsSentence(StatusLine):
    """Which crossing is chosen."""

    def __init__(self, selection: CrossingTables) -> None:
        """Speak of what is chosen."""
        super().__init__("sentence")
        self.selection, self.chart = selection, selection.moves

    def words(self, palette: Palette, *, long: bool) -> list[TextRun]:
        """Say from where to where it leads, how, and how many walks take it."""
        if self.selection.shows_back:
            return back_drawing.sentence(self.selection.backs, palette, long=long)
        crossing, soft, strong = self.chart.current, CellStyle(palette.soft), CellStyle(palette.text, bold=True)
        if crossing is None:
            return [TextRun(messages.NO_CROSSING, strong)]
        thing = crossing.part
        when = f"when {thing.when}" if isinstance(thing, Move) else f"guard {thing.name}" if isinstance(thing, Guard) else ""
        count = self.chart.count(crossing)
        used = {0: messages.TAKEN_BY_NONE, 1: messages.TAKEN_BY_ONE}.get(count, messages.TAKEN_BY).format(count=count)
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
    """The table of moves, or of Back."""

    def __init__(self, selection: CrossingTables) -> None:
        """Show a selection."""
        super().__init__("table")
        self.selection = selection

    def draw(self, width: int, height: int) -> Canvas:
        """Draw the table."""
        if self.selection.shows_back:
            return back_drawing.draw_table(self.selection.backs, self.palette, width, height)
        return table.draw(self.selection.moves, self.palette, width, height)


class DetailPanel(CanvasWidget):
    """What is chosen in the table."""

    def __init__(self, selection: CrossingTables, host: Workplace) -> None:
        """Show what is chosen."""
        super().__init__("chosen")
        self.selection, self.host = selection, host
        self.add_class("side")

    def draw(self, width: int, height: int) -> Canvas:
        """Draw it."""
        if self.selection.shows_back:
            return back_drawing.draw_detail(self.selection.backs, self.palette, width, height)
        plan_text = detail_drawing.PlanText(self.host.document.text, str(self.host.document.path))
        return detail_drawing.draw(self.selection.moves, plan_text, self.palette, width, height)


class CrossingsView(View):
    """Every move of a plan, from where to where."""

    about = view_help.CROSSINGS

    def __init__(self, host: Workplace) -> None:
        """Show the plan of a host."""
        super().__init__(id="crossings", name="crossings")
        self.host, self.selection = host, CrossingTables(host.plan)
        self.commands = CrossingsCommands(host, self.selection, self.refresh_view)
        self.status_line = CrossingsSentence(self.selection)
        self._parts = (self.status_line, TablePanel(self.selection), DetailPanel(self.selection, host))
        self._looked_at: object = None

    @property
    def draws(self) -> str:
        """Draw the table that is shown first."""
        return "backs" if self.selection.shows_back else "crossings"

    def compose(self) -> ComposeResult:
        """Lay the parts out."""
        yield self.status_line
        with Horizontal(classes="body"):
            yield self._parts[1]
            yield self._parts[2]

    def refresh_view(self) -> None:
        """Show the plan as it is now."""
        plan = self.host.document.plan
        if self.selection.moves.plan is not plan:
            self.selection.moves.take_up(plan)
        if self.selection.shows_back:
            self.selection.backs.take_up(self._known())
        if self._looked_at is not plan:
            self._looked_at = plan
            self.host.run_worker(self._look, thread=True, group="crossings", exclusive=True)
        self.status_line.message = None
        self.changed()

    def changed(self) -> None:
        """Draw all parts again."""
        for part in self._parts:
            part.redraw()

    def _known(self) -> SweepStatus | None:
        status = self.host.sweep_runner.standing
        return status if status is not None and status.plan is self.host.document.plan else None

    def told(self) -> None:
        """Show what became known of Back; a message stays."""
        if self.selection.shows_back:
            self.selection.backs.take_up(self._known())
            self.changed()

    def choose(self, number: int) -> None:
        """Choose what is shown by its number."""
        if 0 <= number < len(self.selection.grid.shown):
            self.selection.grid.chosen = number
            self.refresh_view()

    def selected_parts(self) -> list[PlanPart]:
        """Return what the chosen crossing stands for, or the moves that the chosen way back takes."""
        if self.selection.shows_back:
            cell = self.selection.backs.current
            return [*reversed(cell.rows[0].tape.entries[-1].step.moves)] if cell is not None else []
        crossing = self.selection.moves.current
        return [crossing.part] if crossing is not None else []

    def _look(self) -> None:
        """Run the walks, then try everything for a while, off the screen's own thread."""
        from wise_ladder.walks.exploration import explore, walk_usage  # noqa: PLC0415

        plan, worker = self.host.document.plan, get_current_worker()
        usage = walk_usage(plan)
        if not worker.is_cancelled:
            self.host.call_later(self._walked, plan, usage)
            explored = explore(plan, goes_on=goes_on_while(worker))
            if not worker.is_cancelled:
                self.host.call_later(self._explored, plan, explored)

    def _walked(self, plan: object, usage: WalkUsage) -> None:
        if self.selection.moves.plan is plan:
            self.selection.moves.met(walked=usage)
            self.changed()

    def _explored(self, plan: object, explored: Exploration) -> None:
        if self.selection.moves.plan is plan:
            self.selection.moves.met(explored=explored)
            self.changed()
