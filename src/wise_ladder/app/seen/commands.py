"""The commands of Seen; `app/commands.py` lists each `cmd_NAME` with its keys and texts."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.app import messages
from wise_ladder.semantics.text import duration_text

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.seen.selection import SeenSelection
    from wise_ladder.app.workplace import Workplace


class SeenCommands:
    """Does what is pressed in Seen."""

    def __init__(self, host: Workplace, selection: SeenSelection, refresh: Callable[[], None]) -> None:
        """Act on what is selected in a view, which `refresh` shows again."""
        self.host, self.selection, self.refresh = host, selection, refresh

    def _go(self, place: int, at_end: str) -> None:
        if self.selection.go(place):
            self.refresh()
        else:
            self.host.show_message(at_end if self.selection.moments else messages.NOTHING_SEEN)

    def cmd_earlier(self) -> None:
        self._go(self.selection.place - 1, messages.TAPE_START)

    def cmd_later(self) -> None:
        self._go(self.selection.place + 1, messages.TAPE_END)

    def cmd_first(self) -> None:
        self._go(0, messages.TAPE_START)

    def cmd_last(self) -> None:
        self._go(len(self.selection.moments) - 1, messages.TAPE_END)

    def cmd_next_flash(self) -> None:
        flash = self.selection.next_flash()
        self.refresh()
        words = messages.NO_FLASH if flash is None else messages.FLASH_SEEN
        told = {} if flash is None else {"screen": flash.words, "time": duration_text(flash.time)}
        self.host.show_message(words.format(**told))

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
        moment, tape = self.selection.moment, self.selection.tape
        if moment is None or tape is None:
            self.host.show_message(messages.NOTHING_SEEN, wrong=True)
        else:
            self.host.climb_tape(tape.prefix(moment.number))
