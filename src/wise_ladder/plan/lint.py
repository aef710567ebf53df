"""Static checks of a whole plan: mistakes stop it, warnings are listed."""

from __future__ import annotations

from itertools import chain
from typing import TYPE_CHECKING

from msgspec.structs import replace

from wise_ladder.plan import messages, operations, triggers
from wise_ladder.plan.addresses import filled_in
from wise_ladder.plan.link_match import match_link
from wise_ladder.plan.model import MAX_NESTED, Overlay
from wise_ladder.plan.policies import DEFAULT_WAYS
from wise_ladder.plan.reachability import Ladders, Reachability
from wise_ladder.plan.rule import Rule
from wise_ladder.plan.rules import RULES

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.model import Guard, Move, Plan
    from wise_ladder.plan.operations import Operation
    from wise_ladder.plan.source import Source
    from wise_ladder.plan.triggers import Trigger


def lint(source: Source, plan: Plan) -> None:
    """Note the mistakes and the doubts of a plan whose phrases were all read."""
    for screen in plan.screens:
        if screen.inside and (wrong := _begins_too_deep(plan, screen.name)):
            source.add_error(screen.at, wrong, messages.BEGIN_IT_WITH_A_SCREEN)
    for move in plan.moves:
        _order_of_operations(source, move)
    if source.problems:
        return
    for place in plan.owners:
        _never_taken(source, place.moves)
        # What an overlay awaits comes to the rung it is over.
        takers = plan.moves if isinstance(place, Overlay) else place.moves
        _results_nobody_takes(source, place.moves, takers)
    _results_nobody_wants(source, plan)
    _values_never_returned(source, plan)
    _values_never_taken(source, plan)
    _ways_left_out(source, plan)
    _calls(source, plan)
    _timers(source, plan)
    _links_that_hide(source, plan)
    _never_there(source, Reachability(plan))


def _begins_too_deep(plan: Plan, name: str) -> str:
    """Say that a flow begins with itself, or with too many one inside the other; nothing if it does not."""
    waiting, seen = [(target.screen, 1) for _, target in plan.screen[name].inside], set[str]()
    while waiting:
        inner, depth = waiting.pop(0)
        if inner == name:
            return messages.BEGINS_WITH_ITSELF.format(name=name)
        if depth > MAX_NESTED:
            return messages.NESTED_TOO_DEEP.format(name=name, most=MAX_NESTED)
        if inner not in seen:
            seen.add(inner)
            waiting += [(target.screen, depth + 1) for _, target in plan.screen[inner].inside]
    return ""


def _order_of_operations(source: Source, move: Move) -> None:
    """On one ladder a move drops at most once, and puts afterwards; another ladder begins again."""
    drops = puts = 0
    cleared = False
    for operation in move.operations:
        if isinstance(operation, (operations.Switch, operations.OnFlow)):
            drops = puts = 0
        done = operations.inner(operation)
        if done.record.drops:
            cleared = cleared or isinstance(done, operations.Clear)
            if drops or puts:
                source.add_error(move.at, messages.DROPS_TWICE.format(name=move.text), messages.DROP_FIRST)
                return
            drops += 1
        elif done.record.puts:
            puts += 1
    if cleared and not puts:
        source.add_error(move.at, messages.NOTHING_PUT_AFTER_CLEAR, messages.ADD_PUSH_SCREEN_OR_WRITE_LEAVE)


def _never_taken(source: Source, moves: tuple[Move, ...]) -> None:
    always: set[Trigger] = set()
    for move in moves:
        # What a tap carries is told apart by the walk; the same name is the same tap.
        trigger = replace(move.trigger, carries=()) if isinstance(move.trigger, triggers.TapTrigger) else move.trigger
        if trigger in always:
            source.add_warning(move.at, messages.NEVER_TAKEN.format(when=move.when))
        if move.condition is None and not move.only and not move.excluded:
            always.add(trigger)


def _results_nobody_takes(source: Source, moves: tuple[Move, ...], takers: tuple[Move, ...]) -> None:
    taken = {(move.trigger.name, move.trigger.cancelled) for move in takers if isinstance(move.trigger, triggers.ResultTrigger)}
    for move in moves:
        for operation in move.operations:
            done = operations.inner(operation)
            name = done.awaiting if isinstance(done, (operations.Push, operations.Open)) else ""
            if name and (name, False) not in taken:
                source.add_warning(move.at, messages.RESULT_UNHEARD.format(name=name))
            elif name and (name, True) not in taken:
                source.add_warning(move.at, messages.CANCELLED_UNHEARD.format(name=name))


