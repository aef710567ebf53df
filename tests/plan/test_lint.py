"""Doubts: what may be meant and probably is not, told before anything runs."""

import unittest

from hypothesis import given, settings

from tests.plans import plan_of
from tests.random_plans import runs
from wise_ladder.plan import Event, Plan
from wise_ladder.plan.reachability import Reachability
from wise_ladder.semantics import Phase, initial_state, step
from wise_ladder.semantics.state import Ladder

TABS = """
start: home
flows: {home: {tabs: {hives: hives, diary: week}}, signing in: {start: sign in}}
screens:
  hives: {moves: [{when: tap hive, do: push hive}, {when: tap out, do: push signing in on app}]}
  hive: {moves: [{when: tap go, do: %s}]}
  week:
  sign in: {moves: [{when: tap done, do: replace hives on app}]}
"""


OVERLAY = """
screens: {hives: {moves: [{when: tap p, do: show picker awaiting colour}, %s]}}
overlays: {picker: {kind: dialog, gives: {colour: [white]}, moves: [{when: tap white, do: close with white}]}}
"""


class Doubts(unittest.TestCase):
    CASES = (
        ("screens: {hives: , attic: {moves: [{when: tap on, do: push loft}]}, loft: }", 'nothing leads to the screen "loft"'),
        ("screens: {hives: {moves: [{when: tap a, if: alone, do: pop}, {when: tap a, do: pop}]}}", ""),
        ("screens: {hives: {moves: [{when: tap a, do: pop}, {when: tap a, do: pop}]}}", "is never taken: one above it"),
        ("screens: {hives: {moves: [{when: 2s on ladder, do: pop}, {when: 2s on ladder, do: pop}]}}", "is never taken"),
        (
            "facts: {session: [none, valid]}\nscreens: {hives: {moves: [{when: session becomes valid, do: pop}]}}",
            "never happens: nothing sets session to valid",
        ),
        (
            "screens: {hives: {moves: [{when: mark comes back, do: pop}, {when: tap p, do: push picker}]},"
            " picker: {gives: {mark: [white]}}}",
            '"mark comes back" never happens: nothing awaits mark',
        ),
        (
            "screens: {hives: {moves: [{when: tap p, do: push picker}]}, picker: {gives: {mark: [white]}}}",
            'nobody awaits the "mark" that "picker" gives',
        ),
        ("calls: {sync: {ok: 1s}}\nscreens: {hives: }", 'nothing calls "sync"'),
        (
            "calls: {sync: {ok: 1s, late: 2s}}\nscreens: {hives: {moves: [{when: tap a, do: call sync},"
            " {when: sync gives ok, do: pop}]}}",
            'nothing happens when "sync" gives "late"',
        ),
        (
            "calls: {sync: {ok: 1s}}\nanywhere: [{when: launched, do: call sync}, {when: sync gives ok, do: []}]\n"
            "screens: {hives: {moves: [{when: sync gives ok, do: pop}]}}",
            '"sync gives ok" never happens: nothing here calls sync',
        ),
        (
            "screens: {hives: , hive: {takes: {id: text}}}\nlinks:\n  - {address: 'x://{id}', build: [hive(id=$id)]}\n"
            "  - {address: 'x://list', build: [hives]}",
            '"x://list" is never reached: "x://{id}" above takes its addresses',
        ),
        (
            "screens: {hives: , hive: {takes: {id: whole number}}}\nlinks:\n  - {address: 'x://{id}', build: [hive(id=$id)]}\n"
            "  - {address: 'x://list', build: [hives]}",
            "",
        ),
        (
            "screens: {hives: {moves: [{when: tap p, do: push picker awaiting mark}, {when: mark comes back, do: []}, "
            "{when: mark is cancelled, do: []}]}, picker: {gives: {mark: [white, red]}, moves: [{when: tap white, do: return white}]}}",
            'nothing returns "red", which "picker" gives as mark',
        ),
        ("screens: {hives: {moves: [{when: cover gone, do: pop}]}}", '"cover gone" never happens: the app has no cover'),
        (
            "screens: {hives: {guards: [{name: g, ways: [system, in-app], block: yes}]}}",
            '"g" does not see the ways header and aside; if that is meant, say so in a rule "guarded"',
        ),
        ("screens: {hives: {guards: [{name: g, ways: [system], do: pop}]}}", ""),
        (
            "screens: {hives: {guards: [{name: g, ways: [system], block: yes}]}}\n"
            "rules: [{rule: guarded, screens: hives, ways: system}]",
            "",
        ),
        (TABS % "pop to hives", ""),
        (TABS % "pop to week", '"week" is never on the ladder where "pop to week" looks for it'),
        (TABS % "pop to week else pop", ""),
        (TABS % "pop to home on app", ""),
        (TABS % "switch diary", ""),
        (TABS % "[switch diary, pop to week]", ""),
        (TABS % "[switch diary, pop to hive]", '"hive" is never on the ladder'),
        (TABS % "close signing in", '"hive" is never inside "signing in", so "close signing in" does nothing'),
        (TABS % "pop on signing in", '"hive" is never inside "signing in"'),
        # On another ladder, or after a tab comes to the front, a move may drop and put once more.
        (TABS % "[pop, switch diary, pop to week]", ""),
        (TABS % "[pop, pop to home on app]", ""),
        (OVERLAY % "{when: colour comes back, do: []}, {when: colour is cancelled, do: []}", ""),
        (OVERLAY % "{when: colour is cancelled, do: []}", 'nothing happens when "colour" comes back'),
        (OVERLAY % "{when: colour comes back, do: []}", 'nothing happens when "colour" is cancelled'),
        (
            TABS.replace("{start: sign in}", "{start: sign in, gives: {who: [me]}}") % "return me from signing in",
            '"hive" is never inside "signing in", so "return me from signing in" does nothing',
        ),
    )

    def test_each(self) -> None:
        for text, expected in self.CASES:
            with self.subTest(text):
                told = "\n".join(doubt.told for doubt in plan_of(text).warnings)
                self.assertIn(expected, told)
                self.assertEqual(bool(told), bool(expected))


class NothingStandsElsewhere(unittest.TestCase):
    @settings(max_examples=150)
    @given(runs())
    def test_a_run_never_meets_what_was_doubted(self, run: tuple[Plan, list[Event]]) -> None:
        plan, done = run
        where = Reachability(plan)
        state = initial_state(plan)
        for event in done:
            state = step(plan, state, event).state
            if state.phase is not Phase.OUTSIDE:
                self._found(where, state.ladder, ("", ""))

    def _found(self, where: Reachability, ladder: Ladder, name: tuple[str, str]) -> None:
        for rung in ladder:
            self.assertIn(name, where.stands[rung.data.screen])
            for (tab, _), inner in zip(where.plan.screen[rung.data.screen].inside, rung.inner, strict=True):
                self._found(where, inner, (rung.data.screen, tab))
