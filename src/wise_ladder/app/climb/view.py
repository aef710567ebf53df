"""Climb: what does the app do when I ...?"""

from __future__ import annotations

from typing import TYPE_CHECKING

from textual.containers import Horizontal

from wise_ladder.app import messages, view_help
from wise_ladder.app.canvas import CellStyle, TextRun
from wise_ladder.app.canvas_widget import CanvasWidget
from wise_ladder.app.climb import ladder_drawing, side_drawing
from wise_ladder.app.climb.commands import ClimbCommands
from wise_ladder.app.status_line import StatusLine
from wise_ladder.app.view import SelectedRun, View
from wise_ladder.plan.model import Guard, Move, Redirect
from wise_ladder.semantics import Phase
from wise_ladder.semantics.explain import explain
from wise_ladder.semantics.text import argument_words

if TYPE_CHECKING:
    from textual.app import ComposeResult

    from wise_ladder.app.canvas import Canvas
    from wise_ladder.app.palette import Palette
    from wise_ladder.app.tape_cursor import TapeCursor
    from wise_ladder.app.workplace import Workplace
    from wise_ladder.plan.model import PlanPart


class _Part(CanvasWidget):
    """A part of the view that draws the climber's moment."""

    def __init__(self, name: str, climber: TapeCursor) -> None:
        super().__init__(name)
        self.climber = climber


class ClimbSentence(StatusLine):
    """Where you stand and what Back does."""

    def __init__(self, climber: TapeCursor) -> None:
        """Speak of a climber's moment."""
        super().__init__("sentence")
        self.climber = climber

    def words(self, palette: Palette, *, long: bool) -> list[TextRun]:
        """Say where you stand and what Back does."""
        moment = self.climber.moment
        plan, soft, text = moment.plan, CellStyle(palette.soft), CellStyle(palette.text)
        closed = {
            Phase.OUTSIDE: (messages.PLAN_LEFT if moment.position else messages.PLAN_NOT_STARTED, messages.KEY_LAUNCH_IT),
            Phase.AWAY: (messages.PLAN_AWAY, messages.KEY_COME_BACK),
            Phase.KILLED: (messages.PLAN_KILLED, messages.KEY_OPEN_AGAIN),
        }
        if moment.state.phase in closed:
            title, key = closed[moment.state.phase]
            return [TextRun(title.format(app=plan.app), text._replace(bold=True)), TextRun(f"   {key}", soft)]
        if moment.top is None:
            waits = messages.KEY_TIME if moment.state.deadlines else messages.NOTHING_REMOVES_COVER
            more = f"   {waits}     {messages.BACK_LEAVES}"
            return [TextRun(messages.COVER_UP, text._replace(bold=True)), TextRun(more, soft)]
        data, gap = moment.top.data, "     " if long else "  "
        here, lands = CellStyle(palette.here, bold=True), CellStyle(palette.lands, bold=True)
        runs = [TextRun("● ", here), TextRun(messages.YOU_STAND_ON if long else "", text), TextRun(data.screen, here)]
        runs.append(TextRun(f" {argument_words(data)}" if data.arguments else "", CellStyle(palette.here)))
        if not moment.descent.hops:
            at_root = moment.descent.end == "root"
            why = messages.STAYS_AT_ROOT if at_root else messages.NO_SYSTEM_BACK
            return [*runs, TextRun(f"{gap}{why}", soft)]
        runs.append(TextRun(f"{gap}◀ Back ", lands))
        hop = moment.descent.hops[0]
        if hop.question:
            runs.append(TextRun(f"asks “{hop.question}”" + (", then " if long else " → "), CellStyle(palette.asks, bold=True)))
        if hop.outcome == "lands" and hop.data is not None:
            runs += [TextRun("lands on " if long else "", soft), TextRun(hop.data.screen, lands)]
            runs.append(TextRun(f" {argument_words(hop.data)}", CellStyle(palette.lands)))
        else:
            words = {
                "leaves": messages.LEAVES_APP,
                "goes away": messages.PUTS_AWAY,
                "stays": "stays here",
                "closes": messages.CLOSES_QUESTION if moment.question else messages.CLOSES_OVERLAY,
                "blocked": "is blocked",
                "asks": "",
            }
            runs.append(TextRun(words.get(hop.outcome, "is refused"), text._replace(bold=True)))
        if not hop.certain:
            runs.append(TextRun(f"  {messages.NOT_KNOWN}", CellStyle(palette.undecided)))
        count, end = len(moment.descent.hops), moment.descent.end
        if end == "trap":
            waits = " or ".join(moment.descent.until)
            why = messages.STUCK.format(calls=waits) if waits else messages.NO_BACK_OUT
            runs.append(TextRun(f"{gap}↻ {why}", CellStyle(palette.broken, bold=True)))
        elif end == "further":
            runs.append(TextRun(f"{gap}{messages.MORE_BACKS.format(count=count)}", soft))
        elif long or not hop.question:
            runs.append(TextRun(f"{gap}{count} Back{'s' if count > 1 else ''} to the {end}", soft))
        return runs


class LadderPanel(_Part):
    """The ladder with its headings."""

    def draw(self, width: int, height: int) -> Canvas:
        """Draw headings if there is room for them, and the ladder beneath."""
        return ladder_drawing.draw(self.climber.moment, self.palette, width, height)


class SidePanel(_Part):
    """Phone, state, ways back and tape."""

    def draw(self, width: int, height: int) -> Canvas:
        """Draw the parts."""
        return side_drawing.draw(self.climber.moment, self.palette, width, height)


class ClimbView(View):
    """The main view."""

    about = view_help.CLIMB

    def __init__(self, host: Workplace) -> None:
        """Show the current moment."""
        super().__init__(id="climb", name="climb")
        self.cursor = host.cursor
        self.commands: ClimbCommands = ClimbCommands(host)
        self.status_line = ClimbSentence(self.cursor)
        self._side = SidePanel("side", self.cursor)
        self._side.add_class("side")
        self._parts = (self.status_line, LadderPanel("ladder", self.cursor), self._side)

    def compose(self) -> ComposeResult:
        """Lay the parts out."""
        yield self.status_line
        with Horizontal(classes="body"):
            yield self._parts[1]
            yield self._parts[2]

    def refresh_view(self) -> None:
        """Show the climber's new moment."""
        self.status_line.message = None
        for part in self._parts:
            part.redraw()

    def go(self, step: int) -> None:
        """Go to a step of the tape."""
        self.commands.go(step)

    def selected_runs(self) -> list[SelectedRun]:
        """Return the tape up to the current step."""
        tape = self.cursor.tape.prefix(self.cursor.position)
        return [SelectedRun(tape, messages.THIS_TAPE)] if tape.entries else []

    def selected_parts(self) -> list[PlanPart]:
        """Return the moves, guards and redirects that the last step took, the latest move first."""
        moment = self.cursor.moment
        if moment.entry is None:
            return []
        asked = explain(moment.plan, moment.before, moment.entry.event).asked
        taken = [each.thing for each in asked if each.verdict == "took it"]
        moves = [thing for thing in taken if isinstance(thing, Move)]
        others = [thing for thing in taken if isinstance(thing, (Guard, Redirect))]
        return list(dict.fromkeys((*reversed(moves), *others)))
