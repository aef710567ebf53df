"""Measure what people feel: first paint, a key, steps, reading, checking, each beside a yardstick of the same run.

Prints a table and writes build/bench.json. Medians of several runs; machines differ and are noisy, so trust the ratios.
"""

from __future__ import annotations

import json
import os
import pty
import resource
import select
import signal
import statistics
import struct
import subprocess
import sys
import termios
import time
from fcntl import ioctl
from pathlib import Path
from typing import TYPE_CHECKING

from wise_ladder.demo import combfield
from wise_ladder.ladder import first_state, step
from wise_ladder.plan.events import Answer, Back, Launch, Tap, Wait
from wise_ladder.plan.reading import read_plan, read_plan_text

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.plan import Event

RUNS = 7
QUIET = 0.02
BARE = """
from textual.app import App
from textual.widgets import Footer, Header, OptionList
class Bare(App):
    def compose(self):
        yield Header()
        yield OptionList(*[f"item {number}" for number in range(20)])
        yield Footer()
Bare().run()
"""
BARE_APP = [sys.executable, "-c", BARE]
CLIMB = [sys.executable, "-m", "wise_ladder", "demo"]


class InTerminal:
    """A program in a pseudo-terminal of 160x50."""

    def __init__(self, command: list[str]) -> None:
        """Start it."""
        self.began = time.perf_counter()
        self.child, self.handle = pty.fork()
        if self.child == 0:
            os.environ.update(TERM="xterm-256color", COLORTERM="truecolor")
            ioctl(1, termios.TIOCSWINSZ, struct.pack("HHHH", 50, 160, 0, 0))
            os.execvp(command[0], command)  # noqa: S606
        ioctl(self.handle, termios.TIOCSWINSZ, struct.pack("HHHH", 50, 160, 0, 0))

    def until(self, text: bytes) -> float:
        """Read until a text came; return the seconds since the start."""
        seen = b""
        while text not in seen:
            seen += os.read(self.handle, 65536)
        return time.perf_counter() - self.began

    def settle(self) -> None:
        """Read until nothing has come for half a second."""
        while select.select([self.handle], [], [], 0.5)[0]:
            os.read(self.handle, 65536)

    def key(self, key: bytes) -> float:
        """Type a key; return the seconds until the last byte of the picture it changed."""
        began = last = time.perf_counter()
        os.write(self.handle, key)
        while select.select([self.handle], [], [], QUIET if last > began else 2.0)[0]:
            os.read(self.handle, 65536)
            last = time.perf_counter()
        return last - began

    def close(self) -> float:
        """End the program and return the processor seconds it used."""
        os.kill(self.child, signal.SIGKILL)
        _, _, usage = os.wait4(self.child, 0)
        os.close(self.handle)
        return usage.ru_utime + usage.ru_stime


def first_paint(command: list[str], text: bytes) -> tuple[float, float]:
    """Seconds from the start of a program to a text on its screen, and the processor seconds it took by then."""
    program = InTerminal(command)
    try:
        wall = program.until(text)
    finally:
        used = program.close()
    return wall, used


def keys(command: list[str], text: bytes, before: list[bytes], typed: list[bytes]) -> float:
    """Median seconds from a key to the changed screen."""
    program = InTerminal(command)
    try:
        program.until(text)
        program.settle()
        for key in before:
            program.key(key)
        program.settle()
        return statistics.median(program.key(key) for _ in range(10) for key in typed)
    finally:
        program.close()


def processor_time(command: list[str]) -> float:
    """Processor seconds of a command from start to end."""
    before = resource.getrusage(resource.RUSAGE_CHILDREN)
    subprocess.run(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, check=False)
    after = resource.getrusage(resource.RUSAGE_CHILDREN)
    return after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime


HIVE = Tap("hive", (("id", 7),))
ROUND: tuple[Event, ...] = (
    *(Tap(name) for name in ("frames", "hive look", "inspect", "write")), Back(), Answer("keep writing"), Tap("queen's mark"),
    Tap("yellow"), Wait(2000), Back(), Answer("discard"), Tap("diary"), Tap("month"), Back(), Tap("menu"), Tap("sign out"),
    Back(), Launch(), Wait(1200), Tap("sign in"), HIVE,
)  # fmt: skip
"""A round through Combfield that meets a guard, a result, tabs, a drawer, a redirect that remembers, and the splash."""


