"""Trials: two versions of a plan along one path, what differs at its steps, and what else was found."""

import asyncio
import time
import unittest
from collections.abc import Awaitable, Callable
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import ClassVar

from textual.pilot import Pilot

from tests.app.test_drawing import lines
from tests.plans import plan_of
from wise_ladder.app.application import LadderApp
from wise_ladder.app.palette import INK
from wise_ladder.app.trials.drawing import draw_ladders, draw_list
from wise_ladder.app.trials.selection import TrialSelection
from wise_ladder.app.trials.view import TrialsView
from wise_ladder.plan import Event, Plan
from wise_ladder.plan.events import Launch, Tap
from wise_ladder.plan.loader import read_file
from wise_ladder.semantics import initial_state
from wise_ladder.trials.compare import Versions, compare
from wise_ladder.walks import Tape

TEXT = """\
app: Combfield
start: hives
screens:
  hives: {moves: [{when: tap hive, do: push hive}]}
  hive: {moves: [{when: tap frames, do: %s}]}
  frames: {moves: [{when: tap hive look, do: replace hive}]}
walks:
  one Back: [launch, tap hive, tap frames, back, ladder hives]
"""
OLD, NEW = plan_of(TEXT % "replace frames"), plan_of(TEXT % "push frames")
PATH = (Launch(), Tap("hive"), Tap("frames"), Tap("hive look"))


def tape(plan: Plan, *path: Event) -> Tape:
    return Tape(plan, initial_state(plan)).rerun_on(plan, events=path)


def compared(old: Plan = OLD, new: Plan = NEW, *path: Event) -> TrialSelection:
    """Compare two versions along a path."""
    trial = TrialSelection()
    trial.take_up(old, new, "main", tape(new, *(path or PATH)), "this tape")
    return trial


class Paths(unittest.TestCase):
    def test_the_first_step_that_differs_is_chosen(self) -> None:
        trial = compared()
        self.assertEqual((trial.step, trial.count), (3, 4))
        self.assertEqual(
            trial.differences_at(3),
            [("Back: leads to hive (was: leads to hives)", "noticed"),
             ("the button in the header: leads to hive (was: leads to hives)", "noticed")],
        )  # fmt: skip
        self.assertEqual(trial.differences_at(2), [])
        self.assertFalse(trial.go(3))
        self.assertTrue(trial.next_difference())
        self.assertEqual(trial.step, 4)

    def test_both_ladders_step_together_and_what_one_has_alone_is_marked(self) -> None:
        trial = compared()
        old, new = trial.moments or self.fail()
        self.assertEqual([[rung.data.screen for rung in each.rungs] for each in (old, new)],
                         [["hives", "frames"], ["hives", "hive", "frames"]])  # fmt: skip
        marks = trial.marks
        self.assertEqual([len(each.rungs) for each in marks], [0, 1])
        self.assertEqual(marks[1].rungs, {new.rungs[1].serial})
        self.assertEqual([set(each.backs) for each in marks], [{1, 2}, {1, 2, 3}])

    def test_a_step_that_one_version_does_not_allow(self) -> None:
        more = plan_of(TEXT % "replace frames" + "anywhere: [{when: tap settings, do: pop}]\n")
        trial = compared(OLD, more, *PATH[:2], Tap("settings"))
        self.assertEqual(trial.step, 3)
        self.assertEqual(trial.differences_at(3), [("possible now (was: not)", "noticed")])
        self.assertIs(trial.stopped, trial.tapes[0])
        shown = "\n".join(lines(draw_ladders(trial, INK, 100, 40)))
        self.assertIn("this step is not possible", shown)

    def test_names_that_changed_are_followed_and_kept_as_a_walk_of_the_new_version(self) -> None:
        renamed = plan_of(
            (TEXT % "push frames").replace("tap hive,", "tap into,").replace("hive, tap frames", "into, tap frames")
        )
        trial = compared(OLD, renamed, Launch(), Tap("into"), Tap("frames"))
        self.assertEqual(trial.step, 3)
        self.assertEqual([entry.event for entry in trial.tapes[0].entries][1], Tap("hive"))
        self.assertEqual(trial.steps_before(), ["launch", "tap into", "tap frames", "ladder hives > frames"])
        self.assertEqual(trial.tapes[1].as_steps()[-1], "ladder hives > hive > frames")

    def test_without_a_difference_the_end_is_shown(self) -> None:
        trial = compared(NEW, plan_of(TEXT % "push frames"))
        self.assertEqual(trial.step, 4)
        self.assertFalse(trial.next_difference())
        self.assertIn("= nothing differs here", "\n".join(lines(draw_ladders(trial, INK, 100, 40))))


