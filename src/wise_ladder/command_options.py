"""The options of the command line, and what completes them in a shell."""

from __future__ import annotations

import argparse
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING, Any, Literal, NoReturn, TypeVar

from wise_ladder import messages
from wise_ladder.errors import LadderError, UsageError

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.plan import Plan

_Number = TypeVar("_Number", int, float)


class Parser(argparse.ArgumentParser):
    """A parser whose mistakes are one line, as all of ours are; an option is written in full, or another is meant one day."""

    def __init__(self, **settings: Any) -> None:
        """Take the settings of the library."""
        super().__init__(**settings, allow_abbrev=False)

    def error(self, message: str) -> NoReturn:
        raise UsageError(messages.CALLED_WRONGLY.format(what=message, program=self.prog))


def plan_names(of: Literal["walks", "phones", "givens", "rules", "screens"]) -> Callable[..., list[str]]:
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


def gallery_names(**_more: object) -> list[str]:
    from wise_ladder.demo import gallery  # noqa: PLC0415

    return [fault.name for fault in gallery()]


def plan_files(prefix: str, **_more: object) -> list[str]:
    """Complete plan files, and the folders on the way to one."""
    from argcomplete.completers import FilesCompleter  # noqa: PLC0415

    return list(FilesCompleter(allowednames=(".yaml",))(prefix))


def completed(argument: argparse.Action, names: Callable[..., list[str]]) -> None:
    """Let a shell complete an argument by these names."""
    argument.completer = names  # type: ignore[attr-defined]


def plan_on_phone(parser: Parser, *, all_of_them: bool = False) -> None:
    """Add a plan, the phone it is run on, and what it begins with."""
    completed(parser.add_argument("plan", type=Path, metavar="PLAN", help="a plan file"), plan_files)
    variant_options(parser, all_of_them=all_of_them)


def variant_options(parser: Parser, *, all_of_them: bool = False) -> None:
    """Add the phone that a plan is run on, and the named given that it begins with."""
    more = "; all: each in turn" if all_of_them else ""
    phone = parser.add_argument("--phone", metavar="NAME", help=f"the phone to run on (the first){more}")
    given = parser.add_argument("--given", metavar="NAME", help=f"the named given to begin with (facts as declared){more}")
    completed(phone, plan_names("phones"))
    completed(given, plan_names("givens"))


def bounds(parser: Parser) -> None:
    """Add how far a sweep goes."""
    parser.add_argument(
        "--steps", "--depth", dest="depth", type=bound(int), metavar="N", help="check everything within this many steps"
    )
    parser.add_argument("--seconds", type=bound(float), metavar="S", default=5.0, help="sweep at most S seconds per plan (5)")


def check_options(checks: Parser) -> None:
    completed(
        checks.add_argument("plans", type=Path, metavar="PLAN", nargs="+", help="plan files, or folders of them"), plan_files
    )
    variant_options(checks, all_of_them=True)
    completed(checks.add_argument("--walk", metavar="NAME", help="only this walk"), plan_names("walks"))
    completed(
        checks.add_argument("--rule", metavar="NAME", help="only this rule, by its name or by what it says"),
        plan_names("rules"),
    )
    checks.add_argument("--fail-fast", action="store_true", help="stop at the first walk that fails")
    checks.add_argument(
        "--coverage", action="store_true", help="list the moves, guards, redirects, links and replies that no walk uses"
    )
    which = checks.add_mutually_exclusive_group()
    which.add_argument("--rules", action="store_true", help="only the rules, no walks")
    which.add_argument("--no-rules", action="store_true", help="only the walks, no rules")
    bounds(checks)
    checks.add_argument(
        "--prove", type=bound(float), metavar="S", help="try S seconds per plan to prove rules for every depth, after the sweep"
    )
    checks.add_argument(
        "--audit", type=bound(float), metavar="S", help="after --prove, go random ways for S seconds and look up each state"
    )
    checks.add_argument(
        "--format", choices=("text", "json", "junit", "sarif"), default="text", help="text for people, the others for programs"
    )
    checks.add_argument("--junit", type=Path, metavar="FILE", help="also write JUnit XML to a file")
    checks.add_argument("--since", metavar="REVISION", help="only plans of which a file changed since this git revision")
    checks.add_argument("--watch", action="store_true", help="check again whenever a plan changes, until Ctrl-C")
    app = checks.add_mutually_exclusive_group()
    app.add_argument(
        "--against", metavar="ADDRESS", help="run the walks on the running app there too: 127.0.0.1:7400, unix:PATH"
    )
    app.add_argument(
        "--against-command", metavar="COMMAND", help="the same with a command that speaks over its standard streams"
    )
    checks.add_argument("--explore", type=bound(int), metavar="N", help="on the app also go ways of its own, N steps in all")
    checks.add_argument("--seed", type=int, default=1, metavar="N", help="which random ways those are (1)")
    checks.add_argument("--patience", type=bound(float), metavar="S", default=10.0, help="wait S seconds for an answer (10)")
    checks.add_argument(
        "--tolerance", type=_time, metavar="TIME", default=250, help="by how much the app's own clock may differ (250ms)"
    )


def walk_options(parser: Parser, *, rules: bool, required: bool) -> argparse._MutuallyExclusiveGroup:
    """Add the plan, and its walk or also its rule, whose steps are written; return the options of which one is given."""
    completed(parser.add_argument("plan", type=Path, metavar="PLAN", help="a plan file"), plan_files)
    which = parser.add_mutually_exclusive_group(required=required)
    completed(which.add_argument("--walk", metavar="NAME", help="the walk"), plan_names("walks"))
    if rules:
        broken = which.add_argument("--rule", metavar="NAME", help="the shortest steps that break this rule, by its name")
        completed(broken, plan_names("rules"))
    return which


def stand_in_options(stands: Parser) -> None:
    completed(stands.add_argument("plan", type=Path, metavar="PLAN", help="a plan file"), plan_files)
    stands.add_argument(
        "--fault", action="append", default=[], metavar="FAULT",
        help='plant a fault: "PLACE: TRIGGER: OPERATION", "PART: KEY: VALUE" or "PART: gone"; may be given several times',
    )  # fmt: skip
    stands.add_argument("--slow", type=_time, default=0, metavar="TIME", help="wait so long before each answer")
    stands.add_argument("--silent", default="", metavar="METHOD", help="never answer this method")
    stands.add_argument("--drop-after", type=bound(int), default=0, metavar="N", help="end the connection after N answers")
    stands.add_argument("--own-clock", action="store_true", help="let time pass as it really does; it cannot be advanced then")
    where = stands.add_mutually_exclusive_group()
    where.add_argument("--listen", metavar="ADDRESS", help="wait for the other side at 127.0.0.1:PORT or unix:PATH")
    where.add_argument("--connect", metavar="ADDRESS", help="connect to the other side there; without either: standard streams")


def _time(text: str) -> int:
    """Return a time such as 250ms in milliseconds."""
    from wise_ladder.plan.tokens import PhraseError, parse_time  # noqa: PLC0415

    try:
        return parse_time(text)
    except PhraseError as error:
        raise ValueError(error.what) from None


def bound(kind: Callable[[str], _Number]) -> Callable[[str], _Number]:
    """Return a parser of positive numbers."""

    def number(text: str) -> _Number:
        value = kind(text)
        if not 0 < value < 1e9:
            raise ValueError(text)
        return value

    return number
