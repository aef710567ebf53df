"""What is left out of a state: it can be kept and dropped, but whoever looks at it is stopped and told what it was."""

import unittest
from collections.abc import Callable
from typing import Any, cast

from hypothesis import given
from hypothesis import strategies as st

from tests.plans import plan_of
from wise_ladder.plan.conditions import AllOf, Alone, AnyOf, ArgumentIs, Condition, FactIs, Not, RungFactIs
from wise_ladder.semantics.conditions import EvalContext, simplify, uses_only_facts
from wise_ladder.semantics.opaque import OPAQUE_SERIAL, OpaqueLadder, OpaquePath, OpaqueRung, VeilKnowledge
from wise_ladder.semantics.state import Head, HeadRung, PendingCall, Phase, Rung, RungData, visible_path
from wise_ladder.semantics.symbolic import (
    ASKERS,
    OF_ALL,
    PLAIN,
    SAVED,
    SETTLED,
    UNREAD,
    PendingKnowledge,
    RefinementNeeded,
    RepliedCall,
    RestAnswer,
    StackRest,
    SymbolicRungs,
    cut,
    hidden,
    told,
    untold,
)

PLAN = plan_of("""
    facts: {session: [none, valid]}
    screens: {hives: {}, hive: {takes: {id: whole number}, holds: {draft: [clean, edited]}}}
""")
SIMPLE: tuple[Condition, ...] = (
    RungFactIs("draft", "edited"), RungFactIs("draft", "clean"), ArgumentIs("id", 7), ArgumentIs("id", 12), FactIs("session", "valid"), Alone(),
)  # fmt: skip
CONDITIONS = st.recursive(
    st.sampled_from(SIMPLE),
    lambda inner: st.one_of(
        inner.map(Not),
        st.lists(inner, min_size=1, max_size=3).map(lambda parts: AllOf(tuple(parts))),
        st.lists(inner, min_size=1, max_size=3).map(lambda parts: AnyOf(tuple(parts))),
    ),
    max_leaves=6,
)
CLEAN, SEVEN = (("draft", "clean"),), (("id", 7),)


class Conditions(unittest.TestCase):
    def test_what_is_known_of_a_place_is_decided_and_the_rest_left_open(self) -> None:
        edited, valid = RungFactIs("draft", "edited"), FactIs("session", "valid")
        cases: tuple[tuple[Condition | None, Condition | bool], ...] = (
            (None, True),
            (edited, False),
            (Not(edited), True),
            (ArgumentIs("id", 7), True),
            (valid, valid),
            (AllOf((edited, valid)), False),
            (AllOf((Not(edited), valid)), AllOf((valid,))),
            (AnyOf((edited, valid)), AnyOf((valid,))),
            (AnyOf((Not(edited), valid)), True),
            (Not(AllOf((ArgumentIs("id", 7), valid))), Not(AllOf((valid,)))),
        )
        for condition, rest in cases:
            with self.subTest(condition=condition):
                self.assertEqual(simplify(condition, CLEAN, dict(SEVEN)), rest)

    def test_whether_only_facts_of_the_app_are_asked_for(self) -> None:
        valid = FactIs("session", "valid")
        about_facts: tuple[Condition | bool, ...] = (True, False, valid, Not(valid), AllOf((valid, Not(valid))))
        others: tuple[Condition, ...] = (Alone(), Not(Alone()), AnyOf((valid, Alone())), RungFactIs("draft", "clean"))
        self.assertEqual([condition for condition in about_facts if not uses_only_facts(condition)], [])
        self.assertEqual([condition for condition in others if uses_only_facts(condition)], [])

    @given(condition=CONDITIONS, session=st.sampled_from(("none", "valid")), lowest=st.booleans())
    def test_what_is_left_open_comes_to_the_same(self, condition: Condition, session: str, lowest: bool) -> None:
        head = Head(Phase.OPEN, (session,), (HeadRung(RungData("hive", SEVEN, CLEAN), lowest),))
        view = EvalContext(PLAN, head, ()).at(0)
        rest = simplify(condition, CLEAN, dict(SEVEN))
        self.assertEqual(view.holds(condition), rest if isinstance(rest, bool) else view.holds(rest))


