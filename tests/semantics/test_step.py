"""What each event does to a ladder: tables of cases written by hand from the design."""

import unittest

from tests.plans import done, ladder, plan_of, run
from tests.semantics.cases import Cases
from wise_ladder.plan import Plan
from wise_ladder.plan.events import Answer, Back, HeaderBack, Home, Launch, OutsideChange, Reopen, Tap, Wait
from wise_ladder.semantics import Phase, initial_state, step
from wise_ladder.semantics.log import AppLeft, Came, FactChanged, Finding, NoEffect, Replaced, SeenFor, TimerCancelled, Went
from wise_ladder.semantics.state import fact_value

SCREENS = """
facts: {session: {values: [none, valid], from outside: [none to valid]}, count: {values: [one, two], kept: disk}}
screens:
  hives:
    moves:
      - {when: tap hive(id), do: push hive(id=$id)}
      - {when: tap diary, do: push diary}
      - {when: tap go, do: %s}
  hive:
    takes: {id: {type: whole number, samples: [7, 12]}}
    holds: {draft: [clean, edited]}
    moves:
      - {when: tap hive(id), do: push hive(id=$id)}
      - {when: tap diary, do: push diary}
      - {when: tap go, do: %s}
  diary:
    moves:
      - {when: tap hive(id), do: push hive(id=$id)}
      - {when: tap go, do: %s}
"""
H7, H12, DIARY, GO = Tap("hive", (("id", 7),)), Tap("hive", (("id", 12),)), Tap("diary"), Tap("go")


def with_go(do: str, more: str = "") -> Plan:
    """A plan in which `tap go` does the same on every screen; $id is 7 where a screen has none."""
    plain = do.replace("$id", "7")
    return plan_of(more + SCREENS % (plain, do, plain))


class Serials(unittest.TestCase):
    def test_a_ladder_that_comes_back_is_the_very_same(self) -> None:
        plan = with_go("replace diary")
        states = [run(plan, Launch(), H7)]
        for event in (DIARY, GO, GO, GO, Back(), DIARY):
            states.append(step(plan, states[-1], event).state)
        self.assertEqual(states[1].ladder, states[6].ladder)
        self.assertNotEqual(states[1].ladder[-1].serial, states[2].ladder[-1].serial, "another rung of the same face")
        self.assertEqual(states[2].ladder, states[4].ladder)


