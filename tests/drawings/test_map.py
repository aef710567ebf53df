"""The map of screens and moves: nothing lies over anything, letters can be read, and a path is traced where it went."""

import re
import tempfile
import unittest
from collections.abc import Iterator
from functools import cache
from itertools import combinations, pairwise
from pathlib import Path
from random import Random

import networkx as nx
import pygraphviz

from tests.plans import COMBFIELD, plan_of
from wise_ladder.drawings import Look, MapWish, draw_map
from wise_ladder.drawings.map_layout import Curve, Frame, Point
from wise_ladder.drawings.map_pages import LEAST_LETTERS, MapPage, map_pages
from wise_ladder.drawings.map_texts import LETTERS
from wise_ladder.drawings.map_trace import trace_on
from wise_ladder.drawings.paper import A2, SLIDE, Paper
from wise_ladder.errors import QuestionError
from wise_ladder.plan import Plan
from wise_ladder.plan.events import Back, Launch, OpenLink, Tap
from wise_ladder.plan.map_groups import home_groups
from wise_ladder.plan.map_tree import cut_to, map_tree
from wise_ladder.plan.screen_map import OUTSIDE, START, MapArrow, ScreenMap, around, screen_map
from wise_ladder.semantics import initial_state
from wise_ladder.walks import run_walk
from wise_ladder.walks.tape import Tape

SMALL = plan_of("""
    screens:
      hives: {moves: [{when: tap hive, do: push hive}, {when: tap leave, do: leave}]}
      hive: {moves: [{when: tap comb, do: push comb}, {when: tap note, do: open note}]}
      comb: {moves: [{when: tap done, do: pop to hives}]}
    overlays: {note: {kind: sheet, moves: [{when: tap comb, do: [close, push comb]}]}}
    links: [{address: 'combfield://comb', build: [hives, comb]}]
""")


def generated(screens: int, seed: int) -> Plan:
    """Make a plan of so many screens with three tabs, and moves here and there."""
    random = Random(seed)
    names = [f"screen number {number}" for number in range(screens)]
    lines = [
        "start: home",
        "flows: {home: {tabs: {" + ", ".join(f"tab {tab}: {names[tab]}" for tab in range(3)) + "}}}",
        "screens:",
    ]
    for number, name in enumerate(names):
        ends = {names[(number * 2 + 3) % screens], random.choice(names), names[(number + 3) % screens]}
        moves = [f"{{when: tap {end[7:]}, do: {random.choice(('push', 'replace'))} {end}}}" for end in sorted(ends)]
        lines.append(f"  {name}: {{moves: [{', '.join(moves)}, {{when: tap done, do: pop}}]}}")
    return plan_of("\n".join(lines))


LARGE = generated(60, 1)


def overlaps(one: Frame, other: Frame) -> bool:
    apart = 0.5
    return (one.x + one.width > other.x + apart and other.x + other.width > one.x + apart
            and one.y + one.height > other.y + apart and other.y + other.height > one.y + apart)  # fmt: skip


def points(curve: Curve) -> Iterator[Point]:
    """Go through points close to one another on a line of Bézier curves, up to its tip."""
    for first in range(0, len(curve.points) - 1, 3):
        (ax, ay), (bx, by), (cx, cy), (dx, dy) = curve.points[first : first + 4]
        for step in range(21):
            t = step / 20
            u = 1 - t
            yield (u**3 * ax + 3 * u * u * t * bx + 3 * u * t * t * cx + t**3 * dx,
                   u**3 * ay + 3 * u * u * t * by + 3 * u * t * t * cy + t**3 * dy)  # fmt: skip
    if curve.tip is not None:
        yield curve.tip


def crossed(page: MapPage) -> list[tuple[MapArrow, str]]:
    """List the arrows that run through a box or words that are not their own."""
    wrong = []
    frames = {**page.layout.boxes, **{f"words {number}": label for number, label in enumerate(page.layout.labels)}}
    for number, (arrow, curves) in enumerate(zip(page.drawn.arrows, page.layout.curves, strict=True)):
        line = [point for curve in curves for point in points(curve)]
        for name, (left, low, width, height) in frames.items():
            inside = any(left + 1 < x < left + width - 1 and low + 1 < y < low + height - 1 for x, y in line)
            if inside and name not in {arrow.start, arrow.end, f"words {number}"}:
                wrong.append((arrow, name))
    return wrong


