"""The command line. Each command imports what it needs, so that `--help` answers at once."""

from __future__ import annotations

import argparse
import gc
import os
import sys
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING, Any, Literal, NoReturn, TypeVar

from wise_ladder import __version__, messages
from wise_ladder.errors import LadderError, UsageError

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from wise_ladder.plan import Plan

_Number = TypeVar("_Number", int, float)
SHELLS = ("bash", "zsh", "fish")


class _Parser(argparse.ArgumentParser):
    """A parser whose mistakes are one line, as all of ours are; an option is written in full, or another is meant one day."""

    def __init__(self, **settings: Any) -> None:
        """Take the settings of the library."""
        super().__init__(**settings, allow_abbrev=False)

    def error(self, message: str) -> NoReturn:
        raise UsageError(messages.CALLED_WRONGLY.format(what=message, program=self.prog))


def _plan_names(of: Literal["walks", "phones", "givens", "rules", "screens"]) -> Callable[..., list[str]]:
    """Return what completes the name of a walk, phone or rule of the plan that stands in the line already."""

    def names(parsed_args: argparse.Namespace, **_more: object) -> list[str]:
        from wise_ladder.plan.loader import read_plan  # noqa: PLC0415

        known: list[str] = []
        for path in getattr(parsed_args, "plans", None) or [parsed_args.plan]:
            with suppress(LadderError):
                known += _names_in(read_plan(Path(path)), of)
        return known

    return names


def _names_in(plan: Plan, of: Literal["walks", "phones", "givens", "rules", "screens"]) -> list[str]:
    if of == "walks":
        return [walk.name for walk in plan.walks]
    if of == "phones":
        return [name for name, _ in plan.phones]
    if of == "givens":
        return [given.name for given in plan.givens]
    if of == "screens":
        return list(plan.screen)
    from wise_ladder.rules.starter import rules_in_force  # noqa: PLC0415

    return [rule.called for rule in rules_in_force(plan)]


def _gallery_names(**_more: object) -> list[str]:
    from wise_ladder.demo import gallery  # noqa: PLC0415

    return [fault.name for fault in gallery()]


def _plan_files(prefix: str, **_more: object) -> list[str]:
    """Complete plan files, and the folders on the way to one."""
    from argcomplete.completers import FilesCompleter  # noqa: PLC0415

    return list(FilesCompleter(allowednames=(".yaml",))(prefix))


def _completed(argument: argparse.Action, names: Callable[..., list[str]]) -> None:
    """Let a shell complete an argument by these names."""
    argument.completer = names  # type: ignore[attr-defined]


def _plan_on_phone(parser: _Parser, *, all_of_them: bool = False) -> None:
    """Add a plan, the phone it is run on, and what it begins with."""
    _completed(parser.add_argument("plan", type=Path, metavar="PLAN", help="a plan file"), _plan_files)
    _variant(parser, all_of_them=all_of_them)


def _variant(parser: _Parser, *, all_of_them: bool = False) -> None:
    """Add the phone that a plan is run on, and the named given that it begins with."""
    more = "; all: each in turn" if all_of_them else ""
    phone = parser.add_argument("--phone", metavar="NAME", help=f"the phone to run on (the first){more}")
    given = parser.add_argument("--given", metavar="NAME", help=f"the named given to begin with (facts as declared){more}")
    _completed(phone, _plan_names("phones"))
    _completed(given, _plan_names("givens"))


def _bounds(parser: _Parser) -> None:
    """Add how far a sweep goes."""
    parser.add_argument(
        "--steps", "--depth", dest="depth", type=_bound(int), metavar="N", help="check everything within this many steps"
    )
    parser.add_argument("--seconds", type=_bound(float), metavar="S", default=5.0, help="sweep at most S seconds per plan (5)")


