"""Judging each step that is new by all rules: what may break one, what is used, and which screens are seen."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.rules.actions import Stay
from wise_ladder.rules.decision_tree import Candidate, Judgement
from wise_ladder.rules.predicates import KINDS
from wise_ladder.rules.transition import FEATURES, Transition
from wise_ladder.rules.used_parts import parts_in, parts_of
from wise_ladder.semantics.plan_index import index_of

if TYPE_CHECKING:
    from wise_ladder.plan import Plan
    from wise_ladder.plan.rule import Rule
    from wise_ladder.rules.decision_tree import AbstractKey, NewTransition
    from wise_ladder.rules.predicates import Predicate
    from wise_ladder.rules.transition import PlanRef, Violation
    from wise_ladder.rules.used_parts import PartKey
    from wise_ladder.rules.witnesses import GoalsOf

MAX_TRIED = 20
"""So many states are tried for one guilty place where a break must be done again to be one."""


class RuleChecker:
    """Judges steps by rules; what a judge looks at is looked at for good, so that no step need be judged again."""

    def __init__(self, plan: Plan, rules: tuple[Rule, ...], goals_of: GoalsOf, *, states_apart: bool = False) -> None:
        """Begin with nothing judged; `goals_of` tells what else is watched for.

        `states_apart`: what can be judged of each state by itself is judged where it stays, and not at each step.
        """
        self.plan, self.rules, self._goals_of, self._states_apart = plan, rules, goals_of, states_apart
        self._watched = frozenset(screen for rule in rules if rule.name == "never beneath" for screen in rule.screens)
        self.attempts: dict[tuple[int, PlanRef], int] = {}
        """How often a break was tried; a negative number: it is proved."""
        self.unsure: set[int] = set()
        """The rules of which something was too much to look at."""
        self._judges: dict[tuple[int, bool], list[tuple[int, Rule, Predicate]]] = {}
        """The predicates to run on a step, by its features and whether it stays."""
        self._harmless: dict[AbstractKey, tuple[int, int]] = {}
        """For each abstract state: the rules that look at nothing else and are not broken by it, and the moves read (bits)."""
        self._used: set[PartKey] = set()

    def judge(self, transition: NewTransition) -> Judgement:
        """Judge a step that is new: what may break a rule, and what else is watched for."""
        done = transition.successor
        edge = Transition(
            transition.plan, transition.before, transition.action, done.state, done.log, done.moves,
            refused=done.refused, watched=self._watched,
        )  # fmt: skip
        guilts = self._guilts(transition, edge)
        self._used.update(parts_in(edge))
        self.unsure.update(number for number, guilt in guilts if not guilt.sure)
        sure = ((number, guilt) for number, guilt in guilts if guilt.sure)
        candidates = (Candidate(number, guilt, transition) for number, guilt in sure if self.may_try(number, guilt.place))
        return Judgement(tuple(candidates), tuple(self._goals_of(edge)))

    def _guilts(self, transition: NewTransition, edge: Transition) -> list[tuple[int, Violation]]:
        guilts: list[tuple[int, Violation]] = []
        signs, stays = edge.features(), isinstance(transition.action, Stay)
        harmless, read_then = self._harmless.get(transition.comes_to, (0, 0))
        tables = index_of(transition.plan)
        read_before, tables.read = tables.read, read_then
        try:
            for number, rule, judge in self._who_judges(signs, stays=stays):
                if harmless >> number & 1 or (edge.refused and KINDS[rule.name].tracks != "dead taps"):
                    # Refused taps are there for one kind of rule alone: to others they would be one more way to the same state.
                    continue
                broken_by = [(number, guilt) for guilt in judge(rule, edge)]
                if not broken_by and KINDS[rule.name].state_only:
                    harmless |= 1 << number
                if broken_by and (stays or not (KINDS[rule.name].persistent and any(judge(rule, edge.as_self_loop)))):
                    guilts += broken_by
            # A deeper look comes here again.
            self._harmless[transition.comes_to] = harmless, tables.read
        finally:
            tables.read |= read_before
        return guilts

    def _who_judges(self, signs: int, *, stays: bool) -> list[tuple[int, Rule, Predicate]]:
        judges = self._judges.get((signs, stays))
        if judges is None:
            kinds = ((number, rule, KINDS[rule.name]) for number, rule in enumerate(self.rules))
            judges = self._judges[signs, stays] = [
                (number, rule, kind.predicate)
                for number, rule, kind in kinds
                if kind.predicate is not None
                and any(FEATURES[sign] & signs for sign in kind.features)
                and stays == (self._states_apart and kind.of_each_state)
            ]
        return judges

    def may_try(self, rule: int, place: PlanRef) -> bool:
        """Whether it is not proved yet that a place breaks a rule, and may still be tried."""
        return 0 <= self.attempts.get((rule, place), 0) < MAX_TRIED

    def unproved(self, rule: int) -> int:
        """Count the places that seemed to break a rule, and no run showed it."""
        return sum(one == rule and tried > 0 for (one, _), tried in self.attempts.items())

    def unused(self) -> tuple[PlanRef, ...]:
        """List what nothing met: screens, moves, guards, redirects, links and replies."""
        return tuple(place for part, place in parts_of(self.plan) if part not in self._used)
