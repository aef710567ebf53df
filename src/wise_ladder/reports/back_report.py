"""Back from everywhere as text for people, and as JSON and CSV for programs."""

from __future__ import annotations

import csv
import io
from typing import TYPE_CHECKING

import msgspec
from msgspec import Struct

from wise_ladder.plan.model import AS_DECLARED
from wise_ladder.plan.steps import event_phrase
from wise_ladder.reports import messages
from wise_ladder.reports.walk_export import csv_field
from wise_ladder.safe import made_visible

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

    from wise_ladder.plan import Plan
    from wise_ladder.rules.back_table import BackRow
    from wise_ladder.rules.verdicts import SweepExtent

WAYS_WIDE = 8


class Row(Struct):
    """What a way back does on a screen: the kind, where it lands or who asks, and the events of a shortest path to it."""

    phone: str
    given: str
    screen: str
    way: str
    kind: str
    name: str
    steps: int
    decides: str
    surprise: str
    path: list[str]


class Table(Struct):
    """What is known of a plan on a phone.

    `steps`: everything that can happen within so many steps was checked; `whole`: there are no more states; `unproved`: so many
    landings were met, but no run with real times showed them.
    """

    app: str
    phone: str
    given: str
    steps: int
    states: int
    whole: bool
    unproved: int
    rows: list[Row]


def table(plan: Plan, rows: Sequence[BackRow], extent: SweepExtent, unproved: int) -> Table:
    """Return what is known of a plan on its phone."""
    told = [
        Row(
            plan.phone,
            plan.given.name,
            *each.landing,
            each.steps,
            each.decides,
            each.surprise,
            [event_phrase(entry.event) for entry in each.tape.entries],
        )
        for each in rows
    ]
    return Table(plan.app, plan.phone, plan.given.name, extent.depth, extent.states, extent.whole, unproved, told)


def as_json(tables: Sequence[Table]) -> str:
    """Write tables as JSON."""
    return msgspec.json.format(msgspec.json.encode(made_visible(msgspec.to_builtins(list(tables))))).decode()


def as_csv(tables: Sequence[Table]) -> str:
    """Write all rows as CSV; the steps of a path stand in one cell, with ` · ` between them."""
    written = io.StringIO()
    writer = csv.writer(written, lineterminator="\n")
    writer.writerow(Row.__struct_fields__)
    for each in tables:
        for row in each.rows:
            values = msgspec.structs.asdict(row) | {"path": " · ".join(row.path)}
            writer.writerow(map(csv_field, values.values()))
    return written.getvalue()


def as_text(plan: Plan, rows: Sequence[BackRow], extent: SweepExtent, unproved: int) -> Iterator[str]:
    """Write a table for people: each screen once, and under it what each way does."""
    where = f" {plan.where}" if plan.where else ""
    yield messages.WHERE_BACK_LEADS.format(app=plan.app, where=where, extent=extent.words, figures=extent.figures)
    yield from _rows(rows)
    yield from _left_out(unproved)


def _left_out(unproved: int) -> Iterator[str]:
    if unproved:
        yield messages.LEFT_OUT.format(count=unproved)


def difference(
    plan: Plan, first: Sequence[BackRow], rows: Sequence[BackRow], extent: SweepExtent, unproved: int
) -> Iterator[str]:
    """Write for people what of a table is not in that of the first phone or named given, and what of that is not in it."""
    where = f" {plan.where or AS_DECLARED}"
    yield messages.WHERE_BACK_LEADS.format(app=plan.app, where=where, extent=extent.words, figures=extent.figures)
    known, now = {each.landing for each in first}, {each.landing for each in rows}
    for words, more in (
        (messages.ONLY_HERE, [each for each in rows if each.landing not in known]),
        (messages.NOT_MET_HERE, [each for each in first if each.landing not in now]),
    ):
        if more:
            yield words
            yield from (f"  {line}" for line in _rows(more))
    if known == now:
        yield messages.SAME_AS_FIRST
    yield from _left_out(unproved)


def _rows(rows: Sequence[BackRow]) -> Iterator[str]:
    wide = max((len(each.words) for each in rows), default=0)
    screen = way = ""
    for each in rows:
        if each.landing.screen != screen:
            screen, way = each.landing.screen, ""
            yield screen
        told = f"{each.landing.way if each.landing.way != way else '':{WAYS_WIDE}}{each.words:{wide}}  {each.steps:2} steps"
        yield "  " + "  ".join(filter(None, (told, each.decides, each.surprise and f"▲ {each.surprise}"))).rstrip()
        way = each.landing.way
