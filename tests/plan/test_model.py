"""What a plan answers about itself."""

import unittest

from tests.plans import COMBFIELD, plan_of

YARD = plan_of("""
    start: [{if: seen is no, put: splash}, {put: home}]
    facts: {seen: [no, yes]}
    calls: {check: {ok: 1s, failed: 1s}}
    phones: {plain: , bare: {system back: no}}
    screens:
      splash: {moves: [{when: 1s on ladder, do: replace welcome}, {when: tap skip, do: push far}]}
      welcome: {}
      hives: {moves: [{when: check gives ok, do: push found}, {when: seen becomes yes, do: push reacted}]}
      week: {}
      sign in: {moves: [{when: 2s on ladder, do: push late}]}
      found: {}
      late: {}
      reacted: {}
      far: {moves: [{when: 1s on ladder, do: push farther}]}
      farther: {}
      called: {}
      lowest: {}
    flows:
      home: {tabs: {list: hives, diary: week}}
    anywhere:
      - {when: check gives failed, do: push called}
      - {when: tap help, do: push far}
    guards: [{name: sure, if: seen is yes, block: yes}]
    redirects:
      - {to: [hives], if: seen is yes, send to: sign in}
      - {to: [far], if: seen is yes, send to: lowest}
""")


class FirstScreens(unittest.TestCase):
    """The screens that may be lowest after a launch: what starts, what is inside it, its redirects, what goes on by itself."""

    def test_without_a_tap_or_a_link(self) -> None:
        self.assertEqual(
            YARD.first_screens,
            {"splash", "welcome", "home", "hives", "sign in", "late", "found", "called", "reacted"},
        )

    def test_what_stands_first_inside(self) -> None:
        self.assertEqual((YARD.screens_opened("home"), YARD.screens_opened("hives")), (["home", "hives"], ["hives"]))


class Parts(unittest.TestCase):
    def test_moves_stand_in_the_order_of_the_file_those_of_anywhere_last(self) -> None:
        self.assertEqual([move.owner for move in YARD.moves], ["splash"] * 2 + ["hives"] * 2 + ["sign in", "far", None, None])

    def test_guards_of_the_app_and_of_places_have_an_id(self) -> None:
        self.assertEqual([(each.owner, guard.name) for each, guard in YARD.guard.items()], [(None, "sure")])
        self.assertEqual(len(COMBFIELD.guard), 7)

    def test_everything_that_can_be_edited(self) -> None:
        self.assertEqual(len(YARD.things), len(YARD.moves) + 1 + 2)

    def test_another_phone_is_the_same_plan_with_other_policies(self) -> None:
        bare = YARD.on_phone("bare")
        self.assertEqual((YARD.policies.system_back, bare.policies.system_back, bare.phone), ("yes", "no", "bare"))
        self.assertIs(bare.on_phone("bare"), bare)
        self.assertRaises(KeyError, YARD.on_phone, "none")


if __name__ == "__main__":
    unittest.main()
