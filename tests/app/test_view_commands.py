"""The commands of the views, without a terminal: what they select, say, ask and edit."""

import unittest
from collections.abc import Callable
from typing import TYPE_CHECKING, Any, cast

from tests.plans import COMBFIELD, plan_of
from wise_ladder.app.climb.commands import ClimbCommands
from wise_ladder.app.crossings.back_selection import BackSelection
from wise_ladder.app.crossings.commands import CrossingsCommands
from wise_ladder.app.crossings.tables import CrossingTables
from wise_ladder.app.palette import INK
from wise_ladder.app.rules.commands import RulesCommands
from wise_ladder.app.rules.selection import RuleSelection
from wise_ladder.app.sweep_runner import SweepStatus
from wise_ladder.app.tape_cursor import TapeCursor
from wise_ladder.app.walks.commands import WalksCommands
from wise_ladder.app.walks.selection import WalkSelection
from wise_ladder.app.workplace import Workplace
from wise_ladder.demo import gallery
from wise_ladder.plan import Plan
from wise_ladder.plan.addition import add_typed
from wise_ladder.plan.events import HeaderBack, Launch, Tap
from wise_ladder.plan.loader import read_plan
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.verdicts import Bounds
from wise_ladder.walks import Tape, run_walk
from wise_ladder.walks.exploration import walk_usage

if TYPE_CHECKING:
    from wise_ladder.app.dialogs.form_dialog import FormDialog

PLAN = plan_of("""
    screens:
      hives: {moves: [{when: tap in, do: push hive}, {when: tap week, do: push week}]}
      hive:
      week: {moves: [{when: tap hives, do: push hives}]}
    walks:
      in: [launch, tap in, see hive]
      never: [launch, see hive]
    rules: [{rule: never beneath, screens: hive}, {rule: never beneath, screens: week}]
""")


class Recorder:
    """A workplace that only notes what is asked of it."""

    def __init__(self, plan: Plan) -> None:
        self.plan = plan
        self.said: list[tuple[str, bool]] = []
        self.dialogs: list[Any] = []
        self.tapes: list[Tape] = []
        self.edits: list[str] = []
        self.ran: list[list[str]] = []
        self.sketched: list[str] = []
        self.refreshed = 0
        self.document = self.edit_commands = self
        self.cursor = TapeCursor(plan)
        self.palette = INK

    def refresh(self) -> None:
        self.refreshed += 1

    def show_message(self, words: str, *, wrong: bool = False) -> None:
        self.said.append((words, wrong))

    def push_screen(self, screen: object, _callback: object = None) -> None:
        self.dialogs.append(screen)

    def climb_tape(self, tape: Tape) -> None:
        self.tapes.append(tape)

    def run_walks(self, names: list[str]) -> None:
        self.ran.append(names)

    def climb_walk(self, name: str, step: int | None) -> None:
        self.ran.append([name, str(step)])

    def edit_text(self, change: Callable[[str], str], _what: str) -> str:
        self.edits.append(change("walks:\n  in: [launch, tap in, see hive]\n  never: [launch, see hive]\n"))
        return ""

    def sketch(self, start: str | None, *, climbs: bool, first: str = "") -> None:
        self.sketched.append(f"{first or start}{' and climb' if climbs else ''}")


def workplace(host: Recorder) -> Workplace:
    return cast("Workplace", host)


class InClimb(unittest.TestCase):
    def test_why_lists_the_last_step_each_way_back_each_tap_and_each_link(self) -> None:
        host = Recorder(PLAN)
        for event in (Launch(), Tap("in")):
            host.cursor.do(event)
        ClimbCommands(workplace(host)).cmd_why()
        labels = [choice.label for choice in host.dialogs[0]._choices]
        self.assertEqual(labels, ["the last step: tap in", "Back by the system", "Back by the header ←"])


