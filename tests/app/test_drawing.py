"""What is drawn: the canvas, the ladder, the side, at every size."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.plans import COMBFIELD
from tests.random_plans import events, plans
from wise_ladder.app.canvas import Canvas, CellStyle, TextRun, cut, cut_middle, wrap
from wise_ladder.app.climb import ladder_drawing, side_drawing
from wise_ladder.app.climb.tab_labels import tab_labels
from wise_ladder.app.palette import INK, PALETTES, PAPER, Palette
from wise_ladder.app.tape_cursor import TapeCursor
from wise_ladder.app.window_frame import TitleBar
from wise_ladder.plan import Event, Plan
from wise_ladder.plan.events import Back, Launch, Tap, Wait


def lines(canvas: Canvas) -> list[str]:
    """Read a canvas back as text."""
    return ["".join(segment.text for segment in strip).rstrip() for strip in canvas.strips()]


def climber(*events: Event) -> TapeCursor:
    found = TapeCursor(COMBFIELD)
    for event in (Launch(), Wait(1200), Tap("next"), Tap("next"), Tap("begin"), Tap("sign in"), *events):
        assert found.do(event).refused is None, event
    return found


H7 = Tap("hive", (("id", 7),))


class Canvases(unittest.TestCase):
    def test_text_outside_is_cut_off(self) -> None:
        canvas = Canvas(4, 2, "#000000")
        canvas.text(-2, 0, "abcdefgh", CellStyle("#ffffff"))
        canvas.text(0, 5, "below", CellStyle("#ffffff"))
        self.assertEqual(lines(canvas), ["cdef", ""])

    def test_wide_and_harmful_characters_keep_the_width(self) -> None:
        canvas = Canvas(6, 1, "#000000")
        self.assertEqual(canvas.text(0, 0, "蜂\x1b[巣x", CellStyle("#ffffff")), 6)
        self.assertEqual(canvas.strips()[0].cell_length, 6)
        self.assertEqual(lines(canvas), ["蜂[巣x"])

    def test_text_keeps_the_ground_that_it_is_written_on(self) -> None:
        canvas = Canvas(4, 1, "#000000")
        canvas.fill(0, 0, 2, 1, "#123456")
        canvas.text(0, 0, "abcd", CellStyle("#ffffff"))
        found = [(piece.text, piece.style and piece.style.bgcolor and piece.style.bgcolor.name) for piece in canvas.strips()[0]]
        self.assertEqual(found, [("ab", "#123456"), ("cd", "#000000")])

    def test_what_is_cut_in_the_middle_keeps_its_end(self) -> None:
        self.assertEqual([cut_middle("next hive 12", width) for width in (12, 9, 4)], ["next hive 12", "next…e 12", "n…12"])

    def test_two_halves_share_a_cell(self) -> None:
        canvas = Canvas(1, 1, "#000000")
        canvas.half_cells(0, 0, 1, "#111111", upper=True)
        canvas.half_cells(0, 0, 1, "#222222", upper=False)
        style = next(iter(canvas.strips()[0])).style
        assert style is not None and style.color is not None and style.bgcolor is not None
        self.assertEqual((style.color.name, style.bgcolor.name), ("#222222", "#111111"))

    def test_what_is_cut_ends_in_a_mark(self) -> None:
        self.assertEqual([cut("inspection", width) for width in (10, 9, 1, 0)], ["inspection", "inspecti…", "…", ""])
        self.assertEqual(wrap("one two three four", 9, 2), ["one two", "three…"])
        self.assertEqual(wrap("one two", 9, 2), ["one two"])

    def test_pieces_of_a_line_are_cut_together(self) -> None:
        canvas = Canvas(20, 1, "#000000")
        canvas.runs(0, 0, (TextRun("lands on ", CellStyle("#ffffff")), TextRun("inspection", CellStyle("#ffffff"))), 12)
        self.assertEqual(lines(canvas), ["lands on in…"])


class Ladders(unittest.TestCase):
    def test_where_one_stands_and_where_each_back_lands(self) -> None:
        drawn = "\n".join(lines(ladder_drawing.draw(climber(H7, Tap("inspect")).moment, INK, 98, 44)))
        for words in (
            "inspection",
            "▴ came  ● here",
            "Back 1",
            "lands on hive id 7",
            "Back 3",
            "leaves the app",
            "tap inspect",
            "◀━┛",
        ):
            self.assertIn(words, drawn)

    def test_a_rung_that_went_is_an_outline_until_the_next_step(self) -> None:
        run = climber(H7, Back())
        self.assertRegex("\n".join(lines(ladder_drawing.draw(run.moment, INK, 98, 44))), "╎ hive id 7 +− went ╎")
        run.do(H7)
        self.assertNotIn("− went", "\n".join(lines(ladder_drawing.draw(run.moment, INK, 98, 44))))

    def test_tabs_show_their_rungs_then_numbers_then_are_cut_but_not_the_front_one(self) -> None:
        names, rungs = ["hives", "diary", "shelf"], [1, 7, 0]
        for room, labels in (
            (40, [" hives ▮ ", " diary ▮▮▮▮▮ ", " shelf "]),
            (24, [" hives ", " diary 7 ", " shelf "]),
            (20, [" hives ", " d… 7 ", " she… "]),
        ):
            self.assertEqual(tab_labels(names, rungs, 0, room), labels)
        self.assertEqual(tab_labels(names, rungs, 1, 18)[1], " diary 7 ")

    def test_a_timer_hangs_under_its_rung(self) -> None:
        run = TapeCursor(COMBFIELD)
        run.do(Launch())
        self.assertIn("╰╴◷ timer in 1.2 s", "\n".join(lines(ladder_drawing.draw(run.moment, INK, 98, 44))))

    def test_a_high_ladder_is_folded_and_says_how_much(self) -> None:
        chain = [Tap("next hive", (("id", number),)) for number in (12, 7) * 20]
        drawn = "\n".join(lines(ladder_drawing.draw(climber(H7, *chain).moment, INK, 60, 21)))
        self.assertRegex(drawn, r"\d+ rungs folded")
        self.assertIn("hives", drawn)

    def test_before_the_launch_it_says_which_key_helps_and_shows_the_map(self) -> None:
        drawn = "\n".join(lines(ladder_drawing.draw(TapeCursor(COMBFIELD).moment, INK, 98, 44)))
        self.assertIn("r launches the app", drawn)
        self.assertIn(
            "splash ┬─⇄ first steps ──◎ welcome ──↑ rules of the yard ──↑ begin\n"
            "       ╰─⇄ home ┬─◎ hives ──↑ hive ┬─⇄ frames ──↑ treatment\n"
            "                │                  ├─↑ inspection ┬─↑ mark picker\n"
            "                │                  │              ╰─↑ camera\n"
            "                │                  ╰─↑ comb ──↷ few pictures\n"
            "                ├─◎ week ┬─↑ entry ──↑ hive choice\n",
            drawn,
        )

    def test_what_has_no_room_in_the_small_map_is_counted(self) -> None:
        drawn = lines(ladder_drawing.draw(TapeCursor(COMBFIELD).moment, INK, 51, 10))
        self.assertIn("and 20 more; M draws them all to a file", drawn)
        self.assertTrue(any("ground" in line for line in drawn))


class Sides(unittest.TestCase):
    def test_the_phone_shows_taps_with_what_they_would_do(self) -> None:
        drawn = "\n".join(lines(side_drawing.draw(climber(H7).moment, INK, 54, 44)))
        for words in ("←  Hive id 7", " 1  frames", "⇄ frames", "↓ to hives", "state", "ways back", "tape"):
            self.assertIn(words, drawn)

    def test_a_wait_says_at_which_moment_what_happened_inside_it(self) -> None:
        cursor = TapeCursor(COMBFIELD)
        cursor.do(Launch())
        cursor.do(Wait(5_000))
        drawn = lines(side_drawing.draw(cursor.moment, INK, 54, 44))
        place = next(number for number, line in enumerate(drawn) if "2 wait 5s" in line)
        told = [line.strip() for line in drawn[place + 1 : place + 3]]
        self.assertEqual(told, ["0.30 s  the cover has gone", "1.20 s  first steps in place of splash"])
        cursor.go(1)
        self.assertNotIn("0.30 s", "\n".join(lines(side_drawing.draw(cursor.moment, INK, 54, 44))))

    def test_a_turned_fact_says_what_it_was(self) -> None:
        drawn = "\n".join(lines(side_drawing.draw(climber(H7, Tap("inspect"), Tap("write")).moment, INK, 54, 44)))
        self.assertIn("▴ was clean", drawn)
        self.assertIn("edited", drawn)

    def test_in_80_columns_facts_become_a_count(self) -> None:
        drawn = "\n".join(lines(side_drawing.draw(climber(H7, Tap("inspect")).moment, INK, 27, 21)))
        self.assertIn("and 8 more", drawn)

    @settings(max_examples=40)
    @given(plans(), st.lists(events(), max_size=20), st.integers(1, 170), st.integers(1, 60), st.sampled_from((INK, PAPER)))
    def test_every_state_can_be_drawn_at_every_size(
        self, plan: Plan, done: list[Event], width: int, height: int, palette: Palette
    ) -> None:
        run = TapeCursor(plan)
        for event in done:
            run.do(event)
        for draw in (ladder_drawing.draw, side_drawing.draw):
            strips = draw(run.moment, palette, width, height).strips()
            self.assertEqual((len(strips), {strip.cell_length for strip in strips}), (height, {width}))


class Title(TitleBar):
    """The top line, without an application around it."""

    palette = INK

    def redraw(self) -> None:
        """Draw only when asked."""


class Titles(unittest.TestCase):
    def test_what_is_wrong_is_shown_before_what_is_fine_and_never_over_the_views(self) -> None:
        line = Title("combfield  plain")
        line.tell("combfield  plain", 34, 1)
        for width, counts in ((160, "✓ 34 walks   ✗ 1 fails"), (80, "✗ 1 fails"), (66, "")):
            drawn = line.draw(width, 1).strips()[0].text
            self.assertEqual(drawn.partition("Seen")[2].strip(), counts)


class Palettes(unittest.TestCase):
    def test_text_is_readable_on_what_it_stands_on(self) -> None:
        """WCAG 2.1: at least 4.5 between text and ground."""
        for palette in PALETTES.values():
            texts = (
                "text",
                "soft",
                "muted",
                "here",
                "lands",
                "asks",
                "holds",
                "broken",
                "undecided",
                "came",
                "went",
                "twine",
                "grass",
            )
            pairs = [(name, ground) for name in texts for ground in ("ground_colour",)]
            pairs += [
                ("here_text", "here_board"),
                ("board_text", "board"),
                ("key_text", "key"),
                ("text", "selected"),
                ("muted", "phone"),
                ("grass", "grass_ground"),
            ]
            for text, ground in pairs:
                with self.subTest(f"{palette.name}: {text} on {ground}"):
                    self.assertGreaterEqual(contrast(getattr(palette, text), getattr(palette, ground)), 4.5)


def contrast(one: str, other: str) -> float:
    light, dark = sorted((luminance(one), luminance(other)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


def luminance(colour: str) -> float:
    parts = [int(colour[place : place + 2], 16) / 255 for place in (1, 3, 5)]
    red, green, blue = (part / 12.92 if part <= 0.03928 else ((part + 0.055) / 1.055) ** 2.4 for part in parts)
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue
