"""A stand-in and the tool, connected within one process."""

from __future__ import annotations

import asyncio
import socket
from contextlib import asynccontextmanager, suppress
from typing import TYPE_CHECKING

from wise_ladder.link.against import Compared
from wise_ladder.link.app_link import AppLink
from wise_ladder.link.lines import MAX_LINE, Lines
from wise_ladder.link.stand_in import Manner, StandIn, serve

if TYPE_CHECKING:
    from collections.abc import AsyncIterator

    from wise_ladder.plan import Plan

PLAINLY = Manner()


@asynccontextmanager
async def two_ends() -> AsyncIterator[tuple[Lines, Lines]]:
    """Two ends of one connection."""
    ends = [Lines(*await asyncio.open_connection(sock=each, limit=MAX_LINE)) for each in socket.socketpair()]
    try:
        yield ends[0], ends[1]
    finally:
        for end in ends:
            await end.close()


@asynccontextmanager
async def standing_in(
    plan: Plan, manner: Manner = PLAINLY, *, seconds: float = 5.0, tolerance: int = 250
) -> AsyncIterator[Compared]:
    """A stand-in for a plan that can be compared with another one."""
    async with two_ends() as (ours, theirs):
        serving = asyncio.create_task(_served(plan, theirs, manner))
        try:
            link = AppLink(ours, seconds)
            yield Compared(link, await link.hello(plan.app), tolerance=tolerance)
        finally:
            serving.cancel()
            with suppress(asyncio.CancelledError):
                await serving


async def _served(plan: Plan, lines: Lines, manner: Manner) -> None:
    await serve(StandIn(plan, own_clock=manner.own_clock), lines, manner)
    await lines.close()
