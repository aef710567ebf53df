"""A move and all that follows from it: decided at the head, its effects applied, and so on until no task is left."""

from __future__ import annotations

from typing import TYPE_CHECKING, cast, get_args

from msgspec.structs import replace

from wise_ladder.plan import events, operations, triggers
from wise_ladder.plan.tokens import size_phrase
from wise_ladder.plan.world import MemoryLimits
from wise_ladder.semantics import apply_rungs, effects, messages, tasks
from wise_ladder.semantics.apply import APPLY, due_timer, stand_at, take_reply
from wise_ladder.semantics.apply_guards import act_for, drop_question, places_asked, take_move
from wise_ladder.semantics.apply_overlays import note_what_was_set
from wise_ladder.semantics.apply_world import arm, facts_held_by, touch
from wise_ladder.semantics.conditions import QueryNeeded, facts_of
from wise_ladder.semantics.consequences import RUNS, consequences, relocate
from wise_ladder.semantics.dispatch import decide
from wise_ladder.semantics.guards import WHOLE_WAY
from wise_ladder.semantics.log import BackPromised, BackTakenBack, Finding, NoEffect, TimerFired
from wise_ladder.semantics.paths import find, front_chain, is_lowest, ladder_of
from wise_ladder.semantics.plan_index import MAX_DECISIONS
from wise_ladder.semantics.promises import promise_of
from wise_ladder.semantics.state import GONE, NOBODY, Phase
from wise_ladder.semantics.text import promise_text, screen_words
from wise_ladder.semantics.weight import weight
from wise_ladder.semantics.working_state import WorkingState

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.plan.events import Event
    from wise_ladder.plan.policies import Way
    from wise_ladder.semantics.effects import Decision
    from wise_ladder.semantics.stack_queries import StackAnswers
    from wise_ladder.semantics.state import Chain, Rung
    from wise_ladder.semantics.tasks import Cause, Task

NO_LIMITS = MemoryLimits()
MAX_AT_ONCE = 64
"""So many things may happen with no time passing; more is a run that never ends."""
_DROPS = frozenset(get_args(effects.Drop))
_TOUCHES = (events.Tap, events.Back, events.BackBegun, events.HeaderBack, events.Answer)
"""What the user does in the app."""
_UNDOES = (effects.Block, effects.OpenQuestion, effects.Rollback)


def run_event(doing: WorkingState, event: Event) -> str | None:
    """Do what an event sets off; return why it is refused, with nothing done, where it is."""
    twice = type(event) is events.Tap and event.twice
    event = replace(event, twice=False) if twice else event
    decision = _begin(doing, event)
    if isinstance(decision, effects.Refusal):
        return decision.why
    if type(event) is events.Reply:
        _react(doing, take_reply(doing, event))
        return None
    if type(event) in _TOUCHES and any(timer.anew_when_touched for timer in doing.plan.timers):
        touch(doing)
    if isinstance(event, (events.BackBegun, events.BackFinished, events.BackCancelled)):
        _gesture(doing, event)
        return None
    second = _second_tap(doing, event, decision) if twice and isinstance(event, events.Tap) else None
    _run_to_completion(doing, decision)
    if second is not None:
        second()
    return None


def _gesture(doing: WorkingState, event: events.BackBegun | events.BackFinished | events.BackCancelled) -> None:
    """Begin the gesture of Back, finish it, or take it back."""
    if isinstance(event, events.BackBegun):
        ahead = WorkingState(doing.plan, doing.state())
        refused = run_event(ahead, events.Back())
        assert refused is None, "a gesture begins where Back is possible"  # noqa: S101
        doing.begun = promise_of(doing.plan, doing.start, ahead.state(), ahead.log)
        doing.log.append(BackPromised(doing.begun))
        _run_to_completion(doing, ())
        return
    promised, doing.begun = doing.begun, None
    if isinstance(event, events.BackCancelled):
        doing.log.append(BackTakenBack())
        _run_to_completion(doing, ())
        return
    before = doing.state()
    decision = _begin(doing, events.Back())
    assert not isinstance(decision, effects.Refusal), "Back was possible when it was begun"  # noqa: S101
    _run_to_completion(doing, decision)
    done = promise_of(doing.plan, before, doing.state(), doing.log)
    if promised is not None and done != promised:
        words = messages.PROMISE_BROKEN.format(promised=promise_text(promised), done=promise_text(done))
        doing.log.append(Finding("promise broken", words))


