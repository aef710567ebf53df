"""What a film strip shows: a frame for each step of a run, and where Back leads from the last one."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.drawings import messages
from wise_ladder.plan.events import Event
from wise_ladder.plan.steps import event_text
from wise_ladder.semantics import Phase, descent
from wise_ladder.semantics.log import Came, Replaced
from wise_ladder.semantics.state import open_layers, visible_path, visible_rungs
from wise_ladder.semantics.text import rung_text

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan import Plan
    from wise_ladder.semantics import Descent, Forecast, Rung, State, Step
    from wise_ladder.walks import WalkRun
    from wise_ladder.walks.tape import Tape

MOST_BACKS = 40
"""So many Backs from the last frame are looked at."""


class StripFrame(NamedTuple):
    """One picture of the strip: its number and words, the state it shows, which rungs just came, what is wrong there."""

    number: str
    words: str
    state: State
    came: frozenset[int]
    wrong: str
    note: str = ""
    """What is over the rung: the question that is open, else the overlays."""


class Strip(NamedTuple):
    """A run as a film strip: its title, what came of it, whether that is bad, its frames, and the Backs from the last."""

    title: str
    outcome: str
    wrong: bool
    frames: tuple[StripFrame, ...]
    backs: Descent | None


def strip_of_walk(plan: Plan, result: WalkRun, wrong: str = "") -> Strip:
    """Make a frame of each step of a walk that does something, and of the expectation that failed.

    `wrong`: what is to be said instead of the verdict, where the walk breaks a rule.
    """
    passes = messages.PASSES if result.passed else messages.FAILS.format(number=(result.failed or 0) + 1)
    frames = tuple(_walk_frames(plan, result))
    return _strip(plan, result.walk.name, wrong or passes, frames, wrong=bool(wrong) or not result.passed)


def strip_of_tape(tape: Tape, name: str, wrong: str = "") -> Strip:
    """Make a frame of each step of a tape; `wrong`: what is wrong at its end."""
    frames = tuple(
        StripFrame(
            str(number), event_text(entry.event), entry.step.state, _came(entry.step), "", _over(tape.plan, entry.step.state)
        )
        for number, entry in enumerate(tape.entries, 1)
    )
    return _strip(tape.plan, name, wrong, frames, wrong=bool(wrong))


def _strip(plan: Plan, name: str, outcome: str, frames: tuple[StripFrame, ...], *, wrong: bool) -> Strip:
    backs = descent(plan, frames[-1].state, MOST_BACKS) if frames and frames[-1].state.phase is Phase.OPEN else None
    return Strip(f"{plan.app}: {name}", outcome, wrong, frames, backs)


def _walk_frames(plan: Plan, result: WalkRun) -> Iterator[StripFrame]:
    for place, played in enumerate(result.played, 1):
        wrong = played.unmet.words if played.unmet is not None else ""
        what = played.line.what
        if isinstance(what, Event):
            came = _came(played.step) if played.step is not None else frozenset()
            yield StripFrame(str(place), event_text(what), played.state, came, wrong, _over(plan, played.state))
        elif wrong:
            yield StripFrame(str(place), played.line.text, played.state, frozenset(), wrong)


def _over(plan: Plan, state: State) -> str:
    if state.question is not None:
        guard = plan.guard[state.question.guard]
        return messages.ASKS.format(text=guard.text or guard.name)
    return ", ".join(name for _, name, _ in open_layers(state.overlays, visible_path(state.ladder)))


def _came(done: Step) -> frozenset[int]:
    return frozenset(
        (happening.rung if isinstance(happening, Came) else happening.came).serial
        for happening in done.log
        if isinstance(happening, (Came, Replaced))
    )


class BackLine(NamedTuple):
    """A Back from the last frame: the serials of the rungs it leads from and to (0: the ground, None: elsewhere), its words."""

    start: int
    end: int | None
    words: str


def back_lines(strip: Strip) -> list[BackLine]:
    """List the Backs from the last frame; after one that leads to no rung of it nothing more is told."""
    if strip.backs is None or not strip.frames:
        return []
    there = [rung for rung, _ in visible_rungs(strip.frames[-1].state.ladder)]
    lines: list[BackLine] = []
    for number, hop in enumerate(strip.backs.hops, 1):
        start = there[-1].serial if there else 0
        words = (messages.BACK_ASKS if hop.question else messages.BACK).format(number=number)
        if hop.outcome in {"leaves", "goes away"}:
            return [*lines, BackLine(start, 0, words)]
        beneath = [place for place, rung in enumerate(there[:-1]) if hop.outcome == "lands" and _is_where(rung, hop)]
        if not beneath:
            where = rung_text(hop.data) if hop.outcome == "lands" and hop.data is not None else hop.outcome
            return [*lines, BackLine(start, None, messages.BACK_ELSEWHERE.format(back=words, where=where))]
        # A serial is free again once its rung is gone, so only what is beneath is the rung that is drawn.
        there = there[: beneath[0] + 1]
        lines.append(BackLine(start, there[-1].serial, words))
    if strip.backs.end in {"root", "no Back"}:
        end = messages.BACK_AT_ROOT if strip.backs.end == "root" else messages.NO_BACK
        lines.append(BackLine(there[-1].serial if there else 0, None, end))
    return lines


def _is_where(rung: Rung, hop: Forecast) -> bool:
    return rung.serial == hop.serial and hop.data is not None and rung.data.same_screen(hop.data)
