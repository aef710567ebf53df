"""Walks on the running app: asked for once, run beside the plan off the screen's own thread, shown until the plan changes."""

from __future__ import annotations

import time
from typing import TYPE_CHECKING

from textual.worker import get_current_worker

from wise_ladder.app import messages
from wise_ladder.errors import LadderError
from wise_ladder.link.address import parse_address
from wise_ladder.link.session import AppAt, run_walks
from wise_ladder.semantics.text import duration_text

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.walks.selection import WalkSelection
    from wise_ladder.app.workplace import Workplace
    from wise_ladder.plan import Plan
    from wise_ladder.walks import WalkRun


class AppRuns:
    """Runs the walks of a plan on an app."""

    def __init__(self, host: Workplace, selection: WalkSelection, refresh: Callable[[], None]) -> None:
        """Show what comes of it in a selection; `refresh` draws it."""
        self._host, self._selection, self._refresh = host, selection, refresh
        self._at = AppAt()

    def ask(self) -> None:
        """Ask where the app is, and run the walks there; what was typed last stands there again. Nothing typed ends it."""
        from wise_ladder.app.dialogs.form_dialog import FormDialog, FormField  # noqa: PLC0415

        lines = [FormField("address", self._at.address), FormField("or command", self._at.command)]
        dialog = FormDialog(messages.ON_APP, lines, self._take, hint=messages.ON_APP_HINT, first=bool(self._at.command))
        self._host.push_screen(dialog)

    def _take(self, typed: list[str]) -> str:
        address, command = (each.strip() for each in typed)
        if address and command:
            return messages.ONE_OF_BOTH
        if not address and not command:
            self._selection.on_app = None
            self._refresh()
            return ""
        if address:
            try:
                parse_address(address)
            except LadderError as error:
                return str(error)
        self._at = AppAt(address, command)
        self._selection.on_app = {}
        self._refresh()
        plan, at = self._host.plan, self._at
        self._host.run_worker(lambda: self._run(plan, at), thread=True, group="app", exclusive=True)
        return ""

    def _run(self, plan: Plan, at: AppAt) -> None:
        worker, began = get_current_worker(), time.perf_counter()

        def told(result: WalkRun, _seconds: float) -> bool:
            self._host.call_later(self._told, plan, result)
            return not worker.is_cancelled

        try:
            run_walks(plan, plan.walks, at, told, lambda: not worker.is_cancelled)
        except LadderError as error:
            self._host.call_later(self._failed, str(error))
        else:
            took = duration_text(round((time.perf_counter() - began) * 1000))
            self._host.call_later(self._host.show_message, messages.WALKS_RUN.format(count=len(plan.walks), took=took))

    def _failed(self, words: str) -> None:
        if not self._selection.on_app:
            # Nothing was run there: the plan's results are shown as before.
            self._selection.on_app = None
        self._refresh()
        self._host.show_message(words, wrong=True)

    def _told(self, plan: Plan, result: WalkRun) -> None:
        if self._selection.plan is plan and self._selection.on_app is not None:
            self._selection.on_app[result.walk.name] = result
            self._refresh()
