"""What Rules is about, without a screen: the verdicts, the chosen rule, its guilty place and the frame one looks at."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

if TYPE_CHECKING:
    from wise_ladder.app.sweep_runner import SweepStatus
    from wise_ladder.rules.verdicts import Counterexample, Verdict

_ORDER = {"broken": 0, "undecided": 1, "holds": 2}


class ShownCounterexample(NamedTuple):
    """A counterexample that is shown, of which verdict, and where else it is broken; nothing: where the plan runs."""

    where: str
    verdict: Verdict
    found: Counterexample


class RuleSelection:
    """The rules, broken ones first, then those that are broken elsewhere, and what is chosen of them."""

    def __init__(self) -> None:
        """Begin with nothing known."""
        self.standing: SweepStatus | None = None
        self.verdicts: list[Verdict] = []
        """The verdicts as they are listed."""
        self.key: tuple[str, tuple[str, ...], str] | None = None
        self.own_choice = False
        """Whether the user chose a rule; until then the first in the list is shown."""
        self.guilty, self.frame = 0, -1
        """Which guilty place, and which frame of its film; -1: the last."""

    def take_up(self, standing: SweepStatus | None) -> None:
        """Show other verdicts; the chosen rule stays the chosen one."""
        self.standing = standing
        verdicts = list(standing.verdicts) if standing is not None else []
        self.verdicts = sorted(verdicts, key=self._order)
        if not self.own_choice or all(self.key_of(verdict) != self.key for verdict in self.verdicts):
            self._choose(self.verdicts[0] if self.verdicts else None)

    def _order(self, verdict: Verdict) -> tuple[int, bool]:
        """Broken rules keep the plan's order, whatever is found elsewhere."""
        elsewhere = any(other.counterexamples for other in self.elsewhere(verdict).values())
        return _ORDER[verdict.status], not (verdict.counterexamples or elsewhere)

    @staticmethod
    def key_of(verdict: Verdict) -> tuple[str, tuple[str, ...], str]:
        """Name a rule so that it is known again after an edit."""
        return verdict.rule.name, verdict.rule.screens, verdict.rule.at.short if not verdict.rule.starter else ""

    @property
    def place(self) -> int:
        """The place of the chosen rule in the list."""
        return next((place for place, verdict in enumerate(self.verdicts) if self.key_of(verdict) == self.key), 0)

    @property
    def verdict(self) -> Verdict | None:
        """The chosen one."""
        return self.verdicts[self.place] if self.verdicts else None

    def elsewhere(self, verdict: Verdict) -> dict[str, Verdict]:
        """Return the verdicts on the same rule on other phones and with other named givens, as far as these were swept."""
        others = self.standing.others if self.standing is not None else {}
        return {where: each for where, verdicts in others.items() for each in verdicts if each.rule == verdict.rule}

    @property
    def shown(self) -> ShownCounterexample | None:
        """What is shown of the chosen rule; if it is broken only elsewhere, what is shown there."""
        if self.verdict is None:
            return None
        for where, verdict in [("", self.verdict), *self.elsewhere(self.verdict).items()]:
            if verdict.counterexamples:
                return ShownCounterexample(
                    where, verdict, verdict.counterexamples[min(self.guilty, len(verdict.counterexamples) - 1)]
                )
        return None

    @property
    def counterexample(self) -> Counterexample | None:
        """The one that is shown."""
        return self.shown.found if self.shown is not None else None

    @property
    def at(self) -> int:
        """The frame one looks at, from 0."""
        counterexample = self.counterexample
        last = len(counterexample.tape.entries) - 1 if counterexample is not None else 0
        return last if self.frame < 0 else min(self.frame, last)

    def choose(self, place: int) -> None:
        """Choose a rule by its place in the list."""
        verdicts = self.verdicts
        if verdicts:
            self.own_choice = True
            self._choose(verdicts[place % len(verdicts)])

    def _choose(self, verdict: Verdict | None) -> None:
        key = self.key_of(verdict) if verdict is not None else None
        if key != self.key:
            self.key, self.guilty, self.frame = key, 0, -1

    def go(self, way: int) -> None:
        """Go to another frame of the film."""
        counterexample = self.counterexample
        if counterexample is not None:
            self.frame = min(max(self.at + way, 0), len(counterexample.tape.entries) - 1)

    def next_guilty(self) -> bool:
        """Show the next violation of the selected rule; False if there is no other."""
        if self.shown is None or len(self.shown.verdict.counterexamples) < 2:
            return False
        self.guilty, self.frame = (self.guilty + 1) % len(self.shown.verdict.counterexamples), -1
        return True
