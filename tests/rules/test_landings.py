"""Back from everywhere: what each way back does on each screen, with a shortest path, and what is surprising in it."""

import unittest
from random import Random
from unittest.mock import patch

from tests.plans import COMBFIELD, plan_of
from tests.rules.back_search import compare, plain_landings
from wise_ladder.demo import gallery
from wise_ladder.plan import Plan
from wise_ladder.plan.events import Back, HeaderBack, Launch
from wise_ladder.plan.loader import read_plan
from wise_ladder.rules.back_table import BackRow, back_table
from wise_ladder.rules.landings import Landing, landing_of
from wise_ladder.rules.replay import Infeasible
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.transition import Transition
from wise_ladder.rules.verdicts import Bounds
from wise_ladder.rules.witnesses import Witnesses, last_transition
from wise_ladder.semantics import initial_state, step
from wise_ladder.semantics.offers import user_events, world_events
from wise_ladder.walks.tape import Tape

PLAN = plan_of("""
    facts: {draft: [clean, edited]}
    policies: {back at root: stay}
    screens:
      hives:
        moves: [{when: tap hive, do: push hive}, {when: tap alert, do: push alert}]
      hive:
        moves:
          - {when: tap write, do: set draft edited}
          - {when: tap menu, do: show menu}
          - {when: tap done, do: pop}
          - {when: tap top, do: pop to hives}
          - {when: tap hive, do: push hive}
        guards:
          - {name: unsaved, if: draft is edited, ask: {text: Leave?, answers: [{stay here: stay}, {leave: [set draft clean, go on]}]}}
      alert:
        arrow: hives
        guards: [{name: shut, ways: [system], block: yes}]
    overlays: {menu: {kind: dialog}}
""")


def swept(plan: Plan, depth: int = 30) -> Sweep:
    sweep = Sweep(plan, Bounds(depth=depth, seconds=60))
    while not sweep.finished:
        sweep.run(1)
    return sweep


def table(plan: Plan, depth: int = 30) -> list[BackRow]:
    return back_table(plan, swept(plan, depth).landings)


class Table(unittest.TestCase):
    def test_each_thing_that_a_way_back_does(self) -> None:
        rows = table(PLAN, 5)
        told = {(row.landing.screen, row.landing.way, row.words) for row in rows}
        self.assertEqual(
            told,
            {
                ("hives", "system", "does nothing"),
                ("hive", "system", "lands on hives"),
                ("hive", "system", "lands on hive"),
                ("hive", "system", "asks (unsaved)"),
                ("hive", "system", "closes what is over it"),
                ("hive", "header", "lands on hives"),
                ("hive", "header", "lands on hive"),
                ("hive", "header", "asks (unsaved)"),
                ("hive", "app", "lands on hives"),
                ("hive", "app", "lands on hive"),
                ("alert", "system", "is blocked (shut)"),
                ("alert", "header", "lands on hives"),
            },
        )

    def test_each_path_is_run_by_step_and_ends_where_the_table_says(self) -> None:
        for plan, depth in ((PLAN, 6), (COMBFIELD, 4)):
            for row in table(plan, depth):
                self.assertEqual(landing_of(last_transition(row.tape)), row.landing)
                self.assertLessEqual(row.steps, depth + 1)
                state = initial_state(plan)
                for entry in row.tape.entries:
                    state = step(plan, state, entry.event).state
                self.assertEqual(state, row.tape.state_at(len(row.tape.entries)))

    def test_a_shortest_path_comes_first(self) -> None:
        rows = {row.landing: row.steps for row in table(PLAN, 6)}
        self.assertEqual(rows[Landing("hive", "system", "lands", "hives")], 3)
        self.assertEqual(rows[Landing("hive", "system", "lands", "hive")], 4)
        self.assertEqual(rows[Landing("hive", "system", "asks", "unsaved")], 4)

    def test_what_decides_where_there_are_several(self) -> None:
        decides = {row.words: row.decides for row in table(PLAN, 6) if row.landing[:2] == ("hive", "system")}
        self.assertEqual(decides["asks (unsaved)"], "if draft is edited")
        self.assertEqual(decides["lands on hives"], "if hives is beneath")
        (alone,) = (row for row in table(PLAN, 6) if row.landing[:2] == ("alert", "system"))
        self.assertEqual(alone.decides, "")


