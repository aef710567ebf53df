"""Make the pictures of the documents: each view from the demo, as PNG, in a folder that is named.

The application runs without a terminal; what it would show is drawn cell by cell, 8x16 points each, in the monospaced font that
comes with the plotting library.
"""

from __future__ import annotations

import asyncio
import shlex
import sys
from pathlib import Path
from typing import TYPE_CHECKING

from matplotlib import get_data_path
from PIL import Image, ImageDraw, ImageFont
from rich.color import Color

from wise_ladder.app.application import LadderApp
from wise_ladder.demo import combfield
from wise_ladder.drawings import draw_map, draw_time
from wise_ladder.plan.loader import read_file, read_plan
from wise_ladder.walks import run_walk
from wise_ladder.walks.reply_branches import replies_of, with_reply
from wise_ladder.walks.tape import Tape

if TYPE_CHECKING:
    from rich.style import Style

CELL = (8, 16)
START = "start with a session that is valid"
FONTS = Path(get_data_path()) / "fonts" / "ttf"
TO_HIVE = ("r", "n", "n", "1", "1", "1", "1", "1")
TOGGLE = ("X", "slash", *"hive", "space", *"frames", "space", *"replace", "space", *"tap", "enter", "slash", "ctrl+u", "enter")
FAULT = "frames: tap hive look: push"
STAND_IN = tuple(shlex.join([sys.executable, "-m", "wise_ladder", "stand-in", str(combfield()), "--fault", FAULT]))
# Besides keys: "ran" waits for all workers, "found" sweeps until a rule is known to be broken, "stop" stops the sweep, "swept"
# waits for its end.
PICTURES: tuple[tuple[str, tuple[int, int], tuple[str, ...]], ...] = (
    ("climb-ink", (160, 50), (*TO_HIVE, "2", "2", "2")),
    ("climb-map", (160, 50), ("R", "swept", "C")),
    ("seen-ink", (160, 50), ("W", "slash", *"25", "enter", "S")),
    (
        "seen-two",
        (160, 50),
        ("t", "W", "slash", *"that", "space", *"is", "space", *"valid", "enter", "S", "equals_sign", *"expired", "enter"),
    ),
    ("path", (160, 50), (*TO_HIVE, "ctrl+g", *"hive", "space", *"beneath", "space", *"hive", "enter")),
    ("climb-paper", (160, 50), (*TO_HIVE, "4", "3", "1", "t")),
    ("trials-ink", (160, 50), (*TO_HIVE, "2", "o", "equals_sign", "ran")),
    ("climb-why", (160, 50), (*TO_HIVE[:-2], "y")),
    ("crossings-ink", (160, 50), TOGGLE),
    ("crossings-paper", (160, 50), ("t", *TOGGLE, "e")),
    ("crossings-back", (160, 50), ("R", "swept", "X", "B", "n")),
    ("walks-ink", (160, 50), ("r", "W", *["down"] * 5, "right", "down", "down")),
    ("walks-app", (160, 50), ("W", "A", "down", *STAND_IN, "enter", "ran", "n")),
    ("rules-ink", (160, 50), ("R", "swept")),
    ("rules-phone", (160, 50), ("t", "R", "swept", "down")),
    ("rules-80x24", (80, 24), ("R", "found", "stop")),
    ("climb-80x24", (80, 24), (*TO_HIVE, "2", "1")),
)
# Lines: how far they reach left, up, right and down from the middle of the cell, and how thick they are.
LINES = {
    "─": (1, 0, 1, 0, 1), "│": (0, 1, 0, 1, 1), "╮": (1, 0, 0, 1, 1), "╯": (1, 1, 0, 0, 1), "━": (1, 0, 1, 0, 2),
    "┃": (0, 1, 0, 1, 2), "┓": (1, 0, 0, 1, 2), "┛": (1, 1, 0, 0, 2), "├": (0, 1, 1, 1, 1), "┬": (1, 0, 1, 1, 1),
    "╰": (0, 1, 1, 0, 1),
}  # fmt: skip
HALVES = {"▀": (0, 0, 8, 8), "▄": (0, 8, 8, 16), "▎": (0, 0, 2, 16), "▐": (4, 0, 8, 16), "▌": (0, 0, 4, 16)}


