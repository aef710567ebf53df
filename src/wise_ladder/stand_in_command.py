"""The command `stand-in`: a process that behaves as a plan says and speaks as a running app does."""

from __future__ import annotations

import asyncio
import sys
from typing import TYPE_CHECKING

from wise_ladder import messages
from wise_ladder.link.address import parse_address
from wise_ladder.link.faults import plant
from wise_ladder.link.stand_in import Manner, stand_in_at
from wise_ladder.plan.loader import read_file, read_plan_text
from wise_ladder.running import stop_code

if TYPE_CHECKING:
    import argparse


def stand_in(call: argparse.Namespace) -> int:
    """Stand in for an app until the other side is gone, or Ctrl-C; return the exit code."""
    plan, whole = read_file(call.plan)
    text = whole.text
    for fault in call.fault:
        text = plant(text, fault)
    plan = read_plan_text(text, str(call.plan)) if call.fault else plan
    address = call.listen or call.connect
    at = parse_address(address)._replace(listens=bool(call.listen)) if address else None
    manner = Manner(call.slow / 1000, call.silent, call.drop_after, call.own_clock)
    try:
        asyncio.run(stand_in_at(plan, at, manner, _told))
    except KeyboardInterrupt:
        return stop_code()
    return 0


def _told(address: str) -> None:
    print(messages.STAND_IN_LISTENS.format(address=address), file=sys.stderr, flush=True)
