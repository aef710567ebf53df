"""Write docs/keys.md: what each key does in each view, from the table of commands."""

from __future__ import annotations

import sys
from pathlib import Path

from wise_ladder.app.commands import COMMANDS

PAGE = Path(__file__).parent.parent / "docs" / "keys.md"
VIEWS = ("climb", "crossings", "walks", "rules", "trials", "seen")
MEANINGS = {
    "n": "next", "r": "run", "e": "edit", "k": "keep as a walk", "m": "rename", "D": "duplicate", "Del": "delete", "+": "add",
    "/": "find in this view", "Enter": "climb there, or launch", "U": "unused parts", "B": "the other one", "←": "back one",
    "→": "on one", "↑ ↓": "choose", "← →": "choose", "← → ↑ ↓": "choose",
}  # fmt: skip
"""What a key means wherever it works, if more than one view has it."""
HEAD = """\
# Keys

Each key means the same wherever it works. Capital letters go to a view or open something large; `ctrl` is for the file and its
edits. `F1` in the program lists the keys of the current view, `ctrl+p` all commands. `make keys-page` makes this page.
"""


def page() -> str:
    """Return the page."""
    everywhere = [command for command in COMMANDS if command.owner not in VIEWS]
    own = {view: {command.key: command for command in COMMANDS if command.owner == view} for view in VIEWS}
    several = [key for key in MEANINGS if sum(key in commands for commands in own.values()) > 1]
    heads = " | ".join(map(str.capitalize, VIEWS))
    lines = [HEAD, "## The same in several views\n", f"| key | means | {heads} |", "|---" * (len(VIEWS) + 2) + "|"]
    for key in several:
        cells = [own[view][key].label if key in own[view] else "" for view in VIEWS]
        lines.append(f"| `{key}` | {MEANINGS[key]} | {' | '.join(cells)} |")
    lines += ["\n## Everywhere\n", "| key | does |", "|---|---|", *(f"| `{each.key}` | {each.help} |" for each in everywhere)]
    for view in VIEWS:
        rows = [f"| `{key}` | {each.help} |" for key, each in own[view].items() if key not in several]
        lines += [f"\n## {view.capitalize()} adds\n", "| key | does |", "|---|---|", *rows]
    return "\n".join(lines) + "\n"


if __name__ == "__main__":
    PAGE.write_text(page(), encoding="utf-8")
    sys.stdout.write(f"{PAGE.name} written\n")
