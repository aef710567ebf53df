"""Guards and redirects: who is asked, in which order, and what an answer does."""

from pathlib import Path

from tests.semantics.cases import Cases
from wise_ladder.plan.loader import read_plan
from wise_ladder.semantics.log import GuardSkipped
from wise_ladder.walks.running import run_walk

CASES = Path(__file__).parents[1] / "cases"

FORM = """
%s
screens:
  hives: {moves: [{when: tap inspect, do: push inspection}, {when: tap comb, do: push comb}]}
  comb: {moves: [{when: tap inspect, do: push inspection}]}
  inspection:
    holds: {draft: [clean, edited]}
    moves:
      - {when: tap write, do: set draft edited}
      - {when: tap save, do: [set draft clean, pop]}
      - {when: tap leave, do: pop}
      - {when: tap help, do: push help}
      - {when: tap hives, do: pop to hives}
      - {when: tap swap, do: replace comb}
      - {when: tap quit, do: leave}
      - {when: 5s on ladder, do: pop}
    guards:
      - name: unsaved
        if: draft is edited
        %s
        ask:
          text: Leave without saving?
          answers: [{keep writing: stay}, {discard: [set draft clean, go on]}, {disarm: set draft clean}]
  help: {moves: [{when: tap hives, do: pop to hives}]}
"""
EDIT = "launch; tap inspect; tap write; "


class Asking(Cases):
    def test_every_way_out_asks(self) -> None:
        self.hold(
            FORM % ("", ""),
            *(
                EDIT + f"{way}; asked unsaved; ladder hives > inspection"
                for way in ("back", "header back", "tap leave", "tap hives", "tap swap", "tap quit")
            ),
            EDIT + "back would ask unsaved",
            "launch; tap inspect; back would land on hives",
        )

    def test_an_answer_stays_goes_on_or_only_disarms(self) -> None:
        self.hold(
            FORM % ("", ""),
            EDIT + "back; answer keep writing; not asked; see inspection; back would ask unsaved",
            EDIT + "back; answer discard; ladder hives; not asked",
            EDIT + "back; answer disarm; see inspection; back would land on hives",
            EDIT + "tap swap; answer discard; ladder hives > comb",
            EDIT + "tap quit; answer discard; outside",
            "launch; tap comb; tap inspect; tap write; tap hives; answer discard; ladder hives",
        )

    def test_back_is_the_first_answer(self) -> None:
        self.hold(FORM % ("", ""), EDIT + "back; back; not asked; see inspection; draft is edited")

    def test_what_the_move_sets_first_counts(self) -> None:
        self.hold(FORM % ("", ""), EDIT + "tap save; not asked; ladder hives")

    def test_a_push_over_it_leaves_nothing(self) -> None:
        self.hold(FORM % ("", ""), EDIT + "tap help; not asked; ladder hives > inspection > help")
        self.hold(FORM % ("", "watches: what is put over it"), EDIT + "tap help; asked unsaved; answer discard; see help")

    def test_a_move_that_was_stayed_leaves_no_trace(self) -> None:
        self.hold(
            FORM % ("", ""), EDIT + "tap swap; answer keep writing; ladder hives > inspection; draft is edited; no findings"
        )

    def test_by_itself_asks_only_where_it_is_listed(self) -> None:
        self.hold(FORM % ("", ""), EDIT + "wait 5s; not asked; ladder hives")
        self.hold(FORM % ("", "ways: [by itself]"), EDIT + "wait 5s; asked unsaved", EDIT + "back; see hives")

    def test_the_phone_decides_what_guards_see(self) -> None:
        self.hold(
            FORM % ("policies: {guards see: [header]}", ""), EDIT + "back; ladder hives", EDIT + "header back; asked unsaved"
        )

    def test_the_question_goes_with_its_rung(self) -> None:
        self.hold(FORM % ("", ""), EDIT + "back; asked unsaved; wait 5s; not asked; ladder hives")

    def test_what_follows_is_a_move_of_its_own_and_asks_again(self) -> None:
        """Going on answers for the move that was asked about, not for the pop that the uncovered screen then does."""
        self.hold(
            """
start: tour
facts: {seen: no}
flows:
  tour:
    start: a
    screens: [a, b, c]
    guards:
      - name: leaving
        watches: everything inside
        ways: [system, by itself]
        ask: {text: Leave?, answers: [{stay here: stay}, {leave: go on}]}
screens:
  a: {moves: [{when: tap b, do: push b}]}
  b: {moves: [{when: tap c, do: push c}, {when: shown, if: seen is yes, do: pop}]}
  c: {moves: [{when: tap write, do: set seen yes}]}
""",
            "launch; tap b; tap c; tap write; back; asked leaving; answer leave; see b; asked leaving; answer leave; see a",
        )

    def test_while_it_is_open_only_its_answers_apply(self) -> None:
        self.hold(FORM % ("", ""), EDIT + "back; home; reopen; asked unsaved; answer discard; see hives")


