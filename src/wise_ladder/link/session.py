"""A session with a running app: it is reached, asked who it is, and then a plan's walks are run on it."""

from __future__ import annotations

import asyncio
import time
from contextlib import asynccontextmanager
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.link.address import parse_address
from wise_ladder.link.against import TOLERANCE, Compared, run_against
from wise_ladder.link.app_link import AppLink
from wise_ladder.link.explore import Explorer
from wise_ladder.link.lines import command, connected

if TYPE_CHECKING:
    from collections.abc import AsyncIterator, Callable, Sequence

    from wise_ladder.plan import Plan, Walk
    from wise_ladder.walks.explored import Explored
    from wise_ladder.walks.running import WalkRun


BETWEEN = 0.2
"""So many seconds pass between two looks at whether to go on."""


class AppAt(NamedTuple):
    """Where the app is: an address, or a command that speaks over its standard streams.

    `seconds`: so long an answer may take; `tolerance`: in milliseconds, for an app whose clock cannot be advanced.
    """

    address: str = ""
    command: str = ""
    seconds: float = 10.0
    tolerance: int = TOLERANCE


@asynccontextmanager
async def reached(at: AppAt, plan: Plan) -> AsyncIterator[Compared]:
    """Reach an app and ask who it is; raises LinkError if that cannot be done, UsageError for an address that is none."""
    way = command(at.command) if at.command else connected(parse_address(at.address), at.seconds)
    async with way as lines:
        link = AppLink(lines, at.seconds)
        yield Compared(link, await link.hello(plan.app), tolerance=at.tolerance)


def run_explorer(plan: Plan, at: AppAt, steps: int, seed: int, going: Callable[[int], None]) -> Explored:
    """Go the tool's own ways through an app, so many steps; `going` is told how many were done. Raises as `run_walks`."""

    async def run() -> Explored:
        async with reached(at, plan) as app:
            return await Explorer(plan, app, seed, going=going).run(steps)

    return asyncio.run(run())


def run_walks(
    plan: Plan,
    walks: Sequence[Walk],
    at: AppAt,
    told: Callable[[WalkRun, float], bool],
    goes_on: Callable[[], bool] = lambda: True,
) -> None:
    """Run walks on plan and app, one after the other; `told` gets each with its seconds, and says whether to go on.

    `goes_on` is asked a few times a second, also while an answer is waited for. Raises LinkError if the app cannot be reached
    or asked any more, UsageError for an address that is none.
    """

    async def run() -> None:
        async with reached(at, plan) as app:
            for walk in walks:
                began = time.perf_counter()
                result = await run_against(plan, walk, app)
                if not told(result, time.perf_counter() - began):
                    return

    async def watched() -> None:
        running = asyncio.ensure_future(run())
        while not running.done() and goes_on():
            await asyncio.wait({running}, timeout=BETWEEN)
        if not running.done():
            # Once: a second time would keep it from ending what it began.
            running.cancel()
            await asyncio.wait({running})
        if not running.cancelled():
            await running

    asyncio.run(watched())
