"""Proofs beside the sweep, in a process of their own: they begin again with each plan, and are shown when they are there."""

from __future__ import annotations

import pickle
import subprocess
from contextlib import suppress
from typing import TYPE_CHECKING, NamedTuple

from textual.worker import get_current_worker

from wise_ladder.proofs.folder import proof_folder

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.host import Host
    from wise_ladder.plan import Plan
    from wise_ladder.proofs.proof import Proved
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
    """Proves the rules of the open plan; one process at a time."""

    def __init__(self, host: Host, show: Callable[[], None]) -> None:
        """Begin when asked; `show` is called when something came of it."""
        self.host, self._show = host, show
        self.standing: ProofStatus | None = None
        self._asked = 0
        """The number of the current attempt: an earlier one stops."""

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
        asked = self._asked
        self.host.run_worker(lambda: self._prove(plan, verdicts, seconds, asked, before), thread=True, group="proofs")

    def stop(self) -> None:
        """End what is being tried."""
        self._asked += 1
        if self.running:
            self.standing = None

    def added(self, plan: Plan, verdicts: tuple[Verdict, ...]) -> tuple[Verdict, ...]:
        """Return the verdicts of a plan with what was proved."""
        known = self.standing
        return verdicts if known is None or known.proved is None or known.plan is not plan else known.proved.added(verdicts)

    def _prove(self, plan: Plan, verdicts: tuple[Verdict, ...], seconds: float, asked: int, before: ProofStatus | None) -> None:
        # Imported on this thread, since a key must not wait for it.
        from wise_ladder.proofs.worker import COMMAND, ProofTask  # noqa: PLC0415

        rules = tuple(verdict.rule for verdict in verdicts)
        broken = tuple(number for number, verdict in enumerate(verdicts) if verdict.status == "broken")
        task = ProofTask(plan, rules, broken, seconds, str(proof_folder()))
        worker, answer = get_current_worker(), b""
        with subprocess.Popen(COMMAND, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL) as process:  # noqa: S603
            given: bytes | None = pickle.dumps(task)
            while asked == self._asked and not worker.is_cancelled:
                try:
                    answer, _ = process.communicate(given, timeout=LOOKS)
                    break
                except subprocess.TimeoutExpired:
                    given = None
                except OSError:
                    break
            process.kill()
        proved: Proved | None = None
        with suppress(pickle.UnpicklingError, EOFError):
            proved = pickle.loads(answer)  # noqa: S301 - from the program's own process
        self.host.call_later(self._told, asked, proved, before)

    def _told(self, asked: int, proved: Proved | None, before: ProofStatus | None) -> None:
        if asked != self._asked or self.standing is None:
            return
        self.standing = before if proved is None else self.standing._replace(proved=proved, running=False)
        self._show()
