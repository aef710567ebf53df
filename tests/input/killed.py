"""The application is killed while it edits and saves: nothing is lost, nothing is half, and nothing is left behind."""

from __future__ import annotations

import signal
import subprocess
import sys
import tempfile
from pathlib import Path
from random import Random
from threading import Timer

from wise_ladder.app.persistence import StateDir
from wise_ladder.demo import combfield
from wise_ladder.plan.files import clear_leftovers

LINES = 2_000
EDITOR = """
import asyncio, sys
from pathlib import Path
from random import Random
from tests.input.killed import text_of
from wise_ladder.app.application import LadderApp
from wise_ladder.app.persistence import StateDir
from wise_ladder.plan.loader import read_file

async def work(path, random):
    plan, text = read_file(path)
    bench = LadderApp(plan, path, text, example=False, memory=StateDir(path.parent / "state"))
    async with bench.run_test():
        print("ready", flush=True)
        for number in range(1, 1_000_000):
            bench.document.edit_text(lambda _: text_of(number), "an edit")
            print("edited", number, flush=True)
            if random.random() < 0.5:
                bench.document.cmd_save()
                print("saved", number, flush=True)
            await asyncio.sleep(0)

asyncio.run(work(Path(sys.argv[1]), Random(int(sys.argv[2]))))
"""


def text_of(number: int) -> str:
    """The text of the plan after so many edits."""
    return combfield().read_text() + f"# edit {number}\n" * LINES


def run(seed: int) -> list[str]:
    """Kill it once; return what was wrong, nothing where all went well."""
    random = Random(seed)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        path, state = folder / "mine.ladder.yaml", folder / "state"
        path.write_text(text_of(0))
        program = subprocess.Popen(
            [sys.executable, "-c", EDITOR, str(path), str(seed)], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True
        )
        assert program.stdout is not None
        if program.stdout.readline() != "ready\n":
            return [f"seed {seed}: it did not start: {program.communicate()[1][-300:]}"]
        Timer(random.uniform(0, 0.6), program.send_signal, (signal.SIGKILL,)).start()
        said = [line.split() for line in program.communicate()[0].splitlines() if line.count(" ") == 1]
        edited = max((int(number) for what, number in said if what == "edited"), default=0)
        saved = max((int(number) for what, number in said if what == "saved"), default=0)
        return [f"seed {seed}: {wrong}" for wrong in _wrong(path, state, edited, saved)]


def _wrong(path: Path, state: Path, edited: int, saved: int) -> list[str]:
    wrong = []
    # What was just being done when it was killed may be done or not.
    there = next((number for number in (saved, edited, edited + 1) if path.read_text() == text_of(number)), None)
    if there is None:
        wrong.append(f"the file is half, or an old one: edited {edited}, saved {saved}, its end {path.read_text()[-30:]!r}")
    memory = StateDir(state)
    left = memory.left(path)
    if (
        there is not None
        and edited > there
        and (left is None or left.unsaved.text not in (text_of(edited), text_of(edited + 1)))
    ):
        wrong.append(f"edit {edited} is not offered: {left and left.unsaved.text[-30:]!r}")
    memory.clear_leftovers()
    clear_leftovers(path.parent, path.name)
    hidden = [
        each.name for folder in (path.parent, state) if folder.exists() for each in folder.iterdir() if each.name[0] == "."
    ]
    return wrong + [f"{name} is left" for name in hidden]
