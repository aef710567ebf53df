"""Proofs beside the sweep: they are shown when they are there, and belong to the plan that is open."""

import asyncio
import tempfile
import unittest
from collections.abc import Awaitable, Callable
from pathlib import Path
from unittest.mock import patch

from textual.pilot import Pilot

from wise_ladder.app.application import LadderApp
from wise_ladder.app.persistence import StateDir
from wise_ladder.app.proof_runner import ProofRunner
from wise_ladder.plan.loader import read_file

PLAN = """\
app: Combfield
start: hives
screens:
  hives: {moves: [{when: tap hive, do: push hive}]}
  hive: {moves: [{when: tap hive, do: push hive once}, {when: tap frames, do: push frames}]}
  frames: {moves: [{when: tap hive, do: push hive}]}
rules: [{rule: no twins}, {rule: depth at most, rungs: 2000}]
"""


class Proofs(unittest.TestCase):
    def in_rules(self, act: Callable[[LadderApp, Pilot[None]], Awaitable[None]]) -> None:
        """Open a plan whose ladder has no limit, and go to Rules."""

        async def run(folder: Path) -> None:
            path = folder / "yard.ladder.yaml"
            path.write_text(PLAN, encoding="utf-8")
            app = LadderApp(read_file(path)[0], path, read_file(path)[1], example=False, memory=StateDir(folder / "state"))
            with (
                patch("wise_ladder.app.proof_runner.proof_folder", lambda: folder / "proofs"),
                patch("wise_ladder.app.sweep_runner.LOOKED_AT", 0.2),
            ):
                async with app.run_test(size=(140, 40)) as pilot:
                    await pilot.press("R")
                    await act(app, pilot)

        # The process that proves ends with the loop, and writes no more then.
        with tempfile.TemporaryDirectory() as folder:
            asyncio.run(run(Path(folder)))

    def test_a_proof_takes_the_place_of_so_many_steps(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None]) -> None:
            await until_proved(app, pilot)
            standing = app.sweep_runner.standing
            assert standing is not None
            twins, depth = standing.verdicts
            self.assertEqual((twins.every_depth, depth.every_depth), (True, False))
            self.assertIn("no twins holds at every depth (proved over", spoken(app))
            await pilot.press("y")
            told = " ".join(str(part.render()) for part in app.screen.query("Static"))
            self.assertIn("Every state that the plan can reach lies in one of", told)

        self.in_rules(act)

    def test_what_is_proved_of_a_plan_is_not_said_of_the_next(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None]) -> None:
            await until_proved(app, pilot)
            before, runner, standing = app.plan, app.sweep_runner.proofs, app.sweep_runner.standing
            assert standing is not None
            bare = tuple(verdict._replace(proof=None) for verdict in standing.verdicts)
            app.document.edit_text(lambda text: text.replace("push hive once", "push hive"), "an edit")
            self.assertIsNot(app.plan, before)
            self.assertNotEqual(runner.added(before, bare), bare)
            self.assertEqual(runner.added(app.plan, bare), bare)

        self.in_rules(act)

    def test_what_is_proved_stays_shown_while_more_is_tried_and_an_edit_ends_that(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None]) -> None:
            await until_proved(app, pilot)
            runner, standing = app.sweep_runner.proofs, app.sweep_runner.standing
            assert standing is not None
            bare = tuple(verdict._replace(proof=None) for verdict in standing.verdicts)
            runner.begin(app.plan, standing.verdicts, 90)
            self.assertTrue(runner.running)
            self.assertNotEqual(runner.added(app.plan, bare), bare)
            app.document.edit_text(lambda text: text.replace("push hive once", "push hive"), "an edit")
            app.sweep_runner.begin()
            self.assertFalse(runner.running)

        self.in_rules(act)

    def test_one_process_proves_plan_after_plan_and_another_takes_its_place_if_it_ends(self) -> None:
        async def act(app: LadderApp, pilot: Pilot[None]) -> None:
            await until_proved(app, pilot)
            runner = app.sweep_runner.proofs
            first = runner.process
            assert first is not None
            app.document.edit_text(lambda text: text.replace("push hive once", "pop"), "an edit")
            app.sweep_runner.begin()
            await until_proved(app, pilot)
            self.assertIs(runner.process, first)
            first.process.kill()
            first.process.wait()
            app.document.edit_text(lambda text: text.replace("do: pop", "do: push frames"), "another edit")
            app.sweep_runner.begin()
            await until_proved(app, pilot)
            self.assertIsNot(runner.process, first)

        self.in_rules(act)

    def test_nothing_is_proved_where_nothing_is_remembered(self) -> None:
        async def run() -> None:
            with tempfile.TemporaryDirectory() as folder:
                path = Path(folder) / "yard.ladder.yaml"
                path.write_text(PLAN, encoding="utf-8")
                app = LadderApp(read_file(path)[0], path, read_file(path)[1], example=False)
                async with app.run_test():
                    self.assertFalse(ProofRunner(app, lambda: None).wants(app.plan, 60))

        asyncio.run(run())


async def until_proved(app: LadderApp, pilot: Pilot[None]) -> None:
    def proved() -> bool:
        standing = app.sweep_runner.standing
        return standing is not None and standing.plan is app.plan and any(verdict.proved for verdict in standing.verdicts)

    # An edit while it still proves would end that, with what was proved so far.
    while not proved() or app.sweep_runner.proofs.running:
        await pilot.pause(0.05)


def spoken(app: LadderApp) -> str:
    return "".join(run.text for run in app.view.status_line.words(app.palette, long=True))


if __name__ == "__main__":
    unittest.main()
