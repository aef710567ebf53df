"""The tape of a run: each event with what came of it. Tapes never change; doing an event gives a longer one."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.plan.events import Event
from wise_ladder.plan.steps import event_phrase, quoted
from wise_ladder.semantics import Step, initial_state, step
from wise_ladder.walks.expectations import state_phrase

if TYPE_CHECKING:
    from collections.abc import Sequence

    from wise_ladder.plan import Plan
    from wise_ladder.semantics import State
    from wise_ladder.walks.running import WalkRun


class Entry(NamedTuple):
    """One step of a run."""

    event: Event
    step: Step


@dataclass(frozen=True, slots=True)
class Tape:
    """A run from a first state; `entries` are its steps in order."""

    plan: Plan
    first: State
    entries: tuple[Entry, ...] = ()
    rest: tuple[Event, ...] = ()
    """The events of another version of the plan that do not apply on this one: the first that is refused, and all after it."""
    refused: str = ""
    """Why that one is refused."""
    dropped: tuple[tuple[str, str], ...] = ()
    """The facts given in another version that this one does not have."""

    def state_at(self, count: int) -> State:
        """Return the state after so many steps."""
        return self.entries[count - 1].step.state if count else self.first

    def prefix(self, count: int) -> Tape:
        """Return the tape of the first so many steps."""
        return Tape(self.plan, self.first, self.entries[:count])

    def with_event(self, event: Event) -> tuple[Tape, Step]:
        """Do an event at the end; a refused one leaves the tape as it is."""
        done = step(self.plan, self.state_at(len(self.entries)), event)
        if done.refused is not None:
            return self, done
        return Tape(self.plan, self.first, (*self.entries, Entry(event, done))), done

    def rerun_on(
        self, plan: Plan, replies: Sequence[tuple[str, str]] | None = None, events: Sequence[Event] | None = None
    ) -> Tape:
        """Run the same events on a changed plan, with the same facts and replies; what does not apply is kept as the rest.

        `replies`: the calls and outcomes that come by themselves, `events`: what is done, instead of what it was.
        """
        known = {(fact.name, value) for fact in plan.facts for value in fact.values}
        given = (*self.first_facts(), *self.dropped)
        outcomes = {(call.name, outcome.name) for call in plan.calls for outcome in call.outcomes}
        coming = tuple(each for each in (plan.coming(self.own_replies()) if replies is None else replies) if each in outcomes)
        first = state = initial_state(plan, tuple(each for each in given if each in known), coming)
        dropped = tuple(each for each in given if each not in known)
        done_before = (*(entry.event for entry in self.entries), *self.rest)
        todo, entries = done_before if events is None else tuple(events), list[Entry]()
        for number, event in enumerate(todo):
            done = step(plan, state, event)
            if done.refused is not None:
                return Tape(plan, first, tuple(entries), todo[number:], done.refused, dropped)
            entries.append(Entry(event, done))
            state = done.state
        return Tape(plan, first, tuple(entries), dropped=dropped)

    @staticmethod
    def from_walk(plan: Plan, result: WalkRun, count: int | None = None) -> Tape:
        """Return the tape of a walk as it was run on a plan, of its first so many lines where a number is given."""
        played = result.played if count is None else result.played[:count]
        entries = (
            Entry(line.line.what, line.step)
            for line in played
            if isinstance(line.line.what, Event) and line.step is not None and line.step.refused is None
        )
        return Tape(plan.for_walk(result.walk), result.first, tuple(entries))

    def as_steps(self) -> list[str]:
        """Write the run as the steps of a walk, the ladder at its end as what is expected."""
        return [
            *(event_phrase(entry.event) for entry in self.entries),
            state_phrase(self.plan, self.state_at(len(self.entries))),
        ]

    def phone(self) -> str:
        """Return the phone of the run, nothing if it is the first of the plan's."""
        return "" if not self.plan.phones or self.plan.phone == self.plan.phones[0][0] else self.plan.phone

    def given(self) -> list[str]:
        """Write what differs before the first step: facts, and the replies that come by themselves."""
        return [
            *([self.plan.given.name] if self.plan.given.name else []),
            *(f"{quoted(name)} is {quoted(value)}" for name, value in self.first_facts()),
            *(f"{quoted(call)} replies {quoted(outcome)}" for call, outcome in self.own_replies()),
        ]

    def first_facts(self) -> tuple[tuple[str, str], ...]:
        """Return the facts that differ before the first step from what the plan begins with."""
        facts = zip(self.plan.facts, self.first.facts, initial_state(self.plan).facts, strict=True)
        return tuple((fact.name, value) for fact, value, usual in facts if value != usual)

    def own_replies(self) -> tuple[tuple[str, str], ...]:
        """Return the replies that come by themselves, and not because the plan is given them."""
        return tuple(each for each in self.first.scripted_replies if each not in self.plan.given.replies)