def _results_nobody_wants(source: Source, plan: Plan) -> None:
    awaited = {(done.target.screen, done.awaiting) for done in _all_done(plan) if isinstance(done, operations.Push)}
    awaited |= {(done.overlay, done.awaiting) for done in _all_done(plan) if isinstance(done, operations.Open)}
    handed_on = {name for _, name in awaited}
    for place in plan.owners:
        for given in place.gives:
            # A flow's result may be given by a screen inside it, and a replace hands the duty on.
            if given.name not in handed_on:
                source.add_warning(place.at, messages.NOBODY_AWAITS.format(result=given.name, screen=place.name))


def _calls(source: Source, plan: Plan) -> None:
    """Calls that nothing makes, replies that the place that calls has no move for, and moves for calls made elsewhere."""
    made: set[str] = set()
    for moves, guards in (*((place.moves, place.guards) for place in plan.owners), (plan.anywhere, plan.guards)):
        called = [(done.call, move.at) for move in moves for done in move.operations if isinstance(done, operations.StartCall)]
        called += [
            (done.call, guard.at) for guard in guards for done in _done_by(guard) if isinstance(done, operations.StartCall)
        ]
        made.update(name for name, _ in called)
        heard = {(move.trigger.call, move.trigger.outcome) for move in moves if isinstance(move.trigger, triggers.ReplyTrigger)}
        for name, at in dict(reversed(called)).items():
            for outcome in plan.call[name].outcomes:
                if (name, outcome.name) not in heard:
                    source.add_warning(at, messages.REPLY_UNHEARD.format(call=name, outcome=outcome.name))
        for move in moves:
            if isinstance(move.trigger, triggers.ReplyTrigger) and move.trigger.call not in dict(called):
                source.add_warning(move.at, messages.NOTHING_HERE_CALLS.format(when=move.when, call=move.trigger.call))
    for call in plan.calls:
        if call.name not in made:
            source.add_warning(call.at, messages.NOTHING_CALLS.format(name=call.name))


def _timers(source: Source, plan: Plan) -> None:
    """Timers of the app that nothing starts."""
    started = {done.timer for done in _all_done(plan) if isinstance(done, operations.StartTimer)}
    for timer in plan.timers:
        if timer.name not in started:
            source.add_warning(timer.at, messages.NOTHING_STARTS.format(name=timer.name))


def _done_by(guard: Guard) -> Iterator[Operation]:
    yield from guard.operations
    for answer in guard.answers:
        yield from answer.operations


def _links_that_hide(source: Source, plan: Plan) -> None:
    """Links whose every address a link above takes; one address of each is tried."""
    for number, link in enumerate(plan.links):
        samples = {parameter.name: parameter.samples[0] for parameter in link.carries}
        earlier = match_link(plan.links[:number], filled_in(link.address, samples))
        if earlier.link is not None:
            source.add_warning(link.at, messages.LINK_NEVER_REACHED.format(address=link.address, earlier=earlier.link.address))


def _values_never_returned(source: Source, plan: Plan) -> None:
    """Values that a screen or an overlay gives, and nothing returns; callers are not distinguished."""
    done = list(_all_done(plan))
    returned = {operation.value for operation in done if isinstance(operation, operations.Return)}
    closed_with = {operation.value for operation in done if isinstance(operation, operations.Close)}
    for place in plan.owners:
        done_with = closed_with if isinstance(place, Overlay) else returned
        for result in (each for each in place.gives if each.kind == "one of"):
            # An argument may have any of the values.
            missing = [value for value in result.samples if value not in done_with]
            variable = (operations.Variable, operations.FactValue)
            for value in missing if not any(isinstance(each, variable) for each in done_with) else ():
                words = messages.NOTHING_CLOSES_WITH if isinstance(place, Overlay) else messages.NOTHING_RETURNS
                source.add_warning(place.at, words.format(value=value, place=place.name, result=result.name))


