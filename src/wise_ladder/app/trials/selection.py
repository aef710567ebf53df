"""What Trials is about, without a screen: a path on two versions of a plan, the step that is chosen, and what differs."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, NamedTuple

from msgspec.structs import replace

from wise_ladder.app.tape_cursor import TapeCursor
from wise_ladder.app.trials import messages
from wise_ladder.plan.steps import event_phrase
from wise_ladder.trials import messages as trial_messages
from wise_ladder.trials.marks import Marks, unlike
from wise_ladder.trials.matching import SAME, match
from wise_ladder.trials.noticed import Side, differences
from wise_ladder.trials.saved import carried
from wise_ladder.walks.expectations import state_phrase

if TYPE_CHECKING:
    from wise_ladder.app.tape_cursor import Snapshot
    from wise_ladder.plan import Plan
    from wise_ladder.trials.compare import Versions
    from wise_ladder.trials.matching import Names
    from wise_ladder.trials.noticed import Grade
    from wise_ladder.walks.tape import Tape

MOST_LOOKED = 200
"""The first difference of a path is looked for in so many steps."""

Kind = Literal["path", "noticed", "kept", "walk fails", "walk passes", "rule", "saved"]


class ListedPath(NamedTuple):
    """One row of the list: the path that was brought along, or a difference with the steps that show it on both versions."""

    kind: Kind
    title: str
    words: str
    old: Tape
    new: Tape


class TrialSelection:
    """A path on two versions: `before` and `now`; the step that is chosen; the differences that were found."""

    def __init__(self) -> None:
        """Begin with no version to compare with."""
        self.old: Plan | None = None
        self.new: Plan | None = None
        self.against = ""
        """What the plan is compared with."""
        self.names: Names = SAME
        self.versions: Versions | None = None
        self.comparing = False
        self.rows: list[ListedPath] = []
        self.place = 0
        """The row that is chosen."""
        self.step = 0
        self.front: Literal["before", "now"] = "now"
        """The ladder that is drawn where there is room for one only."""
        self._runs: tuple[TapeCursor, TapeCursor] | None = None
        self._brought: Tape | None = None
        self._found: dict[int, list[tuple[str, Grade]]] = {}

    # What is compared

    def take_up(self, old: Plan | None, new: Plan, against: str, path: Tape | None, name: str) -> bool:
        """Show a path on two versions of a plan; return whether these were not compared yet."""
        other = old is not self.old or new is not self.new
        if not other and path == self._brought:
            return False
        chosen = self.row
        self.old, self.new, self.against, self._brought = old, new, against, path
        if other:
            self.names = match(old, new) if old is not None else SAME
            self.versions, self.comparing = None, False
        self._list(path, name)
        same = chosen is not None and chosen.kind != "path" and not other
        self.choose(self._row_like(chosen) if same and chosen is not None else 0)
        return other and old is not None

    def told(self, versions: Versions, *, running: bool) -> bool:
        """Take what is known of the differences so far; return whether these are the versions that are shown."""
        if versions.old is not self.old or versions.new is not self.new:
            return False
        chosen, step = self.row, self.step
        self.versions, self.comparing = versions, running
        own = [row for row in self.rows if row.kind == "path"]
        self.rows = [*own, *_listed(versions)]
        if chosen is None and self.rows:
            self.choose(0)
        elif chosen is not None:
            self.place, self.step = self._row_like(chosen), step
        return True

    def _list(self, path: Tape | None, name: str) -> None:
        found = _listed(self.versions) if self.versions is not None else []
        own = [self._both(path, name)] if path is not None and path.entries and self.old is not None else []
        self.rows = [*own, *found]

    def _both(self, path: Tape, name: str) -> ListedPath:
        assert self.old is not None and self.new is not None  # noqa: S101 - asked with two versions only
        old, new = self.old, self.new
        if path.plan.where != new.where:
            # A walk of another phone, or with another named given.
            old = old.placed_like(path.plan) if old.where == new.where else old
            new = new.placed_like(path.plan)
        run = path if path.plan is new else path.rerun_on(new)
        events = [self.names.backwards.renamed(event) for event in (*(entry.event for entry in run.entries), *run.rest)]
        return ListedPath("path", name, "", run.rerun_on(old, events=events), run)

    def _row_like(self, row: ListedPath) -> int:
        """Return the place of the same row in the list as it is now, the first if it is gone."""
        return next((place for place, each in enumerate(self.rows) if each[:3] == row[:3]), 0)

    # The row, and the step of its path

    @property
    def row(self) -> ListedPath | None:
        """The row that is chosen; None if the list is empty."""
        return self.rows[self.place] if self.place < len(self.rows) else None

    def choose(self, place: int) -> None:
        """Choose a row, and of its path the first step that differs; of a listed difference that is the last."""
        self.place = min(max(place, 0), max(len(self.rows) - 1, 0))
        self._found = {}
        row = self.row
        self._runs = None
        if row is None:
            self.step = 0
            return
        self._runs = tuple(_cursor(tape) for tape in (row.old, row.new))  # type: ignore[assignment]
        self.step = self.count
        if row.kind not in {"noticed", "kept"}:
            first = next((step for step in range(1, min(self.count, MOST_LOOKED) + 1) if self.differences_at(step)), None)
            self.step = first if first is not None else self.count

    @property
    def now(self) -> str:
        """What the open plan is called beside the other version."""
        elsewhere = self.old is not None and self.new is not None and self.old.where != self.new.where
        return self.new.where if elsewhere and self.new is not None else messages.NOW

    @property
    def count(self) -> int:
        """How many steps the path has, on the version that allows more of them."""
        return max((len(tape.entries) for tape in self.tapes), default=0)

    @property
    def tapes(self) -> tuple[Tape, ...]:
        """The path on both versions; nothing if there is none."""
        return (self.row.old, self.row.new) if self.row is not None else ()

    def go(self, step: int) -> bool:
        """Choose a step; False if it is chosen already."""
        step = min(max(step, min(1, self.count)), self.count)
        moved, self.step = step != self.step, step
        return moved

    def next_difference(self) -> bool:
        """Choose the next step that differs, after the last the first; False if none does."""
        steps = (*range(self.step + 1, self.count + 1), *range(1, self.step + 1))
        found = next((step for step in steps[:MOST_LOOKED] if self.differences_at(step)), None)
        if found is not None:
            self.step = found
        return found is not None

    @property
    def events(self) -> list[str]:
        """The steps of the path, as the version writes them that allows more of them."""
        longer = max(reversed(self.tapes), key=lambda tape: len(tape.entries), default=None)
        return [event_phrase(entry.event) for entry in longer.entries] if longer is not None else []

    def steps_before(self) -> list[str]:
        """Write the path as the old version goes it, with what is expected at its end, in the names of the new version."""
        old, new = self.tapes
        end = old.state_at(len(old.entries))
        there = replace(end, ladder=carried(new.plan, self.names, end.ladder, []))
        return [*(event_phrase(self.names.renamed(entry.event)) for entry in old.entries), state_phrase(new.plan, there)]

    # What differs

    @property
    def moments(self) -> tuple[Snapshot, Snapshot] | None:
        """Both ladders after the chosen step, or before it if that version does not allow it; None without a path."""
        if self._runs is None:
            return None
        for run in self._runs:
            run.go(self.step)
        return self._runs[0].moment, self._runs[1].moment

    @property
    def marks(self) -> tuple[Marks, Marks]:
        """What of each ladder is not so on the other."""
        moments = self.moments
        if moments is None:
            return Marks(), Marks()
        old, new = self._sides(self.step)
        return unlike(old, new, moments[0].descent, moments[1].descent)

    def differences_at(self, step: int) -> list[tuple[str, Grade]]:
        """Say what differs after a step, what matters most first, each with its grade."""
        if step not in self._found:
            self._found[step] = self._differences(step)
        return self._found[step]

    def _differences(self, step: int) -> list[tuple[str, Grade]]:
        old, new = self.tapes
        if (len(old.entries) < step) != (len(new.entries) < step):
            words = trial_messages.POSSIBLE_NO_MORE if len(new.entries) < step else trial_messages.POSSIBLE_NOW
            return [(words, "noticed")]
        return list(differences(*self._sides(step)))

    def _sides(self, step: int) -> tuple[Side, Side]:
        sides = []
        for tape, names in zip(self.tapes, (self.names, SAME), strict=True):
            done = tape.entries[step - 1].step.log if 0 < step <= len(tape.entries) else ()
            sides.append(Side(tape.plan, tape.state_at(min(step, len(tape.entries))), done, names))
        return sides[0], sides[1]

    @property
    def stopped(self) -> Tape | None:
        """The version that does not allow the chosen step, as far as it went; None if both do."""
        return next((tape for tape in self.tapes if len(tape.entries) < self.step), None)


def _cursor(tape: Tape) -> TapeCursor:
    run = TapeCursor(tape.plan)
    run.take_up(tape)
    return run


def _listed(versions: Versions) -> list[ListedPath]:
    """List all that was found, the most important first."""
    rows = [
        ListedPath(each.grade, f"{each.event}  ·  {each.screen}" if each.screen else each.event, each.words, each.old, each.new)
        for each in (*versions.noticed, *versions.kept)
    ]
    walks = sorted((each for each in versions.turned if each.kind == "walk"), key=lambda each: each.now)
    rows += [
        ListedPath("walk fails" if each.now == "fails" else "walk passes", each.name, "", each.old, each.new) for each in walks
    ]
    rows += [
        ListedPath("rule", each.name, messages.TURNED.format(now=each.now, was=each.was), each.old, each.new)
        for each in versions.turned
        if each.kind == "rule"
    ]
    return rows + [
        ListedPath("saved", each.why, messages.SEEN_THEN.format(seen=each.seen), each.old, each.new)
        for each in versions.saved.stranded
    ]
