"""Walks: what passes, what fails and with which words, and which step caused the failure."""

import unittest

from tests.plans import COMBFIELD, plan_of
from wise_ladder.plan import Plan
from wise_ladder.plan.events import Back, Launch, Tap, Wait
from wise_ladder.plan.loader import read_plan_text
from wise_ladder.semantics import initial_state, step
from wise_ladder.walks import Tape, WalkRun, run_walk
from wise_ladder.walks.report_text import walk_lines

PLAN = """
app: Combfield
start: hives
facts: {session: {values: [none, valid], from outside: [none to valid]}}
screens:
  hives: {moves: [{when: tap hive(id), do: push hive(id=$id)}, {when: tap out, do: leave}]}
  hive:
    takes: {id: {type: whole number, samples: [7, 12]}}
    holds: {draft: [clean, edited]}
    moves:
      - {when: tap frames, do: push frames(id=$id)}
      - {when: tap write, do: set draft edited}
      - {when: 1s on ladder, if: session is valid, do: pop}
  frames: {takes: {id: whole number}, moves: [{when: tap hive look, do: push hive(id=$id)}]}
walks:
  w:
"""


def walked(*lines: str) -> WalkRun:
    plan = read_plan_text(PLAN + "".join(f"    - {line}\n" for line in lines))
    return run_walk(plan, plan.walks[0])


class Expectations(unittest.TestCase):
    """Each row: the steps, the last of them the expectation; why it does not hold, or nothing where it does."""

    CASES = (
        (("launch", "see hives"), ""),
        (("launch", "see hive"), "you stand on hives"),
        (("see hives",), "the app is not running"),
        (("launch", "tap hive(id=7)", "see hive"), ""),
        (("launch", "tap hive(id=7)", "see hive(id=7)"), ""),
        (("launch", "tap hive(id=7)", "see hive(id=12)"), "you stand on hive id 7"),
        (("launch", "tap hive(id=7)", "ladder hives > hive(id=7)"), ""),
        (("launch", "tap hive(id=7)", "ladder hives > hive"), ""),
        (("launch", "tap hive(id=7)", "ladder hives"), "1 more on the ladder"),
        (("launch", "ladder hives > hive"), "1 fewer on the ladder"),
        (("launch", "tap hive(id=7)", "ladder hive > hives"), "rung 1 is hives"),
        (("ladder hives",), "the app is not running"),
        (("launch", "depth 1"), ""),
        (("launch", "depth 2"), "the depth is 1"),
        (("outside",), ""),
        (("launch", "outside"), "you stand on hives"),
        (("launch", "home", "away"), ""),
        (("launch", "away"), "you stand on hives"),
        (("launch", "home", "see hives"), "the app is in the background"),
        (("session is none",), ""),
        (("session is valid",), "session is none"),
        (("launch", "set session valid", "session is valid"), ""),
        (("launch", "tap hive(id=7)", "draft is clean"), ""),
        (("launch", "tap hive(id=7)", "tap write", "draft is clean"), "draft is edited"),
        (("launch", "draft is clean"), "you stand on hives, which holds no draft"),
        (("launch", "never saw hive"), ""),
        (("launch", "tap hive(id=7)", "back", "never saw hive"), "hive was seen"),
        (("launch", "set session valid", "tap hive(id=7)", "wait 2s", "never saw hive"), "hive was seen"),
        (("launch", "tap hive(id=7)", "back would land on hives"), ""),
        (("launch", "back would land on hives"), "Back would leave the app"),
        (("launch", "back would leave"), ""),
        (("launch", "tap hive(id=7)", "back would leave"), "Back would land on hives"),
        (("back would leave",), "Back would do nothing: Combfield is not running: launch it first"),
        (("launch", "tap out", "outside"), ""),
        (("launch", "launch"), "Combfield already runs"),
        (("launch", "tap frames"), 'hives has no tap "frames"; taps here: hive, out'),
        (("launch", "header back"), "no arrow: no rung is beneath it"),
        (("reopen",), "Combfield is not in the background"),
        (("launch", "home", "reopen", "see hives"), ""),
        (("launch", "{repeat 3: [tap hive(id=7), tap frames, tap hive look, back]}"), 'frames id 7 has no tap "hive"'),
        (("launch", "tap hive(id=7)", "{repeat 3: [tap frames, tap hive look]}", "depth 8"), ""),
    )  # fmt: skip

    def test_expectations(self) -> None:
        for lines, why in self.CASES:
            with self.subTest(lines):
                result = walked(*lines)
                self.assertEqual(result.passed, not why)
                if result.failed is not None:
                    unmet = result.played[result.failed].unmet
                    self.assertIn(why, unmet.words if unmet else "")


