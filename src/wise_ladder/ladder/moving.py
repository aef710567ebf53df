"""A move and all that follows from it: decided at the head, its small steps done, and decided anew until nothing is left."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace

from wise_ladder.ladder import matters, small
from wise_ladder.ladder.applying import APPLY, due_timer, take_reply
from wise_ladder.ladder.conditions import Beneath
from wise_ladder.ladder.deciding import decide
from wise_ladder.ladder.doing import Doing
from wise_ladder.ladder.happenings import Finding, Nothing, TimerFired
from wise_ladder.ladder.state import Phase, all_rungs, top_rung
from wise_ladder.ladder.tables import MOST_REMEMBERED
from wise_ladder.ladder.weighing import weight
from wise_ladder.ladder.words import screen_words
from wise_ladder.ladder.world import add_pending, follow_the_eyes, start_timer
from wise_ladder.plan import events, operations
from wise_ladder.plan.model import Memory
from wise_ladder.plan.tokens import size_words

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.ladder.matters import Matter
    from wise_ladder.ladder.small import Decision, Known
    from wise_ladder.ladder.state import Head, Rung, State
    from wise_ladder.plan.events import Event

FRAME = 16
"""The milliseconds that one frame is seen."""
NO_LIMITS = Memory()
LAUNCHED = operations.WorldTrigger("launched")
WORLD = (LAUNCHED, operations.WorldTrigger("cover gone"), operations.WorldTrigger("low memory"))
MOST_AT_ONCE = 64
"""So many things may happen with no time passing; more is a run that never ends."""
_RUNS = (Phase.OPEN, Phase.AWAY)
_UNDOES = (small.Stop, small.Ask, small.Undo)


def set_off(doing: Doing, event: Event) -> str | None:
    """Do what an event sets off; return why it is refused, with nothing done, where it is."""
    twice = type(event) is events.Tap and event.twice
    decision = _begin(doing, replace(event, twice=False) if twice else event)
    if isinstance(decision, small.Refusal):
        return decision.why
    if type(event) is events.Reply:
        _react(doing, take_reply(doing, event))
        return None
    _run(doing, decision)
    if twice:
        _once_more(doing, event, doing.start)
    return None


def set_off_due(doing: Doing) -> None:
    """Do what the first thing that is pending sets off."""
    due = due_timer(doing, doing.pending[0])
    if type(due) is events.Reply:
        refused = _begin(doing, due)
        if isinstance(refused, small.Refusal):
            doing.happened.append(Nothing(f"{due.call} stays without a reply: {refused.why}"))
            return
        due = take_reply(doing, due)
    if due is None:
        _run(doing, ())
    else:
        _react(doing, due)


def _react(doing: Doing, due: Matter) -> None:
    if isinstance(due, matters.Due) and isinstance(due.trigger, operations.TimerTrigger):
        doing.happened.append(TimerFired(screen_words(due.screen, due.arguments), due.trigger.after))
    decision = _begin(doing, due)
    assert not isinstance(decision, small.Refusal), "what is due is never refused"  # noqa: S101
    _run(doing, decision)


def _begin(doing: Doing, matter: Matter) -> Decision:
    doing.matter, doing.passed = matter, ()
    return _decide(doing, matter)


def _once_more(doing: Doing, event: Event, before: State) -> None:
    """The second tap of a double tap: the same move on the ladder as it is, unless the phone ignores taps in transition."""
    if doing.phase is not Phase.OPEN or doing.question is not None:
        return
    was, now = top_rung(before.ladder), doing.path[-1] if doing.path else None
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
    while agenda or doing.cover:
        count += 1
        if count > MOST_AT_ONCE:
            doing.happened.append(Finding("runaway", f"more than {MOST_AT_ONCE} things happened at once"))
            break
        if not agenda:
            # Nothing is left to do, so the cover may go, if it may.
            agenda = [(matters.Uncover(), 0)]
        matter, serial = agenda.pop(0)
        placed = _placed(doing, matter, serial)
        if placed is None:
            continue
        found = _begin(doing, placed)
        doing.starting = doing.starting and type(placed) is not matters.Begin
        if isinstance(found, small.Refusal) or not found:
            if type(placed) is matters.Uncover:
                break
            continue
        _carry_out(doing, found)
        agenda = [*_follows(doing), *agenda]
    if doing.cover and not doing.pending and not doing.calls:
        doing.happened.append(Finding("cover never goes", "nothing is under way that could take the cover off"))
    if doing.plan.memory != NO_LIMITS:
        _weigh(doing)


def _weigh(doing: Doing) -> None:
    """Tell where all rungs together have come to weigh more than the phone bears."""
    now, limits = weight(doing.plan, doing.state()), doing.plan.memory
    for limit, name in ((limits.warn, "memory warning"), (limits.dies, "out of memory")):
        if limit is not None and now > limit >= weight(doing.plan, doing.start):
            doing.happened.append(Finding(name, f"all rungs together weigh {size_words(now)}, more than {size_words(limit)}"))


def _carry_out(doing: Doing, decision: tuple[small.Small, ...]) -> None:
    """Do one move as a whole, its operations one by one, each decided at the head as it is then; a move always ends."""
    doing.begin_move()
    waiting = [iter(decision)]
    while waiting:
        for do in waiting[-1]:
            if type(do) is small.Then:
                found = _decide(doing, _as_it_is_now(doing, do.do))
                assert not isinstance(found, small.Refusal), "an operation is never refused"  # noqa: S101
                if found and isinstance(found[0], _UNDOES):
                    # The move is undone; what a guard does instead is a move of its own, and nobody asks about that one.
                    waiting.clear()
                waiting.append(iter(found))
                break
            if type(do) is small.GoOn:
                waiting = [iter(_go_on(doing))]
                break
            APPLY[type(do)](doing, do)
            if type(do) is small.GoOut:
                return
        else:
            waiting.pop()
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
    while doing.phase in _RUNS:
        if not doing.path:
            if doing.cover or doing.starting:
                break
            APPLY[small.GoOut](doing, small.GoOut("because nothing is on its ladder"))
            return
        if not doing.path[-1].inner:
            break
        found = _decide(doing, matters.Emptied())
        assert not isinstance(found, small.Refusal), "an empty ladder is never refused"  # noqa: S101
        for do in found:
            APPLY[type(do)](doing, do)
    if doing.question is not None:
        doing.drop_question()
    if doing.tables.comes_first and doing.phase in _RUNS:
        found = _decide(doing, matters.Arming())
        assert not isinstance(found, small.Refusal), "arming is never refused"  # noqa: S101
        for do in found:
            APPLY[type(do)](doing, do)


# What follows from a move


def _follows(doing: Doing) -> list[tuple[Matter, int]]:
    """List what is to be decided after a move, each with the serial of the rung that must still be seen then (0: any)."""
    found: list[tuple[Matter, int]] = []
    known = doing.tables
    for rung, level, asked in doing.gone:
        face = rung.face
        if known.guards[face.screen]:
            hidden = all(rung.serial != seen.serial for seen in doing.path_before)
            if hidden or not asked:
                found.append((matters.Unasked(face.screen, face.arguments, face.own, doing.passed), 0))
        if face.screen in known.left:
            found.append((matters.Left(face.screen, face.arguments, face.own, level), 0))
    doing.gone = []
    # What a fresh start sets back has not turned.
    started = LAUNCHED.what in doing.world
    if doing.world:
        found += _world(doing)
    if doing.made:
        doing.unseen = (*doing.unseen, *doing.made)
    path, was_open = doing.path, doing.before.phase is Phase.OPEN
    if doing.phase is Phase.OPEN and path:
        found += [(matters.Delivered(came.name, came.value, len(path) - 1), path[-1].serial) for came in path[-1].undelivered]
        if path is not doing.path_before or not was_open:
            follow_the_eyes(doing)
            _seen_anew(doing, found)
    elif was_open:
        follow_the_eyes(doing)
    if known.facts_that_matter and not started and (doing.own_was or doing.facts != doing.before.facts):
        found += _facts_turned(doing)
    return found


def _world(doing: Doing) -> Iterator[tuple[Matter, int]]:
    """What of the world happened: each place of the visible path reacts, inner first, then the app itself."""
    for what in WORLD:
        if what.what in doing.world:
            reacting = doing.path if what in doing.tables.world_in_places else ()
            for place, rung in reversed(list(enumerate(reacting))):
                if (rung.face.screen, what) in doing.tables.due:
                    yield matters.World(what, place), rung.serial
            if (None, what) in doing.tables.due:
                yield matters.World(what, -1), 0
            if what == LAUNCHED:
                yield matters.Begin(), 0
    doing.world = []


def _seen_anew(doing: Doing, found: list[tuple[Matter, int]]) -> None:
    """Add what rungs do that are seen now and were not when the move began, and note which were never seen."""
    known, unseen = doing.tables, doing.unseen
    if known.shown or known.shown_timers:
        before = {rung.serial for rung in doing.path_before} if doing.before.phase is Phase.OPEN else ()
        now = [(place, rung) for place, rung in enumerate(doing.path) if rung.serial not in before]
        for _, rung in now:
            for after in known.shown_timers.get(rung.face.screen, ()):
                start_timer(doing, rung, after, "shown")
        later = doing.plan.policies.shown_acts == "after it"
        for first in (True, False):
            for place, rung in now:
                if (rung.face.screen, first) in known.shown and (not first or rung.serial in unseen):
                    if later:
                        add_pending(doing, rung.serial, FRAME, "first frame" if first else "frame")
                    else:
                        found.append((matters.Shown(place, first), rung.serial))
    if unseen:
        seen = {rung.serial for rung in doing.path}
        doing.unseen = tuple(serial for serial in unseen if serial not in seen)


def _facts_turned(doing: Doing) -> Iterator[tuple[Matter, int]]:
    known, path = doing.tables, doing.path
    turned = [
        (fact.name, now)
        for fact, was, now in zip(doing.plan.facts, doing.before.facts, doing.facts, strict=True)
        if (fact.name, now) in known.facts_that_matter and was != now
    ]
    for place, rung in reversed(list(enumerate(path))):
        own: list[tuple[str, str]] = []
        if doing.own_was and rung.serial not in doing.made:
            own = [(name, value) for name, value in rung.face.own if doing.own_was.get((rung.serial, name), value) != value]
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
        return matter if doing.phase in _RUNS or isinstance(matter, matters.Unasked) else None
    if doing.phase is not Phase.OPEN:
        return None
    path = doing.path
    place = next((place for place, rung in enumerate(path) if rung.serial == serial), None)
    if place is None:
        return None
    if isinstance(matter, matters.Delivered):
        still = any((result.name, result.value) == (matter.name, matter.value) for result in path[place].face.undelivered)
        return replace(matter, place=place) if still and place == len(path) - 1 else None
    if isinstance(matter, (matters.Shown, matters.Turned, matters.World)):
        return replace(matter, place=place)
    return matter


# Deciding


def _decide(doing: Doing, matter: Matter) -> Decision:
    """Decide at the head, looking beneath where deciding asks; what was decided once for a head is remembered."""
    head = doing.head()
    remembered, heard = doing.tables.decided, doing.tables.asked
    known: Known = ()
    while True:
        key = (matter, doing.passed, head, known)
        found = remembered.get(key)
        if found is not None:
            return found
        before = len(heard) if heard is not None else 0
        try:
            found = _first_decided(doing, head, decide(doing.plan, head, matter, doing.passed, known), known)
        except Beneath as asked:
            known = (*known, (asked.question, doing.answer(asked.question)))
            if heard is not None:
                # It is all asked again, with the answer.
                del heard[before:]
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
