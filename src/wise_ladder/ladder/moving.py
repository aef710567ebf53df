"""A move and all that follows from it: decided at the head, its small steps done, and decided anew until nothing is left."""

from __future__ import annotations

from typing import TYPE_CHECKING, TypeAlias

from msgspec.structs import replace

from wise_ladder.ladder import matters, rungs, small
from wise_ladder.ladder.applying import APPLY, due_timer, stand_at, take_reply
from wise_ladder.ladder.conditions import Beneath, facts_of
from wise_ladder.ladder.dispatch import decide
from wise_ladder.ladder.guarding import WHOLE_WAY
from wise_ladder.ladder.happenings import Finding, Nothing, TimerFired
from wise_ladder.ladder.paths import find, front_chain, is_lowest, ladder_of
from wise_ladder.ladder.state import GONE, NOBODY, Face, Phase, all_rungs
from wise_ladder.ladder.tables import MOST_REMEMBERED
from wise_ladder.ladder.weighing import weight
from wise_ladder.ladder.words import screen_words
from wise_ladder.ladder.world import add_pending, arm, follow_the_eyes, start_timer, visible_overlays
from wise_ladder.plan import events, operations
from wise_ladder.plan.model import Memory
from wise_ladder.plan.tokens import size_words

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from wise_ladder.ladder.doing import Doing
    from wise_ladder.ladder.matters import Cause, Matter
    from wise_ladder.ladder.small import Decision, Known
    from wise_ladder.ladder.state import Chain, Rung
    from wise_ladder.plan.events import Event
    from wise_ladder.plan.model import Way

FRAME = 16
"""The milliseconds that one frame is seen."""
NO_LIMITS = Memory()
LAUNCHED = operations.WorldTrigger("launched")
WORLD = (LAUNCHED, operations.WorldTrigger("cover gone"), operations.WorldTrigger("low memory"))
MOST_AT_ONCE = 64
"""So many things may happen with no time passing; more is a run that never ends."""
_RUNS = (Phase.OPEN, Phase.AWAY)
_TAKES_AWAY = {small.Drop, small.Swap, small.DropTo, small.DropToLowest, small.DropAll, small.GoOut}
_UNDOES = (small.Stop, small.Ask, small.Undo)


def set_off(doing: Doing, event: Event) -> str | None:
    """Do what an event sets off; return why it is refused, with nothing done, where it is."""
    twice = type(event) is events.Tap and event.twice
    event = replace(event, twice=False) if twice else event
    decision = _begin(doing, event)
    if isinstance(decision, small.Refusal):
        return decision.why
    if type(event) is events.Reply:
        _react(doing, take_reply(doing, event))
        return None
    second = _second_tap(doing, event, decision) if twice and isinstance(event, events.Tap) else None
    _run(doing, decision)
    if second is not None:
        second()
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
    doing.matter = matter
    found = _decide(doing, matter)
    doing.steps = () if isinstance(found, small.Refusal) else found
    return found


def _second_tap(doing: Doing, tap: events.Tap, decision: tuple[small.Small, ...]) -> Callable[[], None] | None:
    """Note which place takes the first of two taps in quick succession; return what does the second."""
    taken = decision[0] if decision and isinstance(decision[0], small.Take) else None
    then = next((step.do for step in decision if isinstance(step, small.Then)), None)
    if taken is None:
        return None
    move, top = taken.move, doing.path[-1]
    doing.take(taken)
    owner, layer, chain = (
        doing.owner_rung() if doing.owner != NOBODY else None,
        doing.layer,
        doing.way_to_level(len(doing.track)),
    )
    doing.taken.clear()
    way: Way = then.cause.way if then is not None and then.cause is not None else "in-app"

    def second() -> None:
        if doing.phase is not Phase.OPEN or doing.question is not None or doing.cover:
            return
        same = bool(doing.path) and doing.path[-1].serial == top.serial
        if not same and doing.plan.policies.taps_in_transition == "ignored":
            doing.happened.append(Nothing("the second tap is ignored while the screen changes"))
            return
        doing.begin_matter()
        doing.layer = layer
        again = matters.Again(tap.name, way, move.where, tap.arguments)
        if owner is not None:
            again = _at_its_place(doing, again, owner, chain, tap)
        found = _begin(doing, again)
        assert not isinstance(found, small.Refusal), "a second tap is never refused"  # noqa: S101
        _run(doing, found)

    return second


