"""What is refused and what is found odd, each with the words a user reads."""

import unittest

from tests.plans import plan_of, run
from wise_ladder.plan.events import Answer, Back, Event, HeaderBack, Home, Launch, Reopen, Reply, Tap, Wait
from wise_ladder.semantics import step
from wise_ladder.semantics.log import Finding, NoEffect

PLAN = plan_of("""
    facts: {token: [none, kept], room: [free, full]}
    calls: {check: {valid: {takes: 400ms, if: token is kept}, offline: 1s}}
    overlays:
      sure: {kind: dialog, gives: {throw: [yes, no]}, moves: [{when: tap yes, do: close with yes}, {when: tap throw, do: close}]}
      menu: {kind: drawer}
    screens:
      hives:
        header: menu
        moves:
          - {when: tap check, do: call check}
          - {when: tap again, do: [cancel check, cancel check]}
          - {when: tap hive, do: push hive}
          - {when: tap box, do: push box}
          - {when: tap there, do: go to wanted}
          - {when: tap sure, do: open sure}
          - {when: tap entry, do: push hive on diary}
          - {when: tap full, if: room is full, do: leave}
      hive:
        header: none
        moves: [{when: tap give, do: return new}]
        gives: {code: [new]}
        guards: [{name: unsaved, ask: {text: Leave?, answers: [{keep: stay}, {throw: go on}]}}]
      inner: {moves: [{when: tap box, do: push box}, {when: tap done, do: close box}]}
    flows:
      box: {screens: [inner], start: inner}
      diary: {screens: [hive], start: hive}
""")


class Refusals(unittest.TestCase):
    def test_what_cannot_be_done_is_refused_with_words_and_changes_nothing(self) -> None:
        cases: tuple[tuple[tuple[Event, ...], Event, str], ...] = (
            ((), Tap("hive"), "Combfield is not running: launch it first"),
            ((Launch(), Home()), Back(), "Combfield is in the background: reopen it first"),
            ((Launch(),), Launch(), "Combfield already runs"),
            ((Launch(),), Reopen(), "Combfield is not in the background"),
            ((Launch(),), Answer("keep"), "no question is open"),
            ((Launch(),), Reply("check", "offline"), "check is not pending"),
            ((Launch(), Tap("check")), Reply("check", "lost"), "check never gives lost"),
            ((Launch(), Tap("check")), Reply("check", "valid"), "check cannot give valid right now"),
            ((Launch(),), Tap("full"), '"full" does nothing on hives right now'),
            ((Launch(), Tap("hive")), HeaderBack(), "the header is empty here"),
            ((Launch(),), HeaderBack(), "the header menu opens nothing here"),
            ((Launch(), Tap("hive"), Back()), Tap("give"), '"unsaved" asks first; answers: keep, throw'),
            ((Launch(), Tap("hive"), Back()), Answer("maybe"), '"unsaved" has no answer "maybe"; answers: keep, throw'),
            ((Launch(), Tap("sure")), Tap("hive"), '"sure" has no tap "hive"; taps here: yes, throw'),
        )
        for before, event, why in cases:
            state = run(PLAN, *before)
            found = step(PLAN, state, event)
            with self.subTest(why):
                self.assertEqual(found.refused, why)
                self.assertIs(found.state, state)

    def test_what_is_odd_is_found_and_told(self) -> None:
        boxes: tuple[Event, ...] = (Launch(), *[Tap("box")] * 32)
        cases: tuple[tuple[tuple[Event, ...], Event, str, str], ...] = (
            ((Launch(), Tap("sure")), Tap("yes"), "nobody waits", "sure closed with yes, but nobody awaits it"),
            (
                (Launch(), Tap("hive"), Tap("give")),
                Answer("throw"),
                "nobody waits",
                "new was returned, but hives awaits nothing",
            ),
            ((Launch(),), Tap("entry"), "no such flow here", "this is not inside diary"),
            (boxes, Tap("box"), "nested too deep", "box would be inside more than 32 others; the whole move was undone"),
        )
        for before, event, name, words in cases:
            with self.subTest(name):
                found = step(PLAN, run(PLAN, *before), event)
                self.assertIn(Finding(name, words), found.log)

    def test_what_comes_to_nothing_says_why(self) -> None:
        for event, why in (
            (Tap("there"), "there is no wanted place"),
            (Tap("again"), "check is not pending"),
        ):
            with self.subTest(why):
                self.assertIn(NoEffect(why), step(PLAN, run(PLAN, Launch()), event).log)

    def test_replies_that_were_given_come_each_in_its_turn(self) -> None:
        """The first one fits, the second does not: its call stays under way, and that is said."""
        replies = (("check", "offline"), ("check", "valid"))
        state = run(PLAN, Launch(), Tap("check"), Wait(1000), replies=replies)
        self.assertEqual((state.calls, state.scripted_replies), ((), (("check", "valid"),)))
        state = run(PLAN, Launch(), Tap("check"), Wait(1000), Tap("check"), replies=replies)
        waited = step(PLAN, state, Wait(400))
        self.assertIn(NoEffect("check gets no reply: check cannot give valid right now"), waited.log)
        self.assertEqual([call.name for call in waited.state.calls], ["check"])