class LeftOut(unittest.TestCase):
    def looks(self, wanted: str, number: int, do: Callable[[], object]) -> None:
        with self.assertRaises(RefinementNeeded) as stopped:
            do()
        self.assertEqual((stopped.exception.what, stopped.exception.number), (wanted, number))

    def test_a_fact_that_nobody_read_can_be_kept_but_not_compared(self) -> None:
        self.assertEqual(UNREAD[3], UNREAD[3])
        self.looks("fact", 3, lambda: UNREAD[3] == "valid")
        self.looks("fact", 3, lambda: UNREAD[3] != "valid")

    def test_what_is_under_way_tells_names_before_it_tells_all(self) -> None:
        calls = cast("tuple[str, ...]", untold(5))
        self.assertEqual(told(calls), ())
        self.looks("calling", 5, lambda: "weigh" in calls)
        for do in (lambda: list(calls), lambda: len(calls), lambda: bool(calls), lambda: (*calls, "more")):
            self.looks("fact", 5, do)
        named = cast("tuple[str, ...]", untold(5, known=PendingKnowledge(frozenset({"weigh"}))))
        self.assertEqual(("weigh" in named, "feed" in named), (True, False))
        self.assertIs(untold(5, timed=frozenset({2})), untold(5, timed=frozenset({2})))

    def test_a_call_that_gets_a_reply_is_known_alone(self) -> None:
        call = PendingCall("weigh", 0, 0, -1, "hive", None)
        for again in (False, True):
            before = untold(5, known=PendingKnowledge(replied=RepliedCall(call, again)))
            taken, after = before.taken()
            self.assertEqual((taken, "weigh" in before, "weigh" in after), (call, True, again))
            self.looks("calling", 5, lambda after=after: "feed" in after)  # type: ignore[misc]
            self.looks("fact", 5, lambda after=after: list(after))  # type: ignore[misc]
        self.looks("fact", 5, lambda: untold(5).taken())
        self.assertNotIn("feed", untold(5).without("feed"))

    def test_rungs_that_were_left_out_tell_how_quiet_they_are_and_no_more(self) -> None:
        rungs = cast("SymbolicRungs", cut(2))
        can, known = StackRest(PLAIN | SETTLED, 4), rungs
        for mark in (PLAIN, SETTLED, SAVED, ASKERS):
            known = known.with_answer(can.answer(mark))
        self.assertEqual((known.plain, known.settled, known.saved, known.askers, known.serial), (True, True, False, 4, -4))
        for do in (lambda: rungs.plain, lambda: rungs.settled, lambda: rungs.saved, lambda: rungs.askers):
            self.looks("rests", 0, do)
        some = rungs.with_answer(RestAnswer(PLAIN | OF_ALL, 0))
        self.looks("rest", 2, lambda: some.plain)
        saved = known.as_saved()
        self.assertEqual((saved.settled, saved.saved, saved.askers), (True, False, 0))
        self.looks("rung", 2, lambda: known.data)
        self.looks("rung", 2, lambda: known.undelivered)
        self.assertIs(cut(2), rungs)
        tab = hidden(1)
        self.looks("ladder", 1, lambda: len(tab))
        self.looks("ladder", 1, lambda: tab[-1])

    def test_what_is_sought_is_looked_for_once(self) -> None:
        sought = ("hive", ())
        rungs = cast("SymbolicRungs", cut(0))
        self.looks("sought anywhere", 0, lambda: rungs.holds(sought))
        self.looks("sought", 0, lambda: rungs.with_try(sought).holds(sought))
        tab = cast("SymbolicRungs", next(iter(hidden(4))))
        self.looks("sought in ladder", 4, lambda: tab.with_try(sought).holds(sought))
        without = rungs.without(sought)
        self.assertFalse(without.holds(sought))
        self.looks("sought anywhere", 0, lambda: without.holds(RungData("hive")))
        # What they held may be gone when they are saved, so they are looked at one by one.
        self.looks("rung", 0, lambda: without.as_saved().holds(RungData("hive")))
        hive, both = frozenset({"hive"}), frozenset({"hive", "week"})
        self.looks("sought anywhere", 0, lambda: rungs.holds_one_of(hive, both))
        self.assertFalse(rungs.without(both).holds_one_of(hive, both))
        self.looks("sought anywhere", 0, lambda: rungs.without(hive).holds_one_of(both, both))
        self.assertFalse(rungs.without(both).as_saved().holds_one_of(hive, both))

    def test_a_ladder_behind_a_veil_can_go_as_a_whole(self) -> None:
        path = OpaquePath((), frozenset({"system"}), ())
        veil = OpaqueRung(VeilKnowledge(PLAIN | SETTLED, path, frozenset(), False, True, False, ()))
        ladder = OpaqueLadder((cast("Rung", veil),))
        top = ladder[-1]
        self.assertEqual([rung.serial for rung in visible_path(ladder)], [OPAQUE_SERIAL])
        self.assertTrue(ladder)
        self.assertEqual(ladder[:0], ())
        self.assertIs(ladder[0:], ladder)
        looks: tuple[Callable[[], Any], ...] = (
            lambda: len(ladder), lambda: ladder[0], lambda: ladder[:-1], lambda: top.data, lambda: top.overlays,
            lambda: path.asked("system"), lambda: len(path), lambda: path[0],
        )  # fmt: skip
        for do in looks:
            self.looks("shape", 0, do)
        self.assertEqual(path.asked("aside"), ())
        self.assertFalse(top.saved)
        self.looks("rests", 0, lambda: top.plain)
        told = veil
        for mark in (PLAIN, SETTLED, ASKERS):
            told = told.with_answer(StackRest(SETTLED, 1).answer(mark))
        self.assertEqual((told.plain, told.settled, told.askers), (False, True, 1))
