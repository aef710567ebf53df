"""Flows, overlays, guards, redirects, results: what may be said of them, and what is said where it is wrong."""

import unittest

from tests.plan.test_loader import messages
from tests.plans import plan_of
from wise_ladder.plan import model, operations, triggers

HEAD = """\
app: Combfield
start: home
facts: {session: [none, valid]}
flows:
  home: {tabs: {hives: hives, diary: week}, moves: [{when: tap to diary, do: switch diary}]}
  tour: {start: page}
screens:
  hives: {moves: [{when: tap hive(id), do: push hive(id=$id)}, {when: tap tour, do: push tour awaiting mark}, {when: mark comes back, do: []}, {when: mark is cancelled, do: []}]}
  week: {}
  page: {gives: {mark: [white, yellow]}, moves: [%s]}
  hive: {takes: {id: {type: whole number, samples: [7, 12]}}, holds: {draft: [clean, edited]}%s}
overlays:
  menu: {kind: drawer, of: home}
  note: {kind: notice, for: 2s}
"""


class WhatCanBeSaid(unittest.TestCase):
    def test_a_flow_is_a_screen_that_holds_ladders(self) -> None:
        plan = plan_of(HEAD % ("", ""))
        self.assertEqual([tab for tab, _ in plan.screen["home"].inside], ["hives", "diary"])
        self.assertTrue(plan.screen["home"].tabs)
        self.assertEqual(plan.screen["tour"].inside, (("", operations.Target("page")),))

    def test_overlays_have_what_is_usual_for_their_kind(self) -> None:
        plan = plan_of(
            HEAD.replace("  note:", "  busy: {kind: wait}\n  asking: {kind: dialog, back: passes}\n  note:") % ("", "")
        )
        kinds = {name: (overlay.modal, overlay.back) for name, overlay in plan.overlay.items()}
        self.assertEqual(
            kinds, {"menu": (True, "closes"), "busy": (True, "blocked"), "asking": (True, "passes"), "note": (False, "passes")}
        )

    def test_a_guard_has_the_usual_ways(self) -> None:
        plan = plan_of(HEAD % ("", ", guards: [{name: unsaved, if: draft is edited, block: yes}]"))
        guard = plan.guard[model.GuardId("hive", 0)]
        self.assertEqual(
            (guard.ways, guard.watches, guard.decision), (("system", "header", "in-app", "aside"), "its own", "block")
        )

    def test_an_arrow_may_hang_on_conditions(self) -> None:
        plan = plan_of(HEAD % ("", ", arrow: [{if: id is 7, to: week}, {to: hives, fresh: yes}]"))
        self.assertEqual(
            [(arrow.target.screen, arrow.fresh) for arrow in plan.screen["hive"].arrow], [("week", False), ("hives", True)]
        )

    def test_operations_of_a_place(self) -> None:
        cases = {
            "return yellow": operations.Return("yellow"),
            "return white from tour": operations.Return("white", "tour"),
            "close tour": operations.CloseFlow("tour"),
            "close menu": operations.Close(overlay="menu"),
            "close": operations.Close(),
            "show note": operations.Open("note"),
            "switch diary to root": operations.Switch("diary", to_root=True),
            "push week on app": operations.OnFlow("app", operations.Push(operations.Target("week"))),
            "push page awaiting mark on home": operations.OnFlow(
                "home", operations.Push(operations.Target("page"), awaiting="mark")
            ),
            "go to wanted else replace week": operations.GoToWanted(operations.Replace(operations.Target("week"))),
            "remember this place": operations.Remember(),
        }
        for phrase, expected in cases.items():
            with self.subTest(phrase):
                plan = plan_of(HEAD % (f"{{when: tap a, do: {phrase}}}", ""))
                self.assertEqual(plan.screen["page"].moves[0].operations, (expected,))

    def test_triggers_of_a_place(self) -> None:
        cases = {
            "shown": triggers.ShownTrigger(),
            "first shown": triggers.ShownTrigger(first=True),
            "left": triggers.LeftTrigger(),
            "session becomes valid": triggers.BecomesTrigger("session", "valid"),
            "session becomes valid even hidden": triggers.BecomesTrigger("session", "valid", even_hidden=True),
            "mark comes back": triggers.ResultTrigger("mark"),
            "mark is cancelled": triggers.ResultTrigger("mark", cancelled=True),
        }
        for phrase, expected in cases.items():
            with self.subTest(phrase):
                self.assertEqual(plan_of(HEAD % (f"{{when: {phrase}, do: []}}", "")).screen["page"].moves[0].trigger, expected)


class WhatIsAllowed(unittest.TestCase):
    def test_before_the_first_screen_and_with_an_answer_that_goes_on(self) -> None:
        head = """
            facts: {session: [none, valid]}
            calls: {check: {ok: 1s}}
            overlays: {note: {kind: notice, for: 2s}}
        """
        for operation in ("set session valid", "call check", "cancel check"):
            plan_of(head + f"    anywhere: [{{when: launched, do: {operation}}}]\n            screens: {{hives: }}")
        for operation in ("set session valid", "set draft edited", "show note", "call check", "cancel check"):
            guard = f"{{name: g, ask: {{text: Leave?, answers: [{{no: stay}}, {{yes: [{operation}, go on]}}]}}}}"
            plan_of(head + f"    screens: {{hives: {{holds: {{draft: [clean, edited]}}, guards: [{guard}]}}}}")


