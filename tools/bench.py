"""Measure what people feel: first paint, a key, steps, reading, checking, each beside a yardstick of the same run.

Prints a table and writes build/bench.json. Medians of several runs; machines differ and are noisy, so trust the ratios.
"""

from __future__ import annotations

import asyncio
import json
import math
import os
import pty
import random
import resource
import select
import signal
import statistics
import struct
import subprocess
import sys
import tempfile
import termios
import time
from fcntl import ioctl
from pathlib import Path
from typing import TYPE_CHECKING

from wise_ladder.app.sweep_runner import AT_ONCE
from wise_ladder.demo import combfield, gallery
from wise_ladder.errors import PlanError
from wise_ladder.link.session import AppAt, reached, run_walks
from wise_ladder.link.wire import Begin
from wise_ladder.plan import Event
from wise_ladder.plan.events import Back, Home, Launch, Reopen
from wise_ladder.plan.loader import read_plan, read_plan_text
from wise_ladder.proofs.proof import prove
from wise_ladder.rules.starter import rules_in_force
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.verdicts import Bounds
from wise_ladder.semantics import State, initial_state, step
from wise_ladder.semantics.offers import user_events
from wise_ladder.semantics.plan_index import index_of
from wise_ladder.trials.pairs import PairSearch

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.plan import Plan

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


def idle(command: list[str], text: bytes, seconds: float = 10.0) -> float:
    """Processor time in percent that a program uses while nobody does anything."""
    program = InTerminal(command)
    try:
        program.until(text)
        program.key(b"r")
        # The first look at the rules is over by then.
        time.sleep(5.0)
        before = used_by(program.child)
        time.sleep(seconds)
        return (used_by(program.child) - before) / seconds * 100
    finally:
        program.close()


def used_by(process: int) -> float:
    """Processor seconds of a process so far."""
    ticks = Path(f"/proc/{process}/stat").read_text().rsplit(")", 1)[1].split()[11:13]
    return sum(map(int, ticks)) / os.sysconf("SC_CLK_TCK")


def processor_time(command: list[str]) -> float:
    """Processor seconds of a command from start to end."""
    before = resource.getrusage(resource.RUSAGE_CHILDREN)
    subprocess.run(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, check=False)
    after = resource.getrusage(resource.RUSAGE_CHILDREN)
    return after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime


Drawn = tuple[State, list[Event]]


def draw_walks(count: int = 2_000, length: int = 50) -> list[Drawn]:
    """Draw walks through Combfield, always the same: what a user could do next, Back more often than each tap."""
    plan, chance = read_plan(combfield()), random.Random(7)  # noqa: S311 - no secret
    walks: list[Drawn] = []
    for _ in range(count):
        first = state = initial_state(plan, (("welcomed", "yes"), ("session", chance.choice(["none", "valid"]))))
        done: list[Event] = []
        for _ in range(length):
            event = chance.choice(could_follow(plan, state))
            done.append(event)
            state = step(plan, state, event).state
        walks.append((first, done))
    return walks


def could_follow(plan: Plan, state: State) -> list[Event]:
    """List what a user could do in a state, Back twice as often as the rest."""
    found = user_events(plan, state)
    return [*found, Back()] if Back() in found else found


def steps_a_second(walks: list[Drawn]) -> float:
    """Steps of `step` a second on Combfield with nothing remembered at first."""
    plan = read_plan(combfield())
    began = time.perf_counter()
    for state, done in walks:
        for event in done:
            state = step(plan, state, event).state  # noqa: PLW2901 - a walk goes from state to state
    return sum(len(done) for _, done in walks) / (time.perf_counter() - began)


