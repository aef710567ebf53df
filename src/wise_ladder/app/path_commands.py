"""The command that asks for the path to a state, and climbs what is found."""

from __future__ import annotations

from typing import TYPE_CHECKING

from textual.worker import get_current_worker

from wise_ladder.app import messages
from wise_ladder.app.breath import goes_on_while
from wise_ladder.errors import LadderError

if TYPE_CHECKING:
    from wise_ladder.app.workplace import Workplace
    from wise_ladder.plan import Plan
    from wise_ladder.plan.completion import Completion
    from wise_ladder.rules.path_query import Answer
    from wise_ladder.rules.path_question import Question
    from wise_ladder.walks import Tape

SECONDS = 5.0
"""So long is looked for a path at most."""


class PathCommands:
    """Asks for a path; `app/commands.py` lists each `cmd_NAME`."""

    def __init__(self, host: Workplace) -> None:
        """Ask of the open plan of a host."""
        self.host = host

    def cmd_path(self) -> None:
        from wise_ladder.app.dialogs.form_dialog import FormDialog, FormField  # noqa: PLC0415
        from wise_ladder.rules.path_question import complete_question, parse_question  # noqa: PLC0415

        plan = self.host.plan

        def take(typed: list[str]) -> str:
            try:
                question = parse_question(plan, typed[0])
            except LadderError as error:
                return str(error)
            self.host.show_message(messages.LOOKING)
            self.host.run_worker(lambda: self._look(plan, question), thread=True, group="path", exclusive=True)
            return ""

        def found(typed: str) -> list[Completion]:
            return complete_question(plan, typed)

        self.host.push_screen(FormDialog(messages.PATH_TO, [FormField("", "", found)], take, hint=messages.PATH_HINT))

    def _look(self, plan: Plan, question: Question) -> None:
        from wise_ladder.rules.path_query import answer  # noqa: PLC0415
        from wise_ladder.rules.verdicts import Bounds  # noqa: PLC0415

        worker = get_current_worker()
        with self.host.sweep_runner.held() as known:
            found = answer(plan, question, Bounds(seconds=SECONDS), goes_on_while(worker), known)
        if not worker.is_cancelled:
            self.host.call_later(self._told, plan, question, found)

    def _told(self, plan: Plan, question: Question, found: Answer) -> None:
        from wise_ladder.app.dialogs.list_dialog import ListDialog, ListItem  # noqa: PLC0415

        if plan is not self.host.plan:
            return
        title = messages.PATHS_TO.format(question=question.words)
        if not found.paths:
            words = messages.PATH_DOUBT.format(doubt=found.doubt) if found.doubt else messages.PATH_NOT_FOUND
            words = words.format(extent=found.extent.words, figures=found.extent.figures)
            if not found.nearest:
                self.host.show_message(words, wrong=bool(found.doubt))
                return
            title = messages.PATH_NEAREST.format(question=question.words, words=words)

        # What was said while it looked is over.
        self.host.show_message(title)

        def climbed(tape: Tape | str | None) -> None:
            if tape is not None and not isinstance(tape, str):
                self.host.climb_tape(tape)

        items = [
            ListItem(
                (messages.PATH_STEP if path.steps == 1 else messages.PATH_STEPS).format(count=path.steps),
                f"{path.words}: {path.ladder}" if path.words else path.ladder,
                path.tape,
            )
            for path in found.paths or found.nearest
        ]
        self.host.push_screen(ListDialog(title, items, soft=self.host.palette.soft), climbed)
