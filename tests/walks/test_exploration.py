"""How each move can be come by, what was seen on the way, and where each reply leads."""

import unittest

from tests.plans import COMBFIELD, plan_of
from wise_ladder.plan.crossings import crossings, places
from wise_ladder.plan.events import Back, Event, Launch, OutsideChange, Reply, Tap, Wait
from wise_ladder.plan.model import Move
from wise_ladder.plan.steps import event_phrase
from wise_ladder.semantics import initial_state
from wise_ladder.semantics.log import Opened
from wise_ladder.semantics.state import visible_path
from wise_ladder.walks import Tape
from wise_ladder.walks.coverage import coverage
from wise_ladder.walks.exploration import explore, path_to, walk_usage
from wise_ladder.walks.reply_branches import SILENCE, reply_branches
from wise_ladder.walks.seen import seen_intervals, seen_now

PLAN = plan_of("""
    facts: {token: [none, kept]}
    calls:
      check: {valid: {takes: 400ms, if: token is kept}, offline: 3s}
    screens:
      hives:
        moves:
          - {when: tap in, do: push hive}
          - {when: tap ask, do: call check}
          - {when: check gives offline, do: push sorry}
          - {when: check gives valid, do: push hive}
      hive:
        moves: [{when: tap deeper, do: push comb}, {when: tap never, if: token is kept, do: pop}]
      comb:
        moves: [{when: 100ms on ladder, do: replace sorry}, {when: tap up, do: pop to hives}]
        guards: [{name: stay, ways: [system], block: yes}]
      sorry: {moves: [{when: tap home, do: [clear, push hives]}, {when: tap off, do: leave}]}
    redirects: [{to: [sorry], if: token is kept, send to: hive}]
    walks:
      in and out: [launch, tap in, back]
      twice: [launch, tap in, tap deeper]
""")


def tape(*events: object) -> Tape:
    found = Tape(PLAN, initial_state(PLAN))
    for event in events:
        found, done = found.with_event(event)  # type: ignore[arg-type]
        assert done.refused is None, done.refused
    return found


class PathTo(unittest.TestCase):
    def steps(self, goal: object) -> tuple[str, ...] | None:
        found = path_to(COMBFIELD, goal)  # type: ignore[arg-type]
        return None if found is None else tuple(event_phrase(entry.event) for entry in found.entries)

    def test_a_move_that_no_walk_takes_and_one_that_no_path_takes(self) -> None:
        moves = {move.when: path_to(PLAN, move) for move in PLAN.moves}
        up = moves["tap up"]
        self.assertEqual(up and [entry.event for entry in up.entries], [Launch(), Tap("in"), Tap("deeper"), Tap("up")])
        self.assertIsNone(moves["tap never"])

    def test_a_guard_and_a_redirect(self) -> None:
        guard = next(each for each in COMBFIELD.guard.values() if each.name == "unsaved inspection")
        self.assertEqual((self.steps(guard) or ("",))[-1], "back")
        self.assertIsNotNone(self.steps(COMBFIELD.redirects[0]))

    def test_a_screen_stands_at_the_top_and_a_flow_around_it(self) -> None:
        for name in ("hive", "home", "first steps"):
            found = path_to(COMBFIELD, name)
            assert found is not None
            state = found.state_at(len(found.entries))
            self.assertIn(name, [rung.data.screen for rung in visible_path(state.ladder)])
            before = found.state_at(len(found.entries) - 1)
            self.assertNotIn(name, [rung.data.screen for rung in visible_path(before.ladder)])

    def test_an_overlay_opens_at_the_last_step(self) -> None:
        overlay = COMBFIELD.overlays[0].name
        found = path_to(COMBFIELD, overlay)
        assert found is not None
        self.assertIn(overlay, [happening.overlay for happening in found.entries[-1].step.log if isinstance(happening, Opened)])

    def test_a_link_is_opened_at_once(self) -> None:
        for link in COMBFIELD.links:
            (only,) = self.steps(link) or ()
            self.assertRegex(only, "^link combfield://")

    def test_nothing_leads_there(self) -> None:
        self.assertIsNone(path_to(plan_of("screens: {hives: {}, never: {}}"), "never"))


