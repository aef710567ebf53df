"""What the terminal sends, one thing after the other: the next one waits until the one before is done."""

from __future__ import annotations

import time
from collections import deque
from typing import TYPE_CHECKING

from textual.events import InputEvent, Key

if TYPE_CHECKING:
    from collections.abc import Awaitable, Callable, Sequence

    from textual.app import App
    from textual.message_pump import MessagePump

MAX_WAITING = 1_000
"""At most this many wait; no user types that fast. A long text that the terminal pastes unmarked would go on for minutes."""
PATIENCE = 0.5
"""So many seconds one thing may take to be done, before the next is no longer kept waiting: what had it may be gone."""


class InputQueue:
    """Keys, clicks and pastes in order.

    The library hands each on from widget to widget. A key that opens or closes a dialog must be done before the next one is
    handed on, or that goes to the wrong place.
    """

    def __init__(
        self, app: App[None], hand_on: Callable[[InputEvent], Awaitable[None]], first: Callable[[InputEvent], bool]
    ) -> None:
        """Hand on to the library with `hand_on`; what is `first` overtakes all that waits."""
        self._app, self._hand_on, self._first = app, hand_on, first
        self._events: deque[InputEvent] = deque()
        self._now: InputEvent | None = None
        self._since = 0.0
        self._later: list[Callable[[], object]] = []
        self.left_out = 0
        """How many were dropped since the last report."""

    def when_done(self, callback: Callable[[], object]) -> None:
        """Call something as soon as nothing waits."""
        if self._events or self._now is not None:
            self._later.append(callback)
        else:
            self._app.call_later(callback)

    def add(self, event: InputEvent) -> None:
        """Take what came, unless far too much waits already."""
        if len(self._events) >= MAX_WAITING:
            self.left_out += 1
            return
        self._events.append(event)
        if self._now is None:
            self._app.call_later(self._next)

    def nudge(self) -> None:
        """Go on where the widget that had the last thing has closed without a word."""
        if self._now is not None and time.monotonic() - self._since > PATIENCE:
            self._done(self._now, ())

    async def _next(self) -> None:
        if self._now is not None or not self._events:
            return
        event = next((each for each in self._events if self._first(each)), self._events[0])
        self._events.remove(event)
        self._now, self._since = event, time.monotonic()
        target = (self._app.focused or self._app.screen) if isinstance(event, Key) else self._app.screen
        hops = [each for each in target.ancestors_with_self if each is not self._app]
        await self._hand_on(event)
        self._done(event, (*hops, self._app))

    def _done(self, event: InputEvent, hops: Sequence[MessagePump]) -> None:
        """Follow an event on its way up: where a mark that goes the same way has arrived, the event was there before."""
        while hops:
            hop, *hops = hops
            if hop.call_later(self._done, event, tuple(hops)):
                return
        if self._now is event:
            self._now = None
            if self._events:
                self._app.call_later(self._next)
                return
            later, self._later = self._later, []
            for callback in later:
                self._app.call_later(callback)