class WhatIsWrong(unittest.TestCase):
    def test_moves(self) -> None:
        cases = {
            "{when: tap a, do: return red}": 'no result here has the value "red"; choose from: white, yellow',
            "{when: tap a, do: return white from home tour}": 'there is no flow "home tour"',
            "{when: tap a, do: open menue}": 'there is no overlay "menue"; did you mean "menu"?',
            "{when: tap a, do: switch diry}": 'there is no tab "diry"; did you mean "diary"?',
            "{when: tap a, do: push week on homes}": 'there is no flow "homes"; did you mean "home"?',
            "{when: tap a, do: push week on week}": 'there is no flow "week"',
            "{when: tap a, do: push week awaiting colour}": 'there is no result that a screen or overlay gives "colour"',
            "{when: session becomes open, do: pop}": '"session" is never "open"',
            "{when: sesion becomes valid, do: pop}": 'did you mean "session"?',
            "{when: colour comes back, do: pop}": '"colour"',
            "{when: mark comes back, if: mark is red, do: pop}": '"mark" is never "red"',
            "{when: shown soon, do: pop}": '"soon" cannot follow this trigger',
        }
        for move, expected in cases.items():
            with self.subTest(move):
                self.assertIn(expected, "\n".join(messages(HEAD % (move, ""))))

    def test_guards(self) -> None:
        ask = "{name: g, ask: {text: Leave?, answers: [%s]}}"
        cases = {
            "{name: g}": "a guard has one of block, ask and do",
            "{block: yes}": 'a guard has no "name"',
            "{name: g, block: yes, do: pop}": "a guard has one of block, ask and do",
            "{name: g, block: yes, ways: [sistem]}": 'did you mean "system"?',
            "{name: g, block: yes, watches: all}": '"watches" is never "all"',
            "{name: g, block: maybe}": '"block" is never "maybe"',
            ask % "{yes: go on}": "the first answer must stay; move or add one",
            ask % "{no: stay}, {yes: [stay, go on]}": '"yes" stays and goes on',
            ask % "{no: stay}, {yes: [pop, go on]}": '"yes" goes on, so it may only set, show, call and cancel',
            "g": "a guard is a map",
        }
        for guard, expected in cases.items():
            with self.subTest(guard):
                self.assertIn(expected, "\n".join(messages(HEAD % ("", f", guards: [{guard}]"))))

    def test_places(self) -> None:
        cases = {
            "redirects: [{to: [hivs], send to: week}]": 'there is no screen "hivs"; did you mean "hives"?',
            "redirects: [{to: hives}]": 'a redirect has no "send to"',
            "redirects: [{to: hives, send to: hive}]": '"hive" needs the argument "id"',
            "anywhere: [{when: shown, do: pop}]": '"shown" cannot stand anywhere',
        }
        for more, expected in cases.items():
            with self.subTest(more):
                self.assertIn(expected, "\n".join(messages(HEAD % ("", "") + more + "\n")))
        changes = (
            ("of: home}", "of: hme}", 'not to "hme"; did you mean "home"?'),
            (", for: 2s}", "}", 'the notice "note" never goes; write for: 2s'),
            ("kind: drawer", "kind: drawr", 'did you mean "drawer"?'),
            ("tour: {start: page}", "tour: {screens: [page]}", 'the flow "tour" has no start'),
            ("tour: {start: page}", "tour: {start: tour}", '"tour" begins with itself'),
            ("  menu: {kind", "  week: {kind", 'there is another screen, flow or overlay "week"'),
            ("diary: week}", "diary: wek}", 'there is no screen "wek"; did you mean "week"?'),
        )
        for before, after, expected in changes:
            with self.subTest(after):
                self.assertIn(before, HEAD)
                self.assertIn(expected, "\n".join(messages(HEAD.replace(before, after) % ("", ""))))

    def test_walks(self) -> None:
        cases = {
            "answer perhaps": 'no question has the answer "perhaps"',
            "asked twice": 'there is no guard "twice"',
            "back taken by me": 'there is no guard "me"',
            "got mark = red": '"mark" is never "red"',
            "got colour = red": '"colour"',
            "header button is back": 'the header never shows "back"',
            "bars gone": 'expected "shown", not "gone"',
            "finding trouble": 'there is no finding "trouble"',
            "'ladder home[shelf: week]'": '"home" has no tab "shelf"',
            "'ladder week[week]'": '"week" holds no ladder',
            "'ladder home[hives: hives'": 'expected "]"',
        }
        for step, expected in cases.items():
            with self.subTest(step):
                self.assertIn(expected, "\n".join(messages(HEAD % ("", "") + f"walks: {{w: [{step}]}}\n")))

    def test_results_that_nobody_takes_are_a_doubt(self) -> None:
        plan = plan_of(HEAD.replace("{when: mark is cancelled, do: []}", "") % ("", ""))
        self.assertIn('nothing happens when "mark" is cancelled', "\n".join(doubt.told for doubt in plan.warnings))
        self.assertIn('nothing opens "menu"', "\n".join(doubt.told for doubt in plan.warnings))
