"""What one can do in Crossings: each `cmd_NAME` is one entry of the table of actions."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from wise_ladder.app.application import LadderApp
    from wise_ladder.app.crossings.view import CrossingsView


class CrossingsCommands:
    """Does what is pressed in Crossings."""

    def __init__(self, bench: LadderApp, view: CrossingsView) -> None:
        """Act on the chart of a view."""
        self.host, self.view = bench, view
        self._doubt = 0

    def cmd_left(self) -> None:
        self.view.selection.go(-1)
        self.view.refresh_view()

    def cmd_right(self) -> None:
        self.view.selection.go(1)
        self.view.refresh_view()

    def cmd_up(self) -> None:
        self.view.selection.go_row(-1)
        self.view.refresh_view()

    def cmd_down(self) -> None:
        self.view.selection.go_row(1)
        self.view.refresh_view()

    def cmd_next_untried(self) -> None:
        found = self.view.selection.go_untried()
        self.view.refresh_view()
        if not found:
            self.host.show_message("walks take every crossing that is shown")

    def cmd_next_fault(self) -> None:
        doubts = self.view.selection.plan.warnings
        if not doubts:
            self.host.show_message("there is no doubt about this plan")
            return
        doubt = doubts[self._doubt % len(doubts)]
        self._doubt += 1
        found = self.view.selection.go_to_line(doubt.line)
        self.view.refresh_view()
        self.host.show_message(f"{doubt.line}:{doubt.column}: {doubt.what}", wrong=not found)

    def cmd_climb_there(self) -> None:
        chart = self.view.selection
        tape = chart.tape(chart.crossing) if chart.crossing is not None else None
        if tape is None:
            self.host.show_message("no way there is known: no walk takes it, and none was met from the start", wrong=True)
            return
        self.host.climb_tape(tape)
        self.host.show_message("the last step takes it; ← is before it")

    def cmd_find(self) -> None:
        from wise_ladder.app.dialogs.form_dialog import FormDialog, FormField  # noqa: PLC0415

        def find(words: str) -> str:
            self.view.selection.find(words.strip())
            self.view.changed()
            return f"{len(self.view.selection.shown)} of {self.view.selection.total} crossings"

        before = self.view.selection.wanted
        hint = "screens, an operation, words of the phrase; nothing shows all. Enter keeps it"
        sheet = FormDialog("Find crossings", [FormField("", before)], lambda typed: find(typed[0]) and "", hint=hint, tell=find)
        self.host.push_screen(sheet)

    def cmd_sketch(self) -> None:
        crossing = self.view.selection.crossing
        start = crossing.start if crossing is not None else self.host.document.plan.screens[0].name
        if start not in self.host.document.plan.screen and start not in self.host.document.plan.overlay:
            self.host.show_message("choose a crossing in the row of a screen first", wrong=True)
            return
        self.host.edit_commands.sketch(start, climbs=False)