@cache
def pages_of(plan: Plan, paper: Paper) -> list[MapPage]:
    return map_pages(screen_map(plan), "Combfield: map", paper)


class Layouts(unittest.TestCase):
    def each(self) -> Iterator[tuple[str, list[MapPage]]]:
        for name, plan in (("small", SMALL), ("Combfield", COMBFIELD), ("large", LARGE)):
            for paper in (A2, SLIDE):
                yield f"{name} {paper}", pages_of(plan, paper)

    def test_nothing_lies_over_anything_and_no_line_runs_through_what_is_not_its_own(self) -> None:
        for name, pages in self.each():
            for page in pages:
                with self.subTest(name, page=page.title):
                    frames = [*page.layout.boxes.values(), *page.layout.labels]
                    self.assertEqual([pair for pair in combinations(frames, 2) if overlaps(*pair)], [])
                    self.assertEqual(crossed(page), [])

    def test_letters_can_be_read_and_each_page_fits_its_paper(self) -> None:
        for name, pages in self.each():
            paper = SLIDE if "540" in name else A2
            for page in pages:
                with self.subTest(name, page=page.title):
                    self.assertGreaterEqual(page.scale * LETTERS, LEAST_LETTERS)
                    width, height = sorted(page.size)
                    self.assertLessEqual(width, min(paper.size) + 0.01)
                    self.assertLessEqual(height, max(paper.size) + 0.01)

    def test_a_small_map_is_one_page_and_a_large_one_several_with_an_overview(self) -> None:
        self.assertEqual(len(pages_of(SMALL, A2)), 1)
        self.assertEqual(len(pages_of(COMBFIELD, A2)), 1)
        pages = pages_of(LARGE, SLIDE)
        self.assertEqual(pages[0].title, "Combfield: map: overview")
        drawn = [box.key for page in pages[1:] for box in page.drawn.boxes if box.kind != "elsewhere"]
        self.assertEqual(sorted(drawn), sorted(box.key for box in screen_map(LARGE).boxes))

    def test_each_group_lies_around_its_boxes_and_around_no_other(self) -> None:
        (page,) = pages_of(COMBFIELD, A2)
        for group, frame in page.layout.groups.items():
            for box in page.drawn.boxes:
                with self.subTest(group, box=box.key):
                    self.assertEqual(overlaps(frame, page.layout.boxes[box.key]), box.group[: len(group)] == group)

    def test_words_have_room_in_another_font_that_is_wider(self) -> None:
        (page,) = pages_of(COMBFIELD, A2)
        # The letters of this font are 0.6 of their height wide in the middle.
        for texts, frame in zip(page.arrows, page.layout.labels, strict=True):
            longest = max(len(line.words) * line.letters for line in texts.lines)
            self.assertGreater(frame.width, longest * 0.55)


