"""A walk as a film strip: one ladder after each step, all on one ground, their tops the curve of the depth."""

from __future__ import annotations

import textwrap
from typing import TYPE_CHECKING, NamedTuple

from matplotlib.figure import Figure
from matplotlib.patches import Rectangle

from wise_ladder.drawings.map_layout import Frame
from wise_ladder.plan.events import Event
from wise_ladder.plan.steps import event_text
from wise_ladder.semantics import Phase, descent
from wise_ladder.semantics.log import Came, Replaced
from wise_ladder.semantics.state import open_layers, visible_path, visible_rungs
from wise_ladder.semantics.text import rung_text

if TYPE_CHECKING:
    from collections.abc import Iterator

    from matplotlib.axes import Axes

    from wise_ladder.drawings.colours import Colours
    from wise_ladder.plan import Plan
    from wise_ladder.semantics import Rung, State
    from wise_ladder.walks import LineRun, WalkRun

A_ROW = 8
"""So many frames stand side by side; a longer walk goes on in the next row."""
MAX_RUNGS = 12
"""A higher ladder is folded in its middle."""
WIDTH, GAP, PITCH = 2.0, 0.35, 0.42


class StripFrame(NamedTuple):
    """One picture of the strip: its number and words, the state it shows, which rungs just came, what is wrong there."""

    number: str
    words: str
    state: State
    came: frozenset[int]
    wrong: str
    note: str = ""
    """What is over the rung: the question that is open, else the overlays."""


def frames(plan: Plan, result: WalkRun) -> Iterator[StripFrame]:
    """Make a frame of each step that does something, and of the expectation that failed."""
    for place, played in enumerate(result.played, 1):
        wrong = played.unmet.words if played.unmet is not None else ""
        what = played.line.what
        if isinstance(what, Event):
            yield StripFrame(str(place), event_text(what), played.state, _came(played), wrong, _over(plan, played.state))
        elif wrong:
            yield StripFrame(str(place), played.line.text, played.state, frozenset(), wrong)


def _over(plan: Plan, state: State) -> str:
    if state.question is not None:
        guard = plan.guard[state.question.guard]
        return f"asks “{guard.text or guard.name}”"
    return ", ".join(name for _, name, _ in open_layers(state.overlays, visible_path(state.ladder)))


def _came(played: LineRun) -> frozenset[int]:
    happened = played.step.log if played.step else ()
    return frozenset(
        (happening.rung if isinstance(happening, Came) else happening.came).serial
        for happening in happened
        if isinstance(happening, (Came, Replaced))
    )


def film_strip(plan: Plan, result: WalkRun, colours: Colours) -> Figure:
    """Draw the strip in these colours; its label is its title."""
    shown = list(frames(plan, result))
    rows = [shown[start : start + A_ROW] for start in range(0, len(shown), A_ROW)] or [[]]
    heights = [_row_height(row) for row in rows]
    width = min(max(len(shown), 3), A_ROW) * (WIDTH + GAP) + 0.6
    title = f"{plan.app}: {result.walk.name}"
    figure = Figure(figsize=(width, sum(heights) + 1.0), facecolor=colours.page, label=title)
    axes = figure.add_axes((0, 0, 1, 1))
    axes.set_xlim(0, width)
    axes.set_ylim(0, sum(heights) + 1.0)
    axes.set_axis_off()
    top = sum(heights) + 1.0
    axes.text(0.3, top - 0.45, title, fontsize=13, fontweight="bold", color=colours.ink, va="center")
    outcome = "✓ passes" if result.passed else f"✗ fails at step {(result.failed or 0) + 1}"
    axes.text(
        width - 0.3,
        top - 0.45,
        outcome,
        fontsize=10,
        color=colours.ink if result.passed else colours.wrong,
        va="center",
        ha="right",
    )
    bottom = top - 0.9
    for row, height in zip(rows, heights, strict=True):
        bottom -= height
        _row(axes, row, Frame(0, bottom + 0.75, width, height), colours)
    if shown:
        _backs(axes, plan, shown[-1].state, width, colours)
    return figure


def _row_height(row: list[StripFrame]) -> float:
    highest = max((min(len(_rungs(frame.state)), MAX_RUNGS + 1) for frame in row), default=1)
    return max(highest, 1) * PITCH + 1.95


def _rungs(state: State) -> list[Rung]:
    return [rung for rung, _ in visible_rungs(state.ladder)]