class Deciding(Cases):
    def test_block_and_do(self) -> None:
        plan = """
        facts: {picking: no}
        screens:
          hives: {moves: [{when: tap frames, do: push frames}]}
          frames:
            holds: {stuck: no}
            moves: [{when: tap pick, do: set picking yes}, {when: tap stick, do: set stuck yes}, {when: tap out, do: pop}]
            guards:
              - {name: picking bar, if: picking is yes, ways: [system], do: set picking no}
              - {name: stuck, if: stuck is yes, block: yes}
        """
        self.hold(
            plan,
            "launch; tap frames; tap pick; back; see frames; picking is no; back; see hives",
            "launch; tap frames; tap pick; tap out; see hives",
            "launch; tap frames; tap stick; tap pick; back; picking is no; back; see frames; tap out; see frames",
        )

    def test_inside_out_and_the_flow_after_its_screen(self) -> None:
        plan = """
        facts: {a: no, b: no}
        screens:
          hives: {moves: [{when: tap tour, do: push tour}]}
          page:
            moves: [{when: tap a, do: set a yes}, {when: tap b, do: set b yes}, {when: tap more, do: push page two}]
            guards: [{name: inner, if: a is yes, ask: {text: a?, answers: [{no: stay}, {yes: go on}]}}]
          page two: {}
        flows:
          tour:
            start: page
            guards: [{name: outer, if: b is yes, %s ask: {text: b?, answers: [{no: stay}, {yes: go on}]}}]
        """
        self.hold(
            plan % "",
            "launch; tap tour; tap a; tap b; back; asked inner; answer yes; asked outer; answer yes; ladder hives",
            "launch; tap tour; tap a; tap b; back; answer yes; asked outer; answer no; see page",
            "launch; tap tour; tap b; tap more; back; not asked; see page",
        )
        self.hold(
            plan % "watches: everything inside,", "launch; tap tour; tap b; tap more; back; asked outer; answer yes; see page"
        )

    def test_a_tab_that_goes_out_of_the_front_asks(self) -> None:
        plan = """
        start: home
        flows: {home: {tabs: {hives: form, diary: week}, moves: [{when: tap diary, do: switch diary}]}}
        screens:
          form:
            holds: {draft: [clean, edited]}
            moves: [{when: tap write, do: set draft edited}]
            guards: [{name: unsaved, if: draft is edited, ask: {text: Leave?, answers: [{no: stay}, {yes: go on}]}}]
          week: {}
        """
        self.hold(plan, "launch; tap write; tap diary; asked unsaved; answer yes; ladder home[diary: week]; back; see form")

    def test_the_app_is_asked_when_it_is_left(self) -> None:
        plan = """
        guards: [{name: really, ask: {text: Leave the app?, answers: [{no: stay}, {yes: go on}]}}]
        screens: {hives: {moves: [{when: tap hive, do: push hive}]}, hive: {}}
        """
        self.hold(
            plan, "launch; tap hive; back; not asked; back; asked really; answer yes; outside", "launch; back; back; see hives"
        )

    def test_first_in_line_comes_before_the_drawer(self) -> None:
        plan = """
        facts: {picking: no}
        screens:
          hives:
            moves: [{when: tap pick, do: set picking yes}, {when: tap menu, do: open menu}]
            guards: [{name: bar, if: picking is yes, ways: [system], %s do: set picking no}]
        overlays: {menu: {kind: drawer}}
        """
        self.hold(
            plan % "first in line: yes,", "launch; tap pick; tap menu; back; see menu; picking is no; back; back; outside"
        )
        self.hold(plan % "", "launch; tap pick; tap menu; back; picking is yes; back; picking is no; back; outside")

    def test_a_handler_at_the_press_is_not_known_before(self) -> None:
        plan = """
        screens:
          hives: {moves: [{when: tap hive, do: push hive}]}
          hive: {guards: [{name: late, decides: at the press, block: yes}]}
        """
        self.hold(plan, "launch; tap hive; back taken by late; see hive; back; see hives")