def _check_options(checks: _Parser) -> None:
    _completed(
        checks.add_argument("plans", type=Path, metavar="PLAN", nargs="+", help="plan files, or folders of them"), _plan_files
    )
    _variant(checks, all_of_them=True)
    _completed(checks.add_argument("--walk", metavar="NAME", help="only this walk"), _plan_names("walks"))
    _completed(
        checks.add_argument("--rule", metavar="NAME", help="only this rule, by its name or by what it says"),
        _plan_names("rules"),
    )
    checks.add_argument("--fail-fast", action="store_true", help="stop at the first walk that fails")
    checks.add_argument(
        "--coverage", action="store_true", help="list the moves, guards, redirects, links and replies that no walk uses"
    )
    which = checks.add_mutually_exclusive_group()
    which.add_argument("--rules", action="store_true", help="only the rules, no walks")
    which.add_argument("--no-rules", action="store_true", help="only the walks, no rules")
    _bounds(checks)
    checks.add_argument(
        "--format", choices=("text", "json", "junit", "sarif"), default="text", help="text for people, the others for programs"
    )
    checks.add_argument("--junit", type=Path, metavar="FILE", help="also write JUnit XML to a file")
    checks.add_argument("--watch", action="store_true", help="check again whenever a plan changes, until Ctrl-C")
    app = checks.add_mutually_exclusive_group()
    app.add_argument(
        "--against", metavar="ADDRESS", help="run the walks on the running app there too: 127.0.0.1:7400, unix:PATH"
    )
    app.add_argument(
        "--against-command", metavar="COMMAND", help="the same with a command that speaks over its standard streams"
    )
    checks.add_argument("--explore", type=_bound(int), metavar="N", help="on the app also go ways of its own, N steps in all")
    checks.add_argument("--seed", type=int, default=1, metavar="N", help="which random ways those are (1)")
    checks.add_argument("--patience", type=_bound(float), metavar="S", default=10.0, help="wait S seconds for an answer (10)")
    checks.add_argument(
        "--tolerance", type=_time, metavar="TIME", default=250, help="by how much the app's own clock may differ (250ms)"
    )


def _walk_options(parser: _Parser, *, rules: bool, required: bool) -> argparse._MutuallyExclusiveGroup:
    """Add the plan, and its walk or also its rule, whose steps are written; return the options of which one is given."""
    _completed(parser.add_argument("plan", type=Path, metavar="PLAN", help="a plan file"), _plan_files)
    which = parser.add_mutually_exclusive_group(required=required)
    _completed(which.add_argument("--walk", metavar="NAME", help="the walk"), _plan_names("walks"))
    if rules:
        broken = which.add_argument("--rule", metavar="NAME", help="the shortest steps that break this rule, by its name")
        _completed(broken, _plan_names("rules"))
    return which


def _parser() -> _Parser:
    parser = _Parser(
        prog="wise-ladder",
        description="See what the back stack of a mobile app does: write down its screens and moves, climb it, "
        "see where Back leads, check every path.",
        epilog="Start with: wise-ladder demo. Without a command it opens the last plan.",
    )
    parser.add_argument("--version", action="version", version=f"wise-ladder {__version__}")
    commands = parser.add_subparsers(metavar="COMMAND", parser_class=_Parser)

    def command(name: str, does: Callable[[argparse.Namespace], int], words: str, example: str) -> _Parser:
        added = commands.add_parser(name, help=words, description=words, epilog=f"Example: wise-ladder {example}")
        added.set_defaults(does=does)
        return added

    demo = command("demo", _demo, "Open Combfield, the made-up sample app.", "demo")
    opens = command("open", _open_plan, "Open a plan.", "open myapp.ladder.yaml")
    _completed(opens.add_argument("plan", type=Path, metavar="PLAN", help="a plan file, NAME.ladder.yaml"), _plan_files)
    checks = command(
        "check",
        _check,
        "Run the walks and check the rules of plans. Exit code: 0 all pass, 1 something fails, 2 a plan is unreadable.",
        "check *.ladder.yaml",
    )
    _check_options(checks)
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
        _variant(some)
    shows = command("gallery", _gallery, "List common mistakes, each a tiny plan, or open one.", "gallery toggle")
    _completed(shows.add_argument("name", nargs="?", help="the mistake to open; omit to list them"), _gallery_names)
    shows.add_argument("--fixed", "--mended", dest="fixed", action="store_true", help="open its fixed version")
    _stand_in_options(command("stand-in", _stand_in, "Stand in for a running app that behaves as the plan says.",
                              'stand-in myapp.ladder.yaml --listen 7400 --fault "frames: tap hive look: push"'))  # fmt: skip
    shell = command("completion", _completion, "Print shell completion for our commands.", "completion bash")
    shell.add_argument("shell", choices=SHELLS)
    return parser


