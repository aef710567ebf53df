"""Proofs for every depth: what is proved, what is not and why, and that all states are held."""

import re
import unittest
from collections.abc import Iterator
from random import Random
from unittest.mock import patch

from msgspec.structs import replace

from tests.plans import plan_of
from tests.proofs.soundness import CHANGES, changed, left_out, planted, proved_and_broken, tabs_plan, wrong_after_change
from tests.random_plans import plan_of_seed
from tests.rules.test_sweep import smaller
from tests.second.plans import wide_plan
from wise_ladder.demo import combfield, gallery
from wise_ladder.plan import Plan
from wise_ladder.plan.loader import read_plan
from wise_ladder.proofs import attempt, proof
from wise_ladder.proofs.fixpoint import Fixpoint
from wise_ladder.proofs.proof import Prover, audit, prove
from wise_ladder.proofs.task import ProofTask, Proved
from wise_ladder.rules.report_text import how_known, proof_counts, steps_of, verdict_glyph
from wise_ladder.rules.starter import rules_in_force
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.verdicts import Bounds

DEPTH = 8
TOO_MUCH = {"jumps-to-the-front"}
"""Mended gallery plans that have no end: a ladder that is read to its ground at death."""
CHAIN = """
    screens:
      hives: {moves: [{when: tap hive, do: push hive}]}
      hive: {moves: [{when: tap frames, do: push frames}]}
      frames: {moves: [{when: tap comb, do: push comb}]}
      comb: {moves: [{when: tap hive, do: push hive}]}
    rules: [%s]
    """

BROKEN = """
    start: hives
    facts: {session: {values: [none, valid], from outside: [valid to none]}}
    screens:
      hives: {moves: [{when: tap sign in, do: set session valid}, {when: tap hive, if: session is valid, do: push hive}]}
      hive: {moves: [{when: tap hive, do: push hive once}, {when: tap frames, do: push frames}]}
      frames: {moves: [{when: tap hive, do: push hive}, {when: tap late, if: session is none, do: push frames}]}
    rules:
      - {rule: protected, screens: [hive, frames], if: session is valid, name: signed in}
      - {rule: no twins, name: twins}
      - {rule: no traps, name: traps}
    """
"""What comes after a break of `signed in` breaks `twins`, but not `traps`."""

