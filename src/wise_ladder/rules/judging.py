"""Judging each step that is new by all rules: what may break one, what is used, and which screens are seen."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.ladder.asked import redirect_words
from wise_ladder.ladder.happenings import LinkFollowed
from wise_ladder.ladder.state import visible_path
from wise_ladder.ladder.tables import tables
from wise_ladder.plan.events import Reply
from wise_ladder.rules.edges import SIGNS, Edge, Place, move_place
from wise_ladder.rules.leaves import Suspect
from wise_ladder.rules.meaning import AFTERWARDS, JUDGES, LASTING
from wise_ladder.walks.exploring import things_met

if TYPE_CHECKING:
    from wise_ladder.plan import Plan
    from wise_ladder.plan.model import Link, Rule
    from wise_ladder.rules.edges import Guilt
    from wise_ladder.rules.leaves import Comes, Found
    from wise_ladder.rules.meaning import Judge
    from wise_ladder.walks.exploring import Met

MOST_TRIED = 20
"""So many states are tried for one guilty place where a break must be done again to be one."""


class Judging:
    """Judges steps by rules; what a judge looks at is looked at for good, so that no step need be judged again."""

    def __init__(self, plan: Plan, rules: tuple[Rule, ...]) -> None:
        """Begin with nothing judged."""
        self.plan, self.rules = plan, rules
        self.suspects: dict[tuple[int, Place], int] = {}
        """How often a break was tried; a negative number: it is proved."""
        self.unsure: set[int] = set()
        """The rules of which something was too much to look at."""
        self._judges: dict[int, list[tuple[int, Rule, Judge]]] = {}
        """Who judges a step, by its signs."""
        self._harmless: dict[Comes, int] = {}
        """Of what can come a bit for each rule that looks at nothing else and is not broken by it."""
        self._used: set[Met | Link] = set()
        self._screens: set[str] = set()
        self._replies: set[tuple[str, str]] = set()

    def judge(self, found: Found) -> tuple[Suspect, ...]:
        """Judge a step that is new; return what may break a rule."""
        done = found.done
        edge = Edge(found.plan, found.before, found.choice, done.state, done.happened, done.taken, refused=done.refused)
        guilts: list[tuple[int, Guilt]] = []
        signs = edge.signs()
        harmless = self._harmless.get(found.comes_to, 0)
        for number, rule, judge in self._who_judges(signs):
            if harmless >> number & 1:
                continue
            broken_by = [(number, guilt) for guilt in judge(rule, edge)]
            if not broken_by and rule.name in AFTERWARDS:
                harmless |= 1 << number
            if broken_by and not (rule.name in LASTING and any(judge(rule, edge.stayed))):
                guilts += broken_by
        # Whoever looks deeper comes here again.
        self._harmless[found.comes_to] = harmless
        self._used.update(things_met(self.plan, done.taken, done.happened))
        if signs & SIGNS["link"]:
            links = (tables(found.plan).link_of(happening.address).link for happening in edge.all_of(LinkFollowed))
            self._used.update(link for link in links if link is not None)
        if isinstance(found.choice, Reply):
            self._replies.add((found.choice.call, found.choice.outcome))
        if edge.moved and edge.top_after is not None:
            self._screens.update(rung.face.screen for rung in visible_path(done.state.ladder))
        self.unsure.update(number for number, guilt in guilts if not guilt.sure)
        sure = ((number, guilt) for number, guilt in guilts if guilt.sure)
        return tuple(Suspect(number, guilt, found) for number, guilt in sure if self.is_open(number, guilt.place))

    def _who_judges(self, signs: int) -> list[tuple[int, Rule, Judge]]:
        found = self._judges.get(signs)
        if found is None:
            found = self._judges[signs] = [
                (number, rule, JUDGES[rule.name][0])
                for number, rule in enumerate(self.rules)
                if rule.name in JUDGES and any(SIGNS[sign] & signs for sign in JUDGES[rule.name][1])
            ]
        return found

    def is_open(self, rule: int, place: Place) -> bool:
        """Whether it is not proved yet that a place breaks a rule, and may still be tried."""
        return 0 <= self.suspects.get((rule, place), 0) < MOST_TRIED

    def unproved(self, rule: int) -> int:
        """Count the places that seemed to break a rule, and no run showed it."""
        return sum(one == rule and tried > 0 for (one, _), tried in self.suspects.items())

    def unused(self) -> tuple[Place, ...]:
        """List what nothing met: screens, moves, guards, redirects, links and replies."""
        plan, used = self.plan, self._used
        redirects = {each[0] for each in used if isinstance(each, tuple)}
        found = [Place(f"screen {screen.name}", screen.at) for screen in plan.screens if screen.name not in self._screens]
        found += [move_place(move) for move in plan.moves if move not in used]
        found += [Place(f"guard {guard.name}", guard.at) for guard in plan.guard.values() if guard not in used]
        found += [
            Place(f"redirect of {redirect_words(redirect)}", redirect.at)
            for redirect in plan.redirects
            if redirect not in redirects
        ]
        found += [Place(f"link {link.address}", link.at) for link in plan.links if link not in used]
        found += [
            Place(f"reply {call.name} gives {outcome.name}", call.at)
            for call in plan.calls
            for outcome in call.outcomes
            if (call.name, outcome.name) not in self._replies
        ]
        return tuple(found)