class Exploring(unittest.TestCase):
    def test_the_shortest_way_to_each_move(self) -> None:
        found = explore(PLAN)
        by_when = {move.when: found.witnesses.get(move) for move in PLAN.moves}
        self.assertEqual(by_when["tap up"], (Launch(), Tap("in"), Tap("deeper"), Tap("up")))
        self.assertEqual(by_when["tap in"], (Launch(), Tap("in")))
        self.assertIsNone(by_when["tap never"])
        guard = next(iter(PLAN.guard.values()))
        self.assertEqual(found.witnesses[guard], (Launch(), Tap("in"), Tap("deeper"), Back()))

    def test_each_path_takes_its_move_at_its_last_step(self) -> None:
        found = explore(COMBFIELD, most=400)
        self.assertGreater(len(found.witnesses), 40)
        for thing, events in found.witnesses.items():
            run = Tape(COMBFIELD, initial_state(COMBFIELD))
            for event in events:
                run, done = run.with_event(event)
                self.assertIsNone(done.refused)
            if thing in COMBFIELD.moves:
                self.assertIn(thing, run.entries[-1].step.moves)

    def test_it_says_where_it_stopped(self) -> None:
        small = plan_of("screens: {hives: {moves: [{when: tap on, do: push week}]}, week: }")
        self.assertEqual((explore(small).exhausted, explore(small).states), (True, 3))
        self.assertFalse(explore(COMBFIELD, most=50).exhausted)
        self.assertEqual(explore(PLAN, goes_on=lambda: False).states, 1)
        self.assertFalse(explore(PLAN, goes_on=lambda: False).exhausted)

    def test_a_ladder_that_grows_without_end_is_left_in_time(self) -> None:
        endless = explore(
            plan_of(
                "screens: {hives: {moves: [{when: tap on, do: push week}]}, week: {moves: [{when: tap on, do: push hives}]}}"
            )
        )
        self.assertEqual((endless.exhausted, endless.states < 60, len(endless.witnesses)), (False, True, 4))

    def test_what_walks_use(self) -> None:
        found = walk_usage(PLAN)
        by_when = {move.when: found.counts.get(move, 0) for move in PLAN.moves}
        self.assertEqual((by_when["tap in"], by_when["tap deeper"], by_when["tap ask"]), (2, 1, 0))
        move = next(move for move in PLAN.moves if move.when == "tap deeper")
        self.assertEqual([entry.event for entry in found.witnesses[move].entries], [Launch(), Tap("in"), Tap("deeper")])


class Crossings(unittest.TestCase):
    def test_where_each_operation_leads_and_how(self) -> None:
        plan = plan_of("""
            start: home
            flows: {home: {tabs: {hives: hives, diary: week}}}
            screens:
              hives:
                moves:
                  - {when: tap reach, do: reach hive}
                  - {when: tap diary, do: switch diary}
                  - {when: tap link, do: follow combfield://hive}
                  - {when: tap far, do: follow combfield://hives}
              hive: {gives: {mark: [white]}, moves: [{when: tap done, do: return white}, {when: tap up, do: pop to root}]}
              week:
            links: [{address: combfield://hive, mode: on top, build: [hive]}, {address: combfield://hives, build: [home, hives]}]
        """)
        self.assertEqual(
            [(each.part.when, each.end, each.kind) for each in crossings(plan) if isinstance(each.part, Move)],
            [
                ("tap reach", "hive", "reach"),
                ("tap diary", "week", "switch"),
                ("tap link", "hive", "push"),
                ("tap far", "hives", "clear, then push"),
                ("tap done", "beneath", "return"),
                ("tap up", "beneath", "pop to"),
            ],
        )

    def test_what_is_pushed_after_the_rest_was_dropped_says_so(self) -> None:
        for drops, end in (("clear", []), ("pop to root", [("hives", "beneath", "pop to")])):
            plan = plan_of(f"screens: {{hives: {{moves: [{{when: tap go, do: [{drops}, push hive]}}]}}, hive: }}")
            found = [(each.start, each.end, each.kind) for each in crossings(plan)]
            self.assertEqual(found, [*end, ("hives", "hive", "clear, then push")])

    def test_table(self) -> None:
        found = [(each.start, each.end, each.kind) for each in crossings(PLAN)]
        self.assertEqual(
            found,
            [
                ("hives", "hive", "push"),
                ("hives", "stays", "stay"),
                ("hives", "sorry", "push"),
                ("hives", "hive", "push"),
                ("hive", "comb", "push"),
                ("hive", "beneath", "pop"),
                ("comb", "sorry", "replace"),
                ("comb", "hives", "pop to"),
                ("sorry", "hives", "clear, then push"),
                ("sorry", "the ground", "leave"),
                ("sorry", "hive", "redirect"),
            ],
        )
        self.assertEqual(
            places(PLAN, crossings(PLAN)),
            (["hives", "hive", "comb", "sorry"], ["beneath", "hives", "hive", "comb", "sorry", "stays", "the ground"]),
        )

    def test_every_move_guard_with_operations_and_redirect_of_combfield_is_there(self) -> None:
        things = {id(each.part) for each in crossings(COMBFIELD)}
        self.assertTrue({id(move) for move in COMBFIELD.moves} | {id(redirect) for redirect in COMBFIELD.redirects} <= things)


