"""The demo in five files: a second team's screens, what comes from outside, the rules, and the walks in a folder of their own."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from wise_ladder.demo import combfield
from wise_ladder.plan.included import joined, split

if TYPE_CHECKING:
    from pathlib import Path

NAMES = {"diary.yaml": "week", "outside.yaml": "links", "rules.yaml": "rules", "walks/all.yaml": "walks"}
"""Each included file, and the section (of the diary: the first screen) that it begins with."""


def in_five_files() -> str:
    """Return the whole text of the demo in five files."""
    text = combfield().read_text(encoding="utf-8").replace("\nstart:", f"\ninclude: [{', '.join(NAMES)}]\nstart:", 1)
    files = {"": text}
    for name, begin in NAMES.items():
        inset = "  " if begin == "week" else ""
        start = re.search(f"^{inset}{begin}:", files[""], re.MULTILINE)
        assert start is not None
        end = re.compile(r"^\w", re.MULTILINE).search(files[""], start.end())
        stop = end.start() if end else len(files[""])
        files[name] = ("screens:\n" if inset else "") + files[""][start.start() : stop]
        files[""] = files[""][: start.start()] + files[""][stop:]
    return joined(files.items())


def write_five_files(folder: Path) -> Path:
    """Write the demo in five files into a folder; return the plan's own file."""
    for part in split(in_five_files()):
        path = folder / (part.file or "combfield.ladder.yaml")
        path.parent.mkdir(exist_ok=True)
        path.write_text(part.text, encoding="utf-8")
    return folder / "combfield.ladder.yaml"
