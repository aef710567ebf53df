"""The commands of Seen; `app/commands.py` lists each `cmd_NAME` with its keys and texts."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.app import messages as app_messages
from wise_ladder.app.seen import messages
from wise_ladder.app.seen.selection import OtherRun
from wise_ladder.semantics.text import duration_text

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.seen.selection import SeenSelection
    from wise_ladder.app.workplace import Workplace


NOTHING_OVER = OtherRun("", lambda _: None)
"""Stands for the choice to show one run only."""


class SeenCommands:
    """Does what is pressed in Seen."""

    def __init__(self, host: Workplace, selection: SeenSelection, refresh: Callable[[], None]) -> None:
        """Act on what is selected in a view, which `refresh` shows again."""
        self.host, self.selection, self.refresh = host, selection, refresh

    def _go(self, place: int, at_end: str) -> None:
        if self.selection.go(place):
            self.refresh()
        else:
            self.host.show_message(at_end if self.selection.last else messages.NOTHING_SEEN)

    def cmd_earlier(self) -> None:
        self._go(self.selection.place - 1, app_messages.TAPE_START)

    def cmd_later(self) -> None:
        self._go(self.selection.place + 1, app_messages.TAPE_END)

    def cmd_first(self) -> None:
        self._go(0, app_messages.TAPE_START)

    def cmd_last(self) -> None:
        self._go(self.selection.last, app_messages.TAPE_END)

    def cmd_next_flash(self) -> None:
        if self.selection.other is not None:
            difference = self.selection.next_difference()
            self.refresh()
            self.host.show_message(messages.NO_RUN_DIFFERS if difference is None else difference.words)
            return
        flash = self.selection.next_flash()
        self.refresh()
        words = messages.NO_FLASH if flash is None else messages.FLASH_SEEN
        told = {} if flash is None else {"screen": flash.words, "time": duration_text(flash.time)}
        self.host.show_message(words.format(**told))

    def cmd_other_run(self) -> None:
        from wise_ladder.app.dialogs.list_dialog import ListDialog, ListItem  # noqa: PLC0415
        from wise_ladder.app.seen.other_runs import other_runs  # noqa: PLC0415

        tape = self.selection.tape
        if tape is None or not self.selection.last:
            self.host.show_message(messages.NOTHING_SEEN, wrong=True)
            return
        runs = other_runs(self.host, tape, self.selection.name)
        if self.selection.other is not None:
            runs.insert(0, ListItem(messages.ONE_RUN, messages.ONE_RUN_ABOUT, NOTHING_OVER))
        self.host.push_screen(ListDialog(messages.WHICH_RUN, runs, soft=self.host.palette.soft), self._lay_over)

    def _lay_over(self, other: OtherRun | str | None) -> None:
        if not isinstance(other, OtherRun):
            return
        there = self.selection.lay_over(None if other is NOTHING_OVER else other)
        self.refresh()
        rest = self.selection.other_tape.rest if self.selection.other_tape is not None else ()
        if not there:
            self.host.show_message(messages.NO_SUCH_RUN.format(name=other.name), wrong=True)
        elif self.selection.other_tape is not None and rest:
            number = len(self.selection.other_tape.entries) + 1
            words = messages.STOPS_THERE.format(number=number, why=self.selection.other_tape.refused)
            self.host.show_message(words, wrong=True)

    def cmd_nearer(self) -> None:
        self._look(1, messages.NO_NEARER)

    def cmd_farther(self) -> None:
        self._look(-1, messages.ALL_SHOWN)

    def _look(self, nearer: int, at_end: str) -> None:
        if self.selection.look(nearer):
            self.refresh()
        else:
            self.host.show_message(at_end)

    def cmd_climb_there(self) -> None:
        moment, tape = self.selection.moment_of(0), self.selection.tape
        if moment is None or tape is None:
            self.host.show_message(messages.NOTHING_SEEN, wrong=True)
        else:
            self.host.climb_tape(tape.prefix(moment.number))
