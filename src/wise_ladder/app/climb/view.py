"""Climb: what does the app do when I ...?"""

from __future__ import annotations

from typing import TYPE_CHECKING

from textual.containers import Horizontal, Vertical

from wise_ladder.app.canvas import Ink, Run
from wise_ladder.app.climb import ladder, side
from wise_ladder.app.climb.deeds import Deeds
from wise_ladder.app.painted import Painted
from wise_ladder.app.sentence import Sentence
from wise_ladder.ladder import Phase
from wise_ladder.ladder.why import why
from wise_ladder.ladder.words import argument_words
from wise_ladder.plan.model import Guard, Move, Redirect

if TYPE_CHECKING:
    from textual.app import ComposeResult

    from wise_ladder.app.bench import Bench
    from wise_ladder.app.canvas import Canvas
    from wise_ladder.app.climb.climber import Climber
    from wise_ladder.app.palette import Palette
    from wise_ladder.plan.model import Thing

_ABOUT = """\
You stand on the top rung of a ladder: the back stack of the app. Left of each rung stands how it came, right of it the line \
down which Back leads, each Back in its turn, to the ground: that is outside the app. Number keys tap what the phone in hand \
shows; beside each tap stands what it would do. Nothing runs but the model: step back on the tape, do something else there, \
and another branch begins; the one you left is kept."""
_GLYPHS = """\
● here  ◀ Back leads here  ▴ came  − went  ◷ timer  ↯ by itself  ✗ finding  ↻ trap
↑ push  ⇄ replace  ■ clear, then push  ◎ reach  ↓ pop  ⇓ pop to  ○ leave"""


class _Part(Painted):
    """A part of the view that draws the climber's moment."""

    def __init__(self, name: str, climber: Climber) -> None:
        super().__init__(name)
        self.climber = climber


class ClimbSentence(Sentence):
    """Where one stands and what Back does."""

    def __init__(self, climber: Climber) -> None:
        """Speak of a climber's moment."""
        super().__init__("sentence")
        self.climber = climber

    def words(self, palette: Palette, *, long: bool) -> list[Run]:
        """Say where one stands and what Back does."""
        moment = self.climber.moment
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
            at_root = moment.descent.end == "root"
            why = "Back does nothing at the root of this phone" if at_root else "this phone has no Back of its own"
            return [*runs, Run(f"{gap}{why}", soft)]
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
        elif end == "further":
            runs.append(Run(f"{gap}more than {count} Backs to go", soft))
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

    about = ("Climb: what does the app do when I ...?", _ABOUT, _GLYPHS)

    def __init__(self, bench: Bench) -> None:
        """Show the moment of a bench's climber."""
        super().__init__(id="climb", name="climb")
        self.climber, self.deeds = bench.climber, Deeds(bench)
        self.sentence = ClimbSentence(self.climber)
        self._side = SidePart("side", self.climber)
        self._side.add_class("side")
        self._parts = (self.sentence, LadderPart("ladder", self.climber), self._side)

    def compose(self) -> ComposeResult:
        """Lay the parts out."""
        yield self.sentence
        with Horizontal(classes="body"):
            yield self._parts[1]
            yield self._parts[2]

    def moved(self) -> None:
        """Show the climber's new moment."""
        self.sentence.message = None
        for part in self._parts:
            part.changed()

    def things(self) -> list[Thing]:
        """Return the moves, guards and redirects that the last step took, the latest move first."""
        moment = self.climber.moment
        if moment.entry is None:
            return []
        asked = why(moment.plan, moment.before, moment.entry.event).asked
        taken = [each.thing for each in asked if each.verdict == "took it"]
        moves = [thing for thing in taken if isinstance(thing, Move)]
        others = [thing for thing in taken if isinstance(thing, (Guard, Redirect))]
        return list(dict.fromkeys((*reversed(moves), *others)))
