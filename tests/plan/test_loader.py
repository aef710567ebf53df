"""What a plan file may say, and what is said where it is wrong."""

import json
import unittest

from tests.plans import COMBFIELD, plan_of
from wise_ladder.errors import PlanError
from wise_ladder.plan import conditions, events, policies, triggers, values
from wise_ladder.plan.loader import read_plan_text

HEAD = "app: Combfield\nstart: hives\nfacts: {session: [none, valid]}\n"


def messages(text: str) -> list[str]:
    """Return the first line of each problem in a plan, without the name of the file."""
    try:
        read_plan_text(text, "p")
    except PlanError as error:
        return [message.splitlines()[0].removeprefix("p:") for message in error.messages]
    return []


class WhatCanBeSaid(unittest.TestCase):
    def test_the_demo_is_read_without_a_doubt(self) -> None:
        self.assertEqual(COMBFIELD.warnings, ())
        self.assertGreaterEqual(len(COMBFIELD.screens), 12)

    def test_a_screen_takes_arguments_with_samples(self) -> None:
        plan = plan_of("screens: {hives: {takes: {id: {type: whole number, samples: [7, 12], default: 7}}}}")
        self.assertEqual(plan.screens[0].takes, (values.Parameter("id", "whole number", (7, 12), 7),))

    def test_a_list_of_values_is_a_type(self) -> None:
        plan = plan_of("screens: {hives: , hive: {takes: {look: [frames, comb], new: yes or no}}}")
        look, new = plan.screens[1].takes
        self.assertEqual((look.kind, look.samples, new.samples), ("one of", ("frames", "comb"), ("yes", "no")))

    def test_yes_and_no_are_words(self) -> None:
        plan = plan_of("facts: {welcomed: no, seen: yes}\nscreens: {hives: }")
        self.assertEqual([fact.values for fact in plan.facts], [("no", "yes"), ("yes", "no")])

    def test_weight_bars_and_header(self) -> None:
        plan = plan_of("screens: {hives: {weight: 1.5MB, top bar: hidden, bottom bar: shown, header: menu}}")
        screen = plan.screens[0]
        self.assertEqual(
            (screen.weight, screen.top_bar, screen.bottom_bar, screen.header), (1_500_000, "hidden", "shown", "menu")
        )

    def test_a_tap_learns_what_it_carries_from_the_screen_it_leads_to(self) -> None:
        plan = plan_of("""
            screens:
              hives: {moves: [{when: tap hive(id), if: id is 7, do: push hive(id=$id)}]}
              hive: {takes: {id: {type: whole number, samples: [7, 12]}}}
        """)
        move = plan.moves[0]
        self.assertEqual(move.trigger, triggers.TapTrigger("hive", (values.Parameter("id", "whole number", (7, 12)),)))
        self.assertEqual(move.condition, conditions.ArgumentIs("id", 7))

    def test_json_is_a_plan_too(self) -> None:
        text = json.dumps({"app": "Combfield", "start": "hives", "screens": {"hives": {}}}, indent=1)
        self.assertEqual(read_plan_text(text).screens[0].name, "hives")

    def test_a_start_may_hang_on_facts(self) -> None:
        plan = plan_of("""
            start: [{if: session is valid, put: hives}, {put: sign in}]
            facts: {session: [none, valid]}
            screens: {hives: , sign in: }
        """)
        self.assertEqual([choice.target.screen for choice in plan.start], ["hives", "sign in"])

    def test_many_brackets_side_by_side_are_not_deep(self) -> None:
        condition = " or ".join(["(session is none)"] * 40)
        plan = plan_of(
            f"facts: {{session: [none, valid]}}\nscreens: {{hives: {{moves: [{{when: tap a, if: {condition}, do: pop}}]}}}}"
        )
        self.assertIsInstance(plan.moves[0].condition, conditions.AnyOf)

    def test_policies_have_defaults(self) -> None:
        self.assertEqual(plan_of("screens: {hives: }").policies, policies.Policies("leave", "finding", "stack"))
        self.assertEqual(plan_of("policies: {back at root: stay}\nscreens: {hives: }").policies.back_at_root, "stay")

    def test_repeats_nest(self) -> None:
        plan = plan_of("screens: {hives: }\nwalks: {w: [launch, {repeat 2: [{repeat 3: [back]}]}]}")
        back = events.WalkStep(events.Back())
        outer = plan.walks[0].steps[1]
        assert isinstance(outer, events.Repeat)
        inner = outer.steps[0]
        assert isinstance(inner, events.Repeat)
        self.assertEqual((outer.times, inner.times, [type(line) for line in inner.steps]), (2, 3, [type(back)]))