class Operations(unittest.TestCase):
    """Each row: what `go` does, the taps before it, the ladder after it."""

    CASES = (
        ("push diary", (), "hives > diary"),
        ("push hive(id=7)", (H7,), "hives > hive(id=7) > hive(id=7)"),
        ("push hive(id=7) once", (H7,), "hives > hive(id=7)"),
        ("push hive(id=7) once", (H12,), "hives > hive(id=12) > hive(id=7)"),
        ("push hive(id=$id)", (H12,), "hives > hive(id=12) > hive(id=12)"),
        ("replace diary", (), "diary"),
        ("replace diary", (H7,), "hives > diary"),
        ("replace hive(id=12)", (H7, H7), "hives > hive(id=7) > hive(id=12)"),
        ("pop", (H7,), "hives"),
        ("pop 2", (H7, H12), "hives"),
        ("pop 2", (H7, H12, DIARY), "hives > hive(id=7)"),
        ("pop else replace diary", (), "diary"),
        ("'pop, else replace diary'", (H7,), "hives"),
        ("pop 3 else push diary", (H7,), "hives > diary"),
        ("pop to hives", (H7, H12, DIARY), "hives"),
        ("pop to hive", (H7, H12, DIARY), "hives > hive(id=7) > hive(id=12)"),
        ("pop to hive(id=7)", (H7, H12, DIARY), "hives > hive(id=7)"),
        ("pop to hive and drop it", (H7, H12, DIARY), "hives > hive(id=7)"),
        ("pop to diary else push diary", (H7,), "hives > hive(id=7) > diary"),
        ("pop to diary", (H7,), "hives > hive(id=7)"),
        ("[set count two, pop to diary]", (H7,), "hives > hive(id=7)"),
        ("pop to root", (H7, H12, DIARY), "hives"),
        ("[pop to root, push diary]", (H7, H12), "hives > diary"),
        ("[clear, push diary]", (H7, H12), "diary"),
        ("[clear, push diary, push hive(id=7)]", (H12,), "diary > hive(id=7)"),
        ("[pop, push diary]", (H7,), "hives > diary"),
        ("[pop, push hive(id=7) once]", (H7, DIARY), "hives > hive(id=7)"),
        ("reach diary", (H7,), "hives > hive(id=7) > diary"),
        ("reach hives", (H7, H12, DIARY), "hives"),
        ("reach hive(id=12)", (H7, DIARY), "hives > hive(id=12)"),
        ("reach hive(id=12)", (H7,), "hives > hive(id=12)"),
        ("reach hive(id=12) exactly", (H7, DIARY), "hives > hive(id=7) > diary > hive(id=12)"),
        ("reach hive(id=7) exactly", (H7, H12, DIARY), "hives > hive(id=7)"),
        ("leave", (H7, H12), ""),
        ("[pop to hives and drop it, push diary]", (H7, H12), "diary"),
        ("pop to hives and drop it", (H7, H12), ""),
    )

    def test_operations(self) -> None:
        for do, taps, after in self.CASES:
            with self.subTest(do=do, taps=len(taps)):
                plan = with_go(do)
                self.assertEqual(ladder(run(plan, Launch(), *taps, GO)), after)

    def test_a_move_that_finds_nothing_to_pop_to_is_undone_whole(self) -> None:
        plan = with_go("[set count two, pop to diary]")
        before = run(plan, Launch(), H7)
        found = done(plan, before, GO)
        self.assertEqual(found.state, before)
        self.assertEqual([happening.name for happening in found.log if isinstance(happening, Finding)], ["nothing to pop to"])

    def test_an_app_with_an_empty_ladder_is_left(self) -> None:
        found = done(with_go("pop to hives and drop it"), run(with_go("pop"), Launch()), GO)
        self.assertEqual(found.state.phase, Phase.OUTSIDE)
        self.assertIn(AppLeft("empty"), found.log)

    def test_a_long_pop_goes_all_the_way(self) -> None:
        plan = with_go("pop 90")
        self.assertEqual(ladder(run(plan, Launch(), *(H7, H12) * 45, GO)), "hives")

    def test_reaching_hands_the_arguments_to_the_very_rung_that_was_there(self) -> None:
        plan = with_go("reach hive(id=12)")
        before = run(plan, Launch(), H7, DIARY)
        after = done(plan, before, GO).state
        self.assertEqual(after.ladder[1].serial, before.ladder[1].serial)


class BoundAndUndone(Cases):
    def test_what_a_tap_carries_reaches_what_is_done_instead(self) -> None:
        plan = """
        screens:
          hives:
            moves:
              - {when: tap pop(id), do: 'pop, else push hive(id=$id)'}
              - {when: tap seek(id), do: 'pop to hive(id=$id), else push hive(id=$id)'}
              - {when: tap wanted(id), do: 'go to wanted, else push hive(id=$id)'}
          hive: {takes: {id: {type: whole number, samples: [7, 12]}}, moves: [{when: tap seek(id), do: pop to hive(id=$id) and drop it}]}
        """
        for tap in ("pop", "seek", "wanted"):
            self.hold(plan, f"launch; tap {tap}(id=12); ladder hives > hive(id=12)")
        self.hold(plan, "launch; tap pop(id=12); tap seek(id=12); ladder hives")

    def test_a_move_that_finds_nothing_to_pop_to_does_nothing_of_the_rest(self) -> None:
        plan = """
        screens:
          hives: {moves: [{when: tap go, do: [pop to week, push hive]}, {when: tap first, do: [set note kept, pop to week]}]}
          hive:
          week: {moves: [{when: tap never, do: push week}]}
        facts: {note: [none, kept]}
        """
        self.hold(plan, "launch; tap go; ladder hives; finding nothing to pop to", "launch; tap first; note is none")

    def test_a_result_that_came_and_a_question_that_was_answered_stay_so_though_the_move_is_undone(self) -> None:
        plan = plan_of("""
        screens:
          hives:
            moves:
              - {when: tap pick, do: push picker awaiting mark}
              - {when: mark comes back, do: pop to week}
              - {when: mark is cancelled, do: pop to week}
              - {when: tap form, do: push form}
          picker: {gives: {mark: [white]}, moves: [{when: tap white, do: return white}]}
          form: {guards: [{name: sure, ask: {answers: [{no: stay}, {out: pop to week}]}}]}
          week: {moves: [{when: tap never, do: push week}]}
        """)
        state = run(plan, Launch(), Tap("pick"), Tap("white"))
        self.assertEqual((ladder(state), state.ladder[0].data.undelivered), ("hives", ()))
        state = run(plan, Launch(), Tap("form"), Back(), Answer("out"))
        self.assertEqual((ladder(state), state.question), ("hives > form", None))


