"""The sweep behind the screen: it begins again with each plan, tells its verdicts as they come, and gives way to keys."""

from __future__ import annotations

import gc
import sys
import time
from contextlib import contextmanager
from threading import Lock
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.app import messages, proof_runner
from wise_ladder.app.breath import still_wanted
from wise_ladder.app.proof_runner import ProofRunner
from wise_ladder.semantics.text import duration_text

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from wise_ladder.app.host import Host
    from wise_ladder.plan import Plan
    from wise_ladder.rules.landings import Landing
    from wise_ladder.rules.sweep import Sweep
    from wise_ladder.rules.transition import PlanRef
    from wise_ladder.rules.verdicts import SweepExtent, Verdict
    from wise_ladder.rules.witnesses import Witness

AT_ONCE, BY_ITSELF, LOOKED_AT, FURTHER = 0.04, 0.5, 4.0, 30.0
"""For how many seconds: until the first verdicts are shown, in all without being asked, while the rules are looked at, and
each time somebody asks for more."""
A_SLICE, BETWEEN_TOLD = 0.02, 0.25
SWEEPS_TO_COLLECT = 8
A_TURN = 0.001
"""So long one thread works at most where the other waits."""
GIVES_WAY, PAUSE = 0.4, 0.04
"""So long after a key the sweep pauses between its slices."""


class SweepStatus(NamedTuple):
    """What is known of a plan: the verdicts, how far they go, and the verdicts on other phones and with other named givens."""

    plan: Plan
    verdicts: tuple[Verdict, ...]
    known: SweepExtent
    running: bool
    speed: int
    """States a second."""
    others: dict[str, tuple[Verdict, ...]]
    unused: tuple[PlanRef, ...]
    """What the sweep never met."""
    until: float
    """How many seconds it may work in all."""
    landings: dict[Landing, Witness] = {}  # noqa: RUF012 - it is never changed
    """Where each way back leads, with a shortest path."""
    proving: bool = False
    """Whether rules are being proved."""

    @property
    def broken(self) -> int:
        """How many rules are broken."""
        return sum(verdict.status == "broken" for verdict in self.verdicts)


class RuleCounts(NamedTuple):
    """How many rules hold as far as is known, are broken, and are not known, or no longer; how the sweep stands."""

    holds: int
    broken: int
    unknown: int
    whole: bool = False
    running: bool = True