class Maps(unittest.TestCase):
    def test_what_leads_where(self) -> None:
        drawn = screen_map(SMALL)
        ways = {(arrow.start, arrow.end): [line.text for line in arrow.lines] for arrow in drawn.arrows}
        self.assertEqual(
            ways,
            {
                (START, "hives"): ["↑ launch"],
                ("hives", "hive"): ["↑ tap hive"],
                ("hives", OUTSIDE): ["○ tap leave"],
                ("hive", "comb"): ["↑ tap comb"],
                ("hive", "note"): ["▫ tap note"],
                ("note", "comb"): ["↑ tap comb"],
                ("comb", "hives"): ["⇓ tap done"],
            },
        )
        self.assertEqual([box.key for box in drawn.boxes if box.links], ["comb"])

    def test_flows_and_tabs_are_groups(self) -> None:
        groups = home_groups(COMBFIELD)
        for screen, group in (
            ("splash", ()),
            ("begin", ("first steps",)),
            ("inspection", ("home", "hives")),
            ("entry", ("home", "diary")),
            ("receipt", ("home", "supplies")),
            ("settings", ("home",)),
            ("sign in", ()),
            ("alert", ("home", "hives")),
        ):
            self.assertEqual(groups[screen], group, screen)

    def test_what_is_put_on_the_app_or_in_another_tab_is_at_home_there(self) -> None:
        plan = plan_of("""
            start: home
            flows: {home: {tabs: {one: hives, two: diary}}}
            screens:
              hives: {moves: [{when: tap entry, do: [switch two, push entry]}, {when: tap help, do: push help on app}]}
              diary: {}
              entry: {}
              help: {}
        """)
        groups = home_groups(plan)
        self.assertEqual((groups["entry"], groups["help"], groups["hives"]), (("home", "two"), (), ("home", "one")))

    def test_ways_that_lead_to_no_other_box_stand_in_their_own(self) -> None:
        boxes = {box.key: [line.text for line in box.lines] for box in screen_map(COMBFIELD).boxes}
        self.assertEqual(boxes["treatment"], ["↓ tap done"])
        self.assertEqual(boxes["comb"], ["⇄ tap next comb(n)"])

    def test_a_screen_may_be_called_as_a_box_that_is_none(self) -> None:
        plan = plan_of("""
            screens:
              hives: {moves: [{when: tap on, do: "push 'anywhere'"}, {when: tap out, do: leave}]}
              anywhere: {moves: [{when: tap on, do: push start}]}
              start: {moves: [{when: tap on, do: "push 'the ground'"}]}
              the ground: {}
            anywhere: [{when: tap menu, do: push hives}]
        """)
        self.assertEqual(len(screen_map(plan).boxes), len(plan.screens) + 3)
        arrows = {(arrow.start, arrow.end) for arrow in pages_of(plan, A2)[0].drawn.arrows}
        self.assertLessEqual({("anywhere", "start"), ("hives", OUTSIDE), ("start", "the ground")}, arrows)
        self.assertEqual(len(arrows), 6)

    def test_a_long_chain_is_a_tree_of_one_row(self) -> None:
        names = [f"s{number}" for number in range(1_500)]
        moves = "".join(f"  {one}: {{moves: [{{when: tap on, do: push {two}}}]}}\n" for one, two in pairwise(names))
        cells = map_tree(screen_map(plan_of(f"start: s0\nscreens:\n{moves}  {names[-1]}: {{}}\n")))
        self.assertEqual({cell.row for cell in cells}, {0})

    def test_around_a_screen(self) -> None:
        drawn = screen_map(COMBFIELD)
        near = {box.key for box in around(COMBFIELD, drawn, "treatment").boxes}
        self.assertEqual(near, {"treatment", "frames", "hive", "comb"})
        with self.assertRaisesRegex(QuestionError, 'no screen "treatmnt"; did you mean "treatment"'):
            around(COMBFIELD, drawn, "treatmnt")

    def test_the_tree_shows_each_screen_once_with_the_fewest_moves_to_it(self) -> None:
        cells = map_tree(screen_map(COMBFIELD))
        self.assertEqual(len(cells), len({cell.box.key for cell in cells}))
        self.assertLessEqual(set(COMBFIELD.screen), {cell.box.key for cell in cells})
        rows = {cell.box.key: (cell.row, cell.column) for cell in cells}
        self.assertEqual(rows["splash"], (0, 0))
        self.assertEqual(rows["hives"][0], rows["hive"][0])
        for one, other in combinations(cells, 2):
            if one.row == other.row:
                first, second = sorted((one, other), key=lambda cell: cell.column)
                self.assertLess(first.column + len(first.box.title), second.column)
        self.assertTrue(all(cell.row < 5 for cell in cut_to(cells, 5, 50)))


