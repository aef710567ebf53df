"""What is known of abstract states while they are taken together: what they may be, and what leads from each to which."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple, TypeAlias

from msgspec import Struct

from wise_ladder.rules.decision_tree import DecisionNode

if TYPE_CHECKING:
    from wise_ladder.proofs.value_sets import Bits
    from wise_ladder.rules.decision_tree import DecisionLeaf
    from wise_ladder.semantics.symbolic import PendingKnowledge, RepliedCall, RestAnswer

Rows: TypeAlias = "tuple[frozenset[int], ...]"
"""For each row that is left out: the names it may have."""


class AbstractState(NamedTuple):
    """A shape, the values of the facts that are kept exactly, and the names of the rows that are."""

    shape: int
    exact: tuple[object, ...]
    rows: Rows


class PendingSort(NamedTuple):
    """Which of the values of what is pending a choice is for."""

    names: frozenset[str] | None = None
    """Those in which the calls have these names."""
    replied: RepliedCall | None = None
    """Those in which this call may get a reply that is decided by itself."""


WHATEVER = PendingSort()


class Asked(NamedTuple):
    """What was asked of rows without a look into them, and the answer."""

    row: int | None
    """The number of the row, None: all of them together."""
    answer: RestAnswer


class Way(Struct, frozen=True):
    """A choice as far as it was looked at: what it may come from."""

    node: DecisionNode
    rows: Rows
    told: tuple[tuple[int, object], ...] = ()
    """The places that were looked at, and what was seen there."""
    pending: PendingSort = WHATEVER
    asked: tuple[Asked, ...] = ()
    looks: int = 0
    """How often it looked into rows; 0: they are those of the abstract state, as far as they fit what was asked."""


class Watch(NamedTuple):
    """A choice that looks at a place, and what was seen there so far."""

    way: Way
    seen: set[object]


class PendingChange(NamedTuple):
    """What becomes of what is pending on a step that looks at no more of it than this."""

    sort: PendingSort
    done: PendingKnowledge


class Edge(NamedTuple):
    """A step from one abstract state to another: what passes along it."""

    target: AbstractState
    stops: frozenset[int]
    """The places whose values do not pass as they are."""
    pending: PendingChange | None
    """What passes of what is pending where not all does as it is."""
    asked: tuple[Asked, ...] | None
    """The rows pass as far as they fit this; None: they do not pass as they are."""


class Landing(NamedTuple):
    """What a leaf comes to, but for the rows."""

    leaf: DecisionLeaf
    edge: Edge
    """Without the names of rows."""
    kept: tuple[bool, ...]
    """Of each row: whether its name is kept exactly."""
    bits: Bits
    """The values that it sets or has seen."""
    edges: dict[Rows, Edge]
    """Those that were met, by the names of rows that are kept exactly."""


class RowWatch(NamedTuple):
    """A choice that depends on the rows: it asks what can come of them, looks into them, or comes to a leaf."""

    way: Way
    seen: set[object]
    """The answers so far."""
    landing: Landing | None = None


class Root:
    """A choice at an abstract state, from where nothing was looked at."""

    __slots__ = ("first", "row_watches", "watches")

    def __init__(self, first: Way) -> None:
        self.first = first
        self.watches: dict[int, list[Watch]] = {}
        """By place: what of the choice looks at it."""
        self.row_watches: list[RowWatch] = []


class Known:
    """What is known of an abstract state that was met."""

    __slots__ = ("bits", "edges", "new_bits", "new_rows", "replied", "roots", "rows", "stale")

    def __init__(self, bits: Bits, rows: Rows) -> None:
        self.bits, self.rows = bits, rows
        """What the facts and the rows may be."""
        self.new_bits, self.new_rows = 0, _no_names(rows)
        """What of that nobody has looked at."""
        self.roots: list[Root] | None = None
        """All choices, None if nobody looked yet."""
        self.stale: dict[Root, None] = {}
        """Those that looked into rows that may be made otherwise by now."""
        self.edges: dict[Edge, None] = {}
        self.replied: set[RepliedCall] = set()
        """The calls whose replies were decided by themselves."""

    def learn(self, bits: Bits, rows: Rows | None) -> bool:
        """Note what it may be, too; return whether anything of that is new."""
        new = bits & ~self.bits
        self.bits |= new
        self.new_bits |= new
        if rows is None or rows == self.rows:
            return new != 0
        new_rows = tuple(more - known for more, known in zip(rows, self.rows, strict=True))
        if not any(new_rows):
            return new != 0
        self.rows = _joined(self.rows, new_rows)
        self.new_rows = _joined(self.new_rows, new_rows)
        return True

    def news(self) -> tuple[Bits, Rows, list[Root]]:
        """Hand over what nobody has looked at: values, names of rows, and choices to go through again."""
        news = self.new_bits, self.new_rows, list(self.stale)
        self.new_bits, self.new_rows, self.stale = 0, _no_names(self.rows), {}
        return news


def _no_names(rows: Rows) -> Rows:
    return (frozenset[int](),) * len(rows)


def _joined(some: Rows, more: Rows) -> Rows:
    return tuple(one | other for one, other in zip(some, more, strict=True))
