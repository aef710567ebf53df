"""`wise-ladder backs`: where each way back leads from every screen."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.check_command import by_phone
from wise_ladder.plan.loader import read_plan
from wise_ladder.reports import back_report
from wise_ladder.rules.back_table import back_table
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.verdicts import Bounds
from wise_ladder.safe import visible

if TYPE_CHECKING:
    import argparse


def backs(call: argparse.Namespace) -> int:
    """Sweep the plan on each phone that is wanted, and print what is known of Back then."""
    plan = read_plan(call.plan)
    tables = []
    for on_phone in by_phone(plan, call.phone, call.plan).values():
        sweep = Sweep(on_phone, Bounds(seconds=call.seconds, **({"depth": call.depth} if call.depth else {})))
        sweep.run()
        rows, extent, unproved = back_table(on_phone, sweep.landings), sweep.extent(), len(sweep.witnesses.unproved)
        if call.format == "text":
            for line in back_report.as_text(on_phone, rows, extent, unproved):
                print(visible(line))
        else:
            tables.append(back_report.table(on_phone, rows, extent, unproved))
    if call.format != "text":
        print((back_report.as_csv if call.format == "csv" else back_report.as_json)(tables).rstrip("\n"))
    return 0
