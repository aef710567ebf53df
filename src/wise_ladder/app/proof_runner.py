"""Proofs beside the sweep, in a process of their own: they go on with each plan, and are shown as they come."""

from __future__ import annotations

import pickle
import subprocess
from contextlib import suppress
from queue import Empty, SimpleQueue
from threading import Thread
from typing import TYPE_CHECKING, BinaryIO, NamedTuple, cast

from textual.worker import get_current_worker

from wise_ladder.proofs.folder import proof_folder
from wise_ladder.proofs.orders import COMMAND
from wise_ladder.proofs.task import ProofTask

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.host import Host
    from wise_ladder.plan import Plan
    from wise_ladder.proofs.orders import Order, ProofNews
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
        self._before: ProofStatus | None = None
        """What is true again if nothing comes of the current attempt."""
        self.process: subprocess.Popen[bytes] | None = None
        self._orders: SimpleQueue[Order] | None = None
        """What the process is to do, None: there is no process, and none is being started."""
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
        self._before = self.standing if self.standing is not None and self.standing.plan is plan else None
        # What a shorter attempt has proved stays shown.
        self.standing = ProofStatus(plan, seconds, None if self._before is None else self._before.proved, running=True)
        rules = tuple(verdict.rule for verdict in verdicts)
        broken = frozenset(number for number, verdict in enumerate(verdicts) if verdict.status == "broken")
        if self._orders is None:
            self._orders = SimpleQueue()
            orders = self._orders
            self.host.run_worker(lambda: self._serve(orders), thread=True, group="proofs")
        self._orders.put((self._asked, ProofTask(plan, rules, seconds, broken)))

    def stop(self) -> None:
        """End what is being tried."""
        self._asked += 1
        if self.running:
            self.standing = None
            if self._orders is not None:
                self._orders.put("stop")

    def added(self, plan: Plan, verdicts: tuple[Verdict, ...]) -> tuple[Verdict, ...]:
        """Return the verdicts of a plan with what was proved."""
        known = self.standing
        return verdicts if known is None or known.proved is None or known.plan is not plan else known.proved.added(verdicts)

    def _serve(self, orders: SimpleQueue[Order]) -> None:
        """Hand on orders to the process until the program ends, or the process does."""
        worker = get_current_worker()
        command = (*COMMAND, str(proof_folder()))
        with subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL) as process:  # noqa: S603
            self.process = process
            listener = Thread(target=self._listen, args=(process.stdout,), daemon=True)
            listener.start()
            while not worker.is_cancelled and process.poll() is None:
                with suppress(Empty, OSError):
                    pickle.dump(orders.get(timeout=LOOKS), cast("BinaryIO", process.stdin))
                    cast("BinaryIO", process.stdin).flush()
            process.kill()
            # Nothing may be closed while it is read.
            listener.join()
        self.host.call_later(self._gone, orders)

    def _listen(self, found: BinaryIO) -> None:
        with suppress(EOFError, pickle.UnpicklingError, OSError):
            while True:
                self.host.call_later(self._told, pickle.load(found))  # noqa: S301 - from the program's own process

    def _told(self, news: ProofNews) -> None:
        if news.number == self._asked and self.standing is not None:
            proved = news.proved.on(self.standing.plan)
            self.standing = self.standing._replace(proved=proved, running=not news.ended)
            self._show()

    def _gone(self, orders: SimpleQueue[Order]) -> None:
        """Begin with another process next time."""
        if orders is self._orders:
            self._orders = self.process = None
            if self.running:
                self.standing = self._before
                self._show()
