"""What Crossings is about, without a screen, and its table at every size."""

import unittest

from tests.plans import COMBFIELD, plan_of
from wise_ladder.app.crossings import detail_drawing, table
from wise_ladder.app.crossings.selection import CrossingSelection
from wise_ladder.app.palette import PALETTES
from wise_ladder.demo import combfield
from wise_ladder.plan.loader import read_plan_text
from wise_ladder.plan.model import Move
from wise_ladder.walks.exploration import explore, walk_usage


def many(count: int) -> str:
    """A plan of so many screens in a round, with a jump ahead from each."""
    lines = ["app: Combfield", "start: s0", "screens:"]
    for number in range(count):
        lines += [f"  s{number}:", "    moves:", f"      - {{when: tap on, do: push s{(number + 1) % count}}}"]
        lines += [f"      - {{when: tap far, do: replace s{(number + count // 2) % count}}}", "      - {when: tap up, do: pop}"]
    return "\n".join(lines)


class Choosing(unittest.TestCase):
    def chart(self) -> CrossingSelection:
        chart = CrossingSelection(COMBFIELD)
        chart.met(walk_usage(COMBFIELD), explore(COMBFIELD, most=600))
        return chart

    def test_going_from_crossing_to_crossing(self) -> None:
        chart = self.chart()
        self.assertEqual([chart.current and chart.current.start], ["splash"])
        chart.go(-1)
        self.assertEqual(chart.chosen, len(chart.shown) - 1)
        chart.go(1)
        chart.go_row(1)
        assert chart.current is not None
        self.assertEqual(chart.current.start, "welcome")
        chart.go_row(-1)
        chart.go_row(-1)
        self.assertEqual(chart.current.start, "splash")

    def test_finding(self) -> None:
        chart = self.chart()
        chart.find("hive replace")
        self.assertTrue(chart.shown)
        for each in chart.shown:
            self.assertEqual(each.kind, "replace")
        self.assertLess(len(chart.rows), 6)
        chart.find("nothing like this")
        self.assertIsNone(chart.current)
        chart.go(1)
        chart.go_row(1)
        chart.find("")
        self.assertEqual(len(chart.shown), chart.total)

    def test_what_no_walk_takes(self) -> None:
        chart = self.chart()
        self.assertTrue(chart.go_untried())
        assert chart.current is not None
        self.assertEqual(chart.count(chart.current), 0)
        chart.find("tap frames hive")
        self.assertFalse(chart.go_untried())

    def test_what_it_does_to_the_ladder_is_the_step_that_takes_it(self) -> None:
        chart = self.chart()
        for number, each in enumerate(chart.shown):
            chart.chosen = number
            found = chart.taken(each)
            if found is not None and isinstance(each.part, Move):
                self.assertIn(each.part, found[2].entries[-1].step.moves)

    def test_after_an_edit_the_same_one_stays_chosen(self) -> None:
        chart = self.chart()
        chart.find("tap frames")
        text = combfield().read_text().replace("replace frames(id=$id)", "push frames(id=$id)")
        chart.take_up(read_plan_text(text))
        assert chart.current is not None
        self.assertEqual((chart.current.start, chart.current.kind), ("hive", "push"))


class Drawing(unittest.TestCase):
    def rows(self, chart: CrossingSelection, width: int, height: int) -> list[str]:
        return [strip.text for strip in table.draw(chart, PALETTES["ink"], width, height).strips()]

    def test_the_chosen_one_is_always_in_sight(self) -> None:
        for count in (1, 5, 29, 120):
            chart = CrossingSelection(read_plan_text(many(count)))
            for width, height in ((98, 45), (51, 21), (20, 5), (200, 70)):
                for number in range(0, len(chart.shown), max(len(chart.shown) // 20, 1)):
                    chart.chosen = number
                    rows = self.rows(chart, width, height)
                    assert chart.current is not None
                    self.assertEqual({len(row) for row in rows}, {width})
                    if height > 5:
                        self.assertTrue(
                            any(chart.current.start in row and chart.current.glyph in row for row in rows),
                            (count, width, number),
                        )

    def test_what_does_not_fit_is_told(self) -> None:
        chart = CrossingSelection(read_plan_text(many(120)))
        self.assertTrue(any("more: → " in row and "↓ " in row for row in self.rows(chart, 98, 45)))
        small = CrossingSelection(read_plan_text(many(5)))
        self.assertFalse(any("more:" in row for row in self.rows(small, 98, 45)))

    def test_nothing_to_show_is_said(self) -> None:
        self.assertTrue(
            any("no moves yet" in row for row in self.rows(CrossingSelection(plan_of("screens: {hives: }")), 98, 45))
        )

    def test_what_stands_beside_is_the_move_as_written_and_its_line(self) -> None:
        chart = CrossingSelection(COMBFIELD)
        text = combfield().read_text()
        chart.find("hive frames replace tap")
        for size in ((54, 45), (27, 21), (5, 3)):
            drawn = "\n".join(
                strip.text
                for strip in detail_drawing.draw(
                    chart, detail_drawing.PlanText(text, "c.yaml"), PALETTES["paper"], *size
                ).strips()
            )
            if size[0] == 54:
                assert chart.current is not None
                self.assertIn("tap frames", drawn)
                self.assertIn("looking for a path", drawn)
                self.assertIn(f"{chart.current.part.at.line:4} ▌", drawn)

    def test_a_way_that_is_not_known_is_not_claimed(self) -> None:
        plan = plan_of("facts: {a: [x, y]}\nscreens: {hives: {moves: [{when: tap on, if: a is y, do: leave}]}}")
        chart = CrossingSelection(plan)
        chart.met(explored=explore(plan))
        assert chart.current is not None
        self.assertIsNone(chart.taken(chart.current))
        drawn = "".join(
            strip.text
            for strip in detail_drawing.draw(chart, detail_drawing.PlanText("", ""), PALETTES["ink"], 54, 45).strips()
        )
        self.assertIn("not reached by a walk, nor in every state there is", drawn)


if __name__ == "__main__":
    unittest.main()