BY_HAND = (
    BROKEN,
    # A state that only a pop from a row that has grown leads to.
    """
    facts: {seen: [no, yes]}
    screens:
      hives: {moves: [{when: tap hive, do: push hive}]}
      hive: {moves: [{when: tap comb, do: [set seen no, push comb]}]}
      comb: {moves: [{when: tap hive, do: [set seen no, push hive]}, {when: tap mark, do: [set seen yes, pop]}]}
    """,
    # Replies to rungs in the middle of a ladder, which stays as it is over them.
    """
    facts: {asked: [no, yes]}
    calls: {check: {ok: 1s}}
    screens:
      hives: {moves: [{when: tap hive, do: push hive}]}
      hive:
        holds: {mark: {values: [no, yes], kept: ladder}}
        moves:
          - {when: tap check, if: asked is no, do: [set asked yes, call check]}
          - {when: check gives ok, do: [set mark yes, set asked no]}
          - {when: tap frames, do: [set mark no, push frames]}
      frames: {moves: [{when: tap comb, do: push comb}]}
      comb: {moves: [{when: tap hive, do: push hive}]}
    """,
    # Hidden ladders of tabs, each with several rows.
    """
    start: home
    facts: {seen: [no, yes]}
    flows: {home: {tabs: {hives: hives, diary: week}}}
    screens:
      hives: {moves: [{when: tap hive, do: push hive}, {when: tap comb, do: push comb}]}
      hive: {moves: [{when: tap comb, do: push comb}, {when: tap mark, do: [set seen yes, pop]}]}
      comb: {moves: [{when: tap hive, do: push hive}]}
      week: {moves: [{when: tap entry, do: push entry}]}
      entry: {moves: [{when: tap on, do: push entry}]}
    anywhere:
      - {when: tap diary, do: switch diary}
      - {when: tap back to hives, do: switch hives}
    """,
    # What lies beneath loses what it held when the app is killed, and only then.
    """
    screens:
      hives: {moves: [{when: tap hive, do: push hive}]}
      hive:
        holds: {mark: {values: [no, yes], kept: memory}}
        moves: [{when: tap frames, do: [set mark yes, push frames]}]
      frames: {moves: [{when: tap comb, do: push comb}]}
      comb: {moves: [{when: tap hive, do: push hive}]}
    """,
    # A caller that lies beneath goes with all the ladder, or its call is cancelled.
    """
    policies: {restore: nothing}
    facts: {asked: [no, yes, told, cancelled]}
    calls: {check: {ok: 1s}}
    links: [{address: 'combfield://week', build: [week]}]
    screens:
      hives: {moves: [{when: tap hive, do: push hive}]}
      hive:
        moves:
          - {when: tap check, if: asked is no, do: [set asked yes, call check, push frames]}
          - {when: check gives ok, do: set asked told}
      frames:
        moves: [{when: tap comb, if: asked is yes, do: [set asked cancelled, cancel check, push comb]}]
        guards: [{name: stays, ways: [system, header], block: yes}]
      comb: {}
      week: {}
    """,
    # Something happens when a rung of one screen goes, wherever it lies.
    """
    facts: {came: [no, yes], seen: [no, yes]}
    screens:
      hives: {moves: [{when: tap hive, do: push hive}, {when: tap frames, do: push frames}]}
      hive:
        moves: [{when: left, do: set seen yes}, {when: tap comb, do: push comb}]
        guards: [{name: stays, ways: [system, header], block: yes}]
      frames: {moves: [{when: tap comb, do: push comb}]}
      comb: {moves: [{when: tap all, do: [set came yes, clear, push hives]}]}
    """,
    # A guard stops one of several moves, and the answer goes on with that one.
    """
    screens:
      hives: {moves: [{when: tap hive, do: push hive}]}
      hive:
        moves: [{when: tap frames, do: replace frames}, {when: tap comb, do: replace comb}]
        guards: [{name: sure, ways: [system, header, in-app], ask: {text: Leave?, answers: [{stay: stay}, {go: go on}]}}]
      frames: {moves: [{when: tap hive, do: push hive}]}
      comb: {moves: [{when: tap hive, do: push hive}]}
    """,
    # A move whose condition holds only once something was done elsewhere.
    """
    facts: {seen: [no, yes]}
    screens:
      hives: {moves: [{when: tap hive, do: push hive}, {when: tap comb, if: seen is yes, do: push comb}]}
      hive: {moves: [{when: tap mark, do: [set seen yes, pop]}]}
      comb: {}
    """,
    # A call of the app, made at each launch: it is pending until its reply comes.
    """
    facts: {known: [no, yes]}
    calls: {check: {ok: 1s, failed: 2s}}
    screens: {hives: {moves: [{when: tap hive, do: push hive}]}, hive: {}}
    anywhere: [{when: launched, do: call check}, {when: check gives ok, do: set known yes}]
    """,
    # Two calls of one name: the first caller stands, the other went at once.
    """
    facts: {told: [no, yes]}
    calls: {check: {ok: 1s}}
    screens:
      hives: {moves: [{when: tap hive, do: push hive}]}
      hive:
        holds: {asked: [no, yes]}
        moves:
          - {when: tap frames, if: asked is no, do: [set asked yes, call check, push frames]}
          - {when: check gives ok, do: set told yes}
      frames: {moves: [{when: shown, do: [call check, pop]}, {when: check gives ok, do: pop}]}
    """,
)
"""Plans in which each operation matters."""


def proof_of(plan: Plan, seconds: float = 10) -> tuple[Proved, dict[str, int]]:
    rules = rules_in_force(plan)
    return prove(plan, rules, seconds), {rule.called: number for number, rule in enumerate(rules)}


