"""Flows and tabs: which ladder a move acts on, how Back goes outwards, where the arrow leads."""

from functools import reduce

from tests.semantics.cases import Cases
from wise_ladder.plan.events import Back, Launch, Tap
from wise_ladder.semantics import initial_state, step

TABS = """
start: home
%s
flows:
  home:
    tabs: {hives: hives, diary: week}
    moves:
      - {when: tap to hives, do: switch hives}
      - {when: tap to diary, do: switch diary}
      - {when: tap to root, do: switch hives to root}
      - {when: tap entry, do: [switch diary, push entry]}
      - {when: tap open menu, do: open yard menu}
screens:
  hives:
    header: none
    moves:
      - {when: tap hive, do: push hive}
  hive:
    moves:
      - {when: tap settings, do: push settings on app}
      - {when: tap comb, do: push comb}
      - {when: tap home, do: pop to root}
  comb: {}
  week:
    moves:
      - {when: tap month, do: replace month}
  month: {}
  entry: {moves: [{when: tap out, do: [clear, push week]}]}
  settings: {moves: [{when: tap about, do: push about}]}
  about: {}
overlays:
  yard menu: {kind: drawer, of: home, moves: [{when: tap settings, do: [close, push settings]}]}
"""


class Tabs(Cases):
    def test_each_tab_keeps_its_ladder(self) -> None:
        self.hold(
            TABS % "",
            "launch; ladder home[hives: hives]; depth 1",
            "launch; tap hive; tap to diary; ladder home[diary: week]; tap to hives; ladder home[hives: hives > hive]",
            "launch; tap hive; tap to diary; tap month; tap to hives; tap to diary; ladder home[diary: month]",
            "launch; tap hive; tap to diary; tap to root; ladder home[hives: hives]",
            "launch; tap hive; tap comb; back; tap home; ladder home[hives: hives]",
            "launch; tap hive; tap entry; ladder home[diary: week > entry]; tap out; ladder home[diary: week]",
        )

    def test_back_at_the_first_rung_of_a_tab(self) -> None:
        walk = "launch; tap hive; tap to diary; "
        self.hold(TABS % "", walk + "back; ladder home[hives: hives > hive]; back; back; outside")
        self.hold(TABS % "policies: {tab back: outwards}", walk + "back would leave")
        used = TABS % "policies: {tab back: last used}"
        self.hold(used, walk + "tap to hives; back; ladder home[hives: hives]; back; ladder home[diary: week]; back; outside")

    def test_which_tabs_were_in_front_is_kept_only_where_back_goes_by_it(self) -> None:
        for policy, same in (("last used", False), ("first tab, then outwards", True)):
            plan = self.with_walks(TABS % f"policies: {{tab back: '{policy}'}}")
            by_tap, by_back = (
                reduce(
                    lambda state, event: step(plan, state, event).state, (Launch(), Tap("to diary"), last), initial_state(plan)
                )
                for last in (Tap("to hives"), Back())
            )
            with self.subTest(policy):
                self.assertEqual(by_tap.ladder == by_back.ladder, same)

    def test_what_is_put_on_the_app_covers_the_tabs(self) -> None:
        self.hold(
            TABS % "",
            "launch; tap hive; tap settings; ladder home > settings; depth 3; tap about; back; header back; see hive",
            "launch; tap hive; tap open menu; tap settings; ladder home[hives: hives > hive] > settings; back; see hive",
        )

    def test_the_drawer_of_the_tabs_takes_back_first(self) -> None:
        self.hold(TABS % "", "launch; tap hive; tap open menu; back; see hive; back; see hives")

    def test_the_arrow_never_leads_out_of_the_tabs(self) -> None:
        self.hold(
            TABS % "",
            "launch; tap hive; header button is arrow; header back; see hives; header button is none",
            "launch; tap to diary; header button is none",
        )


FLOW = """
facts: {code: {values: [none, new]}}
screens:
  hives: {moves: [{when: tap tour, do: push first steps awaiting taken}, {when: taken comes back, do: set code new}, {when: taken is cancelled, do: push skipped}]}
  welcome: {moves: [{when: tap next, do: push rules}, {when: tap pop, do: pop}]}
  rules:
    gives: {taken: [yes]}
    moves:
      - {when: tap done, do: return yes from first steps}
      - {when: tap give, do: return yes}
      - {when: tap close, do: close first steps}
      - {when: tap out, do: push hives on app}
      - {when: tap again, do: [clear, push welcome]}
  skipped: {}
flows:
  first steps: {screens: [welcome, rules], start: welcome}
"""