def _at_its_place(doing: Doing, again: matters.Again, owner: Rung, chain: Chain, tap: events.Tap) -> matters.Again:
    """Let a second tap act where the first did: on the ladder of its rung, or on the one that rung stood in."""
    found = find(doing.ladder, owner.serial)
    over = again.where in doing.plan.overlay
    if found is not None:
        face, (level, lowest) = found.rung.face, stand_at(doing, found)
    else:
        face = owner.face
        stood_in = next(number for number, (serial, _) in enumerate(chain) if serial == owner.serial)
        doing.owner, doing.chain = GONE, doing.still_there(chain[:stood_in])
        level, lowest = len(doing.chain), not ladder_of(doing.ladder, doing.chain)
    arguments = tap.arguments if over else tuple({**dict(face.arguments), **dict(tap.arguments)}.items())
    return replace(again, arguments=arguments, own=() if over else face.own, level=level, lowest=lowest)


def _run(doing: Doing, decision: tuple[small.Small, ...]) -> None:
    """Do a move and all that follows from it, one matter after the other, deciding anew each time."""
    _carry_out(doing, decision)
    agenda, count = _follows(doing), 0
    while agenda or doing.cover or doing.next:
        count += 1
        if count > MOST_AT_ONCE:
            doing.happened.append(Finding("runaway", f"more than {MOST_AT_ONCE} things happened at once"))
            doing.next = ""
            break
        if not agenda:
            # Nothing is left to do: a link that brought the app back is next, or the cover may go, if it may.
            agenda = [(events.Link(doing.next) if doing.next else matters.Uncover(), 0, ())]
            doing.next = ""
        matter, serial, chain = agenda.pop(0)
        doing.begin_matter()
        placed = _placed(doing, matter, serial, chain)
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
    if doing.cover and not doing.least and not _may_be_taken_off(doing):
        doing.happened.append(Finding("cover never goes", "nothing is under way that could take the cover off"))
    if doing.plan.memory != NO_LIMITS:
        _weigh(doing)


def _may_be_taken_off(doing: Doing) -> bool:
    """Whether something under way, or a change from outside that the plan declares, could take the cover off."""
    cover, facts = doing.plan.cover, doing.plan.facts
    if (cover is not None and cover.most is not None) or doing.pending or doing.calls:
        return True
    asked = facts_of(cover.until) if cover is not None else ()
    reached = {(fact.name, value) for fact, value in zip(facts, doing.facts, strict=True)}
    found = True
    while found:
        changes = ((fact.name, was, now) for fact in facts for was, now in fact.outside)
        new = {(name, now) for name, was, now in changes if (name, was) in reached} - reached
        if any(name in asked or (name, value) in doing.tables.facts_that_matter for name, value in new):
            return True
        reached |= new
        found = bool(new)
    return False


def _weigh(doing: Doing) -> None:
    """Tell where all rungs together have come to weigh more than the phone bears."""
    now, limits = weight(doing.plan, doing.state()), doing.plan.memory
    for limit, name in ((limits.warn, "memory warning"), (limits.dies, "out of memory")):
        if limit is not None and now > limit >= weight(doing.plan, doing.start):
            doing.happened.append(Finding(name, f"all rungs together weigh {size_words(now)}, more than {size_words(limit)}"))


def _carry_out(doing: Doing, decision: tuple[small.Small, ...]) -> None:
    """Do one move as a whole, its operations one by one, each decided at the head as it is then; a move always ends."""
    if decision and isinstance(decision[0], (small.Deliver, small.AnswerQuestion)):
        # A result that was delivered and a question that was answered stay so, whatever becomes of what is done then.
        APPLY[type(decision[0])](doing, decision[0])
        decision = decision[1:]
    doing.begin_move()
    ways = doing.chain if doing.chain is not None else front_chain(doing.path) if _goes_in(decision) else ()
    acts_hidden = _acts_hidden(doing)
    cause: Cause | None = None
    earlier = None
    waiting = [iter(decision)]
    while waiting:
        for do in waiting[-1]:
            if type(do) is small.Then:
                cause = do.do.cause
                found = _decide(doing, _as_it_is_now(doing, do, ways))
                assert not isinstance(found, small.Refusal), "an operation is never refused"  # noqa: S101
                undone = next((number for number, step in enumerate(found) if isinstance(step, _UNDOES)), None)
                if undone is not None:
                    # The move is undone; what a guard does instead is a move of its own, and nobody asks about that one.
                    waiting.clear()
                    found = found[undone:]
                    ways = front_chain(doing.path_before) if _goes_in(found) else ()
                waiting.append(iter(found))
                break
            if type(do) is small.GoOn:
                earlier = doing.before, doing.path_before, doing.own_was, doing.opened
                decision, ways = _go_on(doing)
                waiting, acts_hidden = [iter(decision)], _acts_hidden(doing)
                break
            if type(do) is small.ActFor:
                doing.act_for(do)
                ways = ways if doing.chain is None else doing.chain
                continue
            if type(do) in _TAKES_AWAY:
                _tell_unasked(doing, do)
            APPLY[type(do)](doing, do)
            if type(do) is small.GoOut:
                waiting.clear()
                break
        else:
            waiting.pop()
            if not waiting and (empty := _empty(doing)) is not None:
                waiting = [iter([small.Then(matters.Do(operations.FillEmpty(), len(empty), cause))])]
                ways = empty
                doing.inside = None
    _end_move(doing)
    if not acts_hidden:
        doing.hidden_results.clear()
    if earlier is not None:
        # What the answer did counts with what the move did that it let go on.
        doing.before, doing.path_before, own_was, opened = earlier
        doing.own_was = {**doing.own_was, **own_was}
        still = opened if doing.phase in _RUNS else ()
        doing.opened = [*still, *doing.opened]


