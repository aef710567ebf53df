"""Path to a state: a question in the words of a plan, and the shortest paths to what it asks for."""

from __future__ import annotations

from itertools import takewhile
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.plan.conditions import AllOf, DepthOver
from wise_ladder.plan.events import Killed
from wise_ladder.rules import messages
from wise_ladder.rules.landings import WayName, landing_of
from wise_ladder.rules.path_question import Question
from wise_ladder.rules.replay import Infeasible
from wise_ladder.rules.starter import condition_words
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.transition import holds, seen_rung
from wise_ladder.rules.used_parts import parts_in
from wise_ladder.semantics.log import Finding
from wise_ladder.semantics.state import visible_path, visible_rungs
from wise_ladder.semantics.text import ladder_words

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator, Sequence

    from wise_ladder.plan import Plan
    from wise_ladder.plan.conditions import Condition
    from wise_ladder.rules.graph import StateKey
    from wise_ladder.rules.transition import Transition
    from wise_ladder.rules.verdicts import Bounds, SweepExtent
    from wise_ladder.rules.witnesses import Goal, GoalsOf
    from wise_ladder.semantics.state import Rung, State
    from wise_ladder.walks.tape import Tape

MOST_PATHS = 5
SLICE = 0.1
"""So many seconds the sweep runs before it looks for an answer."""
MAX_TRIED = 20
"""So many states are tried of which no run with real times shows that they can be met."""


class FoundPath(NamedTuple):
    """A shortest path: its tape, its steps, the ladder at its end, lowest rung first, and what it leads to."""

    tape: Tape
    steps: int
    ladder: str
    words: str = ""
    """What it leads to, where that is not what was asked for but near it."""


class Answer(NamedTuple):
    """The paths to what was asked for, at most five with different ends, and how far the sweep looked.

    `nearest` are the paths to what is like it where none was found. `doubt` says why there may be a path although none was
    found; it is empty if there is none within those steps.
    """

    paths: list[FoundPath]
    extent: SweepExtent
    nearest: list[FoundPath]
    doubt: str = ""


class _Reached(NamedTuple):
    """What a question asks for was met, with this screen at the end."""

    end: str


def answer(
    plan: Plan, question: Question, bounds: Bounds, goes_on: Callable[[], bool] = lambda: True, known: Sweep | None = None
) -> Answer:
    """Sweep until some number of steps has an answer, or a bound is met, or `goes_on` is false.

    What the sweep `known` has met, a state or a landing, is told at once; it must stand still meanwhile.
    """
    asked = [question, *(weaker for weaker in _weaker(plan, question) if weaker.words)]
    if known is not None and (paths := _known_paths(known, question)):
        return Answer(paths, known.extent(), [])
    sweep = Sweep(plan, bounds, (), _goals(question))
    search = _StateSearch(sweep, asked)
    paths = []
    while not paths and not sweep.finished and goes_on():
        sweep.run(SLICE, goes_on)
        search.look()
        reached = (_found_path(*path) for goal, path in sweep.witnesses.paths.items() if isinstance(goal, _Reached))
        paths = search.found[0] or list({path.ladder: path for path in sorted(reached, key=_by_length)}.values())
    unproved = search.unproved or any(isinstance(goal, _Reached) for goal in sweep.witnesses.unproved)
    doubt = messages.NOT_REPLAYED if unproved and not paths else ""
    told = Answer(paths[:MOST_PATHS], sweep.extent(), [] if paths else _nearest(sweep, question, search), doubt)
    sweep.release()
    return told


def _known_paths(sweep: Sweep, question: Question) -> list[FoundPath]:
    if question.of_state:
        search = _StateSearch(sweep, [question])
        search.look()
        return search.found[0]
    if question.landing is None:
        return []
    ways: tuple[WayName, ...] = ("system", "header")
    known = (sweep.landings.get(question.landing._replace(way=way)) for way in ways)
    return sorted((_found_path(*path) for path in known if path is not None), key=_by_length)[:1]


