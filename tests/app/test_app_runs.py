"""Walks on the running app, in the application: asked for, shown beside the plan's, gone with an edit."""

import asyncio
import contextlib
import shlex
import sys
import tempfile
import unittest
from collections.abc import Awaitable, Callable
from pathlib import Path

from textual.pilot import Pilot

from wise_ladder.app.application import LadderApp
from wise_ladder.app.persistence import StateDir
from wise_ladder.app.walks.commands import WalksCommands
from wise_ladder.app.walks.view import WalksView
from wise_ladder.plan.loader import read_file

HIVES = Path(__file__).parent.parent.parent / "examples" / "hives.ladder.yaml"
APP = shlex.join([sys.executable, str(HIVES.with_name("adapter.py"))])


class OnTheApp(unittest.TestCase):
    def walks(self, typed: tuple[str, str], act: Callable[[LadderApp, Pilot[None], WalksView], Awaitable[None]]) -> None:
        """Open Walks, type where the app is, wait for all runs, and look."""

        async def run() -> None:
            plan, text = read_file(HIVES)
            app = LadderApp(plan, HIVES, text, example=False, memory=StateDir(Path(self.folder)))
            async with app.run_test(size=(120, 40)) as pilot:
                await app.workers.wait_for_complete()
                await pilot.press("W")
                while not app.document.results:
                    await pilot.pause(0.1)
                await pilot.pause(0.3)
                view = app.view
                assert isinstance(view, WalksView)
                assert isinstance(view.commands, WalksCommands)
                view.commands.cmd_on_app()
                assert view.commands.app_runs is not None
                self.said = view.commands.app_runs._take(list(typed))
                await app.workers.wait_for_complete()
                await pilot.pause(0.1)
                await act(app, pilot, view)

        asyncio.run(run())

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = folder.name
        self.enterContext(contextlib.chdir(folder.name))

    def test_the_walk_that_differs_fails_until_the_plan_changes(self) -> None:
        async def act(app: LadderApp, _pilot: Pilot[None], view: WalksView) -> None:
            selection = view.selection
            self.assertEqual([walk.name for walk in app.plan.walks if selection.fails(walk.name)], ["ten toggles, one Back"])
            result = selection.result_of("ten toggles, one Back")
            assert result is not None
            assert result.app is not None
            self.assertIn("frames id 7   hive id 7", "\n".join(result.app.beside))
            app.document.edit_text(lambda text: text + "# an edit\n", "an edit")
            view.refresh_view()
            self.assertFalse(any(selection.fails(walk.name) for walk in app.plan.walks))

        self.walks(("", f"{APP} --bug 'toggle stacks'"), act)
        self.assertEqual(self.said, "")

    def test_an_app_that_is_not_there_is_told_and_the_plan_stays(self) -> None:
        async def act(app: LadderApp, _pilot: Pilot[None], view: WalksView) -> None:
            message = app.status_line.message or ("", False)
            self.assertIn("cannot be run", message[0])
            self.assertIsNone(view.selection.on_app)

        self.walks(("", "no-such-program"), act)

    def test_what_is_typed_wrongly_is_told_in_the_dialog(self) -> None:
        async def act(_app: LadderApp, _pilot: Pilot[None], view: WalksView) -> None:
            self.assertIsNone(view.selection.on_app)

        for typed, words in (
            (("here", ""), "not an address"),
            (("7400", "true"), "not both"),
            (("8.8.8.8:1", ""), "only this machine"),
        ):
            with self.subTest(words):
                self.walks(typed, act)
                self.assertIn(words, self.said)