class WhatIsWrong(unittest.TestCase):
    def test_every_problem_is_told_with_its_place_and_the_nearest_word(self) -> None:
        found = messages(
            HEAD
            + "screens:\n"
            + "  hives:\n"
            + "    moves:\n"
            + "      - {when: tap a, do: push hvie(id=7)}\n"
            + "      - {when: tap b, do: push hive}\n"
            + "      - {when: tap c, if: session is valdi, do: pop}\n"
            + "  hive: {takes: {id: whole number}}\n"
        )
        self.assertEqual(
            found,
            [
                '7:32: there is no screen "hvie"; did you mean "hive"?',
                '8:32: "hive" needs the argument "id"; write hive(id=1)',
                '9:38: "session" is never "valdi"; did you mean "valid"?',
            ],
        )

    def test_one_problem_each(self) -> None:
        screens = (
            "screens: {hives: {takes: {}, moves: [%s]}, hive: {takes: {id: whole number}, holds: {draft: [clean, edited]}}}"
        )
        cases = {
            "{when: tap a, do: push hive(id=x)}": '"id" is a whole number, not "x"',
            "{when: tap a, do: push hive(id=1 idd=2)}": '"1 idd" has spaces|two arguments',
            "{when: tap a, do: push hive(nr=1)}": '"hive" takes no "nr"',
            "{when: tap a, do: 'push hive(id=1, id=2)'}": '"id" is given twice',
            "{when: tap a, do: push hive(id=$id)}": 'there is no "$id" here',
            "{when: tap a(id), do: pop}": 'nothing uses the "id" of this tap',
            "{when: tap a, do: jump hive}": 'unknown operation "jump"',
            "{when: tap a, do: pusch hives}": 'did you mean "push"',
            "{when: tap a, do: pop 0}": "it pops nothing",
            "{when: tap a, do: pop 2 rungs}": '"rungs" cannot follow',
            "{when: tap a, do: set session open}": '"session" is never "open"',
            "{when: tap a, do: set sesion valid}": 'did you mean "session"',
            "{when: tap a, do: set draft edited}": 'there is no fact "draft"',
            "{when: tap a, do: clear}": "nothing is put after this clear",
            "{when: tap a, do: [push hives, pop]}": "drop once, first, then put",
            "{when: press a, do: pop}": 'unknown trigger "press"',
            "{when: 1500 on ladder, do: pop}": 'unknown trigger "1500"',
            "{when: 2s later, do: pop}": "expected how long the timer runs; write one of: on ladder, shown",
            "{when: 25000min on ladder, do: pop}": "over a day",
            "{when: tap a, if: session valid, do: pop}": '"is" is expected after "session valid"',
            "{when: tap a, if: (session is valid, do: pop}": 'expected ")"',
            "{when: tap a, if: session is valid or, do: pop}": "expected a",
            "{when: tap a, if: hvie on the ladder, do: pop}": 'did you mean "hive"',
            "{when: tap a, if: depth over many, do: pop}": "expected a number of rungs",
            "{when: 'tap \"a', do: pop}": "the quote is never closed",
            "{when: tap a}": 'a move has no "do"',
            "{do: pop}": 'a move has no "when"',
            "{when: tap a, do: pop, iff: x}": 'a move has no key "iff"; did you mean "if"?',
            "{when: tap a, do: {push: hive}}": "must be a single phrase",
            "push hive": "a move is a map",
        }
        for move, expected in cases.items():
            with self.subTest(move):
                found = "\n".join(messages(HEAD + screens % move))
                self.assertRegex(
                    found,
                    "|".join(
                        part.replace("$", r"\$").replace("(", r"\(").replace(")", r"\)").replace('"?', '"')
                        for part in expected.split("|")
                    ),
                )

    def test_what_is_wrong_outside_the_moves(self) -> None:
        cases = {
            "": "not a plan",
            "- a": "not a plan",
            "app: x\nstart: hives\n": 'a plan has no "screens"',
            "start: hives\nscreens: {hives: }": 'a plan has no "app"',
            "app: x\nscreens: {hives: }": 'a plan has no "start"',
            "app: x\nstart: hive\nscreens: {hives: }": 'did you mean "hives"',
            "app: x\nstart: hives\nscreens: {hives: }\nwalk: {}": 'did you mean "walks"',
            "format: 2\napp: x\nstart: hives\nscreens: {hives: }": 'unknown format "2"',
            "app: x\napp: y\nstart: hives\nscreens: {hives: }": '"app" is here twice',
            "app: x\nstart: hives\nscreens: {hives: }\npolicies: {back at root: exit}": '"back at root" is never "exit"',
            "app: x\nstart: hives\nscreens: {hives: {weight: heavy}}": '"heavy" is not a weight',
            "app: x\nstart: hives\nscreens: {hives: {takes: {id: number}}}": 'there is no type "number"',
            "app: x\nstart: hives\nfacts: {a: [b, b]}\nscreens: {hives: }": '"b" is a value twice',
            "app: x\nstart: hives\nfacts: {a: {values: [b, c], from outside: [b to d]}}\nscreens: {hives: }": '"a" is never "d"',
            "app: x\nstart: [{if: hives on the ladder, put: hives}]\nscreens: {hives: }": "if no condition holds, there is no start",
            "app: x\nstart: hives\nscreens: {hives: }\npolicies: [a]": '"policies" must be a map; write policies: {back at root: leave}',
            "app: x\nstart: hives\nscreens: {hives: }\noverlays: {o: dialog}": '"o" must be a map; write {kind: dialog}',
            "app: x\nstart: hives\nscreens: {hives: }\nflows: {f: [hives]}": '"f" must be a map; write {start: SCREEN}',
            "app: x\nstart: hives\nscreens: {hives: }\nflows: {f: {screens: [hives]}}": 'the flow "f" has no start',
            "app: x\nstart: hives\nscreens: {hives: }\ntabs: {a: hives}": "write it under flows, as in flows: {NAME: {tabs:",
            "app: x\nstart: hives\nscreens: {hives: {moves: [{when: tap a, do: push hives, replace hives}]}}": "in brackets: do: [",
            "app: x\nstart: hives\nscreens: {hives: {moves: [{when: tap a, do: pop then push hives}]}}": "a phrase holds one operation",
            "app: x\nstart: hives\nscreens: {hives: {takes: {id: {type: text, default: a}}, moves: [{when: tap a, do: push week(n=id)}]},"
            " week: {takes: {n: whole number}}}": "write $id to hand the argument on",
            "app: x\nstart: hives\nscreens: {hives: }\nwalks: {w: [jump]}": 'no step of a walk begins with "jump"',
            "app: x\nstart: hives\nscreens: {hives: }\nwalks: {w: [tap hvie]}": 'no screen has a tap "hvie"',
            "app: x\nstart: hives\nscreens: {hives: }\nwalks: {w: [see hvies]}": 'did you mean "hives"',
            "app: x\nstart: hives\nscreens: {hives: }\nwalks: {w: [wait long]}": '"long" is not a time',
            "app: x\nstart: hives\nscreens: {hives: }\nwalks: {w: [{repeat 0: [back]}]}": "write a number from 1 to 1000",
            "app: x\nstart: hives\nscreens: {hives: }\nwalks: {w: {repeat: 3}}": 'a walk has no "steps"',
        }
        for text, expected in cases.items():
            with self.subTest(text):
                self.assertIn(expected, "\n".join(messages(text)))

    def test_nothing_is_read_past(self) -> None:
        """A phrase is read to its end, wherever it stands: what follows it is told, never left out."""
        cases = {
            "start: 'hive(id=7) now'": "a screen",
            "start: [{put: 'hive(id=7) now'}]": "a screen",
            "redirects: [{to: hives, send to: 'hive(id=7) now'}]": "a screen",
            "links: [{address: 'a://b', build: ['hive(id=7) now']}]": "a screen",
            "unknown address: 'hive(id=7) now'": "a screen",
            "flows: {home: {tabs: {first: 'hive(id=7) now'}}}": "a screen",
            "flows: {home: {screens: [hive], start: 'hive(id=7) now'}}": "a screen",
            "week: {arrow: [{to: 'hive(id=7) now'}]}": "a screen",
            "week: {arrow: 'to hive(id=7) now'}": "an arrow",
            "week: {moves: [{when: tap in(id) now, do: pop}]}": "a tap",
            "week: {moves: [{when: 1s shown now, do: pop}]}": "a timer",
            "week: {moves: [{when: tap in, do: 'push hive(id=7) now'}]}": "an operation",
            "week: {moves: [{when: tap in, if: depth over 3 now, do: pop}]}": "a condition",
            "walks: {w: ['see hive(id=7) now']}": "this step",
        }
        for text, after in cases.items():
            with self.subTest(text):
                screens = f"hives: , hive: {{takes: {{id: {{type: whole number, samples: [7]}}}}}}, {text if 'week' in text else 'week: '}"
                lines = ["app: x", *([] if text.startswith("start") else ["start: hives"]), f"screens: {{{screens}}}"]
                said = "\n".join(messages("\n".join([*lines, *([] if "week" in text else [text])])))
                self.assertIn(f'"now" cannot follow {after}', said)

    def test_a_plan_may_not_have_what_can_do_harm(self) -> None:
        bomb = "a: &a [x]\n" + "".join(f"b{i}: &b{i} [*a, *a]\n" for i in range(3))
        cases = {
            bomb: "a plan has no aliases",
            "app: !!python/object:os.system x": "a plan has no tags",
            "[" * 5000: "nested deeper|not a plan",
            "app: x\n---\napp: y": "a second document",
            "app: 'x": "the quote is never closed",
            "app: {x": "close the bracket|a comma or a closing bracket",
            "app: x: y": "a misplaced colon",
            "app: \x07": "U.0007 is a control character",
            f"app: {'x' * 3000}": "a phrase of more than 2,000 characters",
            HEAD + f"screens: {{hives: {{moves: [{{when: tap a, if: {'(' * 400}alone, do: pop}}]}}}}": "nested deeper than 32",
            HEAD
            + f"screens: {{hives: {{moves: [{{when: tap a, if: {'not ' * 400}alone, do: pop}}]}}}}": "nested deeper than 32",
            HEAD + f"screens: {{hives: {{moves: [{{when: tap a, do: {'pop else ' * 200}pop}}]}}}}": "nested deeper than 32",
        }
        for text, expected in cases.items():
            with self.subTest(text[:40]):
                self.assertRegex("\n".join(messages(text)), expected)

    def test_doubts_do_not_stop(self) -> None:
        plan = plan_of("screens: {hives: {moves: [{when: tap a, do: pop}, {when: tap a, do: pop}]}, hive: }")
        self.assertEqual(len(plan.warnings), 2)
        self.assertIn("is never taken", plan.warnings[0].what)
        self.assertIn('nothing leads to the screen "hive"', plan.warnings[1].what)
