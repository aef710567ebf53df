"""What one can do in Crossings: each `press_NAME` is one entry of the table of actions."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from wise_ladder.app.bench import Bench
    from wise_ladder.app.crossings.view import CrossingsView


class Deeds:
    """Does what is pressed in Crossings."""

    def __init__(self, bench: Bench, view: CrossingsView) -> None:
        """Act on the chart of a view."""
        self.bench, self.view = bench, view
        self._doubt = 0

    def press_left(self) -> None:
        self.view.chart.go(-1)
        self.view.moved()

    def press_right(self) -> None:
        self.view.chart.go(1)
        self.view.moved()

    def press_up(self) -> None:
        self.view.chart.go_row(-1)
        self.view.moved()

    def press_down(self) -> None:
        self.view.chart.go_row(1)
        self.view.moved()

    def press_next_untried(self) -> None:
        found = self.view.chart.go_untried()
        self.view.moved()
        if not found:
            self.bench.say("walks take every crossing that is shown")

    def press_next_fault(self) -> None:
        doubts = self.view.chart.plan.doubts
        if not doubts:
            self.bench.say("there is no doubt about this plan")
            return
        doubt = doubts[self._doubt % len(doubts)]
        self._doubt += 1
        found = self.view.chart.go_to_line(doubt.line)
        self.view.moved()
        self.bench.say(f"{doubt.line}:{doubt.column}: {doubt.what}", wrong=not found)

    def press_climb_there(self) -> None:
        chart = self.view.chart
        tape = chart.tape(chart.crossing) if chart.crossing is not None else None
        if tape is None:
            self.bench.say("no way there is known: no walk takes it, and none was met from the start", wrong=True)
            return
        self.bench.climb_tape(tape)
        self.bench.say("the last step takes it; ← is before it")

    def press_find(self) -> None:
        from wise_ladder.app.sheets.line import Line, Lines  # noqa: PLC0415

        def find(words: str) -> str:
            self.view.chart.find(words.strip())
            self.view.changed()
            return f"{len(self.view.chart.shown)} of {self.view.chart.total} crossings"

        before = self.view.chart.wanted
        hint = "screens, an operation, words of the phrase; nothing shows all. Enter keeps it"
        sheet = Lines("Find crossings", [Line("", before)], lambda typed: find(typed[0]) and "", hint=hint, tell=find)
        self.bench.push_screen(sheet)

    def press_sketch(self) -> None:
        crossing = self.view.chart.crossing
        start = crossing.start if crossing is not None else self.bench.desk.plan.screens[0].name
        if start not in self.bench.desk.plan.screen and start not in self.bench.desk.plan.overlay:
            self.bench.say("choose a crossing in the row of a screen first", wrong=True)
            return
        self.bench.changes.sketch(start, climbs=False)
