"""The same run with another reply: one that is a step of it, or one that comes by itself."""

import unittest

from tests.plans import plan_of
from wise_ladder.plan import Event
from wise_ladder.plan.events import Launch, Reply, Tap, Wait
from wise_ladder.semantics import initial_state
from wise_ladder.walks.reply_branches import ReplyOnTape, replies_of, with_reply
from wise_ladder.walks.tape import Tape

PLAN = plan_of("""
calls: {check: {valid: 400ms, expired: 1s}}
facts: {session: {values: [unknown, valid, expired]}}
screens:
  hives:
    moves:
      - {when: tap ask, do: call check}
      - {when: check gives valid, do: set session valid}
      - {when: check gives expired, do: set session expired}
""")


def run(*events: Event, replies: tuple[tuple[str, str], ...] = ()) -> Tape:
    tape = Tape(PLAN, initial_state(PLAN, (), replies))
    for event in (Launch(), *events):
        tape, done = tape.with_event(event)
        assert done.refused is None, event
    return tape


def ends(tape: Tape | None) -> str:
    assert tape is not None
    return tape.state_at(len(tape.entries)).facts[0]


class OtherReplies(unittest.TestCase):
    def test_a_reply_that_is_a_step_gives_way_to_another_and_the_others_stay(self) -> None:
        asked = (Tap("ask"), Wait(1000))
        tape = run(*asked, Reply("check", "expired"), *asked, Reply("check", "valid"))
        first, second = replies_of(tape)
        self.assertEqual(first, ReplyOnTape(4, "check", "expired", ("valid", "no reply")))
        self.assertEqual((second.step, second.outcome), (7, "valid"))
        self.assertEqual(ends(with_reply(tape, first, "valid")), "valid")
        self.assertEqual(ends(with_reply(tape, second, "expired")), "expired")
        silent = with_reply(tape, second, "no reply")
        self.assertEqual((ends(silent), silent and len(silent.entries)), ("expired", 6))

    def test_a_step_that_is_no_longer_there_is_no_reply(self) -> None:
        tape = run(Tap("ask"), Wait(1000), Reply("check", "valid"))
        (reply,) = replies_of(tape)
        self.assertIsNone(with_reply(tape.prefix(2), reply, "expired"))

    def test_replies_that_come_by_themselves(self) -> None:
        tape = run(Tap("ask"), Wait(2000), replies=(("check", "valid"),))
        (reply,) = replies_of(tape)
        self.assertEqual((reply.step, reply.outcome, reply.others), (0, "valid", ("expired", "no reply")))
        self.assertEqual([ends(with_reply(tape, reply, other)) for other in reply.others], ["expired", "unknown"])
        # Where none came, any may.
        (none,) = replies_of(run(Tap("ask"), Wait(2000)))
        self.assertEqual((none.outcome, none.others), ("no reply", ("valid", "expired")))

    def test_they_outlive_an_edit_and_are_kept_with_a_walk(self) -> None:
        tape = run(Tap("ask"), Wait(2000), replies=(("check", "valid"),))
        self.assertEqual(ends(tape.rerun_on(PLAN)), "valid")
        self.assertEqual(tape.given(), ["check replies valid"])
        gone = plan_of("calls: {other: {ok: 1s}}\nscreens: {hives: {moves: [{when: tap ask, do: call other}]}}")
        self.assertEqual(tape.rerun_on(gone).first.scripted_replies, ())


if __name__ == "__main__":
    unittest.main()