def _stand_in_options(stands: _Parser) -> None:
    _completed(stands.add_argument("plan", type=Path, metavar="PLAN", help="a plan file"), _plan_files)
    stands.add_argument(
        "--fault", action="append", default=[], metavar="FAULT",
        help='plant a fault: "PLACE: TRIGGER: OPERATION", "PART: KEY: VALUE" or "PART: gone"; may be given several times',
    )  # fmt: skip
    stands.add_argument("--slow", type=_time, default=0, metavar="TIME", help="wait so long before each answer")
    stands.add_argument("--silent", default="", metavar="METHOD", help="never answer this method")
    stands.add_argument("--drop-after", type=_bound(int), default=0, metavar="N", help="end the connection after N answers")
    stands.add_argument("--own-clock", action="store_true", help="let time pass as it really does; it cannot be advanced then")
    where = stands.add_mutually_exclusive_group()
    where.add_argument("--listen", metavar="ADDRESS", help="wait for the other side at 127.0.0.1:PORT or unix:PATH")
    where.add_argument("--connect", metavar="ADDRESS", help="connect to the other side there; without either: standard streams")


def _asked(command: Callable[[str, Callable[[argparse.Namespace], int], str, str], _Parser]) -> None:
    """Add the commands that answer a question from a sweep."""
    backs = command(
        "backs",
        _backs,
        "Print where each way back leads from every screen, with a shortest path to each, and what is surprising.",
        "backs myapp.ladder.yaml --phone all",
    )
    _plan_on_phone(backs, all_of_them=True)
    _bounds(backs)
    backs.add_argument(
        "--format", choices=("text", "json", "csv"), default="text", help="text for people, the others for programs"
    )
    path = command(
        "path",
        _path,
        "Print the shortest paths to SCREEN seen, SCREEN beneath SCREEN, a condition, Back from SCREEN lands on SCREEN.",
        'path myapp.ladder.yaml "sign in beneath home"',
    )
    _plan_on_phone(path)
    path.add_argument("question", metavar="QUESTION", help='the state, as in "hive seen and session is expired"')
    _bounds(path)


def _written(command: Callable[[str, Callable[[argparse.Namespace], int], str, str], _Parser]) -> list[_Parser]:
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
    _completed(near, _plan_names("screens"))
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
        _walk_options(some, rules=some is not tapes, required=some is not draws)
    which = _walk_options(reports, rules=True, required=True)
    _completed(which.add_argument("--screen", metavar="NAME", help="all about a screen, with the map around it"),
               _plan_names("screens"))  # fmt: skip
    which.add_argument("--all-screens", action="store_true", help="all about every screen")
    which.add_argument("--script", action="store_true", help="walks and what breaks rules, with boxes for a tester to tick")
    tapes.add_argument("--seen", action="store_true", help="what was seen for how long, with timers and calls, not the steps")
    tapes.add_argument("--format", choices=("csv", "json"), default="csv", help="output format")
    reports.add_argument("-o", "--output", required=True, type=Path, metavar="FILE", help="output file: NAME.md")
    return [draws, tapes, reports]


def _time(text: str) -> int:
    """Return a time such as 250ms in milliseconds."""
    from wise_ladder.plan.tokens import PhraseError, parse_time  # noqa: PLC0415

    try:
        return parse_time(text)
    except PhraseError as error:
        raise ValueError(error.what) from None


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


def _bound(kind: Callable[[str], _Number]) -> Callable[[str], _Number]:
    """Return a parser of positive numbers."""

    def number(text: str) -> _Number:
        value = kind(text)
        if not 0 < value < 1e9:
            raise ValueError(text)
        return value

    return number


def _check(call: argparse.Namespace) -> int:
    from wise_ladder.check_command import check  # noqa: PLC0415

    return check(call)


def _backs(call: argparse.Namespace) -> int:
    from wise_ladder.backs_command import backs  # noqa: PLC0415

    return backs(call)


def _stand_in(call: argparse.Namespace) -> int:
    from wise_ladder.stand_in_command import stand_in  # noqa: PLC0415

    return stand_in(call)


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
