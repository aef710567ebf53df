"""One step of a running app: the event decided at the head, the small steps done, and decided anew until nothing is left.

`step` is the only reading of the semantics there is. It is a pure function: no clock, no file, no chance.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from msgspec.structs import replace

from wise_ladder.ladder import matters, small
from wise_ladder.ladder.conditions import Beneath
from wise_ladder.ladder.deciding import decide
from wise_ladder.ladder.doing import Doing
from wise_ladder.ladder.happenings import Finding, Nothing, TimerFired
from wise_ladder.ladder.state import Phase, all_rungs, top_rung, visible_path
from wise_ladder.ladder.tables import MOST_REMEMBERED
from wise_ladder.ladder.words import screen_words
from wise_ladder.plan import events

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.ladder.happenings import Happening
    from wise_ladder.ladder.matters import Matter
    from wise_ladder.ladder.small import Decision, Known
    from wise_ladder.ladder.state import Head, Rung, State
    from wise_ladder.plan.events import Event
    from wise_ladder.plan.model import Move, Plan

MOST_AT_ONCE = 64
"""So many things may happen with no time passing; more is a run that never ends."""
_UNDOES = (small.Stop, small.Ask, small.Undo)
MOST_FIRED = 10_000
"""So many timers may fall due within one wait."""


class Step(NamedTuple):
    """What came of an event: the state after it, what happened, the moves that were taken; or why it was refused."""

    state: State
    happened: tuple[Happening, ...]
    taken: tuple[Move, ...] = ()
    refused: str | None = None


def step(plan: Plan, state: State, event: Event) -> Step:
    """Do one event. A refused one leaves the very state it found; oddities are findings, never errors."""
    doing = Doing(plan, state)
    if isinstance(event, events.Wait):
        _let_time_pass(doing, event.time)
    else:
        twice = isinstance(event, events.Tap) and event.twice
        decision = _begin(doing, replace(event, twice=False) if twice else event)
        if isinstance(decision, small.Refusal):
            return Step(state, (), (), decision.why)
        _run(doing, decision)
        if twice:
            _once_more(doing, event, state)
    doing.look()
    return Step(doing.state(), tuple(doing.happened), tuple(doing.taken))


def _begin(doing: Doing, matter: Matter) -> Decision:
    doing.matter, doing.passed = matter, ()
    return _decide(doing, matter)


def _once_more(doing: Doing, event: Event, before: State) -> None:
    """The second tap of a double tap: the same move on the ladder as it is, unless the phone ignores taps in transition."""
    if doing.phase is not Phase.OPEN or doing.question is not None:
        return
    was, now = top_rung(before.ladder), top_rung(doing.ladder)
    same = was is not None and now is not None and was.serial == now.serial
    if not same and doing.plan.policies.taps_in_transition == "ignored":
        doing.happened.append(Nothing("the second tap is ignored while the screen changes"))
        return
    # The move that the first tap took, its operations not decided yet: they meet the ladder as it is now.
    known: Known = ()
    first = Doing(doing.plan, before)
    while True:
        try:
            decision = decide(doing.plan, first.head(), replace(event, twice=False), (), known)
            break
        except Beneath as asked:
            known = (*known, (asked.question, first.answer(asked.question)))
    if isinstance(decision, tuple):
        _run(doing, tuple(replace(do, place=None) if isinstance(do, small.Take) and not same else do for do in decision))


def _run(doing: Doing, decision: tuple[small.Small, ...]) -> None:
    """Do a move and all that follows from it, one matter after the other, deciding anew each time."""
    _carry_out(doing, decision)
    agenda, count = _follows(doing), 0
    while agenda:
        count += 1
        if count > MOST_AT_ONCE:
            doing.happened.append(Finding("runaway", f"more than {MOST_AT_ONCE} things happened at once"))
            return
        matter, serial = agenda.pop(0)
        placed = _placed(doing, matter, serial)
        if placed is None:
            continue
        found = _begin(doing, placed)
        if isinstance(found, small.Refusal) or not found:
            continue
        _carry_out(doing, found)
        agenda = [*_follows(doing), *agenda]


def _carry_out(doing: Doing, decision: tuple[small.Small, ...]) -> None:
    """Do one move as a whole, its operations one by one, each decided at the head as it is then; a move always ends."""
    doing.begin_move()
    agenda = list(reversed(decision))
    while agenda:
        do = agenda.pop()
        if type(do) is small.Then:
            found = _decide(doing, _as_it_is_now(doing, do.do))
            assert not isinstance(found, small.Refusal), "an operation is never refused"  # noqa: S101
            if found and isinstance(found[0], _UNDOES):
                # The move is undone; what a guard does instead is a move of its own, and nobody asks about that one.
                agenda = []
            agenda.extend(reversed(found))
        elif type(do) is small.GoOn:
            agenda = list(reversed(_go_on(doing)))
        else:
            doing.apply(do)
            if type(do) is small.GoOut:
                return
    _end_move(doing)


def _as_it_is_now(doing: Doing, do: matters.Do) -> matters.Do:
    """The rest of a move after a tab change acts inside the tab; after the guards let it pass nobody asks again."""
    if doing.inside is not None:
        do = replace(do, level=doing.inside)
    return replace(do, cause=None) if doing.asked and do.cause is not None else do


def _go_on(doing: Doing) -> tuple[small.Small, ...]:
    """What the question stood in the way of is decided anew, without the guards already passed."""
    question = doing.before.question
    assert question is not None, "only an answer goes on"  # noqa: S101
    doing.matter, doing.passed = question.matter, (*question.passed, question.guard)
    doing.begin_move()
    found = _decide(doing, question.matter)
    return (small.Say(Nothing(found.why)),) if isinstance(found, small.Refusal) else found


def _end_move(doing: Doing) -> None:
    """Close a move: flows with nothing inside go, tabs are filled again, an app with nothing on its ladder is left."""
    while doing.phase is not Phase.OUTSIDE:
        top = top_rung(doing.ladder)
        if top is None:
            doing.go_out(small.GoOut("because nothing is on its ladder"))
            return
        if not top.inner:
            break
        found = _decide(doing, matters.Emptied())
        assert not isinstance(found, small.Refusal), "an empty ladder is never refused"  # noqa: S101
        for do in found:
            doing.apply(do)
    if doing.question is not None:
        doing.drop_question()
    if doing.tables.comes_first and doing.phase is not Phase.OUTSIDE:
        found = _decide(doing, matters.Arming())
        assert not isinstance(found, small.Refusal), "arming is never refused"  # noqa: S101
        for do in found:
            doing.apply(do)


# What follows from a move


def _follows(doing: Doing) -> list[tuple[Matter, int]]:
    """List what is to be decided after a move, each with the serial of the rung that must still be seen then (0: any)."""
    found: list[tuple[Matter, int]] = []
    known = doing.tables
    for rung, level, asked in doing.gone:
        face = rung.face
        if known.guards[face.screen]:
            hidden = all(rung.serial != seen.serial for seen in visible_path(doing.before.ladder))
            if hidden or not asked:
                found.append((matters.Unasked(face.screen, face.arguments, face.own, doing.passed), 0))
        if face.screen in known.left:
            found.append((matters.Left(face.screen, face.arguments, face.own, level), 0))
    doing.gone = []
    path = visible_path(doing.ladder)
    if doing.phase is Phase.OPEN:
        if doing.made and (len(doing.made) > 1 or doing.made[0] != path[-1].serial or known.shown):
            doing.unseen = (*doing.unseen, *doing.made)
        if doing.unseen or known.shown or path[-1].face.undelivered:
            found += _seen_anew(doing, path)
    if known.facts_that_matter and (doing.own_turned or doing.facts != doing.before.facts):
        found += _facts_turned(doing, path)
    return found


def _seen_anew(doing: Doing, path: list[Rung]) -> Iterator[tuple[Matter, int]]:
    known = doing.tables
    if path:
        yield from (
            (matters.Delivered(result.name, result.value, len(path) - 1), path[-1].serial)
            for result in path[-1].face.undelivered
        )
    before = {rung.serial for rung in visible_path(doing.before.ladder)} if doing.before.phase is Phase.OPEN else set()
    shown = [(place, rung) for place, rung in enumerate(path) if rung.serial not in before]
    unseen = doing.unseen
    for first in (True, False):
        for place, rung in shown:
            if (rung.face.screen, first) in known.shown and (not first or rung.serial in unseen):
                yield matters.Shown(place, first), rung.serial
    if unseen:
        seen = {rung.serial for rung in path}
        doing.unseen = tuple(serial for serial in unseen if serial not in seen)


def _facts_turned(doing: Doing, path: list[Rung]) -> Iterator[tuple[Matter, int]]:
    known = doing.tables
    turned = [
        (fact.name, now) for fact, was, now in zip(doing.plan.facts, doing.before.facts, doing.facts, strict=True) if was != now
    ]
    before = {rung.serial: dict(rung.face.own) for rung in all_rungs(doing.before.ladder)}
    for place, rung in reversed(list(enumerate(path))):
        own = [(name, value) for name, value in rung.face.own if before.get(rung.serial, {}).get(name, value) != value]
        for name, value in (*own, *turned):
            if (rung.face.screen, name, value) in known.turned:
                yield matters.Turned(name, value, place), rung.serial
    if path:
        yield from ((matters.Turned(name, value, -1), 0) for name, value in turned if (None, name, value) in known.turned)
    if known.turned_hidden:
        yield from _hidden_turned(doing, turned, {rung.serial for rung in path})


def _hidden_turned(doing: Doing, turned: list[tuple[str, str]], seen: set[int]) -> Iterator[tuple[Matter, int]]:
    """Let hidden screens that say so react, once per screen: its highest rung."""
    highest: dict[str, Rung] = {}
    for rung in all_rungs(doing.ladder):
        if rung.serial not in seen:
            highest[rung.face.screen] = rung
    for name, value in turned:
        for rung in highest.values():
            if (rung.face.screen, name, value) in doing.tables.turned_hidden:
                face = rung.face
                yield matters.Turned(name, value, 0, face.screen, face.arguments, face.own), 0


def _placed(doing: Doing, matter: Matter, serial: int) -> Matter | None:
    """Return a matter with the place its rung has now; None where the rung is no longer seen."""
    if not serial:
        return matter if doing.phase is not Phase.OUTSIDE or isinstance(matter, matters.Unasked) else None
    if doing.phase is not Phase.OPEN:
        return None
    path = visible_path(doing.ladder)
    place = next((place for place, rung in enumerate(path) if rung.serial == serial), None)
    if place is None:
        return None
    if isinstance(matter, matters.Delivered):
        still = any((result.name, result.value) == (matter.name, matter.value) for result in path[place].face.undelivered)
        return replace(matter, place=place) if still and place == len(path) - 1 else None
    if isinstance(matter, (matters.Shown, matters.Turned)):
        return replace(matter, place=place)
    return matter


# Deciding and time


def _decide(doing: Doing, matter: Matter) -> Decision:
    """Decide at the head, looking beneath where deciding asks; what was decided once for a head is remembered."""
    head = doing.head()
    remembered = doing.tables.decided
    known: Known = ()
    while True:
        key = (matter, doing.passed, head, known)
        found = remembered.get(key)
        if found is not None:
            return found
        try:
            found = _first_decided(doing, head, decide(doing.plan, head, matter, doing.passed, known), known)
        except Beneath as asked:
            known = (*known, (asked.question, doing.answer(asked.question)))
            continue
        if len(remembered) >= MOST_REMEMBERED:
            remembered.clear()
        remembered[key] = found
        return found


def _first_decided(doing: Doing, head: Head, decision: Decision, known: Known) -> Decision:
    """Decide the first operation of a move along with it: it meets the very head that the move was found at."""
    while isinstance(decision, tuple):
        place = 1 if decision and isinstance(decision[0], small.Take) else 0
        if len(decision) <= place or not isinstance(then := decision[place], small.Then):
            break
        found = decide(doing.plan, head, then.do, doing.passed, known)
        assert not isinstance(found, small.Refusal), "an operation is never refused"  # noqa: S101
        rest = () if found and isinstance(found[0], _UNDOES) else decision[place + 1 :]
        decision = (*decision[:place], *found, *rest)
    return decision


def _let_time_pass(doing: Doing, time: int) -> None:
    until = doing.clock + time
    fired = at_once = 0
    while doing.pending and doing.pending[0].due <= until:
        timer = doing.pending[0]
        at_once = at_once + 1 if timer.due == doing.clock else 0
        fired += 1
        if at_once > MOST_AT_ONCE or fired > MOST_FIRED:
            words = "timers start each other without end" if at_once > MOST_AT_ONCE else f"over {MOST_FIRED} timers in one wait"
            doing.happened.append(Finding("runaway", words))
            doing.stop_timers()
            break
        if timer.due > doing.clock:
            doing.look()
            doing.clock = timer.due
        due = doing.take_due(timer)
        if isinstance(due, matters.Fire):
            doing.happened.append(TimerFired(screen_words(due.screen, due.arguments), due.after))
        decision = _begin(doing, due)
        assert not isinstance(decision, small.Refusal), "a due timer is never refused"  # noqa: S101
        _run(doing, decision)
    if until > doing.clock:
        doing.look()
        doing.clock = until
    if not fired and doing.phase is Phase.OUTSIDE:
        doing.happened.append(Nothing("the app does not run"))
