"""What is pending, each value kept once, and what becomes of it on steps that did not look at it."""

from __future__ import annotations

from typing import TYPE_CHECKING, cast

from wise_ladder.rules.in_flight import SEEN_SINCE

if TYPE_CHECKING:
    from wise_ladder.rules.abstraction import Abstraction
    from wise_ladder.rules.decision_tree import DecisionLeaf
    from wise_ladder.rules.in_flight import InFlight
    from wise_ladder.semantics.symbolic import PendingKnowledge


class PendingValues:
    """The values of what is pending."""

    def __init__(self, shaping: Abstraction) -> None:
        """Begin with none."""
        self._shaping = shaping
        self._same: dict[object, object] = {}
        self._timeless: dict[object, object] = {}
        self._without: dict[tuple[object, frozenset[str]], object] = {}
        """What is pending, by what it was before calls of some names were given up."""

    def once(self, value: object) -> object:
        """Return the one that stands for all that are equal."""
        return self._same.setdefault(value, value)

    def after(self, done: PendingKnowledge, under_way: object) -> object:
        """Return what is pending after a step that did not look at it, or at one call alone."""
        if done.replied is not None:
            under_way = self.once(self._shaping.without(cast("InFlight", under_way), done.replied.call))
        names = _given_up(done)
        if names and cast("InFlight", under_way).calls:
            rest = self._without.get((under_way, names))
            if rest is None:
                rest = self.once(self._shaping.without_calls(cast("InFlight", under_way), names)[0])
                self._without[under_way, names] = rest
            under_way = rest
        if done.lost:
            under_way = self.once(self._shaping.callers_gone(cast("InFlight", under_way), done.lost))
        return under_way

    def kept(self, done: PendingKnowledge, under_way: InFlight) -> tuple[int, ...]:
        """Return the old number of each thing that is pending after a step that did not look at it."""
        return self._shaping.without_calls(under_way, _given_up(done))[1]

    def timeless(self, under_way: object) -> object:
        """Return what is pending without a word about since when."""
        known = self._timeless.get(under_way)
        if known is None:
            known = self._timeless[under_way] = self.once(self._shaping.timeless(cast("InFlight", under_way)))
        return known

    def with_more_alike(self, before: object, leaf: DecisionLeaf, after: object) -> list[object]:
        """Return what else may be pending after a step, since of calls that are alike only some are kept."""
        old = leaf.successor.old_indices
        return [*map(self.once, self._shaping.with_more_alike(cast("InFlight", before), cast("InFlight", after), old))]


def _given_up(done: PendingKnowledge) -> frozenset[str]:
    """Return the names of the calls that are pending no more after a step that did not look at them."""
    return done.dropped | {SEEN_SINCE} if done.turned else done.dropped