def _ways_left_out(source: Source, plan: Plan) -> None:
    """Guards that cover only some of the ways out, unless a rule says that this is meant."""
    meant = {screen for rule in plan.rules if isinstance(rule, Rule) and RULES[rule.name].of_guards for screen in rule.screens}
    for place in plan.owners:
        for guard in place.guards:
            left_out = [way for way in DEFAULT_WAYS if way not in guard.ways]
            if left_out and guard.decision != "do" and place.name not in meant:
                words = messages.GUARD_MISSES_WAYS if len(left_out) > 1 else messages.GUARD_MISSES_A_WAY
                source.add_warning(guard.at, words.format(guard=guard.name, ways=" and ".join(left_out)))


def _values_never_taken(source: Source, plan: Plan) -> None:
    """Reactions to a value that nothing brings about."""
    done = list(_all_done(plan))
    sets = [operation for operation in done if isinstance(operation, (operations.SetFact, operations.SetRungFact))]
    set_to = {(operation.name, operation.value) for operation in sets if isinstance(operation.value, str)}
    handed_on = {operation.name for operation in sets if not isinstance(operation.value, str)}
    held = [*plan.facts, *(fact for place in plan.owners for fact in place.holds)]
    set_to |= {(fact.name, value) for fact in held if fact.name in handed_on for value in fact.values}
    set_to |= {(fact.name, after) for fact in plan.facts for _, after in fact.allowed_changes}
    awaiting = {operation.awaiting for operation in done if isinstance(operation, (operations.Push, operations.Open))}
    for move in plan.moves:
        trigger = move.trigger
        if isinstance(trigger, triggers.BecomesTrigger) and (trigger.fact, trigger.value) not in set_to:
            source.add_warning(move.at, messages.NOTHING_SETS.format(when=move.when, fact=trigger.fact, value=trigger.value))
        elif isinstance(trigger, triggers.ResultTrigger) and trigger.name not in awaiting:
            source.add_warning(move.at, messages.NOTHING_AWAITS.format(when=move.when, name=trigger.name))
        elif trigger == triggers.PhaseTrigger("cover gone") and plan.cover is None:
            source.add_warning(move.at, messages.NO_COVER.format(when=move.when))


def _all_done(plan: Plan) -> Iterator[Operation]:
    """Go through every operation there is."""
    for done in chain((move.operations for move in plan.moves), map(_done_by, plan.guard.values())):
        yield from operations.all_of(done)


def _never_there(source: Source, where: Reachability) -> None:
    """Screens and overlays that nothing leads to, and moves that look for something where it never is."""
    plan = where.plan
    for place in plan.owners:
        if not where.stands[place.name]:
            words = messages.NOTHING_OPENS if isinstance(place, Overlay) else messages.NOTHING_LEADS_TO
            source.add_warning(place.at, words.format(name=place.name))
    for move in plan.moves:
        ladders = where.move_ladders(move)
        if not ladders:
            continue
        for operation in move.operations:
            _looks_around(source, where, move, operation, ladders)
        for operation, on in where.operation_ladders(move.operations, ladders):
            sought = operation.target.screen if isinstance(operation, operations.PopTo) and not operation.fallback else ""
            if sought and sought not in where.on(on):
                source.add_warning(move.at, messages.NEVER_ON_THAT_LADDER.format(sought=sought, name=move.text))


def _looks_around(source: Source, where: Reachability, move: Move, operation: Operation, ladders: Ladders) -> None:
    """Doubt what names a flow or tabs that are never around the place."""
    if move.owner is None:
        return
    around = where.enclosing_flows(ladders)
    overlay = where.plan.overlay.get(move.owner)
    if overlay is not None and overlay.of in where.plan.screen:
        around.add(overlay.of)
    wanted = ""
    if isinstance(operation, operations.OnFlow) and operation.place != "app":
        wanted = operation.place
    elif isinstance(operation, (operations.CloseFlow, operations.Return)):
        wanted = operation.flow
    elif isinstance(operation, operations.Switch) and not any(
        operation.tab in dict(where.plan.screen[name].inside) for name in around
    ):
        wanted = operation.tab
    if wanted and wanted not in around:
        source.add_warning(move.at, messages.NEVER_INSIDE.format(screen=move.owner, wanted=wanted, move=move.text))