def run_due(doing: WorkingState) -> None:
    """Do what the first thing that is pending sets off."""
    due = due_timer(doing, doing.deadlines[0])
    if type(due) is events.Reply:
        refused = _begin(doing, due)
        if isinstance(refused, effects.Refusal):
            doing.log.append(NoEffect(messages.NO_REPLY.format(call=due.call, why=refused.why)))
            return
        due = take_reply(doing, due)
    if due is None:
        _run_to_completion(doing, ())
    else:
        _react(doing, due)


def _react(doing: WorkingState, due: Task) -> None:
    if isinstance(due, tasks.TriggerTask) and isinstance(due.trigger, triggers.TimerTrigger):
        doing.log.append(TimerFired(screen_words(due.screen, due.arguments), due.trigger.after))
    decision = _begin(doing, due)
    assert not isinstance(decision, effects.Refusal), "what is due is never refused"  # noqa: S101
    _run_to_completion(doing, decision)


def _begin(doing: WorkingState, matter: Task) -> Decision:
    doing.matter = matter
    decision = _decide(doing, matter)
    doing.steps = () if isinstance(decision, effects.Refusal) else decision
    return decision


def _second_tap(doing: WorkingState, tap: events.Tap, decision: tuple[effects.Effect, ...]) -> Callable[[], None] | None:
    """Note which place takes the first of two taps in quick succession; return what does the second."""
    taken = decision[0] if decision and isinstance(decision[0], effects.TakeMove) else None
    then = next((step.do for step in decision if isinstance(step, effects.DecideNext)), None)
    if taken is None:
        return None
    move, top = taken.move, doing.path[-1]
    take_move(doing, taken)
    owner, layer, chain = (
        doing.owner_rung() if doing.owner != NOBODY else None,
        doing.layer,
        doing.way_to_level(len(doing.track)),
    )
    held = facts_held_by(doing, layer)
    doing.moves.clear()
    way: Way = then.cause.way if then is not None and then.cause is not None else "in-app"

    def second() -> None:
        if doing.phase is not Phase.OPEN or doing.question is not None or doing.cover:
            return
        same = bool(doing.path) and doing.path[-1].serial == top.serial
        if not same and doing.plan.policies.taps_in_transition == "ignored":
            doing.log.append(NoEffect(messages.SECOND_TAP_IGNORED))
            return
        doing.begin_matter()
        doing.layer = layer
        again = tasks.SecondTap(tap.name, way, move.owner, tap.arguments)
        if owner is not None:
            again = _at_its_place(doing, again, owner, chain, tap)
        if layer:
            again = replace(again, own=facts_held_by(doing, layer) or held)
        decided = _begin(doing, again)
        assert not isinstance(decided, effects.Refusal), "a second tap is never refused"  # noqa: S101
        _run_to_completion(doing, decided)

    return second


def _at_its_place(doing: WorkingState, again: tasks.SecondTap, owner: Rung, chain: Chain, tap: events.Tap) -> tasks.SecondTap:
    """Let a second tap act where the first did: on the ladder of its rung, or on the one that rung stood in."""
    spotted = find(doing.ladder, owner.serial)
    over = again.where in doing.plan.overlay
    if spotted is not None:
        data, (level, lowest) = spotted.rung.data, stand_at(doing, spotted)
    else:
        data = owner.data
        stood_in = next(number for number, (serial, _) in enumerate(chain) if serial == owner.serial)
        doing.owner, doing.chain = GONE, doing.still_there(chain[:stood_in])
        level, lowest = len(doing.chain), not ladder_of(doing.ladder, doing.chain)
    arguments = tap.arguments if over else tuple({**dict(data.arguments), **dict(tap.arguments)}.items())
    return replace(again, arguments=arguments, own=() if over else data.facts, level=level, lowest=lowest)


