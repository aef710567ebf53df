"""Climb: what does the app do when I ...?"""

from __future__ import annotations

from typing import TYPE_CHECKING

from textual.containers import Horizontal, Vertical

from wise_ladder.app.canvas import Canvas, Ink, Run, cut
from wise_ladder.app.climb import ladder, side
from wise_ladder.app.painted import Painted
from wise_ladder.ladder import Phase
from wise_ladder.ladder.words import argument_words

if TYPE_CHECKING:
    from textual.app import ComposeResult

    from wise_ladder.app.climb.climber import Climber
    from wise_ladder.app.palette import Palette


class _Part(Painted):
    """A part of the view that draws the climber's moment."""

    def __init__(self, name: str, climber: Climber) -> None:
        super().__init__(name)
        self.climber = climber

    @property
    def palette(self) -> Palette:
        found: Palette = self.app.palette  # type: ignore[attr-defined]
        return found


class Sentence(_Part):
    """Where one stands and what Back does, in words; beneath it the last message."""

    message: tuple[str, bool] | None = None

    def say(self, words: str, *, wrong: bool) -> None:
        """Show a message until the next thing is done."""
        self.message = (words, wrong)
        self.changed()

    def add(self, words: str) -> None:
        """Add to the message that is shown."""
        before, wrong = self.message or ("", False)
        self.say(f"{before}   {words}".strip(), wrong=wrong)

    def painted(self, width: int, height: int) -> Canvas:
        """Draw the sentence; where there is one row only, a message takes its place."""
        canvas = Canvas(width, height, self.palette.ground_colour)
        margin = 2 if width >= 100 else 0
        row = 1 if height > 1 else 0
        if height > 1 or self.message is None:
            canvas.runs(margin, row, self._sentence(long=width >= 100), width - 2 * margin)
        if self.message is not None:
            words, wrong = self.message
            ink = Ink(self.palette.broken if wrong else self.palette.came, bold=True)
            canvas.text(margin, height - 1 if height > 1 else 0, cut(("✗ " if wrong else "") + words, width - 2 * margin), ink)
        return canvas

    def _sentence(self, *, long: bool) -> list[Run]:
        palette, moment = self.palette, self.climber.moment
        plan, soft, text = moment.plan, Ink(palette.soft), Ink(palette.text)
        if moment.state.phase is Phase.OUTSIDE:
            return [Run(f"{plan.app} does not run", text._replace(bold=True)), Run("   r launches it", soft)]
        if moment.state.phase is Phase.AWAY:
            return [Run(f"{plan.app} is in the background", text._replace(bold=True)), Run("   z comes back", soft)]
        if moment.state.phase is Phase.KILLED:
            return [Run(f"The phone has ended {plan.app}", text._replace(bold=True)), Run("   z opens it again", soft)]
        if moment.top is None:
            waits = "   n lets time run" if moment.state.pending else "   nothing is due that could take it off"
            return [Run("The cover is up", text._replace(bold=True)), Run(f"{waits}     Back leaves the app", soft)]
        face, gap = moment.top.face, "     " if long else "  "
        here, lands = Ink(palette.here, bold=True), Ink(palette.lands, bold=True)
        runs = [Run("● ", here), Run("You stand on " if long else "", text), Run(face.screen, here)]
        runs.append(Run(f" {argument_words(face)}" if face.arguments else "", Ink(palette.here)))
        if not moment.descent.hops:
            return [*runs, Run(f"{gap}this phone has no Back of its own", soft)]
        runs.append(Run(f"{gap}◀ Back ", lands))
        hop = moment.descent.hops[0]
        if hop.question:
            runs.append(Run(f"asks “{hop.question}”" + (", then " if long else " → "), Ink(palette.asks, bold=True)))
        if hop.outcome == "lands" and hop.face is not None:
            runs += [Run("lands on " if long else "", soft), Run(hop.face.screen, lands)]
            runs.append(Run(f" {argument_words(hop.face)}", Ink(palette.lands)))
        else:
            words = {
                "leaves": "leaves the app",
                "goes away": "puts the app in the background",
                "stays": "stays here",
                "closes": "closes what lies over it",
                "blocked": "is blocked",
                "asks": "",
            }
            runs.append(Run(words.get(hop.outcome, "is refused"), text._replace(bold=True)))
        if not hop.sure:
            runs.append(Run("  ◈ not known before the press", Ink(palette.undecided)))
        count, end = len(moment.descent.hops), moment.descent.end
        if end == "trap":
            waits = " or ".join(moment.descent.until)
            why = f"stuck until {waits} replies" if waits else "a trap: no Back gets out"
            runs.append(Run(f"{gap}↻ {why}", Ink(palette.broken, bold=True)))
        else:
            runs.append(Run(f"{gap}{count} Back{'s' if count > 1 else ''} to the {end}", soft))
        return runs


class LadderPart(_Part):
    """The ladder with its headings."""

    def painted(self, width: int, height: int) -> Canvas:
        """Draw headings where there is room for them, and the ladder beneath."""
        return ladder.draw(self.climber.moment, self.palette, width, height)


class SidePart(_Part):
    """Phone, state, ways back and tape."""

    def painted(self, width: int, height: int) -> Canvas:
        """Draw the parts."""
        return side.draw(self.climber.moment, self.palette, width, height)


class ClimbView(Vertical):
    """The view people live in."""

    def __init__(self, climber: Climber) -> None:
        """Show a climber's moment."""
        super().__init__(id="climb")
        self.climber = climber
        self.sentence = Sentence("sentence", climber)
        self._parts = (self.sentence, LadderPart("ladder", climber), SidePart("side", climber))

    def compose(self) -> ComposeResult:
        """Lay the parts out."""
        yield self.sentence
        with Horizontal(id="body"):
            yield self._parts[1]
            yield self._parts[2]

    def moved(self) -> None:
        """Show the climber's new moment."""
        self.sentence.message = None
        for part in self._parts:
            part.changed()
