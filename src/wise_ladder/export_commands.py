"""`wise-ladder draw`, `tape` and `report`: what a walk does or what breaks a rule, and the map of a plan, written to files."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder import messages
from wise_ladder.check_command import variant
from wise_ladder.drawings import ENDINGS, MAP_ENDINGS, Look, MapWish, draw_backs, draw_crossings, draw_map, draw_time, draw_walk
from wise_ladder.errors import UsageError, WalkError
from wise_ladder.plan.files import save
from wise_ladder.plan.loader import read_plan
from wise_ladder.plan.suggest import suggest
from wise_ladder.safe import visible
from wise_ladder.walks import run_walk
from wise_ladder.walks.tape import Tape

if TYPE_CHECKING:
    import argparse

    from wise_ladder.plan import Plan
    from wise_ladder.plan.events import Walk
    from wise_ladder.walks import WalkRun


SECONDS = 5.0
"""The longest time of a sweep for a table of Back, for a page about a screen, or for a sheet for a tester."""


def draw(call: argparse.Namespace) -> int:
    """Draw the path that the call names as a film strip or along its clock, or the map, with that path traced on it."""
    is_map, path, look = call.what == "map", call.output, Look(call.dark, call.slide)
    if path.suffix not in (MAP_ENDINGS if is_map else ENDINGS):
        words = messages.MAPS_END_IN if is_map else messages.DRAWINGS_END_IN
        raise UsageError(words.format(path=path, instead=path.with_suffix(".svg")))
    if not is_map and call.around is not None:
        raise UsageError(messages.AROUND_IS_OF_MAPS)
    named = call.walk is not None or call.rule is not None
    if is_map and not named:
        draw_map(variant(read_plan(call.plan), call.phone, call.given, call.plan), path, MapWish(call.around or "", look=look))
        return 0
    if call.what in {"crossings", "backs"}:
        if named:
            raise UsageError(messages.TABLES_SHOW_NO_WALK.format(what=call.what))
        return _draw_table(call, look)
    if not named:
        raise UsageError(messages.DRAW_WHAT)
    plan, result, wrong = _run(call)
    if call.what == "strip":
        draw_walk(plan, result, path, look, wrong)
        return 0
    run = Tape.from_walk(plan, result)
    if is_map:
        draw_map(plan, path, MapWish(call.around or "", run, result.walk.name, look))
    else:
        draw_time([(result.walk.name, run)], path, look, lanes=call.what == "time")
    return 0


def _draw_table(call: argparse.Namespace, look: Look) -> int:
    """Draw one of the two tables of Crossings, that of Back from a sweep of five seconds at most."""
    plan = variant(read_plan(call.plan), call.phone, call.given, call.plan)
    if call.what == "crossings":
        draw_crossings(plan, call.output, look)
        return 0
    from wise_ladder.rules.sweep import Sweep  # noqa: PLC0415
    from wise_ladder.rules.verdicts import Bounds  # noqa: PLC0415

    sweep = Sweep(plan, Bounds(seconds=SECONDS), ())
    sweep.run()
    draw_backs(plan, sweep.landings, sweep.extent().words, call.output, look)
    return 0


def tape(call: argparse.Namespace) -> int:
    """Print each step of a walk, or what was seen on it for how long."""
    from wise_ladder.reports.walk_export import Row, SeenRow, as_csv, as_json, rows, seen_rows  # noqa: PLC0415

    plan, result, _ = _run(call)
    listed = seen_rows(Tape.from_walk(plan, result)) if call.seen else rows(plan, result)
    print((as_csv(SeenRow if call.seen else Row, listed) if call.format == "csv" else as_json(listed)).rstrip("\n"))
    return 0


def report(call: argparse.Namespace) -> int:
    """Write a page of Markdown, and the drawings that it shows beside it."""
    if call.output.suffix != ".md":
        raise UsageError(messages.REPORTS_END_IN.format(path=call.output, instead=call.output.with_suffix(".md")))
    if call.script:
        return _tester_sheet(call)
    if call.screen is not None or call.all_screens:
        return _screen_pages(call)
    from wise_ladder.reports.walk_export import as_markdown  # noqa: PLC0415

    plan, result, wrong = _run(call)
    strip = call.output.with_suffix(".svg")
    draw_walk(plan, result, strip, wrong=wrong)
    save(call.output, as_markdown(plan, result, str(call.plan), strip.name, wrong))
    print(visible(messages.REPORT_WRITTEN.format(path=call.output, strip=strip)))
    return 0


def _screen_pages(call: argparse.Namespace) -> int:
    """Write all about a screen or every screen, and the map around each."""
    from wise_ladder.reports.screen_markdown import as_markdown  # noqa: PLC0415
    from wise_ladder.reports.screen_page import screen_pages  # noqa: PLC0415

    plan = variant(read_plan(call.plan), call.phone, call.given, call.plan)
    names = [screen.name for screen in plan.screens] if call.all_screens else [call.screen]
    if not call.all_screens and call.screen not in plan.screen:
        raise UsageError(messages.NO_SUCH_SCREEN.format(name=call.screen, instead=suggest(call.screen, list(plan.screen))))
    numbers = [""] if len(names) == 1 else [f"-{number}" for number in range(1, len(names) + 1)]
    maps = {name: call.output.with_name(f"{call.output.stem}{number}.svg") for name, number in zip(names, numbers, strict=True)}
    for name, path in maps.items():
        draw_map(plan, path, MapWish(name))
    pages = screen_pages(plan, names, SECONDS)
    save(call.output, as_markdown(pages, str(call.plan), {name: path.name for name, path in maps.items()}))
    words = messages.SCREEN_WRITTEN if len(names) == 1 else messages.SCREENS_WRITTEN
    print(visible(words.format(path=call.output, map=next(iter(maps.values())), count=len(names))))
    return 0


def _tester_sheet(call: argparse.Namespace) -> int:
    """Write the walks, and what breaks the rules, for somebody who checks the app by hand."""
    from wise_ladder.reports.tester_sheet import tester_sheet  # noqa: PLC0415
    from wise_ladder.rules.sweep import Sweep  # noqa: PLC0415
    from wise_ladder.rules.verdicts import Bounds  # noqa: PLC0415

    plan = variant(read_plan(call.plan), call.phone, call.given, call.plan)
    sweep = Sweep(plan, Bounds(seconds=SECONDS))
    sweep.run()
    runs = [run_walk(plan, walk) for walk in plan.walks]
    save(call.output, tester_sheet(plan, runs, sweep.verdicts()))
    print(visible(messages.SHEET_WRITTEN.format(path=call.output)))
    return 0


def _run(call: argparse.Namespace) -> tuple[Plan, WalkRun, str]:
    """Run the walk that a call names, or what breaks the rule it names, on the phone it names; say what is wrong then."""
    plan = variant(read_plan(call.plan), call.phone, call.given, call.plan)
    if call.walk is None:
        from wise_ladder.rules.named_rule import as_walk  # noqa: PLC0415

        walk, wrong = as_walk(plan, call.rule)
        return plan, run_walk(plan, walk), wrong
    return plan, run_walk(plan, _walk(plan, call.walk)), ""


def _walk(plan: Plan, name: str) -> Walk:
    for walk in plan.walks:
        if walk.name == name:
            return walk
    raise WalkError(messages.NO_SUCH_WALK.format(name=name, instead=suggest(name, [walk.name for walk in plan.walks])))
