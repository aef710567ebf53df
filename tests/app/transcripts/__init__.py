"""Transcripts: keys, and the screen after them, of the whole application without a terminal.

`python -m tests.app.transcripts` writes the screens of all transcripts anew, for somebody to look at.
"""

from __future__ import annotations

import asyncio
import contextlib
import re
import shutil
import tempfile
from pathlib import Path
from typing import NamedTuple
from zlib import crc32

from textual.widgets import Input

from wise_ladder.app.application import LadderApp
from wise_ladder.app.persistence import StateDir
from wise_ladder.demo import gallery
from wise_ladder.plan.loader import read_file

FOLDER = Path(__file__).parent
HEAD = re.compile(r"^plan (?P<plan>.+), (?P<width>\d+)x(?P<height>\d+)$")
CLICK = re.compile(r"^click:(\d+),(\d+)$")
VARIES = re.compile(
    r" *\d+%$|(?<=time     )[\d.]+ s|(?<=run in )[\d.]+ m?s|(?<=states, )[\d.]+ s|[\d,]+ +(?=states a second)|/tmp/\w+"
)
"""What differs from run to run: how long something took, and the folder. What the clock of the model says is not masked."""


class Transcript(NamedTuple):
    """A plan by its name, the size of the screen in cells, and what is pressed, with what is seen after it."""

    plan: str
    width: int
    height: int
    steps: list[tuple[str, list[str]]]


def transcripts() -> list[Path]:
    """List the transcripts."""
    return sorted(FOLDER.glob("*.txt"))


def read(path: Path) -> Transcript:
    """Read a transcript: a head, then `> KEYS` with the screen below it, again and again."""
    head, *parts = re.split(r"^> ", path.read_text(encoding="utf-8"), flags=re.MULTILINE)
    match = HEAD.match(head.strip())
    assert match is not None, f"{path.name} begins with plan NAME, 80x24"
    steps = []
    for part in parts:
        keys, _, screen = part.partition("\n")
        steps.append((keys, screen.rstrip("\n").splitlines()))
    return Transcript(match["plan"], int(match["width"]), int(match["height"]), steps)


def write(path: Path, was: Transcript, screens: list[list[str]]) -> None:
    """Write a transcript with other screens."""
    parts = [f"> {keys}\n" + "\n".join(screen) for (keys, _), screen in zip(was.steps, screens, strict=True)]
    path.write_text("\n\n".join([f"plan {was.plan}, {was.width}x{was.height}", *parts]) + "\n", encoding="utf-8")


def replay(transcript: Transcript) -> list[list[str]]:
    """Press the keys; return what is on the screen after each line of them, and a number that stands for its colours.

    `text:` types what follows it, `click:COLUMN,ROW` clicks.
    """
    with tempfile.TemporaryDirectory() as folder, contextlib.chdir(folder):
        return asyncio.run(_replay(transcript, Path(folder)))


async def _replay(transcript: Transcript, folder: Path) -> list[list[str]]:
    path = folder / f"{transcript.plan}.ladder.yaml"
    pair = next((pair for pair in gallery() if pair.name == transcript.plan), None)
    shutil.copy(FOLDER / path.name if pair is None else pair.faulty, path)
    plan, text = read_file(path)
    app = LadderApp(plan, path, text, example=False, memory=StateDir(folder / "state"))
    screens = []
    async with app.run_test(size=(transcript.width, transcript.height)) as pilot:
        while not (app.document.results or not plan.walks) or not (app.sweep_runner.standing or not plan.rules):
            await pilot.pause(0.02)
        await _settled(app)
        for keys, _ in transcript.steps:
            typed = keys.removeprefix("text:")
            for key in typed if typed != keys else keys.split():
                if match := CLICK.match(key):
                    await pilot.click(offset=(int(match[1]), int(match[2])))
                else:
                    await pilot.press({" ": "space"}.get(key, key))
            screens.append(await _settled(app))
    return screens


async def _settled(app: LadderApp) -> list[str]:
    """Wait until all work is done and two looks in a row are equal; return the lines of the screen."""
    before: list[str] = []
    for _ in range(200):
        await app.workers.wait_for_complete()
        for typed in app.screen.query(Input):
            # A cursor that blinks has two colours.
            typed.cursor_blink = False
        await asyncio.sleep(0.02)
        seen = [VARIES.sub("#", line) for line in _lines(app)]
        if seen == before and not app.workers._workers:
            return seen
        before = seen
    raise TimeoutError("the screen does not come to rest")


def _lines(app: LadderApp) -> list[str]:
    strips = app.screen._compositor.render_strips(app.size)
    lines = [strip.text.rstrip() for strip in strips]
    alike = [strip.simplify() for strip, line in zip(strips, lines, strict=True) if not VARIES.search(line)]
    inks = "\n".join(f"{segment.style} {len(segment.text)}" for strip in alike for segment in strip)
    return [*lines, f"colours {crc32(inks.encode()):08x}"]
