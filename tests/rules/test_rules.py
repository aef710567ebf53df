"""Rules as a plan says them, what the starter set recognises, and rules that hang on time, phones and double taps."""

import unittest

from tests.plans import plan_of
from wise_ladder.demo import combfield
from wise_ladder.errors import PlanError
from wise_ladder.plan import Plan
from wise_ladder.plan.loader import read_plan, read_plan_text
from wise_ladder.plan.phrases import parse_condition
from wise_ladder.plan.rule import Rule, StarterSet
from wise_ladder.plan.rules import RULES
from wise_ladder.plan.scopes import scope_of
from wise_ladder.rules.predicates import KINDS
from wise_ladder.rules.report_text import summary, verdict_lines
from wise_ladder.rules.starter import condition_words, recognise, recognised_words, rules_in_force
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.titles import about
from wise_ladder.rules.verdicts import Bounds, Verdict

HEAD = """
app: Combfield
start: hives
facts: {session: [none, valid]}
screens:
  hives: {moves: [{when: tap hive, do: push hive}]}
  hive: {holds: {draft: [clean, edited]}, moves: [{when: tap write, do: set draft edited}]}
"""


def decided(plan: Plan, depth: int = 8) -> dict[str, Verdict]:
    sweep = Sweep(plan, Bounds(depth=depth, seconds=30))
    sweep.run()
    return {verdict.rule.name: verdict for verdict in sweep.verdicts()}


class Reading(unittest.TestCase):
    def test_what_a_rule_is_told(self) -> None:
        text = (
            HEAD
            + "rules: [no traps, {rule: guarded, screens: hive, if: draft is edited, ways: system, note: nothing is lost}]\n"
        )
        (traps, guarded) = read_plan_text(text).rules
        assert isinstance(traps, Rule)
        assert isinstance(guarded, Rule)
        self.assertEqual((traps.name, guarded.screens, guarded.ways), ("no traps", ("hive",), ("system",)))
        self.assertEqual((guarded.condition_text, guarded.note), ("draft is edited", "nothing is lost"))

    def test_mistakes_come_all_at_once_with_what_to_write_instead(self) -> None:
        rules = """rules:
  - never beneath
  - no trasp
  - {rule: at most, rungs: many, screens: hiv}
  - {rule: back lands, from: hive}
  - {rule: no flash, time: soon, colour: red}
  - {rule: guarded, screens: hive, if: draft is lost}
"""
        with self.assertRaises(PlanError) as caught:
            read_plan_text(HEAD + rules)
        told = str(caught.exception)
        for words in (
            "write {rule: never beneath, screens: [SCREEN]}", 'did you mean "no traps"?', '"many" is not a number',
            'did you mean "hive"?', 'has no "lands on"', 'has no key "colour"', '"draft" is never "lost"',
        ):  # fmt: skip
            self.assertIn(words, told)

    def test_each_rule_can_be_read_and_decided(self) -> None:
        keys = {
            "screens": "hive", "from": "hive", "lands on": "hives", "if": "session is none", "rungs": "9", "size": "1GB",
        }  # fmt: skip
        for name, told in RULES.items():
            with self.subTest(name):
                more = "".join(f", {key}: {keys[key]}" for key in told.required)
                verdict = decided(read_plan_text(f"{HEAD}rules: [{{rule: {name}{more}}}]\n"), depth=3)[name]
                self.assertIn(verdict.status, {"holds", "broken", "undecided"})
                self.assertTrue(list(verdict_lines(verdict, "plan")))


class Kinds(unittest.TestCase):
    def test_each_rule_is_decided_in_one_way(self) -> None:
        self.assertEqual(set(KINDS), set(RULES))
        for name, kind in KINDS.items():
            ways = (kind.predicate is not None, kind.measure is not None, kind.of_the_plan)
            self.assertEqual(ways.count(True), 1, name)


class TheStarterSet(unittest.TestCase):
    def test_combfield(self) -> None:
        found = recognise(read_plan(combfield()))
        self.assertEqual((found.splash, found.sign_in), (("splash",), ("sign in",)))
        self.assertIn("inspection", found.protected[0].only)

    def test_it_is_in_force_where_nothing_else_is_said(self) -> None:
        self.assertEqual(read_plan_text(HEAD).rules, (StarterSet(),))
        self.assertIn("no twins", [rule.name for rule in rules_in_force(read_plan_text(HEAD))])
        self.assertEqual([rule.name for rule in rules_in_force(read_plan_text(HEAD + "rules: [no traps]\n"))], ["no traps"])

    def test_what_was_recognised_can_be_contradicted(self) -> None:
        text = (
            combfield()
            .read_text()
            .replace("  - starter\n", "  - {rule: starter, not splash: splash, not sign in: sign in, without: [no flash]}\n")
        )
        names = [(rule.name, rule.screens) for rule in rules_in_force(read_plan_text(text)) if rule.starter]
        self.assertNotIn(("never beneath", ("splash",)), names)
        self.assertNotIn(("never land on", ("sign in",)), names)
        self.assertNotIn("no flash", [name for name, _ in names])

    def test_signed_in_is_known_from_what_sets_the_facts(self) -> None:
        """A session that is not known yet is neither signed in nor out; one that only the sign-in sets is signed out at first."""
        for told, signed_in, unsettled in (
            ("session is none", "session is valid", ["session is unknown"]),
            ("session is not valid", "session is valid", ["session is unknown"]),
        ):
            found = recognised_words(read_plan_text(SESSION.replace("TOLD", told)), StarterSet())
            self.assertEqual((found.sign_in, found.protected, found.signed_in), (["sign in"], ["hives"], signed_in))
            self.assertEqual(found.unsettled, unsettled)
        unchecked = SESSION.replace("TOLD", "session is not valid").replace(
            "check gives none, do: set session none", "launched, do: []"
        )
        self.assertEqual(recognised_words(read_plan_text(unchecked), StarterSet()).unsettled, [])

    def test_a_redirect_that_asks_for_two_facts(self) -> None:
        text = SESSION.replace("facts: {", "facts: {locked: [no, yes], ").replace("TOLD", "session is none or locked is yes")
        found = recognised_words(read_plan_text(text), StarterSet())
        self.assertEqual(found.unsettled, ["session is unknown"])
        self.assertEqual(found.signed_in, "not (session is none or locked is yes) and not session is unknown")

    def test_while_a_session_is_not_known_nothing_is_broken(self) -> None:
        plan = read_plan_text(SESSION.replace("TOLD", "session is none"))
        rules = {rule.called: rule for rule in rules_in_force(plan)}
        self.assertIn("protected: hives if session is unknown or session is valid", rules)
        self.assertIn("never land on: sign in if session is valid", rules)
        self.assertEqual(decided(plan)["protected"].status, "holds")


