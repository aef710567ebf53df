"""Triggers: each kind can be written, and is where its record says it may."""

import unittest

from wise_ladder.errors import PlanError
from wise_ladder.plan.loader import read_plan_text
from wise_ladder.plan.triggers import TRIGGERS

PLAN = """
app: Combfield
start: hives
facts: {session: [none, valid]}
calls: {fetch: {ok: 1s}}
timers: {idle: 1s}
cover: {least: 100ms}
screens:
  hives: {moves: [{when: tap pick, do: push hive awaiting queen}, {when: tap ask, do: call fetch}%s]}
  hive: {gives: {queen: [marked]}}
anywhere: [%s]
"""
NAMES = {"TIMER": "idle", "FACT": "session", "VALUE": "valid", "CALL": "fetch", "OUTCOME": "ok"}


def written(phrase: str) -> str:
    """Put names into the phrase of a record."""
    for word, name in NAMES.items():
        phrase = phrase.replace(word, name)
    return f"{{when: {phrase.replace('NAME', 'other' if phrase.startswith('tap') else 'queen')}, do: set session valid}}"


class Triggers(unittest.TestCase):
    def test_each_phrase_of_each_kind_is_read_as_that_kind(self) -> None:
        for kind in TRIGGERS:
            for phrase in kind.record.phrases:
                with self.subTest(phrase):
                    here = "" if phrase == "launched" else f", {written(phrase)}"
                    plan = read_plan_text(PLAN % (here, written(phrase) if phrase == "launched" else ""))
                    self.assertIs(type(plan.moves[-1 if phrase == "launched" else 2].trigger), kind)

    def test_a_kind_may_stand_anywhere_only_where_its_record_says_so(self) -> None:
        for kind in TRIGGERS:
            for phrase in kind.record.phrases:
                with self.subTest(phrase):
                    try:
                        read_plan_text(PLAN % ("", written(phrase)))
                    except PlanError as error:
                        self.assertIn("cannot stand anywhere", str(error))
                        self.assertFalse(kind.record.anywhere)
                    else:
                        self.assertTrue(kind.record.anywhere)


if __name__ == "__main__":
    unittest.main()
