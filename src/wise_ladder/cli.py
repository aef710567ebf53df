"""The command line. Each command imports what it needs, so that `--help` answers at once."""

from __future__ import annotations

import gc
import os
import sys
from pathlib import Path
from typing import TYPE_CHECKING, NoReturn

from wise_ladder import __version__, messages
from wise_ladder.command_options import (
    Parser,
    bound,
    bounds,
    check_options,
    completed,
    gallery_names,
    plan_files,
    plan_names,
    plan_on_phone,
    stand_in_options,
    variant_options,
    walk_options,
)
from wise_ladder.errors import UsageError

if TYPE_CHECKING:
    import argparse
    from collections.abc import Callable, Sequence


SHELLS = ("bash", "zsh", "fish")


def _parser() -> Parser:
    parser = Parser(
        prog="wise-ladder",
        description="See what the back stack of a mobile app does: write down its screens and moves, climb it, "
        "see where Back leads, check every path.",
        epilog="Start with: wise-ladder demo. Without a command it opens the last plan.",
    )
    parser.add_argument("--version", action="version", version=f"wise-ladder {__version__}")
    commands = parser.add_subparsers(metavar="COMMAND", parser_class=Parser)

    def command(name: str, does: Callable[[argparse.Namespace], int], words: str, example: str) -> Parser:
        added = commands.add_parser(name, help=words, description=words, epilog=f"Example: wise-ladder {example}")
        added.set_defaults(does=does)
        return added

    demo = command("demo", _demo, "Open Combfield, the made-up sample app.", "demo")
    opens = command("open", _open_plan, "Open a plan.", "open myapp.ladder.yaml")
    completed(opens.add_argument("plan", type=Path, metavar="PLAN", help="a plan file, NAME.ladder.yaml"), plan_files)
    checks = command(
        "check",
        _check,
        "Run the walks and check the rules of plans. Exit code: 0 all pass, 1 something fails, 2 a plan is unreadable.",
        "check *.ladder.yaml",
    )
    check_options(checks)
    _asked(command)
    begins = command(
        "new", _new, "Write a small plan to start from; without options it asks.", "new Combfield --splash --sign-in"
    )
    begins.add_argument("app", nargs="?", metavar="NAME", help="the name of your app; asked for if omitted")
    begins.add_argument("--splash", action="store_true", help="add a splash")
    begins.add_argument("--sign-in", action="store_true", help="add a sign-in")
    begins.add_argument("--tabs", metavar="NAME,NAME", default="", help="add these tabs")
    begins.add_argument(
        "--from", dest="table", type=Path, metavar="TABLE.csv", help="make it from a table: from, action, operation, to"
    )
    begins.add_argument("-o", "--output", type=Path, metavar="FILE", help="output file (NAME.ladder.yaml)")
    shape = command("schema", _schema, "Print the JSON Schema of plan files, or of what check prints.", "schema > x.json")
    shape.add_argument(
        "of",
        nargs="?",
        choices=("plan", "check", "wire"),
        default="plan",
        help="of plan files, of check --format json, or of what goes over the wire to an app",
    )
    written = _written(command)
    for some in (demo, opens, *written):
        variant_options(some)
    shows = command("gallery", _gallery, "List common mistakes, each a tiny plan, or open one.", "gallery toggle")
    completed(shows.add_argument("name", nargs="?", help="the mistake to open; omit to list them"), gallery_names)
    shows.add_argument("--fixed", "--mended", dest="fixed", action="store_true", help="open its fixed version")
    stand_in_options(command("stand-in", _stand_in, "Stand in for a running app that behaves as the plan says.",
                              'stand-in myapp.ladder.yaml --listen 7400 --fault "frames: tap hive look: push"'))  # fmt: skip
    shell = command("completion", _completion, "Print shell completion for our commands.", "completion bash")
    shell.add_argument("shell", choices=SHELLS)
    return parser


