"""Looking ahead: forecast, descent, and what a tap would do in few words."""

import unittest
from typing import get_args

from tests.plans import COMBFIELD, plan_of, run
from wise_ladder.plan.events import (
    Answer,
    Back,
    BackBegun,
    Event,
    HeaderBack,
    Home,
    Killed,
    Launch,
    LowMemory,
    OpenLink,
    OutsideChange,
    Remade,
    Reopen,
    Reply,
    SwipedAway,
    Tap,
    Wait,
)
from wise_ladder.semantics import descent, forecast, initial_state, offers, step, summarize
from wise_ladder.semantics.offers import outside_changes, phone_events, user_events, world_events
from wise_ladder.semantics.text import pending_words, rung_text

SIGNED_IN = (("welcomed", "yes"), ("session", "valid"))
H7 = Tap("hive", (("id", 7),))


class Descents(unittest.TestCase):
    def test_down_to_the_ground(self) -> None:
        found = descent(COMBFIELD, run(COMBFIELD, Launch(), Wait(1200), H7, Tap("inspect"), given=SIGNED_IN))
        self.assertEqual([rung_text(hop.data) for hop in found.hops], ["hive id 7", "hives", "the ground"])
        self.assertEqual(found.end, "ground")

    def test_where_back_does_nothing_at_the_root_the_way_ends_there(self) -> None:
        plan = plan_of("policies: {back at root: stay}\nscreens: {hives: {moves: [{when: tap a, do: push hive}]}, hive: }")
        found = descent(plan, run(plan, Launch(), Tap("a")))
        self.assertEqual(([hop.outcome for hop in found.hops], found.end), (["lands"], "root"))

    def test_the_background_is_a_way_out_too(self) -> None:
        plan = plan_of("policies: {back at root: away}\nscreens: {hives: }")
        self.assertEqual(descent(plan, run(plan, Launch())).end, "background")

    def test_nobody_can_go_down_from_the_ground(self) -> None:
        self.assertEqual(descent(COMBFIELD, initial_state(COMBFIELD))[:2], ((), "ground"))
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

    def test_while_back_is_begun_it_is_that_back_and_the_header_is_refused(self) -> None:
        plan = plan_of("""
            app: Combfield
            start: hives
            policies: {back gesture: yes}
            screens: {hives: {moves: [{when: tap hive, do: push hive}]}, hive: }
        """)
        begun = run(plan, Launch(), Tap("hive"), BackBegun())
        self.assertEqual([forecast(plan, begun, event).outcome for event in (Back(), HeaderBack())], ["lands", "refused"])
        self.assertIsNotNone(step(plan, begun, HeaderBack()).refused)

    def test_a_forecast_changes_nothing(self) -> None:
        state = run(COMBFIELD, Launch(), Wait(1200), H7, given=SIGNED_IN)
        self.assertEqual(forecast(COMBFIELD, state, Back()), forecast(COMBFIELD, state, Back()))


class Offers(unittest.TestCase):
    def test_numbers_stay_whatever_is_active(self) -> None:
        there = run(COMBFIELD, Launch(), Wait(1200), H7, Tap("inspect"), given=SIGNED_IN)
        for state in (there, run(COMBFIELD, Launch(), Wait(1200), H7, Tap("inspect"), Tap("write"), given=SIGNED_IN)):
            self.assertEqual(
                [(offer.number, offer.label) for offer in offers(COMBFIELD, state)][:4],
                [(1, "write"), (2, "queen's mark"), (3, "picture"), (4, "save")],
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
            "open menu": ("", "opens menu"),
            "close menu": ("", "nothing"),
            "[pop, push diary]": ("⇓", "diary"),
        }
        for do, expected in cases.items():
            with self.subTest(do):
                plan = plan_of(f"""
                    facts: {{session: [none, valid]}}
                    screens: {{hives: {{moves: [{{when: tap a, do: push hive}}]}}, hive: {{moves: [{{when: tap b, do: {do}}}]}}, diary: }}
                    overlays: {{menu: {{kind: drawer}}}}
                """)
                offer = offers(plan, run(plan, Launch(), Tap("a")))[0]
                self.assertEqual(summarize(offer.forecast)[:2], expected)

    def test_what_a_way_back_would_do_in_few_words(self) -> None:
        plan = plan_of("""
            facts: {session: [none, valid]}
            policies: {back at root: away}
            screens:
              hives: {moves: [{when: tap hive, do: push hive(id=7)}, {when: tap write, do: push note}, {when: tap menu, do: open menu}, {when: tap tell, do: show told}]}
              hive:
                takes: {id: {type: whole number, samples: [7, 12]}}
                moves: [{when: tap next(id), do: reach hive(id=$id)}, {when: tap other(id), do: replace hive(id=$id)}, {when: tap note, do: push note}]
              note: {guards: [{name: unsaved, if: session is none, block: yes}, {name: sure, ask: {text: Leave?, answers: [{no: stay}, {yes: go on}]}}]}
              week:
            overlays:
              menu: {kind: drawer, moves: [{when: tap shut, do: close menu}]}
              told: {kind: notice, for: 2s, moves: [{when: tap ok, do: close told}]}
        """)
        hive = (Tap("hive"),)
        cases: tuple[tuple[tuple[Event, ...], Event, tuple[str, str, bool]], ...] = (
            ((), Back(), ("○", "goes away", True)),
            ((), HeaderBack(), ("", "nothing now", False)),
            (hive, Back(), ("↓", "to hives", True)),
            (hive, Tap("next", (("id", 12),)), ("◎", "hive id 12", True)),
            (hive, Tap("other", (("id", 12),)), ("⇄", "hive id 12", True)),
            ((*hive, Tap("note")), Back(), ("⊘", "blocked", True)),
            ((Tap("menu"),), Back(), ("", "closes menu", True)),
            ((Tap("menu"),), Tap("shut"), ("", "closes menu", True)),
            ((Tap("tell"),), Tap("ok"), ("", "closes told", True)),
        )
        for before, event, expected in cases:
            with self.subTest(event=event, before=before):
                self.assertEqual(summarize(forecast(plan, run(plan, Launch(), *before), event)), expected)
        asked = forecast(plan, run(plan, Launch(), Tap("write"), given=(("session", "valid"),)), Back())
        self.assertEqual(summarize(asked), ("◆", "asks “Leave?”", True))

    def test_what_the_phone_does_is_every_event_but_those_of_the_user_the_app_and_the_world(self) -> None:
        others = {Answer, Launch, Tap, Back, HeaderBack, Wait, OutsideChange, Reply, OpenLink}
        self.assertEqual(
            {type(event) for event in phone_events(plan_of("policies: {back gesture: yes}\nscreens: {hives: }"))},
            set(get_args(Event)) - others,
        )

    def test_a_tap_that_carries_something_is_offered_for_each_sample(self) -> None:
        found = offers(COMBFIELD, run(COMBFIELD, Launch(), Wait(1200), given=SIGNED_IN))
        self.assertEqual([offer.label for offer in found], ["hive 7", "hive 12", "diary", "supplies", "hives", "menu"])
        self.assertEqual(offers(COMBFIELD, initial_state(COMBFIELD)), ())