def steps_a_second(count: int = 100_000) -> float:
    """Steps of `step` a second on Combfield, a round again and again."""
    plan = read_plan(combfield())
    state = first_state(plan, (("welcomed", "yes"), ("session", "valid")))
    for first in (Launch(), Wait(1200), HIVE, *ROUND):
        done = step(plan, state, first)
        if done.refused is not None:
            raise SystemExit(f"the round is broken: {first} was refused: {done.refused}")
        state = done.state
    began = time.perf_counter()
    for _ in range(count // len(ROUND)):
        for event in ROUND:
            state = step(plan, state, event).state
    return count // len(ROUND) * len(ROUND) / (time.perf_counter() - began)


def bare_loop(count: int = 1_000_000) -> float:
    """Rounds a second of a loop that only looks up and adds integers: the limit of this machine."""
    seen: set[int] = set()
    began = time.perf_counter()
    for number in range(count):
        key = number * 7919 & 0xFFFFF
        if key not in seen:
            seen.add(key)
    return count / (time.perf_counter() - began)


def large_plan() -> str:
    """A plan of 300 screens and 1,200 moves."""
    lines = ["app: Combfield", "start: s0(id=1)", "facts: {session: [none, valid]}", "screens:"]
    for screen in range(300):
        lines += [f"  s{screen}:", "    takes: {id: whole number}", "    moves:"]
        for move in range(4):
            condition = f"session is valid and not id is {move}"
            lines.append(f"      - {{when: tap go {move}, if: {condition}, do: push s{(screen * 7 + move) % 300}(id=$id)}}")
    return "\n".join(lines)


def reading() -> float:
    """Processor seconds to read and check the large plan."""
    text = large_plan()
    began = time.process_time()
    read_plan_text(text)
    return time.process_time() - began


def median(measure: Callable[[], float]) -> float:
    """Median of several runs."""
    return statistics.median(measure() for _ in range(RUNS))


def main() -> None:
    """Measure, print, write."""
    check = [sys.executable, "-m", "wise_ladder", "check", str(combfield())]
    nothing = [sys.executable, "-c", ""]
    # A program that is installed has its bytecode beside it; so has ours here.
    os.environ.pop("PYTHONDONTWRITEBYTECODE", None)
    first_paint(CLIMB, b"does not run")
    paints = [(*first_paint(CLIMB, b"does not run"), *first_paint(BARE_APP, b"item 3")) for _ in range(RUNS)]
    paint, paint_cpu, bare_paint, bare_cpu = (statistics.median(column) for column in zip(*paints, strict=True))
    to_hive = [b"r", b"n", b"1", b"1", b"1", b"1", b"1"]
    key = keys(CLIMB, b"does not run", to_hive, [b"1"])
    bare_key = keys(BARE_APP, b"item 3", [], [b"\x1b[B"])
    rows = [
        ("first paint of the demo", paint * 1000, "ms", "a bare application", bare_paint * 1000),
        ("the same, processor time", paint_cpu * 1000, "ms", "a bare application", bare_cpu * 1000),
        ("key to changed screen", key * 1000, "ms", "a bare application", bare_key * 1000),
        ("--help, processor time", median(lambda: processor_time([*CLIMB[:3], "--help"])) * 1000, "ms",
         "an empty interpreter", median(lambda: processor_time(nothing)) * 1000),
        ("check on Combfield, processor time", median(lambda: processor_time(check)) * 1000, "ms",
         "an empty interpreter", median(lambda: processor_time(nothing)) * 1000),
        ("reading 300 screens, 1,200 moves", median(reading) * 1000, "ms", "", 0.0),
        ("steps", median(steps_a_second), "1/s", "a bare loop", median(bare_loop)),
    ]  # fmt: skip
    print(f"{'what':36} {'median':>12}      {'yardstick':22} {'median':>12} {'ratio':>8}")
    for what, value, unit, yardstick, other in rows:
        ratio = f"{value / other:8.3f}" if other else ""
        beside = f"{yardstick:22} {other:12,.0f} {ratio}" if other else ""
        print(f"{what:36} {value:12,.0f} {unit:4} {beside}".rstrip())
    found = {
        what: {"value": value, "unit": unit, "yardstick": yardstick, "of it": other}
        for what, value, unit, yardstick, other in rows
    }
    Path("build").mkdir(exist_ok=True)
    Path("build/bench.json").write_text(json.dumps(found, indent=1))


if __name__ == "__main__":
    main()
