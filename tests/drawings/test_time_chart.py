"""The time chart: no words over others, bars as long as what they stand for, and files that other programs read."""

import tempfile
import unittest
from collections.abc import Iterator
from itertools import combinations, pairwise
from pathlib import Path
from random import Random
from xml.etree import ElementTree as ET

from tests.drawings.test_map import LARGE, SMALL, overlaps
from tests.plans import COMBFIELD
from tests.random_plans import likely
from wise_ladder.drawings import Look, draw_time
from wise_ladder.drawings.time_layout import TimeChart, time_chart
from wise_ladder.plan import Plan
from wise_ladder.semantics import initial_state
from wise_ladder.walks import run_walk
from wise_ladder.walks.tape import Tape
from wise_ladder.walks.time_scale import FOLDED_OVER, FOLDED_TO, time_scale
from wise_ladder.walks.timeline import timeline


def random_tape(plan: Plan, steps: int, seed: int) -> Tape:
    random, tape = Random(seed), Tape(plan, initial_state(plan))
    for _ in range(steps):
        tape, _ = tape.with_event(likely(random, plan, tape.state_at(len(tape.entries))))
    return tape


def walked(name: str) -> Tape:
    walk = next(walk for walk in COMBFIELD.walks if walk.name == name)
    return Tape.from_walk(COMBFIELD, run_walk(COMBFIELD, walk))


class Charts(unittest.TestCase):
    def each(self) -> Iterator[tuple[str, TimeChart]]:
        for walk in COMBFIELD.walks:
            yield walk.name, time_chart(timeline(walked(walk.name)), walk.name, 960)
        for name, plan in (("small", SMALL), ("large", LARGE)):
            for steps in (0, 12, 300):
                yield f"{name} {steps}", time_chart(timeline(random_tape(plan, steps, steps)), name, 960)

    def test_no_words_lie_over_others_and_all_stand_on_the_page(self) -> None:
        for name, chart in self.each():
            with self.subTest(name):
                frames = [text.frame for text in chart.texts]
                self.assertEqual([pair for pair in combinations(frames, 2) if overlaps(*pair)], [])
                for frame in (*frames, *(bar.frame for bar in chart.bars)):
                    self.assertGreaterEqual(min(frame.x, frame.y), 0)
                    self.assertLessEqual(frame.x + frame.width, chart.size.width + 0.01)
                    self.assertLessEqual(frame.y + frame.height, chart.size.height)

    def test_bars_on_one_lane_follow_one_another(self) -> None:
        for name, chart in self.each():
            with self.subTest(name):
                seen = sorted(
                    (bar for bar in chart.bars if bar.stretch.kind in {"cover", "screen", "ground"}),
                    key=lambda bar: bar.frame.x,
                )
                for one, other in pairwise(seen):
                    self.assertLessEqual(one.frame.x + one.frame.width, other.frame.x + 1.6)

    def test_a_chart_of_depth_ends_at_its_last_reading(self) -> None:
        drawn = timeline(walked("ten toggles, one Back"))
        depth, weight = time_chart(drawn, "toggles", 960, lanes=False).charts
        self.assertEqual(len(depth.corners), 2 * len(drawn.readings) + 2)
        self.assertIsNotNone(weight.limit)
        self.assertEqual(len(time_chart(timeline(random_tape(SMALL, 5, 1)), "small", 960).charts), 1)


class Scales(unittest.TestCase):
    def test_long_waits_are_folded_and_what_takes_no_time_has_room(self) -> None:
        for walk in COMBFIELD.walks:
            drawn = timeline(walked(walk.name))
            scale = time_scale(drawn)
            self.assertEqual(sorted(set(scale.places)), list(scale.places), walk.name)
            times = [0, *(moment.time for moment in drawn.moments)]
            long = [
                (number, other - one) for number, (one, other) in enumerate(pairwise(times), 1) if other - one > FOLDED_OVER
            ]
            self.assertEqual(list(scale.folds), long)
            for number, (one, other) in enumerate(pairwise(times), 1):
                length = scale.places[number] - scale.places[number - 1]
                if other > one:
                    self.assertEqual(length, FOLDED_TO if other - one > FOLDED_OVER else other - one)


class Files(unittest.TestCase):
    def test_the_same_bytes_each_time_as_svg_and_pdf(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            for ending, look in (("svg", Look()), ("svg", Look(dark=True)), ("pdf", Look(slide=True))):
                paths = [Path(folder) / f"{name}.{ending}" for name in ("one", "two")]
                for path in paths:
                    draw_time(walked("start with a session that is valid"), "a start", path, look)
                self.assertEqual(paths[0].read_bytes(), paths[1].read_bytes())
            words = [each.text for each in ET.parse(Path(folder) / "one.svg").iter() if each.tag.endswith("text")]
            self.assertLessEqual({"Combfield: a start", "400 ms valid", "≈ 3.8 s ≈", "limit 150MB"}, set(words))


if __name__ == "__main__":
    unittest.main()