class RandomWalks(unittest.TestCase):
    """What Back does by `step` in states of random walks is in the table, where all states were swept."""

    def test_of_plans_that_were_swept_whole(self) -> None:
        compared = 0
        for fault in gallery():
            plan, random = read_plan(fault.fixed), Random(2026)
            sweep = Sweep(plan, Bounds(seconds=5, states=3_000))
            sweep.run()
            if not sweep.exhausted:
                continue
            for _ in range(8):
                state = initial_state(plan)
                for _ in range(20):
                    for event in (Back(), HeaderBack()):
                        done = step(plan, state, event)
                        landing = landing_of(Transition(plan, state, event, done.state, done.log, done.moves))
                        if done.refused is None and landing is not None:
                            compared += 1
                            self.assertIn(landing, sweep.landings, fault.name)
                    events = [*user_events(plan, state), *world_events(plan, state)]
                    state = step(plan, state, random.choice(events)).state
        self.assertGreater(compared, 2_000)

    def test_of_combfield_what_is_missing_is_out_of_reach_of_a_plain_search(self) -> None:
        """`make deep` looks further."""
        for phone, _ in COMBFIELD.phones:
            found = compare(COMBFIELD.on_phone(phone), 40, 30, 2026, Bounds(depth=4, seconds=60))
            self.assertGreater((found.compared, found.different), (60, 15))
            self.assertEqual((found.reached, found.depth), (set(), 4))

    def test_a_plain_search_reaches_what_the_table_has(self) -> None:
        sweep = swept(COMBFIELD, 4)
        table = {landing for landing, path in sweep.landings.items() if landing.way != "app"}
        self.assertEqual(table, plain_landings(COMBFIELD, 4))


class Proofs(unittest.TestCase):
    def test_what_no_run_showed_is_known_as_such_until_one_does(self) -> None:
        tape = Tape(PLAN, initial_state(PLAN)).with_event(Launch())[0]
        witnesses = Witnesses(PLAN, initial_state(PLAN), lambda _: ("a goal",))
        for shown, told in ((Infeasible(), ({"a goal"}, set())), (tape, (set(), {"a goal"}))):
            with patch("wise_ladder.rules.witnesses.replay", side_effect=[shown]):
                witnesses.note("a goal", list)
                witnesses.confirm()
            self.assertEqual((witnesses.unproved, set(witnesses.paths)), told)
        self.assertFalse(witnesses.wants("a goal"))


class Surprises(unittest.TestCase):
    def surprises(self, name: str) -> tuple[set[str], set[str]]:
        fault = next(fault for fault in gallery() if fault.name == name)
        told = [
            {f"{row.landing.screen}: {row.surprise}" for row in table(read_plan(path)) if row.surprise} for path in fault[1:3]
        ]
        return told[0], told[1]

    def test_the_faults_that_are_about_back_are_surprising_and_their_fixed_versions_are_not(self) -> None:
        for name, told in (
            ("back-to-sign-in", "hives: sign in was finished before."),
            ("surprise-exit", "hive: hive is not a root."),
            ("arrow-disagrees", "entry: the system's Back lands on entry there."),
            ("splash", "hives: splash is a splash."),
        ):
            with self.subTest(name):
                faulty, fixed = self.surprises(name)
                self.assertEqual((len(faulty), fixed), (1, set()))
                self.assertEqual({each.partition(": ")[2] for each in faulty}, {told.partition(": ")[2]})


if __name__ == "__main__":
    unittest.main()
