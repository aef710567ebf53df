"""Any key at any time: the bench takes what comes, in both views, over every sheet, at every size."""

import asyncio
import contextlib
import random
import shutil
import tempfile
import unittest
from pathlib import Path

from wise_ladder.app.actions import ACTIONS, TAP_KEYS
from wise_ladder.app.bench import Bench
from wise_ladder.app.remembering import Memory
from wise_ladder.demo import combfield, gallery
from wise_ladder.plan.reading import read_plan

KEYS = [key for action in ACTIONS for key in action.keys if action.name not in {"quit", "editor"}]
TYPED = ["enter", "escape", "tab", "down", "up", "backspace", "space", "semicolon", "colon", "equals_sign", *"aehilnoprstx17"]


class AnyKey(unittest.TestCase):
    async def typed(self, seed: int, folder: Path) -> None:
        chance = random.Random(seed)
        mine = folder / "mine.ladder.yaml"
        shutil.copy(chance.choice([combfield(), *(fault.plan for fault in gallery())]), mine)
        bench = Bench(read_plan(mine), mine, example=False, memory=Memory(folder / "state"))
        async with bench.run_test(size=chance.choice([(160, 50), (80, 24), (40, 10)])) as pilot:
            await pilot.press("r")
            for _ in range(100):
                view = [*KEYS, *TAP_KEYS, *TAP_KEYS, "n", "b", "enter"]
                await pilot.press(chance.choice(TYPED if len(bench.screen_stack) > 1 else view))
        read_plan(mine)

    def test_whatever_is_typed(self) -> None:
        for seed in range(3):
            with self.subTest(seed), tempfile.TemporaryDirectory() as folder, contextlib.chdir(folder):
                asyncio.run(self.typed(seed, Path(folder)))


if __name__ == "__main__":
    unittest.main()