WORLD = plan_of("""
    facts: {season: {values: [summer, winter], from outside: [summer to winter]}}
    calls: {weigh: {ok: 300ms, failed: 1s}}
    cover: {least: 200ms, until: season is winter, most: 2s}
    overlays: {saved: {kind: notice, for: 2s}}
    screens:
      hives:
        moves:
          - {when: 5s on ladder, do: push hive(id=7)}
          - {when: tap weigh, do: call weigh}
          - {when: tap kept, do: show saved}
          - {when: tap hive, do: push hive(id=7)}
      hive:
        takes: {id: {type: whole number, samples: [7, 12]}}
        guards: [{name: sure, ask: {text: Leave?, answers: [{no: stay}, {yes: go on}]}}]
    links: [{address: 'x://hive/{id}', build: [hives, hive(id=$id)]}]
""")
WINTER = (("season", "winter"),)


class World(unittest.TestCase):
    """What may happen next, and what is due."""

    def test_what_the_user_time_and_the_server_could_do(self) -> None:
        tap: list[Event] = [Tap("weigh"), Tap("kept"), Tap("hive")]
        back: list[Event] = [Back(), HeaderBack()]
        open_app: tuple[Event, ...] = (Launch(), Wait(200))
        cases: tuple[tuple[tuple[Event, ...], list[Event]], ...] = (
            ((), [Launch()]),
            ((*open_app, Home()), [Reopen()]),
            ((*open_app, Killed()), [Reopen()]),
            ((Launch(),), [*back, Wait(200)]),
            (open_app, [*tap, *back, Wait(4800)]),
            ((*open_app, Tap("weigh")), [*tap, Reply("weigh", "ok"), Reply("weigh", "failed"), *back, Wait(4800)]),
            ((*open_app, Tap("hive"), Back()), [Answer("no"), Answer("yes"), Wait(4800)]),
        )
        for events, expected in cases:
            with self.subTest(events=events):
                self.assertEqual(user_events(WORLD, run(WORLD, *events, given=WINTER)), expected)

    def test_what_the_phone_and_the_world_could_do(self) -> None:
        links = [OpenLink("x://hive/7"), OpenLink("x://hive/12")]
        there = run(WORLD, Launch(), Wait(200), given=WINTER)
        self.assertEqual(world_events(WORLD, there), [Home(), Killed(), SwipedAway(), LowMemory(), Remade(), *links])
        self.assertEqual(world_events(WORLD, initial_state(WORLD)), [OutsideChange("season", "winter"), *links])
        self.assertEqual(outside_changes(WORLD, there), [])

    def test_what_is_due_is_said(self) -> None:
        def due(*events: Event, replies: tuple[tuple[str, str], ...] = ()) -> list[str]:
            state = run(WORLD, Launch(), *events, given=WINTER, replies=replies)
            return [pending_words(state, timer) for timer in state.deadlines]

        self.assertEqual(due(), ["cover may go", "cover must go", "hives timer"])
        self.assertEqual(due(Wait(200), Tap("kept")), ["saved goes", "hives timer"])
        self.assertEqual(due(Wait(200), Tap("weigh"), replies=(("weigh", "failed"),)), ["weigh: failed", "hives timer"])