class Flows(Cases):
    def test_a_flow_ends_with_its_last_rung(self) -> None:
        self.hold(
            FLOW,
            "launch; tap tour; ladder hives > first steps[welcome]; tap next; ladder hives > first steps[welcome > rules]; depth 3",
            "launch; tap tour; tap next; back; back; see skipped; got taken is cancelled",
            "launch; tap tour; tap pop; see skipped",
            "launch; tap tour; tap next; tap close; ladder hives > skipped",
            "launch; tap tour; tap next; tap again; ladder hives > first steps[welcome]",
        )

    def test_a_result_from_a_flow(self) -> None:
        self.hold(
            FLOW,
            "launch; tap tour; tap next; tap done; ladder hives; got taken = yes; code is new; no findings",
            "launch; tap tour; tap next; tap give; finding nobody waits; see welcome",
            "launch; tap tour; tap next; tap out; ladder hives > first steps[welcome > rules] > hives; back; see rules",
        )


class Arrows(Cases):
    PLAN = """
    facts: {from: [diary, hive]}
    screens:
      hives: {moves: [{when: tap hive, do: push hive}, {when: tap diary, do: push diary}]}
      hive: {moves: [{when: tap entry, do: [set from hive, push entry]}]}
      diary: {moves: [{when: tap entry, do: [set from diary, push entry]}]}
      entry:
        arrow:
          - {if: from is hive, to: hive}
          - {to: diary}
        moves: [{when: tap more, do: push more}, {when: tap turn, do: set from hive}]
      more: {arrow: to hives}
    """

    def test_the_arrow_leads_where_its_condition_says(self) -> None:
        self.hold(
            self.PLAN,
            "launch; tap hive; tap entry; header back; ladder hives > hive",
            "launch; tap diary; tap entry; header back; ladder hives > diary",
            "launch; tap diary; tap entry; tap more; header back; ladder hives",
        )

    def test_where_it_is_not_there_it_is_put_in_place(self) -> None:
        self.hold(self.PLAN, "launch; tap diary; tap entry; tap turn; header back; ladder hives > diary > hive")


class Following(Cases):
    """What follows from a move: shown, first shown, left, becomes."""

    PLAN = """
    facts: {n: {values: [none, one, two, three], from outside: [none to one, none to three]}, log: {values: [empty, first, again, gone]}}
    screens:
      hives:
        moves:
          - {when: tap hive, do: push hive}
          - {when: tap two, do: [push hive, push diary]}
          - {when: n becomes three, even hidden, do: push alert}
      hive:
        moves:
          - {when: first shown, do: set log first}
          - {when: shown, if: log is not first, do: set log again}
          - {when: left, do: set log gone}
          - {when: tap diary, do: push diary}
          - {when: n becomes one, do: set n two}
          - {when: n becomes two, do: push alert}
          - {when: tap jump, do: push jumper}
      diary: {}
      jumper: {moves: [{when: shown, do: replace alert}]}
      alert: {}
    """.replace("three, even hidden, do", "three even hidden, do")

    def test_shown_and_left(self) -> None:
        self.hold(
            self.PLAN,
            "launch; tap hive; log is first; tap diary; back; log is first; back; log is gone",
            "launch; tap two; log is empty; back; log is first",
            "launch; tap hive; tap jump; ladder hives > hive > alert; never saw jumper",
        )

    def test_a_fact_that_turns_is_told_once_to_each_place_and_runs_on(self) -> None:
        self.hold(
            self.PLAN,
            "launch; tap hive; set n one; n is two; ladder hives > hive > alert",
            "launch; set n one; n is one; ladder hives",
            "launch; tap hive; set n three; ladder hives > hive > alert",
        )

    def test_a_round_without_end_is_a_finding(self) -> None:
        plan = """
        screens:
          hives: {moves: [{when: tap a, do: push hive}]}
          hive: {moves: [{when: shown, do: replace diary}]}
          diary: {moves: [{when: shown, do: replace hive}]}
        """
        self.hold(plan, "launch; tap a; finding runaway; depth 2")

    def test_double_taps(self) -> None:
        plan = """
        policies: {taps in transition: %s}
        screens: {hives: {moves: [{when: tap a, do: push hive}]}, hive: {}}
        """
        self.hold(plan % "taken", "launch; tap a twice; ladder hives > hive > hive")
        self.hold(plan % "ignored", "launch; tap a twice; ladder hives > hive")

    def test_bars(self) -> None:
        plan = """
        policies: {bars left unsaid: %s}
        screens:
          hives: {moves: [{when: tap a, do: push comb}]}
          comb: {top bar: hidden, bottom bar: hidden, moves: [{when: tap b, do: push hive}]}
          hive: {top bar: as they were, bottom bar: as they were}
        """
        self.hold(plan % "shown", "launch; bars shown; tap a; bars hidden; tap b; bars hidden; back; back; bars shown")
        self.hold(plan % "as they were", "launch; tap a; back; bars hidden")