class DoubleTaps(unittest.TestCase):
    def test_each_tap_takes_its_move_once(self) -> None:
        for policy, taken in (("taken", 2), ("ignored", 1)):
            plan = plan_of(f"""
                policies: {{taps in transition: {policy}}}
                screens: {{hives: {{moves: [{{when: tap hive, do: push hive}}]}}, hive: }}
            """)
            done = step(plan, run(plan, Launch()), Tap("hive", twice=True))
            self.assertEqual([move.when for move in done.moves], ["tap hive"] * taken)


class Policies(unittest.TestCase):
    def test_pop_at_the_root(self) -> None:
        cases = {"finding": ("hives", Finding), "nothing": ("hives", NoEffect), "leave": ("", AppLeft)}
        for policy, (after, kind) in cases.items():
            with self.subTest(policy):
                plan = with_go("pop", f"policies: {{pop at root: {policy}}}\n")
                found = done(plan, run(plan, Launch()), GO)
                self.assertEqual(ladder(found.state), after)
                self.assertIn(kind, [type(happening) for happening in found.log])

    def test_back_at_the_root(self) -> None:
        for policy, phase in {"leave": Phase.OUTSIDE, "away": Phase.AWAY, "stay": Phase.OPEN}.items():
            with self.subTest(policy):
                plan = with_go("pop", f"policies: {{back at root: {policy}}}\n")
                self.assertEqual(run(plan, Launch(), H7, Back(), Back()).phase, phase)

    def test_push_of_a_twin(self) -> None:
        plan = with_go("push hive(id=$id)", "policies: {push of a twin: nothing}\n")
        found = done(plan, run(plan, Launch(), H7), GO)
        self.assertEqual(ladder(found.state), "hives > hive(id=7)")
        self.assertEqual(found.log, (NoEffect("hive id 7 is already here", already_here=True),))


class Conditions(unittest.TestCase):
    """Each row: a condition on the go of `hive`, the taps before, whether it holds."""

    CASES = (
        ("session is none", (H7,), True),
        ("session is not none", (H7,), False),
        ("not session is valid", (H7,), True),
        ("session is valid or id is 7", (H7,), True),
        ("session is valid or id is 7", (H12,), False),
        ("session is none and (id is 12 or draft is clean)", (H7,), True),
        ("session is none and not (id is 12 or draft is clean)", (H7,), False),
        ("draft is edited", (H7,), False),
        ("depth over 1", (H7,), True),
        ("depth over 2", (H7,), False),
        ("alone", (H7,), False),
        ("diary on the ladder", (H7,), False),
        ("diary on the ladder", (DIARY, H7), True),
        ("beneath is diary", (DIARY, H7), True),
        ("beneath is not diary", (H7,), True),
    )

    def test_conditions(self) -> None:
        for condition, taps, holds in self.CASES:
            with self.subTest(condition=condition, taps=len(taps)):
                plan = plan_of(
                    (SCREENS % ("pop", "leave", "pop")).replace(
                        "{when: tap go, do: leave}", f"{{when: tap go, if: {condition}, do: leave}}"
                    )
                )
                before = run(plan, Launch(), *taps)
                found = step(plan, before, GO)
                self.assertEqual(found.refused is None, holds, found.refused)

    def test_the_first_move_whose_condition_holds_is_taken(self) -> None:
        plan = plan_of("""
            facts: {session: [none, valid]}
            screens:
              hives:
                moves:
                  - {when: tap go, if: session is valid, do: push diary}
                  - {when: tap go, do: push sign in}
                  - {when: tap go, do: leave}
              diary:
              sign in:
        """)
        self.assertEqual(ladder(run(plan, Launch(), GO)), "hives > sign in")
        self.assertEqual(ladder(run(plan, Launch(), GO, given=(("session", "valid"),))), "hives > diary")


