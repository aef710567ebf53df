"""What is told of two versions of a plan: what a user notices, what is only kept otherwise, which walks and rules turned."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.rules.starter import rules_in_force
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.titles import named
from wise_ladder.rules.verdicts import Bounds
from wise_ladder.trials.matching import match
from wise_ladder.trials.pairs import PairSearch
from wise_ladder.trials.saved import carry_over
from wise_ladder.walks.running import run_walk

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.plan import Plan
    from wise_ladder.rules.verdicts import Verdict
    from wise_ladder.trials.matching import Names
    from wise_ladder.trials.pairs import Difference, Extent
    from wise_ladder.trials.saved import SavedLadders

SHARE_OF_RULES, SHARE_OF_SAVED = 0.3, 0.1
"""So much of the time goes to the rules, and to saved ladders."""


class Turned(NamedTuple):
    """A walk or a rule whose verdict is another one: its name, what it was and what it is, and the steps that show it."""

    kind: str
    name: str
    was: str
    now: str
    path: list[str]


class Versions(NamedTuple):
    """What came of comparing two versions of a plan."""

    old: Plan
    new: Plan
    names: Names
    """What was guessed to have another name."""
    differences: list[Difference]
    """What matters most and comes soonest first."""
    turned: list[Turned]
    saved: SavedLadders
    """What becomes of ladders that were saved before the update."""
    extent: Extent

    @property
    def noticed(self) -> list[Difference]:
        """What a user notices."""
        return [each for each in self.differences if each.grade == "noticed"]

    @property
    def kept(self) -> list[Difference]:
        """What is only kept otherwise."""
        return [each for each in self.differences if each.grade == "kept"]

    @property
    def same(self) -> bool:
        """Whether nothing was found that differs."""
        return not self.differences and not self.turned and not self.saved.stranded


def compare(old: Plan, new: Plan, seconds: float, *, goes_on: Callable[[], bool] = lambda: True) -> Versions:
    """Compare two versions for so many seconds; `goes_on` is asked now and then."""
    names = match(old, new)
    search = PairSearch(old, new, names)
    extent = search.run(seconds * (1 - SHARE_OF_RULES - SHARE_OF_SAVED), goes_on=goes_on)
    saved = carry_over(old, new, names, seconds * SHARE_OF_SAVED, goes_on)
    found = sorted(
        search.found.values(), key=lambda each: (each.grade != "noticed", len(each.path), len(each.event), each.words)
    )
    turned = [*_turned_walks(old, new), *_turned_rules(old, new, seconds * SHARE_OF_RULES / 2)]
    return Versions(old, new, names, found, turned, saved, extent)


def _turned_walks(old: Plan, new: Plan) -> list[Turned]:
    """List the walks of both versions that pass in one only."""
    before = {walk.name: run_walk(old, walk) for walk in old.walks}
    found: list[Turned] = []
    for walk in new.walks:
        if walk.name not in before:
            continue
        was, now = before[walk.name], run_walk(new, walk)
        if was.passed != now.passed:
            wrong = now if now.failed is not None else was
            steps = [line.line.text for line in wrong.played[: (wrong.failed or 0) + 1]]
            words = {True: "passes", False: "fails"}
            found.append(Turned("walk", walk.name, words[was.passed], words[now.passed], steps))
    return found


def _turned_rules(old: Plan, new: Plan, seconds: float) -> list[Turned]:
    """List the rules of both versions that are broken in one only, as far as both were swept."""
    before = {named(verdict.rule): verdict for verdict in _verdicts(old, seconds)}
    found: list[Turned] = []
    for now in _verdicts(new, seconds):
        was = before.get(named(now.rule))
        if was is not None and (was.status == "broken") != (now.status == "broken"):
            broken = next(iter((now if now.status == "broken" else was).counterexamples), None)
            found.append(Turned("rule", named(now.rule), was.words, now.words, broken.tape.as_steps()[:-1] if broken else []))
    return found


def _verdicts(plan: Plan, seconds: float) -> tuple[Verdict, ...]:
    sweep = Sweep(plan, Bounds(seconds=seconds), rules_in_force(plan))
    sweep.run()
    return sweep.verdicts()
