"""A counterexample as a film of ladders on one ground; next to it the problem and where the Backs lead."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from msgspec.structs import replace

from wise_ladder.app import messages
from wise_ladder.app.canvas import Canvas, CellStyle, TextRun, cut, wrap
from wise_ladder.app.canvas_widget import heading
from wise_ladder.plan.steps import event_text
from wise_ladder.plan.values import NO_SPAN
from wise_ladder.rules.growth_loop import repeat_loop
from wise_ladder.rules.predicates import KINDS
from wise_ladder.rules.report_text import how_known
from wise_ladder.rules.titles import says
from wise_ladder.semantics.conditions import facts_of
from wise_ladder.semantics.forecast import descent
from wise_ladder.semantics.state import Phase, State, visible_rungs
from wise_ladder.semantics.text import clock_words, rung_text
from wise_ladder.walks.seen import seen_now
from wise_ladder.walks.timeline import inside_of

if TYPE_CHECKING:
    from wise_ladder.app.palette import Palette
    from wise_ladder.app.rules.selection import RuleSelection, ShownCounterexample
    from wise_ladder.plan.rule import Rule
    from wise_ladder.rules.verdicts import Counterexample, Verdict
    from wise_ladder.semantics import Rung
    from wise_ladder.walks.tape import Tape

FRAME, GAP, BESIDE = 22, 4, 30
WIDE, HIGH, LOW = 110, 18, 6
READABLE = 100
"""Lines of text are no longer than this."""


class FilmFrame(NamedTuple):
    """One picture: its number (0: the lap to come), what is done, the ladder then, and the rungs that break the rule."""

    number: int
    words: str
    state: State
    came: frozenset[int]
    guilty: frozenset[int]


def frames(verdict: Verdict, counterexample: Counterexample) -> list[FilmFrame]:
    """Make a frame of each step, and of a round the lap to come."""
    before: set[int] = set()
    made: list[FilmFrame] = []
    for number, entry in enumerate(counterexample.tape.entries, 1):
        rungs = _rungs(entry.step.state)
        last = number == len(counterexample.tape.entries)
        guilty = _guilty(verdict, rungs) if last else frozenset()
        made.append(
            FilmFrame(number, event_text(entry.event), entry.step.state, frozenset(r.serial for r in rungs) - before, guilty)
        )
        before = {rung.serial for rung in rungs}
    if counterexample.loop_start is not None:
        again = repeat_loop(counterexample.tape, counterexample.loop_start)
        made.append(FilmFrame(0, messages.FOR_EVER, again, frozenset(), _guilty(verdict, _rungs(again))))
    return made


def _rungs(state: State) -> list[Rung]:
    return [rung for rung, _ in visible_rungs(state.ladder)]


def _guilty(verdict: Verdict, rungs: list[Rung]) -> frozenset[int]:
    """Return the serials of the rungs that break a rule, the one on top if it names none."""
    serials = KINDS[verdict.rule.name].rungs(verdict.rule, rungs)
    return frozenset(rung.serial for rung in serials or rungs[-1:])


def facts_on_the_way(rule: Rule, tape: Tape, at: int) -> list[tuple[str, str, bool]]:
    """List facts of the app at a step of a run, each with its value and whether the step turned it.

    Those that the rule asks for come first, then those that turn on the way.
    """
    plan, asked = tape.plan, facts_of(rule.condition)
    states = [tape.state_at(number).facts for number in range(len(tape.entries) + 1)]
    rows = []
    for place, fact in enumerate(plan.facts):
        if fact.name in asked or len({facts[place] for facts in states}) > 1:
            now, before = states[at][place], states[at - 1][place]
            rows.append((fact.name not in asked, (fact.name, now, now != before)))
    return [each for _, each in sorted(rows, key=lambda each: each[0])]


def draw_film(case: RuleSelection, palette: Palette, width: int, height: int) -> Canvas:
    """Draw the film of the chosen rule's counterexample, as much of it as there is room for."""
    canvas = Canvas(width, height, palette.ground_colour)
    margin = 2 if width >= 100 else 0
    inner = Canvas(width - 2 * margin, height, palette.ground_colour)
    if case.shown is None:
        _nothing(case, palette, inner)
    else:
        _Film(case, case.shown, palette, inner).draw()
    canvas.blit(margin, 0, inner)
    return canvas