SESSION = """
app: Combfield
start: hives
facts: {session: [unknown, none, valid]}
calls: {check: {valid: 1s, none: 1s}}
anywhere:
  - {when: launched, do: call check}
  - {when: check gives valid, do: set session valid}
  - {when: check gives none, do: set session none}
  - {when: session becomes none, do: [clear, push sign in]}
screens:
  hives: {}
  sign in: {moves: [{when: tap sign in, do: [set session valid, go to wanted else replace hives]}]}
redirects: [{to: hives, if: TOLD, send to: sign in, remember: yes}]
"""


class Names(unittest.TestCase):
    def test_no_two_rules_are_called_the_same(self) -> None:
        rules = """rules:
  - {rule: back lands, from: hive, lands on: hives}
  - {rule: back lands, from: hive, lands on: hives, ways: header}
  - {rule: back lands, from: hive, lands on: hives}
  - {rule: no traps, name: out}
"""
        called = [rule.called for rule in rules_in_force(read_plan_text(HEAD + rules))]
        says = "back lands: hive on hives"
        self.assertEqual(called, [says, f"{says} by header", f"{says} (2)", "out"])

    def test_a_name_that_is_given_twice_is_a_mistake(self) -> None:
        with self.assertRaises(PlanError) as caught:
            read_plan_text(HEAD + "rules: [{rule: no traps, name: out}, {rule: no twins, name: out}]\n")
        self.assertIn('there is a rule "out" already', str(caught.exception))


class Phones(unittest.TestCase):
    def test_a_guard_that_a_phone_does_not_let_see_the_way(self) -> None:
        plan = read_plan_text(
            HEAD.replace("do: set draft edited}]", "do: set draft edited}], guards: [{name: g, if: draft is edited, ask: "
                         "{answers: [{stay here: stay}, {leave: go on}]}}]")
            + "phones: {plain: {}, stubborn: {guards see: [header, in-app, aside]}}\n"
            "rules: [{rule: guarded, screens: hive, if: draft is edited}]\n"
        )  # fmt: skip
        self.assertEqual(decided(plan)["guarded"].status, "holds")
        self.assertEqual(decided(plan.on_phone("stubborn"))["guarded"].words, "broken in 4 steps")


class Words(unittest.TestCase):
    def test_the_standing_in_a_line(self) -> None:
        verdicts = tuple(decided(read_plan_text(HEAD)).values())
        self.assertRegex(summary(verdicts), r"^8 of 8 rules hold at every depth \(\d+ states, all there are, \d+\.\d s\)$")

    def test_one_link_that_breaks_several_rules_is_one_place(self) -> None:
        plan = read_plan_text(
            HEAD + "links: [{address: 'x://hive', build: [hive]}]\n"
            "rules: [{rule: leaves only from, screens: hives}, links have a way back, {rule: in no state, screens: hive, if: alone}]\n"
        )
        verdicts = tuple(decided(plan).values())
        self.assertEqual([[found.place.words for found in verdict.counterexamples] for verdict in verdicts], [["x://hive"]] * 3)
        self.assertIn("3 broken at 1 place (", summary(verdicts))

    def test_what_a_rule_is_about(self) -> None:
        rules = "rules: [{rule: back lands, from: hive, lands on: [hives, the ground], if: session is none}]\n"
        (rule,) = read_plan_text(HEAD + rules).rules
        assert isinstance(rule, Rule)
        self.assertEqual(about(rule), "hive on hives, the ground if session is none")


class Conditions(unittest.TestCase):
    def test_a_condition_that_is_written_reads_back(self) -> None:
        plan = plan_of("facts: {session: [none, valid], token: [none, kept]}\nscreens: {hives: }")
        scope = scope_of(plan, None)
        for phrase in (
            "not (session is valid and token is kept)", "not (session is valid or token is kept)",
            "(session is valid or token is kept) and alone", "session is valid and not token is kept", "not alone",
            "depth over 2", "hives on the ladder", "beneath is hives", "session is valid",
        ):  # fmt: skip
            condition = parse_condition(phrase, scope)
            self.assertEqual(parse_condition(condition_words(plan, condition), scope), condition, phrase)