def _acts_hidden(doing: Doing) -> bool:
    """Whether a move acts on a ladder that is not seen."""
    return doing.chain is not None and doing.chain != front_chain(doing.path)[: len(doing.chain)]


def _goes_in(decision: tuple[small.Small, ...]) -> bool:
    return any(isinstance(do, small.Then) and do.do.level for do in decision)


def _as_it_is_now(doing: Doing, then: small.Then, ways: Chain) -> matters.Do:
    """Turn to the ladder that an operation is for, and say who was asked about the move already.

    An operation of the move itself acts on the ladder that the move began at, as long as that is there, then on the one
    around it; after a tab change on the tab's. A part of an operation goes on from there.
    """
    do = then.do
    if not then.part:
        own = ways if do.level == WHOLE_WAY else ways[: do.level]
        way = doing.still_there(own if doing.inside is None else doing.inside)
        level = len(way)
    else:
        way, level = doing.way_to_level(do.level), do.level
    doing.turn(way)
    cause = do.cause and replace(do.cause, passed=tuple(doing.left_granted), asked=doing.places_asked())
    return replace(do, level=level, cause=cause)


def _empty(doing: Doing) -> Chain | None:
    """Return the way to a ladder that the move has left without a rung, None if there is none."""
    while doing.emptied:
        chain = doing.emptied.pop()
        ladder = ladder_of(doing.ladder, chain) if doing.still_there(chain) == chain else None
        if ladder == () and (chain or not (doing.cover or doing.starting)) and doing.phase in _RUNS:
            return chain
    return None


def _tell_unasked(doing: Doing, do: small.Small) -> None:
    """Tell of guards that hold and are not asked, where their rungs go."""
    if not doing.tables.guarded:
        return
    matter, owner, chain = doing.matter, doing.owner, doing.chain
    for going in rungs.going(doing, do):
        rung = going.rung
        if not rung.plain and rung.serial not in doing.consulted and doing.tables.guards[rung.face.screen]:
            asked = tuple(guard for guard, serial in doing.asked if serial == rung.serial)
            doing.owner, doing.chain = rung.serial, going.chain
            lowest, face = is_lowest(doing.ladder, going), rung.face
            found = _decide(doing, matters.Unasked(face.screen, face.arguments, face.own, lowest, asked))
            assert not isinstance(found, small.Refusal), "this is never refused"  # noqa: S101
            for said in found:
                APPLY[type(said)](doing, said)
    doing.matter, doing.owner, doing.chain = matter, owner, chain


def _go_on(doing: Doing) -> tuple[tuple[small.Small, ...], Chain]:
    """Take up the very move that the question stood in the way of, without the guards already passed."""
    question = doing.answered
    assert question is not None, "only an answer goes on"  # noqa: S101
    doing.begin_matter()
    take = () if question.move is None else (small.Take(doing.tables.move[question.move], question.stands),)
    steps = (*take, *(small.Then(do) for do in question.does))
    doing.matter, doing.steps = question.matter, steps
    doing.granted = (*question.passed, question.guard)
    doing.owner, doing.chain = question.owner, question.chain
    doing.begin_move()
    doing.left_granted = list(doing.granted)
    return steps, question.chain if question.chain is not None else front_chain(doing.path)


def _end_move(doing: Doing) -> None:
    """Close a move: a question goes that is about something else, guards that come first are armed."""
    doing.turn(())
    if doing.question is not None:
        doing.drop_question()
    if doing.phase in _RUNS:
        if doing.tables.comes_first:
            arm(doing)
        if doing.phase is Phase.OPEN:
            rungs.uncover_what_is_seen(doing)


# What follows from a move