class InWalks(unittest.TestCase):
    def setUp(self) -> None:
        self.host, self.selection = Recorder(PLAN), WalkSelection(PLAN)
        self.selection.take_up(PLAN, {walk.name: run_walk(PLAN, walk) for walk in PLAN.walks})
        self.commands = WalksCommands(workplace(self.host), self.selection, self.host.refresh)

    def test_down_goes_to_the_next_walk_and_up_back(self) -> None:
        self.assertEqual(self.selection.name, "in")
        self.commands.cmd_down()
        self.assertEqual((self.selection.name, self.host.refreshed), ("never", 1))
        self.commands.cmd_up()
        self.assertEqual((self.selection.name, self.host.refreshed), ("in", 2))

    def test_only_the_failing_walks_are_run_again_and_gone_to(self) -> None:
        self.commands.cmd_run_failed()
        self.commands.cmd_run_all()
        self.assertEqual(self.host.ran, [["never"], ["in", "never"]])
        self.commands.cmd_next_failed()
        self.assertEqual((self.selection.name, self.host.said), ("never", []))

    def test_enter_climbs_to_the_end_or_to_the_chosen_step(self) -> None:
        self.commands.cmd_climb_there()
        self.commands.cmd_steps()
        self.commands.cmd_down()
        self.commands.cmd_climb_there()
        self.assertEqual(self.host.ran, [["in", "None"], ["in", "2"]])
        self.assertEqual(self.host.said[-1], ("this is “in” after step 2", False))

    def test_a_step_is_added_after_the_chosen_one_which_moves_on(self) -> None:
        self.commands.cmd_steps()
        self.commands.cmd_add_step()
        dialog = cast("FormDialog", self.host.dialogs[-1])
        self.assertIn("write a step", dialog._take([" "]))
        self.assertEqual((self.selection.step, self.host.edits), (0, []))

    def test_deleting_says_what_went(self) -> None:
        self.commands.cmd_down()
        self.commands.cmd_delete()
        self.assertEqual(self.host.edits, ["walks:\n  in: [launch, tap in, see hive]\n"])
        self.assertIn("never", self.host.said[-1][0])
        self.assertFalse(self.host.said[-1][1])

    def test_without_a_walk_nothing_is_edited(self) -> None:
        empty = WalkSelection(plan_of("screens: {hives: }"))
        commands = WalksCommands(workplace(self.host), empty, self.host.refresh)
        for command in (commands.cmd_delete, commands.cmd_rename, commands.cmd_climb_there):
            command()
            self.assertEqual(self.host.said.pop(), ("choose a walk first", True))
        commands.cmd_add_step()
        self.assertEqual(self.host.sketched, ["walk"])
        self.assertEqual((self.host.edits, self.host.dialogs, self.host.ran), ([], [], []))


class InCrossings(unittest.TestCase):
    def setUp(self) -> None:
        self.host, self.selection = Recorder(PLAN), CrossingTables(PLAN)
        self.commands = CrossingsCommands(workplace(self.host), self.selection, self.host.refresh)

    def test_the_next_untried_crossing_is_one_that_no_walk_takes(self) -> None:
        self.selection.moves.met(walked=walk_usage(PLAN))
        self.commands.cmd_next_untried()
        assert self.selection.moves.current is not None
        self.assertNotEqual((self.selection.moves.current.start, self.selection.moves.current.end), ("hives", "hive"))
        self.assertEqual(self.host.refreshed, 1)

    def test_climbing_to_a_crossing_shows_its_shortest_way(self) -> None:
        self.commands.cmd_climb_there()
        self.assertEqual((self.host.tapes, self.host.said[-1][1]), ([], True))
        self.selection.moves.met(walked=walk_usage(PLAN))
        self.selection.moves.find("hive")
        self.commands.cmd_climb_there()
        self.assertEqual(len(self.host.tapes[-1].entries), 2)

    def test_finding_tells_how_many_are_left(self) -> None:
        self.commands.cmd_find()
        dialog = cast("FormDialog", self.host.dialogs[-1])
        assert dialog._tell is not None
        self.assertRegex(dialog._tell("week"), rf"^\d of {self.selection.moves.total} crossings$")
        self.assertLess(len(self.selection.moves.shown), self.selection.moves.total)

    def test_a_plan_without_doubts_says_so(self) -> None:
        commands = CrossingsCommands(workplace(self.host), CrossingTables(COMBFIELD), self.host.refresh)
        commands.cmd_next_fault()
        self.assertEqual(self.host.said, [("this plan has no warnings", False)])


