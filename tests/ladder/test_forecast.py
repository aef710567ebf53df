"""Looking ahead: forecast, descent, and what a tap would do in few words."""

import unittest

from tests.plans import COMBFIELD, plan_of, run
from wise_ladder.ladder import descent, effect, first_state, forecast, offers
from wise_ladder.ladder.words import face_words
from wise_ladder.plan.events import Back, Home, Launch, Tap, Wait

SIGNED_IN = (("welcomed", "yes"), ("session", "valid"))
H7 = Tap("hive", (("id", 7),))


class Descents(unittest.TestCase):
    def test_down_to_the_ground(self) -> None:
        found = descent(COMBFIELD, run(COMBFIELD, Launch(), Wait(1200), H7, Tap("inspect"), given=SIGNED_IN))
        self.assertEqual([face_words(hop.face) for hop in found.hops], ["hive id 7", "hives", "the ground"])
        self.assertEqual(found.end, "ground")

    def test_a_phone_where_back_does_nothing_at_the_root_is_a_trap(self) -> None:
        plan = plan_of("policies: {back at root: stay}\nscreens: {hives: {moves: [{when: tap a, do: push hive}]}, hive: }")
        found = descent(plan, run(plan, Launch(), Tap("a")))
        self.assertEqual(([hop.outcome for hop in found.hops], found.end), (["lands", "stays"], "trap"))

    def test_the_background_is_a_way_out_too(self) -> None:
        plan = plan_of("policies: {back at root: away}\nscreens: {hives: }")
        self.assertEqual(descent(plan, run(plan, Launch())).end, "background")

    def test_nobody_can_go_down_from_the_ground(self) -> None:
        self.assertEqual(descent(COMBFIELD, first_state(COMBFIELD))[:2], ((), "ground"))
        self.assertEqual(descent(COMBFIELD, run(COMBFIELD, Launch(), Home()))[:2], ((), "background"))

    def test_a_phone_without_back_has_no_descent(self) -> None:
        plan = plan_of("policies: {system back: no}\nscreens: {hives: }")
        self.assertEqual(descent(plan, run(plan, Launch())), ((), "no Back", ()))

    def test_what_is_stuck_says_until_when(self) -> None:
        plan = plan_of("""
            calls: {save: {ok: 1s}}
            screens: {hives: {moves: [{when: tap save, do: [open busy, call save]}, {when: save gives ok, do: close busy}]}}
            overlays: {busy: {kind: wait}}
        """)
        found = descent(plan, run(plan, Launch(), Tap("save")))
        self.assertEqual((found.end, found.until), ("trap", ("save",)))

    def test_a_forecast_changes_nothing(self) -> None:
        state = run(COMBFIELD, Launch(), Wait(1200), H7, given=SIGNED_IN)
        self.assertEqual(forecast(COMBFIELD, state, Back()), forecast(COMBFIELD, state, Back()))


class Offers(unittest.TestCase):
    def test_numbers_stay_whatever_is_active(self) -> None:
        there = run(COMBFIELD, Launch(), Wait(1200), H7, Tap("inspect"), given=SIGNED_IN)
        for state in (there, run(COMBFIELD, Launch(), Wait(1200), H7, Tap("inspect"), Tap("write"), given=SIGNED_IN)):
            self.assertEqual(
                [(offer.number, offer.label) for offer in offers(COMBFIELD, state)][:4],
                [(1, "write"), (2, "queen's mark"), (3, "save"), (4, "throw away")],
            )

    def test_what_a_tap_would_do_in_few_words(self) -> None:
        cases = {
            "push diary": ("↑", "diary"),
            "replace diary": ("⇄", "diary"),
            "[clear, push diary]": ("■", "diary"),
            "pop to hives": ("↓", "to hives"),
            "reach hives": ("↓", "to hives"),
            "leave": ("○", "leaves the app"),
            "push hive once": ("", "here already"),
            "set session valid": ("", "session valid"),
            "set session none": ("", "nothing"),
            "pop to diary": ("✗", "nothing to pop to"),
        }
        for do, expected in cases.items():
            with self.subTest(do):
                plan = plan_of(f"""
                    facts: {{session: [none, valid]}}
                    screens: {{hives: {{moves: [{{when: tap a, do: push hive}}]}}, hive: {{moves: [{{when: tap b, do: {do}}}]}}, diary: }}
                """)
                offer = offers(plan, run(plan, Launch(), Tap("a")))[0]
                self.assertEqual(effect(offer.forecast)[:2], expected)

    def test_a_tap_that_carries_something_is_offered_for_each_sample(self) -> None:
        found = offers(COMBFIELD, run(COMBFIELD, Launch(), Wait(1200), given=SIGNED_IN))
        self.assertEqual([offer.label for offer in found], ["hive 7", "hive 12", "diary", "supplies", "hives", "menu"])
        self.assertEqual(offers(COMBFIELD, first_state(COMBFIELD)), ())
