"""Which plans can be opened from inside."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING

from rich.text import Text

from wise_ladder.app import messages
from wise_ladder.app.dialogs.list_dialog import ListItem
from wise_ladder.demo import combfield, gallery, sentence
from wise_ladder.errors import LadderError
from wise_ladder.plan.files import real_path
from wise_ladder.plan.loader import read_plan

if TYPE_CHECKING:
    from collections.abc import Sequence

NEW = "\0new"
"""Stands for a plan that is to be begun."""


def openable_plans(folder: Path, recent: Sequence[str], opened: Sequence[Path] = ()) -> list[ListItem[Path | str]]:
    """List the plans that are open, the recent ones, those in a folder, a new one, the demo and the gallery."""
    about = {real_path(path): messages.PLAN_OPEN for path in opened}
    for name in filter(None, recent):
        if Path(name).is_file():
            about.setdefault(Path(name), messages.PLAN_RECENT)
    with suppress(OSError):
        for path in sorted(folder.glob("*.ladder.yaml")):
            about.setdefault(real_path(path), messages.PLAN_IN_FOLDER)
    choices: list[ListItem[Path | str]] = [
        ListItem(path.name, f"{where}, {path.parent}", path) for path, where in about.items()
    ]
    choices.append(ListItem("new", messages.PLAN_NEW, NEW))
    choices.append(ListItem("demo", messages.PLAN_DEMO, combfield()))
    for fault in gallery():
        choices.append(ListItem(f"gallery {fault.name}", sentence(fault.faulty), fault.faulty))
        choices.append(ListItem(f"gallery {fault.name}, fixed", sentence(fault.fixed), fault.fixed))
    return choices


def about(path: Path | str) -> Text:
    """Return what a plan is about; say so if it cannot be read."""
    if isinstance(path, str):
        return Text("")
    with suppress(LadderError):
        return Text(read_plan(path).about)
    return Text(messages.PLAN_UNREADABLE)


def is_example(path: Path) -> bool:
    """Whether a plan came with the program."""
    return combfield().parent in real_path(path).parents
