"""The plan on the bench and its file: whatever becomes of the file, nothing of what stands here is lost."""

import asyncio
import contextlib
import os
import shutil
import stat
import tempfile
import unittest
from collections.abc import Awaitable, Callable
from pathlib import Path
from unittest.mock import patch

from textual.pilot import Pilot

from tests.input.drawing import change
from wise_ladder.app.application import LadderApp
from wise_ladder.app.dialogs.list_dialog import ListDialog
from wise_ladder.app.persistence import StateDir, UnsavedEdits
from wise_ladder.plan.loader import read_file

ONE = "app: Combfield\nstart: hives\nscreens:\n  hives: {moves: [{when: tap hive, do: push hive}]}\n  hive:\n"
TWO, THREE = ONE.replace("push hive", "replace hive"), ONE + "# another\n"


class OnTheDesk(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.path = self.folder / "mine.ladder.yaml"
        self.path.write_text(ONE)
        self.memory = StateDir(self.folder / "state")

    def on_the_bench(self, act: Callable[[LadderApp, Pilot[None]], Awaitable[None]]) -> None:
        async def run() -> None:
            plan, text = read_file(self.path)
            bench = LadderApp(plan, self.path, text, example=False, memory=self.memory)
            with contextlib.chdir(self.folder):
                async with bench.run_test(size=(160, 50)) as pilot:
                    await pilot.pause(0.4)
                    await bench.workers.wait_for_complete()
                    await pilot.pause()
                    await act(bench, pilot)

        asyncio.run(run())

    @staticmethod
    def said(bench: LadderApp) -> str:
        return bench.status_line.message[0] if bench.status_line.message else ""

    def test_another_phone_that_was_chosen_before_an_edit_is_that_of_the_edited_plan(self) -> None:
        phones = "phones: {plain: {}, stubborn: {back at root: stay}}\n"
        self.path.write_text(ONE + phones)

        async def act(bench: LadderApp, pilot: Pilot[None]) -> None:
            await pilot.press("v")
            await pilot.pause()
            assert isinstance(bench.screen, ListDialog)
            bench.document.edit_text(lambda _: TWO + phones, "an edit while the list is open")
            edited = bench.plan
            await pilot.press(*"stubborn", "enter")
            await pilot.pause()
            self.assertEqual((bench.plan.phone, bench.plan.screens), ("stubborn", edited.screens))

        self.on_the_bench(act)

    def test_what_becomes_of_the_file_is_said_and_what_ctrl_s_does_is_true(self) -> None:
        """Before the first edit and after it."""
        kinds = {
            "gone": "is gone", "folder": "is a folder", "fifo": "is a pipe", "large": "larger than 5 MB",
            "utf-16": "is UTF-16 text", "broken": "cannot be read",
        }  # fmt: skip
        for how, words in kinds.items():
            for edited in (False, True):
                if how == "broken" and edited:
                    continue
                with self.subTest(how, edited=edited):
                    change(self.path, "back", ONE)

                    async def act(
                        bench: LadderApp, pilot: Pilot[None], how: str = how, words: str = words, *, edited: bool = edited
                    ) -> None:
                        if edited:
                            bench.document.edit_text(lambda _: TWO, "an edit")
                        change(self.path, how, ONE)
                        bench.document.look_at_file()
                        self.assertIn(words, self.said(bench))
                        wanted = bench.document.text
                        await pilot.press("ctrl+s")
                        if "ctrl+s writes it there" in self.said(bench):
                            await pilot.press("ctrl+s")
                        if how in {"folder", "fifo"}:
                            self.assertIn("ctrl+e saves it elsewhere", self.said(bench))
                            await pilot.press("q")
                            self.assertTrue(bench.is_running)
                            await pilot.press("ctrl+e", *("ctrl+u", *"other", "enter"))
                            await pilot.pause()
                            self.assertEqual((self.folder / "other").read_text(), wanted)
                            (self.folder / "other").unlink()
                        else:
                            self.assertEqual(self.path.read_text(), wanted, self.said(bench))
                        self.assertFalse(bench.document.unsaved)

                    self.on_the_bench(act)

    def test_a_change_made_elsewhere_is_an_edit_that_can_be_undone(self) -> None:
        async def act(bench: LadderApp, _pilot: Pilot[None]) -> None:
            self.path.write_text(TWO)
            bench.document.look_at_file()
            self.assertEqual((bench.document.text, bench.document.unsaved), (TWO, False))
            bench.document.cmd_undo()
            self.assertEqual((bench.document.text, bench.document.unsaved), (ONE, True))

        self.on_the_bench(act)

    def test_a_file_that_is_gone_and_comes_back_unchanged(self) -> None:
        async def act(bench: LadderApp, _pilot: Pilot[None]) -> None:
            self.path.unlink()
            bench.document.look_at_file()
            self.assertTrue(bench.document.unsaved)
            self.path.write_text(ONE)
            bench.document.look_at_file()
            self.assertEqual((self.said(bench), bench.document.unsaved), (f"{self.path.name} is back, unchanged", False))

        self.on_the_bench(act)

    def test_a_change_to_an_included_file_is_taken_up_and_what_is_wrong_with_one_has_its_place(self) -> None:
        self.path.write_text(f"include: hives.yaml\n{ONE.partition('screens')[0]}")
        hives = self.folder / "hives.yaml"
        hives.write_text("screens: {hives: }\n")

        async def act(bench: LadderApp, _pilot: Pilot[None]) -> None:
            hives.write_text("screens: {hives: , week: }\n")
            bench.document.look_at_file()
            self.assertEqual([screen.name for screen in bench.plan.screens], ["hives", "week"])
            hives.write_text("screens: {hives: {moves: [{when: tap x, do: push weak}]}}\n")
            bench.document.look_at_file()
            self.assertIn('hives.yaml:1:50: there is no screen "weak"', self.said(bench))
            hives.unlink()
            bench.document.look_at_file()
            self.assertIn('"hives.yaml": there is no such file', self.said(bench))
            bench.document.cmd_save()
            self.assertEqual(hives.read_text(), "screens: {hives: , week: }\n")

        self.on_the_bench(act)

    def test_the_editor_begins_at_the_move_of_the_step_and_what_it_saves_is_taken_up(self) -> None:
        script = self.folder / "editor"
        script.write_text(f"#!/bin/sh\necho $1 > {self.folder}/called\nsed -i s/push/replace/ $2\n")
        script.chmod(0o755)

        async def act(bench: LadderApp, _pilot: Pilot[None]) -> None:
            with (
                patch.dict(os.environ, {"VISUAL": "", "EDITOR": str(script)}),
                patch.object(bench, "suspend", contextlib.nullcontext),
            ):
                bench.document.cmd_editor()
                self.assertEqual((self.folder / "called").read_text().strip(), "+1")
                self.assertEqual(bench.document.text, ONE.replace("push", "replace", 1))
            with (
                patch.dict(os.environ, {"VISUAL": "", "EDITOR": str(self.folder / "none")}),
                patch.object(bench, "suspend", contextlib.nullcontext),
            ):
                bench.document.cmd_editor()
                self.assertIn("cannot be run: No such file or directory", self.said(bench))
            bench.document.edit_text(lambda text: text + "# more\n", "an edit")
            bench.document.cmd_editor()
            self.assertEqual(self.said(bench), "save your edits first, with ctrl+s")

        self.on_the_bench(act)

    def test_the_editor_opens_the_code_of_the_app_where_the_plan_says_where_it_is(self) -> None:
        script = self.folder / "editor"
        script.write_text(f'#!/bin/sh\necho "$@" > {self.folder}/called\n')
        script.chmod(0o755)
        self.path.write_text(ONE.replace("  hives: {", "  hives: {code: 'src/Hives:41', "))

        async def act(bench: LadderApp, pilot: Pilot[None]) -> None:
            with (
                patch.dict(os.environ, {"VISUAL": "", "EDITOR": str(script)}),
                patch.object(bench, "suspend", contextlib.nullcontext),
            ):
                await pilot.press("r", "1", "E")
                await pilot.press("down", "enter")
                await pilot.pause()
                self.assertEqual((self.folder / "called").read_text().strip(), "+41 src/Hives")

        self.on_the_bench(act)

    def test_a_read_only_plan_is_asked_about(self) -> None:
        async def act(bench: LadderApp, pilot: Pilot[None]) -> None:
            self.path.chmod(0o444)
            bench.document.look_at_file()
            bench.document.edit_text(lambda _: TWO, "an edit")
            await pilot.press("ctrl+s")
            self.assertIn("is read-only; ctrl+s again", self.said(bench))
            self.assertEqual(self.path.read_text(), ONE)
            await pilot.press("ctrl+s")
            self.assertEqual((self.path.read_text(), stat.S_IMODE(self.path.stat().st_mode)), (TWO, 0o444))

        self.on_the_bench(act)

    def left(self, on_disk: str) -> None:
        """Leave edits as a program does that was killed."""
        self.memory.keep_unsaved(self.path, TWO, on_disk)
        kept = next((self.folder / "state").glob("unsaved-*"))
        kept.rename(kept.with_name(kept.name.replace(f"-{os.getpid()}-", "-999999999-")))
        kept = next((self.folder / "state").glob("unsaved-*"))
        kept.write_text(kept.read_text().replace(f'"process":{os.getpid()}', '"process":999999999'))

    def test_edits_that_were_left_are_offered_until_somebody_decides(self) -> None:
        self.left(ONE)

        async def later(bench: LadderApp, pilot: Pilot[None]) -> None:
            self.assertIsInstance(bench.screen, ListDialog)
            await pilot.press("escape")
            bench.document.edit_text(lambda _: THREE, "another edit")
            await pilot.press("q", "q")

        async def take(bench: LadderApp, pilot: Pilot[None]) -> None:
            await pilot.press("enter")
            await pilot.pause()
            self.assertEqual((bench.document.text, bench.document.unsaved), (TWO, True))
            self.assertEqual(self.path.read_text(), ONE)
            self.assertIsNone(self.memory.left(self.path))

        self.on_the_bench(later)
        self.assertIsNotNone(self.memory.left(self.path))
        self.on_the_bench(take)

    def test_a_change_made_meanwhile_is_shown_before_edits_go_over_it(self) -> None:
        self.left(ONE)
        self.path.write_text(THREE)

        async def act(bench: LadderApp, pilot: Pilot[None]) -> None:
            rows = "\n".join(strip.text for strip in bench.screen._compositor.render_strips())
            for words in ("the file has changed since", "this overwrites the changes made since", "-# another", "+  hives"):
                self.assertIn(words, rows)
            await pilot.press("down", "enter")
            await pilot.pause()
            self.assertEqual(bench.document.text, THREE)

        self.on_the_bench(act)
        self.assertEqual((self.path.read_text(), self.memory.left(self.path)), (THREE, None))

    def test_where_edits_cannot_be_kept_it_is_said_once(self) -> None:
        (self.folder / "file").write_text("")
        self.memory = StateDir(self.folder / "file" / "state")

        async def act(bench: LadderApp, _pilot: Pilot[None]) -> None:
            bench.document.edit_text(lambda _: TWO, "an edit")
            self.assertIn("unsaved edits are not backed up", self.said(bench))
            bench.document.edit_text(lambda _: THREE, "an edit")
            self.assertNotIn("kept nowhere", self.said(bench))

        self.on_the_bench(act)

    def test_leaving_asks_again_after_another_edit(self) -> None:
        async def act(bench: LadderApp, pilot: Pilot[None]) -> None:
            for text in (TWO, THREE):
                bench.document.edit_text(lambda _, text=text: text, "an edit")  # type: ignore[misc]
                await pilot.press("q")
                self.assertTrue(bench.is_running)
                self.assertIn("unsaved edits", self.said(bench))

        self.on_the_bench(act)

    def test_an_editor_that_cannot_be_understood(self) -> None:
        async def act(bench: LadderApp, pilot: Pilot[None]) -> None:
            for editor, words in (("vi 'open", "is not a valid command"), (" ", "is empty")):
                with patch.dict(os.environ, {"VISUAL": "", "EDITOR": editor}):
                    await pilot.press("E")
                    self.assertIn(words, self.said(bench))

        self.on_the_bench(act)

    def test_a_mistake_of_our_own_keeps_the_edits(self) -> None:
        async def act(bench: LadderApp, pilot: Pilot[None]) -> None:
            bench.document.edit_text(lambda _: TWO, "an edit")
            shutil.rmtree(self.folder / "state")
            with patch.object(bench, "cmd_theme", side_effect=RuntimeError("nobody foresaw this")):
                await pilot.press("t")

        with self.assertRaisesRegex(RuntimeError, "nobody foresaw"):
            self.on_the_bench(act)
        kept = next((self.folder / "state").glob("unsaved-*"))
        self.assertEqual(self.memory._read(kept.name, UnsavedEdits).text, TWO)  # type: ignore[union-attr]
