"""Results and overlays: who awaits, what comes back, what is cancelled, dropped or lost."""

from tests.semantics.cases import Cases

PICKING = """
facts: {heard: {values: [nothing, white, yellow, cancelled]}}
screens:
  hives:
    moves:
      - {when: tap inspect, do: push inspection}
  inspection:
    moves:
      - {when: tap pick, do: push mark picker awaiting mark}
      - {when: tap pick twin, do: push inspection once awaiting mark}
      - {when: tap confirm, do: open sure awaiting answer}
      - {when: mark comes back, if: mark is white, do: set heard white}
      - {when: mark comes back, do: set heard yellow}
      - {when: mark is cancelled, do: set heard cancelled}
      - {when: answer comes back, if: answer is yes, do: push done}
      - {when: answer is cancelled, do: set heard cancelled}
  mark picker:
    gives: {mark: [white, yellow]}
    moves:
      - {when: tap white, do: return white}
      - {when: tap yellow, do: return yellow}
      - {when: tap colours, do: replace colours}
      - {when: tap more, do: push colours}
      - {when: tap all hives, do: pop to hives}
      - {when: tap done, do: [return white, push done]}
  colours:
    gives: {mark: [white, yellow]}
    moves:
      - {when: tap yellow, do: return yellow}
  done: {}
overlays:
  sure:
    kind: dialog
    gives: {answer: [yes, no]}
    moves:
      - {when: tap yes, do: close with yes}
      - {when: tap no, do: close with no}
      - {when: tap all hives, do: pop to hives}
"""


class Results(Cases):
    def test_exactly_one_of_value_and_cancelled(self) -> None:
        self.hold(
            PICKING,
            "launch; tap inspect; tap pick; tap white; got mark = white; heard is white; ladder hives > inspection; no findings",
            "launch; tap inspect; tap pick; tap yellow; heard is yellow",
            "launch; tap inspect; tap pick; back; got mark is cancelled; heard is cancelled",
            "launch; tap inspect; tap pick; header back; heard is cancelled",
        )

    def test_a_replaced_picker_hands_on_its_duty(self) -> None:
        self.hold(
            PICKING,
            "launch; tap inspect; tap pick; tap colours; tap yellow; got mark = yellow; see inspection",
            "launch; tap inspect; tap pick; tap colours; back; got mark is cancelled",
        )

    def test_a_value_that_nobody_awaits_is_a_finding(self) -> None:
        self.hold(
            PICKING,
            "launch; tap inspect; tap pick; tap more; tap yellow; finding nobody waits; see mark picker; back; heard is cancelled",
        )

    def test_a_result_is_dropped_when_its_caller_goes_too(self) -> None:
        self.hold(PICKING, "launch; tap inspect; tap pick; tap all hives; ladder hives; heard is nothing; no findings")

    def test_a_value_waits_while_something_else_is_put_in_the_same_move(self) -> None:
        self.hold(
            PICKING,
            "launch; tap inspect; tap pick; tap done; see done; heard is nothing; back; got mark = white; heard is white",
            "launch; tap inspect; tap pick; tap done; home; reopen; back; heard is white; no findings",
        )

    def test_a_push_that_puts_nothing_awaits_nothing(self) -> None:
        self.hold(
            PICKING, "launch; tap inspect; tap pick twin; finding awaits nothing; ladder hives > inspection; back; see hives"
        )


class OverlayResults(Cases):
    def test_a_dialog_gives_a_result_or_is_cancelled(self) -> None:
        self.hold(
            PICKING,
            "launch; tap inspect; tap confirm; see sure; tap yes; ladder hives > inspection > done; got answer = yes",
            "launch; tap inspect; tap confirm; tap no; got answer = no; ladder hives > inspection",
            "launch; tap inspect; tap confirm; back; got answer is cancelled; heard is cancelled; ladder hives > inspection",
        )

    def test_a_dialog_goes_with_its_rung(self) -> None:
        self.hold(PICKING, "launch; tap inspect; tap confirm; tap all hives; ladder hives; no findings; tap inspect; tap pick")


class Overlays(Cases):
    PLAN = """
    screens:
      hives:
        moves:
          - {when: tap hive, do: push hive}
          - {when: tap app menu, do: open app menu}
      hive:
        moves:
          - {when: tap sheet, do: open sheet}
          - {when: tap look, do: show looked}
          - {when: tap wait, do: open looking}
          - {when: 3s on ladder, do: close looking}
    overlays:
      sheet: {kind: sheet, moves: [{when: tap more, do: open sure}, {when: tap away, do: close}]}
      sure: {kind: dialog, moves: [{when: tap yes, do: close}]}
      looked: {kind: notice, for: 2s}
      looking: {kind: wait}
      app menu: {kind: drawer, of: app, moves: [{when: tap hive, do: [close, push hive]}]}
    """

    def test_back_takes_the_one_opened_last(self) -> None:
        self.hold(
            self.PLAN,
            "launch; tap hive; tap sheet; tap more; back; tap away; back; see hives",
            "launch; tap hive; tap sheet; tap more; back; back; see hive; back would land on hives",
        )

    def test_a_notice_takes_nothing_and_goes_by_itself(self) -> None:
        self.hold(
            self.PLAN,
            "launch; tap hive; tap look; see looked; back would land on hives; tap sheet; see sheet",
            "launch; tap hive; tap look; wait 2s; tap look; see looked",
        )

    def test_a_wait_blocks_back_until_it_is_taken_off(self) -> None:
        self.hold(self.PLAN, "launch; tap hive; tap wait; back; see looking; wait 3s; back; see hives")

    def test_an_overlay_of_the_app_acts_on_its_ladder(self) -> None:
        self.hold(self.PLAN, "launch; tap app menu; tap hive; ladder hives > hive; back would land on hives")

    def test_a_pop_may_close_the_overlay_instead(self) -> None:
        plan = """
        policies: {pop meets overlay: %s}
        screens:
          hives: {moves: [{when: tap hive, do: push hive}]}
          hive: {moves: [{when: tap sheet, do: open sheet}, {when: 1s on ladder, do: pop}]}
        overlays: {sheet: {kind: sheet}}
        """
        self.hold(plan % "closes instead", "launch; tap hive; tap sheet; wait 1s; ladder hives > hive; back; see hives")
        self.hold(plan % "goes with its rung", "launch; tap hive; tap sheet; wait 1s; ladder hives")