def _run_to_completion(doing: WorkingState, decision: tuple[effects.Effect, ...]) -> None:
    """Run a move and its consequences to the end, one by one, deciding each again."""
    _apply_move(doing, decision)
    agenda, count = consequences(doing), 0
    while agenda or doing.cover or doing.next:
        count += 1
        if count > MAX_AT_ONCE:
            doing.log.append(Finding("runaway", messages.RUNAWAY.format(most=MAX_AT_ONCE)))
            doing.next = ""
            break
        if not agenda:
            # Nothing is left to do: a link that brought the app back is next, or the cover may go, if it may.
            agenda = [(events.OpenLink(doing.next) if doing.next else tasks.CheckCover(), 0, ())]
            doing.next = ""
        matter, serial, chain = agenda.pop(0)
        doing.begin_matter()
        placed = relocate(doing, matter, serial, chain)
        if placed is None:
            continue
        decided = _begin(doing, placed)
        doing.starting = doing.starting and type(placed) is not tasks.PutStart
        if isinstance(decided, effects.Refusal) or not decided:
            if type(placed) is tasks.CheckCover:
                break
            continue
        _apply_move(doing, decided)
        agenda = [*consequences(doing), *agenda]
    if doing.cover and not doing.least and not _may_be_taken_off(doing):
        doing.log.append(Finding("cover never goes", messages.COVER_NEVER_GOES))
    if doing.plan.memory != NO_LIMITS:
        _check_memory(doing)


def _may_be_taken_off(doing: WorkingState) -> bool:
    """Whether something pending, or a change from outside that the plan declares, could take the cover off."""
    cover, facts = doing.plan.cover, doing.plan.facts
    if (cover is not None and cover.most is not None) or doing.deadlines or doing.calls:
        return True
    asked = facts_of(cover.until) if cover is not None else ()
    reached = {(fact.name, value) for fact, value in zip(facts, doing.facts, strict=True)}
    allowed = True
    while allowed:
        changes = ((fact.name, was, now) for fact in facts for was, now in fact.allowed_changes)
        new = {(name, now) for name, was, now in changes if (name, was) in reached} - reached
        if any(name in asked or (name, value) in doing.tables.facts_that_matter for name, value in new):
            return True
        reached |= new
        allowed = bool(new)
    return False


def _check_memory(doing: WorkingState) -> None:
    """Log when all rungs together come to weigh more than the phone allows."""
    now, limits = weight(doing.plan, doing.state()), doing.plan.memory
    for limit, name in ((limits.warn, "memory warning"), (limits.dies, "out of memory")):
        if limit is not None and now > limit >= weight(doing.plan, doing.start):
            doing.log.append(Finding(name, messages.TOO_HEAVY.format(weight=size_phrase(now), limit=size_phrase(limit))))


def _apply_move(doing: WorkingState, decision: tuple[effects.Effect, ...]) -> None:
    """Do one move as a whole, its operations one by one, each decided at the head as it is then; a move always ends."""
    if decision and isinstance(decision[0], (effects.DeliverResult, effects.AnswerQuestion)):
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
            if type(do) is effects.DecideNext:
                cause = do.do.cause
                decided = _decide(doing, _as_it_is_now(doing, do, ways))
                assert not isinstance(decided, effects.Refusal), "an operation is never refused"  # noqa: S101
                undone = next((number for number, step in enumerate(decided) if isinstance(step, _UNDOES)), None)
                if undone is not None:
                    # The move is undone; what a guard does instead is a separate move, about which no guard is asked.
                    waiting.clear()
                    decided = decided[undone:]
                    ways = front_chain(doing.path_before) if _goes_in(decided) else ()
                waiting.append(iter(decided))
                break
            if type(do) is effects.ResumeBlocked:
                earlier = doing.before, doing.path_before, doing.own_was, doing.opened
                decision, ways = _go_on(doing)
                waiting, acts_hidden = [iter(decision)], _acts_hidden(doing)
                break
            if type(do) is effects.ActFor:
                act_for(doing, do)
                ways = ways if doing.chain is None else doing.chain
                continue
            if type(do) in _DROPS:
                _tell_unasked(doing, cast("effects.Drop", do))
            APPLY[type(do)](doing, do)
            if type(do) is effects.ExitApp:
                waiting.clear()
                break
        else:
            waiting.pop()
            if not waiting and (empty := _empty(doing)) is not None:
                waiting = [iter([effects.DecideNext(tasks.OperationTask(operations.FillEmpty(), len(empty), cause))])]
                ways = empty
                doing.inside = None
    _end_move(doing)
    if not acts_hidden:
        doing.hidden_results.clear()
    if earlier is not None:
        # What the answer did counts with what the move did that it let go on.
        doing.before, doing.path_before, own_was, opened = earlier
        doing.own_was = {**doing.own_was, **own_was}
        still = opened if doing.phase in RUNS else ()
        doing.opened = [*still, *doing.opened]