class Facts(unittest.TestCase):
    def test_a_rung_holds_facts_of_its_own(self) -> None:
        plan = plan_of(SCREENS % ("pop", "set draft edited", "pop"))
        state = run(plan, Launch(), H7, GO)
        self.assertEqual(fact_value(plan, state, "draft"), "edited")
        self.assertEqual(fact_value(plan, run(plan, Launch(), H7, GO, H12), "draft"), "clean")
        self.assertEqual(fact_value(plan, run(plan, Launch(), H7, GO, H12, Back()), "draft"), "edited")

    def test_setting_the_same_value_is_no_change(self) -> None:
        plan = with_go("set session none")
        self.assertEqual(done(plan, run(plan, Launch()), GO).log, ())
        plan = with_go("set session valid")
        self.assertIn(FactChanged("session", "none", "valid"), done(plan, run(plan, Launch()), GO).log)

    def test_leaving_forgets_what_is_in_memory_and_keeps_what_is_on_disk(self) -> None:
        plan = with_go("[set session valid, set count two]")
        self.assertEqual(run(plan, Launch(), GO).facts, ("valid", "two"))
        self.assertEqual(run(plan, Launch(), GO, Back()).facts, ("none", "two"))

    def test_the_world_changes_only_what_the_plan_says(self) -> None:
        plan = with_go("pop")
        state = run(plan, Launch(), OutsideChange("session", "valid"))
        self.assertEqual(state.facts[0], "valid")
        self.assertIn("lets nothing outside change", step(plan, state, OutsideChange("session", "none")).refused or "")
        self.assertIn("the app has no fact", step(plan, state, OutsideChange("draft", "edited")).refused or "")


class Time(unittest.TestCase):
    PLAN = plan_of("""
        start: splash
        facts: {session: [none, valid]}
        screens:
          splash:
            moves:
              - {when: 500ms on ladder, if: session is valid, do: replace hives}
              - {when: 500ms on ladder, do: replace sign in}
              - {when: tap diary, do: push diary}
          sign in:
          hives:
          diary:
    """)

    def test_a_timer_fires_when_it_is_due_and_not_before(self) -> None:
        self.assertEqual(ladder(run(self.PLAN, Launch(), Wait(499))), "splash")
        self.assertEqual(ladder(run(self.PLAN, Launch(), Wait(499), Wait(1))), "sign in")
        self.assertEqual(ladder(run(self.PLAN, Launch(), Wait(500), given=(("session", "valid"),))), "hives")

    def test_a_timer_goes_with_its_rung(self) -> None:
        plan = plan_of(
            "screens: {hives: {moves: [{when: 1s on ladder, do: push diary}, {when: tap a, do: replace diary}]}, diary: }"
        )
        found = done(plan, run(plan, Launch()), Tap("a"))
        self.assertEqual([type(happening) for happening in found.log[:2]], [Replaced, TimerCancelled])
        self.assertEqual(found.state.deadlines, ())

    def test_a_timer_of_a_hidden_rung_acts_on_the_top_and_says_so(self) -> None:
        found = done(self.PLAN, run(self.PLAN, Launch(), Tap("diary")), Wait(500))
        self.assertEqual(ladder(found.state), "splash > sign in")
        self.assertIn("acted while hidden", [happening.name for happening in found.log if isinstance(happening, Finding)])

    def test_leaving_stops_the_timers(self) -> None:
        state = run(self.PLAN, Launch(), Back(), Wait(5000))
        self.assertEqual((state.phase, state.clock), (Phase.OUTSIDE, 5000))

    def test_timers_run_while_the_app_is_away(self) -> None:
        self.assertEqual(ladder(run(self.PLAN, Launch(), Home(), Wait(500), Reopen())), "sign in")

    def test_what_was_seen_is_told_with_its_length(self) -> None:
        found = done(self.PLAN, run(self.PLAN, Launch()), Wait(700))
        saw = [
            (happening.data.screen, happening.until - happening.since)
            for happening in found.log
            if isinstance(happening, SeenFor) and happening.data
        ]
        self.assertEqual(saw, [("splash", 500)])
        self.assertEqual((found.state.clock, found.state.seen.since), (700, 500))

    def test_timers_that_start_each_other_end_in_a_finding(self) -> None:
        plan = plan_of(
            "screens: {hives: {moves: [{when: 0ms on ladder, do: replace diary}]}, diary: {moves: [{when: 0ms on ladder, do: replace hives}]}}"
        )
        found = done(plan, run(plan, Launch()), Wait(1))
        self.assertIn("runaway", [happening.name for happening in found.log if isinstance(happening, Finding)])