class Redirects(Cases):
    PLAN = """
    facts: {session: {values: [none, valid], from outside: [valid to none]}}
    screens:
      hives: {moves: [{when: tap hive(id), do: push hive(id=$id)}, {when: tap again, do: push sign in}]}
      hive: {takes: {id: {type: whole number, samples: [7, 12]}}, moves: [{when: tap out, do: [remember this place, replace sign in]}]}
      sign in: {moves: [{when: tap sign in, do: [set session valid, go to wanted else replace hives]}, {when: tap hive(id), do: push hive(id=$id)}]}
    redirects:
      - {to: hive, if: session is none, send to: sign in, remember: yes}
    """

    def test_the_wanted_place_is_remembered_and_used_once(self) -> None:
        self.hold(
            self.PLAN,
            "launch; tap hive(id=12); ladder hives > sign in; tap sign in; ladder hives > hive(id=12)",
            "launch; tap again; tap sign in; ladder hives > hives",
            "launch; tap hive(id=12); back; tap again; tap sign in; ladder hives > hives",
            "launch; tap hive(id=12); tap hive(id=7); ladder hives > sign in; tap sign in; ladder hives > hive(id=7)",
        )

    def test_a_place_can_be_remembered_by_the_app(self) -> None:
        self.hold(
            self.PLAN, "launch; tap hive(id=7); tap sign in; tap out; see sign in; tap sign in; ladder hives > hive(id=7)"
        )

    def test_a_chain_that_comes_round_is_a_finding(self) -> None:
        plan = """
        screens: {hives: {moves: [{when: tap a, do: push hive}]}, hive: {}, diary: {}}
        redirects: [{to: hive, send to: diary}, {to: diary, send to: hive}]
        """
        self.hold(plan, "launch; tap a; finding redirects never end; depth 2")

    def test_a_flow_is_sent_on_for_its_first_screen_and_stands_alone(self) -> None:
        plan = """
        start: home
        facts: {session: {values: [none, valid]}}
        flows: {home: {tabs: {hives: hives}}}
        screens: {hives: {}, sign in: {moves: [{when: tap in, do: [set session valid, go to wanted]}]}}
        redirects: [{to: hives, if: session is none, send to: sign in, remember: yes}]
        """
        self.hold(plan, "launch; ladder sign in; tap in; ladder home[hives: hives]")

    def test_what_is_seen_goes_unasked_if_a_move_of_a_hidden_rung_lets_it_go(self) -> None:
        plan = read_plan(CASES / "bound-drops-what-is-seen.ladder.yaml")
        last = run_walk(plan, plan.walks[0]).played[-2].step
        assert last is not None
        self.assertEqual(
            [(each.guard, each.screen) for each in last.log if isinstance(each, GuardSkipped)], [("sure", "settings")]
        )