def steps_done_anew(walks: list[Drawn]) -> float:
    """The same, each step done as if its ladder had never been met."""
    plan = read_plan(combfield())
    remembered = index_of(plan).steps
    few = walks[: len(walks) // 10]
    began = time.perf_counter()
    for state, done in few:
        for event in done:
            state = step(plan, state, event).state  # noqa: PLW2901
            remembered.clear()
    return sum(len(done) for _, done in few) / (time.perf_counter() - began)


def bare_loop(count: int = 1_000_000) -> float:
    """Rounds a second of a loop that only looks up and adds integers: the limit of this machine."""
    seen: set[int] = set()
    began = time.perf_counter()
    for number in range(count):
        key = number * 7919 & 0xFFFFF
        if key not in seen:
            seen.add(key)
    return count / (time.perf_counter() - began)


def large_plan(screens: int = 300) -> str:
    """A plan of so many screens with four moves each; the last of them replaces."""
    lines = ["app: Combfield", "start: s0(id=1)", "facts: {session: [none, valid]}", "screens:"]
    for screen in range(screens):
        lines += [f"  s{screen}:", "    takes: {id: whole number}", "    moves:"]
        for move in range(4):
            do = f"{'replace' if move == 3 else 'push'} s{(screen * 7 + move) % screens}(id=$id)"
            lines.append(f"      - {{when: tap go {move}, if: session is none and not id is {move}, do: {do}}}")
    return "\n".join(lines)


def many_walks(count: int = 1_000, length: int = 50, screens: int = 100) -> str:
    """The large plan with so many walks: each taps its way, and expects where it is now and then."""
    lines = [large_plan(screens), "walks:"]
    for walk in range(count):
        steps, screen = ["launch"], 0
        for number in range(length - 2):
            move = (0, 2, 3)[(walk + number) % 3]
            screen = (screen * 7 + move) % screens
            steps.append(f"tap go {move}")
        lines.append(f"  walk {walk}: [{', '.join(steps)}, see s{screen}]")
    return "\n".join(lines)


def checking_many(folder: str) -> tuple[float, float]:
    """Seconds that `check` takes for a thousand walks, and the megabytes it holds at most."""
    plan = Path(folder) / "walks.ladder.yaml"
    plan.write_text(many_walks())
    began = time.perf_counter()
    with Path(os.devnull).open("w") as nowhere:
        child = subprocess.Popen([*CLIMB[:3], "check", "--no-rules", str(plan)], stdout=nowhere, stderr=nowhere)
        _, _, usage = os.wait4(child.pid, 0)
    return time.perf_counter() - began, usage.ru_maxrss / (1_000 if sys.platform == "linux" else 1_000_000)


def reading() -> float:
    """Processor seconds to read and check the large plan."""
    text = large_plan()
    began = time.process_time()
    read_plan_text(text)
    return time.process_time() - began


def refusing() -> float:
    """Processor seconds to refuse the largest file that is looked at."""
    text = "app: Combfield\nstart: hives\nscreens:\n" + "".join(f"  s{number}: {{}}\n" for number in range(330_000))
    began = time.process_time()
    try:
        read_plan_text(text)
    except PlanError:
        return time.process_time() - began
    raise SystemExit("a plan of 330,000 screens was read")


def swept_plan(screens: int, *, rich: bool, seed: int = 1) -> str:
    """Write a plan of so many screens with 4 facts and 4 moves each.

    `rich`: with guards, a call and an overlay, about as many as Combfield has for its size, and what the replies do.
    """
    random_ = random.Random(seed)  # noqa: S311 - no secret
    names = [f"s{number}" for number in range(screens)]
    lines = ["app: Swept", "start: s0", "facts:", *(f"  f{number}: [no, yes]" for number in range(4))]
    if rich:
        lines += ["calls:", "  ask: {again: ignore, ok: 300ms, no: 100ms}"]
        lines += ["overlays:", "  sure: {kind: dialog, moves: [{when: tap x, do: close}]}"]
    lines.append("screens:")
    for place, name in enumerate(names):
        lines += [f"  {name}:", "    moves:"]
        for number in range(4):
            target = names[(place * 4 + number + 1) % screens] if random_.random() < 0.6 else random_.choice(names)
            usual = (f"push {target}", f"replace {target}", "pop", f"[clear, push {target}]")
            operation = random_.choices(usual, [8, 2, 1, 0.3])[0]
            if rich and random_.random() < 0.15:
                operation = random_.choice(("open sure", "call ask"))
            fact = random_.choice(("", f", if: f{random_.randrange(4)} is yes"))
            sets = random_.choice(("", f"set f{random_.randrange(4)} {random_.choice(('yes', 'no'))}, "))
            lines.append(f"      - {{when: tap m{number}{fact}, do: [{sets}{operation.strip('[]')}]}}")
            if operation == "call ask":
                lines.append(f"      - {{when: ask gives ok, do: {random_.choice((f'push {target}', f'set f{number} yes'))}}}")
        if rich and random_.random() < 1 / 4:
            answers = "answers: [{no: stay}, {yes: go on}]"
            lines.append(
                f"    guards: [{{name: g{place}, if: f{random_.randrange(4)} is yes, ask: {{text: Leave?, {answers}}}}}]"
            )
    lines += ["rules: [redirects end, results come back, waiting ends, no twins, {rule: never beneath, screens: [s3]},"]
    lines += ["  {rule: never land on, screens: [s5]}, {rule: leaves only from, screens: [s0]}"]
    lines += [", {rule: guarded, screens: [s2, s3]}]" if rich else "]"]
    return "\n".join(lines)


def sweeping(plan: Plan, states: int, seconds: float = 300.0) -> tuple[float, float, float]:
    """Sweep a plan: states a second, bytes a state, and how many a second a bare loop puts into a set in the same run."""
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    sweep = Sweep(plan, Bounds(states=states, seconds=seconds))
    sweep.run()
    used = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) * 1024 / sweep.count
    packed = [bundle << 24 | core for level in sweep.by_depth for core, bundles in level.items() for bundle in bundles]
    return sweep.count / sweep.seconds, used, statistics.median(set_insertions(packed) for _ in range(3))


