"""The application around its views."""

from __future__ import annotations

import asyncio
import contextlib
import signal
import traceback
from threading import Lock, Thread
from typing import TYPE_CHECKING, ClassVar

from textual.app import App, ScreenStackError
from textual.binding import Binding, BindingType
from textual.events import InputEvent, Key, Resize

from wise_ladder.app import messages
from wise_ladder.app.canvas_widget import CanvasWidget
from wise_ladder.app.climb.view import ClimbView
from wise_ladder.app.commands import COMMANDS, TAP_KEYS, VIEWS, commands_in
from wise_ladder.app.document import Document
from wise_ladder.app.draw_commands import DrawCommands
from wise_ladder.app.edit_commands import EditCommands
from wise_ladder.app.input_queue import InputQueue
from wise_ladder.app.open_plans import OpenPlans
from wise_ladder.app.palette import PALETTES, Palette
from wise_ladder.app.part_commands import PartCommands
from wise_ladder.app.path_commands import PathCommands
from wise_ladder.app.persistence import LastSession, StateDir
from wise_ladder.app.recovery import offer_left
from wise_ladder.app.sheet_commands import SheetCommands
from wise_ladder.app.sweep_runner import SweepRunner
from wise_ladder.app.tape_cursor import TapeCursor
from wise_ladder.app.terminal import end_with_terminal, stop_only_where_it_goes_on, tolerant
from wise_ladder.app.theme import theme_of
from wise_ladder.app.views import make_view
from wise_ladder.app.window_frame import Footer, TitleBar
from wise_ladder.plan.files import real_path

if TYPE_CHECKING:
    from collections.abc import Callable
    from pathlib import Path

    from rich.console import RenderableType
    from textual.app import ComposeResult
    from textual.events import Event

    from wise_ladder.app.status_line import StatusLine
    from wise_ladder.app.view import SelectedRun, View
    from wise_ladder.plan import Event as PlanEvent
    from wise_ladder.plan import Plan
    from wise_ladder.plan.included import PlanText
    from wise_ladder.plan.model import PlanPart
    from wise_ladder.walks import Tape

SIDES = {"-wide": 54, "-middle": 40}
MAX_WIDER = 24
_QUIT_KEYS = next(action.keys for action in COMMANDS if action.name == "quit")
_KEYS = dict.fromkeys(key for action in COMMANDS for key in action.keys)