class Used(unittest.TestCase):
    def test_a_guard_that_asks_blocks_or_acts_and_a_redirect_that_is_met_count_as_used(self) -> None:
        plan = plan_of("""
            screens:
              hives: {moves: [{when: tap a, do: push asks}, {when: tap b, do: push blocks}, {when: tap c, do: push acts}, {when: tap d, do: push old}]}
              asks: {guards: [{name: one, ask: {answers: [{no: stay}, {yes: go on}]}}]}
              blocks: {guards: [{name: two, block: yes}]}
              acts: {guards: [{name: three, do: pop}]}
              old:
            redirects: [{to: old, send to: hives}]
            walks:
              asks: [launch, tap a, back]
              blocks: [launch, tap b, back]
              acts: [launch, tap c, back]
              redirected: [launch, tap d]
        """)
        counts = {part.name: part.walks for part in coverage(plan) if part.kind in {"guard", "redirect"}}
        self.assertEqual(counts, {"one": 1, "two": 1, "three": 1, "old to hives": 1})


class SeenAndReplies(unittest.TestCase):
    def test_what_goes_by_itself_before_it_can_be_read_is_marked(self) -> None:
        plan = plan_of("""
            facts: {session: {values: [none, valid], from outside: [none to valid]}}
            calls: {load: {ok: 100ms}}
            screens:
              hives:
                moves:
                  - {when: first shown, do: call load}
                  - {when: 100ms on ladder, do: replace hive}
                  - {when: load gives ok, do: replace hive}
                  - {when: session becomes valid, do: replace hive}
                  - {when: tap on, do: replace hive}
              hive:
        """)
        cases: tuple[tuple[tuple[Event, ...], str], ...] = (
            ((Wait(100),), "hives 100 ms !"),
            ((Wait(50), OutsideChange("session", "valid")), "hives 50 ms !"),
            ((Reply("load", "ok"),), "hives 100 ms !"),
            ((Wait(50), Tap("on")), "hives 50 ms"),
        )
        for events, words in cases:
            run = Tape(plan, initial_state(plan))
            for event in (Launch(), *events):
                run, _ = run.with_event(event)
            self.assertEqual([each.words for each in seen_intervals(run.entries)], [words], events)

    def test_what_was_seen_and_what_flashed_by(self) -> None:
        found = tape(Launch(), Tap("in"), Tap("deeper"), Wait(1000), Tap("home"))
        self.assertEqual(
            [each.words for each in seen_intervals(found.entries)], ["hives", "hive", "comb 100 ms !", "sorry 900 ms"]
        )
        self.assertEqual(seen_now(found.state_at(5)), "hives")
        self.assertEqual(seen_now(found.first), "the ground")

    def test_each_reply_runs_the_rest_of_the_tape(self) -> None:
        found = reply_branches(tape(Launch(), Tap("ask"), Wait(1000), Tap("in"), Reply("check", "offline")), 2, "check")
        self.assertEqual([each.outcome for each in found], ["valid", "offline", SILENCE])
        valid, offline, silence = found
        self.assertIn("cannot give valid", valid.refused)
        self.assertIn('sorry has no tap "in"', offline.refused)
        self.assertEqual((silence.refused, seen_now(silence.state)), ("", "hive"))


if __name__ == "__main__":
    unittest.main()
