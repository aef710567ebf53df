"""Long seeded checks, run by hand: `make deep`, or `python -m tests.deep [CHECK ...] [--seconds N]`.

Each check goes through its seeds, on as many processes as there are processors, stops when its time is over or at Ctrl-C, and
goes on from there the next time. What was found so far stands in `build/deep/CHECK.json`. The suite runs a sample of each.
"""

from __future__ import annotations

import argparse
import gc
import json
import os
import re
import signal
import subprocess
import sys
import time
import traceback
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from random import Random
from typing import TYPE_CHECKING, Any

from tests import removal
from tests.input import headless, killed, terminal
from tests.plan.random_edits import edited
from tests.plan.test_hostile import by_script
from tests.proofs.soundness import changed, left_out, proved_and_broken, tabs_plan, wrong_after_change
from tests.rules.back_search import compare
from tests.rules.test_sweep import alone, compared, small, smaller
from tests.second.compare import run
from tests.second.faults import FAULTS
from tests.second.plans import likely, wide_plan
from wise_ladder.demo import combfield
from wise_ladder.errors import PlanError
from wise_ladder.plan.files import decoded
from wise_ladder.plan.loader import read_plan, read_plan_text
from wise_ladder.rules.verdicts import Bounds
from wise_ladder.semantics.state import State, all_rungs
from wise_ladder.walks.running import run_walk

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.plan import Event, Plan

FOLDER = Path("build/deep")
DEPTH = 5
"""So many steps are looked at by the sweep and by the plain search."""
EVENTS, RUNS, MOST_RUNGS = 30, 20, 60
"""Events of a run, runs of a plan; a ladder that grew so high is left."""
PLACED = re.compile(r"plan(:\d+:\d+)?: \S")
MOST_SECONDS = 5.0
"""A run that takes longer is given up."""


class Part(dict[str, Any]):
    """What a seed gave: `runs`, `counts` by name, and `found`: what is wrong, each in a line."""


def second_reading(seed: int, runs: int = RUNS) -> Part:
    """Hold `step` against the second reading on a random plan."""
    random, effects, found, events = Random(seed), Counter[str](), list[str](), 0
    signal.signal(signal.SIGALRM, _too_long)
    plan = wide_plan(random)
    for number in range(runs):
        drawn: list[Event] = []
        signal.setitimer(signal.ITIMER_REAL, MOST_SECONDS)
        try:
            difference = run(plan, drawing(random, plan, drawn), effects)
            if difference is not None:
                found.append(f"seed {seed}, run {number}: {drawn[-1]}: {difference}"[:600])
        except TimeoutError:
            # Timers that put more and more: nothing is learned from these.
            effects["given up"] += 1
        except Exception:  # noqa: BLE001 - whatever it is, it is what was looked for
            found.append(f"seed {seed}, run {number}: {traceback.format_exc(limit=-3)}"[-900:])
        events += len(drawn)
    signal.setitimer(signal.ITIMER_REAL, 0)
    # The collector is off while a plan runs: it would go through all that is remembered, again and again.
    del plan
    gc.collect()
    return Part(runs=runs, counts={**effects, "events": events}, found=found)


def _too_long(_signal: int, _frame: object) -> None:
    raise TimeoutError


def drawing(random: Random, plan: Plan, drawn: list[Event]) -> Callable[[State], Event | None]:
    """Return what draws the next event of a run, and notes it."""

    def draw(state: State) -> Event | None:
        if len(drawn) == EVENTS or sum(1 for _ in all_rungs(state.ladder)) > MOST_RUNGS:
            return None
        drawn.append(likely(random, plan, state))
        return drawn[-1]

    return draw


def sweep(seed: int) -> Part:
    """Hold the sweep against a plain search on a small random plan, and each rule alone against all of them together."""
    # A wide plan takes ten times as long.
    wide = seed % 20 == 19
    plan = smaller(wide_plan(Random(seed)), timers=False, cover=True) if wide else small(seed, timers=False)
    try:
        broken, found = compared(plan, DEPTH), list[str]()
        alone(plan, DEPTH)
    except Exception:  # noqa: BLE001 - whatever it is, it is what was looked for
        broken, found = 0, [f"seed {seed}: {traceback.format_exc(limit=-3)}"[-600:]]
    return Part(runs=1, counts={"rules broken": broken}, found=found)


