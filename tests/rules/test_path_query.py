"""Path to a state: questions in the words of a plan, with answers known beforehand."""

import unittest
from typing import ClassVar

from tests.plans import COMBFIELD, plan_of
from wise_ladder.errors import QuestionError
from wise_ladder.plan import Plan
from wise_ladder.rules.path_query import Answer, answer
from wise_ladder.rules.path_question import complete_question, parse_question
from wise_ladder.rules.sweep import Sweep
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
      sign in: {moves: [{when: tap in, do: [set session valid, pop]}, {when: tap up, if: session is valid, do: pop}]}
      never: {}
""")
POPS = plan_of("screens: {hives: {moves: [{when: tap back, do: pop}]}}")


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

    def test_parts_that_are_used_and_findings(self) -> None:
        for question, steps in (
            ("tap out used", 2),
            ("hives, tap out used", 2),
            ("tap hive used", 2),
            ("hive, tap hive used", 3),
            ("tap form taken", 3),
            ("guard unsaved used", 5),
            ("finding pop at the root", 2),
        ):
            with self.subTest(question):
                self.assertEqual(
                    [path.steps for path in ask(POPS if "root" in question else PLAN, question).paths][:1], [steps]
                )

    def test_replies_are_used_and_a_redirect_that_is_not_tells_its_screens(self) -> None:
        plan = plan_of("""
            facts: {session: [valid, expired]}
            calls: {weigh: {ok: 300ms}}
            screens:
              hives: {moves: [{when: tap weigh, do: call weigh}, {when: tap hive, do: push hive}]}
              hive: {}
              sign in: {}
            redirects: [{to: hive, if: session is expired, send to: sign in}]
        """)
        self.assertEqual([path.steps for path in ask(plan, "reply weigh gives ok used").paths][:1], [4])
        found = ask(plan, "redirect of hive used")
        self.assertEqual([(path.words, path.steps) for path in found.nearest], [("hive seen", 2)])

    def test_different_ends_are_told_apart(self) -> None:
        ladders = [path.ladder for path in ask(PLAN, "session is expired").paths]
        self.assertEqual(ladders, ["hives > sign in"])
        ladders = [path.ladder for path in ask(PLAN, "depth over 2").paths]
        self.assertEqual(sorted(ladders), ["hives > hive > form", "hives > hive > hive"])

    def test_where_nothing_is_found_the_nearest_is_told(self) -> None:
        for question, nearest in (
            ("form beneath sign in", [("form on the ladder", 3), ("sign in seen", 2)]),
            ("form seen and draft is edited and session is expired",
             [("form seen and draft is edited", 4), ("draft is edited and session is expired", None),
              ("form seen and session is expired", None)]),
            ("depth over 9", [("depth over 3", 4)]),
            ("Back from form lands on sign in", [("Back from form lands on hive", 4), ("Back from form is blocked (unsaved)", 5)]),
            ("tap up used", [("sign in seen", 2)]),
            ("never seen", []),
        ):  # fmt: skip
            with self.subTest(question):
                found = ask(PLAN, question, 5 if "Back" in question else 4)
                self.assertEqual(found.paths, [])
                known = {path.words: path.steps for path in found.nearest}
                self.assertEqual(known, {words: steps for words, steps in nearest if steps is not None})

    def test_what_a_sweep_has_met_is_told_at_once(self) -> None:
        sweep = Sweep(PLAN, Bounds(depth=4))
        sweep.run()
        for question, steps in (("hive beneath form", [3]), ("Back from hive lands on hives", [3])):
            asked = parse_question(PLAN, question)
            self.assertEqual([path.steps for path in answer(PLAN, asked, Bounds(depth=0), known=sweep).paths], steps)
            self.assertEqual(answer(PLAN, asked, Bounds(depth=0)).paths, [])

    def test_each_path_is_run_by_step_and_ends_in_what_was_asked_for(self) -> None:
        for question, top in (("form seen and draft is edited", "form"), ("Back from hive lands on hives", "hives")):
            (path, *_) = ask(PLAN, question).paths
            state = initial_state(PLAN)
            for entry in path.tape.entries:
                state = step(PLAN, state, entry.event).state
            seen = visible_top(state)
            self.assertEqual(seen and seen.data.screen, top)

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
            ("hive ben", "hive beneath"),
            ("tap o", "tap out used"),
            ("guard ", "guard unsaved used"),
            ("finding nob", "finding nobody waits"),
        ):
            with self.subTest(typed):
                self.assertIn(offered.strip(), [each.text.strip() for each in complete_question(PLAN, typed)])

    def test_after_a_screen_come_no_words_of_conditions(self) -> None:
        self.assertEqual([each.text for each in complete_question(PLAN, "hive ben")], ["hive beneath "])

    def test_what_is_no_question(self) -> None:
        for question, said in (
            ("hvie seen", 'there is no screen "hvie"; did you mean "hive"?'),
            ("hive beneath hvies", 'there is no screen "hvies"; did you mean "hives"?'),
            ("Back from hive lands on hievs", 'there is no screen "hievs"; did you mean "hives"?'),
            ("hives seen and sesion is valid", '"sesion" is neither a fact nor an argument here; did you mean "session"?'),
            ("go there", "go there"),
            ("tap hvie used", 'nothing that can be used is called "tap hvie"; did you mean "tap hive"?'),
            ("finding lost", 'there is no finding "lost"; did you mean'),
        ):
            with self.subTest(question), self.assertRaises(QuestionError) as caught:
                parse_question(PLAN, question)
            self.assertIn(said.split(";")[0].split(" is neither")[0], str(caught.exception))


class OfCombfield(unittest.TestCase):
    """What is known beforehand of Combfield: the fewest steps to it, counted by hand; 0: not within four."""

    sweep: ClassVar[Sweep]

    @classmethod
    def setUpClass(cls) -> None:
        cls.sweep = Sweep(COMBFIELD, Bounds(depth=4, seconds=60))
        cls.sweep.run()

    def asked(self, question: str, steps: int) -> None:
        with self.subTest(question):
            found = answer(COMBFIELD, parse_question(COMBFIELD, question), Bounds(depth=4, seconds=60), known=self.sweep)
            self.assertEqual(([path.steps for path in found.paths][:1], found.doubt), ([steps] if steps else [], ""))

    def test_states(self) -> None:
        for question, steps in (
            ("sign in seen", 2),
            ("splash seen", 2),
            ("welcome seen", 3),
            ("rules of the yard seen", 4),
            ("first steps seen", 3),
            ("home seen", 3),
            ("frames seen", 4),
            ("comb seen and sending is no", 3),
            ("inspection seen", 4),
            ("hives beneath hive", 3),
            ("hive beneath alert", 3),
            ("sign in beneath reset code", 3),
            ("home beneath sign in", 4),
            ("hive beneath sign in and session is expired", 4),
            ("hive beneath hive", 4),
            ("hive seen and season is winter", 4),
            ("depth over 3", 4),
            ("settings seen", 3),
            ("inspection beneath inspection", 0),
            ("sign in beneath home", 0),
            ("hive seen and session is expired", 0),
            ("hives seen and not alone", 0),
            # Home stands around the hives, not beneath them.
            ("home beneath hives", 0),
        ):
            self.asked(question, steps)

    def test_landings(self) -> None:
        for question, steps in (
            ("Back from hive lands on hives", 4),
            ("Back from alert lands on hive", 4),
            ("Back from reset code lands on sign in", 4),
            ("Back from sign in leaves the app", 3),
            ("Back from hive lands on sign in", 0),
            # A tap leads there.
            ("Back from comb lands on hives", 0),
        ):
            self.asked(question, steps)

    def test_parts_and_findings(self) -> None:
        for question, steps in (
            ("redirect of hives used", 1),
            ("tap forgotten code used", 3),
            ("tap menu used", 4),
            ("guard signed out used", 0),
            ("finding result lost", 4),
            ("finding runaway", 0),
        ):
            self.asked(question, steps)


if __name__ == "__main__":
    unittest.main()