class Traces(unittest.TestCase):
    def traced(self, plan: Plan, tape: Tape) -> tuple[ScreenMap, dict[tuple[str, str], list[int]], dict[str, list[int]], str]:
        drawn, trace = trace_on(screen_map(plan), tape)
        return drawn, trace.taken, trace.at, trace.end

    def test_a_walk_takes_the_arrows_of_its_moves(self) -> None:
        walk = next(walk for walk in COMBFIELD.walks if walk.name == "ten toggles, one Back")
        _, taken, _, end = self.traced(COMBFIELD, Tape.from_walk(COMBFIELD, run_walk(COMBFIELD, walk)))
        self.assertEqual(taken[START, "splash"], [1])
        self.assertEqual(taken["splash", "home"], [2])
        self.assertEqual(taken["hive", "frames"], list(range(4, 24, 2)))
        self.assertEqual((taken["hive", "hives"], end), ([24], "hives"))

    def test_a_redirect_of_several_screens_is_traced_from_its_box(self) -> None:
        walk = next(walk for walk in COMBFIELD.walks if walk.name == "after sign-in you get where you wanted to go")
        _, taken, _, _ = self.traced(COMBFIELD, Tape.from_walk(COMBFIELD, run_walk(COMBFIELD, walk)))
        self.assertEqual([steps for (start, _), steps in taken.items() if start.startswith("\0redirect of home")], [[2]])

    def test_back_and_links_are_traced_too(self) -> None:
        tape = Tape(SMALL, initial_state(SMALL))
        for event in (Launch(), Tap("hive"), Back(), OpenLink("combfield://comb"), Back(), Back()):
            tape, _ = tape.with_event(event)
        drawn, trace = trace_on(screen_map(SMALL), tape)
        self.assertEqual(trace.taken, {(START, "hives"): [1], ("hives", "hive"): [2], ("hive", "hives"): [3],
                                       ("comb", "hives"): [5], ("hives", OUTSIDE): [6]})  # fmt: skip
        self.assertEqual((trace.at, trace.end), ({"comb": [4]}, OUTSIDE))
        self.assertEqual([(arrow.start, arrow.end) for arrow in trace.extra], [("hive", "hives")])
        (page,) = map_pages(drawn, "traced", A2, trace)
        self.assertEqual(page.arrows[0].lines[0].words, "1")
        self.assertEqual(crossed(page), [])


class Files(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def test_the_same_bytes_each_time_and_text_stays_text(self) -> None:
        for ending in ("svg", "pdf", "graphml", "dot"):
            for name in ("one", "two"):
                draw_map(SMALL, self.folder / f"{name}.{ending}", MapWish(look=Look(dark=True)))
            one, two = ((self.folder / f"{name}.{ending}").read_bytes() for name in ("one", "two"))
            self.assertEqual(one, two, ending)
        self.assertIn("↑ tap hive</text>", (self.folder / "one.svg").read_text(encoding="utf-8"))

    def test_a_map_of_several_pages(self) -> None:
        draw_map(LARGE, self.folder / "map.pdf", MapWish(look=Look(slide=True)))
        draw_map(LARGE, self.folder / "map.svg", MapWish(look=Look(slide=True)))
        pages = pages_of(LARGE, SLIDE)
        self.assertEqual((self.folder / "map.pdf").read_bytes().count(b"/Type /Page "), len(pages))
        svg = (self.folder / "map.svg").read_text(encoding="utf-8")
        self.assertEqual(len(re.findall("<text[^>]*>Combfield: map", svg)), len(pages))

    def test_what_other_programs_read_has_all_boxes_and_arrows(self) -> None:
        drawn = screen_map(COMBFIELD)
        for ending in ("graphml", "dot"):
            draw_map(COMBFIELD, self.folder / f"map.{ending}")
        graph = nx.read_graphml(self.folder / "map.graphml")
        box = {data["label"]: node for node, data in graph.nodes(data=True)}
        self.assertEqual(graph.nodes[box["inspection"]]["group"], "home > hives")
        self.assertEqual(graph.edges[box["hive"], box["frames"]]["ways"], "replace: tap frames")
        self.assertEqual((len(graph.nodes), len(graph.edges)), (len(drawn.boxes), len(drawn.arrows)))
        read = pygraphviz.AGraph(string=(self.folder / "map.dot").read_text(encoding="utf-8"))
        self.assertEqual(len(read.nodes()), len(drawn.boxes))
        self.assertEqual(len(read.edges()), len(drawn.arrows))

    def test_names_that_mean_something_to_a_format_are_names(self) -> None:
        names = ["<b>x</b>", "a\\Nb", "x" * 300, "q & <", "$x^2$", "界" * 20]
        moves = "{moves: [{when: tap on, do: push plain}]}"
        plan = plan_of("start: plain\nscreens:\n  plain: {}\n" + "".join(f"  {name!r}: {moves}\n" for name in names))
        for ending in ("svg", "pdf", "graphml", "dot"):
            draw_map(plan, self.folder / f"map.{ending}")
        read = pygraphviz.AGraph(string=(self.folder / "map.dot").read_text(encoding="utf-8"))
        self.assertEqual(len(read.nodes()), len(names) + 2)
        self.assertEqual(len(nx.read_graphml(self.folder / "map.graphml").nodes), len(names) + 2)


if __name__ == "__main__":
    unittest.main()
