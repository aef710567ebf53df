"""What a sweep is to watch for besides breaks of rules, such as landings, with a shortest path to each."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple, TypeAlias

from wise_ladder.rules.replay import Infeasible, replay
from wise_ladder.rules.transition import Transition

if TYPE_CHECKING:
    from collections.abc import Callable, Hashable, Iterable

    from wise_ladder.plan import Plan
    from wise_ladder.rules.replay import PathStep
    from wise_ladder.semantics.state import State
    from wise_ladder.walks.tape import Tape

Goal: TypeAlias = "Hashable"
"""What is watched for; equal goals are the same."""
GoalsOf: TypeAlias = "Callable[[Transition], Iterable[Goal]]"
"""Which goals a step reaches."""
MAX_PATHS = 8
"""So many paths to one goal are tried in a level: not each order of steps has times that allow it."""


class Witness(NamedTuple):
    """A shortest way to a goal: a tape, and how many steps of a sweep it has, waits that only pass time left out."""

    tape: Tape
    steps: int


class Witnesses:
    """The goals that were reached, each with a shortest tape whose last step reaches it."""

    def __init__(self, plan: Plan, first: State, goals_of: GoalsOf) -> None:
        """Begin with nothing known; `first` is the state that paths begin with."""
        self._plan, self._first, self.goals_of = plan, first, goals_of
        self.paths: dict[Goal, Witness] = {}
        self.unproved: set[Goal] = set()
        """What was met, but no run with real times showed it so far."""
        self._noted: dict[Goal, list[Callable[[], list[PathStep]]]] = {}

    def wants(self, goal: Goal) -> bool:
        """Whether another path to a goal is of use."""
        return goal not in self.paths and len(self._noted.get(goal, ())) < MAX_PATHS

    def note(self, goal: Goal, path: Callable[[], list[PathStep]]) -> None:
        """Keep a goal that was met in this level; `path` finds the steps to it."""
        self._noted.setdefault(goal, []).append(path)

    def confirm(self) -> None:
        """Run the paths of this level by `step`, with real times, and keep those that do what was met."""
        noted, self._noted = self._noted, {}
        for goal, paths in sorted(noted.items(), key=repr):
            for path in paths:
                steps = path()
                try:
                    tape = replay(self._plan, self._first, steps)
                except Infeasible:
                    continue
                if goal in self.goals_of(last_transition(tape)):
                    self.paths[goal] = Witness(tape, len(steps))
                    self.unproved.discard(goal)
                    break
            else:
                self.unproved.add(goal)


def last_transition(tape: Tape) -> Transition:
    """Return the last step of a tape as the rules see it."""
    number = len(tape.entries)
    event, done = tape.entries[-1]
    return Transition(tape.plan, tape.state_at(number - 1), event, done.state, done.log, done.moves)