def addresses(_seed: int) -> Part:
    """Run the walks about addresses: the second reading looks them up as `step` does."""
    plan = read_plan(Path(__file__).parent / "cases" / "addresses.ladder.yaml")
    failed = [walk.name for walk in plan.walks if not run_walk(plan, walk).passed]
    return Part(runs=len(plan.walks), counts={}, found=failed)


def planted(seed: int) -> Part:
    """Plant a fault, in a program of its own, and see that it is noticed; `counts`: how many plans that took."""
    fault = FAULTS[seed % len(FAULTS)]
    command = [sys.executable, "-m", "tests.second.faults", str(seed % len(FAULTS))]
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    seeds = int(done.stdout) if done.returncode == 0 else -1
    found = [] if seeds >= 0 else [f"not noticed: {fault.what} {done.stderr[-300:]}"]
    return Part(runs=1, counts={fault.what: seeds + 1}, found=found)


def keys(seed: int) -> Part:
    """Put in 2,500 random keys, clicks, pastes and sizes, with the file changing under them."""
    return Part(runs=1, counts={}, found=headless.run(seed))


def terminals(seed: int) -> Part:
    """Put random input in, in a real terminal."""
    return Part(runs=1, counts={}, found=terminal.run(seed))


def kills(seed: int) -> Part:
    """Kill the application while it edits and saves."""
    return Part(runs=1, counts={}, found=killed.run(seed))


def mutated(seed: int) -> Part:
    """Read 100 plan files with a mistake in each: one line for each problem, in little time, or the plan."""
    found, slowest = list[str](), 0.0
    for name, data in by_script(seed, rounds=4):
        began = time.process_time()
        try:
            read_plan_text(decoded(data, "plan").text)
        except PlanError as error:
            found += [f"seed {seed}, {name}: {message}" for message in error.messages if not PLACED.match(message)]
        except Exception:  # noqa: BLE001 - whatever it is, it is what was looked for
            found.append(f"seed {seed}, {name}: {traceback.format_exc(limit=-3)}"[-600:])
        slowest = max(slowest, time.process_time() - began)
    if slowest > MOST_SECONDS:
        found.append(f"seed {seed}: reading took {slowest:.1f} s")
    return Part(runs=100, counts={"milliseconds of the slowest, together": round(slowest * 1000)}, found=found)


def removed(seed: int) -> Part:
    """Take out one entry of a table or match over kinds of things: mypy or a test must fail."""
    there = removal.entries()
    if seed >= len(there):
        return Part(runs=0, counts={}, found=[])
    by = removal.noticed(there[seed])
    entry = there[seed]
    found = [] if by else [f"entry {seed}, {entry.path}:{entry.start[0]}: nobody misses {entry.text}"]
    return Part(runs=1, counts={by or "nobody": 1}, found=found)


def edits(seed: int) -> Part:
    """Make 20 random edits of the demo, each undone."""
    counts, found = edited(Random(seed), 20)
    return Part(runs=20, counts=dict(counts), found=[f"seed {seed}: {each}" for each in found])


def backs(seed: int) -> Part:
    """Hold what Back does in ten random walks over Combfield against the table of a sweep, on each phone in turn."""
    plan = read_plan(combfield())
    phone, _ = plan.phones[seed % len(plan.phones)]
    done = compare(plan.on_phone(phone), 10, 60, seed, Bounds(depth=5, seconds=60))
    found = [f"seed {seed}, {phone}: {landing} is missing" for landing in sorted(done.reached)]
    return Part(runs=done.compared, counts={"excused": len(done.missing) - len(done.reached)}, found=found)


def proofs(seed: int) -> Part:
    """See that all states of a sweep over a small random plan lie in the abstract ones, and that no broken rule is proved."""
    wide = seed % 4 == 3
    plan = smaller(wide_plan(Random(seed)), timers=False, cover=True) if wide else small(seed, timers=seed % 2 == 0)
    return _proved(seed, plan, 6)


