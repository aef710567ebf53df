"""A run along its clock: what was seen adds up, and what lasted begins and ends with what happened."""

import unittest
from itertools import pairwise
from random import Random

from tests.plans import COMBFIELD, plan_of
from tests.random_plans import likely, plan_of_seed
from wise_ladder.demo import gallery
from wise_ladder.plan import Plan
from wise_ladder.plan.events import Back, Event, Launch, Reply, Tap, Wait
from wise_ladder.plan.loader import read_plan
from wise_ladder.semantics import initial_state, log
from wise_ladder.walks import run_walk
from wise_ladder.walks.seen import seen_intervals
from wise_ladder.walks.tape import Tape
from wise_ladder.walks.timeline import Stretch, Timeline, timeline

PLAN = plan_of("""
    calls: {weigh: {ok: 400ms, no: 2s}}
    cover: {least: 300ms, most: 1s}
    screens:
      hives:
        moves: [{when: tap hive, do: push hive}, {when: tap note, do: open saved}]
      hive:
        holds: {draft: [clean, edited]}
        moves:
          - {when: 500ms shown, do: set draft edited}
          - {when: tap weigh, do: call weigh}
          - {when: tap stop, do: cancel weigh}
          - {when: weigh gives ok, do: set draft edited}
          - {when: tap write, do: set draft edited}
        guards: [{name: unsaved, if: draft is edited, ask: {text: Leave?, answers: [{stay: stay}, {leave: go on}]}}]
    overlays: {saved: {kind: notice, for: 2s}}
""")


def run(plan: Plan, *events: Event) -> Timeline:
    tape = Tape(plan, initial_state(plan))
    for event in events:
        tape, done = tape.with_event(event)
        assert done.refused is None, (event, done.refused)
    return timeline(tape)


def of_kind(drawn: Timeline, kind: str) -> list[tuple[str, int, int, str]]:
    return [(each.lane, each.since, each.until, each.ended) for each in drawn.stretches if each.kind == kind]