def _row(axes: Axes, row: list[StripFrame], room: Frame, colours: Colours) -> None:
    _, ground, width, height = room
    axes.add_patch(
        Rectangle(
            (0.2, ground - 0.2), width - 0.4, 0.2, facecolor=colours.ground, edgecolor=colours.grass, hatch="////", linewidth=0
        )
    )
    for place, frame in enumerate(row):
        x = 0.3 + place * (WIDTH + GAP)
        head = ground + height - 1.2
        axes.text(x, head, frame.number, fontsize=9, fontweight="bold", color=colours.on_badge, va="top",
                  bbox={"facecolor": colours.badge, "edgecolor": "none", "pad": 2.5})  # fmt: skip
        words = "\n".join(textwrap.wrap(frame.words, 20, max_lines=2, placeholder=" …"))
        axes.text(x + 0.34, head, words, fontsize=8.5, color=colours.ink, va="top", linespacing=1.15)
        _frame(axes, frame, x, ground, colours)


def _frame(axes: Axes, frame: StripFrame, x: float, ground: float, colours: Colours) -> None:
    rungs = _rungs(frame.state)
    if not rungs:
        axes.text(x + WIDTH / 2, ground + 0.16, "outside", fontsize=9, color=colours.soft, ha="center")
    for rail in (x + 0.16, x + WIDTH - 0.28):
        if rungs:
            rise = min(len(rungs), MAX_RUNGS + 1) * PITCH
            axes.add_patch(Rectangle((rail, ground), 0.12, rise, facecolor=colours.wood, linewidth=0))
    for level, (rung, folded) in enumerate(_shown(rungs)):
        y = ground + level * PITCH + 0.14
        if folded:
            axes.text(x + WIDTH / 2, y + 0.14, f"≈ {folded} rungs folded ≈", fontsize=8, color=colours.soft, ha="center",
                      va="center", bbox={"facecolor": colours.page, "edgecolor": "none", "pad": 1.5})  # fmt: skip
            continue
        here = rung is rungs[-1] and frame.state.phase is Phase.OPEN and not frame.state.cover
        axes.add_patch(Rectangle((x, y), WIDTH, 0.28, facecolor=colours.here if here else colours.board, edgecolor=colours.edge,
                                 linewidth=1.6 if here else 0.8))  # fmt: skip
        mark = ("▴" if rung.serial in frame.came else "") + ("●" if here else "")
        axes.text(x + 0.1, y + 0.14, _cut(rung_text(rung.data), 22 - 2 * len(mark)), fontsize=8.5, va="center",
                  color=colours.on_here if here else colours.ink, fontweight="bold" if here else "normal")  # fmt: skip
        axes.text(x + WIDTH - 0.08, y + 0.14, mark, fontsize=8.5, va="center", ha="right",
                  color=colours.on_here if here else colours.ink)  # fmt: skip
    if frame.wrong:
        axes.text(x, ground - 0.3, _cut(f"✗ {frame.wrong}", 60), fontsize=8, color=colours.wrong, va="top", fontweight="bold")
    elif frame.note:
        axes.text(x, ground - 0.3, _cut(frame.note, 34), fontsize=8, color=colours.asks, va="top")
    elif words := _elsewhere(frame.state):
        axes.text(x, ground - 0.3, words, fontsize=8, color=colours.soft, va="top")


def _elsewhere(state: State) -> str:
    """Say where the app is, if it is not visible."""
    if state.phase is Phase.OPEN:
        return "under the cover" if state.cover else ""
    return {Phase.AWAY: "in the background", Phase.KILLED: "killed"}.get(state.phase, "")


def _shown(rungs: list[Rung]) -> list[tuple[Rung, int]]:
    """List the rungs that are drawn, lowest first; a pair with a number stands for that many folded ones."""
    if len(rungs) <= MAX_RUNGS + 1:
        return [(rung, 0) for rung in rungs]
    keep = MAX_RUNGS - 1
    return [(rungs[0], 0), (rungs[1], len(rungs) - keep - 1), *((rung, 0) for rung in rungs[-keep:])]


def _backs(axes: Axes, plan: Plan, state: State, width: float, colours: Colours) -> None:
    hops = descent(plan, state)
    if not hops.hops:
        return
    names = [f"to {rung_text(hop.data)}" if hop.outcome in {"lands", "stays"} else "out of the app" for hop in hops.hops[:6]]
    if len(hops.hops) > len(names):
        names.append("…")
    words = f"◀ from the last frame Back leads {', then '.join(names)}"
    axes.text(width - 0.3, 0.12, words, fontsize=8.5, color=colours.back, ha="right")


def _cut(text: str, most: int) -> str:
    return text if len(text) <= most else text[: most - 1] + "…"
