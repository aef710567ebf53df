"""Rules: does it hold on every path?"""

from __future__ import annotations

from typing import TYPE_CHECKING

from textual.containers import Horizontal, Vertical

from wise_ladder.app.canvas import Ink, Run
from wise_ladder.app.painted import Drawn
from wise_ladder.app.rules.case import Case
from wise_ladder.app.rules.deeds import Deeds
from wise_ladder.app.rules.drawing import draw_rules, draw_sweep
from wise_ladder.app.rules.film import draw_film
from wise_ladder.app.sentence import Sentence
from wise_ladder.plan.values import NOWHERE
from wise_ladder.rules.naming import about
from wise_ladder.rules.telling import mark

if TYPE_CHECKING:
    from textual.app import ComposeResult

    from wise_ladder.app.bench import Bench
    from wise_ladder.app.palette import Palette
    from wise_ladder.plan.model import Thing

_ABOUT = """\
The rules of the plan, decided on every path: the sweep tries all that users, time, servers and the phone can do, the shortest \
paths first. A broken rule comes with the shortest steps that break it, done for real before you see them; below they stand as \
a film of ladders. It begins again by itself whenever the plan changes. A verdict says how far it is known: to a depth means \
all that can happen in so many steps."""
_GLYPHS = "✓ holds at every depth  ◕ holds to a depth  ✗ broken  ◌ undecided  ↻ a round that can be repeated"


class RulesSentence(Sentence):
    """What is known of the chosen rule."""

    def __init__(self, case: Case) -> None:
        """Speak of the chosen rule."""
        super().__init__("sentence")
        self.case = case

    def words(self, palette: Palette, *, long: bool) -> list[Run]:
        """Say whether it holds, how far, or how it is broken."""
        verdict, gap = self.case.verdict, "     " if long else "  "
        if verdict is None:
            return [
                Run("the rules are being decided" if self.case.standing is None else "no rules", Ink(palette.text, bold=True))
            ]
        colour = {"holds": palette.holds, "broken": palette.broken, "undecided": palette.undecided}[verdict.status]
        runs = [Run(f"{mark(verdict)} ", Ink(colour, bold=True)), Run(verdict.rule.short, Ink(palette.text, bold=True))]
        shown = self.case.shown
        if shown is None:
            words = f"{verdict.words}{gap}{about(verdict.rule)}" if long else verdict.words
            return [*runs, Run(f" {words}", Ink(palette.soft))]
        if shown.phone:
            here = f"holds {verdict.known.words}" if verdict.status == "holds" else f"is {verdict.status}"
            runs.append(Run(f" {here} here; on {shown.phone} it", Ink(palette.soft)))
        runs.append(Run(" is broken: ", Ink(palette.broken, bold=True)))
        runs.append(Run(shown.found.guilt.words, Ink(palette.text)))
        return [*runs, Run(f"{gap}{shown.found.steps} steps, the shortest there is", Ink(palette.muted))]


class RulesView(Vertical):
    """Every rule of a plan."""

    about = ("Rules: does it hold on every path?", _ABOUT, _GLYPHS)

    def __init__(self, bench: Bench) -> None:
        """Show what the sweep on a bench found."""
        super().__init__(id="rules", name="rules")
        self.bench, self.case, self.deeds = bench, Case(), Deeds(bench, self)
        self.sentence = RulesSentence(self.case)
        self._list, self._sweep = Drawn("verdicts", self.case, draw_rules), Drawn("sweep", self.case, draw_sweep)
        self._film = Drawn("film", self.case, draw_film)
        self._sweep.add_class("side")
        self._filmed: object = None

    def compose(self) -> ComposeResult:
        """Lay the parts out."""
        yield self.sentence
        with Horizontal(classes="upper"):
            yield self._list
            yield self._sweep
        yield self._film

    def moved(self) -> None:
        """Show the rules as they are known now."""
        self.sentence.message = None
        self.told()

    def told(self) -> None:
        """Take up what is known now; a message stays."""
        self.case.take_up(self.bench.sweeping.standing)
        for part in (self.sentence, self._list, self._sweep):
            part.changed()
        # A film takes longest to draw, and while the sweep goes on it is mostly the same.
        shown = self.case.shown
        film = shown and (shown.phone, len(shown.verdict.guilty), shown.found, self.case.at)
        if film is None or film != self._filmed:
            self._filmed = film
            self._film.changed()

    def choose(self, place: int) -> None:
        """Choose a rule by its place in the list."""
        self.case.choose(place)
        self.moved()

    def go(self, frame: int) -> None:
        """Look at a frame of the film."""
        self.case.frame = frame
        self.moved()

    def things(self) -> list[Thing]:
        """Return what is to blame, whichever frame one looks at; of a screen its guards, else the moves of the frame."""
        found = self.case.counterexample
        if found is None:
            return []
        plan, at = found.tape.plan, found.place.at
        things: list[Thing] = [thing for thing in plan.things if thing.at == at != NOWHERE]
        things = things or [guard for screen in plan.screens if screen.at == at for guard in screen.guards]
        taken = found.tape.entries[self.case.at].step.taken if found.tape.entries else ()
        return things or [*reversed(taken)]
