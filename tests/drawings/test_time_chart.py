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
from wise_ladder.drawings.map_layout import Size
from wise_ladder.drawings.paper import SLIDE
from wise_ladder.drawings.time_layout import TimeChart, time_charts
from wise_ladder.plan import Plan
from wise_ladder.semantics import initial_state
from wise_ladder.walks import run_walk
from wise_ladder.walks.reply_branches import replies_of, with_reply
from wise_ladder.walks.tape import Tape
from wise_ladder.walks.time_axis import FOLDED_OVER, FOLDED_TO, time_axis
from wise_ladder.walks.timeline import timeline

PAGE = Size(960, 1190)


def random_tape(plan: Plan, steps: int, seed: int) -> Tape:
    random, tape = Random(seed), Tape(plan, initial_state(plan))
    for _ in range(steps):
        tape, _ = tape.with_event(likely(random, plan, tape.state_at(len(tape.entries))))
    return tape


def walked(name: str) -> Tape:
    walk = next(walk for walk in COMBFIELD.walks if walk.name == name)
    return Tape.from_walk(COMBFIELD, run_walk(COMBFIELD, walk))


def chart_of(tape: Tape, *, lanes: bool = True) -> TimeChart:
    return time_charts([timeline(tape)], "a run", ["a run"], PAGE, lanes=lanes)[-1]


class Charts(unittest.TestCase):
    def each(self) -> Iterator[tuple[str, TimeChart]]:
        tapes = {walk.name: walked(walk.name) for walk in COMBFIELD.walks}
        for name, plan in (("small", SMALL), ("large", LARGE)):
            tapes |= {f"{name} {steps}": random_tape(plan, steps, steps) for steps in (0, 12, 300)}
        for name, tape in tapes.items():
            for paper in (PAGE, SLIDE.size):
                for chart in time_charts([timeline(tape)], name, [name], paper):
                    yield name, chart
        # Two runs over one another: with another reply, and two that have little in common.
        start = walked("start with a session that is valid")
        others = [with_reply(start, reply, other) for reply in replies_of(start) for other in reply.others]
        pairs = [(start, other) for other in others if other is not None]
        pairs += [(random_tape(LARGE, 60, 1), random_tape(LARGE, 60, 2))]
        for one, other in pairs:
            for chart in time_charts([timeline(one), timeline(other)], "two runs", ["one", "another"], SLIDE.size):
                yield "two runs", chart

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
                seen = [bar for bar in chart.bars if bar.stretch.kind in {"cover", "screen", "ground"}]
                for one, other in pairwise(sorted(seen, key=lambda bar: (bar.frame.y, bar.frame.x))):
                    if one.frame.y == other.frame.y:
                        self.assertLessEqual(one.frame.x + one.frame.width, other.frame.x + 1.6)

    def test_a_chart_of_depth_ends_at_its_last_reading(self) -> None:
        drawn = timeline(walked("ten toggles, one Back"))
        depth, weight = chart_of(walked("ten toggles, one Back"), lanes=False).charts
        self.assertEqual([len(each) for each in depth.corners], [2 * len(drawn.readings) + 2])
        self.assertIsNotNone(weight.limit)
        self.assertEqual(len(chart_of(random_tape(SMALL, 5, 1)).charts), 1)

    def test_many_lanes_go_on_on_other_pages_with_all_letters_as_large(self) -> None:
        run = timeline(random_tape(LARGE, 300, 300))
        pages = time_charts([run], "long", ["long"], SLIDE.size)
        self.assertGreater(len(pages), 1)
        self.assertEqual(sum(len(page.bars) for page in pages), len(run.stretches))
        self.assertEqual([len(page.charts) for page in pages], [0] * (len(pages) - 1) + [1])
        for page in pages:
            self.assertLessEqual(page.size.height, SLIDE.size.height)
            self.assertTrue(page.bars or page.charts)
            self.assertGreaterEqual(min(text.line.letters for text in page.texts), 7)

    def test_two_runs_are_marked_where_they_first_differ(self) -> None:
        start = walked("start with a session that is valid")
        expired = with_reply(start, replies_of(start)[0], "expired")
        assert expired is not None
        (chart,) = time_charts([timeline(start), timeline(expired)], "two", ["valid", "expired"], PAGE)
        self.assertIsNotNone(chart.differs)
        words = {text.line.words for text in chart.texts}
        self.assertTrue(any("first difference" in each and "session" in each for each in words), words)
        self.assertLessEqual({"1", "2", "="}, words)


class Axes(unittest.TestCase):
    def test_long_waits_are_folded_and_what_takes_no_time_has_room(self) -> None:
        for walk in COMBFIELD.walks:
            axis = time_axis(timeline(walked(walk.name)))
            places = [stop.place for stop in axis.stops]
            self.assertEqual(sorted(set(places)), places, walk.name)
            self.assertEqual(axis.places, (tuple(places),))
            for one, other in pairwise(axis.stops):
                time, length = other.time - one.time, other.place - one.place
                if time:
                    self.assertEqual(length, FOLDED_TO if time > FOLDED_OVER else time)
                self.assertEqual((one.place, other.place, time) in axis.folds, time > FOLDED_OVER)

    def test_the_same_step_of_two_runs_stands_at_one_place(self) -> None:
        start = walked("start with a session that is valid")
        expired = with_reply(start, replies_of(start)[0], "expired")
        assert expired is not None
        axis = time_axis(timeline(start), timeline(expired))
        one, other = axis.places
        self.assertEqual((one[0], one[1], one[-1]), (other[0], other[1], other[-1]))
        self.assertEqual([stop.place for stop in axis.stops], sorted({*one, *other}))
        self.assertEqual(axis.stops[-1].counts, (len(one) - 1, len(other) - 1))


class Files(unittest.TestCase):
    def test_the_same_bytes_each_time_as_svg_and_pdf(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            for ending, look in (("svg", Look()), ("svg", Look(dark=True)), ("pdf", Look(slide=True))):
                paths = [Path(folder) / f"{name}.{ending}" for name in ("one", "two")]
                for path in paths:
                    draw_time([("a start", walked("start with a session that is valid"))], path, look)
                self.assertEqual(paths[0].read_bytes(), paths[1].read_bytes())
            words = [each.text for each in ET.parse(Path(folder) / "one.svg").iter() if each.tag.endswith("text")]
            self.assertLessEqual({"Combfield: a start", "400 ms valid", "≈ 3.8 s ≈", "limit 150MB"}, set(words))


if __name__ == "__main__":
    unittest.main()
