"""Which place leads to which, by which operation: rows and columns of the table of crossings."""

import unittest

from tests.plans import COMBFIELD, plan_of
from wise_ladder.plan.crossings import crossings, places

YARD = plan_of("""
    screens:
      hives:
        moves:
          - {when: tap hive, do: push hive}
          - {when: tap look, do: replace map}
          - {when: tap top, do: reach hives}
          - {when: tap out, do: leave}
          - {when: tap out of here, do: [clear, push map]}
          - {when: tap write, do: set seen yes}
          - {when: tap shared, do: 'follow combfield://hive'}
          - {when: tap far, do: 'follow combfield://map'}
          - {when: tap diary, do: switch diary}
          - {when: tap wanted, do: go to wanted else replace map}
      hive:
        gives: {mark: [white]}
        moves:
          - {when: tap done, do: return white}
          - {when: tap home, do: pop to hives}
          - {when: tap close, do: pop}
        guards:
          - {name: unsaved, if: seen is yes, ask: {text: Leave?, answers: [{stay here: stay}, {map: [push map]}]}}
          - {name: silent, if: seen is no, block: yes}
      map: {}
      week: {}
    flows:
      home: {tabs: {list: hives, diary: week}}
    overlays:
      menu: {kind: drawer, moves: [{when: tap map, do: push map}]}
    facts: {seen: [no, yes]}
    anywhere:
      - {when: tap help, do: show menu}
      - {when: seen becomes yes, do: push map}
    redirects:
      - {to: [hive], if: seen is no, send to: map}
      - {if: seen is yes, except: [map], send to: map}
    links:
      - {address: 'combfield://hive', build: [hives, hive]}
      - {address: 'combfield://map', build: [map], mode: on top}
""")


class Crossings(unittest.TestCase):
    def of(self, start: str) -> list[tuple[str, str]]:
        return [(each.kind, each.end) for each in crossings(YARD) if each.start == start]

    def test_of_a_screen(self) -> None:
        self.assertEqual(
            self.of("hives"),
            [
                ("push", "hive"),
                ("replace", "map"),
                ("reach", "hives"),
                ("leave", "the ground"),
                ("clear, then push", "map"),
                ("stay", "stays"),
                ("clear, then push", "hive"),
                ("push", "map"),
                ("switch", "week"),
                ("replace", "map"),
            ],
        )

    def test_down_from_a_screen_and_past_its_guard(self) -> None:
        self.assertEqual(
            self.of("hive"),
            [("return", "beneath"), ("pop to", "hives"), ("pop", "beneath"), ("push", "map"), ("redirect", "map")],
        )

    def test_of_an_overlay_and_of_anywhere(self) -> None:
        self.assertEqual(self.of("menu"), [("push", "map")])
        self.assertEqual(self.of("anywhere"), [("stay", "stays"), ("push", "map"), ("redirect", "map")])

    def test_rows_and_columns(self) -> None:
        rows, columns = places(YARD, crossings(YARD))
        self.assertEqual(rows, ["hives", "hive", "map", "week", "home", "menu", "anywhere"])
        self.assertEqual(columns, ["beneath", "hives", "hive", "map", "week", "home", "stays", "the ground"])

    def test_only_what_is_there_has_a_row_or_column_of_its_own(self) -> None:
        pushes = [each for each in crossings(YARD) if each.kind == "push" and each.start == "hives"]
        rows, columns = places(YARD, pushes)
        self.assertEqual((rows[-1], columns[0], columns[-1]), ("home", "hives", "home"))

    def test_every_crossing_of_combfield_has_a_cell(self) -> None:
        rows, columns = places(COMBFIELD, crossings(COMBFIELD))
        self.assertEqual({(each.start in rows, each.end in columns) for each in crossings(COMBFIELD)}, {(True, True)})


if __name__ == "__main__":
    unittest.main()
