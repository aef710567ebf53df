"""The command line. Each command imports what it needs, so that `--help` answers at once."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from wise_ladder import __version__
from wise_ladder.errors import CallError, LadderError, PlanError

if TYPE_CHECKING:
    from wise_ladder.plan import Plan, Walk

app = typer.Typer(
    name="wise-ladder",
    help="See what the back stack of a mobile app does: model it, climb it, look ahead at Back, keep paths as checks.",
    epilog="Begin with: wise-ladder demo",
    rich_markup_mode=None,
    pretty_exceptions_enable=False,
    context_settings={"help_option_names": ["-h", "--help"]},
)
PlanFile = Annotated[Path, typer.Argument(metavar="PLAN", help="A plan file, NAME.ladder.yaml.", show_default=False)]


def _version(wanted: bool) -> None:
    if wanted:
        print(f"wise-ladder {__version__}")
        raise typer.Exit


@app.callback(invoke_without_command=True)
def _start(
    context: typer.Context,
    _: Annotated[bool, typer.Option("--version", callback=_version, is_eager=True, help="Print the version.")] = False,
) -> None:
    if context.invoked_subcommand is None:
        demo()


@app.command(epilog="Example: wise-ladder demo")
def demo() -> None:
    """Open Combfield, the made-up app that comes along."""
    from wise_ladder.demo import combfield  # noqa: PLC0415

    _open(combfield(), example=True)


@app.command("open", epilog="Example: wise-ladder open myapp.ladder.yaml")
def open_plan(plan: PlanFile) -> None:
    """Open a plan on the bench."""
    _open(plan, example=False)


@app.command(epilog="Exit code: 0 all hold, 1 a walk fails, 2 a plan cannot be read. Example: wise-ladder check *.ladder.yaml")
def check(
    plans: Annotated[list[Path], typer.Argument(metavar="PLAN...", help="Plan files.", show_default=False)],
) -> None:
    """Read plans, and run all their walks."""
    from wise_ladder.plan.reading import read_plan  # noqa: PLC0415
    from wise_ladder.walks import run_walk  # noqa: PLC0415
    from wise_ladder.walks.telling import tell  # noqa: PLC0415

    read: list[tuple[Path, Plan]] = []
    unread: list[str] = []
    for path in plans:
        try:
            read.append((path, read_plan(path)))
        except PlanError as error:
            unread += error.messages
    if unread:
        raise PlanError(unread)
    failed = 0
    for path, plan in read:
        for doubt in plan.doubts:
            print(f"doubt: {doubt}", file=sys.stderr)
        results = [run_walk(plan, walk) for walk in plan.walks]
        for result in results:
            failed += not result.passed
            for line in tell(result, str(path)):
                print(line)
        print(_summary(plan, sum(result.passed for result in results)))
    if failed:
        raise typer.Exit(1)


def _summary(plan: Plan, passed: int) -> str:
    count = len(plan.walks)
    if not count:
        return f"{plan.app}: no walks yet"
    failed = f", {count - passed} {'fails' if count - passed == 1 else 'fail'}" if passed < count else ""
    return f"{plan.app}: {passed} of {count} walks {'passes' if count == 1 else 'pass'}{failed}"


@app.command(epilog='Example: wise-ladder draw app.ladder.yaml --walk "ten toggles, one Back" -o strip.svg')
def draw(
    plan: PlanFile,
    walk: Annotated[str, typer.Option(help="The walk to draw.", show_default=False)],
    output: Annotated[Path, typer.Option("-o", "--output", help="Where to: NAME.svg or NAME.pdf.", show_default=False)],
) -> None:
    """Draw a walk as a film strip of ladders, SVG or PDF."""
    from wise_ladder.plan.reading import read_plan  # noqa: PLC0415

    if output.suffix not in {".svg", ".pdf"}:
        raise CallError(f"{output}: drawings are .svg or .pdf; write {output.with_suffix('.svg')}")
    read = read_plan(plan)
    found = _walk(read, walk)

    from wise_ladder.drawings import draw_walk  # noqa: PLC0415
    from wise_ladder.walks import run_walk  # noqa: PLC0415

    draw_walk(read, run_walk(read, found), output)


def _walk(plan: Plan, name: str) -> Walk:
    from wise_ladder.errors import WalkError  # noqa: PLC0415
    from wise_ladder.plan.nearest import instead_of  # noqa: PLC0415

    for walk in plan.walks:
        if walk.name == name:
            return walk
    raise WalkError(f'there is no walk "{name}"; {instead_of(name, [walk.name for walk in plan.walks])}')


def _open(path: Path, *, example: bool) -> None:
    from wise_ladder.plan.reading import read_plan  # noqa: PLC0415

    if not (sys.stdin.isatty() and sys.stdout.isatty()):
        raise CallError("the bench needs a terminal; wise-ladder check PLAN runs without one")
    plan = read_plan(path)

    from wise_ladder.app import run  # noqa: PLC0415

    run(plan, path, example=example)


def main() -> None:
    """Run the command line; what is wrong is said in plain lines, and the exit code tells what kind it was."""
    for stream in (sys.stdout, sys.stderr):
        if hasattr(stream, "reconfigure"):
            stream.reconfigure(errors="replace")
    try:
        app()
    except LadderError as error:
        print(error, file=sys.stderr)
        sys.exit(error.exit_code)
    except BrokenPipeError:
        # Whoever read our output has enough of it; the interpreter must not try to flush the rest.
        sys.stdout = None
        sys.exit(1)
