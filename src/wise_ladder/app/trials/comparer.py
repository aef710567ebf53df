"""Compares two versions off the screen's own thread; what is known is told several times, and the last wish counts."""

from __future__ import annotations

from typing import TYPE_CHECKING

from textual.worker import get_current_worker

from wise_ladder.app.breath import goes_on_while

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.host import Host
    from wise_ladder.plan import Plan
    from wise_ladder.trials.compare import Versions

SECONDS = 6.0
"""So long two versions are compared."""


class Comparer:
    """Compares for a view; `told` gets what is known so far, and whether it goes on."""

    def __init__(self, host: Host, told: Callable[[Versions, bool], None]) -> None:
        """Begin when asked."""
        self._host, self._told = host, told

    def begin(self, old: Plan, new: Plan) -> None:
        """Compare two versions; what is being compared is given up."""
        self._host.run_worker(lambda: self._compare(old, new), thread=True, group="trials", exclusive=True)

    def _compare(self, old: Plan, new: Plan) -> None:
        from wise_ladder.trials.compare import compare  # noqa: PLC0415 - not needed for the first picture

        worker = get_current_worker()

        def tell(versions: Versions, *, running: bool = True) -> None:
            if not worker.is_cancelled:
                self._host.call_later(self._told, versions, running)

        tell(compare(old, new, SECONDS, elsewhere=False, goes_on=goes_on_while(worker), told=tell), running=False)