def tabs(seed: int) -> Part:
    """See the same of plans with tabs, to a depth at which whole ladders are hidden."""
    return _proved(seed, tabs_plan(Random(seed)), 9)


def _proved(seed: int, plan: Plan, depth: int) -> Part:
    ways, looked, found = 0, 0, list[str]()
    try:
        for wrong, states in left_out(plan, depth, states=2_000 if depth < 9 else 20_000, seconds=2):
            ways, looked = ways + (states > 0), looked + states
            found += [f"seed {seed}: {wrong}"[:600]] if wrong else []
        for wrong, states in wrong_after_change(plan, changed(plan, Random(seed)), 6, seconds=2):
            looked += states
            found += [f"seed {seed}, changed: {wrong}"[:600]] if wrong else []
        found += [f"seed {seed}: {name} is proved and broken" for name in proved_and_broken(plan, depth, seconds=2)]
    except Exception:  # noqa: BLE001 - whatever it is, it is what was looked for
        found.append(f"seed {seed}: {traceback.format_exc(limit=-3)}"[-600:])
    return Part(runs=1, counts={"ways that ended": ways, "states": looked}, found=found)


CHECKS: dict[str, Callable[[int], Part]] = {
    "second": second_reading,
    "planted": planted,
    "sweep": sweep,
    "proofs": proofs,
    "tabs": tabs,
    "keys": keys,
    "terminals": terminals,
    "kills": kills,
    "mutated": mutated,
    "removed": removed,
    "edits": edits,
    "backs": backs,
}


def report(name: str) -> Part:
    """Return what a check has found so far."""
    path = FOLDER / f"{name}.json"
    return Part(json.loads(path.read_text())) if path.exists() else Part(seeds=0, runs=0, seconds=0.0, counts={}, found=[])


def check(name: str, seconds: float) -> Part:
    """Go on with a check for a while, and write down what it found."""
    so_far, began = report(name), time.perf_counter()
    before, counts = so_far["seconds"], Counter(so_far["counts"])
    FOLDER.mkdir(parents=True, exist_ok=True)
    batch = 32 * (os.cpu_count() or 1)
    with ProcessPoolExecutor(initializer=gc.disable) as pool:
        while time.perf_counter() - began < seconds:
            first = so_far["seeds"]
            for part in pool.map(CHECKS[name], range(first, first + batch)):
                so_far["runs"] += part["runs"]
                so_far["found"] += part["found"]
                counts.update(part["counts"])
            so_far["seeds"], so_far["seconds"] = first + batch, round(before + time.perf_counter() - began, 1)
            so_far["counts"] = dict(sorted(counts.items(), key=lambda each: each[1]))
            unfinished = FOLDER / f"{name}.json.new"
            unfinished.write_text(json.dumps(so_far, indent=1))
            unfinished.replace(FOLDER / f"{name}.json")
    return so_far


def main() -> int:
    """Run checks and print what they found; return 1 if anything is wrong."""
    parser = argparse.ArgumentParser(description="Run long seeded checks; they go on where they stopped.")
    parser.add_argument("checks", nargs="*", choices=[[], *CHECKS], help="which; all if none is named")
    parser.add_argument("--seconds", type=float, default=600.0, help="for how long each (600)")
    args = parser.parse_args()
    wrong = False
    for name in args.checks or CHECKS:
        try:
            check(name, args.seconds)
        except KeyboardInterrupt:
            print("stopped; it goes on from there the next time")
        found = report(name)
        wrong = wrong or bool(found["found"])
        print(f"{name}: {found['seeds']} seeds, {found['runs']} runs, {found['seconds']} s, {len(found['found'])} wrong")
        print("\n".join(found["found"][:20]))
        print("rarest: " + ", ".join(f"{what} {count}" for what, count in list(found["counts"].items())[:12]))
    return int(wrong)


if __name__ == "__main__":
    sys.exit(main())
