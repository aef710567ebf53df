"""What can become of what is pending: found once for each shape, and once for all that are one behind a veil."""

from __future__ import annotations

from typing import TYPE_CHECKING, TypeAlias, cast

from msgspec.structs import replace

from wise_ladder.rules.opaque_states import of_the_app
from wise_ladder.rules.refinement import put_in
from wise_ladder.rules.zones import NOTHING
from wise_ladder.semantics.symbolic import UNKNOWN_CALLER, PendingKnowledge, untold

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable, Iterator

    from wise_ladder.rules.actions import Action
    from wise_ladder.rules.decision_tree import DecisionNode
    from wise_ladder.rules.in_flight import InFlight
    from wise_ladder.rules.opaque_states import Veils
    from wise_ladder.rules.successors import Successors
    from wise_ladder.rules.zones import Zone
    from wise_ladder.semantics.state import PendingCall, State
    from wise_ladder.semantics.symbolic import RepliedCall

Nodes: TypeAlias = "list[DecisionNode]"
Begin: TypeAlias = "Callable[[State, Zone, Iterable[Action]], Nodes]"


class PendingNodes:
    """Where the choices begin that have to do with what is pending."""

    def __init__(self, successors: Successors, veils: Veils) -> None:
        """Begin with none."""
        self._successors, self._veils = successors, veils
        self._ended: dict[tuple[int, InFlight], Nodes] = {}
        self._ended_behind: dict[tuple[State, InFlight], Nodes] = {}
        """By a shape behind a veil: what can become of what has to do with no rung."""
        self._replied: dict[tuple[int, RepliedCall], Nodes] = {}
        self._replied_behind: dict[tuple[State, RepliedCall], Nodes] = {}
        """By a shape, behind a veil if it can be."""

    def __iter__(self) -> Iterator[DecisionNode]:
        """Go through all nodes that were begun."""
        for known in (self._ended, self._ended_behind, self._replied, self._replied_behind):
            for nodes in known.values():
                yield from nodes

    def ended(self, shape: int, skeleton: State, under_way: InFlight, begin: Begin) -> Nodes:
        """Return what can become of what is pending at a shape; `begin` makes the nodes."""
        ended = self._ended.get((shape, under_way))
        if ended is None:
            shaping = self._successors.shaping
            state, zone = put_in(shaping, skeleton, shaping.under_way, under_way)
            by_rungs: list[Action] = []
            by_app: list[Action] = []
            for choice in self._successors.ended(state):
                (by_app if of_the_app(choice, under_way) else by_rungs).append(choice)
            behind = self._veils.hide_ladders(skeleton) if by_app else None
            if behind is None:
                ended = begin(state, zone, [*by_rungs, *by_app])
            else:
                hidden = self._ended_behind.get((behind, under_way))
                if hidden is None:
                    at, _ = put_in(shaping, behind, shaping.under_way, under_way)
                    hidden = self._ended_behind[behind, under_way] = begin(at, zone, by_app)
                ended = [*begin(state, zone, by_rungs), *hidden]
            self._ended[shape, under_way] = ended
        return ended

    def replied(self, shape: int, skeleton: State, replied: RepliedCall, begin: Begin) -> Nodes:
        """Return what the replies to a call do at a shape, as far as nothing depends on what else is pending."""
        nodes = self._replied.get((shape, replied))
        if nodes is None:
            # Where the caller is left out, its mark goes with the call, so the rows do not stay as they are.
            behind = self._veils.hide_ladders(skeleton) if replied.call.serial != UNKNOWN_CALLER else None
            at = skeleton if behind is None else behind
            nodes = self._replied_behind.get((at, replied))
            if nodes is None:
                left_out = untold(self._successors.shaping.under_way, known=PendingKnowledge(replied=replied))
                state = replace(at, calls=cast("tuple[PendingCall, ...]", left_out))
                choices = self._successors.replies(replied.call.name)
                nodes = self._replied_behind[at, replied] = begin(state, NOTHING, choices)
            self._replied[shape, replied] = nodes
        return nodes
