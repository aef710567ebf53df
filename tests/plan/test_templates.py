"""The small plans to start from: whatever was asked for, they are read without a warning and their walks pass."""

import unittest
from itertools import product

from wise_ladder.plan.loader import read_plan_text
from wise_ladder.plan.templates import plan_template
from wise_ladder.walks import run_walk
from wise_ladder.walks.report_text import walk_lines


class Templates(unittest.TestCase):
    def test_each_choice_is_a_plan_whose_walks_pass(self) -> None:
        for splash, sign_in, tabs in product((False, True), (False, True), ((), ("hives", "week at a glance", "7"))):
            with self.subTest(splash=splash, sign_in=sign_in, tabs=tabs):
                plan = read_plan_text(plan_template("My: app", splash=splash, sign_in=sign_in, tabs=tabs))
                self.assertEqual((plan.app, plan.warnings), ("My: app", ()))
                self.assertEqual(len(plan.walks), 2 if sign_in else 1)
                for walk in plan.walks:
                    result = run_walk(plan, walk)
                    self.assertTrue(result.passed, "\n".join(walk_lines(result, "plan")))

    def test_all_that_can_be_asked_for(self) -> None:
        text = plan_template("Combfield", splash=True, sign_in=True, tabs=("hives", "week"))
        self.assertEqual(
            text,
            """\
app: Combfield
start: splash

facts:
  session: {values: [none, valid], kept: disk, from outside: [valid to none]}

flows:
  home: {tabs: {hives: hives, week: week}}

screens:
  splash:
    moves:
      - {when: 1200ms on ladder, do: replace home}
  hives:
    moves:
      - {when: tap details(id), do: push details(id=$id)}
      - {when: tap week, do: switch week}
      - {when: tap sign out, do: [set session none, clear on app, push sign in on app]}
  week:
    moves:
      - {when: tap details(id), do: push details(id=$id)}
      - {when: tap hives, do: switch hives}
  details:
    takes: {id: {type: whole number, samples: [1, 2]}}
    moves:
      - {when: tap next, do: replace details(id=2)}
  sign in:
    moves:
      - {when: tap sign in, do: [set session valid, 'go to wanted, else replace home']}

anywhere:
  - {when: session becomes none, except: [splash, sign in], do: [clear, push sign in]}

redirects:
  - {to: [home, hives, week, details], if: session is none, send to: sign in, remember: yes}

walks:
  Back from the details:
    given: [session is valid]
    steps:
      - launch
      - wait 1200ms
      - tap details(id=1)
      - tap next
      - ladder hives > details(id=2)
      - back
      - see hives
      - back
      - outside
  no Back to the sign-in:
    steps:
      - launch
      - wait 1200ms
      - see sign in
      - tap sign in
      - see hives
      - back would leave
""",
        )


if __name__ == "__main__":
    unittest.main()