Agenda: TypeAlias = "list[tuple[Matter, int, Chain]]"
"""What is to be decided, each with the serial of the rung or overlay that must be there then (0: any), and the way to it."""


def _follows(doing: Doing) -> Agenda:
    """List what is to be decided after a move."""
    found: Agenda = []
    known = doing.tables
    out = doing.phase is Phase.OUTSIDE
    for rung, chain in doing.gone:
        face = rung.face
        if face.screen in known.left:
            found.append((matters.Left(face.screen, face.arguments, face.own, len(chain), out=out), GONE, chain))
    lefts = (each for each in doing.closed if each[0] in known.left)
    found += [(matters.Left(name, (), (), len(chain), out=out), serial, chain) for name, chain, serial in lefts]
    doing.gone, doing.closed = [], []
    # What a fresh start sets back has not turned.
    started = LAUNCHED.what in doing.world
    if doing.phase is Phase.OPEN:
        found += _delivered(doing)
    if doing.world:
        found += _world(doing)
    if doing.made or doing.opened:
        doing.unseen = (*doing.unseen, *doing.made, *doing.opened)
    sees, saw = _sees(doing.phase, doing.cover), _sees(doing.before.phase, doing.before.cover)
    overlays = doing.layers != doing.before.layers or any(rung.layers for rung in doing.path)
    if sees and (doing.path is not doing.path_before or not saw or overlays):
        follow_the_eyes(doing)
        _seen_anew(doing, found)
    elif saw:
        follow_the_eyes(doing)
    if known.facts_that_matter and not started and (doing.own_was or doing.facts != doing.before.facts):
        found += _facts_turned(doing)
    return found


def _sees(phase: Phase, cover: bool) -> bool:
    """Whether the user sees what is on the ladder."""
    return phase is Phase.OPEN and not cover


def _delivered(doing: Doing) -> Iterator[tuple[Matter, int, Chain]]:
    """Results that are delivered now: to what is seen, and in a hidden ladder to what a hidden rung's move has uncovered."""
    for place, rung in enumerate(doing.path):
        for came in rung.undelivered:
            yield matters.Delivered(came.name, came.value, place), rung.serial, ()
    for serial in dict.fromkeys(doing.hidden_results):
        found = find(doing.ladder, serial)
        if found is None or any(rung.serial == serial for rung in doing.path):
            continue
        ladder = ladder_of(doing.ladder, found.chain)
        if ladder and ladder[-1].serial == serial:
            for came in found.rung.undelivered:
                yield matters.Delivered(came.name, came.value, len(found.chain)), serial, found.chain


def _world(doing: Doing) -> Iterator[tuple[Matter, int, Chain]]:
    """What of the world happened: each place of the visible path reacts, inner first, then the app itself."""
    for what in WORLD:
        if what.what in doing.world:
            reacting = _reacting(doing) if what in doing.tables.world_in_places else ()
            for where, overlay, place, serial in reacting:
                if (where, what) in doing.tables.due:
                    yield matters.World(what, place, overlay), serial, ()
            if (None, what) in doing.tables.due:
                yield matters.World(what, -1), 0, ()
            if what == LAUNCHED:
                yield matters.Begin(), 0, ()
    doing.world = []


def _reacting(doing: Doing) -> Iterator[tuple[str, str, int, int]]:
    """Go through all that is on the visible path or over it, inner first: its name, if it is an overlay, place, serial."""
    over = visible_overlays(doing)
    for place in (-1, *reversed(range(len(doing.path)))):
        yield from ((layer.name, layer.name, place, layer.serial) for layer, at in reversed(over) if at == place)
        if place >= 0:
            yield doing.path[place].face.screen, "", place, doing.path[place].serial


def _seen_anew(doing: Doing, found: Agenda) -> None:
    """Add what rungs and overlays do that are seen now and were not when the move began, and note which were never seen."""
    known, unseen = doing.tables, doing.unseen
    if known.shown or known.shown_timers:
        before = _seen_before(doing)
        now = [each for each in reversed(list(_reacting(doing))) if each[3] not in before]
        for where, overlay, place, serial in now:
            face = Face(overlay) if overlay else doing.path[place].face
            for after in known.shown_timers.get(where, ()):
                start_timer(doing, face, serial, after, "shown")
        later = doing.plan.policies.shown_acts == "after it"
        for first in (True, False):
            for where, overlay, place, serial in now:
                if (where, first) in known.shown and (not first or serial in unseen):
                    if later:
                        add_pending(doing, serial, FRAME, "first frame" if first else "frame")
                    else:
                        found.append((matters.Shown(place, first, overlay), serial, ()))
    if unseen:
        seen = {serial for *_, serial in _reacting(doing)}
        doing.unseen = tuple(serial for serial in unseen if serial not in seen)


