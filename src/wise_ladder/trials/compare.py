"""What is told of two versions of a plan: what a user notices, what is only kept otherwise, which walks and rules turned."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.plan import Event
from wise_ladder.rules.starter import rules_in_force
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.titles import named
from wise_ladder.rules.verdicts import Bounds
from wise_ladder.rules.violations import breaks
from wise_ladder.semantics import initial_state
from wise_ladder.trials.matching import match
from wise_ladder.trials.pairs import Extent, PairSearch
from wise_ladder.trials.saved import SavedLadders, carry_over
from wise_ladder.walks.running import run_walk
from wise_ladder.walks.tape import Tape

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from wise_ladder.plan import Plan
    from wise_ladder.rules.verdicts import Counterexample, Verdict
    from wise_ladder.trials.matching import Names
    from wise_ladder.trials.pairs import Difference

SHARE_OF_RULES, SHARE_OF_SAVED, SHARE_OF_OTHERS = 0.3, 0.1, 0.2
"""So much of the time goes to the rules, to saved ladders, and to other phones and named givens."""


class Turned(NamedTuple):
    """A walk or a rule whose verdict is another one: its name, what it was and what it is, the steps that show it, on both."""

    kind: str
    name: str
    was: str
    now: str
    path: list[str]
    old: Tape
    new: Tape


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
    elsewhere: dict[str, Extent]
    """How far was looked on other phones and with named givens."""

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

    @property
    def whole(self) -> bool:
        """Whether all pairs of states were looked at, elsewhere too."""
        return all(each.whole for each in (self.extent, *self.elsewhere.values()))


def compare(
    old: Plan,
    new: Plan,
    seconds: float,
    *,
    elsewhere: bool = True,
    goes_on: Callable[[], bool] = lambda: True,
    told: Callable[[Versions], None] = lambda _: None,
) -> Versions:
    """Compare two versions for so many seconds.

    `elsewhere`: on the other phones and with the named givens that both have, too; `goes_on` is asked now and then; `told`
    gets what is known so far, several times.
    """
    names = match(old, new)
    search, extents = PairSearch(old, new, names), dict[str, Extent]()
    searches = [search]
    turned, saved = list(_turned_walks(old, new, goes_on)), SavedLadders(0, whole=False, stranded=[])

    def versions(extent: Extent) -> Versions:
        return Versions(old, new, names, _sorted(searches), turned, saved, extent, extents)

    here, there = old.others(), new.others()
    others = [where for where in here if where in there] if elsewhere else []
    share = 1 - SHARE_OF_RULES - SHARE_OF_SAVED - (SHARE_OF_OTHERS if others else 0)
    extent = search.run(seconds * share, goes_on=goes_on, told=lambda extent: told(versions(extent)))
    told(versions(extent))
    for where in others:
        searches.append(PairSearch(here[where], there[where], names))
        extents[where] = searches[-1].run(seconds * SHARE_OF_OTHERS / len(others), goes_on=goes_on)
    saved = carry_over(old, new, names, seconds * SHARE_OF_SAVED, goes_on)
    told(versions(extent))
    turned += _turned_rules(old, new, names, seconds * SHARE_OF_RULES / 2, goes_on)
    return versions(extent)


def _sorted(searches: list[PairSearch]) -> list[Difference]:
    """List what was found, once even if it is so on several phones."""
    found = {key: difference for search in reversed(searches) for key, difference in list(search.found.items())}
    return sorted(found.values(), key=lambda each: (each.grade != "noticed", len(each.path), len(each.event), each.words))


def _turned_walks(old: Plan, new: Plan, goes_on: Callable[[], bool]) -> Iterator[Turned]:
    """List the walks of both versions that pass in one only."""
    before = {walk.name: walk for walk in old.walks}
    for walk in new.walks:
        if walk.name not in before or not goes_on():
            continue
        was, now = run_walk(old, before[walk.name]), run_walk(new, walk)
        if was.passed != now.passed:
            wrong = now if now.failed is not None else was
            steps = [line.line.text for line in wrong.played[: (wrong.failed or 0) + 1]]
            words = {True: "passes", False: "fails"}
            yield Turned("walk", walk.name, words[was.passed], words[now.passed], steps,
                         Tape.from_walk(old, was), Tape.from_walk(new, now))  # fmt: skip


def _turned_rules(old: Plan, new: Plan, names: Names, seconds: float, goes_on: Callable[[], bool]) -> Iterator[Turned]:
    """List the rules of both versions that are broken in one only.

    Both sweeps are bounded: one that found nothing may only not have come far enough. So the steps that break a rule in one
    version are tried on the other, and count only if they do not break it there.
    """
    before = {named(verdict.rule): verdict for verdict in _verdicts(old, seconds, goes_on)}
    for now in _verdicts(new, seconds, goes_on):
        was = before.get(named(now.rule))
        if was is None or (was.status == "broken") == (now.status == "broken"):
            continue
        broken, other, there, called = (now, was, old, names.backwards) if now.status == "broken" else (was, now, new, names)
        shown = next(_only_here(broken.counterexamples, other, there, called), None)
        if shown is not None:
            path, (here, elsewhere) = shown[0].as_steps()[:-1], shown
            tapes = (elsewhere, here) if broken is now else (here, elsewhere)
            yield Turned("rule", named(now.rule), was.words, now.words, path, *tapes)
        elif not broken.counterexamples:
            empty = Tape(old, initial_state(old)), Tape(new, initial_state(new))
            yield Turned("rule", named(now.rule), was.words, now.words, [], *empty)


def _only_here(found: tuple[Counterexample, ...], other: Verdict, plan: Plan, names: Names) -> Iterator[tuple[Tape, Tape]]:
    """Go through the counterexamples that do not break the rule in the other version, each with what its steps do there."""
    for each in found:
        tape = each.tape.rerun_on(plan, events=[names.renamed(entry.event) for entry in each.tape.entries])
        refused = names.renamed(each.refused) if isinstance(each.refused, Event) else each.refused
        if not breaks(other.rule, tape, refused):
            yield each.tape, tape


def _verdicts(plan: Plan, seconds: float, goes_on: Callable[[], bool]) -> tuple[Verdict, ...]:
    sweep = Sweep(plan, Bounds(seconds=seconds), rules_in_force(plan))
    sweep.run(goes_on=goes_on)
    return sweep.verdicts()
