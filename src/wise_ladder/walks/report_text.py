"""The outcome of walks as text: a line for each, and for a failed one both ladders side by side."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.plan import events
from wise_ladder.semantics import Phase
from wise_ladder.semantics.state import depth, visible_screens, visible_top
from wise_ladder.semantics.text import log_text, rung_text
from wise_ladder.walks.expectations import fits

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan import Plan
    from wise_ladder.plan.values import CodePlace
    from wise_ladder.semantics import State
    from wise_ladder.walks.running import WalkRun

MAX_ROWS = 10


def walk_lines(result: WalkRun, path: str, plan: Plan | None = None) -> Iterator[str]:
    """Tell how a walk went, line by line; with the plan, also where in the app's own code what failed is."""
    count = len(result.played)
    if result.not_comparable:
        yield f"◌ {result.walk.name}: not comparable: {result.not_comparable}"
        return
    if result.failed is None:
        compared = f", {result.app.compared} of {result.app.lines} compared" if result.app is not None else ""
        yield f"✓ {result.walk.name}  ({count} {'step' if count == 1 else 'steps'}{compared})"
        return
    failed = result.played[result.failed]
    in_code = [f"    in the code: {place.words}" for place in (code_places(plan, result) if plan is not None else ())]
    yield f"✗ {result.walk.name}  (step {result.failed + 1} of {count})"
    why = failed.unmet.words if failed.unmet else ""
    yield f"    {failed.line.at.within(path)}: {failed.line.text}: {why}"
    if result.app is not None and result.app.beside:
        yield from (f"    {line}" for line in result.app.beside)
        yield from in_code
        return
    yield from (f"    {line}" for line in side_by_side(failed.line.what, failed.state))
    if result.cause is not None:
        act = result.played[result.cause]
        happened = log_text(act.step.log) if act.step else ""
        yield f"    caused by step {result.cause + 1}, {act.line.text}: {happened}"
    yield from in_code
    yield f"    the walk ends {_where(result.played[-1].state)}"


def code_places(plan: Plan, result: WalkRun) -> list[CodePlace]:
    """Return where in the app's own code the moves are of the step that a walk fails at, or that is to blame for it."""
    place = result.failed if result.cause is None else result.cause
    done = result.played[place].step if place is not None else None
    found = (plan.code_of.get(move.at) for move in (done.moves if done is not None else ()))
    return list(dict.fromkeys(code for code in found if code is not None))


def side_by_side(expected: events.Event | events.Expectation, state: State, *, most: int = MAX_ROWS) -> Iterator[str]:
    """Draw the ladder that was expected beside the one that is there, the ground below both; higher ones are folded."""
    actual = [rung.data for rung in visible_screens(state.ladder)]
    wanted = _wanted(expected)
    if wanted is None:
        rows = [(rung_text(data), "", False) for data in actual]
        title = ("actual", "")
    else:
        rows = []
        for place in range(max(len(wanted), len(actual))):
            want = wanted[place] if place < len(wanted) else None
            data = actual[place] if place < len(actual) else None
            good = data is not None and want is not None and fits(data, want)
            rows.append((_words(want), rung_text(data) if data else "–", not good))
        title = ("expected", "actual")
    yield from beside(title, rows, most)


def beside(title: tuple[str, str], rows: list[tuple[str, str, bool]], most: int = MAX_ROWS) -> Iterator[str]:
    """Draw two ladders beside each other, each row a rung of both and whether they differ, the lowest first."""
    width = max(len(title[0]), *(len(left) for left, _, _ in rows), 0) if rows else len(title[0])
    yield f"  {title[0]:{width}}   {title[1]}".rstrip()
    for left, right, wrong in _folded(list(reversed(rows)), most):
        yield f"{'✗' if wrong else ' '} {left:{width}}   {right}".rstrip()
    yield "  " + "╱" * (width + 3 + max((len(right) for _, right, _ in rows), default=0))


def _wanted(expected: events.Event | events.Expectation) -> tuple[events.See, ...] | None:
    if isinstance(expected, events.LadderIs):
        return expected.rungs
    return () if isinstance(expected, events.Outside) else None


def _words(want: events.See | None) -> str:
    if want is None:
        return "–"
    return " ".join([want.screen, ", ".join(f"{name} {value}" for name, value in want.arguments)]).strip()


def _folded(rows: list[tuple[str, str, bool]], most: int) -> list[tuple[str, str, bool]]:
    if len(rows) <= most:
        return rows
    half = most // 2
    hidden = rows[half:-half]
    return [*rows[:half], ("≈", f"≈ {len(hidden)} rungs folded", any(wrong for _, _, wrong in hidden)), *rows[-half:]]


def _where(state: State) -> str:
    match state.phase:
        case Phase.OUTSIDE:
            return "on the ground"
        case Phase.AWAY:
            return "in the background"
        case Phase.KILLED:
            return "killed"
        case Phase.OPEN:
            top = visible_top(state)
            return f"on {rung_text(top.data if top else None)}, depth {depth(state)}"
