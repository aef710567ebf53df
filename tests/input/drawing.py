"""What is put in, drawn by seed: keys, mouse, pastes, sizes, and changes of the file under the application."""

from __future__ import annotations

import os
import shutil
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.app.commands import COMMANDS, TAP_KEYS
from wise_ladder.demo import combfield, gallery

if TYPE_CHECKING:
    from pathlib import Path
    from random import Random

SIZES = ((160, 50), (120, 40), (100, 30), (80, 24), (60, 20), (40, 12), (20, 5), (5, 2), (1, 1))
TYPED = (
    "hives",
    "push diary",
    "tap save",
    "walk",
    "x",
    "1",
    "combfield",
    "go home",
    "wait 1s",
    "ends",
    "é",
    "漢",
    "\u200d",
    "~/nowhere",
    ": [",
)
# The editor is a terminal's own matter, and quitting ends the run: both come seldom.
SELDOM = {"quit", "editor"}
NEVER = {"on_app"}
"""It runs whatever command is typed."""
KEYS = tuple(key for action in COMMANDS if action.name not in SELDOM | NEVER for key in action.keys)
SELDOM_KEYS = tuple(key for action in COMMANDS if action.name in SELDOM for key in action.keys)
OFTEN = (
    *TAP_KEYS * 2,
    "b",
    "enter",
    "enter",
    "escape",
    "escape",
    "tab",
    "up",
    "down",
    "left",
    "right",
    "pageup",
    "pagedown",
    "home",
    "end",
    "backspace",
    "delete",
)
OTHERS = (
    "ctrl+a",
    "ctrl+e",
    "ctrl+k",
    "ctrl+w",
    "ctrl+u",
    "ctrl+v",
    "ctrl+x",
    "shift+tab",
    "f2",
    "f12",
    "insert",
    "space",
    "ctrl+home",
    "shift+left",
)


class Put(NamedTuple):
    """One thing to put in: `keys`, `text` to paste, a click, a `size`, or what is done to the `file`."""

    kind: str
    what: tuple[object, ...]


def draw(random: Random) -> Put:
    """Draw the next thing to put in; most often a few keys."""
    chance = random.random()
    if chance < 0.80:
        return Put("keys", tuple(_key(random) for _ in range(random.choice((1, 1, 1, 2, 3, 8)))))
    if chance < 0.88:
        return Put("keys", tuple(random.choice(TYPED)))
    if chance < 0.94:
        return Put("click", (random.random(), random.random(), random.choice((1, 1, 2))))
    if chance < 0.97:
        return Put("size", random.choice(SIZES))
    if chance < 0.975:
        return Put("paste", (random.choice(("hive\n", "ä", "\x1b[31m", "\0", "push list; ")) * random.choice((1, 50, 20_000)),))
    if chance < 0.995:
        return Put(
            "file",
            (
                random.choice(
                    ("touched", "changed", "broken", "gone", "folder", "large", "utf-16", "fifo", "unreadable", "back")
                ),
            ),
        )
    return Put("keys", (random.choice(SELDOM_KEYS),))


def _key(random: Random) -> str:
    return random.choice(random.choices((OFTEN, KEYS, OTHERS), (5, 5, 1))[0])


def plan_for(random: Random, folder: Path) -> Path:
    """Put a plan into a folder: the demo, or one of the gallery."""
    faults = gallery()
    source = random.choice((combfield(), combfield(), random.choice(faults).faulty, random.choice(faults).fixed))
    path = folder / source.name
    path.write_bytes(source.read_bytes())
    return path


def change(path: Path, how: str, text: str) -> None:
    """Do something to a file that the application has open; `text` is what it held first."""
    if path.is_dir() or how not in {"touched", "changed", "broken"}:
        if path.is_dir():
            shutil.rmtree(path)
        path.unlink(missing_ok=True)
    match how:
        case "gone":
            pass
        case "folder":
            path.mkdir()
        case "fifo":
            os.mkfifo(path)
        case "large":
            path.write_text("# " + "x" * 6_000_000)
        case "utf-16":
            path.write_text(text, encoding="utf-16")
        case "unreadable":
            path.write_text(text)
            path.chmod(0)
        case _ if path.exists() and not path.is_file():
            path.unlink()
            path.write_text(text)
        case "touched":
            path.write_text(text)
        case "changed":
            path.write_text(text + "\n# changed elsewhere\n")
        case "broken":
            path.write_text(text.replace(":", "", 3))
        case _:
            path.write_text(text)