class InBack(unittest.TestCase):
    """The second table of Crossings: where Back leads from everywhere."""

    def setUp(self) -> None:
        plan = read_plan(next(fault.faulty for fault in gallery() if fault.name == "arrow-disagrees"))
        self.host, self.selection = Recorder(plan), CrossingTables(plan)
        self.commands = CrossingsCommands(workplace(self.host), self.selection, self.host.refresh)
        sweep = Sweep(plan, Bounds(depth=6))
        while not sweep.finished:
            sweep.run(1)
        self.selection.shows_back = True
        status = SweepStatus(plan, (), sweep.extent(), False, 0, {}, (), 0.0, sweep.landings)
        self.assertTrue(self.selection.backs.take_up(status))
        self.assertFalse(self.selection.backs.take_up(status))

    def test_a_row_for_each_screen_and_a_column_for_each_end(self) -> None:
        backs = self.selection.backs
        self.assertEqual((backs.rows, backs.columns), (["diary", "entry", "hive"], ["diary", "entry", "the ground"]))
        self.assertEqual(len(backs.shown), backs.total)

    def test_the_next_surprise_is_where_header_and_system_part(self) -> None:
        self.commands.cmd_next_untried()
        cell = self.selection.backs.current
        assert cell is not None
        self.assertIn("the system's Back lands on", cell.surprise)
        self.assertEqual(cell.ways, {"header"})

    def test_enter_climbs_the_shortest_path_and_k_keeps_it(self) -> None:
        self.commands.cmd_next_untried()
        self.commands.cmd_climb_there()
        cell = self.selection.backs.current
        assert cell is not None
        self.assertEqual(self.host.tapes[-1], cell.rows[0].tape)
        self.assertIsInstance(self.host.tapes[-1].entries[-1].event, HeaderBack)

    def test_a_rule_is_made_of_where_the_system_leads(self) -> None:
        backs = self.selection.backs
        backs.chosen = next(number for number, cell in enumerate(backs.shown) if "system" in cell.ways and cell.end == "diary")
        line = backs.rule()
        self.assertRegex(line, r"^rule back lands: from \w+, lands on \[.*diary.*\]$")
        text = next(fault.faulty for fault in gallery() if fault.name == "arrow-disagrees").read_text()
        self.assertIn("back lands", add_typed(text, None, line).words)

    def test_the_chosen_cell_stays_chosen_when_more_becomes_known(self) -> None:
        backs, status = BackSelection(), self.selection.backs.status
        assert status is not None
        few = dict(sorted(status.landings.items(), reverse=True)[:2])
        backs.take_up(status._replace(landings=few))
        backs.chosen = 1
        before = backs.current
        backs.take_up(status)
        after = backs.current
        assert before is not None and after is not None
        self.assertEqual((before.start, before.end), (after.start, after.end))
        self.assertGreater(len(backs.shown), 2)

    def test_only_what_has_the_words(self) -> None:
        self.selection.backs.find("header lands")
        self.assertTrue(all("header" in cell.ways for cell in self.selection.backs.shown))
        self.selection.backs.find("nothing has these words")
        self.assertEqual((self.selection.backs.shown, self.selection.backs.rule()), ([], ""))
        self.commands.cmd_climb_there()
        self.assertEqual(self.host.tapes, [])


class InRules(unittest.TestCase):
    def test_the_next_violation_is_shown_at_its_last_frame_and_after_the_last_the_first(self) -> None:
        plan = plan_of("""
            screens:
              hives: {moves: [{when: tap one, do: push hives}, {when: tap two, do: push hives}]}
            rules: [no twins]
        """)
        sweep = Sweep(plan, Bounds(depth=3))
        sweep.run()
        selection = RuleSelection()
        selection.take_up(
            SweepStatus(plan, sweep.verdicts(), sweep.extent(), running=False, speed=1, others={}, unused=(), until=1.0)
        )
        shown = []
        for _ in range(3):
            assert selection.counterexample is not None
            shown.append((selection.counterexample.place.words, selection.at))
            selection.go(-1)
            self.assertTrue(selection.next_guilty())
        self.assertEqual(shown, [("hives, tap one", 1), ("hives, tap two", 1), ("hives, tap one", 1)])

    def test_a_rule_that_holds_has_nothing_to_climb_and_a_broken_one_its_shortest_steps(self) -> None:
        sweep = Sweep(PLAN, Bounds(depth=4))
        sweep.run()
        host, selection = Recorder(PLAN), RuleSelection()
        selection.take_up(
            SweepStatus(PLAN, sweep.verdicts(), sweep.extent(), running=False, speed=1, others={}, unused=(), until=1.0)
        )
        commands = RulesCommands(workplace(host), selection, host.refresh)
        broken = [verdict.status for verdict in selection.verdicts].index("broken")
        selection.choose(1 - broken)
        commands.cmd_climb_there()
        self.assertEqual((host.tapes, host.said[-1][1]), ([], True))
        selection.choose(broken)
        commands.cmd_climb_there()
        self.assertEqual(len(host.tapes), 1)
        commands.cmd_next_guilty()
        self.assertIn("no other violation", host.said[-1][0])


if __name__ == "__main__":
    unittest.main()
