"""Explain a step: what was asked, in what order, and each answer."""

import random
import unittest

from tests.plans import COMBFIELD, plan_of, run
from tests.random_plans import likely, plan_of_seed
from wise_ladder.plan import Event, Plan
from wise_ladder.plan.events import Answer, Back, Launch, OpenLink, Tap, Wait
from wise_ladder.semantics import initial_state, step
from wise_ladder.semantics.explain import explain

PLAN = plan_of("""
    facts: {session: [none, valid]}
    screens:
      hives:
        moves:
          - {when: tap go, if: session is valid, do: push diary}
          - {when: tap go, do: push hive}
          - {when: tap go, do: push week}
      hive:
        holds: {draft: [clean, edited]}
        moves: [{when: tap write, do: set draft edited}]
        guards:
          - {name: first, if: draft is edited, ways: [header], block: yes}
          - {name: second, if: draft is edited, block: yes}
          - {name: third, block: yes}
      diary:
      week:
      sign in:
    redirects:
      - {to: [week], send to: hives}
      - {to: [diary, hive], if: session is valid, send to: sign in}
    links: [{address: 'x://a', build: [hives]}, {address: 'x://b', build: [diary]}, {address: 'x://c', build: [week]}]
""")


class Asking(unittest.TestCase):
    def asked(self, *events: Event, plan: Plan = PLAN) -> list[tuple[str, str, str, str]]:
        state = run(plan, *events[:-1])
        return [(each.kind, each.name, each.verdict, each.because) for each in explain(plan, state, events[-1]).asked]

    def test_moves_in_their_order_and_redirects(self) -> None:
        self.assertEqual(
            self.asked(Launch(), Tap("go")),
            [
                ("move", "hives, tap go", "passed", "session is none, not valid"),
                ("move", "hives, tap go", "took it", ""),
                ("move", "hives, tap go", "not asked", ""),
                ("redirect", "week to hives", "passed", "it is not for hive"),
                ("redirect", "diary, hive to sign in", "passed", "session is none, not valid"),
            ],
        )

    def test_guards_by_way_by_condition_and_those_not_asked(self) -> None:
        self.assertEqual(
            self.asked(Launch(), Tap("go"), Tap("write"), Back()),
            [
                ("ladder", "hive", "took it", "a rung is beneath it"),
                ("guard", "first", "passed", "it does not watch system"),
                ("guard", "second", "took it", ""),
                ("guard", "third", "not asked", ""),
            ],
        )
        self.assertIn(("guard", "second", "passed", "draft is clean, not edited"), self.asked(Launch(), Tap("go"), Back()))

    def test_links(self) -> None:
        self.assertEqual(
            self.asked(Launch(), OpenLink("x://b"))[:3],
            [
                ("link", "x://a", "passed", "no link matches x://b"),
                ("link", "x://b", "took it", ""),
                ("link", "x://c", "not asked", ""),
            ],
        )

    def test_a_start_is_told_too(self) -> None:
        self.assertEqual(self.asked(Launch())[0], ("start", "start with hives", "took it", ""))

    def test_why_not_says_what_is_there_instead(self) -> None:
        plan = plan_of("""
            facts: {a: [x, y], b: [x, y]}
            screens:
              hives:
                moves:
                  - {when: tap all, if: a is x and b is y, do: leave}
                  - {when: tap any, if: a is y or b is y, do: leave}
                  - {when: tap not, if: not a is x, do: leave}
                  - {when: tap deep, if: depth over 2, do: leave}
                  - {when: tap lone, if: not alone, do: leave}
                  - {when: tap there, if: hive on the ladder, do: leave}
                  - {when: tap under, if: beneath is hive, do: leave}
              hive:
        """)
        for tap, because in (
            ("all", "b is x, not y"),
            ("any", "a is x and b is x"),
            ("not", "a is x"),
            ("deep", "at most 2 rungs are visible"),
            ("lone", "no rung is beneath"),
            ("there", "hive is not on the ladder"),
            ("under", "hive is not right beneath"),
        ):
            with self.subTest(tap):
                self.assertEqual(self.asked(Launch(), Tap(tap), plan=plan)[-1][2:], ("passed", because))

    def test_why_not_says_what_holds_that_must_not(self) -> None:
        plan = plan_of("""
            facts: {a: [x, y]}
            screens:
              hives: {moves: [{when: tap hive, do: push hive(id=7)}]}
              hive:
                takes: {id: whole number}
                holds: {draft: [clean, edited]}
                moves:
                  - {when: tap fact, if: not a is x, do: leave}
                  - {when: tap own, if: not draft is clean, do: leave}
                  - {when: tap argument, if: not id is 7, do: leave}
                  - {when: tap lone, if: alone, do: leave}
                  - {when: tap deep, if: not depth over 1, do: leave}
                  - {when: tap there, if: not hives on the ladder, do: leave}
                  - {when: tap under, if: not beneath is hives, do: leave}
                  - {when: tap both, if: not (a is x and draft is clean), do: leave}
                  - {when: tap held, if: draft is edited, do: leave}
                  - {when: tap taken, if: id is 12, do: leave}
        """)
        for tap, because in (
            ("fact", "a is x"),
            ("own", "draft is clean"),
            ("argument", "id is 7"),
            ("lone", "a rung is beneath"),
            ("deep", "more than 1 rungs are visible"),
            ("there", "hives is on the ladder"),
            ("under", "hives is right beneath"),
            ("both", "what must not hold, holds"),
            ("held", "draft is clean, not edited"),
            ("taken", "id is 7, not 12"),
        ):
            with self.subTest(tap):
                found = self.asked(Launch(), Tap("hive"), Tap(tap), plan=plan)
                self.assertEqual(found[-1][2:], ("passed", because))

    def test_it_is_the_very_step(self) -> None:
        """What is told comes of the step itself: on random plans both end alike, and asking changes nothing."""
        for seed in range(40):
            chance = random.Random(seed)
            plan = plan_of_seed(chance)
            state = initial_state(plan)
            for _ in range(25):
                event = likely(chance, plan, state)
                found = explain(plan, state, event)
                done = step(plan, state, event)
                self.assertEqual(found.step, done)
                # An answer that goes on takes up a move that was found before.
                for move in done.moves if not isinstance(event, Answer) else ():
                    self.assertTrue(any(each.thing == move and each.verdict == "took it" for each in found.asked), seed)
                state = done.state

    def test_combfield_says_why_the_sign_in_came(self) -> None:
        events: list[Event] = [Launch(), Wait(300), Wait(1200), Tap("next"), Tap("next"), Tap("begin")]
        names = [
            name
            for kind, name, verdict, _ in self.asked(*events, plan=COMBFIELD)
            if kind == "redirect" and verdict == "took it"
        ]
        self.assertEqual(names, ["home, hives, hive, inspection, week, entry, alert, comb, shelf, order, settings to sign in"])


if __name__ == "__main__":
    unittest.main()