async def picture(name: str, size: tuple[int, int], keys: tuple[str, ...], folder: Path) -> None:
    """Run the demo, type keys, and write what is on the screen."""
    plan, text = read_file(combfield())
    bench = LadderApp(plan, combfield(), text, example=True)
    async with bench.run_test(size=size) as pilot:
        for key in keys:
            if key == "found":
                while bench.sweep_runner.standing is None or not bench.sweep_runner.standing.broken:
                    if not bench.sweep_runner.running:
                        bench.sweep_runner.press()
                    await pilot.pause(0.2)
            elif key == "ran":
                await bench.workers.wait_for_complete()
                await pilot.pause()
            elif key == "swept":
                while bench.sweep_runner.running or bench.sweep_runner.standing is None:
                    await pilot.pause(0.2)
            elif key == "stop":
                if bench.sweep_runner.running:
                    bench.sweep_runner.press()
            else:
                await pilot.press(key)
        await pilot.pause()
        if keys[-1] != "found":
            await bench.workers.wait_for_complete()
        await pilot.pause()
        rows = [list(strip) for strip in bench.screen._compositor.render_strips()]  # noqa: SLF001 - no public way to the cells
    image = Image.new("RGB", (size[0] * CELL[0], size[1] * CELL[1]))
    draw = ImageDraw.Draw(image)
    fonts = {
        bold: ImageFont.truetype(str(FONTS / f"DejaVuSansMono{'-Bold' if bold else ''}.ttf"), 13) for bold in (False, True)
    }
    for y, row in enumerate(rows):
        x = 0
        for segment in row:
            for char in segment.text:
                cell(draw, x * CELL[0], y * CELL[1], char, segment.style, fonts)
                x += 1
    image.save(folder / f"{name}.png", optimize=True)


def cell(
    draw: ImageDraw.ImageDraw, x: int, y: int, char: str, style: Style | None, fonts: dict[bool, ImageFont.FreeTypeFont]
) -> None:
    """Draw one cell: halves and boards as rectangles, so that they meet without a seam."""
    colour, ground = (
        (paint.get_truecolor() if isinstance(paint, Color) else default)
        for paint, default in ((style and style.color, (255, 255, 255)), (style and style.bgcolor, (0, 0, 0)))
    )
    draw.rectangle((x, y, x + CELL[0] - 1, y + CELL[1] - 1), fill=tuple(ground))
    if char in HALVES:
        left, top, right, bottom = HALVES[char]
        draw.rectangle((x + left, y + top, x + right - 1, y + bottom - 1), fill=tuple(colour))
    elif char in LINES:
        left, up, right, down, thick = LINES[char]
        draw.rectangle(
            (x + 3 - 3 * left, y + 8 - thick // 2, x + 3 + thick - 1 + 4 * right, y + 8 + (thick - 1) // 2), fill=tuple(colour)
        )
        draw.rectangle((x + 3, y + 8 - 8 * up, x + 3 + thick - 1, y + 8 + 7 * down), fill=tuple(colour))
    elif char != " ":
        draw.text((x, y), char, fill=tuple(colour), font=fonts[bool(style and style.bold)])


def main() -> None:
    """Make every picture in the folder named."""
    folder = Path(sys.argv[1])
    folder.mkdir(parents=True, exist_ok=True)
    for name, size, keys in PICTURES:
        asyncio.run(picture(name, size, keys, folder))
    plan = read_plan(combfield())
    draw_map(plan, folder / "map.svg")
    walk = next(walk for walk in plan.walks if walk.name == START)
    valid = Tape.from_walk(plan, run_walk(plan, walk))
    expired = with_reply(valid, replies_of(valid)[0], "expired")
    assert expired is not None  # noqa: S101 - it is a reply of the plan
    draw_time([("a valid session", valid), ("an expired session", expired)], folder / "time.svg")


if __name__ == "__main__":
    main()
