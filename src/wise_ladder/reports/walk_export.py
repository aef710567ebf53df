"""Each step of a walk, and what was seen on it for how long, as CSV and JSON; a page of Markdown with its film strip."""

from __future__ import annotations

import csv
import io
import re
from typing import TYPE_CHECKING
from urllib.parse import quote

import msgspec
from msgspec import Struct

from wise_ladder.reports.markdown import escaped
from wise_ladder.safe import made_visible, visible
from wise_ladder.semantics.state import depth, visible_screens
from wise_ladder.semantics.text import clock_words, log_text, rung_text
from wise_ladder.semantics.weight import weight
from wise_ladder.walks.report_text import walk_lines
from wise_ladder.walks.seen import seen_now
from wise_ladder.walks.timeline import timeline

if TYPE_CHECKING:
    from collections.abc import Sequence

    from wise_ladder.plan import Plan
    from wise_ladder.walks.running import LineRun, WalkRun
    from wise_ladder.walks.tape import Tape


_YES_OR_NO = {True: "yes", False: "no", None: ""}


class Row(Struct):
    """A step: its number (from 1), output format, whether it holds, and what was there after it; times in milliseconds.

    `holds` is None for what was not reached, because a step before failed.
    """

    step: int
    text: str
    holds: bool | None
    why: str
    happened: str
    ladder: list[str]
    """The screens on the ladder, lowest first."""
    depth: int
    weight: int
    """What all rungs weigh, in bytes."""
    clock: int
    seen: str


def rows(plan: Plan, result: WalkRun) -> list[Row]:
    """Return a row for each step of a walk."""
    return [
        Row(
            number,
            played.line.text,
            _holds(result, number, played),
            played.unmet.words if played.unmet else "",
            log_text(played.step.log) if played.step else "",
            [rung_text(rung.data) for rung in visible_screens(played.state.ladder)],
            depth(played.state),
            weight(plan, played.state),
            played.state.clock,
            seen_now(played.state),
        )
        for number, played in enumerate(result.played, 1)
    ]


def _holds(result: WalkRun, number: int, played: LineRun) -> bool | None:
    reached = result.failed is None or number <= result.failed + 1 or played.step is not None
    return played.unmet is None if reached else None


class SeenRow(Struct):
    """Something that lasted: the cover, a screen, an overlay, a question, a timer or a call; times in milliseconds."""

    kind: str
    name: str
    """Of the screen, overlay, question, call, or of what the timer belongs to."""
    words: str
    since: int
    until: int
    time: int
    ended: str
    """How it ended, if there is something to say."""
    lasts: bool
    """Whether it has not ended."""
    flash: bool
    """Whether it was seen, and went by itself before it could be read."""


def seen_rows(tape: Tape) -> list[SeenRow]:
    """Return a row for each thing that lasted in a run, in the order in which they began."""
    stretches = sorted(timeline(tape).stretches, key=lambda each: (each.since, each.first))
    return [
        SeenRow(each.kind, each.lane, each.words, each.since, each.until, each.time, each.ended, each.open, each.flash)
        for each in stretches
    ]


def as_csv(kind: type[Row | SeenRow], rows: Sequence[Row | SeenRow]) -> str:
    """Write rows of a kind as CSV (RFC 4180), a ladder in one field."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(kind.__struct_fields__)
    for row in rows:
        writer.writerow(_field(value) for value in msgspec.structs.astuple(row))
    return out.getvalue()


def _field(value: object) -> object:
    if isinstance(value, list):
        return csv_field(" > ".join(value))
    return _YES_OR_NO[value] if value is None or isinstance(value, bool) else csv_field(value)


def csv_field(value: object) -> object:
    """Write a field so that no spreadsheet takes it for a formula."""
    text = visible(value) if isinstance(value, str) else value
    return f"'{text}" if isinstance(text, str) and text.startswith(("=", "+", "-", "@", "\t")) else text


def as_json(rows: Sequence[Row | SeenRow]) -> str:
    """Write rows as a JSON list."""
    return msgspec.json.format(msgspec.json.encode(made_visible(msgspec.to_builtins(rows))), indent=2).decode()


def as_markdown(plan: Plan, result: WalkRun, path: str, strip: str, wrong: str = "") -> str:
    """Write a page on a walk: its verdict, its film strip (the name of a picture beside the page), and a table of its steps.

    `wrong`: what is to be said instead of the verdict, where the walk breaks a rule.
    """
    lines = [
        f"# {escaped(result.walk.name)}",
        "",
        f"{escaped(plan.app)}, {escaped(path)}. " + (escaped(wrong) or ("It passes." if result.passed else "It fails:")),
        "",
    ]
    if not result.passed:
        verdict = [visible(line) for line in walk_lines(result, path)]
        fence = "`" * max(3, *(len(run) + 1 for line in verdict for run in re.findall("`+", line)), 3)
        lines += [fence, *verdict, fence, ""]
    lines += [
        f"![{escaped(result.walk.name)}]({quote(strip)})",
        "",
        "| step | | ladder | depth | clock | |",
        "|---|---|---|---|---|---|",
    ]
    for row in rows(plan, result):
        ladder = escaped(" > ".join(row.ladder) or "–")
        outcome = escaped(row.why if row.holds is False else row.happened)
        mark = "✗ " if row.holds is False else ""
        lines.append(
            f"| {row.step} | {mark}{escaped(row.text)} | {ladder} | {row.depth} | {clock_words(row.clock)} | {outcome} |"
        )
    return "\n".join(lines) + "\n"
