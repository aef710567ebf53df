"""Walks: does every path I care about still work?"""

from __future__ import annotations

from typing import TYPE_CHECKING

from textual.containers import Horizontal, Vertical

from wise_ladder.app.canvas import Ink, Run
from wise_ladder.app.painted import Drawn
from wise_ladder.app.sentence import Sentence
from wise_ladder.app.walks.board import Board
from wise_ladder.app.walks.deeds import Deeds
from wise_ladder.app.walks.drawing import draw_list, draw_steps

if TYPE_CHECKING:
    from textual.app import ComposeResult

    from wise_ladder.app.bench import Bench
    from wise_ladder.app.palette import Palette
    from wise_ladder.plan.model import Thing

_ABOUT = """\
The walks of the plan with their verdicts, and the steps of the chosen one with the ladder after each. They run again by \
themselves whenever the plan changes; a verdict that changed is marked until you look at it. Where a walk fails, what it \
expected stands beside what is there, with the step that made the difference."""
_GLYPHS = "✓ passes  ✗ fails  ▴ its verdict changed, or the step that made the difference  ◌ not run yet"


class WalksSentence(Sentence):
    """How the chosen walk went."""

    def __init__(self, board: Board) -> None:
        """Speak of the chosen walk."""
        super().__init__("sentence")
        self.board = board

    def words(self, palette: Palette, *, long: bool) -> list[Run]:
        """Say whether it passes, or where it fails and why."""
        board, soft = self.board, Ink(palette.soft)
        if not board.name:
            return [Run("no walk is shown", Ink(palette.text, bold=True))]
        gap = "     " if long else "  "
        runs = [Run(board.name, Ink(palette.text, bold=True))]
        result = board.result
        if result is None:
            return [*runs, Run(f"{gap}not run yet", soft)]
        if result.failed is None:
            return [*runs, Run(f"{gap}✓ passes", Ink(palette.holds, bold=True)), Run(f", {len(result.played)} steps", soft)]
        failed = result.played[result.failed]
        why = f": {failed.unmet.words}" if failed.unmet and long else ""
        words = f"✗ fails at step {result.failed + 1} of {len(result.played)}"
        return [*runs, Run(gap + words, Ink(palette.broken, bold=True)), Run(why, soft)]


class WalksView(Vertical):
    """Every walk of a plan."""

    about = ("Walks: does every path I care about still work?", _ABOUT, _GLYPHS)

    def __init__(self, bench: Bench) -> None:
        """Show the walks of the plan on a bench."""
        super().__init__(id="walks", name="walks")
        self.bench, self.board, self.deeds = bench, Board(bench.desk.plan), Deeds(bench, self)
        self.sentence = WalksSentence(self.board)
        self._desk = bench.desk
        self._list, self._steps = Drawn("list", self.board, draw_list), Drawn("steps", self.board, draw_steps)
        self._list.add_class("side")

    def compose(self) -> ComposeResult:
        """Lay the parts out."""
        yield self.sentence
        with Horizontal(classes="body"):
            yield self._list
            yield self._steps

    def moved(self) -> None:
        """Show the walks as they are now."""
        if self._desk is not self.bench.desk:
            self._desk = self.bench.desk
            self.board.begin(self._desk.plan)
        self.board.take_up(self.bench.desk.plan, self.bench.desk.results)
        self.sentence.message = None
        self.changed()

    def changed(self) -> None:
        """Draw all parts anew."""
        for part in (self.sentence, self._list, self._steps):
            part.changed()

    def choose(self, place: int) -> None:
        """Choose a walk by its place among those shown."""
        self.board.in_steps = False
        self.board.choose(place)
        self.moved()

    def go(self, step: int) -> None:
        """Choose a step of the chosen walk."""
        self.board.in_steps, self.board.step = True, step
        self.moved()

    def things(self) -> list[Thing]:
        """Return the moves that the chosen step took, the latest first."""
        played = self.board.played
        done = played[self.board.step].done if self.board.step < len(played) else None
        return list(reversed(done.taken)) if done is not None else []