class Failures(unittest.TestCase):
    def test_the_step_that_made_the_difference(self) -> None:
        cases = (
            (("launch", "tap hive(id=7)", "tap frames", "tap hive look", "ladder hives > hive"), "tap frames"),
            (("launch", "tap hive(id=7)", "back", "wait 1s", "ladder hives > hive"), "back"),
            (("launch", "tap hive(id=12)", "tap frames", "ladder hives > hive(id=7) > frames"), "tap hive(id=12)"),
            (("launch", "tap hive(id=7)", "tap write", "draft is clean"), "tap write"),
        )
        for lines, culprit in cases:
            with self.subTest(lines):
                result = walked(*lines)
                self.assertEqual(result.played[result.cause if result.cause is not None else -1].line.text, culprit)

    def test_both_ladders_stand_side_by_side(self) -> None:
        result = walked("launch", "tap hive(id=7)", "tap frames", "ladder hives > hive(id=7)", "back")
        self.assertEqual(
            list(walk_lines(result, "p.yaml")),
            [
                "✗ w  (step 4 of 5)",
                "    p.yaml:20: ladder hives > hive(id=7): 1 more on the ladder",
                "      expected    actual",
                "    ✗ –           frames id 7",
                "      hive id 7   hive id 7",
                "      hives       hives",
                "      ╱╱╱╱╱╱╱╱╱╱╱╱╱╱╱╱╱╱╱╱╱╱╱",
                "    caused by step 3, tap frames: frames id 7 came",
                "    the walk ends on hive id 7, depth 2",
            ],
        )

    def test_the_rest_is_run_to_show_where_it_ends(self) -> None:
        result = walked("launch", "see hive", "tap hive(id=7)", "see frames", "back", "back")
        self.assertEqual((result.failed, len(result.played)), (1, 6))
        self.assertEqual(list(walk_lines(result, "p"))[-1], "    the walk ends on the ground")

    def test_a_high_ladder_is_folded(self) -> None:
        result = walked("launch", "tap hive(id=7)", "{repeat 20: [tap frames, tap hive look]}", "depth 2")
        lines = list(walk_lines(result, "p"))
        self.assertLess(len(lines), 20)
        self.assertIn("rungs folded", "\n".join(lines))


class TheDemo(unittest.TestCase):
    def test_every_walk_passes(self) -> None:
        for walk in COMBFIELD.walks:
            with self.subTest(walk.name):
                self.assertTrue(run_walk(COMBFIELD, walk).passed)


class Tapes(unittest.TestCase):
    GIVEN = (("welcomed", "yes"), ("session", "valid"))

    def tape(self, plan: Plan = COMBFIELD) -> Tape:
        tape = Tape(plan, initial_state(plan, self.GIVEN))
        for event in (Launch(), Wait(1200), Tap("hive", (("id", 7),)), Tap("frames"), Back()):
            tape, _ = tape.with_event(event)
        return tape

    def test_a_tape_kept_as_a_walk_passes(self) -> None:
        tape = self.tape()
        self.assertEqual(tape.as_steps(), ["launch", "wait 1200ms", "tap hive(id=7)", "tap frames", "back", "ladder hives"])
        self.assertEqual(tape.given(), ["session is valid", "welcomed is yes"])

    def test_stepping_back_gives_the_very_state(self) -> None:
        tape = self.tape()
        state = tape.first
        for count, entry in enumerate(tape.entries):
            self.assertEqual(tape.state_at(count), state)
            state = step(COMBFIELD, state, entry.event).state

    def test_a_refused_event_is_not_on_the_tape(self) -> None:
        tape = self.tape()
        same, done = tape.with_event(Tap("fly"))
        self.assertIs(same, tape)
        self.assertIsNotNone(done.refused)

    def test_where_a_tape_ends_is_what_it_expects(self) -> None:
        plan = plan_of("policies: {back at root: away}\nscreens: {hives: }")
        tape, _ = Tape(plan, initial_state(plan)).with_event(Launch())
        self.assertEqual(tape.as_steps()[-1], "ladder hives")
        tape, _ = tape.with_event(Back())
        self.assertEqual(tape.as_steps()[-1], "away")
        self.assertEqual(Tape(plan, initial_state(plan)).as_steps(), ["outside"])