class LadderApp(App[None]):
    """The application with one open plan and its views."""

    CSS_PATH = "application.tcss"
    TITLE = "Wise Ladder"
    ENABLE_COMMAND_PALETTE = False
    HORIZONTAL_BREAKPOINTS = [(0, "-narrow"), (100, "-middle"), (120, "-wide")]  # noqa: RUF012 - so declared by the library
    VERTICAL_BREAKPOINTS = [(0, "-low"), (30, "-high")]  # noqa: RUF012
    BINDINGS: ClassVar[list[BindingType]] = [
        *(Binding(key, f"tap({10 if key == '0' else int(key)})", "tap", show=False) for key in TAP_KEYS),
        *(Binding(key, f"key('{key}')", key, show=False) for key in _KEYS),
    ]

    def __init__(self, plan: Plan, path: Path, text: PlanText, *, example: bool, memory: StateDir | None = None) -> None:
        """Open a plan read from a text; `example`: its file belongs to the program and is never written."""
        super().__init__(driver_class=tolerant(self.get_driver_class()))
        self.state_dir = memory or StateDir(None)
        self.broke = ""
        """Details of the bug that ended the program."""
        self._start, self._writing = self.state_dir.start(), Lock()
        document = Document(self, plan, path, text, example=example)
        self.open_plans = OpenPlans(self, document, self._take_up_plan, lambda: self._start.recent)
        self.part_commands = PartCommands(self, lambda: self.document)
        self.edit_commands = EditCommands(self, lambda: self.document, self.part_commands.choose_to_edit)
        self.sweep_runner, self.path_commands = SweepRunner(self), PathCommands(self)
        self.draw_commands = DrawCommands(self, lambda: self.document.stem, self._still, lambda: self.view.draws)
        self.sheet_commands = SheetCommands(self)
        self.cursor = TapeCursor(plan)
        self.climb = ClimbView(self)
        self.view: View = self.climb
        self._views: dict[str, View] = {"climb": self.climb}
        self.title_bar = TitleBar(self.document.name)
        self.footer = Footer(self._taps)
        self._input = InputQueue(self, super().on_event, self._quits)
        for palette in PALETTES.values():
            self.register_theme(theme_of(palette))
        self.theme = self._start.theme if self._start.theme in PALETTES else "ink"

    @property
    def palette(self) -> Palette:
        """The colours of the present look."""
        return PALETTES.get(self.theme, PALETTES["ink"])

    @property
    def document(self) -> Document:
        """The open plan that is shown."""
        return self.open_plans.document

    @property
    def plan(self) -> Plan:
        """The open plan, with its edits."""
        return self.document.plan

    @property
    def view_name(self) -> str:
        """The name of the present view."""
        return self.view.name or ""

    @property
    def status_line(self) -> StatusLine:
        """The line that the present view speaks in."""
        return self.view.status_line

    def compose(self) -> ComposeResult:
        """Lay out the frame and the view."""
        yield self.title_bar
        yield self.climb
        yield self.footer

    def on_mount(self) -> None:
        """Run the walks once the first picture stands; end with the terminal."""
        self.set_timer(0.3, self._settle)
        self.set_interval(1, self._look_at_file)
        if not self.is_headless:
            for number in (signal.SIGHUP, signal.SIGTERM):
                asyncio.get_running_loop().add_signal_handler(number, self.exit)
            Thread(target=end_with_terminal, daemon=True).start()
            stop_only_where_it_goes_on()

    def on_unmount(self) -> None:
        """Leave nothing running behind."""
        self.sweep_runner.proofs.end()

    def on_resize(self, event: Resize) -> None:
        """Lay out and redraw all: the library does so only for another size, and after a timer.

        A size that changes back would leave the terminal empty, and after a lost timer no size would ever be taken again.
        """
        with contextlib.suppress(ScreenStackError):
            self.screen.post_message(Resize(event.size, event.size))
        self.refresh()

    def _look_at_file(self) -> None:
        self._input.nudge()
        if self._input.left_out:
            self.show_message(messages.KEYS_IGNORED.format(count=self._input.left_out), wrong=True)
            self._input.left_out = 0
        self.document.look_at_file()

    def _settle(self) -> None:
        """Do what the first picture need not wait for."""
        if not self.screen_stack:
            return  # It was left before it had quite begun.
        self._share_out()
        if self._start.view in VIEWS and self._start.view != "climb" and self._start.plan == str(real_path(self.document.path)):
            # The last view is restored for the same plan; another plan begins in Climb.
            self.show(self._start.view)
        self.document.run_walks()
        # The first keys come before the rules.
        self.set_timer(1.5, self.sweep_runner.begin_late)
        self.keep_start()
        self._offer_left()

    def keep_start(self) -> None:
        """Keep where you are for the next start."""
        start = self._start
        path = "" if self.document.example else str(real_path(self.document.path))
        self._start = LastSession(path, self.view.name or "climb", self.theme, start.side, start.recent)
        # On a thread of its own: a disk may take its time, and a key must not.
        self.run_worker(self._write_start, thread=True, group="start")

    def _write_start(self) -> None:
        """Write the current session: the last writer writes the newest."""
        with self._writing:
            self.state_dir.keep_start(self._start)

    def _fatal_error(self) -> None:
        """Keep the edits and the details of a bug, and end; the library would print them over the screen."""
        self._broke(traceback.format_exc())

    def panic(self, *renderables: RenderableType) -> None:
        """End as for any other bug when the library itself cannot go on."""
        self._broke("\n".join(str(each) for each in renderables) + f"\n{traceback.format_exc()}")

    def _broke(self, details: str) -> None:
        self.broke = self.broke or details
        self.open_plans.keep_unsaved()
        self._close_messages_no_wait()

    # What the parts ask for

    def moved(self) -> None:
        """Show the new moment, or the new plan, in the current view."""
        self.view.refresh_view()
        self.footer.tell(self.view_name)

    def show_message(self, words: str, *, wrong: bool = False) -> None:
        """Show a message until the next thing is done."""
        self.status_line.show_message(words, wrong=wrong)

    def climb_tape(self, tape: Tape) -> None:
        """Climb to the end of a tape."""
        self.take_up_tape(tape)
        self.show("climb")

    def take_up_tape(self, tape: Tape) -> None:
        """Put another tape in the place of the present one, on the phone it was run on."""
        if tape.plan is not self.cursor.plan:
            # A walk of another phone: continue on that one.
            self.document.plan = self.cursor.plan = tape.plan
            self.document.run_walks()
            self.sweep_runner.begin()
        self.cursor.take_up(tape)

    def show(self, name: str) -> None:
        """Go to a view; each is made when it is first gone to."""
        if name not in self._views:
            self._views[name] = make_view(name, self)
            self.mount(self._views[name], before=self.footer)
        before, self.view = self.view, self._views[name]
        if before is not self.view:
            self.view.come_from(before)
        for view in self._views.values():
            view.display = view is self.view
        self.title_bar.show(name)
        self.moved()
        self.keep_start()

    def selected_parts(self) -> list[PlanPart]:
        """Return the parts of the plan that are selected in the present view."""
        return self.view.selected_parts()

    def selected_runs(self) -> list[SelectedRun]:
        """Return the run that is selected in the present view, and the one that is laid over it, if any."""
        return self.view.selected_runs()

    def selected_starts(self) -> list[int]:
        """Return where in the text of the plan what is selected in the present view begins."""
        return self.view.selected_starts()

    def take_step(self, event: PlanEvent) -> None:
        """Do an event at the current step, or say why that is not possible."""
        self.climb.commands.do(event)

    def sweep(self) -> None:
        """Begin to sweep the plan."""
        self.sweep_runner.begin()

    def tell_walks(self, name: str, passed: int, failed: int) -> None:
        """Show how many walks of the plan of a name pass, and what came of them where they are seen."""
        self.title_bar.tell(self._plan_name(name), passed, failed)
        if self.view.shows_walks:
            message = self.status_line.message
            self.view.refresh_view()
            if message is not None:
                self.show_message(message[0], wrong=message[1])

    def rules_told(self, turned: list[str]) -> None:
        """Show what is known of the rules, and say which turned with the last edit."""
        standing = self.sweep_runner.standing
        if standing is None:
            return
        self.tell_rules()
        if turned:
            self.status_line.append_message(f"R  {', '.join(turned)}")
        self.view.told()

    def tell_rules(self) -> None:
        """Show in the top line how many rules of the open plan hold."""
        if (counts := self.sweep_runner.counts()) is not None:
            self.title_bar.tell_rules(counts)

    def _still(self) -> str:
        """Return the present view as SVG."""
        from wise_ladder.app.still import still  # noqa: PLC0415

        size = self.size.width, self.size.height
        shown = (widget for widget in self.screen_stack[0].query(CanvasWidget) if widget.region)
        return still(shown, size, self.palette.ground_colour, f"{self.document.stem}: {VIEWS[self.view_name]}")

    def _taps(self) -> int:
        return max(len(self.cursor.moment.offers), len(self.cursor.moment.answers))

    # Keys

    def when_done(self, callback: Callable[[], object]) -> None:
        """Call something as soon as no key or click waits to be done."""
        self._input.when_done(callback)

    def _has_a_screen(self) -> bool:
        try:
            return self.screen is not None
        except ScreenStackError:
            return False

    async def on_event(self, event: Event) -> None:
        """Line up what comes from the terminal: it is done in order, and quitting overtakes all."""
        if isinstance(event, InputEvent) and not self._has_a_screen():
            # What was pending when the program ended has nowhere to go.
            return
        if isinstance(event, InputEvent) and not event.is_forwarded:
            self._input.add(event)
        else:
            await super().on_event(event)

    def _quits(self, event: InputEvent) -> bool:
        """Whether it is the key that quits; in a dialog it is a letter like any other."""
        return isinstance(event, Key) and event.key in _QUIT_KEYS and len(self.screen_stack) == 1

    def action_key(self, key: str) -> None:
        """Do what a key does in the current view."""
        self.sweep_runner.key_pressed()
        for action in commands_in(self.view_name):
            if key in action.keys:
                self.action_press(action.name)
                return
        self.show_message(messages.KEY_DOES_NOTHING.format(key=key))

    def action_press(self, name: str) -> None:
        """Run a command of the present view, or one that works everywhere, by its name."""
        action = next((action for action in commands_in(self.view_name) if action.name == name), None)
        if action is None:
            # A click on what was drawn for the view before.
            return
        if action.owner in VIEWS:
            owner = self.view.commands
        else:
            # Who has commands of its own is an attribute of that name.
            owner = self if action.owner == "application" else getattr(self, action.owner)
        getattr(owner, f"cmd_{name}")()

    def action_tap(self, number: int) -> None:
        """Tap what stands under a number, in Climb."""
        if self.view is self.climb:
            self.climb.commands.tap(number)

    def action_go(self, place: int) -> None:
        """Go to a step of the tape, or of the chosen walk."""
        self.view.go(place)

    def action_choose(self, number: int) -> None:
        """Choose a crossing, or a walk, by its number."""
        self.view.choose(number)

    def cmd_climb(self) -> None:
        self.show("climb")

    def cmd_crossings(self) -> None:
        self.show("crossings")

    def cmd_walks(self) -> None:
        self.show("walks")

    def cmd_rules(self) -> None:
        self.show("rules")
        self.sweep_runner.looked_at()

    def cmd_trials(self) -> None:
        self.show("trials")

    def cmd_compare(self) -> None:
        if self.document.compared is None:
            self.show_message(messages.NOTHING_EDITED, wrong=True)
            return
        self.show("trials")
        self.view.compare_last_edit()

    def cmd_seen(self) -> None:
        self.show("seen")

    def cmd_theme(self) -> None:
        self.theme = "paper" if self.theme == "ink" else "ink"
        self.keep_start()

    def cmd_narrower(self) -> None:
        self._widen(4)

    def cmd_wider(self) -> None:
        self._widen(-4)

    def _widen(self, columns: int) -> None:
        """Give the parts at the side more columns, or fewer, if there are any to share out."""
        before, self._start.side = self._start.side, min(max(self._start.side + columns, -MAX_WIDER // 2), MAX_WIDER)
        if self._share_out():
            self.keep_start()
        else:
            self._start.side = before
            self.show_message(messages.TOO_NARROW, wrong=True)

    def _share_out(self) -> bool:
        wide = next((width for name, width in SIDES.items() if self.screen.has_class(name)), None)
        for side in self.query(".side"):
            side.styles.width = wide + self._start.side if wide is not None else None
        return wide is not None

    def cmd_commands(self) -> None:
        from wise_ladder.app.command_list import commands  # noqa: PLC0415
        from wise_ladder.app.dialogs.list_dialog import ListDialog  # noqa: PLC0415

        def chosen(command: Callable[[], object] | str | None) -> None:
            if callable(command):
                command()

        climb = self.climb.commands if self.view is self.climb else None
        self.push_screen(
            ListDialog(messages.ALL_COMMANDS, commands(self, self.action_press, climb), soft=self.palette.soft), chosen
        )

    def cmd_help(self) -> None:
        from wise_ladder.app.dialogs.info_dialog import help_dialog  # noqa: PLC0415

        actions = commands_in(self.view_name)
        self.push_screen(help_dialog(self.view.about, actions, self.palette, taps=self.view is self.climb))

    def cmd_quit(self) -> None:
        if self.open_plans.may_quit():
            self.open_plans.forget_unsaved()
            self._write_start()
            self.exit()
        elif self.status_line.message is not None:
            # What is done next would take the question away while other keys wait.
            words, wrong = self.status_line.message
            self.when_done(lambda: self.show_message(words, wrong=wrong))

    # Other plans

    def _take_up_plan(self, view: str) -> None:
        """Show the plan that another one gave way to."""
        self.title_bar.open(self._plan_name(self.document.name))
        self.sweep_runner.take_up()
        self.show(view)
        self.document.look_at_file()
        self.document.run_walks()

    def _plan_name(self, name: str) -> str:
        return f"{name}{self.open_plans.number_words}"

    def _offer_left(self) -> None:
        document = self.document
        offer_left(self, document, lambda: self.document is document)
