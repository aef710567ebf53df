"""What a user can notice of a state and of a step, as data in which names of two versions of a plan can be compared.

Noticed is what is seen and asked, what lies over it, bars, where each way back leads, which result came, and whether something
was possible. What is kept (the values of facts) is a second grade: it is noticed later, if at all.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias

from wise_ladder.plan import events
from wise_ladder.plan.values import value_words
from wise_ladder.semantics import Phase, forecast
from wise_ladder.semantics.log import ResultCame
from wise_ladder.semantics.state import open_layers, visible_path
from wise_ladder.trials import messages

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan import Plan
    from wise_ladder.semantics import Forecast, RungData, State
    from wise_ladder.semantics.log import LogEntry
    from wise_ladder.trials.matching import Names


Shown: TypeAlias = "tuple[tuple[str, str], ...]"
"""Arguments as they are read on the phone: the number 7 and the text 7 look the same."""
Grade = Literal["noticed", "kept"]


class Side(NamedTuple):
    """One version after a step: its state, what the step did, and what its names are in the new version."""

    plan: Plan
    state: State
    log: tuple[LogEntry, ...]
    names: Names


class Seen(NamedTuple):
    """What is on the phone: a screen with its arguments, what lies over it, the bars, what is asked with its answers."""

    where: str
    arguments: Shown
    over: tuple[str, ...]
    bars: tuple[bool, bool]
    asked: tuple[str, ...]

    @property
    def words(self) -> str:
        """Say what is seen: `hive id 7, over it the sheet`."""
        if self.where in messages.PHASES:
            return messages.PHASES[self.where]
        arguments = ", ".join(f"{name} {value}" for name, value in self.arguments)
        over = f", over it {', '.join(self.over)}" if self.over else ""
        return f"{self.where} {arguments}".strip() + over


class WayBack(NamedTuple):
    """Where a way back leads: how it ends, on which screen, and what is asked on the way."""

    outcome: str
    screen: str
    arguments: Shown
    question: str

    @property
    def words(self) -> str:
        """Say where it leads: `leads to hive id 7`."""
        rung = " ".join([self.screen, ", ".join(f"{name} {value}" for name, value in self.arguments)]).strip()
        return messages.LEADS[self.outcome].format(rung=rung, question=self.question)


def seen(plan: Plan, state: State, names: Names) -> Seen:
    """Return what is seen; `names`: what the screens and overlays are called in the other version."""
    if state.phase is not Phase.OPEN or state.cover:
        where = "cover" if state.phase is Phase.OPEN else state.phase.value
        return Seen(where, (), (), (True, True), ())
    path = visible_path(state.ladder)
    over = tuple(names.overlays.get(name, name) for _, name, _ in open_layers(state.overlays, path))
    guard = plan.guard[state.question.guard] if state.question is not None else None
    asked = (guard.text, *(answer.name for answer in guard.answers)) if guard is not None else ()
    data = path[-1].data if path else None
    return Seen(screen_name(data, names), shown_arguments(data, names), over, state.bars, asked)


def screen_name(data: RungData | None, names: Names) -> str:
    """Return what the screen of a rung is called in the new version."""
    return names.screens.get(data.screen, data.screen) if data is not None else "nothing"


def shown_arguments(data: RungData | None, names: Names) -> Shown:
    """Return the arguments of a rung as they are read on the phone."""
    return (
        tuple(sorted((name, str(value)) for name, value in names.carried(data.screen, data.arguments)))
        if data is not None
        else ()
    )


def ways_back(plan: Plan, state: State, names: Names) -> dict[str, WayBack]:
    """Return where the system's Back and the button in the header lead."""
    found: dict[str, WayBack] = {}
    for way, event in (("system", events.Back()), ("header", events.HeaderBack())) if state.phase is Phase.OPEN else ():
        found[way] = way_back(forecast(plan, state, event), names)
    return found


def way_back(known: Forecast, names: Names) -> WayBack:
    """Return where a way back leads, as it is forecast."""
    shown = known.data if known.outcome in {"lands", "stays", "closes", "blocked"} else None
    screen = screen_name(shown, names) if shown else ""
    return WayBack(known.outcome, screen, shown_arguments(shown, names), known.question)


def results(log: tuple[LogEntry, ...], names: Names) -> tuple[str, ...]:
    """Return which results came in a step, each with its value."""
    return tuple(
        f"{names.results.get(entry.name, entry.name)}, {'cancelled' if entry.value is None else value_words(entry.value)}"
        for entry in log
        if isinstance(entry, ResultCame)
    )


def kept(plan: Plan, state: State, names: Names) -> dict[str, str]:
    """Return what is kept: the facts of the app, of each rung that is seen and of what lies over it, and how much was freed."""
    called = names.facts
    found = {called.get(fact.name, fact.name): str(value) for fact, value in zip(plan.facts, state.facts, strict=True)}
    found[messages.FREED] = str(len(state.freed))
    path = visible_path(state.ladder)
    held = [(screen_name(rung.data, names), rung.data.facts) for rung in path]
    layers = (*state.overlays, *(layer for rung in path for layer in rung.overlays))
    held += [(names.overlays.get(layer.name, layer.name), layer.facts) for layer in layers]
    for owner, facts in held:
        found |= {f"{called.get(name, name)} of {owner}": value for name, value in facts}
    return found


def differences(old: Side, new: Side, *, ways: bool = True) -> Iterator[tuple[str, Grade]]:
    """Say in what both sides differ, what matters most first, each with its grade; `ways`: where the ways back lead too."""
    yield from ((words, "noticed") for words in _seen_differences(seen(*old[:2], old.names), seen(*new[:2], new.names)))
    came, comes = results(old.log, old.names), results(new.log, new.names)
    if came != comes:
        yield differs(messages.RESULT, ", ".join(came) or messages.NOTHING, ", ".join(comes) or messages.NOTHING), "noticed"
    if ways:
        led = ways_back(*old[:2], old.names)
        for way, leads in ways_back(*new[:2], new.names).items():
            if way in led and led[way] != leads:
                yield differs(messages.BACK[way], led[way].words, leads.words), "noticed"
    keeps = kept(*old[:2], old.names)
    for what, value in kept(*new[:2], new.names).items():
        if keeps.get(what, value) != value:
            yield differs(what, keeps[what], value), "kept"


def _seen_differences(old: Seen, new: Seen) -> Iterator[str]:
    if (old.where, old.arguments, old.over) != (new.where, new.arguments, new.over):
        yield differs(messages.SEEN, old.words, new.words)
    if old.asked != new.asked:
        yield differs(messages.QUESTION, _asked(old.asked), _asked(new.asked))
    if old.bars != new.bars:
        yield differs(messages.BARS, _bars(old.bars), _bars(new.bars))


def differs(what: str, old: str, new: str) -> str:
    """Say what something is now, and what it was."""
    return messages.DIFFERS.format(what=what, new=new, old=old)


def _asked(asked: tuple[str, ...]) -> str:
    return messages.ASKED.format(text=asked[0], answers=", ".join(asked[1:])) if asked else messages.NOTHING


def _bars(bars: tuple[bool, bool]) -> str:
    return " and ".join("shown" if bar else "hidden" for bar in bars)
