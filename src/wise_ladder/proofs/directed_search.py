"""Runs that break a rule, searched for where abstract states say that a step may break it.

Abstract states are never further apart than the states in them. So a search that goes on where the fewest steps are behind and
before it meets a shortest run first (A*: Hart, Nilsson, Raphael 1968; distances in an abstraction: Culberson, Schaeffer 1998).
"""

from __future__ import annotations

import time
from heapq import heappop, heappush
from itertools import count
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable

    from wise_ladder.proofs.abstract_states import AbstractState
    from wise_ladder.proofs.fixpoint import Fixpoint
    from wise_ladder.rules.decision_tree import Candidate, DecisionLeaf
    from wise_ladder.rules.graph import StateGraph, StateKey
    from wise_ladder.rules.replay import PathStep
    from wise_ladder.rules.verdicts import Counterexample


MOST_TRIED = 20
"""So many runs are tried that do not break the rule with real times."""


def shortest_break(
    states: Fixpoint, rule: int, seconds: float, confirm: Callable[[list[PathStep], Candidate], Counterexample | None]
) -> Counterexample | None:
    """Search for so many seconds for a shortest run that breaks a rule, by its number in the graph; None if none was found.

    `confirm` runs a path with real times; it returns None where it does not break the rule then. After that the next run that
    is found need not be the shortest: the same steps might have come about in another way. Nor need it be where `states` have
    not come to their end, or steps that break another rule are held back: a shorter run may lead over what was not met.
    """
    until, graph = time.perf_counter() + seconds, states.graph
    to_go = _distances(
        states, [at for leaf, those in states.suspects.items() if leaf.breaks([rule]) is not None for at in those]
    )
    came_from: dict[StateKey, tuple[StateKey, DecisionLeaf]] = {}
    behind = {graph.first: 0}
    """For each state that was met, the fewest steps that lead there, as far as is known."""
    numbers, tried = count(), 0
    waiting = [(0, 0, next(numbers), graph.first)]
    while waiting and time.perf_counter() < until:
        _, steps, _, at = heappop(waiting)
        if steps > behind[at]:
            # A shorter way to it was found since.
            continue
        for leaf, after in graph.edges(at):
            suspect = next((each for each in leaf.candidates if each.rule == rule), None)
            if suspect is not None:
                found = confirm([*_path(graph, came_from, at), graph.taken(at[0], leaf.action, leaf.successor)], suspect)
                tried += 1
                if found is not None:
                    return found._replace(shortest=tried == 1)
                if tried == MOST_TRIED or time.perf_counter() >= until:
                    return None
            if after not in behind or steps + 1 < behind[after]:
                abstract = states.abstract(after)
                # From what lies in no abstract state with a way to a break there is no way either.
                if abstract in to_go:
                    came_from[after], behind[after] = (at, leaf), steps + 1
                    heappush(waiting, (steps + 1 + to_go[abstract], steps + 1, next(numbers), after))
    return None


def _distances(states: Fixpoint, ends: Iterable[AbstractState]) -> dict[AbstractState, int]:
    """Return for each abstract state how many steps it has to go at least: one from those at the end."""
    before: dict[AbstractState, list[AbstractState]] = {}
    for at, known in states.states.items():
        for edge in known.edges:
            before.setdefault(edge.target, []).append(at)
    found = dict.fromkeys(ends, 1)
    waiting = list(found)
    for at in waiting:
        for source in before.get(at, ()):
            if source not in found:
                found[source] = found[at] + 1
                waiting.append(source)
    return found


def _path(graph: StateGraph, came_from: dict[StateKey, tuple[StateKey, DecisionLeaf]], at: StateKey) -> list[PathStep]:
    steps: list[PathStep] = []
    while (origin := came_from.get(at)) is not None:
        at, leaf = origin
        steps.append(graph.taken(at[0], leaf.action, leaf.successor))
    return steps[::-1]
