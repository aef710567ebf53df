"""The real application in a real terminal: keys go in by tmux, the screen is read back. Nothing here sleeps for luck."""

import contextlib
import os
import re
import select
import shlex
import signal
import subprocess
import sys
import tempfile
import termios
import time
import unittest
from itertools import count
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Callable

PATIENCE = 20.0
_NUMBERS = count()


class Terminal:
    """One tmux server of its own with one program in it."""

    def __init__(self, command: list[str], width: int, height: int, folder: Path) -> None:
        """Start the program; its exit code is shown when it ends."""
        self._socket = folder / f"tmux-{next(_NUMBERS)}"
        self.typed = 0
        # All that runs in the terminal holds this pipe open for writing, so its end tells that nothing runs any more.
        alive = self._socket.with_suffix(".alive")
        os.mkfifo(alive)
        self._alive = os.open(alive, os.O_RDONLY | os.O_NONBLOCK)
        self._ended = self._socket.with_suffix(".ended")
        told = f"printf 'ended with %s\\n' $? | tee {shlex.quote(str(self._ended))}"
        program = f"exec 3>{shlex.quote(str(alive))}; {shlex.join(command)}; {told}; exec cat"
        environment = {
            **os.environ,
            "TERM": "xterm-256color",
            "LC_ALL": "C.UTF-8",
            "VISUAL": "",
            "EDITOR": str(folder / "editor"),
            "XDG_STATE_HOME": str(folder / "state"),
            "XDG_CACHE_HOME": str(folder / "cache"),
        }
        environment.pop("TMUX", None)
        self._tmux(
            "-f", os.devnull, "new-session", "-d", "-x", str(width), "-y", str(height), "-c", str(folder), program,
            environment=environment,
        )  # fmt: skip

    def _tmux(self, *words: str, environment: dict[str, str] | None = None) -> str:
        done = subprocess.run(
            ["tmux", "-S", str(self._socket), *words],
            capture_output=True,
            text=True,
            encoding="utf-8",
            env=environment,
            check=True,
        )
        return done.stdout

    def keys(self, *keys: str) -> None:
        """Type keys by their tmux names, or text after `-l`; `typed` counts them."""
        self.typed += sum(map(len, keys[1:])) if keys[0] == "-l" else len(keys)
        self._tmux("send-keys", *keys)

    def raw(self, data: bytes) -> None:
        """Send bytes as they are."""
        self._tmux("send-keys", "-H", *(f"{byte:02x}" for byte in data))

    def paste(self, text: str) -> None:
        """Paste a text, marked as a terminal marks it."""
        buffer = self._socket.with_suffix(".pasted")
        buffer.write_text(text, encoding="utf-8")
        self._tmux("load-buffer", str(buffer))
        self._tmux("paste-buffer", "-p", "-d")

    def screen(self) -> str:
        """Read the whole screen as text."""
        return self._tmux("capture-pane", "-p")

    def wait(self, there: "str | re.Pattern[str] | Callable[[str], bool]") -> str:
        """Wait until a text or a pattern is on the screen, or until a question about it is answered with yes."""
        until = time.monotonic() + PATIENCE
        while time.monotonic() < until:
            screen = self.screen()
            if isinstance(there, re.Pattern):
                done = bool(there.search(screen))
            else:
                done = there in screen if isinstance(there, str) else there(screen)
            if done:
                return screen
            time.sleep(0.02)
        raise AssertionError(f"{there} never came; the screen is\n{self.screen()}")

    @property
    def ended(self) -> str:
        """How the program ended, as it is told on the screen; nothing where it still runs."""
        return self._ended.read_text().strip() if self._ended.exists() else ""

    def flags(self, names: str) -> str:
        """Read what the terminal has switched on, by tmux names."""
        return self._tmux("display-message", "-p", names).strip()

    def press(self, key: str, there: "str | re.Pattern[str] | Callable[[str], bool]") -> str:
        """Type a key and wait for what must come of it."""
        self.keys(key)
        return self.wait(there)

    def resize(self, width: int, height: int) -> None:
        """Give the terminal another size."""
        self._tmux("resize-window", "-x", str(width), "-y", str(height))

    def lose(self) -> None:
        """Wipe what the terminal shows and tell the program that the size has changed, although it has not.

        So it looks to the program where the size is another for a moment and then the old one again.
        """

        def wiped(screen: str) -> bool:
            # The program may be in the middle of drawing.
            if screen.strip():
                self._tmux("send-keys", "-R")
            return not screen.strip()

        self.wait(wiped)
        os.killpg(int(self._tmux("display-message", "-p", "#{pane_pid}")), signal.SIGWINCH)

    def flicker(self) -> None:
        """Wipe what the terminal shows, tell the program another size and, a moment later, the old one."""
        width, height, name = self._tmux("display-message", "-p", "#{pane_width} #{pane_height} #{pane_tty}").split()
        self._tmux("send-keys", "-R")
        line = os.open(name, os.O_RDWR | os.O_NOCTTY)
        try:
            for size in ((int(width) - 9, int(height) - 9), (int(width), int(height))):
                termios.tcsetwinsize(line, size[::-1])
                time.sleep(0.004)
        finally:
            os.close(line)

    def fill(self, text: str, there: "str | re.Pattern[str] | Callable[[str], bool]") -> str:
        """Type a text, letter by letter as a user does, and wait for what must come of it."""
        self.keys("-l", text)
        return self.wait(there)

    def look_at_rules(self, shown: str) -> None:
        """Go to Rules and wait until a rule is known to be broken; on a slow machine the sweep is asked to go on, as a user would."""
        try:
            self.press("R", re.compile(shown))
        except AssertionError:
            self.press("s", re.compile(shown))

    def click(self, column: int, row: int) -> None:
        """Press and release the left button on a cell, counted from 1."""
        self.keys("-l", f"\x1b[<0;{column};{row}M\x1b[<0;{column};{row}m")

    def close(self) -> None:
        """End the server and what runs in it, and wait until it has: a program that is left alone may still be writing."""
        with contextlib.suppress(subprocess.CalledProcessError):
            self._tmux("kill-server")
        with os.fdopen(self._alive, "rb") as alive:
            if not select.select([alive], [], [], PATIENCE)[0]:
                raise AssertionError("the program did not end with its terminal")


class ScreenCase(unittest.TestCase):
    """A test that drives the application; each has a folder of its own."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def start(self, *words: str, width: int = 160, height: int = 50, env: tuple[str, ...] = ()) -> Terminal:
        """Start the program in a terminal; `env` are settings such as NO_COLOR=1."""
        command = [sys.executable, "-m", "wise_ladder", *words]
        terminal = Terminal(["env", *env, *command] if env else command, width, height, self.folder)
        self.addCleanup(terminal.close)
        return terminal
