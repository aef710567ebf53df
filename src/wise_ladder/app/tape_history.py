"""What is told of a whole tape, kept from step to step: how each rung came, and how many findings there were."""

from __future__ import annotations

from bisect import bisect_right
from typing import TYPE_CHECKING

from wise_ladder.semantics.log import Came, Finding, Replaced
from wise_ladder.semantics.state import all_rungs

if TYPE_CHECKING:
    from wise_ladder.plan import Event
    from wise_ladder.walks import Entry


class History:
    """Looks at each entry of a tape once and remembers it; it begins again only for another branch."""

    def __init__(self) -> None:
        """Begin with no tape."""
        self._forget()

    def _forget(self) -> None:
        self._entries: tuple[Entry, ...] = ()
        self._births: dict[int, list[int]] = {}
        """By serial the numbers of the steps that put a rung."""
        self._findings = [0]

    def follow(self, entries: tuple[Entry, ...]) -> None:
        """Look at what is new of a tape; on another branch, at all of it."""
        shared = min(len(entries), len(self._entries))
        if shared and entries[shared - 1] is not self._entries[shared - 1]:
            self._forget()
            shared = 0
        if len(entries) <= len(self._entries):
            return
        self._entries = entries
        for number in range(shared + 1, len(entries) + 1):
            happened = entries[number - 1].step.log
            for happening in happened:
                if isinstance(happening, (Came, Replaced)):
                    put = happening.rung if isinstance(happening, Came) else happening.came
                    for rung in all_rungs((put,)):
                        self._births.setdefault(rung.serial, []).append(number)
            self._findings.append(self._findings[-1] + sum(isinstance(happening, Finding) for happening in happened))

    def how_it_came(self, serial: int, place: int) -> tuple[int, Event] | None:
        """Return the number of the step that put a rung last, up to a place of the tape, and its event."""
        numbers = self._births.get(serial, [])
        after = bisect_right(numbers, place)
        return (numbers[after - 1], self._entries[numbers[after - 1] - 1].event) if after else None

    def findings(self, place: int) -> int:
        """Return how many findings there are up to a place of the tape."""
        return self._findings[place]