class _StateSearch:
    """Looks for states among those that a sweep has met, what takes the fewest steps first."""

    def __init__(self, sweep: Sweep, asked: Sequence[Question]) -> None:
        """Look for the first question's states, and for one of each other question, what asks for no state left out."""
        self._sweep, self._asked = sweep, asked
        self.found: list[list[FoundPath]] = [[] for _ in asked]
        self.unproved = False
        """Whether a state that the first question asks for was met, but no run with real times showed it."""
        self._level, self._looked_at = 0, dict[int, int]()
        self._tried = [0 for _ in asked]

    def look(self) -> None:
        """Look at the states that were met since the last look."""
        for level, at in self._new_states():
            if self.found[0] and self.found[0][0].steps < level:
                break
            state = self._sweep.graph.state(at)
            for number, question in enumerate(self._asked):
                wanted = question.of_state and len(self.found[number]) < (1 if number else MOST_PATHS)
                if wanted and self._is_asked_for(question, state):
                    self._prove(number, level, at, state)

    def _new_states(self) -> Iterator[tuple[int, StateKey]]:
        levels = self._sweep.by_depth
        while True:
            for core, bundles in levels[self._level].items():
                begin = self._looked_at.get(core, 0)
                self._looked_at[core] = len(bundles)
                yield from ((self._level, (core, bundle)) for bundle in bundles[begin:])
            if self._level + 1 == len(levels):
                return
            # No state is added to a level that is not the last.
            self._level, self._looked_at = self._level + 1, {}

    def _is_asked_for(self, question: Question, state: State) -> bool:
        seen = visible_path(state.ladder) if seen_rung(state) is not None else []
        place = next((place for place, rung in enumerate(seen) if question.screen in {"", rung.data.screen}), None)
        if place is None or (question.beneath and not _lies_beneath(question, state, seen[place])):
            return False
        # A condition about no screen is asked at the top.
        return question.condition is None or holds(
            self._sweep.plan, state, question.condition, place if question.screen else -1
        )

    def _prove(self, number: int, level: int, at: StateKey, state: State) -> None:
        if self._tried[number] >= MAX_TRIED or any(path.ladder == ladder_words(state) for path in self.found[number]):
            return
        try:
            tape = self._sweep.tape_to(level, at)
        except Infeasible:
            self._tried[number] += 1
            self.unproved = self.unproved or number == 0
            return
        if self._is_asked_for(self._asked[number], tape.state_at(len(tape.entries))):
            self.found[number].append(_found_path(tape, level, self._asked[number].words if number else ""))


def _lies_beneath(question: Question, state: State, over: Rung) -> bool:
    """Whether the screen lies beneath a rung that is seen, not around it; anywhere if the question is about no rung."""
    around = {rung.serial for rung in visible_path(state.ladder)} if question.screen else set()
    rungs = [rung for rung, _ in visible_rungs(state.ladder)]
    lower = takewhile(lambda rung: rung.serial != over.serial, rungs) if question.screen else rungs
    return any(rung.data.screen == question.beneath and rung.serial not in around for rung in lower)


def _found_path(tape: Tape, steps: int, words: str = "") -> FoundPath:
    return FoundPath(tape, steps, ladder_words(tape.state_at(len(tape.entries))), words)


def _by_length(path: FoundPath) -> int:
    return path.steps


def _goals(question: Question) -> GoalsOf:
    """Watch for what a question asks of a step, each screen at its end an answer of its own; and for what Back does instead."""

    def goals(edge: Transition) -> Iterator[Goal]:
        if question.landing is not None:
            landing = landing_of(edge)
            if landing is None or landing.way == "app" or landing.screen != question.landing.screen:
                return
            met = landing._replace(way="system") == question.landing
            if not met:
                yield landing
        elif question.finding:
            if isinstance(edge.action, Killed):
                edge.look_at_what_death_takes()
            met = any(finding.name == question.finding for finding in edge.all_of(Finding))
        else:
            met = not question.parts.isdisjoint(parts_in(edge))
        if met:
            yield _Reached(edge.top_after.data.screen if edge.top_after is not None else "")

    return (lambda _: ()) if question.of_state else lambda edge: tuple(goals(edge))


def _nearest(sweep: Sweep, question: Question, search: _StateSearch) -> list[FoundPath]:
    """Return what is like what was asked for, what takes the fewest steps first."""
    near = [path for paths in search.found[1:] for path in paths]
    known: dict[str, FoundPath] = {}
    for landing, path in sorted(sweep.landings.items(), key=lambda each: (each[1].steps, each[0])):
        does = messages.LANDINGS[landing.kind].format(name=landing.name)
        known.setdefault(does, _found_path(*path, messages.BACK_DOES.format(screen=landing.screen, does=does)))
    if known:
        return list(known.values())[:MOST_PATHS]
    # Of depths only the highest tells something.
    return near[:1] if isinstance(question.condition, DepthOver) else sorted(near, key=_by_length)[:MOST_PATHS]


def _weaker(plan: Plan, question: Question) -> Iterator[Question]:
    """Go through the questions that ask for a little less, the most telling first."""
    condition = question.condition
    if isinstance(condition, DepthOver):
        yield from (_with(plan, question, (DepthOver(rungs),)) for rungs in range(condition.rungs - 1, 0, -1))
        return
    yield from (Question(f"{name} seen", name) for name in question.owners)
    parts = condition.conditions if isinstance(condition, AllOf) else (condition,) if condition is not None else ()
    for left_out in range(len(parts)):
        yield _with(plan, question, parts[:left_out] + parts[left_out + 1 :])
    if question.beneath:
        yield _with(plan, question._replace(beneath=""), parts)
    if question.screen:
        yield _with(plan, question._replace(screen=""), parts)


def _with(plan: Plan, question: Question, parts: tuple[Condition, ...]) -> Question:
    """Ask the same with other conditions, in words of its own; no words: nothing is left to ask."""
    condition = AllOf(parts) if len(parts) > 1 else parts[0] if parts else None
    screen, beneath = question.screen, question.beneath
    about = f"{beneath} beneath {screen}" if beneath and screen else f"{screen} seen" if screen else f"{beneath} on the ladder"
    words = [about] if beneath or screen else []
    words += [condition_words(plan, condition)] if condition is not None else []
    return question._replace(words=" and ".join(words), condition=condition)
