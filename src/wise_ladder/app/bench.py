"""The bench: the whole application around its views."""

from __future__ import annotations

import asyncio
import os
import shlex
import signal
import subprocess
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Any, ClassVar

from textual.app import App, SystemCommand
from textual.binding import Binding, BindingType
from textual.theme import Theme
from textual.worker import get_current_worker

from wise_ladder.app.actions import ACTIONS, TAP_KEYS
from wise_ladder.app.asking import AskName, BeforeAfter, EditPhrase, Help
from wise_ladder.app.chrome import KeyLine, TopLine
from wise_ladder.app.climb.climber import Climber
from wise_ladder.app.climb.view import ClimbView
from wise_ladder.app.palette import PALETTES, Palette
from wise_ladder.errors import LadderError
from wise_ladder.ladder import Phase, forecast
from wise_ladder.ladder.offers import world_events
from wise_ladder.ladder.words import happened_words
from wise_ladder.plan.events import Answer, Back, HeaderBack, Home, Reopen, Tap
from wise_ladder.plan.steps import event_words
from wise_ladder.walks import run_walk

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

    from textual.app import ComposeResult
    from textual.screen import Screen

    from wise_ladder.app.editing import Edits
    from wise_ladder.ladder import Step
    from wise_ladder.plan import Event, Plan
    from wise_ladder.plan.model import Move
    from wise_ladder.walks.comparing import Comparison


def _theme(palette: Palette) -> Theme:
    return Theme(
        palette.name,
        primary=palette.board_edge,
        secondary=palette.twine,
        accent=palette.twine,
        warning=palette.here,
        error=palette.broken,
        success=palette.holds,
        foreground=palette.text,
        background=palette.ground_colour,
        surface=palette.panel,
        panel=palette.selected,
        dark=palette.dark,
    )


