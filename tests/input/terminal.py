"""A run of random input in a real terminal: `python -m tests.input.terminal SEED [KEYS]` runs one and tells what it found."""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
from pathlib import Path
from random import Random
from typing import cast

from tests.input.drawing import Put, change, draw, plan_for
from tests.screen.terminal import PATIENCE, Terminal

NAMES = {
    "enter": "Enter", "escape": "Escape", "tab": "Tab", "up": "Up", "down": "Down", "left": "Left", "right": "Right", "home": "Home",
    "end": "End", "pageup": "PPage", "pagedown": "NPage", "backspace": "BSpace", "delete": "DC", "insert": "IC", "space": "Space",
    "full_stop": ".", "plus": "+", "slash": "/", "colon": ":", "equals_sign": "=", "ampersand": "&", "less_than_sign": "<",
    "greater_than_sign": ">", "question_mark": "?", "shift+tab": "BTab", "shift+left": "S-Left", "ctrl+home": "C-Home",
}  # fmt: skip


def run(seed: int, keys: int = 2500) -> list[str]:
    """Put in so many keys, with another start where one of them leaves; return what was wrong, nothing where all went well."""
    random = Random(seed)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        path = plan_for(random, folder)
        text, done = path.read_text(), 0
        (folder / "editor").write_text("#!/bin/sh\nexit 0\n")
        (folder / "editor").chmod(0o755)
        while done < keys:
            change(path, "back", text)
            terminal = Terminal([sys.executable, "-m", "wise_ladder", "open", str(path)], 120, 40, folder)
            try:
                terminal.wait("Wise Ladder")
                done += _input(random, terminal, path, text, keys - done)
                change(path, "back", text)
                screen = _left(terminal)
                details = [kept.read_text()[-1500:] for kept in (folder / "state").rglob("bug-*.txt")]
                fine = terminal.ended == "ended with 0" and "Traceback" not in screen
                wrong = [] if fine else [f"{terminal.ended or 'it did not end'}: {details} {screen.strip()}"]
                wrong += [f"the terminal is left dirty: {flags}" for flags in _dirty(terminal)]
            except (AssertionError, subprocess.SubprocessError) as error:
                wrong = [str(error)]
            finally:
                terminal.close()
            if wrong:
                return [f"seed {seed}, after {done} keys: {words}"[:3000] for words in wrong]
    return []


def _input(random: Random, terminal: Terminal, path: Path, text: str, keys: int) -> int:
    """Put in so many keys, or fewer where the program ends; return how many."""
    done = 0
    while done < keys:
        put = draw(random)
        done += len(put.what) if put.kind == "keys" else 0
        _put(terminal, put, path, text)
        if terminal.ended:
            break
    return max(done, 1)


def _left(terminal: Terminal) -> str:
    """Leave, and return the last screen. A sheet may be open, and edits that are not saved are asked about.

    What follows Escape at once is one key with it for the program, hence the pauses.
    """
    until = time.monotonic() + 3 * PATIENCE
    terminal.resize(120, 40)
    while not terminal.ended and time.monotonic() < until:
        for key in ("Escape", "C-q", "C-q"):
            terminal.keys(key)
            time.sleep(0.3)
    return terminal.screen()


def _put(terminal: Terminal, put: Put, path: Path, text: str) -> None:
    match put.kind:
        case "keys":
            for key in cast("tuple[str, ...]", put.what):
                named = NAMES.get(key) or (f"C-{key[5:]}" if key.startswith("ctrl+") else key.upper() if len(key) > 1 else "")
                terminal.keys(*((named,) if named else ("-l", key)))
        case "click":
            across, down, times = cast("tuple[float, float, int]", put.what)
            for _ in range(times):
                terminal.click(int(across * 120) + 1, int(down * 40) + 1)
        case "paste":
            terminal.paste(str(put.what[0])[:100_000].replace("\0", ""))
        case "size":
            width, height = cast("tuple[int, int]", put.what)
            terminal.resize(max(width, 2), max(height, 2))
        case "file":
            change(path, str(put.what[0]), text)


def _dirty(terminal: Terminal) -> list[str]:
    """What a terminal still has switched on after the program has ended: the other screen, the mouse, no cursor."""
    found = terminal.flags("#{alternate_on}#{mouse_any_flag}#{cursor_flag}")
    return [] if found == "001" else [found]


if __name__ == "__main__":
    print("\n".join(run(int(sys.argv[1]), *map(int, sys.argv[2:3]))) or "nothing wrong")
