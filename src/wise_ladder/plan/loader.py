"""From the text of a plan file to a `Plan`, or to every problem in it at once.

Two passes: first what is declared (facts, screens and what they take), then the phrases, which may name all of it.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace

from wise_ladder.errors import PlanError
from wise_ladder.plan import lint, messages, model
from wise_ladder.plan.declarations import read_declared
from wise_ladder.plan.definitions import PlaceReader
from wise_ladder.plan.included import file_name, is_outside, split
from wise_ladder.plan.map_reader import MapReader
from wise_ladder.plan.outside import OutsideReader
from wise_ladder.plan.plan_files import read_plan_files
from wise_ladder.plan.rules import read_rules
from wise_ladder.plan.source import Source, parse
from wise_ladder.plan.walk_reader import read_walks

if TYPE_CHECKING:
    from pathlib import Path

    from wise_ladder.plan.included import PlanText
    from wise_ladder.plan.model import Plan
    from wise_ladder.plan.source import Problem, ScalarNode

MAX_MOVES = 20_000
_BELONGS = {
    "tabs": "flows, as in flows: {NAME: {tabs: {TAB: SCREEN}}}",
    "moves": "a screen, or under anywhere",
    **dict.fromkeys(("takes", "holds", "gives", "header", "arrow", "weight"), "the screen that it is about"),
    "kind": "the overlay that it is about",
    "name": "the guard or rule that it is about",
}
"""Where keys belong that do not stand at the top."""


def read_plan(path: Path) -> Plan:
    """Read and check a plan file; raises PlanError with every problem in it."""
    return read_file(path)[0]


def read_file(path: Path) -> tuple[Plan, PlanText]:
    """Read and check a plan file with all that it includes, and return the text too; raises PlanError with every problem."""
    text = read_plan_files(path)
    return read_plan_text(text.text, str(path)), text


def read_plan_text(text: str, name: str = "plan") -> Plan:
    """Read and check the whole text of a plan; raises PlanError with every problem in it, named after `name`."""
    return _read(Source(name, text))


def problems_in(text: str) -> list[Problem]:
    """List what is wrong in the text of a plan, in the order of the file; at most 200 problems."""
    source = Source("plan", text)
    try:
        _read(source)
    except PlanError:
        return sorted(set(source.problems))
    return []


def _read(source: Source) -> Plan:
    top = MapReader(source, parse(source), messages.A_PLAN)
    _check_files(source, top.scalars("include"))
    declared = read_declared(source, top)
    places, outside = PlaceReader(source, declared), OutsideReader(source, declared)
    plan = model.Plan(
        declared.app,
        outside.start(top.require("start", "the first screen")),
        declared.policies,
        declared.facts,
        tuple(places.screen(screen, section) for screen, section in declared.sections),
        tuple(places.overlay(overlay, section) for overlay, section in declared.overlay_sections),
        places.moves(top.items("anywhere"), None),
        places.guards(top.items("guards"), None),
        outside.redirects(top.items("redirects")),
        outside.calls(),
        declared.timers,
        outside.cover(top.node("cover")),
        outside.links(top.items("links")),
        outside.unknown(top.scalar("unknown address")),
        outside.memory(top.node("memory")),
        declared.phones,
        declared.phones[0][0] if declared.phones else "",
        outside.givens(top.entries("givens")),
    )
    if len(plan.moves) > MAX_MOVES:
        source.add_error(
            top.at_of("screens"), messages.MORE_THAN_MOVES.format(most=MAX_MOVES), messages.SPLIT_IT_INTO_SEVERAL_PLANS
        )
    about = top.scalar("about")
    plan = replace(plan, walks=read_walks(source, top, declared, plan), about=about.text if about is not None else "")
    plan = replace(plan, rules=read_rules(source, top, declared, plan))
    top.report_unknown_keys(lambda key: messages.WRITE_ELSEWHERE.format(place=_BELONGS[key]) if key in _BELONGS else "")
    if not source.problems:
        lint.lint(source, plan)
    source.raise_errors()
    doubts = sorted(set(source.doubts))
    return replace(
        plan,
        code=tuple(source.code),
        warnings=tuple(model.PlanWarning(each.at, each.what, source.shown([each])[0]) for each in doubts),
    )


def _check_files(source: Source, included: list[ScalarNode]) -> None:
    """Report each file that is included and whose text is not here, and each text that nothing includes."""
    names, parts = {file_name(written.text) for written in included}, split(source.text)
    for written in included:
        if all(part.file != file_name(written.text) for part in parts):
            source.add_error(written.at, messages.INCLUDE_NOT_READ.format(name=written.text))
    for part in parts[1:]:
        if part.file not in names or is_outside(part.file):
            source.add_error(source.at(part.start), messages.MARK_OF_INCLUDED, messages.WRITE_COMMENT_OTHERWISE)
