"""What stands beside the ladder: the phone in hand, the state, the ways back, the tape, each in a rectangle of its own."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from rich.cells import cell_len

from wise_ladder.app import messages
from wise_ladder.app.canvas import Canvas, CellStyle, TextRun, cut, cut_middle
from wise_ladder.app.canvas_widget import heading
from wise_ladder.app.climb.in_front import in_front
from wise_ladder.plan.steps import event_text
from wise_ladder.semantics import Phase
from wise_ladder.semantics.log import Closed, Finding, Opened
from wise_ladder.semantics.shared_address import shared_address
from wise_ladder.semantics.state import depth
from wise_ladder.semantics.text import (
    argument_words,
    clock_words,
    duration_text,
    log_text,
    pending_words,
    rung_text,
)
from wise_ladder.walks.expectations import header_button
from wise_ladder.walks.timeline import inside_of

if TYPE_CHECKING:
    from wise_ladder.app.palette import Palette
    from wise_ladder.app.tape_cursor import Snapshot, WayBack
    from wise_ladder.plan.events import Event
    from wise_ladder.semantics import EventSummary, Forecast

PEEK = 6
"""The rows of what Back would uncover, its heading with it."""
WIDE = 50
"""From so many columns on the phone has a body, with the state beside it."""


class Box(NamedTuple):
    """A rectangle of the canvas."""

    x: int
    y: int
    width: int
    height: int


def draw(moment: Snapshot, palette: Palette, width: int, height: int) -> Canvas:
    """Draw all parts into the space there is."""
    return _Side(moment, palette, width, height).drawn()


class _Side:
    def __init__(self, moment: Snapshot, palette: Palette, width: int, height: int) -> None:
        self.moment, self.palette = moment, palette
        self.canvas = Canvas(width, height, palette.ground_colour)

    def drawn(self) -> Canvas:
        width, height = self.canvas.width, self.canvas.height
        if width >= WIDE and height >= 34:
            lines = max(len(self.moment.offers), len(self.moment.answers)) * 2 + len(in_front(self.moment, self.palette, 24))
            phone = min(max(22, 9 + lines), height - 20)
            self._heading(Box(0, 0, 28, 1), "in hand", "")
            self._phone(Box(0, 2, 28, phone - 1))
            self._heading(Box(32, 0, width - 32, 1), "state", "")
            self._state(Box(32, 2, width - 32, phone - 1))
            used = self._ways_part(Box(0, phone + 3, width, 9), air=1)
            self._tape_part(Box(0, phone + 4 + used, width, height - phone - 6 - used), air=1)
            self._seen(Box(0, height - 1, width, 1))
            return self.canvas
        ways = len(self.moment.ways) + 1 if self.moment.ways else 2
        facts, tape = 3 if height > 18 else 2, 4
        hand = max(height - ways - tape - facts - (3 if height > 18 else 0), 3)
        air = 1 if height > 18 else 0
        row = self._hand_part(Box(0, 0, width, hand))
        row = max(min(row + air, height - ways - tape - facts - 2 * air), 0)
        row += self._ways_part(Box(0, row, width, ways), air=0) + air
        self._tape_part(Box(0, row, width, max(height - facts - row - air, 2)), air=0)
        self._facts_in_short(Box(0, height - facts, width, facts))
        return self.canvas

    def _heading(self, box: Box, words: str, right: str) -> None:
        heading(self.canvas, self.palette, words, right, (box.x, box.y, box.width))

    # In hand

    def _phone(self, box: Box) -> None:
        palette, canvas = self.palette, self.canvas
        canvas.fill(box.x, box.y, box.width, box.height, palette.phone)
        canvas.fill(box.x, box.y, 1, box.height, palette.ground_colour)
        canvas.fill(box.x + box.width - 1, box.y, 1, box.height, palette.ground_colour)
        for row in range(box.y, box.y + box.height):
            canvas.text(box.x, row, "▐", CellStyle(palette.phone_edge))
            canvas.text(box.x + box.width - 1, row, "▌", CellStyle(palette.phone_edge))
        canvas.half_cells(box.x + 1, box.y, box.width - 2, palette.phone_edge, upper=True)
        canvas.half_cells(box.x + 1, box.y + box.height - 1, box.width - 2, palette.phone_edge, upper=False)
        inner = Box(box.x + 2, box.y + 1, box.width - 4, box.height - 2)
        self._screen(inner)

    def _screen(self, box: Box) -> None:
        palette, top = self.palette, self.moment.top
        if top is None:
            words, key = self._no_screen()
            self.canvas.text(box.x, box.y + 2, words, CellStyle(palette.text, bold=True))
            self.canvas.text(box.x, box.y + 4, key, CellStyle(palette.soft))
            if self.moment.offers:
                self._taps(Box(box.x, box.y + 6, box.width, box.height - 6))
            return
        above, below = self.moment.state.bars
        bars = {
            (True, True): "bars shown",
            (False, False): "bars hidden",
            (False, True): messages.TOP_BAR_HIDDEN,
            (True, False): messages.BOTTOM_BAR_HIDDEN,
        }[above, below]
        bars = messages.ANOTHER_APP if self.moment.plan.screen[top.data.screen].foreign else bars
        self.canvas.fill(box.x - 1, box.y, box.width + 2, 3, palette.selected)
        self.canvas.text(box.x, box.y, bars, CellStyle(palette.muted))
        self._title(Box(box.x, box.y + 1, box.width, 1))
        row = box.y + 4
        for line in in_front(self.moment, self.palette, box.width):
            self.canvas.text(box.x, row, line.text, line.ink)
            row += 1
        self._taps(Box(box.x, row, box.width, box.y + box.height - 1 - row))
        if below:
            self.canvas.text(box.x + box.width // 2 - 4, box.y + box.height - 1, "━" * 8, CellStyle(palette.phone_edge))

    def _no_screen(self) -> tuple[str, str]:
        """Say what is seen if it is not a screen, and the key that goes on."""
        match self.moment.state.phase:
            case Phase.OPEN:
                return "the cover", messages.KEY_TIME
            case Phase.AWAY:
                return messages.BACKGROUND, messages.KEY_COME_BACK
            case Phase.KILLED:
                return "killed", messages.KEY_OPEN_AGAIN
            case Phase.OUTSIDE:
                return "home screen", messages.KEY_LAUNCH

    def _title(self, box: Box) -> None:
        palette, top = self.palette, self.moment.top
        if top is None:
            self.canvas.text(box.x, box.y, cut(self._no_screen()[0], box.width), CellStyle(palette.muted))
            return
        lead = {"menu": "≡ ", "none": "", "arrow": "← "}[header_button(self.moment.plan, self.moment.state)]
        title = top.data.screen[:1].upper() + top.data.screen[1:]
        click = "app.press('header_back')" if lead else None
        runs = (
            TextRun(f"{lead} " if lead else "", CellStyle(palette.text, bold=True, click=click)),
            TextRun(title, CellStyle(palette.text, bold=True)),
            TextRun(f" {argument_words(top.data)}", CellStyle(palette.muted)),
        )
        self.canvas.runs(box.x, box.y, runs, box.width)

    def _taps(self, box: Box) -> int:
        """Write what the number keys do, in one or two rows each as there is room; return the rows used."""
        entries = [(place, name, summary) for place, (name, summary) in enumerate(self.moment.answers, 1)]
        entries = entries or [(offer.number, offer.label, self.moment.effect(offer)) for offer in self.moment.offers]
        if not entries:
            waits = bool(self.moment.state.deadlines)
            words = messages.NO_TAPS_TIME if waits else messages.NO_TAPS_HERE
            self.canvas.text(box.x, box.y, cut(words, box.width), CellStyle(self.palette.muted))
            return 1
        row, left_out = box.y, 0
        if len(entries) > box.height:
            left_out = len(entries) - max(box.height - 1, 1)
            entries = entries[:-left_out]
        for entry, height in zip(entries, self._heights(entries, box), strict=True):
            self._numbered(Box(box.x, row, box.width, height), *entry)
            row += height
        if left_out:
            self.canvas.text(box.x, row, cut(f"+{left_out} more: ctrl+p", box.width), CellStyle(self.palette.muted))
        return row - box.y + bool(left_out)

    @staticmethod
    def _heights(entries: list[tuple[int, str, EventSummary]], box: Box) -> list[int]:
        """Share out the rows: two for all, else two for those that one row would cut, else one."""
        if 2 * len(entries) <= box.height:
            return [2] * len(entries)
        fits = [cell_len(label) + cell_len(summary.text) + 1 <= box.width - 4 for _, label, summary in entries]
        heights = [1 if whole else 2 for whole in fits]
        return heights if sum(heights) <= box.height else [1] * len(entries)

    def _numbered(self, box: Box, place: int, label: str, summary: EventSummary) -> None:
        """Write something a number key does, and what would come of it; the label tells taps apart, so it is cut last."""
        palette, click = self.palette, f"app.tap({place})"
        number = str(place) if place < 10 else "0" if place == 10 else "·"
        self.canvas.text(box.x, box.y, f" {number} ", CellStyle(palette.key_text, palette.key, bold=True, click=click))
        colour = palette.text if summary.active else palette.muted
        name = CellStyle(colour, bold=summary.active, click=click)
        words = summary.text
        effect = CellStyle(palette.soft if summary.active else palette.muted, click=click)
        room = box.width - 4
        if box.height > 1:
            self.canvas.text(box.x + 4, box.y, cut_middle(label, room), name)
            self.canvas.text(box.x + 4, box.y + 1, cut(words, room), effect)
            return
        label = cut_middle(label, room - 2)
        words = cut(words, room - cell_len(label) - 1)
        words = words if words == summary.text or cell_len(words) > 4 else summary.glyph
        self.canvas.text(box.x + 4, box.y, label, name)
        self.canvas.text(box.x + box.width - cell_len(words), box.y, words, effect)

    def _hand_part(self, box: Box) -> int:
        x = self.canvas.text(box.x, box.y, "in hand ", CellStyle(self.palette.soft, bold=True))
        self._title(Box(x, box.y, box.width - x, 1))
        return 1 + self._taps(Box(box.x, box.y + 1, box.width, box.height - 1))

    # State

    def _state(self, box: Box) -> None:
        palette, state = self.palette, self.moment.state
        row = box.y
        for name, value in self._facts():
            if row >= box.y + box.height - 8:
                break
            turned = name in self.moment.turned
            self.canvas.text(box.x, row, cut(name, 10), CellStyle(palette.muted))
            colour = palette.came if turned else palette.text
            self.canvas.text(box.x + 11, row, cut(value, box.width - 11), CellStyle(colour, bold=turned))
            row += 1
            if turned:
                words = f"▴ was {self.moment.turned[name]}"
                self.canvas.text(box.x + 11, row, cut(words, box.width - 11), CellStyle(palette.came))
                row += 1
        row += 1
        findings = self.moment.findings
        screens, rungs = depth(state), len(self.moment.rungs)
        # Flows and tabs are rungs of the ladder, and do not count as depth.
        deep = f"{screens} of {rungs}" if screens != rungs else f"{screens}"
        lines = [("clock", clock_words(state.clock), palette.text), ("depth", deep, palette.text)]
        if any(screen.weight for screen in self.moment.plan.screens):
            lines.append(("memory", f"{self.moment.weight / 1_000_000:.0f} MB", palette.text))
        if (address := shared_address(self.moment.plan, state)) is not None:
            lines.append(("address", cut(address.partition("://")[2], box.width - 11), palette.text))
        lines.append(("findings", str(findings) if findings else "none", palette.broken if findings else palette.text))
        for name, value, colour in lines:
            self.canvas.text(box.x, row, name, CellStyle(palette.muted))
            self.canvas.text(box.x + 11, row, value, CellStyle(colour))
            row += 1
        left = box.y + box.height - row - 1
        due = 2 + len(state.deadlines) + len(state.calls)
        self._due(Box(box.x, row + 1, box.width, left if left - due < PEEK + 1 else due))
        if left - due > PEEK:
            self._peek(Box(box.x, row + 1, box.width, left))

    def _due(self, box: Box) -> None:
        palette, state = self.palette, self.moment.state
        anything = state.deadlines or state.calls
        self.canvas.text(box.x, box.y, "due next" if anything else messages.NOTHING_IS_DUE, CellStyle(palette.muted))
        lines = [
            (f"◷ {duration_text(max(timer.due - state.clock, 0))} ", pending_words(state, timer)) for timer in state.deadlines
        ]
        lines += [("… ", call.name) for call in state.calls if not call.reply]
        for place, (when, words) in enumerate(lines[: max(box.height - 1, 0)]):
            runs = (TextRun(when, CellStyle(palette.text)), TextRun(words, CellStyle(palette.soft)))
            self.canvas.runs(box.x, box.y + 1 + place, runs, box.width)

    def _facts(self) -> list[tuple[str, str]]:
        plan, state = self.moment.plan, self.moment.state
        own = list(self.moment.top.data.facts) if self.moment.top else []
        return own + [(fact.name, value) for fact, value in zip(plan.facts, state.facts, strict=True)]

    def _facts_in_short(self, box: Box) -> None:
        palette, state = self.palette, self.moment.state
        runs: list[TextRun] = []
        facts = self._facts()
        first = [fact for fact in facts if fact[0] in self.moment.turned] or facts
        for name, value in first[:1]:
            turned = name in self.moment.turned
            runs.append(TextRun(f"{name} ", CellStyle(palette.muted)))
            runs.append(
                TextRun(f"{'▴ ' if turned else ''}{value}", CellStyle(palette.came if turned else palette.text, bold=turned))
            )
        if len(facts) > 1:
            runs.append(TextRun(f"  and {len(facts) - 1} more", CellStyle(palette.muted)))
        self.canvas.runs(box.x, box.y, runs, box.width)
        due = f"due {duration_text(max(state.deadlines[0].due - state.clock, 0))}" if state.deadlines else "nothing due"
        findings = self.moment.findings
        more = TextRun(f"  ✗ {findings}", CellStyle(palette.broken)) if findings else TextRun("", CellStyle(palette.text))
        words = (
            TextRun(f"{clock_words(state.clock)}  ", CellStyle(palette.soft)),
            TextRun(due, CellStyle(palette.muted)),
            more,
        )
        self.canvas.runs(box.x, box.y + 1, words, box.width)
        if box.height > 2:
            self._seen(Box(box.x, box.y + 2, box.width, 1))

    # What was seen, and what would be

    def _seen(self, box: Box) -> None:
        """Write the last stretches that were seen, so that a flash is not jumped over; what is seen now stands last."""
        palette = self.palette
        x = self.canvas.text(box.x, box.y, "seen ", CellStyle(palette.muted))
        room = box.x + box.width - x
        runs = (
            [TextRun("now", CellStyle(palette.soft))]
            if self.moment.stretches
            else [TextRun("nothing yet", CellStyle(palette.muted))]
        )
        for stretch in reversed(self.moment.stretches):
            ink = CellStyle(palette.broken if stretch.flash else palette.soft, bold=stretch.flash)
            if sum(len(run.text) for run in runs) + len(stretch.words) + 5 > room:
                runs.insert(0, TextRun("… ", CellStyle(palette.muted)))
                break
            runs[:0] = [TextRun(stretch.words, ink), TextRun(" · ", CellStyle(palette.muted))]
        self.canvas.runs(x, box.y, runs, room)

    def _peek(self, box: Box) -> None:
        """Draw what Back would uncover, small and greyed."""
        palette, hops = self.palette, self.moment.descent.hops
        if not hops or box.height < PEEK:
            return
        y = box.y + box.height - PEEK + 1
        self.canvas.text(box.x, y - 1, "◀ Back uncovers", CellStyle(palette.muted))
        under, hop = self.moment.uncovered, hops[0]
        if hop.outcome != "lands":
            words = "the ground" if hop.outcome == "leaves" else "nothing else"
            ground = palette.grass_ground if hop.outcome == "leaves" else palette.phone
            self.canvas.fill(box.x, y, box.width, 2, ground)
            self.canvas.text(box.x + 1, y, words, CellStyle(palette.muted, bold=True))
            return
        self.canvas.fill(box.x, y, box.width, PEEK - 1, palette.phone)
        self.canvas.text(box.x + 1, y, cut(rung_text(hop.data), box.width - 2), CellStyle(palette.muted, bold=True))
        for place, name in enumerate(under[: PEEK - 3]):
            self.canvas.text(box.x + 2, y + 1 + place, cut(name, box.width - 3), CellStyle(palette.muted))

    # Ways back

    def _ways_part(self, box: Box, *, air: int) -> int:
        self._heading(Box(box.x, box.y, box.width, 1), "ways back", "")
        ways = self.moment.ways
        row = box.y + 1 + air
        if not ways:
            words = {
                Phase.OUTSIDE: messages.NOT_RUNNING,
                Phase.KILLED: messages.WAS_KILLED,
            }.get(self.moment.state.phase, messages.IS_AWAY)
            self.canvas.text(box.x, row, cut(words, box.width), CellStyle(self.palette.muted))
            return 2 + air
        for place, way in enumerate(ways[: box.height - 1 - air]):
            self._way(Box(box.x, row + place, box.width, 1), way)
        return min(len(ways), box.height - 1 - air) + 1 + air

    def _way(self, box: Box, way: WayBack) -> None:
        palette, forecast = self.palette, way.forecast
        opened = ", ".join(happening.overlay for happening in forecast.step.log if isinstance(happening, Opened))
        self.canvas.text(box.x, box.y, cut(way.name, 10), CellStyle(palette.soft))
        glyph, words, colour = {
            "lands": ("◀" if way.back else "↯", rung_text(forecast.data), palette.lands),
            "stays": ("▌", f"opens {opened}", palette.text) if opened else ("↻", "stays here", palette.text),
            "closes": ("◀", f"closes {self._closed(forecast)}", palette.text),
            "asks": ("◆", f"asks “{forecast.question}”", palette.asks),
            "blocked": ("⊘", "blocked", palette.asks),
            "leaves": ("○", messages.LEAVES_APP, palette.text),
            "goes away": ("○", messages.GOES_AWAY, palette.text),
            "refused": (" ", forecast.step.refused or "", palette.muted),
        }[forecast.outcome]
        if not way.back and forecast.outcome == "lands":
            colour = palette.undecided
        runs = [TextRun(f"{glyph} ", CellStyle(colour)), TextRun(words, CellStyle(colour))]
        if not forecast.certain:
            runs.append(TextRun(f"  {messages.NOT_KNOWN}", CellStyle(palette.undecided)))
        if way.when:
            runs.append(TextRun(f"  {way.when}", CellStyle(palette.muted)))
        self.canvas.runs(box.x + 11, box.y, runs, box.width - 11)

    @staticmethod
    def _closed(forecast: Forecast) -> str:
        closed = [happening.overlay for happening in forecast.step.log if isinstance(happening, Closed)]
        return ", ".join(closed) or "the question"

    # Tape

    def _tape_part(self, box: Box, *, air: int) -> None:
        tape, rest, here = self.moment.tape.entries, self.moment.tape.rest, self.moment.position
        total = len(tape) + len(rest)
        more = (
            (f", {messages.NO_LONGER_APPLY.format(count=len(rest))}" if box.width >= WIDE else f", {len(rest)} ✗")
            if rest
            else ""
        )
        self._heading(Box(box.x, box.y, box.width, 1), "tape", f"{here} of {total}{more}")
        rows = box.height - 1 - air
        if not total:
            self.canvas.text(box.x, box.y + 1 + air, messages.EMPTY_TAPE, CellStyle(self.palette.muted))
            return
        inside = self._inside()
        # What happened inside the current step stands beneath it.
        listed: list[int | str] = [*range(1, here + 1), *inside, *range(here + 1, total + 1)]
        last = min(max(here + len(inside) + rows // 3, rows), len(listed))
        first = min(max(last - rows, 0), max(here - 1, 0))
        for place, each in enumerate(listed[first : first + rows]):
            row = Box(box.x, box.y + 1 + air + place, box.width, 1)
            if isinstance(each, str):
                self.canvas.text(row.x + 4, row.y, cut(each, row.width - 5), CellStyle(self.palette.soft))
            elif each <= len(tape):
                self._entry(row, each)
            else:
                self._kept_event(row, each, rest[each - len(tape) - 1])

    def _inside(self) -> list[str]:
        """Say at which moment what happened inside the current step, if it is a wait before whose end something did."""
        entry = self.moment.entry
        told = inside_of(self.moment.plan, self.moment.before, entry.event) if entry is not None else []
        # What happens only at the end of a wait stands beside the step.
        only_end = [time for time, _ in told] == [self.moment.state.clock]
        return [] if only_end else [f"{clock_words(time)}  {words}" for time, words in told]

    def _kept_event(self, box: Box, number: int, event: Event) -> None:
        """Show an event that does not apply on this version of the plan."""
        ink = CellStyle(self.palette.muted)
        first = number == len(self.moment.tape.entries) + 1
        why = f"  ✗ {self.moment.tape.refused}" if first else "  ✗"
        self.canvas.text(box.x, box.y, f"{number:3} {cut(event_text(event) + why, box.width - 4)}", ink)

    def _entry(self, box: Box, number: int) -> None:
        palette, entry = self.palette, self.moment.tape.entries[number - 1]
        now, later = number == self.moment.position, number > self.moment.position
        click = f"app.go({number})"
        if now:
            self.canvas.fill(box.x, box.y, box.width, 1, palette.selected, click=click)
        colour = palette.muted if later else palette.text
        self.canvas.text(box.x, box.y, f"{number:3}", CellStyle(palette.muted, click=click))
        wide = box.width >= WIDE
        act = 16 if wide else box.width - 14
        event = cut(event_text(entry.event), act)
        self.canvas.text(box.x + 4, box.y, event, CellStyle(colour, bold=now, click=click))
        high = depth(entry.step.state)
        ladder = "▮" * high if high < 6 else f"▮ {high}"
        end = box.x + box.width
        if wide:
            has_finding = any(isinstance(happening, Finding) for happening in entry.step.log)
            ink = CellStyle(palette.broken if has_finding else palette.muted if later else palette.soft, click=click)
            words = ("✗ " if has_finding else "") + log_text(entry.step.log)
            self.canvas.text(box.x + 21, box.y, cut(words, box.width - 31), ink)
        self.canvas.text(end - 9, box.y, ladder, CellStyle(palette.twine, click=click))
        if now:
            self.canvas.text(end - 2, box.y, "●", CellStyle(palette.here, click=click))
