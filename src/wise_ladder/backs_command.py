"""`wise-ladder backs`: where each way back leads from every screen."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.check_command import variants
from wise_ladder.plan.loader import read_plan
from wise_ladder.reports import back_report
from wise_ladder.rules.back_table import BackRow, back_table
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.verdicts import Bounds
from wise_ladder.safe import visible

if TYPE_CHECKING:
    import argparse


def backs(call: argparse.Namespace) -> int:
    """Sweep the plan on each phone and with each named given that is wanted, and print what is known of Back then.

    For people, what the first one tells already is not told again.
    """
    plan = read_plan(call.plan)
    tables, first = [], list[BackRow]()
    for place, each in enumerate(variants(plan, call.phone, call.given, call.plan).values()):
        sweep = Sweep(each, Bounds(seconds=call.seconds, **({"depth": call.depth} if call.depth else {})))
        sweep.run()
        rows, extent, unproved = back_table(each, sweep.landings), sweep.extent(), len(sweep.witnesses.unproved)
        if call.format == "text":
            told = (
                back_report.difference(each, first, rows, extent, unproved)
                if place
                else back_report.as_text(each, rows, extent, unproved)
            )
            for line in told:
                print(visible(line))
            first = first or rows
        else:
            tables.append(back_report.table(each, rows, extent, unproved))
    if call.format != "text":
        print((back_report.as_csv if call.format == "csv" else back_report.as_json)(tables).rstrip("\n"))
    return 0
