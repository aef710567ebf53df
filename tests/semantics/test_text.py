"""What the tape says of each thing that can happen."""

import unittest
from typing import get_args

from wise_ladder.semantics import log as h
from wise_ladder.semantics.state import Promise, Rung, RungData
from wise_ladder.semantics.text import clock_words, duration_text, entry_text, log_text, rung_text

HIVE, HIVES = Rung(RungData("hive", (("id", 7),)), 2), Rung(RungData("hives"), 1)


class Words(unittest.TestCase):
    CASES: tuple[tuple[h.LogEntry, str], ...] = (
        (h.Came(HIVE), "hive id 7 came"),
        (h.Went(HIVE), "hive id 7 went"),
        (h.Replaced(HIVES, HIVE), "hive id 7 in place of hives"),
        (h.ArgumentsChanged(RungData("hive", (("id", 12),)), HIVE.data), "hive id 12 is now hive id 7"),
        (h.FactChanged("draft", "clean", "edited", own=True), "draft edited"),
        (h.TimerStarted(HIVES.data, 1200), "timer of hives runs, due in 1.2 s"),
        (h.TimerCancelled(HIVES.data, 1200), "timer of hives cancelled"),
        (h.TimerFired("hives", 1200), "timer of hives fired after 1.2 s"),
        (h.CallMade("check session"), "check session is pending"),
        (h.CallDropped("check session"), "check session cancelled"),
        (h.Replied("check session", "valid"), "check session: valid"),
        (h.ReplyDropped("check session", "valid"), "valid of check session reaches no screen"),
        (h.CoverUp(), "the cover is up"),
        (h.CoverGone(over=False), "the cover has gone"),
        (h.CoverGone(over=True), "the cover has gone, its time ran out"),
        (h.LinkFollowed("combfield://hives/7"), "combfield://hives/7 opened"),
        (h.UnknownAddress("x://y", "no link matches"), "x://y leads nowhere: no link matches"),
        (h.AppKilled(crash=False), "the app was killed"),
        (h.AppKilled(crash=True), "the app crashed"),
        (h.Restored("top"), "the top came back"),
        (h.MemoryLow(2), "memory is low, 2 hidden screens freed what they held"),
        (h.MemoryLow(0), "memory is low, no hidden screen is there to free"),
        (h.MemoryLow(1), "memory is low, 1 hidden screen freed what it held"),
        (h.ScreensRemade(), "the screens are remade"),
        (h.BackPromised(Promise("lands", "hive", (("id", 7),))), "Back is begun, and would land on hive id 7"),
        (h.BackPromised(Promise("asks", "unsaved")), "Back is begun, and would ask unsaved"),
        (h.BackTakenBack(), "Back was cancelled"),
        (h.Opened("yard menu"), "yard menu opened"),
        (h.Closed("yard menu"), "yard menu closed"),
        (h.Closed("note", by_itself=True), "note went by itself"),
        (h.Switched("home", "diary"), "tab diary in front"),
        (h.Redirected("hives", "sign in"), "hives sent to sign in"),
        (h.Remembered(HIVE.data), "hive id 7 remembered"),
        (h.Forgotten("it was used"), "wanted place forgotten: it was used"),
        (h.QuestionOpened("unsaved", "Leave?"), "asks “Leave?”"),
        (h.QuestionOpened("unsaved", ""), "asks “unsaved”"),
        (h.Answered("unsaved", "discard"), "answered: discard"),
        (h.QuestionGone("unsaved"), "the question of unsaved went unanswered"),
        (h.Blocked("unsaved"), "unsaved blocks"),
        (h.GuardActed("bar"), "bar acts instead"),
        (h.GuardSkipped("unsaved", "inspection"), "inspection went without asking unsaved"),
        (h.Awaits("mark", "inspection"), "inspection awaits mark"),
        (h.ResultCame("mark", "white", "inspection"), "inspection got mark: white"),
        (h.ResultCame("mark", None, "inspection"), "inspection got mark: cancelled"),
        (h.ResultDropped("mark", "inspection"), "mark dropped: inspection is gone"),
        (h.Launched("Combfield"), "Combfield starts"),
        (h.WentToBackground(by_back=True), "Back puts the app in the background"),
        (h.WentToBackground(by_back=False), "the app is in the background"),
        (h.CameToFront("Combfield"), "Combfield is in front again"),
        (h.AppLeft("back"), "the app was left by Back"),
        (h.NoEffect("hives is already here"), "nothing: hives is already here"),
        (h.Finding("runaway", "it never ends"), "runaway: it never ends"),
        (h.SeenFor(None, 0, 300), "saw the ground for 300 ms"),
        (h.SeenFor(None, 0, 300, "cover"), "saw the cover for 300 ms"),
        (h.SeenFor(HIVE.data, 0, 300, "wait"), "saw hive id 7, waiting, for 300 ms"),
    )

    def test_each_kind_has_words(self) -> None:
        for happening, expected in self.CASES:
            with self.subTest(expected):
                self.assertEqual(entry_text(happening), expected)
        self.assertEqual({type(happening) for happening, _ in self.CASES}, set(get_args(h.LogEntry)))

    def test_a_step_in_one_line(self) -> None:
        cases = (
            ((h.Launched("Combfield"), h.Came(HIVES), h.TimerStarted(HIVES.data, 1)), "hives came"),
            ((h.FactChanged("a", "b", "c"), h.Went(HIVE), h.Came(HIVES)), "hives came, hive id 7 went, a c"),
            ((h.Went(HIVE), h.Went(HIVE), h.Went(HIVE), h.Came(HIVES)), "hives came, 3 rungs went"),
            ((h.Came(HIVES), h.Finding("runaway", "it never ends")), "runaway: it never ends, hives came"),
            ((), ""),
        )
        for happened, expected in cases:
            with self.subTest(expected):
                self.assertEqual(log_text(happened), expected)

    def test_in_one_line_the_ladder_comes_before_the_rest_and_what_only_waits_is_left_out(self) -> None:
        waits = (h.Awaits, h.TimerStarted, h.TimerCancelled, h.TimerFired, h.SeenFor)
        ladder = (h.Finding, h.Came, h.Replaced, h.Went)
        for happening, words in self.CASES:
            line = log_text((h.CoverUp(), happening))
            if isinstance(happening, waits):
                self.assertEqual(line, "the cover is up")
            elif isinstance(happening, ladder):
                self.assertEqual(line, f"{words}, the cover is up")

    def test_faces_and_times(self) -> None:
        self.assertEqual([rung_text(None), rung_text(HIVE.data)], ["the ground", "hive id 7"])
        self.assertEqual([duration_text(time) for time in (0, 999, 1000, 1250)], ["0 ms", "999 ms", "1 s", "1.25 s"])
        self.assertEqual(clock_words(4200), "4.20 s")