class SweepRunner:
    """Sweeps the open plan on its own thread; one sweep at a time."""

    def __init__(self, host: Host) -> None:
        """Begin when asked."""
        self.host = host
        self.proofs = ProofRunner(host, self._proved)
        self.standing: SweepStatus | None = None
        self._sweep: Sweep | None = None
        self._before: Sweep | None = None
        self._plan_before: SweepStatus | None = None
        """What was known of the plan before."""
        self._said: set[str] = set()
        """Which rules it was said of that they turned since."""
        self._last_key = 0.0
        self._let_go = 0
        """How many sweeps were let go."""
        self._turn, self._asked = Lock(), 0
        """The number of the current sweep: an earlier one stops."""
        self._slice, self._gate = Lock(), Lock()
        """The sweep takes the first for each slice of its work, and goes through the second before."""
        self.running = False
        # Keys are handled on another thread: the sweep must yield to it quickly.
        sys.setswitchinterval(A_TURN)

    def unknown(self) -> int:
        """Count the rules of which it is not known yet whether the last edit fixed them."""
        return 0 if self.standing is None else still_unknown(self._plan_before, self.standing)

    def counts(self) -> RuleCounts | None:
        """Count the rules of the open plan by what is known of them; None before any sweep."""
        standing = self.standing
        if standing is None:
            return None
        if standing.plan is not self.host.plan:
            return RuleCounts(0, 0, len(standing.verdicts))
        holds = sum(verdict.status == "holds" for verdict in standing.verdicts) - self.unknown()
        unknown = len(standing.verdicts) - holds - standing.broken
        return RuleCounts(holds, standing.broken, unknown, standing.known.whole, standing.running)

    def key_pressed(self) -> None:
        """Give way for a while."""
        self._last_key = time.perf_counter()

    def begin(self) -> None:
        """Sweep the open plan, if that has not begun yet: a little at once, a little more later."""
        self.host.tell_rules()
        if self._begun() is None:
            # What is being proved of another plan is of no use any more.
            self.proofs.stop()
            self._ask(LOOKED_AT if self.host.view_name == "rules" else BY_ITSELF)

    def take_up(self) -> None:
        """Sweep the plan that is shown in the place of another: nothing that is known of that one counts."""
        self.standing = self._plan_before = None
        self._said = set()
        self.begin()

    def begin_late(self) -> None:
        """Begin if no sweep was asked for yet."""
        if not self._asked:
            self.begin()

    def looked_at(self) -> None:
        """Sweep a little more, now that the rules are looked at."""
        sweep = self._begun()
        if sweep is None or (not sweep.exhausted and sweep.seconds < LOOKED_AT):
            self._ask(LOOKED_AT)
        elif self.standing is not None and self.standing.plan is self.host.plan:
            self._prove(self.standing)

    def _begun(self) -> Sweep | None:
        """Return the sweep of the open plan, None if it has not begun yet."""
        return self._sweep if self._sweep is not None and self._sweep.plan is self.host.plan else None

    def press(self) -> None:
        """Stop if it runs, go on if it does not."""
        if self.running:
            self._asked += 1
            self.running = False
            self.proofs.stop()
            if self.standing is not None:
                self._show(self.standing._replace(running=False))
        elif (sweep := self._begun()) is not None and sweep.exhausted:
            self.host.show_message(messages.ALL_CHECKED)
        else:
            self._ask((sweep.seconds if sweep is not None else 0) + FURTHER)

    def _ask(self, seconds: float) -> None:
        self._asked += 1
        self.running = True
        plan, asked = self.host.plan, self._asked
        self.host.run_worker(lambda: self._swept(plan, asked, seconds), thread=True, group="sweep")

    def _swept(self, plan: Plan, asked: int, seconds: float) -> None:
        from wise_ladder.rules.sweep import Sweep  # noqa: PLC0415 - not needed for the first picture
        from wise_ladder.rules.verdicts import Bounds  # noqa: PLC0415

        goes_on = still_wanted(lambda: asked == self._asked)
        with self._turn:
            if not goes_on():
                return
            sweep = self._sweep
            if sweep is None or sweep.plan is not plan:
                self._before, sweep = sweep, Sweep(plan)
                self._sweep = sweep
            sweep.bounds, sweep.stopped = Bounds(seconds=seconds), ""
            last_told, slice_ = time.perf_counter() - BETWEEN_TOLD, AT_ONCE if sweep.seconds == 0 else A_SLICE
            while not sweep.finished and goes_on():
                with self._slice:
                    sweep.run(slice_, goes_on)
                slice_ = A_SLICE
                now = time.perf_counter()
                if now - last_told >= BETWEEN_TOLD:
                    last_told = now
                    self._tell(sweep, asked, seconds, running=True)
                self._let_go_before()
                self._give_way()
            self._let_go_before()
            others: dict[str, tuple[Verdict, ...]] = {}
            for where, other in plan.others().items() if self.host.view_name == "rules" else ():
                if goes_on():
                    others[where] = self._elsewhere(other, sweep, goes_on)
            if goes_on():
                self._tell(sweep, asked, seconds, running=False, others=others)

    def _let_go_before(self) -> None:
        """Let the sweep of the plan before go, now that there are verdicts of this one."""
        if self._before is not None:
            self._before.release()
            self._before = None
            # Sweeps keep what is there from being looked at for circles; with the largest one gone it can be again.
            gc.unfreeze()
            self._let_go += 1
            if self._let_go % SWEEPS_TO_COLLECT == 0:
                # What the library leaves behind leads in circles, and a sweep hides these with the rest.
                gc.collect()

    def _give_way(self) -> None:
        if time.perf_counter() - self._last_key < GIVES_WAY:
            time.sleep(PAUSE)
        with self._gate:
            pass

    @contextmanager
    def held(self) -> Iterator[Sweep | None]:
        """Let the sweep stand still for another search; give it, if it is of the open plan."""
        with self._gate, self._slice:
            yield self._begun()

    def _elsewhere(self, plan: Plan, like: Sweep, goes_on: Callable[[], bool]) -> tuple[Verdict, ...]:
        """Sweep the plan on another phone, or with another named given, as far as here."""
        from wise_ladder.rules.sweep import Sweep  # noqa: PLC0415
        from wise_ladder.rules.verdicts import Bounds  # noqa: PLC0415

        other = Sweep(plan, Bounds(depth=max(like.depth, 1), seconds=2 * max(like.seconds, BY_ITSELF)))
        while not other.finished and goes_on():
            other.run(A_SLICE, goes_on)
            self._give_way()
        verdicts = other.verdicts()
        other.release()
        return verdicts

    def _tell(
        self, sweep: Sweep, asked: int, until: float, *, running: bool, others: dict[str, tuple[Verdict, ...]] | None = None
    ) -> None:
        known = sweep.extent()
        speed = round(known.states / known.seconds) if known.seconds else 0
        before = self.standing
        kept = others or (before.others if before is not None and before.plan is sweep.plan else {})
        status = SweepStatus(sweep.plan, sweep.verdicts(), known, running, speed, kept, sweep.unused(), until, sweep.landings)
        self.host.call_later(self._told, asked, status)

    def _told(self, asked: int, status: SweepStatus) -> None:
        if status.plan is not self.host.plan:
            return
        if asked == self._asked:
            self.running = status.running
            if not status.running:
                self._prove(status)
            self._show(status)

    def _prove(self, status: SweepStatus) -> None:
        """Prove what the sweep leaves open, if that was not tried for so long."""
        looked_at = self.host.view_name == "rules"
        seconds = proof_runner.LOOKED_AT if looked_at else proof_runner.BY_ITSELF
        if not status.known.whole and self.proofs.wants(status.plan, seconds):
            self.proofs.begin(status.plan, status.verdicts, seconds)

    def _proved(self) -> None:
        """Show what was proved."""
        if self.standing is not None:
            self._show(self.standing)

    def _show(self, status: SweepStatus) -> None:
        before = self.standing
        verdicts, proving = self.proofs.added(status.plan, status.verdicts), self.proofs.running
        self.standing = status = status._replace(verdicts=verdicts, proving=proving)
        if before is not None and before.plan is not status.plan:
            self._plan_before, self._said = before, set()
        turned = [words for words in changed_verdicts(self._plan_before, status) if words not in self._said]
        self._said.update(turned)
        self.host.rules_told(turned)


def changed_verdicts(before: SweepStatus | None, now: SweepStatus) -> Iterator[str]:
    """Say which rules an edit gave another verdict, as far as both are known: where the one breaks the other must hold."""
    for other, verdict in _before_and_now(before, now):
        if verdict.status == "broken" and _holds_where_broken(other, verdict):
            yield messages.BROKEN_NOW.format(rule=verdict.rule.short)
        elif other.status == "broken" and _holds_where_broken(verdict, other):
            yield messages.HOLDS_AGAIN.format(rule=verdict.rule.short)


def still_unknown(before: SweepStatus | None, now: SweepStatus) -> int:
    """Count the rules that were broken before an edit and hold now, but not yet to where they broke."""
    return sum(
        other.status == "broken" and verdict.status == "holds" and not _holds_where_broken(verdict, other)
        for other, verdict in _before_and_now(before, now)
    )


def _before_and_now(before: SweepStatus | None, now: SweepStatus) -> Iterator[tuple[Verdict, Verdict]]:
    """Go through the rules, each with its verdict before; with the same one where it is new."""
    was = {verdict.rule.called: verdict for verdict in before.verdicts} if before is not None else {}
    return ((was.get(verdict.rule.called, verdict), verdict) for verdict in now.verdicts)


def _holds_where_broken(verdict: Verdict, broken: Verdict) -> bool:
    steps = min((each.steps for each in broken.counterexamples), default=0)
    return verdict.status == "holds" and (verdict.every_depth or verdict.extent.depth >= steps)


def time_left_text(standing: SweepStatus) -> str:
    """Say how long it may still take."""
    return duration_text(max(round((standing.until - standing.known.seconds) * 10) * 100, 0))
