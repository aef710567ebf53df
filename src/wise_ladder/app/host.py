"""What the parts of the application ask of the application around them: each part knows this protocol, none the application."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Protocol, TypeVar

if TYPE_CHECKING:
    from collections.abc import Callable
    from contextlib import AbstractContextManager

    from textual.screen import Screen

    from wise_ladder.app.palette import Palette
    from wise_ladder.app.persistence import StateDir
    from wise_ladder.app.status_line import StatusLine
    from wise_ladder.app.tape_cursor import TapeCursor
    from wise_ladder.app.view import SelectedRun
    from wise_ladder.plan import Event, Plan
    from wise_ladder.plan.model import PlanPart
    from wise_ladder.walks import Tape

_Result = TypeVar("_Result")


class Host(Protocol):
    """Shows messages and dialogs, runs work on other threads, and tells all parts what changed."""

    @property
    def plan(self) -> Plan:
        """The open plan, with its edits."""

    @property
    def cursor(self) -> TapeCursor:
        """The tape and the current step."""

    @property
    def state_dir(self) -> StateDir:
        """What is kept for the next start."""

    @property
    def palette(self) -> Palette:
        """The colours of the present look."""

    @property
    def status_line(self) -> StatusLine:
        """The line that the present view speaks in."""

    @property
    def view_name(self) -> str:
        """The name of the present view."""

    def selected_parts(self) -> list[PlanPart]:
        """Return the parts of the plan that are selected in the present view."""

    def selected_starts(self) -> list[int]:
        """Return where in the text of the plan what is selected begins, what is most meant first."""

    def selected_runs(self) -> list[SelectedRun]:
        """Return the run that is selected in the present view, and the one that is laid over it, if any."""

    # Messages, dialogs, work

    def show_message(self, words: str, *, wrong: bool = False) -> None:
        """Show a message until the next thing is done."""

    def push_screen(self, screen: Screen[_Result], callback: Callable[[_Result | None], Any] | None = None) -> Any:
        """Show a dialog; call back with what was chosen in it."""

    def call_later(self, callback: Callable[..., Any], *args: Any) -> bool:
        """Call something on the interface's own thread."""

    def run_worker(
        self, work: Callable[[], Any], *, group: str = "default", exclusive: bool = False, thread: bool = False
    ) -> Any:
        """Run work, on a thread of its own where `thread` says so; `exclusive`: what is left of its group is cancelled."""

    def suspend(self) -> AbstractContextManager[None]:
        """Leave the terminal to another program for a while."""

    # What changed

    def moved(self) -> None:
        """Show the new step, or the new plan."""

    def take_step(self, event: Event) -> None:
        """Do an event at the current step, or say why that is not possible."""

    def climb_tape(self, tape: Tape) -> None:
        """Show the end of a tape in Climb."""

    def take_up_tape(self, tape: Tape) -> None:
        """Put another tape in the place of the present one, on the phone it was run on."""

    def keep_start(self) -> None:
        """Keep what the next start begins with."""

    def tell_walks(self, name: str, passed: int, failed: int) -> None:
        """Show how many walks of the plan of a name pass."""

    def tell_rules(self) -> None:
        """Show how the rules of the plan stand."""

    def rules_told(self, turned: list[str]) -> None:
        """Show what is known of the rules, and say which have another verdict since the last edit."""

    def sweep(self) -> None:
        """Begin to sweep the plan."""
