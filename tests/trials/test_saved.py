"""An update over a saved ladder: what cannot stand in the new version, and what is seen then."""

import unittest

from tests.plans import plan_of
from wise_ladder.trials.matching import SAME, Names
from wise_ladder.trials.saved import carry_over

OLD = """
    screens:
      hives: {moves: [{when: tap hive, do: 'push hive(id=7)'}, {when: tap diary, do: push diary}]}
      hive: {takes: {id: whole number}, moves: [{when: tap frames, do: push frames}]}
      frames: {}
      week: {}
    flows: {diary: {tabs: {one: week, two: frames}}}
"""


class Updates(unittest.TestCase):
    def stranded(self, *changes: tuple[str, str], names: Names = SAME) -> list[tuple[str, str, list[str]]]:
        new = OLD
        for was, now in changes:
            self.assertIn(was, new)
            new = new.replace(was, now)
        found = carry_over(plan_of(OLD), plan_of(new), names, 20)
        self.assertTrue(found.whole)
        return [(each.why, each.seen, each.path) for each in found.stranded]

    def test_what_is_as_before_stands(self) -> None:
        self.assertEqual(self.stranded(), [])
        self.assertEqual(self.stranded(("tap frames, do: push frames", "tap frames, do: replace frames")), [])

    def test_a_screen_that_is_gone_is_told_with_the_shortest_path(self) -> None:
        gone = (("      frames: {}\n", "      combs: {}\n"), ("push frames", "push combs"), ("two: frames", "two: combs"))
        (first, *_) = self.stranded(*gone)
        self.assertEqual(
            first, ("there is no screen frames any more", "hive id 7", ["launch", "tap hive", "tap frames", "killed"])
        )
        self.assertEqual(self.stranded(*gone, names=Names({"frames": "combs"}, {}, {})), [])

    def test_other_arguments(self) -> None:
        texts = ("hive(id=7)", "hive(id=one)"), ("{id: whole number}", "{id: [one, two]}")
        self.assertEqual([each[:2] for each in self.stranded(*texts)], [("hive does not take id 7 any more", "hives")])
        more = ("hive(id=7)", "hive(id=7, look=a)"), ("{id: whole number}", "{id: whole number, look: [a, b]}")
        self.assertEqual([each[0] for each in self.stranded(*more)], ["hive needs the argument look now, which was not saved"])

    def test_a_tab_that_is_no_more(self) -> None:
        found = self.stranded(("{one: week, two: frames}", "{one: week}"))
        self.assertEqual([each[0] for each in found], ["diary holds 1 ladders now, 2 were saved"])
