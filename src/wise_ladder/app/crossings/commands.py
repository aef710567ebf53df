"""The commands of Crossings; `app/commands.py` lists each `cmd_NAME` with its keys and texts."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.app import messages

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.crossings.selection import CrossingSelection
    from wise_ladder.app.workplace import Workplace


class CrossingsCommands:
    """Does what is pressed in Crossings."""

    def __init__(self, host: Workplace, selection: CrossingSelection, refresh: Callable[[], None]) -> None:
        """Act on what is selected in a view, which `refresh` shows again."""
        self.host, self.selection, self.refresh = host, selection, refresh
        self._doubt = 0

    def cmd_left(self) -> None:
        self.selection.go(-1)
        self.refresh()

    def cmd_right(self) -> None:
        self.selection.go(1)
        self.refresh()

    def cmd_up(self) -> None:
        self.selection.go_row(-1)
        self.refresh()

    def cmd_down(self) -> None:
        self.selection.go_row(1)
        self.refresh()

    def cmd_next_untried(self) -> None:
        untried = self.selection.go_untried()
        self.refresh()
        if not untried:
            self.host.show_message(messages.ALL_CROSSINGS_USED)

    def cmd_next_fault(self) -> None:
        doubts = self.selection.plan.warnings
        if not doubts:
            self.host.show_message(messages.NO_WARNINGS)
            return
        doubt = doubts[self._doubt % len(doubts)]
        self._doubt += 1
        shown = self.selection.go_to_line(doubt.line)
        self.refresh()
        self.host.show_message(f"{doubt.line}:{doubt.column}: {doubt.what}", wrong=not shown)

    def cmd_climb_there(self) -> None:
        chart = self.selection
        tape = chart.tape(chart.crossing) if chart.crossing is not None else None
        if tape is None:
            self.host.show_message(messages.NO_PATH_KNOWN, wrong=True)
            return
        self.host.climb_tape(tape)
        self.host.show_message(messages.CROSSING_CLIMBED)

    def cmd_find(self) -> None:
        from wise_ladder.app.dialogs.form_dialog import FormDialog, FormField  # noqa: PLC0415

        def find(words: str) -> str:
            self.selection.find(words.strip())
            self.refresh()
            return f"{len(self.selection.shown)} of {self.selection.total} crossings"

        before = self.selection.wanted
        hint = messages.FIND_CROSSINGS_HINT
        dialog = FormDialog(
            messages.FIND_CROSSINGS, [FormField("", before)], lambda typed: find(typed[0]) and "", hint=hint, tell=find
        )
        self.host.push_screen(dialog)

    def cmd_sketch(self) -> None:
        crossing = self.selection.crossing
        start = crossing.start if crossing is not None else self.host.plan.screens[0].name
        on_place = start in self.host.plan.screen or start in self.host.plan.overlay
        self.host.edit_commands.sketch(start if on_place else None, climbs=False)