def set_insertions(states: list[int]) -> float:
    """States a second that a bare loop puts into a set."""
    began = time.perf_counter()
    seen: set[int] = set()
    for state in states:
        if state not in seen:
            seen.add(state)
    return len(states) / (time.perf_counter() - began)


def sweeping_apart(words: list[str]) -> list[float]:
    """Sweep in a process of its own, so that its memory can be told."""
    done = subprocess.run([sys.executable, __file__, "sweep", *words], capture_output=True, text=True, check=True)
    return [float(word) for word in done.stdout.split()]


def first_verdict() -> float:
    """Return the seconds from an edited plan to the first verdicts of its rules, as the bench asks for them."""
    plan = read_plan(combfield())
    began = time.perf_counter()
    sweep = Sweep(plan)
    sweep.run(AT_ONCE)
    taken = time.perf_counter() - began
    return taken if sweep.verdicts()[0].status != "undecided" else math.inf


def comparing(seconds: float) -> list[tuple[str, float, str, str, float]]:
    """How far a comparison of Combfield with itself looks in so many seconds, in pairs and in steps, beside the sweep."""
    sweep = Sweep(read_plan(combfield()), Bounds(seconds=seconds))
    sweep.run()
    looked = PairSearch(read_plan(combfield()), read_plan(combfield())).run(seconds)
    name = f"two versions compared for {seconds:.0f} s"
    return [
        (f"{name}, pairs", looked.pairs, "", "states of the sweep", sweep.count),
        (f"{name}, steps", looked.depth, "", "steps of the sweep", sweep.extent().depth),
    ]


def proving(plan: Plan) -> float:
    """Seconds to take all states of a plan together for the first time, which proves what is easy."""
    return prove(plan, rules_in_force(plan), 30).wholes[0].seconds


def round_trip() -> float:
    """Seconds for an app's answers to `do` and `where`, over the loopback, beside what the app itself takes."""

    async def run() -> float:
        plan = read_plan(combfield())
        started = await asyncio.create_subprocess_exec(
            *CLIMB[:3], "stand-in", str(combfield()), "--listen", "127.0.0.1:0", stderr=asyncio.subprocess.PIPE
        )
        assert started.stderr is not None  # noqa: S101 - as asked for
        address = (await started.stderr.readline()).decode().split()[-1]
        async with reached(AppAt(address), plan) as app:
            await app.link.begin(Begin())
            await app.link.do(Launch())
            began = time.perf_counter()
            for _ in range(200):
                await app.link.do(Home())
                await app.link.where()
                await app.link.do(Reopen())
                await app.link.where()
            took = (time.perf_counter() - began) / 400
        started.kill()
        await started.wait()
        return took

    return asyncio.run(run())


def on_an_app() -> float:
    """Seconds for all walks of Combfield on the stand-in, its start left out."""
    stand_in = f"{sys.executable} -m wise_ladder stand-in {combfield()}"
    plan, began = read_plan(combfield()), time.perf_counter()
    run_walks(plan, plan.walks, AppAt(command=stand_in), lambda *_: True)
    return time.perf_counter() - began


def median(measure: Callable[[], float]) -> float:
    """Median of several runs."""
    return statistics.median(measure() for _ in range(RUNS))


def main() -> None:
    """Measure with nothing remembered from an earlier start; `sweep SCREENS STATES [rich]` measures one sweep alone."""
    if sys.argv[1:2] == ["sweep"]:
        what, states = sys.argv[2], int(sys.argv[3])
        rich = sys.argv[4:] == ["rich"]
        plan = read_plan(combfield()) if what == "combfield" else read_plan_text(swept_plan(int(what), rich=rich))
        print(*sweeping(plan, states))
        return
    with tempfile.TemporaryDirectory() as folder:
        os.environ["XDG_STATE_HOME"] = folder
        measure(folder)


