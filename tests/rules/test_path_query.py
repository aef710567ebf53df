"""Path to a state: questions in the words of a plan, with answers known beforehand."""

import unittest

from tests.plans import COMBFIELD, plan_of
from wise_ladder.errors import QuestionError
from wise_ladder.plan import Plan
from wise_ladder.rules.path_query import Answer, answer, complete_question, parse_question
from wise_ladder.rules.verdicts import Bounds
from wise_ladder.semantics import initial_state, step
from wise_ladder.semantics.state import visible_top

PLAN = plan_of("""
    facts: {session: [valid, expired]}
    screens:
      hives:
        moves: [{when: tap hive, do: push hive}, {when: tap out, do: [set session expired, push sign in]}]
      hive:
        moves: [{when: tap hive, do: push hive}, {when: tap form, do: push form}]
      form:
        holds: {draft: [clean, edited]}
        moves: [{when: tap write, do: set draft edited}]
        guards: [{name: unsaved, if: draft is edited, block: yes}]
      sign in: {moves: [{when: tap in, do: [set session valid, pop]}]}
      never: {}
""")


def ask(plan: Plan, question: str, depth: int = 6) -> Answer:
    return answer(plan, parse_question(plan, question), Bounds(depth=depth, seconds=60))


class Questions(unittest.TestCase):
    def test_found_after_so_many_steps(self) -> None:
        for question, steps in (
            ("hive seen", 2),
            ("hive beneath hive", 3),
            ("hives beneath sign in", 2),
            ("hive beneath form", 3),
            ("form seen and draft is edited", 4),
            ("hives beneath form and draft is edited", 4),
            ("session is expired", 2),
            ("hives seen and session is expired", 3),
            ("depth over 3", 4),
            ("not alone and session is valid", 2),
            ("Back from hive lands on hives", 3),
            ("Back from hive lands on hive", 4),
            ("back from sign in lands on hives", 3),
            ("Back from hives leaves the app", 2),
            ("Back from hives leaves", 2),
        ):
            with self.subTest(question):
                found = ask(PLAN, question)
                self.assertEqual([path.steps for path in found.paths][:1], [steps])

    def test_not_found_says_how_far_it_looked(self) -> None:
        for question in ("never seen", "sign in beneath hive", "Back from form lands on sign in"):
            with self.subTest(question):
                found = ask(PLAN, question, 4)
                self.assertEqual((found.paths, found.extent.depth), ([], 4))

    def test_a_tap_of_the_app_is_not_back(self) -> None:
        found = ask(COMBFIELD, "Back from comb lands on hives", 4)
        self.assertEqual((found.paths, found.doubt), ([], ""))

    def test_each_path_is_run_by_step_and_ends_in_what_was_asked_for(self) -> None:
        for question, top in (("form seen and draft is edited", "form"), ("Back from hive lands on hives", "hives")):
            (path, *_) = ask(PLAN, question).paths
            state = initial_state(PLAN)
            for entry in path.tape.entries:
                state = step(PLAN, state, entry.event).state
            seen = visible_top(state)
            self.assertEqual(seen and seen.data.screen, top)

    def test_of_combfield(self) -> None:
        for question, steps in (
            ("sign in seen", 2),
            ("hives beneath hive", 3),
            ("hive seen and session is valid", 3),
            ("Back from hive lands on hives", 4),
            ("depth over 3", 4),
        ):
            with self.subTest(question):
                self.assertEqual([path.steps for path in ask(COMBFIELD, question).paths][:1], [steps])

    def test_what_may_come_next(self) -> None:
        for typed, offered in (
            ("", "hives seen"),
            ("sig", "sign in beneath "),
            ("hive ben", "hive beneath"),
            ("hive beneath fo", "form"),
            ("Back from hi", "hives lands on "),
            ("Back from hive lands on s", "sign in"),
            ("hives seen and se", "session"),
            ("session is e", "expired"),
            ("dep", "depth over"),
        ):
            with self.subTest(typed):
                self.assertIn(offered.strip(), [each.text.strip() for each in complete_question(PLAN, typed)])

    def test_what_is_no_question(self) -> None:
        for question, said in (
            ("hvie seen", 'there is no screen "hvie"; did you mean "hive"?'),
            ("hive beneath hvies", 'there is no screen "hvies"; did you mean "hives"?'),
            ("Back from hive lands on hievs", 'there is no screen "hievs"; did you mean "hives"?'),
            ("hives seen and sesion is valid", '"sesion" is neither a fact nor an argument here; did you mean "session"?'),
            ("go there", "go there"),
        ):
            with self.subTest(question), self.assertRaises(QuestionError) as caught:
                parse_question(PLAN, question)
            self.assertIn(said.split(";")[0].split(" is neither")[0], str(caught.exception))


if __name__ == "__main__":
    unittest.main()
