"""Guesses of what a choice looks at next: only where it was always the same, and only what is left out."""

import unittest

from msgspec.structs import replace

from tests.plans import plan_of
from wise_ladder.plan.events import Tap
from wise_ladder.rules.usual_looks import UsualLooks
from wise_ladder.semantics.state import Rung, RungData, State, initial_state
from wise_ladder.semantics.symbolic import SAVED, UNREAD, RefinementNeeded, RestAnswer, cut

FACT, ROWS = RefinementNeeded("fact", 0), RefinementNeeded("rests", 0, SAVED)
TAP = Tap("hive")


class Usual(unittest.TestCase):
    def setUp(self) -> None:
        plan = plan_of("facts: {seen: [no, yes]}\nscreens: {hives: {}, hive: {}}")
        ladder = (cut(0), Rung(RungData("hive"), 1))
        self.state: State = replace(initial_state(plan), facts=UNREAD[:1], ladder=ladder)
        self.looks = UsualLooks()
        self.trail = self.looks.begin(TAP, self.state)

    def test_what_was_looked_at_is_guessed_the_next_time(self) -> None:
        self.assertIsNone(self.looks.guess(self.trail, self.state))
        self.looks.note(self.trail, FACT)
        self.assertIs(self.looks.guess(self.looks.begin(TAP, self.state), self.state), FACT)
        self.assertIsNone(self.looks.guess(self.looks.begin(Tap("comb"), self.state), self.state))

    def test_what_was_seen_leads_to_another_guess(self) -> None:
        yes, no = (self.looks.after(self.trail, FACT, value) for value in ("yes", "no"))
        self.looks.note(yes, ROWS)
        self.assertIs(self.looks.guess(yes, self.state), ROWS)
        self.assertIsNone(self.looks.guess(no, self.state))

    def test_what_differed_once_is_guessed_no_more(self) -> None:
        for other in (ROWS, None):
            trail = self.looks.after(self.trail, FACT, str(other))
            self.looks.note(trail, FACT)
            self.looks.note(trail, other)
            self.looks.note(trail, FACT)
            self.assertIsNone(self.looks.guess(trail, self.state))

    def test_what_is_known_is_not_asked_again(self) -> None:
        self.looks.note(self.trail, FACT)
        self.assertIsNone(self.looks.guess(self.trail, replace(self.state, facts=("yes",))))
        rows = self.looks.after(self.trail, FACT, "yes")
        self.looks.note(rows, ROWS)
        known = cut(0).with_answer(RestAnswer(SAVED, SAVED))  # type: ignore[attr-defined]
        self.assertIsNone(self.looks.guess(rows, replace(self.state, ladder=(known, *self.state.ladder[1:]))))


if __name__ == "__main__":
    unittest.main()