def _asked(command: Callable[[str, Callable[[argparse.Namespace], int], str, str], Parser]) -> None:
    """Add the commands that answer a question from a sweep."""
    backs = command(
        "backs",
        _backs,
        "Print where each way back leads from every screen, with a shortest path to each, and what is surprising.",
        "backs myapp.ladder.yaml --phone all",
    )
    plan_on_phone(backs, all_of_them=True)
    bounds(backs)
    backs.add_argument(
        "--format", choices=("text", "json", "csv"), default="text", help="text for people, the others for programs"
    )
    compared = command(
        "compare",
        _compare,
        "Print what a user notices of a change between two versions of a plan. Exit code: 0 none, 1 something, 2 unreadable.",
        "compare --since main myapp.ladder.yaml",
    )
    compared.add_argument("plans", type=Path, metavar="PLAN", nargs="+", help="OLD and NEW, or with --since one plan")
    compared.add_argument(
        "--since", metavar="REVISION", help="compare the plan with what it was at this revision of its git repository"
    )
    compared.add_argument("--seconds", type=bound(float), metavar="S", default=10.0, help="look for at most S seconds (10)")
    compared.add_argument("--format", choices=("text", "json"), default="text", help="text for people, json for programs")
    compared.add_argument(
        "-o", "--output", type=Path, metavar="FILE", help="also write a page for a review: NAME.md, with film strips"
    )
    path = command(
        "path",
        _path,
        "Print the shortest paths to SCREEN seen, SCREEN beneath SCREEN, a condition, Back from SCREEN lands on SCREEN.",
        'path myapp.ladder.yaml "sign in beneath home"',
    )
    plan_on_phone(path)
    path.add_argument("question", metavar="QUESTION", help='the state, as in "hive seen and session is expired"')
    bounds(path)


def _written(command: Callable[[str, Callable[[argparse.Namespace], int], str, str], Parser]) -> list[Parser]:
    """Add the commands that write what a walk does, or what breaks a rule."""
    draws = command(
        "draw",
        _draw,
        "Draw a walk, or the shortest steps that break a rule, as a film strip of ladders or along its clock; or the map.",
        "draw app.ladder.yaml --what map -o map.svg",
    )
    draws.add_argument(
        "--what",
        choices=("strip", "map", "time", "depth", "crossings", "backs"),
        default="strip",
        help="a film strip (default), the map of screens and moves, what was seen along time, depth and weight, "
        "every move from where to where, or where Back leads",
    )
    near = draws.add_argument("--around", metavar="SCREEN", help="draw only what is within two moves of this screen")
    completed(near, plan_names("screens"))
    draws.add_argument("--dark", action="store_true", help="light lines on a dark ground")
    draws.add_argument("--slide", action="store_true", help="on slides, not on a page for print")
    draws.add_argument(
        "-o", "--output", required=True, type=Path, metavar="FILE",
        help="output file: NAME.svg or NAME.pdf; of the map also NAME.graphml or NAME.dot",
    )  # fmt: skip
    tapes = command(
        "tape", _tape, "Print each step of a walk with the ladder after it, depth, weight, clock and what is seen.",
        'tape app.ladder.yaml --walk "ten toggles, one Back" --format csv',
    )  # fmt: skip
    reports = command(
        "report", _report, "Write a page of Markdown: about a walk, what breaks a rule, a screen, or a sheet for a tester.",
        'report app.ladder.yaml --walk "ten toggles, one Back" -o toggles.md',
    )  # fmt: skip
    for some in (draws, tapes):
        walk_options(some, rules=some is not tapes, required=some is not draws)
    which = walk_options(reports, rules=True, required=True)
    completed(which.add_argument("--screen", metavar="NAME", help="all about a screen, with the map around it"),
               plan_names("screens"))  # fmt: skip
    which.add_argument("--all-screens", action="store_true", help="all about every screen")
    which.add_argument("--script", action="store_true", help="walks and what breaks rules, with boxes for a tester to tick")
    tapes.add_argument("--seen", action="store_true", help="what was seen for how long, with timers and calls, not the steps")
    tapes.add_argument("--format", choices=("csv", "json"), default="csv", help="output format")
    reports.add_argument("-o", "--output", required=True, type=Path, metavar="FILE", help="output file: NAME.md")
    return [draws, tapes, reports]


def _last(_call: argparse.Namespace) -> int:
    """Open the last plan, or the demo if there is none."""
    from wise_ladder.app import last_plan  # noqa: PLC0415
    from wise_ladder.demo import combfield  # noqa: PLC0415

    path = last_plan()
    return _open(path or combfield(), None, None, example=path is None)


def _demo(call: argparse.Namespace) -> int:
    from wise_ladder.demo import combfield  # noqa: PLC0415

    return _open(combfield(), call.phone, call.given, example=True)


