"""Proofs beside the sweep, in a process of their own: they go on with each plan, and are shown as they come."""

from __future__ import annotations

from contextlib import suppress
from queue import Empty
from threading import Lock
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.app.breath import still_wanted
from wise_ladder.app.prover_process import ProverProcess
from wise_ladder.proofs.folder import proof_folder
from wise_ladder.proofs.task import ProofTask

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.host import Host
    from wise_ladder.plan import Plan
    from wise_ladder.proofs.orders import ProofNews
    from wise_ladder.proofs.task import Proved
    from wise_ladder.rules.verdicts import Verdict

BY_ITSELF, LOOKED_AT = 5.0, 120.0
"""For how many seconds: without being asked, and while the rules are looked at."""
LOOKS = 0.1
"""So often it is looked whether the process has ended, or must."""


class ProofStatus(NamedTuple):
    """What was tried of a plan, for how many seconds, and what is proved so far; `running`: it is still being tried."""

    plan: Plan
    seconds: float
    proved: Proved | None
    running: bool


class ProofRunner:
    """Proves the rules of the open plan, in a process that keeps what it met of the plan before."""

    def __init__(self, host: Host, show: Callable[[], None]) -> None:
        """Begin when asked; `show` is called when something came of it."""
        self.host, self._show = host, show
        self.standing: ProofStatus | None = None
        self._asked = 0
        """The number of the current attempt: an earlier one stops."""
        self._turn = Lock()
        """Held while an attempt is made."""
        self.process: ProverProcess | None = None
        """It is kept for the next attempt, with what it has met."""

    @property
    def running(self) -> bool:
        """Whether something is being proved."""
        return self.standing is not None and self.standing.running

    def wants(self, plan: Plan, seconds: float) -> bool:
        """Whether rules of a plan were not tried yet for so many seconds."""
        known = self.standing
        return self.host.state_dir.remembers and (known is None or known.plan is not plan or known.seconds < seconds)

    def begin(self, plan: Plan, verdicts: tuple[Verdict, ...], seconds: float) -> None:
        """Try to prove for so many seconds what the sweep has not decided."""
        self._asked += 1
        before = self.standing if self.standing is not None and self.standing.plan is plan else None
        # What a shorter attempt has proved stays shown.
        self.standing = ProofStatus(plan, seconds, None if before is None else before.proved, running=True)
        rules = tuple(verdict.rule for verdict in verdicts)
        broken = frozenset(number for number, verdict in enumerate(verdicts) if verdict.status == "broken")
        asked, task = self._asked, ProofTask(plan, rules, seconds, broken)
        self.host.run_worker(lambda: self._prove(asked, task, before), thread=True, group="proofs")

    def stop(self) -> None:
        """End what is being tried."""
        self._asked += 1
        if self.running:
            self.standing = None

    def end(self) -> None:
        """End the process, since the program ends."""
        self._asked += 1
        if self.process is not None:
            self.process.end()

    def added(self, plan: Plan, verdicts: tuple[Verdict, ...]) -> tuple[Verdict, ...]:
        """Return the verdicts of a plan with what was proved."""
        known = self.standing
        return verdicts if known is None or known.proved is None or known.plan is not plan else known.proved.added(verdicts)

    def _prove(self, asked: int, task: ProofTask, before: ProofStatus | None) -> None:
        """Let the process do a task, as long as no other was asked for; `before`: what is true again if nothing comes of it."""
        goes_on = still_wanted(lambda: asked == self._asked)
        with self._turn:
            if not goes_on():
                return
            process = self.process
            if process is not None and process.ended:
                process.end()
                process = None
            if process is None:
                process = self.process = ProverProcess(proof_folder())
            process.order((asked, task))
            while goes_on():
                with suppress(Empty):
                    news = process.news(LOOKS)
                    if news is None:
                        self.host.call_later(self._gone, asked, before)
                        return
                    # What comes of an earlier task, that was stopped, says nothing of this one.
                    if news.number == asked:
                        self.host.call_later(self._told, news)
                        if news.ended:
                            return
            process.order("stop")

    def _told(self, news: ProofNews) -> None:
        if news.number == self._asked and self.standing is not None:
            proved = news.proved.on(self.standing.plan)
            self.standing = self.standing._replace(proved=proved, running=not news.ended)
            self._show()

    def _gone(self, asked: int, before: ProofStatus | None) -> None:
        """Take note that the process has ended: the next attempt begins another one."""
        if asked == self._asked and self.running:
            self.standing = before
            self._show()
