"""The cause of a violation: the last move on the path that would avoid it by putting the same screen in another way."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from msgspec.structs import replace

from wise_ladder.plan.events import Back, HeaderBack, OpenLink
from wise_ladder.plan.operations import Clear, OnFlow, Operation, Push, Put, Reach, Replace, fallback_of
from wise_ladder.plan.world import LINK_MODES
from wise_ladder.rules.transition import PlanRef, link_place, move_place
from wise_ladder.semantics.plan_index import index_of

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from wise_ladder.plan import Plan
    from wise_ladder.plan.model import Move
    from wise_ladder.plan.operations import Target
    from wise_ladder.plan.world import Link as PlanLink
    from wise_ladder.walks.tape import Entry, Tape

MAX_TRIED = 200
"""So many other ways are tried at most for one break."""


class Blame(NamedTuple):
    """A place of the plan, after how many steps of the tape it had done what is wrong, and a plan that avoids it."""

    place: PlanRef
    step: int
    fixed: Plan


class Blaming:
    """Tries other ways to do the steps of a tape; the plans it makes for that are kept, since making one takes long."""

    def __init__(self) -> None:
        """Begin with no plan."""
        self._plans: dict[tuple[Move | PlanLink, object], Plan] = {}

    def blamed(self, tape: Tape, breaks: Callable[[Tape], bool], *, may_be_refused: bool = False) -> Blame | None:
        """Find the last move, or link, of which another operation with the same target avoids the break.

        All later steps must still apply; `may_be_refused`: but for the last, where it is a way back. None: no step is to blame.
        """
        tried = 0
        for number in range(len(tape.entries), 0, -1):
            for place, other in self._otherwise(tape.plan, tape.entries[number - 1]):
                rerun = _run(tape, other, may_be_refused=may_be_refused)
                if rerun is not None and not breaks(rerun):
                    return Blame(place, number, other)
                tried += 1
                if tried == MAX_TRIED:
                    return None
        return None

    def _otherwise(self, plan: Plan, entry: Entry) -> Iterator[tuple[PlanRef, Plan]]:
        """Go through the plans in which what a step does is done with another operation, that of its last move first."""
        if isinstance(entry.event, OpenLink):
            link = index_of(plan).link_of(entry.event.address).link
            if link is not None:
                for other in _links(plan, link):
                    key = link, other
                    other_plan = self._plans.get(key) or self._plans.setdefault(key, _with_link(plan, link, other))
                    yield link_place(plan, entry.event.address), other_plan
        for move in reversed(dict.fromkeys(entry.step.moves)):
            for done in _otherwise_put(move.operations):
                other_plan = self._plans.get((move, done)) or self._plans.setdefault((move, done), _with_move(plan, move, done))
                yield move_place(move), other_plan


def still_breaks(tape: Tape, plan: Plan, breaks: Callable[[Tape], bool]) -> bool:
    """Whether the same steps still break a rule on another plan; False if one does not apply."""
    rerun = _run(tape, plan, may_be_refused=False)
    return rerun is not None and breaks(rerun)


def _run(tape: Tape, plan: Plan, *, may_be_refused: bool) -> Tape | None:
    """Run the same steps on another plan; None if one does not apply."""
    rerun = type(tape)(plan, tape.first)
    for number, entry in enumerate(tape.entries, 1):
        rerun, done = rerun.with_event(entry.event)
        if done.refused is not None:
            last = number == len(tape.entries) and isinstance(entry.event, (Back, HeaderBack))
            return rerun if last and may_be_refused else None
    return rerun


def _otherwise_put(operations: tuple[Operation, ...]) -> Iterator[tuple[Operation, ...]]:
    """Go through other ways to put what operations put last: pushed, in another's place, sought, alone on its ladder."""
    for place in range(len(operations) - 1, -1, -1):
        on, done = _inner(operations[place])
        instead_of_it = fallback_of(done)
        if isinstance(done, Put):
            before = [each for each in operations[:place] if not _inner(each)[1].record.drops]
            for ladder in dict.fromkeys((on, "")):
                for way in _ways(done.target, getattr(done, "awaiting", "")):
                    changed = (*before, *(OnFlow(ladder, each) if ladder else each for each in way), *operations[place + 1 :])
                    if changed != operations:
                        yield changed
            return
        if isinstance(instead_of_it, Put):
            for way in _ways(instead_of_it.target, ""):
                if len(way) == 1 and way[0] != instead_of_it:
                    instead = replace(done, fallback=way[0])
                    yield (*operations[:place], OnFlow(on, instead) if on else instead, *operations[place + 1 :])
            return


def _ways(target: Target, awaiting: str) -> tuple[tuple[Operation, ...], ...]:
    push, once = Push(target, awaiting=awaiting), Push(target, once=True, awaiting=awaiting)
    return (push,), (once,), (Replace(target),), (Reach(target),), (Clear(), Push(target))


def _inner(operation: Operation) -> tuple[str, Operation]:
    """Return on which ladder an operation is done, if it says so, and the operation itself."""
    return (operation.place, operation.operation) if isinstance(operation, OnFlow) else ("", operation)


def _with_move(plan: Plan, move: Move, operations: tuple[Operation, ...]) -> Plan:
    return plan.with_moves(lambda each: replace(each, operations=operations) if each == move else each)


def _links(plan: Plan, link: PlanLink) -> Iterator[PlanLink]:
    """Go through other ways to follow a link: in another mode, or with the start beneath if nothing like that is built."""
    yield from (replace(link, mode=mode) for mode in LINK_MODES if mode != link.mode)
    if link.build[0].screen not in plan.first_screens:
        yield from (replace(link, build=(choice.target, *link.build)) for choice in plan.start)


def _with_link(plan: Plan, link: PlanLink, other: PlanLink) -> Plan:
    return replace(plan, links=tuple(other if each == link else each for each in plan.links))
