"""The command line. Each command imports what it needs, so that `--help` answers at once."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path
from typing import TYPE_CHECKING, NoReturn

from wise_ladder import __version__
from wise_ladder.errors import CallError, LadderError, PlanError, WalkError

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from wise_ladder.plan import Plan, Walk

SHELLS = ("bash", "zsh", "tcsh")


class _Parser(argparse.ArgumentParser):
    """A parser whose mistakes are one line, as all of ours are."""

    def error(self, message: str) -> NoReturn:
        raise CallError(f"{message}; {self.prog} --help tells how it is called")


def _parser() -> _Parser:
    parser = _Parser(
        prog="wise-ladder",
        description="See what the back stack of a mobile app does: model it, climb it, look ahead at Back, keep checks.",
        epilog="Begin with: wise-ladder demo. Without a command the last plan is opened.",
    )
    parser.add_argument("--version", action="version", version=f"wise-ladder {__version__}")
    commands = parser.add_subparsers(metavar="COMMAND", parser_class=_Parser)

    def command(name: str, does: Callable[[argparse.Namespace], int], words: str, example: str) -> _Parser:
        found = commands.add_parser(name, help=words, description=words, epilog=f"Example: wise-ladder {example}")
        found.set_defaults(does=does)
        return found

    demo = command("demo", _demo, "Open Combfield, the made-up app that comes along.", "demo")
    opens = command("open", _open_plan, "Open a plan on the bench.", "open myapp.ladder.yaml")
    opens.add_argument("plan", type=Path, metavar="PLAN", help="a plan file, NAME.ladder.yaml")
    checks = command(
        "check",
        _check,
        "Read plans and run all their walks. Exit code: 0 all pass, 1 a walk fails, 2 a plan cannot be read.",
        "check *.ladder.yaml",
    )
    checks.add_argument("plans", type=Path, metavar="PLAN", nargs="+", help="plan files")
    checks.add_argument("--phone", metavar="NAME", help="the phone to run on; all tries each and says what differs")
    begins = command(
        "new", _new, "Write a small plan to start from; without options it asks.", "new Combfield --splash --sign-in"
    )
    begins.add_argument("app", metavar="NAME", help="the name of your app")
    begins.add_argument("--splash", action="store_true", help="begin with a splash")
    begins.add_argument("--sign-in", action="store_true", help="with a sign-in in front")
    begins.add_argument("--tabs", metavar="NAME,NAME", default="", help="with tabs of these names")
    begins.add_argument("-o", "--output", type=Path, metavar="FILE", help="where to; else NAME.ladder.yaml")
    command("schema", _schema, "Print the JSON Schema of plan files, for editors.", "schema > ladder.schema.json")
    draws = command(
        "draw",
        _draw,
        "Draw a walk as a film strip of ladders, SVG or PDF.",
        'draw app.ladder.yaml --walk "ten toggles, one Back" -o strip.svg',
    )
    draws.add_argument("plan", type=Path, metavar="PLAN", help="a plan file")
    draws.add_argument("--walk", required=True, metavar="NAME", help="the walk to draw")
    draws.add_argument("-o", "--output", required=True, type=Path, metavar="FILE", help="where to: NAME.svg or NAME.pdf")
    for some in (demo, opens, draws):
        some.add_argument("--phone", metavar="NAME", help="the phone to run on; else the first of the plan")
    shows = command("gallery", _gallery, "List common mistakes, each a tiny plan, or open one on the bench.", "gallery toggle")
    shows.add_argument("name", nargs="?", help="the mistake to look at; none lists them")
    shows.add_argument("--mended", action="store_true", help="open its mended twin")
    shell = command("completion", _completion, "Print what a shell needs to complete our commands.", "completion bash")
    shell.add_argument("shell", choices=SHELLS)
    return parser


def _last(_call: argparse.Namespace) -> int:
    """Open the plan that was on the bench the last time, else the demo."""
    from wise_ladder.app import last_plan  # noqa: PLC0415
    from wise_ladder.demo import combfield  # noqa: PLC0415

    path = last_plan()
    return _open(path or combfield(), None, example=path is None)


def _demo(call: argparse.Namespace) -> int:
    from wise_ladder.demo import combfield  # noqa: PLC0415

    return _open(combfield(), call.phone, example=True)


def _open_plan(call: argparse.Namespace) -> int:
    return _open(call.plan, call.phone, example=False)


def _open(path: Path, phone: str | None, *, example: bool) -> int:
    from wise_ladder.plan.reading import read_plan  # noqa: PLC0415

    plan = _on_phone(read_plan(path), phone, path)
    if not (sys.stdin.isatty() and sys.stdout.isatty()):
        raise CallError("the bench needs a terminal; wise-ladder check PLAN runs without one")

    from wise_ladder.app import run  # noqa: PLC0415

    run(plan, path, example=example)
    return 0


def _check(call: argparse.Namespace) -> int:
    from wise_ladder.walks import run_walk  # noqa: PLC0415
    from wise_ladder.walks.telling import tell  # noqa: PLC0415

    failed = 0
    for path, plan in _read_all(call.plans):
        for doubt in plan.doubts:
            print(f"doubt: {doubt}", file=sys.stderr)
        plans = _on_phones(plan, call.phone, path)
        for phone, found in plans.items():
            if len(plans) > 1:
                print(f"on {phone}:")
            results = [run_walk(found, walk) for walk in plan.walks]
            for result in results:
                for line in tell(result, str(path)):
                    print(line)
            passed = sum(result.passed for result in results)
            failed += len(results) - passed
            print(_summary(plan, passed))
        if len(plans) > 1:
            _say_what_differs(plans)
    return 1 if failed else 0


def _on_phones(plan: Plan, wanted: str | None, path: Path) -> dict[str, Plan]:
    """Return the plan on the phone that is wanted, or on all; raises CallError where there is no such phone."""
    if wanted == "all" and plan.phones:
        return {name: plan.on_phone(name) for name, _ in plan.phones}
    return {"": plan if wanted == "all" else _on_phone(plan, wanted, path)}


def _on_phone(plan: Plan, wanted: str | None, path: Path) -> Plan:
    """Return the plan on a phone; raises CallError where there is no such phone."""
    from wise_ladder.plan.nearest import instead_of  # noqa: PLC0415

    phones = [name for name, _ in plan.phones]
    if wanted is not None and wanted not in phones:
        raise CallError(f'{path}: there is no phone "{wanted}"; {instead_of(wanted, phones)}')
    return plan if wanted is None else plan.on_phone(wanted)


def _say_what_differs(plans: dict[str, Plan]) -> None:
    from wise_ladder.walks.phones import differences  # noqa: PLC0415

    found = list(differences(plans))
    print("what differs:" if found else "no walk goes another way on another phone")
    for line in found:
        print(f"  {line}")


def _schema(_call: argparse.Namespace) -> int:
    import json  # noqa: PLC0415

    from wise_ladder.plan.schema import SCHEMA  # noqa: PLC0415

    print(json.dumps(SCHEMA, indent=2))
    return 0


def _new(call: argparse.Namespace) -> int:
    from wise_ladder.plan.reading import read_plan_text  # noqa: PLC0415
    from wise_ladder.plan.starting import new_plan  # noqa: PLC0415
    from wise_ladder.plan.writing import create  # noqa: PLC0415

    path = call.output or Path(f"{call.app.lower().replace(' ', '-')}.ladder.yaml")
    tabs = _listed(call.tabs)
    splash, sign_in = call.splash, call.sign_in
    if not (tabs or splash or sign_in) and sys.stdin.isatty() and sys.stdout.isatty():
        splash, sign_in = _asks("Does it begin with a splash?"), _asks("Does one sign in?")
        tabs = [
            tab.strip() for tab in input("Names of its tabs, parted by commas (none: just enter): ").split(",") if tab.strip()
        ]
    text = new_plan(call.app, splash=splash, sign_in=sign_in, tabs=tabs)
    read_plan_text(text, f"a plan for {call.app}")
    create(path, text)
    print(f"{path} written; look at it with: wise-ladder open {path}")
    return 0


def _listed(names: str) -> list[str]:
    return [name.strip() for name in names.split(",") if name.strip()]


def _asks(question: str) -> bool:
    return input(f"{question} (y/n) ").strip().lower().startswith("y")


def _read_all(paths: Sequence[Path]) -> list[tuple[Path, Plan]]:
    """Read every plan; raises PlanError with the problems of all of them together."""
    from wise_ladder.plan.reading import read_plan  # noqa: PLC0415

    read: list[tuple[Path, Plan]] = []
    problems: list[str] = []
    for path in paths:
        try:
            read.append((path, read_plan(path)))
        except PlanError as error:
            problems += error.messages
    if problems:
        raise PlanError(problems)
    return read


def _summary(plan: Plan, passed: int) -> str:
    count = len(plan.walks)
    if not count:
        return f"{plan.app}: no walks yet"
    failed = f", {count - passed} {'fails' if count - passed == 1 else 'fail'}" if passed < count else ""
    return f"{plan.app}: {passed} of {count} {'walk passes' if count == 1 else 'walks pass'}{failed}"


def _draw(call: argparse.Namespace) -> int:
    if call.output.suffix not in {".svg", ".pdf"}:
        raise CallError(f"{call.output}: drawings are .svg or .pdf; write {call.output.with_suffix('.svg')}")
    ((_, plan),) = _read_all([call.plan])
    plan = _on_phone(plan, call.phone, call.plan)
    walk = _walk(plan, call.walk)

    from wise_ladder.drawings import draw_walk  # noqa: PLC0415
    from wise_ladder.walks import run_walk  # noqa: PLC0415

    draw_walk(plan, run_walk(plan, walk), call.output)
    return 0


def _walk(plan: Plan, name: str) -> Walk:
    from wise_ladder.plan.nearest import instead_of  # noqa: PLC0415

    for walk in plan.walks:
        if walk.name == name:
            return walk
    raise WalkError(f'there is no walk "{name}"; {instead_of(name, [walk.name for walk in plan.walks])}')


def _gallery(call: argparse.Namespace) -> int:
    from wise_ladder.demo import gallery  # noqa: PLC0415
    from wise_ladder.plan.nearest import instead_of  # noqa: PLC0415

    faults = gallery()
    if call.name is None:
        width = max(len(fault.name) for fault in faults)
        for fault, (_, plan) in zip(faults, _read_all([fault.plan for fault in faults]), strict=True):
            print(f"{fault.name:{width}}  {plan.about}")
        return 0
    for fault in faults:
        if fault.name == call.name:
            return _open(fault.mended if call.mended else fault.plan, None, example=True)
    raise CallError(f'the gallery has no "{call.name}"; {instead_of(call.name, [fault.name for fault in faults])}')


def _completion(call: argparse.Namespace) -> int:
    import shtab  # noqa: PLC0415

    print(shtab.complete(_parser(), call.shell))
    return 0


def main(words: Sequence[str] | None = None) -> NoReturn:
    """Run the command line; what is wrong is said in plain lines, and the exit code tells what kind it was."""
    for stream in (sys.stdout, sys.stderr):
        if hasattr(stream, "reconfigure"):
            stream.reconfigure(errors="replace")
    try:
        call = _parser().parse_args(words)
        code = call.does(call) if hasattr(call, "does") else _last(call)
        sys.stdout.flush()
    except LadderError as error:
        print(error, file=sys.stderr)
        code = error.exit_code
    except BrokenPipeError:
        # Whoever read our output has enough of it; the interpreter must not try to flush the rest.
        sys.stdout = None
        code = 1
    sys.exit(code)
