"""The commands of Crossings; `app/commands.py` lists each `cmd_NAME` with its keys and texts."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.app import messages

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.crossings.tables import CrossingTables
    from wise_ladder.app.workplace import Workplace
    from wise_ladder.walks import Tape


class CrossingsCommands:
    """Does what is pressed in Crossings."""

    def __init__(self, host: Workplace, selection: CrossingTables, refresh: Callable[[], None]) -> None:
        """Act on what is selected in a view, which `refresh` shows again."""
        self.host, self.selection, self.refresh = host, selection, refresh
        self._doubt = 0

    def cmd_left(self) -> None:
        self.selection.grid.go(-1)
        self.refresh()

    def cmd_right(self) -> None:
        self.selection.grid.go(1)
        self.refresh()

    def cmd_up(self) -> None:
        self.selection.grid.go_row(-1)
        self.refresh()

    def cmd_down(self) -> None:
        self.selection.grid.go_row(1)
        self.refresh()

    def cmd_backs(self) -> None:
        self.selection.shows_back = not self.selection.shows_back
        self.refresh()
        if self.selection.shows_back:
            self.host.sweep_runner.looked_at()

    def cmd_next_untried(self) -> None:
        if self.selection.shows_back:
            found = self.selection.backs.go_surprise()
            self.refresh()
            if not found:
                self.host.show_message(messages.BACK_NO_SURPRISE)
            return
        untried = self.selection.moves.go_untried()
        self.refresh()
        if not untried:
            self.host.show_message(messages.ALL_CROSSINGS_USED)

    def cmd_next_fault(self) -> None:
        doubts = self.selection.moves.plan.warnings
        if not doubts:
            self.host.show_message(messages.NO_WARNINGS)
            return
        doubt = doubts[self._doubt % len(doubts)]
        self._doubt += 1
        shown = self.selection.moves.go_to(doubt.at)
        self.refresh()
        self.host.show_message(f"{doubt.at.short.removeprefix(':')}:{doubt.at.column}: {doubt.what}", wrong=not shown)

    def cmd_climb_there(self) -> None:
        tape = self._tape()
        if tape is None:
            self.host.show_message(messages.NO_PATH_KNOWN, wrong=True)
            return
        self.host.climb_tape(tape)
        self.host.show_message(messages.CROSSING_CLIMBED)

    def cmd_keep(self) -> None:
        tape = self._tape()
        if tape is None:
            self.host.show_message(messages.NO_PATH_KNOWN, wrong=True)
            return
        self.host.take_up_tape(tape)
        self.host.document.keep()

    def _tape(self) -> Tape | None:
        """Return the shortest known tape to what is chosen."""
        if self.selection.shows_back:
            cell = self.selection.backs.current
            return cell.rows[0].tape if cell is not None else None
        moves = self.selection.moves
        return moves.tape(moves.current) if moves.current is not None else None

    def cmd_find(self) -> None:
        from wise_ladder.app.dialogs.form_dialog import FormDialog, FormField  # noqa: PLC0415

        def find(words: str) -> str:
            grid.find(words.strip())
            self.refresh()
            told = messages.BACK_LISTED if self.selection.shows_back else messages.CROSSINGS_LISTED
            return told.format(count=len(grid.shown), total=grid.total)

        grid = self.selection.backs if self.selection.shows_back else self.selection.moves
        before = grid.wanted
        hint = messages.FIND_CROSSINGS_HINT
        dialog = FormDialog(
            messages.FIND_CROSSINGS, [FormField("", before)], lambda typed: find(typed[0]) and "", hint=hint, tell=find
        )
        self.host.push_screen(dialog)

    def cmd_sketch(self) -> None:
        if self.selection.shows_back:
            rule = self.selection.backs.rule()
            if not rule:
                self.host.show_message(messages.BACK_NO_RULE, wrong=True)
            else:
                self.host.edit_commands.sketch(None, climbs=False, first="rule", text=rule)
            return
        crossing = self.selection.moves.current
        start = crossing.start if crossing is not None else self.host.plan.screens[0].name
        on_place = start in self.host.plan.screen or start in self.host.plan.overlay
        self.host.edit_commands.sketch(start if on_place else None, climbs=False)
