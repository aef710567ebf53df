"""Edits that were left when a program ended by surprise, offered at the next start; and who else has the plan open."""

from __future__ import annotations

import time
from difflib import unified_diff
from typing import TYPE_CHECKING

from rich.text import Text

from wise_ladder.plan.files import clear_leftovers

if TYPE_CHECKING:
    from wise_ladder.app.application import LadderApp
    from wise_ladder.app.document import Document
    from wise_ladder.app.palette import Palette
    from wise_ladder.app.persistence import Left, Open

MAX_LINES = 30
"""So many lines of a difference are shown."""


def offer_left(bench: LadderApp) -> None:
    """Say who else has the plan open, and offer edits that were left when a program ended by surprise.

    A thread of its own looks for them: a disk may take its time, and a key must not.
    """
    desk, memory = bench.document, bench.state_dir

    def look() -> None:
        memory.clear_leftovers()
        clear_leftovers(desk.path.parent, desk.path.name)
        others, left = memory.opened(desk.path), memory.left(desk.path)
        bench.call_later(_offer, bench, desk, others, left)

    bench.run_worker(look, thread=True, group="left")


def _offer(bench: LadderApp, desk: Document, others: list[Open], left: Left | None) -> None:
    from wise_ladder.app.dialogs.list_dialog import ListDialog, ListItem  # noqa: PLC0415

    memory = bench.state_dir
    if bench.document is not desk:
        return
    if others and not desk.example:
        began = time.strftime("%H:%M", time.localtime(others[0].since))
        bench.show_message(
            f"{desk.path.name} is open in another bench too, process {others[0].process}, since {began}", wrong=True
        )
    if left is None:
        return
    if left.unsaved.text == desk.text:
        memory.drop_left(left)
        return
    changed = left.unsaved.on_disk != desk.text
    choices = [
        ListItem("take them up", "over what was changed meanwhile" if changed else "nothing is saved by that yet", True),
        ListItem("drop them", "the file stays as it is", False),
    ]

    def chosen(wanted: bool | str | None) -> None:
        if wanted is False or (wanted is True and desk.take_up_unsaved(left.unsaved.text)):
            memory.drop_left(left)

    title = f"The last time {desk.path.name} had edits that nobody saved"
    title += ", and the file was changed meanwhile" if changed else ""
    shown = _differences(desk.text, left.unsaved.text, bench.palette)
    bench.push_screen(ListDialog(title, choices, more=lambda _: shown, soft=bench.palette.soft), chosen)


def _differences(now: str, then: str, palette: Palette) -> Text:
    """Show what taking up a text would change, line by line."""
    told = Text()
    lines = [*unified_diff(now.splitlines(), then.splitlines(), lineterm="", n=1)][2:]
    for line in lines[:MAX_LINES]:
        if not line.startswith("@@"):
            told.append(f"{line}\n", style={"+": palette.came, "-": palette.went}.get(line[:1], palette.soft))
    if len(lines) > MAX_LINES:
        told.append(f"{len(lines) - MAX_LINES} lines more")
    return told
