"""Unsaved edits of a program that ended unexpectedly, offered at the next start; and other processes with the same plan."""

from __future__ import annotations

import time
from difflib import unified_diff
from typing import TYPE_CHECKING

from rich.text import Text

from wise_ladder.app import messages
from wise_ladder.plan.files import clear_leftovers
from wise_ladder.plan.plan_files import plan_paths

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.document import Document
    from wise_ladder.app.host import Host
    from wise_ladder.app.palette import Palette
    from wise_ladder.app.persistence import Left, Open

MAX_LINES = 30
"""So many lines of a difference are shown."""


def offer_left(host: Host, document: Document, is_open: Callable[[], bool]) -> None:
    """Report other processes with the same plan, and offer unsaved edits of a program that ended unexpectedly.

    A thread of its own looks for them: a disk may take its time, and a key must not.
    """
    memory = host.state_dir

    def look() -> None:
        memory.clear_leftovers()
        for path in plan_paths(document.path, document.text):
            clear_leftovers(path.parent, path.name)
        others, left = memory.opened(document.path), memory.left(document.path)
        host.call_later(_offer, host, document, is_open, others, left)

    host.run_worker(look, thread=True, group="left")


def _offer(host: Host, document: Document, is_open: Callable[[], bool], others: list[Open], left: Left | None) -> None:
    from wise_ladder.app.dialogs.list_dialog import ListDialog, ListItem  # noqa: PLC0415

    memory = host.state_dir
    if not is_open():
        return
    if others and not document.example:
        began = time.strftime("%H:%M", time.localtime(others[0].since))
        host.show_message(
            messages.OPEN_ELSEWHERE.format(file=document.path.name, process=others[0].process, began=began), wrong=True
        )
    if left is None:
        return
    if left.unsaved.text == document.text:
        memory.drop_left(left)
        return
    changed = left.unsaved.on_disk != document.text
    choices = [
        ListItem("restore them", messages.RESTORE_OVERWRITES if changed else messages.RESTORE_UNSAVED, True),
        ListItem("discard them", messages.DISCARD_EDITS, False),
    ]

    def chosen(wanted: bool | str | None) -> None:
        if wanted is False or (wanted is True and document.take_up_unsaved(left.unsaved.text)):
            memory.drop_left(left)

    title = (messages.EDITS_LEFT_CHANGED if changed else messages.EDITS_LEFT).format(file=document.path.name)
    shown = _differences(document.text, left.unsaved.text, host.palette)
    host.push_screen(ListDialog(title, choices, more=lambda _: shown, soft=host.palette.soft), chosen)


def _differences(now: str, then: str, palette: Palette) -> Text:
    """Show what taking up a text would change, line by line."""
    text = Text()
    lines = [*unified_diff(now.splitlines(), then.splitlines(), lineterm="", n=1)][2:]
    for line in lines[:MAX_LINES]:
        if not line.startswith("@@"):
            text.append(f"{line}\n", style={"+": palette.came, "-": palette.went}.get(line[:1], palette.soft))
    if len(lines) > MAX_LINES:
        text.append(f"{len(lines) - MAX_LINES} more lines")
    return text
