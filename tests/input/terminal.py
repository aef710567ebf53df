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
    """Put in so many keys; return what was wrong, nothing where all went well."""
    random = Random(seed)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        path = plan_for(random, folder)
        text, done, last = path.read_text(), 0, ""
        (folder / "editor").write_text("#!/bin/sh\nexit 0\n")
        (folder / "editor").chmod(0o755)
        terminal = Terminal([sys.executable, "-m", "wise_ladder", "open", str(path)], 120, 40, folder)
        try:
            terminal.wait("does not run")
            while done < keys and "ended with" not in last:
                put = draw(random)
                done += len(put.what) if put.kind == "keys" else 0
                _put(terminal, put, path, text)
                # Now and then it must have come to rest, or it hangs.
                last = terminal.screen() if random.random() < 0.1 else last
            change(path, "back", text)
            # A sheet may be open, and edits that are not saved are asked about; what follows Escape at once is one key with it.
            until = time.monotonic() + PATIENCE
            while "ended with" not in (last := terminal.screen()) and time.monotonic() < until:
                for key in ("Escape", "C-q", "C-q"):
                    terminal.keys(key)
                    time.sleep(0.3)
            wrong = [] if "ended with 0" in last and "Traceback" not in last else [f"seed {seed}: {last.strip()}"]
            return wrong + [f"seed {seed}: the terminal is left dirty: {flags}" for flags in _dirty(terminal)]
        except (AssertionError, subprocess.SubprocessError) as error:
            return [f"seed {seed}: {str(error)[-800:]}"]
        finally:
            terminal.close()


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
            terminal.keys("-l", f"\x1b[200~{str(put.what[0])[:100_000].replace(chr(0), '').replace(chr(27), '')}\x1b[201~")
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
