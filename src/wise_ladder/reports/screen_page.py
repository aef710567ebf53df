"""All that a plan says of a screen, and all that a sweep met of it: what a page about it tells."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.plan.crossings import ANYWHERE
from wise_ladder.plan.operations import Push, all_of
from wise_ladder.plan.screen_map import screen_map
from wise_ladder.plan.steps import event_phrase
from wise_ladder.plan.tokens import size_phrase
from wise_ladder.plan.triggers import ResultTrigger
from wise_ladder.reports import messages
from wise_ladder.rules.landings import WAYS
from wise_ladder.rules.messages import LANDINGS
from wise_ladder.rules.screen_goals import Arrival, LandingOver, screen_goals
from wise_ladder.rules.starter import condition_words
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.titles import says
from wise_ladder.rules.verdicts import Bounds
from wise_ladder.semantics.log import Restored
from wise_ladder.semantics.state import Phase, visible_path
from wise_ladder.walks import run_walk
from wise_ladder.walks.tape import Tape

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator, Sequence

    from wise_ladder.plan import Plan
    from wise_ladder.plan.conditions import Condition
    from wise_ladder.plan.model import Screen
    from wise_ladder.plan.screen_map import MapArrow
    from wise_ladder.rules.verdicts import SweepExtent, Verdict
    from wise_ladder.rules.witnesses import Witness
    from wise_ladder.walks import WalkRun


class Section(NamedTuple):
    """A table: its title, the heads of its columns, its rows."""

    title: str
    rows: tuple[tuple[str, ...], ...]

    @property
    def heads(self) -> tuple[str, ...]:
        """What its columns are."""
        return messages.SECTION_HEADS[self.title]


class ScreenPage(NamedTuple):
    """What there is to say of a screen: what it is, in a few words each, and tables of which none is empty."""

    screen: str
    about: tuple[str, ...]
    sections: tuple[Section, ...]


class ScreenPages(NamedTuple):
    """Pages about screens, and how far the sweep went that they are made from."""

    plan: Plan
    pages: tuple[ScreenPage, ...]
    extent: SweepExtent


def screen_pages(plan: Plan, names: Sequence[str], seconds: float, goes_on: Callable[[], bool] = lambda: True) -> ScreenPages:
    """Sweep a plan for so many seconds at most, and make a page about each screen of these names."""
    sweep = Sweep(plan, Bounds(seconds=seconds), None, screen_goals)
    sweep.run(goes_on=goes_on)
    facts = _Facts(plan, dict(sweep.witnesses.paths), sweep.extent(), sweep.verdicts())
    pages = tuple(facts.page(plan.screen[name]) for name in names)
    sweep.release()
    return ScreenPages(plan, pages, facts.extent)


class _Facts:
    """What is known of a plan, asked for by screen."""

    def __init__(self, plan: Plan, met: dict[object, Witness], extent: SweepExtent, verdicts: Sequence[Verdict]) -> None:
        self.plan, self.met, self.extent, self.verdicts = plan, met, extent, verdicts
        drawn = screen_map(plan)
        self.arrows, self.boxes = drawn.arrows, {box.key: box for box in drawn.boxes}
        self.runs = [run_walk(plan, walk) for walk in plan.walks]

    def page(self, screen: Screen) -> ScreenPage:
        sections = (
            Section(messages.SECTION_ARRIVALS, tuple(self.arrivals(screen))),
            Section(messages.SECTION_WAYS, tuple(self.ways_to(screen))),
            Section(messages.SECTION_BACK, tuple(self.backs(screen))),
            Section(messages.SECTION_ELSEWHERE, tuple(self.moves(screen, by_itself=False))),
            Section(messages.SECTION_TIMERS, tuple(self.moves(screen, by_itself=True))),
            Section(messages.SECTION_GUARDS, tuple(self.guards(screen))),
            Section(messages.SECTION_RESULTS, tuple(self.results(screen))),
            Section(messages.SECTION_WALKS, tuple(self.walks(screen))),
            Section(messages.SECTION_RULES, tuple(self.rules(screen))),
        )
        return ScreenPage(screen.name, tuple(_about(screen)), tuple(section for section in sections if section.rows))

    def arrivals(self, screen: Screen) -> Iterator[tuple[str, ...]]:
        yield messages.SHORTEST, *self.path(Arrival(screen.name, "any"))
        for link in self.plan.links:
            if screen.name in {target.screen for target in link.build[-1:]}:
                yield messages.BY_LINK.format(address=link.address), *self.path(Arrival(screen.name, "link", link.address))
        yield messages.AFTER_DEATH, *self.path(Arrival(screen.name, "death"))

    def path(self, goal: Arrival | LandingOver) -> tuple[str, str]:
        witness = self.met.get(goal)
        if witness is not None:
            return str(witness.steps), _path_words(witness.tape)
        # A walk may go further than the sweep did.
        tapes = [
            tape for run in self.runs if isinstance(goal, Arrival) and (tape := _tape_to(run, self.plan, goal)) is not None
        ]
        if not tapes:
            return "", messages.NOT_MET.format(extent=self.extent.words)
        shortest = min(tapes, key=lambda tape: len(tape.entries))
        given = [messages.GIVEN.format(words=", ".join(shortest.given()))] if shortest.given() else []
        return messages.IN_A_WALK.format(steps=len(shortest.entries)), " ".join([*given, _path_words(shortest)])

    def ways_to(self, screen: Screen) -> Iterator[tuple[str, ...]]:
        for arrow in self.arrows:
            if arrow.end == screen.name:
                yield from ((self.name_of(arrow), line.text) for line in arrow.lines)
        yield from (("", line.text) for line in self.boxes[screen.name].links)

    def name_of(self, arrow: MapArrow) -> str:
        return self.boxes[arrow.start].title

    def backs(self, screen: Screen) -> Iterator[tuple[str, ...]]:
        found = [goal for goal in self.met if isinstance(goal, LandingOver) and goal.landing.screen == screen.name]
        for goal in sorted(found, key=lambda goal: (goal.beneath, WAYS.index(goal.landing.way), self.met[goal].steps, goal)):
            does = LANDINGS[goal.landing.kind].format(name=goal.landing.name)
            yield goal.beneath or messages.LOWEST, goal.landing.way, does, *self.path(goal)

    def moves(self, screen: Screen, *, by_itself: bool) -> Iterator[tuple[str, ...]]:
        for move in screen.moves:
            if move.trigger.record.by_itself == by_itself:
                yield move.when, self.condition(move.condition), move.text or messages.DOES_NOTHING
        if not by_itself:
            for redirect in self.plan.redirects:
                if redirect.is_for(screen.name):
                    yield messages.REDIRECTED, self.condition(redirect.condition), redirect.target.screen

    def condition(self, condition: Condition | None) -> str:
        return condition_words(self.plan, condition) if condition is not None else ""

    def guards(self, screen: Screen) -> Iterator[tuple[str, ...]]:
        for guard in screen.guards:
            answers = ", ".join(answer.name for answer in guard.answers)
            does = messages.GUARD_DOES[guard.decision].format(text=guard.text, answers=answers)
            yield guard.name, self.condition(guard.condition), does, ", ".join(guard.ways)

    def results(self, screen: Screen) -> Iterator[tuple[str, ...]]:
        for given in screen.gives:
            values = ", ".join(map(str, given.samples))
            yield messages.GIVES.format(name=given.name), values if given.kind == "one of" else given.kind
        for move in self.plan.moves:
            for done in all_of(move.operations):
                if isinstance(done, Push) and done.awaiting and done.target.screen == screen.name:
                    caller = messages.CALLER.format(caller=move.owner or ANYWHERE, when=move.when)
                    yield messages.AWAITED.format(name=done.awaiting), caller
        for move in screen.moves:
            if isinstance(move.trigger, ResultTrigger):
                yield messages.WAITS.format(name=move.when), move.text or messages.DOES_NOTHING

    def walks(self, screen: Screen) -> Iterator[tuple[str, ...]]:
        for run in self.runs:
            if any(_shows(run, place, screen.name) for place in range(len(run.played))):
                failed = run.failed
                yield run.walk.name, messages.WALK_PASSES if failed is None else messages.WALK_FAILS.format(number=failed + 1)

    def rules(self, screen: Screen) -> Iterator[tuple[str, ...]]:
        for verdict in self.verdicts:
            if screen.name in {*verdict.rule.screens, *verdict.rule.lands}:
                yield says(verdict.rule), verdict.words


def _path_words(tape: Tape) -> str:
    return " · ".join(event_phrase(entry.event) for entry in tape.entries)


def _tape_to(run: WalkRun, plan: Plan, goal: Arrival) -> Tape | None:
    """Return a walk up to the first step that does what a goal asks for, on the phone of the plan."""
    if goal.how == "link" or run.walk.phone not in {"", plan.phone} or run.walk.named_given not in {"", plan.given.name}:
        return None
    for place, played in enumerate(run.played):
        restored = played.step is not None and any(isinstance(each, Restored) for each in played.step.log)
        if _shows(run, place, goal.screen) and (goal.how == "any" or restored):
            return Tape.from_walk(plan, run, place + 1)
    return None


def _shows(run: WalkRun, place: int, screen: str) -> bool:
    state = run.played[place].state
    seen = visible_path(state.ladder) if state.phase is Phase.OPEN and not state.cover else []
    return any(rung.data.screen == screen for rung in seen)


def _about(screen: Screen) -> Iterator[str]:
    """Say in a few words each what kind of screen it is."""
    if screen.inside:
        kind = messages.SCREEN_KINDS["tabs" if screen.tabs else "flow"]
        yield kind.format(names=", ".join(name or first.screen for name, first in screen.inside))
    for parameter in screen.takes:
        yield messages.TAKES.format(name=parameter.name, samples=", ".join(map(str, parameter.samples)))
    for fact in screen.holds:
        yield messages.SCREEN_HOLDS.format(name=fact.name, values=", ".join(fact.values))
    if screen.weight:
        hidden = "" if screen.hidden is None else messages.WEIGHS_HIDDEN.format(size=size_phrase(screen.hidden))
        yield messages.WEIGHS.format(size=size_phrase(screen.weight), hidden=hidden)
    if screen.header != "arrow":
        yield messages.HEADERS[screen.header]
    for words, bar in ((messages.TOP_BAR, screen.top_bar), (messages.BOTTOM_BAR, screen.bottom_bar)):
        if bar != "unsaid":
            yield words.format(bar=bar)
