"""A sheet for somebody who checks an app by hand: what to do, what is seen then, what Back would do, with boxes to tick."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.plan.events import Event
from wise_ladder.plan.steps import event_text, quoted
from wise_ladder.reports import messages
from wise_ladder.reports.markdown import escaped
from wise_ladder.semantics import Phase, descent
from wise_ladder.semantics.reasons import move_words
from wise_ladder.semantics.state import open_layers, visible_path
from wise_ladder.walks.comparison import back_words
from wise_ladder.walks.least_cover import least_cover
from wise_ladder.walks.seen import seen_now

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

    from wise_ladder.plan import Plan
    from wise_ladder.plan.model import Move
    from wise_ladder.rules.verdicts import Counterexample, Verdict
    from wise_ladder.semantics import State
    from wise_ladder.walks import WalkRun


def tester_sheet(plan: Plan, runs: Sequence[WalkRun], verdicts: Sequence[Verdict]) -> str:
    """Write the walks of a plan, as they were run on it, and what breaks its rules, as Markdown."""
    moves = [_moves_of(run) for run in runs]
    cover = least_cover(moves)
    phone = f" {plan.where}" if plan.where else ""
    lines = [f"# {escaped(messages.SHEET.format(app=plan.app, phone=phone))}", "", messages.SHEET_USE, ""]
    if runs:
        words = messages.FEWEST if cover.least else messages.SMALL_SET
        lines += [words.format(count=len(cover.chosen), all=len(runs)), ""]
    for place, run in enumerate(runs):
        mark = f"{messages.MARK} " if place in cover.chosen else ""
        lines += [f"## {mark}{escaped(run.walk.name)}", "", *_walk(plan, run), ""]
    for verdict in verdicts:
        for counterexample in verdict.counterexamples[:1]:
            title = messages.BROKEN.format(rule=verdict.rule.called)
            lines += [f"## {escaped(title)}", "", *_broken(counterexample), ""]
    if left := [move for move in plan.moves if not any(move in each for each in moves)]:
        lines += [
            f"## {messages.MOVES_LEFT}",
            "",
            *(f"- {escaped(move_words(move))}: {escaped(move.text)}" for move in left),
            "",
        ]
    return "\n".join(lines)


def _moves_of(run: WalkRun) -> frozenset[Move]:
    return frozenset(move for played in run.played if played.step is not None for move in played.step.moves)


def _walk(plan: Plan, run: WalkRun) -> Iterator[str]:
    walk = run.walk
    on = plan.for_walk(walk)
    given = [f"{quoted(name)} is {quoted(value)}" for name, value in walk.given]
    given += [f"{quoted(call)} replies {quoted(outcome)}" for call, outcome in walk.replies]
    given += [each for each in (walk.phone, walk.named_given) if each]
    if given:
        yield from (escaped(messages.GIVEN.format(words=", ".join(given))), "")
    for played in run.played:
        if not isinstance(played.line.what, Event):
            yield f"- [ ] {escaped(messages.CHECK.format(words=played.line.text))}"
        elif played.step is not None and played.step.refused is not None:
            why = messages.DOES_NOT_APPLY.format(why=played.step.refused)
            yield f"- [ ] **{escaped(event_text(played.line.what))}**: {escaped(why)}"
        else:
            yield _step(on, played.line.what, played.state)


def _broken(counterexample: Counterexample) -> Iterator[str]:
    tape = counterexample.tape
    if given := tape.given():
        yield from (escaped(messages.GIVEN.format(words=", ".join(given))), "")
    yield from (_step(tape.plan, entry.event, entry.step.state) for entry in tape.entries)
    yield f"- [ ] {escaped(messages.WRONG.format(words=counterexample.guilt.words))}"


def _step(plan: Plan, event: Event, state: State) -> str:
    told = [f"**{escaped(event_text(event))}**", escaped(messages.SEE.format(words=_seen(plan, state)))]
    if state.phase is Phase.OPEN:
        told.append(escaped(messages.BACK.format(words=back_words(descent(plan, state, 1)))))
    return f"- [ ] {' · '.join(told)}"


def _seen(plan: Plan, state: State) -> str:
    """Say what is seen, with what lies over it."""
    seen = seen_now(state)
    if state.question is not None:
        guard = plan.guard[state.question.guard]
        return messages.QUESTION.format(seen=seen, text=guard.text or guard.name)
    layers = ", ".join(name for _, name, _ in open_layers(state.overlays, visible_path(state.ladder)))
    return messages.OVER_IT.format(seen=seen, layers=layers) if layers and state.phase is Phase.OPEN else seen