class Verdicts(unittest.TestCase):
    def test_rules_of_a_ladder_without_limit_are_proved(self) -> None:
        plan = plan_of(CHAIN % "{rule: no twins, name: twins}, {rule: never beneath, screens: comb, name: comb}")
        found, numbers = proof_of(plan)
        self.assertEqual((set(found.proofs), set(found.found)), ({numbers["twins"]}, {numbers["comb"]}))

    def test_a_step_that_no_run_was_found_for_is_named(self) -> None:
        with patch.object(attempt, "shortest_break", lambda *_: None):
            found, _ = proof_of(plan_of(CHAIN % "{rule: never beneath, screens: comb}"))
        self.assertIn("in which tap hive may break it: comb is beneath hive", found.reasons[0])

    def test_rows_that_are_kept_exactly_are_not_taken_for_one_another(self) -> None:
        plan = plan_of("""
            start: home
            flows: {home: {tabs: {hives: hives, diary: week}}}
            screens:
              hives: {moves: [{when: tap hive(id), do: push hive(id=$id) once}]}
              hive:
                takes: {id: {type: whole number, samples: [7, 12]}}
                moves: [{when: tap hive(id), do: push hive(id=$id) once}, {when: tap frames, do: replace frames(id=$id)}]
              frames: {takes: {id: {type: whole number, samples: [7, 12]}}, moves: [{when: tap hive, do: replace hive(id=$id)}]}
              week: {moves: [{when: tap entry, do: push entry}]}
              entry: {}
            anywhere: [{when: tap diary, do: switch diary}, {when: tap hives, do: switch hives}]
            rules: [{rule: no twins}]
            """)
        found, _ = proof_of(plan)
        self.assertEqual(list(found.proofs), [0])

    def test_a_verdict_says_that_it_is_proved_or_why_not(self) -> None:
        plan = plan_of(CHAIN % "{rule: no twins}, {rule: depth at most, rungs: 2000}")
        sweep = Sweep(plan, Bounds(depth=6), rules_in_force(plan))
        sweep.run()
        twins, depth = prove(plan, sweep.rules, 5).added(sweep.verdicts())
        self.assertRegex(twins.words, r"^holds at every depth \(proved over [\d,]+ abstract states, in ")
        self.assertEqual((twins.status, twins.every_depth), ("holds", True))
        self.assertRegex(depth.words, r"^holds for 6 steps \(17 states; not proved: the ladder may grow for ever, as far as ")
        self.assertFalse(depth.every_depth)

    def test_beyond_a_break_rules_are_judged_as_long_as_the_broken_one_holds(self) -> None:
        plan = plan_of(BROKEN)
        sweep = Sweep(plan, Bounds(depth=5), rules_in_force(plan))
        sweep.run()
        with patch.object(attempt, "MORE_BEYOND", 1e9):
            found = prove(plan, sweep.rules, 5, broken=(0,))
        signed_in, twins, traps = found.added(sweep.verdicts())
        self.assertEqual((signed_in.status, signed_in.proof), ("broken", None))
        self.assertRegex(twins.words, r"^holds for 5 steps \(.*; at every depth as long as signed in holds: proved over ")
        self.assertEqual((verdict_glyph(twins), twins.every_depth), ("◕", False))
        told = " ".join(how_known(twins))
        self.assertIn("It is proved as long as signed in holds", told)
        self.assertIn("no time to look beyond the steps that break it", told)
        self.assertEqual(proof_counts([twins, traps]), {"as long as signed in holds": 2})
        _, _, traps = prove(plan, sweep.rules, 5, broken=(0,)).added(sweep.verdicts())
        self.assertEqual(proof_counts([traps]), {"": 1})

    def test_how_high_and_how_heavy_ladders_get_is_proved_or_said(self) -> None:
        plan = plan_of("""
            start: home
            flows: {home: {tabs: {hives: hives, diary: week}}}
            screens:
              hives: {moves: [{when: tap hive, do: push hive}]}
              hive: {weight: 2MB, moves: [{when: tap frames, do: push frames}]}
              frames: {weight: 1MB, moves: [{when: tap comb, do: push comb}]}
              comb: {weight: 10MB, moves: [{when: tap comb, do: replace comb}]}
              week: {moves: [{when: tap entry, do: push entry}]}
              entry: {weight: 5MB, moves: [{when: tap next, do: push entry}]}
            anywhere: [{when: tap diary, do: switch diary}, {when: tap hives, do: switch hives to root}]
            rules:
              - {rule: depth at most, rungs: 4, name: no more}
              - {rule: depth at most, rungs: 3, name: fewer}
              - {rule: memory at most, size: 18MB, name: not heavy}
              - {rule: memory at most, size: 17MB, name: lighter}
            """)
        bounded, numbers = proof_of(
            plan.with_moves(lambda move: replace(move, operations=()) if move.owner == "entry" else move)
        )
        self.assertEqual(set(bounded.proofs), {numbers["no more"], numbers["not heavy"]})
        self.assertEqual(bounded.reasons[numbers["fewer"]], "it could only be shown that there is never more than 4 rungs")
        self.assertEqual(bounded.reasons[numbers["lighter"]], "it could only be shown that there is never more than 18MB")
        grows, _ = proof_of(plan)
        self.assertEqual((grows.proofs, len(grows.reasons)), ({}, 4))

    def test_a_break_that_no_sweep_came_to_is_shown_by_a_shortest_run(self) -> None:
        plan = plan_of(BROKEN)
        sweep = Sweep(plan, Bounds(depth=3), rules_in_force(plan))
        sweep.run()
        signed_in, twins, traps = prove(plan, sweep.rules, 5).added(sweep.verdicts())
        self.assertEqual((signed_in.words, twins.words), ("broken in 4 steps", "broken in 6 steps"))
        self.assertEqual((signed_in.extent.depth, traps.every_depth), (3, True))
        (shown,) = twins.counterexamples
        phrases = "launch, tap sign in, tap hive, tap frames, set session none, tap late"
        self.assertEqual((", ".join(steps_of(shown)), shown.guilt.words), (phrases, "frames is on frames"))

    def test_a_run_that_was_found_before_the_end_need_not_be_the_shortest(self) -> None:
        plan = plan_of(BROKEN.replace("push hive once", "push hive"))
        far, near = (Sweep(plan, Bounds(depth=depth), rules_in_force(plan)) for depth in (3, 2))
        for sweep in (far, near):
            sweep.run()
        with patch.object(Fixpoint, "done", new=False):
            found = prove(plan, far.rules, 1)
        self.assertEqual((found.proofs, found.found[1].shortest), ({}, False))
        self.assertEqual(found.added(near.verdicts())[1].words, "broken in at most 4 steps")
        # The sweep knows that three steps do not break it.
        self.assertEqual(found.added(far.verdicts())[1].words, "broken in 4 steps")

    def test_where_breaks_of_another_rule_are_held_back_a_run_need_not_be_the_shortest(self) -> None:
        plan = plan_of(BROKEN.replace("push hive once", "push hive"))
        with patch.object(attempt, "MORE_BEYOND", 1e9):
            found, numbers = proof_of(plan)
        run = found.found[numbers["twins"]]
        self.assertEqual((run.steps_words, run.guilt.words), ("at most 4 steps", "hive is on hive"))

    def test_the_first_round_gets_more_time_only_if_it_is_near_its_end(self) -> None:
        plan = plan_of(CHAIN % "{rule: no twins}")
        for near, apart in ((2.0, False), (0.0, True)):
            with self.subTest(near=near), patch.multiple(attempt, FIRST_AT_MOST=0.0, NEAR=near):
                found, _ = proof_of(plan)
                self.assertEqual((set(found.proofs), found.wholes[0].tells_rows_apart), ({0}, apart))

    def test_what_was_confused_is_told_apart(self) -> None:
        text = """
            start: hives
            facts: {session: {values: [none, valid], kept: disk}, seen: {values: [no, yes], kept: disk}, note: [no, yes]}
            screens:
              hives:
                moves:
                  - {when: tap in, do: [set session valid, set seen yes]}
                  - {when: tap out, do: [set session none, set seen no]}
                  - {when: tap write, do: set note yes}
                  - {when: tap hive, if: session is valid, do: push hive}
              hive: {moves: [{when: tap hive, do: push hive}]}
            rules: [{rule: never land on, screens: hive, if: seen is no}]
            """
        # No redirect asks for a fact, so that none is kept exactly at first.
        with patch.object(proof, "_rounds", lambda *_, **__: (attempt.Round((), "seen", timeless=True),)):
            found, _ = proof_of(plan_of(text))
            self.assertEqual((set(found.proofs), len(found.wholes)), ({0}, 2))
            apart, _ = proof_of(plan_of(text.replace("set session none, set seen no", "set seen no")))
        self.assertEqual(apart.found[0].steps, 6)

    def test_the_run_that_is_shown_is_as_short_as_that_of_a_sweep(self) -> None:
        compared = 0
        for pair in gallery():
            plan = read_plan(pair.faulty)
            sweep = Sweep(plan, Bounds(seconds=1))
            sweep.run()
            for number, found in prove(plan, sweep.rules, 0.5).found.items():
                with self.subTest(pair.name, rule=sweep.rules[number].called):
                    self.assertEqual(found.steps, min(each.steps for each in sweep.found[number]))
                    compared += 1
        self.assertGreater(compared, 15)

    def test_a_run_over_a_break_of_another_rule_may_be_the_shortest(self) -> None:
        more = "{when: tap comb, do: push comb}, {when: tap late,"
        text = BROKEN.replace("{when: tap late,", more).replace(
            "    rules:",
            """
      comb: {moves: [{when: tap on, do: push queen}]}
      queen: {moves: [{when: tap on, do: push queen}]}
    rules:""".strip("\n"),
            1,
        )
        plan = plan_of(text)
        found, numbers = proof_of(plan)
        self.assertEqual(found.found[numbers["twins"]].steps, 6)
        without, _ = proof_of(plan.with_moves(lambda move: replace(move, operations=()) if move.when == "tap late" else move))
        self.assertEqual(without.found[numbers["twins"]].steps, 7)

    def test_an_attempt_that_was_interrupted_goes_on_with_the_next_plan(self) -> None:
        plan, prover = read_plan(combfield()), Prover()

        def met() -> int:
            reasons = prover.prove(ProofTask(plan, rules_in_force(plan), 0.6)).reasons
            return max(int(count.replace(",", "")) for why in reasons.values() for count in re.findall(r"after ([\d,]+)", why))

        first = met()
        plan = plan.with_moves(lambda move: replace(move, condition=None) if move.when == "tap about" else move)
        self.assertGreater(met(), first)

    def test_what_is_not_known_to_be_broken_is_told_apart_first(self) -> None:
        """The rows of the ladders are: there is no frames on frames with any session."""
        plan = plan_of(BROKEN.replace("if: session is none, do: push frames", "if: session is none, do: push frames once"))
        found, numbers = proof_of(plan)
        self.assertEqual(found.proofs[numbers["twins"]].as_long_as, ())
        self.assertEqual((set(found.proofs), set(found.found)), ({numbers["twins"], numbers["traps"]}, {numbers["signed in"]}))

    def test_a_rule_for_which_no_time_was_left_says_so(self) -> None:
        plan = plan_of(CHAIN % "{rule: no twins}")
        found, _ = proof_of(plan, 0)
        self.assertEqual((found.proofs, found.reasons), ({}, {0: "no time was left for it"}))

    def test_each_rule_of_the_mended_gallery_is_proved_and_no_broken_one(self) -> None:
        for pair in gallery():
            with self.subTest(pair.name):
                fixed, numbers = proof_of(read_plan(pair.fixed), 1)
                sweep = Sweep(read_plan(pair.fixed), Bounds(seconds=1))
                sweep.run()
                broken = {number for number, those in sweep.found.items() if those}
                if pair.name not in TOO_MUCH:
                    of_all = {number for number, rule in enumerate(sweep.rules) if rule.name == "everything is used"}
                    self.assertEqual(set(fixed.proofs), {*numbers.values()} - broken - of_all, fixed.reasons)
                self.assertEqual(proved_and_broken(read_plan(pair.faulty), 12, seconds=1), [])

    def test_random_walks_stay_in_the_abstract_states_and_a_state_outside_is_told(self) -> None:
        plan = plan_of(CHAIN % "{rule: no twins}")
        found, _ = proof_of(plan)
        looked, lost = audit(found, 0.2, seed=1)
        self.assertGreater(looked, 100)
        self.assertIsNone(lost)
        [whole] = [whole for whole in found.wholes if whole.done][:1]
        whole.states.popitem()
        _, lost = audit(found, 2, seed=1)
        self.assertIsNotNone(lost)

    def test_calls_that_are_made_again_and_again_have_an_end(self) -> None:
        """Of calls that are alike two stand for as many as there may be."""
        late = next(each for each in gallery() if each.name == "late-reply")
        found, numbers = proof_of(read_plan(late.fixed), 5)
        self.assertEqual(set(found.proofs), set(numbers.values()))
        self.assertEqual(proved_and_broken(read_plan(late.faulty), 12, seconds=2), [])

    def test_what_has_no_end_says_so(self) -> None:
        found, _ = proof_of(read_plan(combfield()), 0.2)
        self.assertEqual(found.proofs, {})
        self.assertIn("no end in time", " ".join(found.reasons.values()))
        self.assertEqual(audit(found, 0.1, seed=1), (0, None), "there is nothing to look up in")


