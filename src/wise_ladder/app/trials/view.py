"""The view Trials: what if I change this one thing?"""

from __future__ import annotations

from typing import TYPE_CHECKING

from textual.containers import Container

from wise_ladder.app import view_help
from wise_ladder.app.canvas import CellStyle, TextRun
from wise_ladder.app.canvas_widget import FunctionWidget
from wise_ladder.app.status_line import StatusLine
from wise_ladder.app.trials import messages
from wise_ladder.app.trials.commands import TrialsCommands
from wise_ladder.app.trials.comparer import Comparer
from wise_ladder.app.trials.drawing import draw_ladders, draw_list
from wise_ladder.app.trials.other_versions import other_versions
from wise_ladder.app.trials.selection import TrialSelection
from wise_ladder.app.view import SelectedRun, View
from wise_ladder.plan.steps import event_phrase

if TYPE_CHECKING:
    from textual.app import ComposeResult

    from wise_ladder.app.palette import Palette
    from wise_ladder.app.trials.other_versions import OtherVersion
    from wise_ladder.app.workplace import Workplace
    from wise_ladder.plan import Plan
    from wise_ladder.plan.model import PlanPart
    from wise_ladder.trials.compare import Versions


class TrialsSentence(StatusLine):
    """What is compared with what, and what the chosen step does differently."""

    def __init__(self, trial: TrialSelection) -> None:
        """Speak of a path on two versions."""
        super().__init__("sentence")
        self.trial = trial

    def words(self, palette: Palette, *, long: bool) -> list[TextRun]:
        """Say it."""
        trial, gap, text = self.trial, "     " if long else "  ", CellStyle(palette.text, bold=True)
        if trial.old is None:
            return [TextRun(messages.NOTHING_COMPARED, text)]
        runs = [TextRun(messages.AGAINST.format(name=trial.against, now=trial.now), text)]
        if trial.row is None:
            words = messages.COMPARING if trial.comparing else messages.NOTHING_DIFFERS
            return [*runs, TextRun(gap + words, CellStyle(palette.soft))]
        runs.append(TextRun(gap + messages.OF_STEPS.format(number=trial.step, count=trial.count), CellStyle(palette.soft)))
        stopped = trial.stopped
        if stopped is not None and stopped.refused:
            number, event = len(stopped.entries) + 1, event_phrase(stopped.rest[0])
            words = messages.NOT_POSSIBLE.format(number=number, event=event, why=stopped.refused)
            return [*runs, TextRun(gap + words, CellStyle(palette.came, bold=True))]
        first = next(iter(trial.differences_at(trial.step)), None)
        if first is None:
            return [*runs, TextRun(gap + messages.NOTHING_HERE, CellStyle(palette.soft))]
        return [*runs, TextRun(f"{gap}≠ {first[0]}", CellStyle(palette.came if first[1] == "noticed" else palette.soft))]


class TrialsView(View):
    """Two versions of the plan along one path: that of the view one comes from, or of a difference."""

    about = view_help.TRIALS

    def __init__(self, host: Workplace) -> None:
        """Show nothing yet."""
        super().__init__(id="trials", name="trials")
        self.host = host
        self.selection = TrialSelection()
        self.commands = TrialsCommands(host, self.selection, self.changed, self.compare_with)
        self.status_line = TrialsSentence(self.selection)
        self._comparer = Comparer(host, self._told)
        self._ladders = FunctionWidget("ladders", self.selection, draw_ladders)
        self._list = FunctionWidget("differences", self.selection, draw_list)
        self._list.add_class("side")
        self._from: View | None = None
        self._version: OtherVersion | None = None
        self._document = host.document
        self._made: tuple[tuple[OtherVersion | None, Plan, bool], Plan | None] | None = None
        """The version that is compared with, and for what it was made."""

    def compose(self) -> ComposeResult:
        """Lay the parts out."""
        yield self.status_line
        with Container(classes="body"):
            yield self._ladders
            yield self._list

    def come_from(self, view: View) -> None:
        """Show the path that is selected in the view before."""
        self._from = view

    def compare_with(self, version: OtherVersion) -> None:
        """Compare the open plan with another version of it."""
        self._version = version
        self.refresh_view()

    def compare_last_edit(self) -> None:
        """Compare the plan with what it was before the last edit, or with what else there is."""
        self._version = None
        self.refresh_view()

    def refresh_view(self) -> None:
        """Show both versions as they are now, after an edit the new one."""
        document, plan = self.host.document, self.host.plan
        if document is not self._document:
            self._document, self._version = document, None
        if self._version is None:
            self._version = next((version for version, _ in other_versions(document)), None)
        old, against = self._beside(plan), self._version.name if self._version is not None else ""
        path, name = self._from.selected_path() if self._from is not None else (None, "")
        if self.selection.take_up(old, plan, against, path, name) and old is not None:
            self.selection.comparing = True
            self._comparer.begin(old, plan)
        self.changed()

    def _beside(self, plan: Plan) -> Plan | None:
        """Return the version to compare with, the same one as long as nothing changed."""
        wish = (self._version, plan, self._document.unsaved)
        if self._made is None or self._made[0][0] is not wish[0] or self._made[0][1] is not plan or self._made[0][2] != wish[2]:
            self._made = wish, self._version.beside(plan) if self._version is not None else None
        return self._made[1]

    def _told(self, versions: Versions, running: bool) -> None:
        """Take what is known so far; a message stays."""
        if self.selection.told(versions, running=running):
            self._redraw()

    def changed(self) -> None:
        """Draw all parts again."""
        self.status_line.message = None
        self._redraw()

    def _redraw(self) -> None:
        for part in (self.status_line, self._ladders, self._list):
            part.redraw()

    def go(self, step: int) -> None:
        """Choose a step that was clicked."""
        self.selection.go(step)
        self.changed()

    def choose(self, number: int) -> None:
        """Choose a difference that was clicked."""
        self.selection.choose(number)
        self.changed()

    def selected_runs(self) -> list[SelectedRun]:
        """Return the path on both versions, the new one first."""
        row = self.selection.row
        if row is None:
            return []
        return [SelectedRun(row.new, self.selection.now), SelectedRun(row.old, self.selection.against)]

    def selected_parts(self) -> list[PlanPart]:
        """Return the moves of the chosen step in the new version, the latest first."""
        row, step = self.selection.row, self.selection.step
        if row is None or not 0 < step <= len(row.new.entries):
            return []
        return [*reversed(row.new.entries[step - 1].step.moves)]
