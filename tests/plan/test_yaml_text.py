"""Putting a walk into a plan: everything else stays as it was, comments included."""

import stat
import tempfile
import unittest
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

from wise_ladder.demo import combfield
from wise_ladder.errors import WriteError
from wise_ladder.plan import events
from wise_ladder.plan.edit_moves import set_operations
from wise_ladder.plan.files import save
from wise_ladder.plan.loader import read_plan_text
from wise_ladder.plan.steps import event_phrase, quoted
from wise_ladder.plan.yaml_text import add_walk, next_operation, scalar

PLAN = "app: x  # the name\nstart: hives\nscreens:\n  hives:   # first\n"


class AddingAWalk(unittest.TestCase):
    def test_only_lines_are_added(self) -> None:
        text = combfield().read_text()
        changed = add_walk(text, "mine: a try", ["launch", "see splash"], ["welcomed is yes"])
        walk = read_plan_text(changed).walks[-1]
        self.assertEqual((walk.name, walk.given), ("mine: a try", (("welcomed", "yes"),)))
        kept = [line for line in changed.splitlines() if line in text.splitlines()]
        self.assertEqual(
            [line for line in text.splitlines() if line],
            [line for line in kept if line][: len([x for x in text.splitlines() if x])],
        )

    def test_a_plan_without_walks_gets_them(self) -> None:
        for text in (PLAN, PLAN + "walks:\n", PLAN.rstrip("\n"), PLAN + "walks:  # none yet\nfacts: {a: no}\n"):
            with self.subTest(text):
                changed = add_walk(text, "w", ["launch", "ladder hives"], [])
                plan = read_plan_text(changed)
                self.assertEqual(
                    [step.text for step in plan.walks[0].steps if isinstance(step, events.WalkStep)], ["launch", "ladder hives"]
                )
                self.assertIn("# first", changed)

    def test_a_comment_after_the_last_walk_stays_behind_it(self) -> None:
        text = PLAN + "walks:\n    one: [launch]  # quick\n# the end\nfacts: {a: no}\n"
        changed = add_walk(text, "two", ["launch"], [])
        self.assertEqual([walk.name for walk in read_plan_text(changed).walks], ["one", "two"])
        self.assertIn("one: [launch]  # quick\n", changed)
        self.assertIn("# the end\n", changed)

    def test_a_name_that_is_taken_or_walks_in_braces_are_refused(self) -> None:
        with self.assertRaisesRegex(WriteError, "already"):
            add_walk(PLAN + "walks: \n  w: [launch]\n", "w", ["launch"], [])
        with self.assertRaisesRegex(WriteError, "braces"):
            add_walk(PLAN + "walks: {w: [launch]}\n", "v", ["launch"], [])

    @given(
        st.text(
            st.characters(blacklist_categories=("Cs", "Cc", "Cf", "Zl", "Zp", "Cn"), blacklist_characters="\u034f"), min_size=1
        ).filter(lambda text: text.strip())
    )
    def test_any_name_reads_back(self, name: str) -> None:
        changed = add_walk(PLAN, name, ["launch"], [])
        self.assertEqual([walk.name for walk in read_plan_text(changed).walks], [name])

    @given(
        st.sampled_from(
            ["a: b", "it's", "# no", "x #y", "- z", "[a]", "yes", "'q'", '"d"', "a, b", "k:", "*a", "!t", "%d", "@x"]
        )
    )
    def test_phrases_that_yaml_would_misread_are_quoted(self, phrase: str) -> None:
        self.assertTrue(scalar(phrase).startswith("'") or phrase in {"it's", "yes", "a, b"})


class Saving(unittest.TestCase):
    def test_a_file_is_replaced_whole_and_keeps_its_mode(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "p.yaml"
            path.write_text("old")
            path.chmod(0o640)
            save(path, "new ▴")
            self.assertEqual((path.read_text(), stat.S_IMODE(path.stat().st_mode)), ("new ▴", 0o640))
            self.assertEqual(len(list(Path(folder).iterdir())), 1)

    def test_a_folder_that_is_not_there_is_one_line(self) -> None:
        with self.assertRaisesRegex(WriteError, "cannot be written: No such file"):
            save(Path("/nowhere/at/all/p.yaml"), "x")


class PhrasesOfEvents(unittest.TestCase):
    def test_events_are_written_as_walks_read_them(self) -> None:
        plan = read_plan_text(combfield().read_text())
        walks = "".join(f"      - {event_phrase(step.what)}\n" for walk in plan.walks for step in walk.steps
                        if isinstance(step, events.WalkStep) and isinstance(step.what, events.Event))  # fmt: skip
        again = read_plan_text(combfield().read_text() + f"\n  all of them:\n    steps:\n{walks}")
        before = [
            step.what
            for walk in plan.walks
            for step in walk.steps
            if isinstance(step, events.WalkStep) and isinstance(step.what, events.Event)
        ]
        self.assertEqual([step.what for step in again.walks[-1].steps if isinstance(step, events.WalkStep)], before)

    def test_names_with_words_of_the_grammar_are_quoted(self) -> None:
        self.assertEqual(
            [quoted(name) for name in ("sign in", "queen's mark", "this is it", "a(b)")],
            ["sign in", "queen's mark", '"this is it"', '"a(b)"'],
        )


class Operations(unittest.TestCase):
    """The operations of a move, changed in the text; everything else stays as it was written."""

    WRITTEN = (
        "{when: tap go, do: push hive}  # why",
        "{when: tap go, if: alone, do: [push hive, set seen yes]}  # why",
        "{do: 'push hive', when: tap go}",
        "when: tap go\n        do:\n          - push hive\n          - set seen yes\n        if: alone",
        'when: tap go\n        do: "push hive"\n',
    )

    def test_each_way_of_writing(self) -> None:
        for written in self.WRITTEN:
            text = f"app: a\nstart: hives\nfacts: {{seen: no}}\nscreens:\n  hives:\n    moves:\n      - {written}\n  hive: # last\n"
            for phrases in (["replace hive"], ["pop else leave", "set seen yes"]):
                with self.subTest(written, phrases=phrases):
                    before = read_plan_text(text)
                    changed = set_operations(text, before.moves[0], phrases)
                    after = read_plan_text(changed)
                    self.assertEqual(list(after.moves[0].phrases), phrases)
                    self.assertEqual(after.moves[0].condition, before.moves[0].condition)
                    self.assertEqual(changed.count("#"), text.count("#"))
                    self.assertTrue(changed.endswith("  hive: # last\n"))

    def test_turning_goes_round(self) -> None:
        phrases = ["set seen yes", "push hive(id=$id) once awaiting mark"]
        seen = []
        for _ in range(5):
            phrases = next_operation(phrases)
            seen.append(phrases[1:])
        put = "hive(id=$id)"
        self.assertEqual(
            seen, [[f"replace {put}"], [f"reach {put}"], ["clear", f"push {put}"], [f"push {put}"], [f"replace {put}"]]
        )
        with self.assertRaises(WriteError):
            next_operation(["pop"])