class Sound(unittest.TestCase):
    def corpus(self) -> list[Plan]:
        """Plans with all that can be said, small enough to end."""
        return [*map(plan_of, BY_HAND), *(read_plan(pair.fixed) for pair in gallery())]

    def test_every_state_of_a_sweep_lies_in_an_abstract_one(self) -> None:
        looked = 0
        drawn = [smaller(plan_of_seed(Random(seed)), timers=seed % 2 == 0) for seed in range(6)]
        for number, plan in enumerate(
            (*self.corpus(), *drawn, *(smaller(wide_plan(Random(seed)), timers=False) for seed in range(4)))
        ):
            with self.subTest(number):
                for wrong, states in left_out(plan, 6 if number > len(BY_HAND) else DEPTH, states=1_000, seconds=0.3):
                    looked += states
                    self.assertEqual(wrong, "")
        self.assertGreater(looked, 1_500)

    def test_whole_ladders_that_are_hidden_are_held_too(self) -> None:
        looked = 0
        for seed in (1, 4, 6):
            for wrong, states in left_out(tabs_plan(Random(seed)), 9, states=3_000, seconds=2):
                looked += states
                self.assertEqual(wrong, "")
        self.assertGreater(looked, 5_000)

    def test_each_planted_fault_is_noticed(self) -> None:
        corpus = self.corpus()
        for name, plant in planted().items():
            with self.subTest(name), plant():
                wrong = self.after_changes() if name in CHANGES else self.outside(corpus)
                self.assertTrue(any(wrong))

    def outside(self, corpus: list[Plan]) -> Iterator[str]:
        for plan in corpus:
            yield from (wrong for wrong, _ in left_out(plan, DEPTH, states=1_000, seconds=0.5))

    def after_changes(self) -> Iterator[str]:
        """Change each plan of the corpus, and go on from what was known of it."""
        for number, plan in enumerate(self.corpus()):
            now = changed(plan, Random(number))
            yield from (wrong for wrong, _ in wrong_after_change(plan, now, 6, seconds=0.5))

    def test_a_changed_plan_comes_to_the_same_as_a_new_one(self) -> None:
        told = list(self.after_changes())
        self.assertEqual((set(told), len(told) > 60), ({""}, True))


if __name__ == "__main__":
    unittest.main()
