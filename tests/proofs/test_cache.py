"""Proofs that are kept: what they depend on, and what becomes of a file that is damaged."""

from __future__ import annotations

import io
import pickle
import tempfile
import unittest
from pathlib import Path
from unittest.mock import patch

from tests.plans import plan_of
from tests.proofs.test_proofs import BROKEN
from wise_ladder.proofs import cache
from wise_ladder.proofs.cache import ProofCache
from wise_ladder.proofs.worker import ProofTask, work
from wise_ladder.rules.starter import rules_in_force

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
        found = ProofCache(self.folder).prove(plan, rules, seconds)
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
        self.looked(TEXT, 1)
        self.assertEqual(self.looked(TEXT, 0.5)[1], 0)
        self.assertGreater(self.looked(TEXT, 2)[1], 0)

    def test_what_is_proved_under_a_condition_is_tried_again_only_for_longer(self) -> None:
        def tried(text: str, seconds: float) -> tuple[tuple[str, ...], int]:
            plan = plan_of(text)
            found = ProofCache(self.folder).prove(plan, rules_in_force(plan), seconds, broken=(0,))
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

    def test_a_process_of_its_own_answers_in_one_pickle(self) -> None:
        plan, answer = plan_of(TEXT), io.BytesIO()
        rules = rules_in_force(plan)
        work(io.BytesIO(pickle.dumps(ProofTask(plan, rules, (1,), 5, str(self.folder)))), answer, lambda: True)
        found = pickle.loads(answer.getvalue())
        self.assertEqual((set(found.proofs), found.reasons, found.wholes), ({0}, {}, []))


if __name__ == "__main__":
    unittest.main()
