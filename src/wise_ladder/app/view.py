"""What every view is: a widget with commands, a line that it speaks in, and what can be clicked in it."""

from __future__ import annotations

from typing import TYPE_CHECKING, ClassVar, NamedTuple

from textual.containers import Vertical

if TYPE_CHECKING:
    from wise_ladder.app.status_line import StatusLine
    from wise_ladder.plan.model import PlanPart
    from wise_ladder.walks import WalkRun
    from wise_ladder.walks.tape import Tape


class SelectedRun(NamedTuple):
    """A run with its name; how it went if it is a walk, and what is wrong with it if it breaks a rule."""

    tape: Tape
    name: str
    result: WalkRun | None = None
    wrong: str = ""


class View(Vertical):
    """One of the views; what a view does not define does nothing in it."""

    about: ClassVar[tuple[str, str, str]]
    """Its question, what it is for, and its glyphs with what they mean."""
    commands: object
    """Its commands, each a method `cmd_NAME`."""
    status_line: StatusLine
    shows_walks: ClassVar[bool] = False
    """Whether it shows how the walks went."""

    @property
    def draws(self) -> str:
        """What is meant first where something is to be drawn: a film strip, if there is a run."""
        return "strip"

    def refresh_view(self) -> None:
        """Show what is now; an old message goes."""
        raise NotImplementedError

    def come_from(self, view: View) -> None:
        """Take note of the view that was shown before."""

    def selected_parts(self) -> list[PlanPart]:
        """Return the parts of the plan that are selected."""
        return []

    def selected_starts(self) -> list[int]:
        """Return where in the text of the plan what is selected begins, what is most meant first."""
        return [part.at.start for part in self.selected_parts()]

    def selected_runs(self) -> list[SelectedRun]:
        """Return the run that is selected, and the one that is laid over it, if any."""
        return []

    def selected_path(self) -> tuple[Tape | None, str]:
        """Return the run that is selected, with its name; None: there is none."""
        runs = self.selected_runs()
        return (runs[0].tape, runs[0].name) if runs else (None, "")

    def go(self, step: int) -> None:
        """Go to a step that was clicked."""

    def choose(self, number: int) -> None:
        """Choose the row that was clicked."""

    def compare_last_edit(self) -> None:
        """Compare the plan with what it was before the last edit, in the view that compares."""

    def told(self) -> None:
        """Show what became known of the rules; a message stays."""
