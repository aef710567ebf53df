"""Rules: does it hold on every path?"""

from __future__ import annotations

from typing import TYPE_CHECKING

from textual.containers import Horizontal

from wise_ladder.app import messages, view_help
from wise_ladder.app.canvas import CellStyle, TextRun
from wise_ladder.app.canvas_widget import FunctionWidget
from wise_ladder.app.rules.commands import RulesCommands
from wise_ladder.app.rules.drawing import draw_rules, draw_sweep
from wise_ladder.app.rules.film import draw_film
from wise_ladder.app.rules.selection import RuleSelection
from wise_ladder.app.status_line import StatusLine
from wise_ladder.app.view import SelectedRun, View
from wise_ladder.plan.values import NO_SPAN
from wise_ladder.rules.report_text import verdict_glyph
from wise_ladder.rules.titles import about

if TYPE_CHECKING:
    from textual.app import ComposeResult

    from wise_ladder.app.palette import Palette
    from wise_ladder.app.workplace import Workplace
    from wise_ladder.plan.model import PlanPart


class RulesSentence(StatusLine):
    """What is known of the chosen rule."""

    def __init__(self, case: RuleSelection) -> None:
        """Speak of the chosen rule."""
        super().__init__("sentence")
        self.case = case

    def words(self, palette: Palette, *, long: bool) -> list[TextRun]:
        """Say whether it holds, how far, or how it is broken."""
        verdict, gap = self.case.verdict, "     " if long else "  "
        if verdict is None:
            return [
                TextRun(
                    messages.CHECKING_RULES if self.case.standing is None else "no rules",
                    CellStyle(palette.text, bold=True),
                )
            ]
        colour = {"holds": palette.holds, "broken": palette.broken, "undecided": palette.undecided}[verdict.status]
        runs = [
            TextRun(f"{verdict_glyph(verdict)} ", CellStyle(colour, bold=True)),
            TextRun(verdict.rule.short, CellStyle(palette.text, bold=True)),
        ]
        shown = self.case.shown
        if shown is None:
            words = f"{verdict.words}{gap}{about(verdict.rule)}" if long else verdict.words
            return [*runs, TextRun(f" {words}", CellStyle(palette.soft))]
        if shown.where:
            here = f"holds {verdict.depth_words}" if verdict.status == "holds" else f"is {verdict.status}"
            runs.append(TextRun(f" {here} here; {shown.where} it", CellStyle(palette.soft)))
        runs.append(TextRun(" is broken: ", CellStyle(palette.broken, bold=True)))
        runs.append(TextRun(shown.found.guilt.words, CellStyle(palette.text)))
        if not long:
            return runs
        return [*runs, TextRun(f"{gap}shortest path: {shown.found.steps_words}", CellStyle(palette.muted))]


class RulesView(View):
    """Every rule of a plan."""

    about = view_help.RULES

    def __init__(self, host: Workplace) -> None:
        """Show what the sweep found."""
        super().__init__(id="rules", name="rules")
        self.host, self.selection = host, RuleSelection()
        self.commands = RulesCommands(host, self.selection, self.refresh_view)
        self.status_line = RulesSentence(self.selection)
        self._list, self._sweep = (
            FunctionWidget("verdicts", self.selection, draw_rules),
            FunctionWidget("sweep", self.selection, draw_sweep),
        )
        self._film = FunctionWidget("film", self.selection, draw_film)
        self._sweep.add_class("side")
        self._filmed: object = None

    def compose(self) -> ComposeResult:
        """Lay the parts out."""
        yield self.status_line
        with Horizontal(classes="upper"):
            yield self._list
            yield self._sweep
        yield self._film

    def refresh_view(self) -> None:
        """Show the rules as they are known now."""
        self.status_line.message = None
        self.told()

    def told(self) -> None:
        """Take up what is known now; a message stays."""
        self.selection.take_up(self.host.sweep_runner.standing)
        for part in (self.status_line, self._list, self._sweep):
            part.redraw()
        # A film takes longest to draw, and while the sweep goes on it is mostly the same.
        shown = self.selection.shown
        film = shown and (shown.where, len(shown.verdict.counterexamples), shown.found, self.selection.at)
        if film is None or film != self._filmed:
            self._filmed = film
            self._film.redraw()

    def choose(self, place: int) -> None:
        """Choose a rule by its place in the list."""
        self.selection.choose(place)
        self.refresh_view()

    def go(self, frame: int) -> None:
        """Look at a frame of the film."""
        self.selection.frame = frame
        self.refresh_view()

    def selected_runs(self) -> list[SelectedRun]:
        """Return what breaks the selected rule."""
        shown = self.selection.shown
        if shown is None:
            return []
        name = messages.WHAT_BREAKS.format(rule=shown.verdict.rule.called)
        return [SelectedRun(shown.found.tape, name, wrong=shown.found.guilt.words)]

    def selected_parts(self) -> list[PlanPart]:
        """Return what is to blame, whichever frame one looks at; of a screen its guards, else the moves of the frame."""
        counterexample = self.selection.counterexample
        if counterexample is None:
            return []
        plan, at = counterexample.tape.plan, counterexample.place.at
        things: list[PlanPart] = [thing for thing in plan.things if thing.at == at != NO_SPAN]
        things = things or [guard for screen in plan.screens if screen.at == at for guard in screen.guards]
        taken = counterexample.tape.entries[self.selection.at].step.moves if counterexample.tape.entries else ()
        return things or [*reversed(taken)]

    def selected_starts(self) -> list[int]:
        """Return where the selected rule begins, then what is to blame."""
        verdict = self.selection.verdict
        rule = [verdict.rule.at.start] if verdict is not None and verdict.rule.at != NO_SPAN else []
        return [*rule, *super().selected_starts()]
