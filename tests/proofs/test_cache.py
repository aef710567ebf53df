"""Proofs that are kept: what they depend on, and what becomes of a file that is damaged."""

from __future__ import annotations

import pickle
import subprocess
import tempfile
import unittest
from pathlib import Path
from typing import TYPE_CHECKING, cast
from unittest.mock import patch

from tests.plans import plan_of
from tests.proofs.test_proofs import BROKEN
from wise_ladder.demo import combfield
from wise_ladder.plan.loader import read_plan
from wise_ladder.proofs import attempt, cache
from wise_ladder.proofs.cache import ProofCache
from wise_ladder.proofs.fixpoint import Fixpoint
from wise_ladder.proofs.orders import COMMAND
from wise_ladder.proofs.task import ProofTask
from wise_ladder.rules.starter import rules_in_force

if TYPE_CHECKING:
    from wise_ladder.plan import Plan
    from wise_ladder.proofs.task import Proved

TEXT = """\
start: hives
screens:
  hives: {moves: [{when: tap hive, do: push hive}]}
  hive: {moves: [{when: tap hive, do: push hive once}, {when: tap frames, do: push frames}]}
  frames: {moves: [{when: tap hive, do: push hive}]}
rules: [{rule: no twins, name: twins}, {rule: never beneath, screens: hive}]
"""


class Kept(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name) / "proofs"

    def looked(self, text: str, seconds: float = 5) -> tuple[set[str], int]:
        """Prove the rules of a plan; return what is proved, and how many fixpoints that took."""
        plan = plan_of(text)
        rules = rules_in_force(plan)
        found = ProofCache(self.folder).prove(ProofTask(plan, rules, seconds))
        return {rules[number].called for number in found.proofs}, len(found.wholes)

    def test_an_unchanged_plan_costs_nothing(self) -> None:
        proved, wholes = self.looked(TEXT)
        self.assertEqual((proved, wholes > 0), ({"twins"}, True))
        self.assertEqual(self.looked(TEXT), ({"twins"}, 0))

    def test_walks_comments_and_places_in_the_file_make_no_difference(self) -> None:
        self.looked(TEXT)
        self.assertEqual(self.looked(f"# other words\nwalks: {{one: [launch]}}\n{TEXT}"), ({"twins"}, 0))

    def test_a_move_a_policy_and_the_program_make_one(self) -> None:
        self.looked(TEXT)
        self.assertGreater(self.looked(TEXT.replace("push frames", "replace frames"))[1], 0)
        self.assertGreater(self.looked(f"policies: {{push of a twin: nothing}}\n{TEXT}")[1], 0)
        with patch.object(cache, "__version__", "another"):
            self.assertGreater(self.looked(TEXT)[1], 0)

    def test_what_was_not_proved_is_tried_again_only_for_longer(self) -> None:
        with patch.object(attempt, "shortest_break", lambda *_: None):
            self.looked(TEXT, 1)
            self.assertEqual(self.looked(TEXT, 0.5)[1], 0)
            self.assertGreater(self.looked(TEXT, 2)[1], 0)

    def test_a_run_that_breaks_a_rule_is_kept_too(self) -> None:
        plan, kept = plan_of(TEXT), ProofCache(self.folder)
        first, again = (kept.prove(ProofTask(plan, rules_in_force(plan), 5)) for _ in range(2))
        self.assertEqual((first.found, len(again.wholes)), (again.found, 0))
        self.assertEqual((first.found[1].steps, first.found[1].guilt.words), (3, "hive is beneath frames"))

    def test_a_run_that_need_not_be_the_shortest_is_searched_for_again_only_for_longer(self) -> None:
        with patch.object(Fixpoint, "done", new=False):
            self.looked(TEXT, 1)
        plan, kept = plan_of(TEXT), ProofCache(self.folder)
        less, more = (kept.prove(ProofTask(plan, rules_in_force(plan), seconds, frozenset([0]))) for seconds in (1, 3))
        self.assertEqual((less.found[1].shortest, len(less.wholes)), (False, 0))
        self.assertEqual((more.found[1].shortest, more.found[1].steps), (True, 3))

    def test_what_is_proved_under_a_condition_is_tried_again_only_for_longer(self) -> None:
        def tried(text: str, seconds: float) -> tuple[tuple[str, ...], int]:
            plan = plan_of(text)
            with patch.object(attempt, "MORE_BEYOND", 1e9):
                found = ProofCache(self.folder).prove(ProofTask(plan, rules_in_force(plan), seconds, frozenset([0])))
            return found.proofs[1].as_long_as, len(found.wholes)

        first, wholes = tried(BROKEN, 2)
        self.assertEqual((first, wholes > 0), (("signed in",), True))
        self.assertEqual(tried(BROKEN, 2), (("signed in",), 0))
        self.assertEqual(tried(BROKEN.replace("name: signed in", "name: nobody else"), 1), (("nobody else",), 0))
        self.assertGreater(tried(BROKEN, 4)[1], 0)
        self.assertGreater(tried(BROKEN.replace("[hive, frames], if", "[hive, hives, frames], if"), 1)[1], 0)

    def test_a_damaged_file_is_as_good_as_none(self) -> None:
        self.looked(TEXT)
        (path,) = self.folder.glob("*.json")
        for damage in (b"", b"\xff\xfe", b"[1, 2]", b'{"twins": {"tried": 5, "states": "many"}}'):
            path.write_bytes(damage)
            with self.subTest(damage):
                self.assertEqual(self.looked(TEXT)[0], {"twins"})

    def test_a_folder_that_cannot_be_written_keeps_nothing(self) -> None:
        self.folder.parent.joinpath("proofs").write_text("a file")
        self.assertEqual(self.looked(TEXT)[0], {"twins"})