def _acts_hidden(doing: WorkingState) -> bool:
    """Whether a move acts on a ladder that is not seen."""
    return doing.chain is not None and doing.chain != front_chain(doing.path)[: len(doing.chain)]


def _goes_in(decision: tuple[effects.Effect, ...]) -> bool:
    return any(isinstance(do, effects.DecideNext) and do.do.level for do in decision)


def _as_it_is_now(doing: WorkingState, then: effects.DecideNext, ways: Chain) -> tasks.OperationTask:
    """Turn to the ladder that an operation is for, and say which guards were asked about the move already.

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
    cause = do.cause and replace(do.cause, passed=tuple(doing.left_granted), asked=places_asked(doing))
    return replace(do, level=level, cause=cause)


def _empty(doing: WorkingState) -> Chain | None:
    """Return the way to a ladder that the move has left without a rung, None if there is none."""
    while doing.emptied:
        chain = doing.emptied.pop()
        ladder = ladder_of(doing.ladder, chain) if doing.still_there(chain) == chain else None
        if ladder == () and (chain or not (doing.cover or doing.starting)) and doing.phase in RUNS:
            return chain
    return None


def _tell_unasked(doing: WorkingState, do: effects.Drop) -> None:
    """Log guards that hold and are not asked although their rungs go."""
    if not doing.tables.guarded:
        return
    matter, owner, chain = doing.matter, doing.owner, doing.chain
    for going in apply_rungs.going(doing, do):
        rung = going.rung
        if not rung.plain and rung.serial not in doing.consulted and doing.tables.guards[rung.data.screen]:
            asked = tuple(guard for guard, serial in doing.asked if serial == rung.serial)
            doing.owner, doing.chain = rung.serial, going.chain
            lowest, data = is_lowest(doing.ladder, going), rung.data
            decided = _decide(doing, tasks.CheckUnasked(data.screen, data.arguments, data.facts, lowest, asked))
            assert not isinstance(decided, effects.Refusal), "this is never refused"  # noqa: S101
            for effect in decided:
                APPLY[type(effect)](doing, effect)
    doing.matter, doing.owner, doing.chain = matter, owner, chain


def _go_on(doing: WorkingState) -> tuple[tuple[effects.Effect, ...], Chain]:
    """Take up the very move that the question stood in the way of, without the guards already passed."""
    question = doing.answered
    assert question is not None, "only an answer goes on"  # noqa: S101
    stopped = question.stopped
    doing.begin_matter()
    take = () if stopped.move is None else (effects.TakeMove(doing.tables.move[stopped.move], stopped.stands),)
    steps = (*take, *(effects.DecideNext(do) for do in stopped.does))
    doing.matter, doing.steps = stopped.matter, steps
    doing.granted = (*stopped.passed, question.guard)
    doing.owner, doing.chain, doing.layer = stopped.owner, stopped.chain, stopped.layer
    doing.begin_move()
    doing.left_granted = list(doing.granted)
    return steps, stopped.chain if stopped.chain is not None else front_chain(doing.path)


def _end_move(doing: WorkingState) -> None:
    """Close a move: a question goes that is about something else, guards that come first are armed."""
    doing.turn(())
    if doing.opened and doing.tables.take_back:
        note_what_was_set(doing)
    if doing.question is not None:
        drop_question(doing)
    if doing.phase in RUNS:
        if doing.tables.comes_first:
            arm(doing)
        if doing.phase is Phase.OPEN:
            apply_rungs.uncover_what_is_seen(doing)


# What follows from a move


def _decide(doing: WorkingState, matter: Task) -> Decision:
    """Decide at the head, looking beneath where deciding asks; what was decided once for a head is remembered."""
    head = doing.head()
    tables = doing.tables
    remembered, heard, read = tables.decisions, tables.asked, tables.read
    known: StackAnswers = ()
    while True:
        key = (matter, head, known)
        kept = remembered.get(key)
        if kept is not None:
            tables.read = read | kept[1]
            return kept[0]
        before = len(heard) if heard is not None else 0
        tables.read = 0
        try:
            decision = decide(doing.plan, head, matter, known)
        except QueryNeeded as asked:
            known = (*known, (asked.question, doing.answer(asked.question)))
            if heard is not None:
                # It is all asked again, with the answer.
                del heard[before:]
            continue
        if len(remembered) >= MAX_DECISIONS:
            remembered.clear()
        remembered[key] = decision, tables.read
        tables.read |= read
        return decision