def _open_plan(call: argparse.Namespace) -> int:
    return _open(call.plan, call.phone, call.given, example=False)


def _check(call: argparse.Namespace) -> int:
    from wise_ladder.check_command import check  # noqa: PLC0415

    return check(call)


def _backs(call: argparse.Namespace) -> int:
    from wise_ladder.backs_command import backs  # noqa: PLC0415

    return backs(call)


def _stand_in(call: argparse.Namespace) -> int:
    from wise_ladder.stand_in_command import stand_in  # noqa: PLC0415

    return stand_in(call)


def _compare(call: argparse.Namespace) -> int:
    from wise_ladder.compare_command import compare  # noqa: PLC0415

    return compare(call)


def _path(call: argparse.Namespace) -> int:
    from wise_ladder.path_command import path  # noqa: PLC0415

    return path(call)


def _open(path: Path, phone: str | None, given: str | None, *, example: bool) -> int:
    from wise_ladder.check_command import variant  # noqa: PLC0415
    from wise_ladder.plan.loader import read_file  # noqa: PLC0415

    plan, text = read_file(path)
    plan = variant(plan, phone, given, path)
    if not (sys.stdin.isatty() and sys.stdout.isatty()):
        raise UsageError(messages.NEEDS_A_TERMINAL)

    from wise_ladder.app import run  # noqa: PLC0415

    run(plan, path, text, example=example)
    return 0


def _schema(call: argparse.Namespace) -> int:
    import json  # noqa: PLC0415

    if call.of == "check":
        from wise_ladder.reports.check_json import schema  # noqa: PLC0415

        content = schema()
    elif call.of == "wire":
        from wise_ladder.link.wire import schema as wire_schema  # noqa: PLC0415

        content = wire_schema()
    else:
        from wise_ladder.plan.schema import SCHEMA as content  # noqa: N811, PLC0415
    print(json.dumps(content, indent=2))
    return 0


def _new(call: argparse.Namespace) -> int:
    from wise_ladder.new_command import new  # noqa: PLC0415

    return new(call)


def _draw(call: argparse.Namespace) -> int:
    # The plotting library and a drawing are kept to the end: looking for what is no longer used takes a tenth of the time.
    gc.disable()
    from wise_ladder.export_commands import draw  # noqa: PLC0415

    return draw(call)


def _tape(call: argparse.Namespace) -> int:
    from wise_ladder.export_commands import tape  # noqa: PLC0415

    return tape(call)


def _report(call: argparse.Namespace) -> int:
    from wise_ladder.export_commands import report  # noqa: PLC0415

    return report(call)


def _gallery(call: argparse.Namespace) -> int:
    from wise_ladder.demo import gallery  # noqa: PLC0415
    from wise_ladder.plan.suggest import suggest  # noqa: PLC0415

    faults = gallery()
    if call.name is None:
        width = max(len(fault.name) for fault in faults)
        from wise_ladder.check_command import read_plans  # noqa: PLC0415

        for fault, (_, plan) in zip(faults, read_plans([fault.faulty for fault in faults]), strict=True):
            print(f"{fault.name:{width}}  {plan.about}")
        return 0
    for fault in faults:
        if fault.name == call.name:
            return _open(fault.fixed if call.fixed else fault.faulty, None, None, example=True)
    raise UsageError(
        messages.NO_SUCH_GALLERY_FAULT.format(name=call.name, instead=suggest(call.name, [fault.name for fault in faults]))
    )


def _completion(call: argparse.Namespace) -> int:
    from argcomplete.shell_integration import shellcode  # noqa: PLC0415

    print(shellcode(["wise-ladder"], shell=call.shell))
    return 0


def main(words: Sequence[str] | None = None) -> NoReturn:
    """Run the command line; what is wrong is said in plain lines, and the exit code tells what kind it was."""
    from wise_ladder.running import run  # noqa: PLC0415 - completing needs none of it

    parser = _parser()
    if "_ARGCOMPLETE" in os.environ:
        import argcomplete  # noqa: PLC0415 - a shell asks what comes next; it ends the program

        argcomplete.autocomplete(parser)

    def call() -> int:
        arguments = parser.parse_args(words)
        return int(arguments.does(arguments)) if hasattr(arguments, "does") else _last(arguments)

    sys.exit(run(call))
