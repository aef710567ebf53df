"""Crossings: which move leads where, by which operation?"""

from __future__ import annotations

import time
from typing import TYPE_CHECKING

from textual.containers import Horizontal, Vertical
from textual.worker import get_current_worker

from wise_ladder.app.canvas import Ink, Run
from wise_ladder.app.crossings import chosen, table
from wise_ladder.app.crossings.chart import Chart
from wise_ladder.app.crossings.deeds import Deeds
from wise_ladder.app.painted import Painted
from wise_ladder.app.sentence import Sentence
from wise_ladder.plan.model import Guard, Move

if TYPE_CHECKING:
    from textual.app import ComposeResult

    from wise_ladder.app.bench import Bench
    from wise_ladder.app.canvas import Canvas
    from wise_ladder.app.palette import Palette
    from wise_ladder.plan.model import Thing
    from wise_ladder.walks.exploring import Explored, Walked

BREATH = 0.001
"""So many seconds the search waits after each state, so that keys are never kept waiting."""
_ABOUT = """\
A row for each place one can leave, a column for each that can be reached: a glyph stands where a move, a guard or a redirect \
leads from the one to the other. The wood beneath it is the warmer the more walks take it; ◌ marks what no walk takes. Beside \
the table: the chosen one as it is written, what it does to the ladder, and its place in the file."""
_GLYPHS = """\
↑ push  ⇄ replace  ■ clear, then push  ◎ reach, switch  ↓ pop  ⇓ pop to  ↲ return  ↷ redirect  ○ leave  ▴ stays here"""


class CrossingsSentence(Sentence):
    """Which crossing is chosen."""

    def __init__(self, chart: Chart) -> None:
        """Speak of the chosen crossing."""
        super().__init__("sentence")
        self.chart = chart

    def words(self, palette: Palette, *, long: bool) -> list[Run]:
        """Say from where to where it leads, how, and how many walks take it."""
        crossing, soft, strong = self.chart.crossing, Ink(palette.soft), Ink(palette.text, bold=True)
        if crossing is None:
            return [Run("no crossing is shown", strong)]
        thing = crossing.thing
        when = f"when {thing.when}" if isinstance(thing, Move) else f"guard {thing.name}" if isinstance(thing, Guard) else ""
        count = self.chart.count(crossing)
        used = "taken by no walk" if not count else f"taken by {count} {'walk' if count == 1 else 'walks'}"
        gap = "     " if long else "  "
        return [
            Run(crossing.start, strong),
            Run(" crosses to " if long else " → ", soft),
            Run(crossing.end, strong),
            Run(f"{gap}{crossing.glyph} {crossing.kind}", strong),
            Run(f"  {when}", soft),
            Run(f"{gap}{used}", soft if count else Ink(palette.undecided)),
        ]


class TablePart(Painted):
    """The table."""

    def __init__(self, chart: Chart) -> None:
        """Show a chart."""
        super().__init__("table")
        self.chart = chart

    def painted(self, width: int, height: int) -> Canvas:
        """Draw the table."""
        return table.draw(self.chart, self.palette, width, height)


class ChosenPart(Painted):
    """The chosen crossing."""

    def __init__(self, chart: Chart, bench: Bench) -> None:
        """Show what a chart has chosen."""
        super().__init__("chosen")
        self.chart, self.bench = chart, bench
        self.add_class("side")

    def painted(self, width: int, height: int) -> Canvas:
        """Draw it."""
        told = chosen.Told(self.bench.desk.text, str(self.bench.desk.path))
        return chosen.draw(self.chart, told, self.palette, width, height)


class CrossingsView(Vertical):
    """Every move of a plan, from where to where."""

    about = ("Crossings: which move leads where, by which operation?", _ABOUT, _GLYPHS)

    def __init__(self, bench: Bench) -> None:
        """Show the plan of a bench."""
        super().__init__(id="crossings", name="crossings")
        self.bench, self.chart, self.deeds = bench, Chart(bench.desk.plan), Deeds(bench, self)
        self.sentence = CrossingsSentence(self.chart)
        self._parts = (self.sentence, TablePart(self.chart), ChosenPart(self.chart, bench))
        self._looked_at: object = None

    def compose(self) -> ComposeResult:
        """Lay the parts out."""
        yield self.sentence
        with Horizontal(classes="body"):
            yield self._parts[1]
            yield self._parts[2]

    def moved(self) -> None:
        """Show the plan as it is now."""
        plan = self.bench.desk.plan
        if self.chart.plan is not plan:
            self.chart.take_up(plan)
        if self._looked_at is not plan:
            self._looked_at = plan
            self.bench.run_worker(self._look, thread=True, group="crossings", exclusive=True)
        self.sentence.message = None
        self.changed()

    def changed(self) -> None:
        """Draw all parts anew."""
        for part in self._parts:
            part.changed()

    def choose(self, number: int) -> None:
        """Choose a crossing by its number among those shown."""
        if 0 <= number < len(self.chart.shown):
            self.chart.chosen = number
            self.moved()

    def things(self) -> list[Thing]:
        """Return what the chosen crossing stands for."""
        return [self.chart.crossing.thing] if self.chart.crossing is not None else []

    def _look(self) -> None:
        """Run the walks, then try everything for a while, off the screen's own thread."""
        from wise_ladder.walks.exploring import explore, walked  # noqa: PLC0415

        plan, worker = self.bench.desk.plan, get_current_worker()
        found = walked(plan)
        if not worker.is_cancelled:
            self.bench.call_later(self._walked, plan, found)

            def goes_on() -> bool:
                time.sleep(BREATH)
                return not worker.is_cancelled

            explored = explore(plan, goes_on=goes_on)
            if not worker.is_cancelled:
                self.bench.call_later(self._explored, plan, explored)

    def _walked(self, plan: object, found: Walked) -> None:
        if self.chart.plan is plan:
            self.chart.met(walked=found)
            self.changed()

    def _explored(self, plan: object, found: Explored) -> None:
        if self.chart.plan is plan:
            self.chart.met(explored=found)
            self.changed()