class Beside(unittest.TestCase):
    """The process that proves rules for the program."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.process = subprocess.Popen((*COMMAND, folder.name), stdin=subprocess.PIPE, stdout=subprocess.PIPE)
        self.addCleanup(self.process.communicate)
        self.addCleanup(self.process.kill)

    def order(self, order: object) -> None:
        assert self.process.stdin is not None
        pickle.dump(order, self.process.stdin)
        self.process.stdin.flush()

    def news(self, number: int, *, ended: bool = True) -> Proved:
        """Return what comes next of a task, or what it came to in the end."""
        assert self.process.stdout is not None
        while True:
            news = pickle.load(self.process.stdout)
            self.assertEqual(news.number, number)
            if news.ended == ended:
                return cast("Proved", news.proved)

    def task(self, number: int, plan: Plan, seconds: float = 5) -> tuple[int, ProofTask]:
        return number, ProofTask(plan, rules_in_force(plan), seconds)

    def test_it_does_one_task_after_the_other_and_goes_on_from_what_it_has_met(self) -> None:
        self.order(self.task(1, plan_of(TEXT)))
        found = self.news(1)
        self.assertEqual((set(found.proofs), set(found.reasons), found.wholes), ({0}, set(), []))
        self.order(self.task(2, plan_of(TEXT.replace("push hive once", "pop"))))
        self.assertEqual(set(self.news(2).proofs), {0})

    def test_what_is_known_so_far_is_told_before_the_end(self) -> None:
        self.order(self.task(1, read_plan(combfield()), 0.5))
        self.assertIn("no end in time", " ".join(self.news(1, ended=False).reasons.values()))

    def test_what_is_kept_is_told_before_anything_is_tried(self) -> None:
        self.order(self.task(1, plan_of(TEXT)))
        self.news(1)
        more = TEXT.replace("rules: [", "rules: [{rule: no flash, time: 300ms}, {rule: no traps}, ")
        self.order(self.task(2, plan_of(more)))
        self.assertEqual(set(self.news(2, ended=False).proofs), {2})

    def test_the_next_order_ends_the_task_at_hand(self) -> None:
        self.order(self.task(1, read_plan(combfield()), 600))
        self.order("stop")
        self.news(1)
        self.order(self.task(2, read_plan(combfield()), 600))
        self.order(self.task(3, plan_of(TEXT)))
        self.news(2)
        self.assertEqual(set(self.news(3).proofs), {0})

    def test_it_ends_with_the_program(self) -> None:
        self.order(self.task(1, read_plan(combfield()), 600))
        assert self.process.stdin is not None
        self.process.stdin.close()
        self.assertEqual(self.process.wait(20), 0)
        self.process.stdin = None


if __name__ == "__main__":
    unittest.main()
