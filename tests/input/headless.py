"""A run of random input without a terminal: `python -m tests.input.headless SEED [KEYS]` runs one and tells what it found."""

from __future__ import annotations

import asyncio
import os
import sys
import tempfile
import traceback
from contextlib import chdir
from pathlib import Path
from random import Random
from typing import TYPE_CHECKING, Any, cast
from unittest.mock import patch

from textual import events
from textual.geometry import Size
from textual.keys import _character_to_key

from tests.input.drawing import Put, change, draw, plan_for
from wise_ladder.app.application import LadderApp
from wise_ladder.app.persistence import StateDir
from wise_ladder.app.plan_list import is_example
from wise_ladder.plan.loader import read_file

if TYPE_CHECKING:
    from textual.app import App

SHARE_OF_PAUSES = 0.12
MOST_SECONDS = 20.0
"""Whatever was put in must be done by then, or the application hangs."""


def run(seed: int, keys: int = 2500) -> list[str]:
    """Put in so many keys and whatever else was drawn between them; return what was wrong, nothing where all went well."""
    try:
        with tempfile.TemporaryDirectory() as folder, chdir(folder), patch.dict(os.environ, {"VISUAL": "", "EDITOR": "true"}):
            asyncio.run(_run(Random(seed), keys, Path(folder)))
    except Exception:  # noqa: BLE001 - whatever it is, it is what was looked for
        return [f"seed {seed}: {traceback.format_exc(limit=-6)}"[-1500:]]
    return []


async def _run(random: Random, keys: int, folder: Path) -> None:
    done = 0
    path = plan_for(random, folder)
    text, memory = path.read_text(), StateDir(folder / "state")
    while done < keys:
        if not path.is_file() or path.stat().st_mode & 0o400 == 0 or path.read_bytes() != text.encode():
            change(path, "back", text)
        plan, found = read_file(path)
        app = LadderApp(plan, path, found, example=is_example(path), memory=memory)
        async with app.run_test(size=(120, 40)) as pilot:
            while done < keys and app.is_running:
                put = draw(random)
                done += len(put.what) if put.kind == "keys" else 0
                _put(app, put, path, text)
                # Most often more comes before this is done.
                rest = pilot.pause() if random.random() < SHARE_OF_PAUSES else asyncio.sleep(0)
                await asyncio.wait_for(rest, MOST_SECONDS)


def _put(app: App[Any], put: Put, path: Path, text: str) -> None:
    match put.kind:
        case "keys":
            for key in cast("tuple[str, ...]", put.what):
                named = key if len(key) > 1 or key.isalnum() else _character_to_key(key)
                character = key if len(key) == 1 else {"space": " "}.get(key)
                _post(app, events.Key(named, character))
        case "click":
            across, down, times = cast("tuple[float, float, int]", put.what)
            x, y = int(across * app.size.width), int(down * app.size.height)
            for kind in (events.MouseDown, events.MouseUp, events.Click) * times:
                _post(app, kind(None, x, y, 0, 0, 1, False, False, False, x, y))
        case "paste":
            _post(app, events.Paste(str(put.what[0])))
        case "size":
            size = Size(*cast("tuple[int, int]", put.what))
            app._driver._size = size  # type: ignore[union-attr]
            app.post_message(events.Resize(size, size))
        case "file":
            change(path, str(put.what[0]), text)
            look = getattr(app, "_look_at_file", None)
            if look is not None:
                app.call_later(look)


def _post(app: App[Any], event: events.Event) -> None:
    assert app._driver is not None
    event.set_sender(app)
    app._driver.send_message(event)


if __name__ == "__main__":
    print("\n".join(run(int(sys.argv[1]), *map(int, sys.argv[2:3]))) or "nothing wrong")