def measure(folder: str) -> None:
    """Measure, print, write."""
    check = [sys.executable, "-m", "wise_ladder", "check", "--no-rules", str(combfield())]
    nothing = [sys.executable, "-c", ""]
    walks = draw_walks()
    # A program that is installed has its bytecode beside it; so has ours here.
    os.environ.pop("PYTHONDONTWRITEBYTECODE", None)
    first_paint(CLIMB, b"has not been started")
    paints = [(*first_paint(CLIMB, b"has not been started"), *first_paint(BARE_APP, b"item 3")) for _ in range(RUNS)]
    paint, paint_cpu, bare_paint, bare_cpu = (statistics.median(column) for column in zip(*paints, strict=True))
    to_hive = [b"r", b"n", b"n", b"1", b"1", b"1", b"1", b"1"]
    key = keys(CLIMB, b"has not been started", to_hive, [b"1"])
    crossing = keys(CLIMB, b"has not been started", [*to_hive, b"X"], [b"\x1b[B"])
    large = Path(folder) / "large.ladder.yaml"
    large.write_text(large_plan(120))
    long = keys([*CLIMB[:3], "open", str(large)], b"has not been started", [b"r", b"4", *[b"x"] * 200], [b"4"])
    bare_key = keys(BARE_APP, b"item 3", [], [b"\x1b[B"])
    many = checking_many(folder)
    kinds = {
        "sweep, 16 screens": ["16", "1000000"],
        "sweep, 32 screens": ["32", "1000000"],
        "sweep, 16 screens, guards and calls": ["16", "1000000", "rich"],
        "sweep, 32 screens, guards and calls": ["32", "1000000", "rich"],
        "sweep, Combfield": ["combfield", "1000000"],
    }
    swept = {name: sweeping_apart(words) for name, words in kinds.items()}
    rows = [
        ("first paint of the demo", paint * 1000, "ms", "a bare application", bare_paint * 1000),
        ("the same, processor time", paint_cpu * 1000, "ms", "a bare application", bare_cpu * 1000),
        ("key to changed screen", key * 1000, "ms", "a bare application", bare_key * 1000),
        ("the same in Crossings", crossing * 1000, "ms", "a bare application", bare_key * 1000),
        ("with 120 screens, 2,000 steps", long * 1000, "ms", "a bare application", bare_key * 1000),
        ("idle, percent of a processor", idle(CLIMB, b"has not been started"), "%", "", 0.0),
        ("--help, processor time", median(lambda: processor_time([*CLIMB[:3], "--help"])) * 1000, "ms",
         "an empty interpreter", median(lambda: processor_time(nothing)) * 1000),
        ("check of Combfield's walks, processor time", median(lambda: processor_time(check)) * 1000, "ms",
         "an empty interpreter", median(lambda: processor_time(nothing)) * 1000),
        *((name, speed, "1/s", "a bare loop", bare) for name, (speed, _, bare) in swept.items()),
        *((f"{name}, memory", size, "B", "", 0.0) for name, (_, size, _) in swept.items()),
        ("proofs of 16 screens", proving(read_plan_text(swept_plan(16, rich=False))), "s", "", 0.0),
        ("proofs of 32 screens", proving(read_plan_text(swept_plan(32, rich=False))), "s", "", 0.0),
        ("proofs of a mended gallery plan", statistics.median(proving(read_plan(each.fixed)) for each in gallery()) * 1000,
         "ms", "", 0.0),
        ("first verdicts after an edit", median(first_verdict) * 1000, "ms", "", 0.0),
        ("check of 1,000 walks of 50 steps", many[0] * 1000, "ms", "", 0.0),
        ("the same, memory at most", many[1], "MB", "", 0.0),
        ("reading 300 screens, 1,200 moves", median(reading) * 1000, "ms", "", 0.0),
        ("refusing a plan of 5 MB", median(refusing) * 1000, "ms", "", 0.0),
        ("do and where on an app", median(round_trip) * 1000, "ms", "", 0.0),
        ("Combfield's walks on an app", median(on_an_app) * 1000, "ms", "", 0.0),
        *comparing(5),
        *comparing(30),
        ("100,000 steps of drawn walks", median(lambda: steps_a_second(walks)), "1/s", "a bare loop", median(bare_loop)),
        ("the same, nothing remembered", median(lambda: steps_done_anew(walks)), "1/s", "a bare loop", median(bare_loop)),
    ]  # fmt: skip
    print(f"{'what':36} {'median':>12}      {'yardstick':22} {'median':>12} {'ratio':>8}")
    for what, value, unit, yardstick, other in rows:
        ratio = f"{value / other:8.2g}" if other else ""
        beside = f"{yardstick:22} {other:12,.0f} {ratio}" if other else ""
        print(f"{what:36} {value:12,.{1 if value < 10 else 0}f} {unit:4} {beside}".rstrip())
    found = {
        what: {"value": value, "unit": unit, "yardstick": yardstick, "of it": other}
        for what, value, unit, yardstick, other in rows
    }
    Path("build").mkdir(exist_ok=True)
    Path("build/bench.json").write_text(json.dumps(found, indent=1))


if __name__ == "__main__":
    main()