def _nothing(case: RuleSelection, palette: Palette, canvas: Canvas) -> None:
    verdict = case.verdict
    heading(canvas, palette, verdict.rule.short if verdict else "counterexample", "")
    if verdict is None:
        return
    words = messages.NOTHING_BREAKS if verdict.every_depth else messages.NOTHING_BREAKS_YET.format(extent=verdict.extent.words)
    if verdict.unused:
        words = messages.NEVER_USED.format(count=len(verdict.unused))
    canvas.text(0, 2, words, CellStyle(palette.text))
    note = verdict.rule.note or (messages.FROM_STARTER if verdict.rule.starter else "")
    canvas.text(0, 3, cut(note, canvas.width), CellStyle(palette.muted))
    y = 5
    for told in how_known(verdict):
        for line in wrap(told, min(canvas.width, READABLE), max(canvas.height - y, 0)) if y < canvas.height else ():
            canvas.text(0, y, line, CellStyle(palette.soft))
            y += 1


class _Film:
    def __init__(self, case: RuleSelection, shown: ShownCounterexample, palette: Palette, canvas: Canvas) -> None:
        self.case, self.palette, self.canvas = case, palette, canvas
        self.where, self.verdict, self.found = shown
        self.beside = BESIDE if canvas.width >= WIDE else 0
        self.width = canvas.width - self.beside
        self.frames = frames(self.verdict, self.found)
        self.high = canvas.height >= HIGH

    def draw(self) -> None:
        canvas, palette, case = self.canvas, self.palette, self.case
        count = len(self.verdict.counterexamples)
        places = f"violation {case.guilty + 1} of {count}, " if count > 1 else ""
        right = f"{places}frame {case.at + 1} of {len(self.found.tape.entries)}"
        if self.found.blame is not None and not self.beside:
            right = f"{messages.CAUSED_BY.format(number=self.found.blame.step)}, {right}"
        where = f" {self.where}" if self.where else ""
        heading(canvas, palette, f"counterexample to {self.verdict.rule.short}{where}", right)
        shown = max((self.width + GAP) // (FRAME + GAP), 1)
        begin = min(max(case.at - shown + 2, 0), max(len(self.frames) - shown, 0))
        rounds = self.found.loop_start is not None
        inside = self._inside()
        under = bool(inside) and not self.beside and canvas.height > LOW
        ground = canvas.height - 1 - rounds - under
        canvas.text(0, ground, "╱" * self.width, CellStyle(palette.grass, palette.grass_ground))
        top = 2 if self.high else 1
        for column, frame in enumerate(self.frames[begin : begin + shown]):
            x = column * (FRAME + GAP)
            self._head(frame, x, top)
            self._ladder(frame, x, top + (3 if self.high else 1), ground)
        if rounds:
            self._bracket(begin, shown, ground + 1)
        if under:
            words = messages.INSIDE_THE_WAIT.format(number=case.at + 1, told="; ".join(inside))
            canvas.text(0, canvas.height - 1, cut(words, canvas.width), CellStyle(palette.soft))
        if self.beside:
            self._words(self.width + 2, top, inside)

    def _head(self, frame: FilmFrame, x: int, y: int) -> None:
        palette, here = self.palette, frame.number == self.case.at + 1
        click = f"app.go({frame.number - 1})" if frame.number else None
        if not frame.number:
            self.canvas.text(x, y, cut(frame.words, FRAME), CellStyle(palette.muted))
            return
        number = (
            CellStyle(palette.ground_colour, palette.text, bold=True)
            if here
            else CellStyle(palette.key_text, palette.key, click=click)
        )
        at = self.canvas.text(x, y, f" {frame.number} ", number) + 1
        lines = wrap(frame.words, x + FRAME - at, 2 if self.high else 1)
        guilty = self.found.blame is not None and self.found.blame.step == frame.number
        ink = CellStyle(palette.broken if guilty else palette.text if here else palette.soft, bold=here or guilty, click=click)
        for row, line in enumerate(lines):
            self.canvas.text(at, y + row, line, ink)

    def _ladder(self, frame: FilmFrame, x: int, top: int, ground: int) -> None:
        rungs = _rungs(frame.state)
        room = ground - top
        if not rungs or frame.state.phase is Phase.OUTSIDE:
            words = {Phase.OUTSIDE: messages.ON_THE_GROUND, Phase.KILLED: "ended"}.get(frame.state.phase, seen_now(frame.state))
            self.canvas.text(x + 2, ground - 1, words, CellStyle(self.palette.muted))
            return
        pitch = 3 if room >= 3 * self._highest() else 2 if room >= 2 * self._highest() else 1
        most = max(room // pitch, 1)
        shown: list[Rung | int] = list(rungs)
        if len(rungs) > most:
            over = max(most - 2, 1)
            shown = [*rungs[:1], len(rungs) - 1 - over, *rungs[len(rungs) - over :]] if most > 2 else list(rungs[-most:])
        for level, rung in enumerate(shown):
            self._board(frame, rung, x, ground - 1 - level * pitch, pitch, top_one=level == len(shown) - 1)

    def _highest(self) -> int:
        return max(len(_rungs(frame.state)) for frame in self.frames)

    def _board(self, frame: FilmFrame, rung: Rung | int, x: int, y: int, pitch: int, *, top_one: bool) -> None:
        canvas, palette = self.canvas, self.palette
        if pitch > 1:
            for rail in (x + 1, x + FRAME - 3):
                canvas.fill(rail, y, 2, 1, palette.rail)
                canvas.fill(rail, y, 1, 1, palette.rail_lit)
            y -= 1
        if isinstance(rung, int):
            canvas.text(x + 3, y, cut(f"≈ {rung} rungs folded", FRAME - 4), CellStyle(palette.muted))
            return
        here = top_one and frame.number == self.case.at + 1
        coming = frame.number == 0 and top_one
        guilty = rung.serial in frame.guilty
        seen = top_one and frame.state.phase is Phase.OPEN and not frame.state.cover
        data, text = (palette.here_board, palette.here_text) if here and seen else (palette.board, palette.board_text)
        if coming:
            data, text = palette.ground_colour, palette.muted
        canvas.fill(x, y, FRAME, 1, data)
        marks = "✗" if guilty else "▴ came" if rung.serial in frame.came and frame.number > 1 else ""
        dot = " ●" if seen and not coming else ""
        colour = text if here and seen else palette.broken if guilty else palette.came
        room = FRAME - 3 - len(marks) - len(dot)
        words = f"┆ {rung_text(rung.data)} ┆" if coming else rung_text(rung.data)
        canvas.text(x + 1, y, cut(words, room), CellStyle(text, bold=seen))
        at = canvas.text(x + FRAME - 1 - len(marks) - len(dot), y, marks, CellStyle(colour, bold=True))
        canvas.text(at, y, dot, CellStyle(text if here else palette.here if palette.dark else palette.figure, bold=True))
        if pitch > 2:
            edge = palette.broken if guilty else palette.here_edge if seen and not coming else palette.board_edge
            canvas.half_cells(x, y - 1, FRAME, palette.line if coming else edge, upper=False)

    def _bracket(self, begin: int, shown: int, y: int) -> None:
        """Bracket the loop, from its first step to the repeat to come, if any of it is in sight."""
        assert self.found.loop_start is not None  # noqa: S101 - drawn for loops only
        if self.found.loop_start >= begin + shown:
            return
        first = max(self.found.loop_start - begin, 0) * (FRAME + GAP)
        last = (min(len(self.frames) - begin, shown) - 1) * (FRAME + GAP) + FRAME
        words = messages.LOOP_ADDS
        line = words.center(max(last - first - 2, 0), "─")
        self.canvas.text(first, y, cut(f"╰{line}╯", self.width - first), CellStyle(self.palette.broken))

    def _inside(self) -> list[str]:
        """Say at which moment what happened inside the frame's step, if it is a wait."""
        tape, at = self.found.tape, self.case.at
        told = inside_of(tape.plan, tape.state_at(at), tape.entries[at].event) if tape.entries else []
        return [f"{clock_words(time)}  {words}" for time, words in told]

    def _words(self, x: int, y: int, inside: list[str]) -> None:
        counterexample, width = self.found, self.canvas.width - x
        rule, place = self.verdict.rule, counterexample.place
        line = f", {place.at.words}" if place.at != NO_SPAN else ""
        step = f"step {counterexample.blame.step}: " if counterexample.blame is not None else ""
        y = self._said(x, y, width, "problem", counterexample.guilt.words)
        y = self._said(x, y, width, "caused by", f"{step}{place.words}{line}")
        y = self._inside_part(x, y, width, inside)
        y = self._facts(x, y, width)
        y = self._said(x, y, width, "the rule", says(replace(rule, condition_text="")), most=2)
        if rule.condition_text:
            y = self._said(x, y, width, "its condition", rule.condition_text)
        if rule.note:
            note = messages.NOTE_OF_STARTER.format(note=rule.note) if rule.starter else rule.note
            y = self._said(x, y, width, "its note", note, most=2)
        self._backs(x, y, width)

    def _said(self, x: int, y: int, width: int, title: str, words: str, most: int = 3) -> int:
        """Write a few lines under a title if there is room; return where the next begins."""
        if y + 2 >= self.canvas.height:
            return y
        self.canvas.text(x, y, title, CellStyle(self.palette.soft, bold=True))
        lines = wrap(words, width, most)
        for row, line in enumerate(lines, 1):
            self.canvas.text(x, y + row, line, CellStyle(self.palette.text))
        return y + len(lines) + 2

    def _inside_part(self, x: int, y: int, width: int, inside: list[str]) -> int:
        """List what happened inside a wait, as far as there is room."""
        lines = [line for words in inside for line in wrap(words, width, 3)]
        shown = lines[: max(self.canvas.height - y - 3, 0)]
        if not shown:
            return y
        self.canvas.text(x, y, messages.INSIDE_FRAME.format(number=self.case.at + 1), CellStyle(self.palette.soft, bold=True))
        for row, line in enumerate(shown, 1):
            self.canvas.text(x, y + row, line, CellStyle(self.palette.text))
        return y + len(shown) + 2

    def _facts(self, x: int, y: int, width: int) -> int:
        """Draw the facts that the rule asks for, and those that turn on the way, as they are at the frame one looks at."""
        canvas, palette, tape, at = self.canvas, self.palette, self.found.tape, self.case.at + 1
        facts = facts_on_the_way(self.verdict.rule, tape, at)
        room = min(len(facts), max(canvas.height - y - 5, 0))
        if not room:
            return y
        canvas.text(x, y, messages.FACTS_AT.format(number=at), CellStyle(palette.soft, bold=True))
        wide = min(max(len(name) for name, _, _ in facts[:room]) + 2, width // 2)
        for row, (name, value, turned) in enumerate(facts[:room], 1):
            canvas.text(x, y + row, cut(name, wide - 1), CellStyle(palette.muted))
            canvas.text(
                x + wide, y + row, cut(value, width - wide), CellStyle(palette.came if turned else palette.text, bold=turned)
            )
        return y + room + 2

    def _backs(self, x: int, y: int, width: int) -> None:
        canvas, palette = self.canvas, self.palette
        state = self.found.tape.state_at(self.case.at + 1)
        if canvas.height - y < 3 or state.phase is not Phase.OPEN:
            return
        down = descent(self.found.tape.plan, state, most=8)
        canvas.text(x, y, messages.BACK_FROM_FRAME.format(number=self.case.at + 1), CellStyle(palette.soft, bold=True))
        for number, hop in enumerate(down.hops[: canvas.height - y - 2], 1):
            where = rung_text(hop.data) if hop.step.state.phase is Phase.OPEN else "the ground"
            runs = (
                TextRun("◀ ", CellStyle(palette.lands)),
                TextRun(f"Back {number}  ", CellStyle(palette.muted)),
                TextRun(where, CellStyle(palette.lands)),
            )
            canvas.runs(x, y + number, runs, width)
