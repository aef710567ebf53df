"""The user's own editor: it opens the plan where the selected part stands, or the app's code where the plan says that it is."""

from __future__ import annotations

import os
import shlex
import subprocess
from typing import TYPE_CHECKING

from textual.app import SuspendNotSupported

from wise_ladder.app import messages
from wise_ladder.plan.values import NO_SPAN, CodePlace, file_of

if TYPE_CHECKING:
    from collections.abc import Callable
    from pathlib import Path

    from wise_ladder.app.host import Host
    from wise_ladder.plan import Plan


def ask_where(host: Host, plan: Plan, path: Path, afterwards: Callable[[], None]) -> None:
    """Open the editor at the selected part of a plan; ask whether there or in the app's code, if the plan says where that is.

    `path`: of the plan's own file; `afterwards`: is called when the editor has ended.
    """
    from wise_ladder.app.dialogs.list_dialog import ListDialog, ListItem  # noqa: PLC0415

    things = host.selected_parts()
    at = things[0].at if things else NO_SPAN
    in_plan = CodePlace(file_of(str(path), at.file), max(at.line, 1))
    code = plan.code_of.get(at)
    if code is None:
        _open(host, in_plan, afterwards)
        return
    places = [ListItem(messages.EDIT_PLAN, in_plan.words, in_plan), ListItem(messages.EDIT_CODE, code.words, code)]
    dialog = ListDialog(messages.EDIT_WHERE, places, soft=host.palette.soft)
    host.push_screen(dialog, lambda place: _open(host, place, afterwards) if isinstance(place, CodePlace) else None)


def _open(host: Host, place: CodePlace, afterwards: Callable[[], None]) -> None:
    try:
        editor = shlex.split(os.environ.get("VISUAL") or os.environ.get("EDITOR") or "vi")
    except ValueError as error:
        host.show_message(messages.EDITOR_INVALID.format(why=error), wrong=True)
        return
    if not editor:
        host.show_message(messages.EDITOR_EMPTY, wrong=True)
        return
    try:
        with host.suspend():
            subprocess.run([*editor, f"+{place.line or 1}", place.path], check=False)  # noqa: S603 - the user chose it
    except (OSError, ValueError) as error:
        reason = error.strerror if isinstance(error, OSError) else error
        host.show_message(messages.EDITOR_NOT_RUN.format(editor=editor[0], why=reason), wrong=True)
    except SuspendNotSupported:
        host.show_message(messages.NO_EDITOR_HERE, wrong=True)
    afterwards()
