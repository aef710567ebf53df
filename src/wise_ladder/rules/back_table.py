"""The table of Back from everywhere: a row for each thing that a way back does on a screen, and what is surprising in it."""

from __future__ import annotations

from collections import Counter
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.plan.crossings import crossings
from wise_ladder.plan.events import Back, HeaderBack
from wise_ladder.plan.operations import SetFact
from wise_ladder.plan.rule import StarterSet
from wise_ladder.plan.triggers import TapTrigger
from wise_ladder.rules import messages
from wise_ladder.rules.landings import WAYS
from wise_ladder.rules.starter import condition_words, recognise
from wise_ladder.semantics import forecast
from wise_ladder.semantics.state import Phase, visible_screens

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping

    from wise_ladder.plan import Plan
    from wise_ladder.rules.landings import Landing
    from wise_ladder.rules.witnesses import Witness
    from wise_ladder.walks.tape import Tape


class BackRow(NamedTuple):
    """What a way back does on a screen, a shortest tape to it with its steps, what decides, and what is surprising.

    `decides` is empty where the way always does the same, `surprise` where it is what one expects.
    """

    landing: Landing
    tape: Tape
    steps: int
    decides: str
    surprise: str

    @property
    def words(self) -> str:
        """Say what it does."""
        return messages.LANDINGS[self.landing.kind].format(name=self.landing.name)


def back_table(plan: Plan, paths: Mapping[Landing, Witness]) -> list[BackRow]:
    """List what is known, by the screens in the order of the file, then by the ways, then by the length of the paths."""
    places = {screen.name: place for place, screen in enumerate(plan.screens)}
    order = sorted(paths, key=lambda each: (places[each.screen], WAYS.index(each.way), paths[each].steps, each))
    surprises = _Surprises(plan)
    choices = Counter((landing.screen, landing.way) for landing in order)
    rows = []
    for landing in order:
        tape, steps = paths[landing]
        decides = _decides(plan, landing, tape) if choices[landing.screen, landing.way] > 1 else ""
        rows.append(BackRow(landing, tape, steps, decides, " ".join(surprises.of(landing, tape))))
    return rows


def _decides(plan: Plan, landing: Landing, tape: Tape) -> str:
    """Say what made the way back do this: a condition, or what lay beneath."""
    done = tape.entries[-1].step
    if landing.kind in {"asks", "blocked"}:
        named = [guard for guard in plan.guard.values() if guard.name == landing.name]
        # Guards of different screens may have one name.
        condition = min(named, key=lambda guard: guard.id.owner != landing.screen).condition
    else:
        condition = next((move.condition for move in done.moves if move.condition), None)
    if condition is not None:
        return messages.DECIDED_BY_CONDITION.format(condition=condition_words(plan, condition))
    before = tape.state_at(len(tape.entries) - 1)
    beneath = [rung.data.screen for rung in visible_screens(before.ladder)[-2:-1]]
    if landing.kind == "lands" and beneath == [landing.name]:
        return messages.DECIDED_BY_BENEATH.format(screen=landing.name)
    return messages.DECIDED_BY_NOTHING_BENEATH if landing.kind in {"leaves", "goes away"} and not beneath else ""


class _Surprises:
    """Tells what a user would not expect of a way back."""

    def __init__(self, plan: Plan) -> None:
        found = recognise(plan, next((rule for rule in plan.rules if isinstance(rule, StarterSet)), StarterSet()))
        self._plan, self._splash, self._sign_in = plan, set(found.splash), set(found.sign_in)
        self._forms = {guard.id.owner for guard in plan.guard.values() if guard.id.owner and guard.decision != "do"}
        rows = crossings(plan)
        self._pushed_from = {(each.start, each.end) for each in rows if each.kind == "push"}
        self._entrances = self._splash | {name for name in plan.first_screens if any(_settles(plan, name))}
        """First screens that a user is not to see again: a splash, a sign-in."""
        begun = [each.end for each in rows if each.kind in {"replace", "clear, then push"} and each.start in self._entrances]
        self._roots = plan.first_screens.union(
            self._sign_in, *(plan.screens_opened(name) for name in begun if name in plan.screen)
        )

    def of(self, landing: Landing, tape: Tape) -> Iterator[str]:
        """Say what is surprising, sentence by sentence."""
        screen, kind, name = landing.screen, landing.kind, landing.name
        if kind == "leaves" and landing.way != "app" and screen not in self._roots:
            yield messages.SURPRISE_LEAVES.format(screen=screen)
        # A tap says itself where it leads.
        if kind == "lands" and name != screen and landing.way != "app":
            after = tape.state_at(len(tape.entries))
            done = any(after.facts[self._plan.fact_index[fact]] == value for fact, value in _settles(self._plan, name))
            # What was opened from there may well lead back there.
            opened_there = (name, screen) in self._pushed_from
            if name in self._splash:
                yield messages.SURPRISE_SPLASH.format(screen=name)
            elif name in self._entrances and done:
                yield messages.SURPRISE_DONE.format(screen=name)
            elif name in self._sign_in and not opened_there:
                yield messages.SURPRISE_SIGN_IN.format(screen=name)
            if name in self._forms and not opened_there:
                yield messages.SURPRISE_FORM.format(screen=name)
        if landing.way == "header" and (other := self._system(tape)) is not None:
            yield messages.SURPRISE_DISAGREES.format(other=other)

    def _system(self, tape: Tape) -> str | None:
        """Say where the system's Back leads where the header button was pressed, if that is elsewhere."""
        before = tape.state_at(len(tape.entries) - 1)
        header, system = (forecast(self._plan, before, event) for event in (HeaderBack(), Back()))
        if "refused" in {header.outcome, system.outcome} or header.step.state.phase is not Phase.OPEN:
            return None
        if header.outcome == "stays" or (header.outcome, header.serial) == (system.outcome, system.serial):
            return None
        name = system.data.screen if system.data is not None and system.outcome == "lands" else ""
        return messages.FORECASTS[system.outcome].format(name=name)


def _settles(plan: Plan, screen: str) -> Iterator[tuple[str, str]]:
    """Go through the facts that a tap of a screen sets when it goes on to another screen, with their values."""
    for move in plan.screen[screen].moves:
        if isinstance(move.trigger, TapTrigger) and any(done.record.shows for done in move.operations):
            yield from (
                (done.name, done.value)
                for done in move.operations
                if isinstance(done, SetFact) and isinstance(done.value, str) and done.name in plan.fact_index
            )
