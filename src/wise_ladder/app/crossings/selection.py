"""What Crossings is about, without a screen: the crossings of a plan, those that are looked for, and the one that is chosen."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.app.crossings.grid import Grid
from wise_ladder.plan.crossings import GLYPHS, crossings, places
from wise_ladder.plan.model import Guard, Move, Redirect
from wise_ladder.plan.values import NO_SPAN
from wise_ladder.walks.exploration import Exploration, WalkUsage, shortest_tape

if TYPE_CHECKING:
    from wise_ladder.plan import Plan
    from wise_ladder.plan.crossings import Crossing
    from wise_ladder.plan.values import Span
    from wise_ladder.semantics import State
    from wise_ladder.walks import Tape
    from wise_ladder.walks.exploration import UsedPart

NOT_YET = WalkUsage({}, {})


class CrossingSelection(Grid["Crossing"]):
    """The crossings of a plan by row and column."""

    def __init__(self, plan: Plan) -> None:
        """Begin with everything shown, and the first one chosen."""
        super().__init__()
        self.take_up(plan)

    def take_up(self, plan: Plan) -> None:
        """Show another plan; the same place of it stays chosen where it is still there."""
        before = self.current if hasattr(self, "plan") else None
        self.plan = plan
        self.walked, self.explored = NOT_YET, Exploration({}, 0, exhausted=False)
        self._tapes: dict[UsedPart, Tape | None] = {}
        self._all = crossings(plan)
        self._lay_out()
        if before is not None:
            same = (number for number, each in enumerate(self.shown) if _same_place(each, before))
            self.chosen = next(same, min(self.chosen, max(len(self.shown) - 1, 0)))

    def met(self, walked: WalkUsage | None = None, explored: Exploration | None = None) -> None:
        """Take what the walks use, or what was met by trying."""
        self.walked, self.explored = walked or self.walked, explored or self.explored
        self._tapes.clear()
        self._count()

    def _count(self) -> None:
        kinds = {each.kind for each in self.shown}
        self.kinds = [kind for kind in GLYPHS if kind in kinds]
        self.untried = sum(not self.count(each) for each in self.shown)

    def _lay_out(self) -> None:
        words = self.wanted.lower().split()
        matching = [each for each in self._all if all(word in _words(each) for word in words)]
        rows, columns = places(self.plan, matching if words else self._all)
        if words:
            rows = [name for name in rows if any(each.start == name for each in matching)]
            columns = [name for name in columns if any(each.end == name for each in matching)]
        self.lay_out(matching, rows, columns)
        self._count()

    @property
    def total(self) -> int:
        """How many crossings there are, those that are not shown with them."""
        return len(self._all)

    def find(self, wanted: str) -> None:
        """Show the crossings only that have all these words."""
        before, self.wanted = self.current, wanted
        self._lay_out()
        if self.current is not before:
            self.chosen = 0

    def go_untried(self) -> bool:
        """Choose the next crossing that no walk takes; False if there is none."""
        return self.go_next([number for number, each in enumerate(self.shown) if not self.count(each)])

    def go_to(self, at: Span) -> bool:
        """Choose the last crossing that is written at a place or above it; False if there is none."""
        before = [number for number, each in enumerate(self.shown) if NO_SPAN < each.part.at <= at]
        if before:
            self.chosen = max(before, key=lambda number: self.shown[number].part.at)
        return bool(before)

    def count(self, crossing: Crossing) -> int:
        """In how many walks it is taken."""
        return self.walked.counts.get(_met(crossing), 0)

    def worn(self, crossing: Crossing) -> int:
        """How often it is used: 0 by none of the walks, then 1 (rarely) to 4 (by most)."""
        count, walks = self.count(crossing), max(len(self.plan.walks), 1)
        return 0 if not count else 1 if count == 1 else 2 if count <= 0.15 * walks else 3 if count <= 0.4 * walks else 4

    def tape(self, crossing: Crossing) -> Tape | None:
        """Return the shortest tape known that ends with this crossing taken; None if none was met."""
        met = _met(crossing)
        if met not in self._tapes:
            self._tapes[met] = shortest_tape(self.plan, met, self.walked, self.explored)
        return self._tapes[met]

    def taken(self, crossing: Crossing) -> tuple[State, State, Tape] | None:
        """Return the states before and after the step that takes a crossing, and the tape there; None if none was met."""
        tape = self.tape(crossing)
        count = len(tape.entries) if tape is not None else 0
        return (tape.state_at(count - 1), tape.state_at(count), tape) if tape is not None and count else None


def _met(crossing: Crossing) -> UsedPart:
    thing = crossing.part
    return (thing, crossing.start) if isinstance(thing, Redirect) else thing


def _same_place(one: Crossing, two: Crossing) -> bool:
    return _place(one.part) == _place(two.part)


def _place(thing: Move | Guard | Redirect) -> tuple[str, str | None, int | str]:
    if isinstance(thing, Move):
        return "move", thing.owner, thing.number
    if isinstance(thing, Guard):
        return "guard", thing.id.owner, thing.id.number
    return "redirect", None, thing.at.short


def _words(crossing: Crossing) -> str:
    thing = crossing.part
    own_words = f"{thing.when} {thing.text}" if isinstance(thing, Move) else thing.name if isinstance(thing, Guard) else ""
    return f"{crossing.start} {crossing.end} {crossing.kind} {own_words}".lower()