class Stretches(unittest.TestCase):
    def test_what_is_seen_follows_one_another(self) -> None:
        drawn = run(PLAN, Launch(), Wait(700), Tap("hive"), Wait(200), Back(), Wait(100))
        seen = sorted((each for each in drawn.stretches if each.kind in {"cover", "screen", "ground"}), key=start)
        self.assertEqual(
            [(each.words, each.since, each.until, each.open) for each in seen],
            [("the ground", 0, 0, False), ("cover", 0, 300, False), ("hives", 300, 700, False), ("hive", 700, 900, False),
             ("hives", 900, 1000, True)],
        )  # fmt: skip

    def test_timers_and_calls_say_what_became_of_them(self) -> None:
        drawn = run(
            PLAN, Launch(), Wait(300), Tap("hive"), Tap("weigh"), Wait(450), Reply("weigh", "ok"), Tap("weigh"), Wait(300)
        )
        self.assertIn(("hive", 300, 800, "fell due"), of_kind(drawn, "timer"))
        self.assertEqual(of_kind(drawn, "call"), [("weigh", 300, 750, "ok"), ("weigh", 750, 1050, "")])
        drawn = run(PLAN, Launch(), Wait(300), Tap("hive"), Wait(100), Back())
        self.assertIn(("hive", 300, 400, "stopped"), of_kind(drawn, "timer"))

    def test_a_call_may_be_cancelled_or_answered_for_nobody(self) -> None:
        begun = (Launch(), Wait(300), Tap("hive"), Tap("weigh"))
        self.assertEqual(of_kind(run(PLAN, *begun, Wait(50), Tap("stop")), "call"), [("weigh", 300, 350, "cancelled")])
        # The screen that went had a use for the one, and none for the other.
        for outcome, time in (("ok", 500), ("no", 2_000)):
            drawn = run(PLAN, *begun, Back(), Wait(time), Reply("weigh", outcome))
            self.assertEqual(of_kind(drawn, "call"), [("weigh", 300, 300 + time, f"{outcome}, for nobody")])

    def test_questions_and_overlays_lie_over_it(self) -> None:
        drawn = run(PLAN, Launch(), Wait(300), Tap("note"), Tap("hive"), Tap("write"), Wait(100), Back(), Wait(3000))
        self.assertEqual(of_kind(drawn, "question"), [("unsaved", 400, 3400, "")])
        self.assertEqual(of_kind(drawn, "overlay"), [("saved", 300, 2300, "by itself")])

    def test_a_wait_is_told_apart_by_what_fell_due_in_it(self) -> None:
        drawn = run(PLAN, Launch(), Wait(300), Tap("hive"), Wait(2000))
        within = [moment for moment in drawn.moments if moment.number == 4]
        self.assertEqual(
            [moment.time for moment in within if any(isinstance(each, log.TimerFired) for each in moment.log)], [800]
        )
        self.assertEqual(drawn.moments[-1].time, 2300)

    def test_the_flash_of_the_gallery_is_marked_and_its_mended_twin_has_none(self) -> None:
        fault = next(fault for fault in gallery() if fault.name == "sign-in-flash")
        flashes = []
        for path in (fault.faulty, fault.fixed):
            plan = read_plan(path)
            drawn = timeline(Tape.from_walk(plan, run_walk(plan, plan.walks[0])))
            flashes.append([(each.lane, each.time) for each in drawn.stretches if each.flash])
        self.assertEqual(flashes, [[("sign in", 400)], []])

    def test_depth_and_weight(self) -> None:
        walk = next(walk for walk in COMBFIELD.walks if walk.name == "at most one comb is held")
        drawn = timeline(Tape.from_walk(COMBFIELD, run_walk(COMBFIELD, walk)))
        self.assertGreater(max(reading.weight for reading in drawn.readings), 40_000_000)
        self.assertEqual([reading.moment for reading in drawn.readings], list(range(len(drawn.moments) + 1)))


def start(stretch: Stretch) -> tuple[int, int]:
    return stretch.since, stretch.until


def moments(stretch: Stretch) -> tuple[int, int]:
    return stretch.first, stretch.last


class AddsUp(unittest.TestCase):
    def test_on_200_random_tapes_what_is_seen_covers_the_clock_without_gap_or_overlap(self) -> None:
        waited = 0
        for seed in range(200):
            random = Random(seed)
            plan = plan_of_seed(random)
            tape = Tape(plan, initial_state(plan))
            for _ in range(25):
                tape, _ = tape.with_event(likely(random, plan, tape.state_at(len(tape.entries))))
            drawn = timeline(tape)
            with self.subTest(seed=seed):
                seen = sorted((each for each in drawn.stretches if each.kind in {"cover", "screen", "ground"}), key=moments)
                self.assertEqual((seen[0].since, seen[-1].until, seen[-1].open), (0, drawn.until, True))
                for one, other in pairwise(seen):
                    self.assertEqual((one.until, one.last), (other.since, other.first))
                self.assertEqual(sum(each.time for each in seen), drawn.until)
                for each in drawn.stretches:
                    self.assertLessEqual((0, each.since), (each.since, each.until))
                    self.assertLessEqual(each.until, drawn.until)
                    self.assertLessEqual((0, each.first), (each.first, each.last))
                # Waits in parts come to what they come to as a whole.
                self.assertEqual(drawn.moments[-1].state if drawn.moments else tape.first, tape.state_at(len(tape.entries)))
                whole = seen_intervals(tape.entries)
                self.assertEqual(len([each for each in seen[:-1] if each.kind != "ground"]), len(whole))
                waited += sum(moment.event == other.event for moment, other in pairwise(drawn.moments))
        self.assertGreater(waited, 100)


if __name__ == "__main__":
    unittest.main()