def _seen_before(doing: Doing) -> set[int]:
    """Return the serials of the rungs and overlays that were seen when the move began."""
    if not _sees(doing.before.phase, doing.before.cover):
        return set()
    layers = (*doing.before.layers, *(layer for rung in doing.path_before for layer in rung.layers))
    return {rung.serial for rung in doing.path_before} | {layer.serial for layer in layers}


def _facts_turned(doing: Doing) -> Iterator[tuple[Matter, int, Chain]]:
    known, path = doing.tables, doing.path
    turned = [
        (fact.name, now)
        for fact, was, now in zip(doing.plan.facts, doing.before.facts, doing.facts, strict=True)
        if (fact.name, now) in known.facts_that_matter and was != now
    ]
    for where, overlay, place, serial in _reacting(doing):
        own: list[tuple[str, str]] = []
        if not overlay and doing.own_was and serial not in doing.made:
            face = path[place].face
            own = [(name, value) for name, value in face.own if doing.own_was.get((serial, name), value) != value]
        for name, value in (*own, *turned):
            if (where, name, value) in known.turned:
                yield matters.Turned(name, value, place, overlay), serial, ()
    if path:
        yield from ((matters.Turned(name, value, -1), 0, ()) for name, value in turned if (None, name, value) in known.turned)
    if known.turned_hidden:
        yield from _hidden_turned(doing, turned, {rung.serial for rung in path})


def _hidden_turned(doing: Doing, turned: list[tuple[str, str]], seen: set[int]) -> Iterator[tuple[Matter, int, Chain]]:
    """Let hidden screens that say so react, once per screen: its highest rung."""
    highest: dict[str, int] = {}
    for rung in all_rungs(doing.ladder):
        if rung.serial not in seen:
            highest[rung.face.screen] = rung.serial
    for name, value in turned:
        for screen, serial in highest.items():
            if (screen, name, value) in doing.tables.turned_hidden:
                yield matters.Turned(name, value, 0, hidden=screen), serial, ()


def _placed(doing: Doing, matter: Matter, serial: int, chain: Chain) -> Matter | None:
    """Return a matter with the place its rung has now; None where the rung is no longer seen."""
    if isinstance(matter, matters.Left):
        doing.owner, doing.chain = serial, doing.still_there(chain)
        found = find(doing.ladder, serial)
        ladder = ladder_of(doing.ladder, doing.chain)
        lowest = not ladder or (found is not None and ladder[0].serial == serial)
        return replace(matter, level=len(doing.chain), lowest=lowest)
    if not serial:
        return matter if doing.phase in _RUNS else None
    if isinstance(matter, matters.Turned) and matter.hidden:
        return _hidden_placed(doing, matter, serial)
    if doing.phase is not Phase.OPEN:
        return None
    if isinstance(matter, matters.Delivered):
        return _delivery(doing, matter, serial, chain)
    place = next((place for _, _, place, there in _reacting(doing) if there == serial), None)
    if place is None or not isinstance(matter, (matters.Shown, matters.Turned, matters.World)):
        return None
    return replace(matter, place=place)


def _hidden_placed(doing: Doing, matter: matters.Turned, serial: int) -> matters.Turned | None:
    found = find(doing.ladder, serial)
    if found is None or doing.phase not in _RUNS:
        return None
    level, lowest = stand_at(doing, found)
    face = found.rung.face
    return replace(matter, arguments=face.arguments, own=face.own, level=level, lowest=lowest)


def _delivery(doing: Doing, matter: matters.Delivered, serial: int, chain: Chain) -> matters.Delivered | None:
    found = find(doing.ladder, serial)
    if found is None or not any((r.name, r.value) == (matter.name, matter.value) for r in found.rung.undelivered):
        return None
    ladder = ladder_of(doing.ladder, found.chain)
    seen = any(rung.serial == serial for rung in doing.path)
    if not ladder or ladder[-1].serial != serial or (not seen and found.chain != chain):
        return None
    if not seen:
        stand_at(doing, found)
        doing.turn(found.chain)
    return replace(matter, place=len(found.chain))


# Deciding


def _decide(doing: Doing, matter: Matter) -> Decision:
    """Decide at the head, looking beneath where deciding asks; what was decided once for a head is remembered."""
    head = doing.head()
    remembered, heard = doing.tables.decided, doing.tables.asked
    known: Known = ()
    while True:
        key = (matter, head, known)
        found = remembered.get(key)
        if found is not None:
            return found
        before = len(heard) if heard is not None else 0
        try:
            found = decide(doing.plan, head, matter, known)
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