class Bench(App[None]):
    """One plan on the bench, and the views on it."""

    CSS_PATH = "bench.tcss"
    TITLE = "Wise Ladder"
    ENABLE_COMMAND_PALETTE = True
    COMMAND_PALETTE_BINDING = "ctrl+p"
    HORIZONTAL_BREAKPOINTS = [(0, "-narrow"), (100, "-middle"), (120, "-wide")]  # noqa: RUF012 - so declared by the library
    VERTICAL_BREAKPOINTS = [(0, "-low"), (30, "-high")]  # noqa: RUF012
    BINDINGS: ClassVar[list[BindingType]] = [
        *(Binding(key, f"tap({10 if key == '0' else int(key)})", "tap", show=False) for key in TAP_KEYS),
        *(Binding(key, f"press('{action.name}')", action.label, show=False) for action in ACTIONS for key in action.keys),
    ]

    def __init__(self, plan: Plan, path: Path, *, example: bool) -> None:
        """Put a plan on the bench; `example`: its file came with the program and is never written to."""
        super().__init__()
        self.plan, self.path, self.example = plan, path, example
        self.climber = Climber(plan)
        self.climb = ClimbView(self.climber)
        self._top_line = TopLine(self._plan_name())
        self._key_line = KeyLine()
        for palette in PALETTES.values():
            self.register_theme(_theme(palette))
        self._twice = False
        self._edits: Edits | None = None
        self._compared: tuple[str, Comparison] | None = None
        self._passes: dict[str, bool] = {}
        self._turned: list[tuple[str, bool]] = []
        """The walks that the last edit gave another verdict."""
        self._warned = ""
        self._stamp = self._stamp_of()
        self.theme = "ink"

    @property
    def palette(self) -> Palette:
        """The colours of the present look."""
        return PALETTES.get(self.theme, PALETTES["ink"])

    def _plan_name(self) -> str:
        name = self.path.name.removesuffix(".yaml").removesuffix(".ladder")
        return f"{name}  {self.plan.phone}" if len(self.plan.phones) > 1 else name

    def compose(self) -> ComposeResult:
        """Lay out the frame and the view."""
        yield self._top_line
        yield self.climb
        yield self._key_line

    def on_mount(self) -> None:
        """Run the walks once the first picture stands; end with the terminal."""
        self.set_timer(0.3, self._run_walks)
        self.set_interval(1, self._look_at_file)
        if not self.is_headless:
            for number in (signal.SIGHUP, signal.SIGTERM):
                asyncio.get_running_loop().add_signal_handler(number, self.exit)
            self.set_interval(2, self._end_with_terminal)

    @staticmethod
    def _end_with_terminal() -> None:
        """A terminal that was closed does not always say so; without one there is nothing to clean up and nobody to tell."""
        try:
            os.get_terminal_size(sys.__stdin__.fileno() if sys.__stdin__ else 0)
        except OSError:
            os._exit(1)

    def _run_walks(self) -> None:
        self.run_worker(self._walks_run, thread=True, group="walks", exclusive=True)

    def _walks_run(self) -> None:
        plan = self.plan
        passes = {walk.name: run_walk(plan, walk).passed for walk in plan.walks}
        if not get_current_worker().is_cancelled:
            self.call_from_thread(self._walks_told, passes)

    def _walks_told(self, passes: dict[str, bool]) -> None:
        passed = sum(passes.values())
        self._top_line.tell(self._plan_name(), passed, len(passes) - passed)
        turned = [(name, now) for name, now in passes.items() if self._passes.get(name, now) != now]
        self._passes = passes
        if turned and self._compared is not None:
            self._turned = turned
            fail = sum(not now for _, now in turned)
            words = [f"{fail} {'walk fails' if fail == 1 else 'walks fail'} now"] if fail else []
            words += [f"{len(turned) - fail} pass now"] if fail < len(turned) else []
            self.climb.sentence.add(", ".join(words))

    # Doing

    def _moved(self) -> None:
        self.climb.moved()
        self._key_line.tell(max(len(self.climber.moment.offers), len(self.climber.moment.answers)))

    def _say(self, words: str, *, wrong: bool = False) -> None:
        self.climb.sentence.say(words, wrong=wrong)

    def _did(self, done: Step | None, else_words: str = "") -> bool:
        """Show what came of a step; tell whether it was one."""
        if done is None or done.refused is not None:
            self._say(else_words if done is None else str(done.refused), wrong=True)
            return False
        self._moved()
        return True

    def _do(self, event: Event) -> bool:
        return self._did(self.climber.do(event))

    def action_tap(self, number: int) -> None:
        """Tap what stands under a number; answer, while a question is open."""
        twice, self._twice = self._twice, False
        offers, answers = self.climber.moment.offers, self.climber.moment.answers
        if answers and number <= len(answers):
            self._do(Answer(answers[number - 1][0]))
            return
        if number > len(offers):
            self._say(f"there is no tap {number} here" if offers else "nothing can be tapped here", wrong=True)
            return
        event = offers[number - 1].event
        self._do(Tap(event.name, event.arguments, twice=True) if twice and isinstance(event, Tap) else event)

    def action_go(self, place: int) -> None:
        """Go to a step of the tape."""
        if self.climber.go(place):
            self._moved()

    def action_press(self, name: str) -> None:
        """Do what the table of actions calls by a name."""
        getattr(self, f"press_{name}")()

    def press_back(self) -> None:
        self._do(Back())

    def press_header_back(self) -> None:
        self._do(HeaderBack())

    def press_time(self) -> None:
        self._did(self.climber.let_time_run(), "nothing is due: time alone changes nothing")

    def press_launch(self) -> None:
        self._did(self.climber.launch())

    def press_tape_back(self) -> None:
        self._go_on_tape(self.climber.place - 1, "this is the beginning of the tape")

    def press_tape_forward(self) -> None:
        self._go_on_tape(self.climber.place + 1, "this is the end of the tape")

    def press_tape_first(self) -> None:
        self._go_on_tape(0, "this is the beginning of the tape")

    def press_tape_last(self) -> None:
        self._go_on_tape(len(self.climber.tape.entries), "this is the end of the tape")

    def _go_on_tape(self, place: int, at_end: str) -> None:
        if self.climber.go(place):
            self._moved()
        else:
            self._say(at_end)

    def press_again(self) -> None:
        self._did(self.climber.repeat(), "nothing was done yet")

    def press_again_ten(self) -> None:
        for times in range(10):
            done = self.climber.repeat()
            if done is None or done.refused is not None:
                self._moved()
                self._say(f"stopped after {times}: {done.refused if done else 'nothing was done yet'}", wrong=True)
                return
        self._moved()

    def press_double(self) -> None:
        self._twice = True
        self._say("the next number taps twice in quick succession")

    def press_descend(self) -> None:
        hops = self.climber.moment.descent.hops
        ends = self.climber.moment.descent.end
        if not self._any(hops, "this phone has no Back of its own" if ends == "no Back" else "the app does not run"):
            return
        for _ in hops:
            self.climber.do(Back())
            if self.climber.moment.question is not None:
                break
        self._moved()

    def _any(self, found: tuple[object, ...], words: str) -> bool:
        if not found:
            self._say(words, wrong=True)
        return bool(found)

    def press_take_up(self) -> None:
        if self.climber.take_up_left():
            self._moved()
            self._say(f"this is the tape you left; {self.climber.left} kept")
        else:
            self._say("no other tape was left yet")

    def press_away(self) -> None:
        self._do(Reopen() if self.climber.moment.state.phase in {Phase.AWAY, Phase.KILLED} else Home())

    # Editing

    def _edits_of(self) -> Edits:
        if self._edits is None:
            from wise_ladder.app.editing import Edits  # noqa: PLC0415 - not needed for the first picture

            self._edits = Edits(self.path)
        return self._edits

    def _move_here(self) -> Move | None:
        entry = self.climber.moment.entry
        if entry is None or not entry.step.taken:
            self._say("this step took no move: go to one that did", wrong=True)
            return None
        return entry.step.taken[-1]

    def press_edit(self) -> None:
        move = self._move_here()
        if move is not None:
            title = f"{move.where or 'anywhere'}, when {move.when}"
            self.push_screen(EditPhrase(title, move.text, lambda typed: self._changed(move, typed.split(";"))))

    def press_turn(self) -> None:
        from wise_ladder.plan.writing import turned  # noqa: PLC0415

        move = self._move_here()
        if move is not None:
            try:
                wrong = self._changed(move, turned(move.phrases))
            except LadderError as error:
                wrong = str(error)
            if wrong:
                self._say(wrong, wrong=True)

    def _changed(self, move: Move, phrases: Sequence[str]) -> str:
        """Put other operations in the place of a move's; return what is wrong with them, nothing where they were taken."""
        from wise_ladder.plan.writing import with_operations  # noqa: PLC0415

        # The places of a move are those of the text it was read from.
        self._look_at_file()
        if move not in self.plan.moves:
            return "the plan was changed elsewhere meanwhile: Esc, then try again"
        try:
            edits = self._edits_of()
            plan = edits.edit(with_operations(edits.text, move, [phrase.strip() for phrase in phrases if phrase.strip()]))
        except LadderError as error:
            return str(error).partition("\n")[0].removeprefix(f"{self.path}:")
        self._edited(plan, f"{move.where or 'anywhere'}, when {move.when}")
        return ""

    def press_undo(self) -> None:
        plan = self._edits.undo() if self._edits else None
        if plan is None:
            self._say("there is no edit to take back")
        else:
            self._edited(plan, "the edit taken back")

    def press_redo(self) -> None:
        plan = self._edits.redo() if self._edits else None
        if plan is None:
            self._say("no edit was taken back")
        else:
            self._edited(plan, "the edit taken up again")

    def _edited(self, plan: Plan, what: str) -> None:
        """Run the same events on the changed plan, and say where they part."""
        from wise_ladder.walks.comparing import compare, difference_words  # noqa: PLC0415

        before = self.climber.tape.until(self.climber.place)
        self._take_up_plan(self._same_phone(plan))
        self._compared, self._turned = (what, compare(before, self.climber.tape)), []
        self._say(f"= shows both: {difference_words(self._compared[1])}")

    def press_compare(self) -> None:
        if self._compared is None:
            self._say("nothing was edited yet: e edits the move that the last step took", wrong=True)
            return
        from wise_ladder.walks.comparing import rows  # noqa: PLC0415

        what, found = self._compared
        title = f"{what}: " + ("no difference on this path" if found.step is None else f"from step {found.step} on")
        more = [f"{'✓' if passes else '✗'} {name} {'passes' if passes else 'fails'} now" for name, passes in self._turned]
        self.push_screen(BeforeAfter(title, rows(found), ["", *more] if more else [], self.palette))

    def press_editor(self) -> None:
        editor = shlex.split(os.environ.get("VISUAL") or os.environ.get("EDITOR") or "vi")
        if self.example or (self._edits is not None and self._edits.unsaved):
            self._say("save first: ctrl+s writes the plan with your edits to a file of your own", wrong=True)
            return
        entry = self.climber.moment.entry
        line = entry.step.taken[-1].at.line if entry is not None and entry.step.taken else 1
        try:
            with self.suspend():
                subprocess.run([*editor, f"+{line}", str(self.path)], check=False)  # noqa: S603 - the user chose it
        except OSError as error:
            self._say(f"{editor[0]} cannot be run: {error.strerror}; set EDITOR", wrong=True)
        self._look_at_file()

    def _stamp_of(self) -> tuple[int, int] | None:
        """What tells a file from its next version; None where it is gone."""
        try:
            found = self.path.stat()
        except OSError:
            return None
        return found.st_mtime_ns, found.st_size

    def _look_at_file(self) -> None:
        """Take up a change made elsewhere: the same events run on it, and the place on the tape is kept."""
        stamp = self._stamp_of()
        if stamp == self._stamp:
            return
        self._stamp = stamp
        if stamp is None:
            self._say(f"{self.path.name} is gone; what stands here is kept, ctrl+s writes it after an edit", wrong=True)
            return
        if self._edits is not None and self._edits.unsaved:
            self._say(f"{self.path.name} was changed elsewhere; your edits stand here, not saved", wrong=True)
            return
        from wise_ladder.plan.reading import read_plan  # noqa: PLC0415

        try:
            plan = read_plan(self.path)
        except LadderError as error:
            more = str(error).partition("\n")[0].removeprefix(f"{self.path}:")
            self._say(f"changed elsewhere and cannot be read: {more}", wrong=True)
            return
        self._edits = None
        self._edited(plan, "changed elsewhere")

    def press_save(self) -> None:
        if self._edits is None or not self._edits.unsaved:
            self._say("nothing to save: the file is as it is here")
            return
        again, self._warned = self._warned == "save", ""
        try:
            if self.example:
                self._edits.save_as(Path.cwd() / self.path.name)
            else:
                self._edits.save(over=again)
        except LadderError as error:
            self._warned = "save"
            more = "" if self.example or "meanwhile" not in str(error) else "; ctrl+s once more writes over it"
            self._say(f"{error}{more}", wrong=True)
            return
        self.path, self.example = self._edits.path, False
        self._stamp = self._stamp_of()
        self._run_walks()
        self._say(f"saved in {self.path.name}")

    def press_theme(self) -> None:
        self.theme = "paper" if self.theme == "ink" else "ink"

    def press_commands(self) -> None:
        self.action_command_palette()

    def press_help(self) -> None:
        self.push_screen(Help(self.palette))

    def press_quit(self) -> None:
        if self._edits is not None and self._edits.unsaved and self._warned != "quit":
            self._warned = "quit"
            self._say("the edits are not saved: ctrl+s saves them, q once more leaves them", wrong=True)
            return
        self.exit()

    # Keeping a tape

    def press_keep(self) -> None:
        if not self._any(self.climber.tape.entries[: self.climber.place], "nothing to keep: the tape is empty"):
            return
        where = self._kept_in()
        hint = f"Goes into {where.name}" + (", a copy of the demo here." if self.example else ".")
        self.push_screen(AskName("Keep this tape as a walk", f"{hint} Enter keeps it, Esc does not."), self._keep)

    def _kept_in(self) -> Path:
        return Path.cwd() / self.path.name if self.example else self.path

    def _keep(self, name: str | None) -> None:
        if name is None:
            return
        from wise_ladder.app.keeping import keep  # noqa: PLC0415 - writing is not needed for the first picture

        where = self._kept_in()
        try:
            tape = self.climber.tape.until(self.climber.place)
            text = None
            if self._edits is not None and self._edits.unsaved:
                self._edits.hold_disk()
                text = self._edits.text
            plan = keep(self.path, where, name, tape, text=text, fresh=self.example)
        except LadderError as error:
            self._say(str(error).splitlines()[0], wrong=True)
            return
        self.path, self.example, self._edits = where, False, None
        self._stamp = self._stamp_of()
        self._take_up_plan(self._same_phone(plan))
        self._say(f'kept as "{name}" in {where.name}; wise-ladder check runs it')

    def _same_phone(self, plan: Plan) -> Plan:
        return plan.on_phone(self.plan.phone) if self.plan.phone in dict(plan.phones) else plan

    def _take_up_plan(self, plan: Plan) -> None:
        self.plan = plan
        self.climber.take_up_plan(plan)
        self._moved()
        self._run_walks()

    # All commands

    def get_system_commands(self, screen: Screen[Any]) -> Iterable[SystemCommand]:
        """List every action, and every answer or tap that is offered."""
        del screen
        for action in ACTIONS:
            yield SystemCommand(
                f"{action.label}  ({action.key})", action.help, lambda name=action.name: self.action_press(name)
            )
        for number, (name, found) in enumerate(self.climber.moment.answers, 1):
            words = f"{found.glyph} {found.words}".strip()
            yield SystemCommand(f"answer {name}", words, lambda number=number: self.action_tap(number))
        for offer in self.climber.moment.offers:
            found = self.climber.moment.effect(offer)
            words = f"{found.glyph} {found.words}".strip()
            label = f"tap {offer.label}" if offer.move is not None else offer.label
            yield SystemCommand(label, words, lambda number=offer.number: self.action_tap(number))
        state = self.climber.moment.state
        for event in world_events(self.plan, state):
            words = happened_words(forecast(self.plan, state, event).step.happened)
            yield SystemCommand(event_words(event), words, lambda event=event: self._do(event))
        for name, _ in self.plan.phones:
            if name != self.plan.phone:
                words = "Run the same steps on this phone."
                yield SystemCommand(f"phone {name}", words, lambda name=name: self._take_up_plan(self.plan.on_phone(name)))