class Phases(unittest.TestCase):
    PLAN = with_go("pop")

    def test_what_does_not_apply_is_refused_with_a_reason_and_changes_nothing(self) -> None:
        start, there, away = initial_state(self.PLAN), run(self.PLAN, Launch()), run(self.PLAN, Launch(), Home())
        cases = (
            (start, Back(), "is not running: launch it first"),
            (start, GO, "is not running"),
            (start, Reopen(), "not in the background"),
            (there, Launch(), "already runs"),
            (there, Tap("fly"), 'has no tap "fly"; taps here: hive, diary, go'),
            (there, Tap("hive"), '"hive" does nothing on hives right now'),
            (there, HeaderBack(), "no rung is beneath"),
            (away, GO, "in the background: reopen it first"),
        )
        for state, event, why in cases:
            with self.subTest(event):
                found = step(self.PLAN, state, event)
                self.assertIn(why, found.refused or "")
                self.assertEqual((found.state, found.log), (state, ()))

    def test_home_and_reopen_keep_the_ladder(self) -> None:
        self.assertEqual(ladder(run(self.PLAN, Launch(), H7, Home(), Reopen())), "hives > hive(id=7)")

    def test_the_report_of_a_push_and_a_back(self) -> None:
        pushed = done(self.PLAN, run(self.PLAN, Launch()), H7)
        self.assertEqual([type(happening) for happening in pushed.log], [Came, SeenFor])
        self.assertEqual(pushed.moves, (self.PLAN.screen["hives"].moves[0],))
        popped = done(self.PLAN, pushed.state, Back())
        self.assertEqual([type(happening) for happening in popped.log], [Went, SeenFor])
        self.assertEqual(popped.state.ladder, run(self.PLAN, Launch()).ladder)

    def test_the_header_button(self) -> None:
        plan = plan_of("""
            screens:
              hives: {header: none, moves: [{when: tap a, do: push hive}, {when: tap b, do: push menu}]}
              hive:
              menu: {header: menu}
        """)
        self.assertEqual(ladder(run(plan, Launch(), Tap("a"), HeaderBack())), "hives")
        self.assertIn("the header is empty", step(plan, run(plan, Launch()), HeaderBack()).refused or "")
        self.assertIn(
            "the header menu opens nothing here", step(plan, run(plan, Launch(), Tap("b")), HeaderBack()).refused or ""
        )

    def test_moves_that_stand_anywhere(self) -> None:
        plan = plan_of("""
            screens: {hives: {moves: [{when: tap a, do: push hive}]}, hive: , diary: }
            anywhere: [{when: tap diary, except: [diary, hives], do: push diary}, {when: tap hives, for: diary, do: reach hives}]
        """)
        self.assertIn("no tap", step(plan, run(plan, Launch()), DIARY).refused or "")
        self.assertEqual(ladder(run(plan, Launch(), Tap("a"), DIARY)), "hives > hive > diary")
        self.assertEqual(ladder(run(plan, Launch(), Tap("a"), DIARY, Tap("hives"))), "hives")
