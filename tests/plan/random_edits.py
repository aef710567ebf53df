"""Random edits of a plan: renames, deletions, additions and moves, each undone. What is wrong is told in lines."""

from __future__ import annotations

import traceback
from collections import Counter
from pathlib import Path
from typing import TYPE_CHECKING

from wise_ladder.app.history import EditHistory
from wise_ladder.demo import combfield
from wise_ladder.errors import LadderError
from wise_ladder.plan.addition import add_typed
from wise_ladder.plan.included import PlanText
from wise_ladder.plan.loader import read_plan
from wise_ladder.plan.parts import ORDERED, parts
from wise_ladder.plan.remove import delete, move
from wise_ladder.plan.rename import RENAMED, names, rename
from wise_ladder.walks import run_walk

if TYPE_CHECKING:
    from collections.abc import Callable
    from random import Random

    from wise_ladder.plan import Plan

LINES = (
    "screen cellar", "screen cellar(id): header none", "fact tired: no, yes, kept disk", "call weigh: heavy 1s, light 300ms",
    "overlay are you there: dialog, of app", "tab cellar: cellar", "link combfield://cellar home, hives", "rule no pile-up",
    "on hive 2s shown: replace cellar", "on inspection guard tired if tired is yes: ask Go on?; stay: stay; leave: go on",
    "redirect shelf to cellar if tired is yes", "anywhere tap cellar: push cellar", "on settings tap weigh: call weigh",
    "phone blind: system back: no", "flow tour of the yard: gate, meadow", "on hives holds seen: no, yes", "policy tab back: outwards",
)  # fmt: skip
"""What may be added to the demo."""


def edited(random: Random, count: int, text: str = "") -> tuple[Counter[str], list[str]]:
    """Make so many edits of the demo and undo each; return how many of each kind there were, and what was wrong.

    `text`: the demo in several files.
    """
    text = text or combfield().read_text(encoding="utf-8")
    history = EditHistory(Path("combfield.ladder.yaml"), PlanText(text))
    done, wrong = Counter[str](), list[str]()
    for _ in range(count):
        kind = random.choice(("rename", "delete", "add", "move"))
        try:
            changed, what, follows = _one(random, kind, text)
            plan = history.edit(changed)
            if not follows(plan):
                wrong.append(f"{what}: the walks have other verdicts")
            history.undo()
            done[kind] += 1
        except LadderError as error:
            # It says why not; the text is as it was.
            done[f"{kind} refused"] += 1
            if not str(error):
                wrong.append(f"{kind}: refused without a word")
        except Exception:  # noqa: BLE001 - whatever it is, it is what was looked for
            wrong.append(f"{kind}: {traceback.format_exc(limit=-3)}"[-600:])
        if history.text != text:
            wrong.append(f"{kind}: undone, the text is another one")
            history = EditHistory(history.path, PlanText(text))
    return done, wrong


def _one(random: Random, kind: str, text: str) -> tuple[str, str, Callable[[Plan], bool]]:
    """Return the text after an edit, what it was, and what must be so of the plan then."""
    listed = parts(text)
    if kind == "rename":
        name = random.choice([(each, name) for each in RENAMED for name in names(text, each)])
        new = random.choice(("zorn", "some thing else", "is it", "a, b: c", "Größe 7"))
        return rename(text, *name, new), f"{name} renamed {new}", lambda plan: passing(plan) == ALL
    if kind == "delete":
        part = random.choice(listed)
        return delete(text, part.path).text, f"{part.kind} {part.name} deleted", lambda _plan: True
    if kind == "move":
        part = random.choice([each for each in listed if each.kind in ORDERED])
        return move(text, part.path, random.choice((-1, 1))), f"{part.kind} {part.name} moved", lambda _plan: True
    line = random.choice(LINES)
    return add_typed(text, None, line).text, line, lambda plan: len(plan.screens) >= 29


def passing(plan: Plan) -> int:
    """Count the walks that pass."""
    return sum(run_walk(plan, walk).passed for walk in plan.walks)


ALL = len(read_plan(combfield()).walks)
"""So many walks the demo has; all pass."""