class Found(unittest.TestCase):
    versions: ClassVar[Versions]

    @classmethod
    def setUpClass(cls) -> None:
        cls.versions = compare(OLD, NEW, 0.5)

    def test_each_row_brings_its_own_path(self) -> None:
        trial = compared()
        self.assertTrue(trial.told(self.versions, running=False))
        self.assertEqual(trial.row and trial.row.kind, "path")
        kinds = [row.kind for row in trial.rows]
        self.assertEqual(kinds, sorted(kinds, key=["path", "noticed", "kept", "walk fails", "rule"].index))
        for place, row in enumerate(trial.rows):
            trial.choose(place)
            self.assertTrue(trial.differences_at(trial.step), row)

    def test_the_chosen_row_stays_while_the_list_grows(self) -> None:
        trial = compared()
        first = self.versions._replace(differences=self.versions.differences[1:2], turned=[])
        trial.told(first, running=True)
        trial.choose(1)
        chosen = trial.row
        trial.go(1)
        trial.told(self.versions, running=False)
        self.assertEqual((trial.row and trial.row[:3], trial.step, trial.place), (chosen and chosen[:3], 1, 2))

    def test_what_was_found_of_other_versions_is_not_shown(self) -> None:
        trial = compared(NEW, OLD)
        self.assertFalse(trial.told(self.versions, running=False))
        self.assertIsNone(trial.versions)

    def test_the_list_tells_what_a_user_notices_first_and_how_far_was_looked(self) -> None:
        trial = compared()
        trial.told(self.versions, running=False)
        shown = lines(draw_list(trial, INK, 44, 44))
        self.assertIn("a user notices", shown[4])
        self.assertIn(" ≠ tap frames  ·  hive", shown)
        self.assertIn("   Back: leads to hive (was: leads to", shown)
        self.assertIn(" ✗ one Back", shown)
        self.assertRegex(shown[-1] or shown[-2], "pairs of states")

    def test_saved_ladders_that_cannot_stand_are_reopened_on_both(self) -> None:
        less = plan_of("screens: {hives: {moves: [{when: tap diary, do: push diary}]}, diary: {}}")
        versions = compare(OLD, less, 0.5)
        trial = compared(OLD, less, Launch())
        trial.told(versions, running=False)
        place = next(place for place, row in enumerate(trial.rows) if row.kind == "saved")
        trial.choose(place)
        self.assertEqual(trial.events[0], "reopen")
        self.assertTrue(trial.differences_at(trial.step))


class Application(unittest.TestCase):
    def run_in(self, act: Callable[[LadderApp, Pilot[None], Path], Awaitable[None]], *keys: str) -> None:
        async def run() -> None:
            with TemporaryDirectory() as name:
                path = Path(name) / "two.ladder.yaml"
                path.write_text(TEXT % "push frames")
                (Path(name) / "one.ladder.yaml").write_text(TEXT % "replace frames")
                plan, text = read_file(path)
                app = LadderApp(plan, path, text, example=False)
                async with app.run_test(size=(160, 50)) as pilot:
                    await pilot.press(*keys)
                    await act(app, pilot, Path(name))

        asyncio.run(run())

    async def until(self, pilot: Pilot[None], holds: Callable[[], bool]) -> None:
        """Wait until something holds that another thread works for."""
        end = time.monotonic() + 20
        while not holds():
            self.assertLess(time.monotonic(), end, "it did not come to be")
            await pilot.pause(0.02)

    def trial(self, app: LadderApp) -> TrialSelection:
        view = app.view
        assert isinstance(view, TrialsView)
        return view.selection

    def test_an_edit_is_compared_with_what_was_before_it(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None], _: Path) -> None:
            await pilot.press("equals_sign")
            trial = self.trial(app)
            self.assertEqual((trial.against, trial.step, trial.count), ("before the last edit", 3, 3))
            await self.until(pilot, lambda: bool(trial.versions and trial.versions.noticed))
            await pilot.press("down", "enter")
            self.assertEqual(app.view_name, "climb")
            # Another edit is compared with this one.
            await pilot.press("T", "ctrl+z")
            await pilot.pause()
            self.assertEqual((trial.against, trial.old and trial.old is not app.plan), ("before the last edit", True))

        self.run_in(act, "r", "1", "1", "o")

    def test_another_file_and_a_revision_are_asked_for(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None], folder: Path) -> None:
            trial = self.trial(app)
            self.assertIsNone(trial.old)
            await pilot.press("equals_sign", *"file", "enter")
            await pilot.press(*"nothing", "enter")
            self.assertTrue(len(app.screen_stack) > 1)
            await pilot.press("ctrl+u", *str(folder / "one.ladder.yaml"), "enter")
            await self.until(pilot, lambda: bool(trial.versions and trial.versions.noticed))
            await pilot.press("equals_sign", *"revision", "enter", *"main", "enter")
            await pilot.pause()
            self.assertTrue(len(app.screen_stack) > 1, "not in a repository: the dialog says so and stays")

        self.run_in(act, "r", "1", "1", "T")

    def test_both_ways_are_kept_as_walks(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None], folder: Path) -> None:
            await pilot.press("equals_sign", *"file", "enter", *str(folder / "one.ladder.yaml"), "enter")
            await pilot.press("k", *"now", "down", *"before", "enter")
            await pilot.pause()
            kept = (folder / "two.ladder.yaml").read_text().partition("  now:")[2]
            self.assertRegex(kept, r"(?s)- ladder hives > hive > frames.*before:.*- ladder hives > frames")
            self.assertEqual([run.name for run in app.selected_runs()], ["now", str(folder / "one.ladder.yaml")])

        self.run_in(act, "r", "1", "1", "T")

    def test_where_there_is_room_for_one_ladder_a_key_swaps(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None], folder: Path) -> None:
            await pilot.press("equals_sign", *"file", "enter", *str(folder / "one.ladder.yaml"), "enter")
            trial = self.trial(app)
            self.assertTrue(lines(draw_ladders(trial, INK, 80, 14))[0].startswith("now"))
            await pilot.press("B")
            self.assertTrue(lines(draw_ladders(trial, INK, 80, 14))[0].startswith(str(folder)[:10]))

        self.run_in(act, "r", "1", "1", "T")

    def test_every_key_works_with_nothing_to_compare(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None], _: Path) -> None:
            await pilot.press(
                "up", "down", "left", "right", "home", "end", "n", "B", "enter", "k", "e", "escape", "equals_sign", "escape"
            )
            self.assertTrue(app.is_running)
            self.assertIn("Nothing to compare with yet", "\n".join(lines(draw_ladders(self.trial(app), INK, 100, 30))))

        self.run_in(act, "T")


if __name__ == "__main__":
    unittest.main()
