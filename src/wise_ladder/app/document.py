"""The open plan: its file, its edits with their consequences, the runs of its walks."""

from __future__ import annotations

import re
import time
from pathlib import Path
from typing import TYPE_CHECKING

from textual.worker import get_current_worker

from wise_ladder.app import messages
from wise_ladder.app.history import EditHistory
from wise_ladder.errors import ConsentError, LadderError
from wise_ladder.plan.files import stamp, typed_path
from wise_ladder.plan.included import PlanText
from wise_ladder.plan.loader import read_plan_text
from wise_ladder.plan.plan_files import plan_paths, read_plan_files
from wise_ladder.plan.steps import event_phrase
from wise_ladder.semantics.text import duration_text
from wise_ladder.walks import Tape, run_walk

if TYPE_CHECKING:
    from collections.abc import Callable, Collection, Sequence

    from wise_ladder.app.host import Host
    from wise_ladder.plan import Plan
    from wise_ladder.walks import WalkRun
    from wise_ladder.walks.comparison import Comparison


class Document:
    """The open plan: its file, its edits, the runs of its walks; `app/commands.py` lists each `cmd_NAME`."""

    def __init__(self, host: Host, plan: Plan, path: Path, text: PlanText, *, example: bool, new: bool = False) -> None:
        """Begin with a plan as it was read.

        `example`: its file came with the program and is never written to; `new`: there is no file until it is saved.
        """
        self.host, self.plan, self.path, self.example = host, plan, path, example
        self._edits = EditHistory(path, text)
        if new:
            self._edits.on_disk = PlanText("")
        self._adrift = False
        """Whether the file is not what was read or saved: gone, or changed elsewhere and not loaded."""
        self._no_plan = False
        """Whether the file is not a plan any more; the user was told so, and what ctrl+s does."""
        self._could_keep = True
        self.compared: tuple[str, Comparison] | None = None
        self.results: dict[str, WalkRun] = {}
        """What came of each walk, as far as they were run."""
        self._ran: Plan | None = None
        """The plan they were run on."""
        self._passes: dict[str, bool] = {}
        self._turned: list[tuple[str, bool]] = []
        """The walks that the last edit gave another verdict."""
        self._warned = ""
        self._stamp = self._stamp_of()

    @property
    def name(self) -> str:
        """The name of the plan, and where it runs if there is a choice of phones or named givens."""
        return f"{self.stem}  {self.plan.where.removeprefix('on ')}" if self.plan.where else self.stem

    @property
    def stem(self) -> str:
        """The name of the file without its endings."""
        return self.path.name.removesuffix(".yaml").removesuffix(".ladder")

    @property
    def unsaved(self) -> bool:
        """Whether what stands here is on no disk."""
        return self._edits.unsaved or self._adrift

    @property
    def asked_to_close(self) -> bool:
        """Whether the user was told of the unsaved edits when the plan was to close."""
        return self._warned == "go"

    @property
    def text(self) -> str:
        """The text of the plan with its edits."""
        return self._edits.text

    def saved_plan(self) -> Plan | None:
        """Return the plan as it was read or saved last; None if there was none."""
        return read_plan_text(self._edits.on_disk.text, str(self.path)) if self._edits.on_disk.text else None

    # Walks

    def run_walks(self, only: Collection[str] | None = None) -> None:
        """Run all walks, off the screen's own thread; if some are named, these alone, and say how long it took."""
        self.host.run_worker(lambda: self._walks_run(only), thread=True, group="walks", exclusive=True)

    def _walks_run(self, only: Collection[str] | None) -> None:
        plan, worker, began = self.plan, get_current_worker(), time.perf_counter()
        # What is known of another version of the plan counts for nothing.
        known = self.results if self._ran is plan and only is not None else {}
        results: dict[str, WalkRun] = {}
        for walk in plan.walks:
            fresh = only is None or walk.name in only or walk.name not in known
            results[walk.name] = run_walk(plan, walk) if fresh else known[walk.name]
            if worker.is_cancelled:
                return
        self.host.call_later(self._walks_told, plan, results)
        if only is not None:
            took = duration_text(round((time.perf_counter() - began) * 1000))
            words = messages.ONE_WALK_RUN if len(only) == 1 else messages.WALKS_RUN
            self.host.call_later(self.host.show_message, words.format(count=len(only), took=took))

    def _walks_told(self, plan: Plan, results: dict[str, WalkRun]) -> None:
        self._ran, self.results = plan, results
        passes = {name: result.passed for name, result in results.items()}
        if self.host.plan is not plan:
            # Another plan is shown by now, or another version of this one.
            return
        passed = sum(passes.values())
        unsaved = messages.UNSAVED_MARK if self.unsaved else ""
        self.host.tell_walks(f"{self.name}{unsaved}", passed, len(passes) - passed)
        turned = [(name, now) for name, now in passes.items() if self._passes.get(name, now) != now]
        self._passes = passes
        if turned and self.compared is not None:
            self._turned = turned
            fail = sum(not now for _, now in turned)
            passing = len(turned) - fail
            words = [messages.ONE_WALK_FAILS if fail == 1 else messages.WALKS_FAILING.format(count=fail)] if fail else []
            words += (
                [messages.ONE_WALK_PASSES if passing == 1 else messages.WALKS_PASSING.format(count=passing)] if passing else []
            )
            self.host.status_line.append_message(f"w  {', '.join(words)}")

    def cmd_turned_walk(self) -> None:
        if not self._turned:
            self.host.show_message(messages.NO_VERDICT_CHANGED)
            return
        name, passes = next((turned for turned in self._turned if not turned[1]), self._turned[0])
        walk = next((walk for walk in self.plan.walks if walk.name == name), None)
        if walk is None:
            self.host.show_message(messages.WALK_GONE.format(name=name), wrong=True)
            return
        self.climb_walk(name)
        words = messages.WALK_ENDS_HERE if passes else messages.WALK_FAILS_HERE
        self.host.show_message(words.format(name=name))

    def climb_walk(self, name: str, count: int | None = None) -> None:
        """Put the steps of a walk on the tape, its first so many lines, or up to the first that fails."""
        walk = next(walk for walk in self.plan.walks if walk.name == name)
        result = run_walk(self.plan, walk)
        failed = None if result.failed is None else result.failed + 1
        self.host.climb_tape(Tape.from_walk(self.plan, result, failed if count is None else count))

    # Editing

    def edit_text(self, change: Callable[[str], str], what: str) -> str:
        """Change the text of the plan; return what is wrong with it then, nothing if it was taken."""
        try:
            plan = self._edits.edit(change(self._edits.text))
        except LadderError as error:
            # The line and column are those of a text that is not shown.
            return re.sub(r"^\d+:\d+: ", "", str(error).partition("\n")[0].removeprefix(f"{self.path}:"))
        self._edited(plan, what)
        return ""

    def cmd_undo(self) -> None:
        plan = self._edits.undo()
        if plan is None:
            self.host.show_message(messages.NOTHING_TO_UNDO)
        else:
            self._edited(plan, "edit undone")

    def cmd_redo(self) -> None:
        plan = self._edits.redo()
        if plan is None:
            self.host.show_message(messages.NOTHING_TO_REDO)
        else:
            self._edited(plan, "edit redone")

    def _edited(self, plan: Plan, what: str) -> None:
        """Run the same events on the changed plan, and say where they part."""
        from wise_ladder.walks.comparison import compare, difference_words  # noqa: PLC0415

        climber = self.host.cursor
        before = climber.tape.prefix(climber.position)
        self._take_up_plan(plan.placed_like(self.plan))
        tape = climber.tape
        self.compared, self._turned = (what, compare(before, tape.prefix(climber.position))), []
        # The user confirmed leaving the edits before this one: ask again.
        self._warned = ""
        kept = self.keep_unsaved()
        self.host.show_message(f"=  {difference_words(self.compared[1])}")
        if tape.rest:
            words = messages.ONE_STEP_GREYED if len(tape.rest) == 1 else messages.STEPS_GREYED
            number, first = len(tape.entries) + 1, event_phrase(tape.rest[0])
            self.host.show_message(words.format(number=number, step=first, why=tape.refused, count=len(tape.rest)), wrong=True)
        if not kept and self._could_keep:
            self._could_keep = False
            self.host.status_line.append_message(messages.NOT_BACKED_UP)

    def keep_unsaved(self) -> bool:
        """Keep what is on no disk for the next start; return whether that could be done."""
        if self.unsaved:
            return self.host.state_dir.keep_unsaved(self.path, self._edits.text, self._edits.on_disk.text)
        self.host.state_dir.drop_unsaved(self.path)
        return True

    # The file

    def cmd_editor(self) -> None:
        from wise_ladder.app.editor import ask_where  # noqa: PLC0415

        if self.unsaved:
            self.host.show_message(messages.SAVE_FIRST, wrong=True)
        elif not self.example or self._copied():
            ask_where(self.host, self.plan, self.path, self.look_at_file)

    def _copied(self) -> bool:
        """Go on with a copy of the example in this folder; tell whether there is one now."""
        return self._saved_as(Path() / self.path.name)

    def _saved_as(self, path: Path) -> bool:
        try:
            self._edits.save_as(path)
        except LadderError as error:
            self.host.show_message(str(error), wrong=True)
            return False
        self._moved_to(path)
        return True

    def _moved_to(self, path: Path) -> None:
        memory = self.host.state_dir
        memory.drop_unsaved(self.path)
        if path != self.path:
            memory.closed(self.path)
            memory.opened(path)
        self.path, self.example, self._stamp, self._adrift, self._no_plan = path, False, self._stamp_of(path), False, False
        self.host.keep_start()

    def _stamp_of(self, path: Path | None = None) -> list[tuple[int, ...] | None]:
        """What tells the plan's files from their next versions."""
        return [stamp(each) for each in plan_paths(path or self.path, self.text)]

    def look_at_file(self) -> None:
        """Take up a change made elsewhere: the same events run on it, and the place on the tape is kept."""
        stamp = self._stamp_of()
        if stamp == self._stamp:
            return
        self._stamp = stamp
        name, adrift = self.path.name, self._adrift
        self._adrift = self._no_plan = True
        try:
            text = read_plan_files(self.path)
        except LadderError as error:
            why = str(error).partition("; ")[0].removeprefix(f"{self.path}: ").replace("this is", "is")
            self._keep_adrift(why if self.path.exists() else "is gone")
            return
        if text.text == self._edits.on_disk.text:
            # Only its times are others, or it is back as it was.
            self._adrift = self._no_plan = False
            if adrift:
                self.keep_unsaved()
                self.host.show_message(messages.FILE_BACK.format(file=name))
            return
        if self._edits.unsaved:
            self._no_plan = False
            self._keep_adrift(messages.WAS_CHANGED)
            return
        try:
            plan = self._edits.take_up(text)
        except LadderError as error:
            more = str(error).partition("\n")[0].removeprefix(f"{self.path}:")
            self._keep_adrift(messages.WAS_CHANGED_UNREADABLE.format(why=more))
            return
        self._adrift = self._no_plan = False
        self._edited(plan, "changed elsewhere")

    def _keep_adrift(self, why: str) -> None:
        """Say that the file is not what stands here, and how what stands here can be saved."""
        self.keep_unsaved()
        writable = not self.path.exists() or self.path.is_file()
        words = messages.TEXT_KEPT_HERE if writable else messages.TEXT_KEPT_ELSEWHERE
        self.host.show_message(words.format(file=self.path.name, why=why), wrong=True)

    def cmd_save(self) -> None:
        if not self.unsaved:
            self.host.show_message(messages.NOTHING_TO_SAVE)
        elif (lost := self._saved()) is not None:
            words = messages.SAVED_WITH_LOSS if lost else messages.SAVED
            self.host.show_message(words.format(file=self._edits.written, lost=lost))

    def _saved(self, *, asks: bool = True) -> str | None:
        """Write the edits to the file; return what of it could not be kept, None if it was not written, which is said.

        `asks`: what needs consent is done the next time.
        """
        again, self._warned = self._warned == "save", ""
        try:
            if self.example:
                self._edits.save_as(Path() / self.path.name)
                lost = ""
            else:
                lost = self._edits.save(over=again or (self._no_plan and self._stamp_of() == self._stamp))
        except ConsentError as error:
            self._warned = "save" if asks else ""
            words = messages.SAVE_ASKS if asks else messages.SAVE_FAILED
            self.host.show_message(words.format(why=error), wrong=True)
            return None
        except LadderError as error:
            self.host.show_message(messages.SAVE_FAILED.format(why=error), wrong=True)
            return None
        self._moved_to(self._edits.path)
        self.run_walks()
        return lost

    def cmd_save_as(self) -> None:
        from wise_ladder.app.dialogs.form_dialog import FormDialog, FormField  # noqa: PLC0415

        def take(typed: list[str]) -> str:
            if not typed[0].strip():
                return messages.ENTER_NAME
            try:
                path = typed_path(typed[0])
                self._edits.save_as(path)
            except LadderError as error:
                return str(error)
            self._moved_to(path)
            self.run_walks()
            self.host.show_message(messages.SAVED_AS.format(path=path))
            return ""

        hint = messages.SAVE_AS_HINT
        self.host.push_screen(FormDialog(messages.SAVE_AS, [FormField("", str(Path() / self.path.name))], take, hint=hint))

    def may_close(self) -> bool:
        """Whether the plan may close: warn once about unsaved edits, then allow it."""
        if self.unsaved and not self.asked_to_close:
            self._warned = "go"
            self.host.show_message(messages.UNSAVED, wrong=True)
            return False
        return True

    def forget_unsaved(self) -> None:
        """Forget the edits that were not saved: the plan is closed."""
        self.host.state_dir.drop_unsaved(self.path)
        self.host.state_dir.closed(self.path)

    def take_up_unsaved(self, text: str) -> bool:
        """Go on with edits that were not saved when the program ended; return whether that could be done."""
        wrong = self.edit_text(lambda _: text, messages.WHAT_NOT_SAVED)
        self.host.show_message(wrong or messages.EDITS_RESTORED, wrong=bool(wrong))
        return not wrong

    # Keeping a tape

    def keep(self) -> None:
        """Ask for a name, and keep the tape as a walk of the plan."""
        from wise_ladder.app.dialogs.form_dialog import FormDialog, FormField  # noqa: PLC0415

        if not self.host.cursor.position:
            self.host.show_message(messages.TAPE_EMPTY, wrong=True)
            return
        hint = (messages.KEEP_DEMO_HINT if self.example else messages.KEEP_HINT).format(file=self.path.name)
        self.host.push_screen(
            FormDialog(messages.KEEP_TAPE, [FormField("")], lambda typed: self._keep(typed[0].strip()), hint=hint)
        )

    def _keep(self, name: str) -> str:
        if not name:
            return messages.ENTER_NAME
        self.look_at_file()
        climber = self.host.cursor
        left_out = len(climber.tape.rest) if climber.position == len(climber.tape.entries) else 0
        tape = climber.tape.prefix(climber.position)
        return self.keep_walks([(name, tape.as_steps())], tape, left_out)

    def keep_walks(self, walks: Sequence[tuple[str, list[str]]], like: Tape, left_out: int = 0) -> str:
        """Save walks, each a name and steps, that begin as a tape does; return what is wrong with that, nothing if they were.

        `left_out`: so many steps that do not apply any more are not saved.
        """
        from wise_ladder.plan.yaml_text import add_walk  # noqa: PLC0415

        def added(text: str) -> str:
            for name, steps in walks:
                text = add_walk(text, name, steps, like.given(), like.phone())
            return text

        name = ", ".join(name for name, _ in walks)
        compared = self.compared
        wrong = self.edit_text(added, f'walk "{name}" saved')
        if wrong:
            return wrong
        self.compared = compared
        if self._saved(asks=False) is not None:
            words = messages.WALK_SAVED_SHORTER if left_out else messages.WALK_SAVED
            self.host.show_message(words.format(name=name, file=self._edits.written, count=left_out))
        elif (plan := self._edits.undo()) is not None:
            words, _ = self.host.status_line.message or ("", True)
            self._edited(plan, messages.WALK_REMOVED)
            self.host.show_message(words, wrong=True)
        return ""

    # Phones

    def cmd_phone(self) -> None:
        from wise_ladder.app.phone_list import ask_for_phone  # noqa: PLC0415

        if self.plan.others():
            ask_for_phone(self.host, self.run_elsewhere)
        else:
            self.host.show_message(messages.NO_OTHER_PHONE, wrong=True)

    def run_elsewhere(self, where: str) -> None:
        """Run the same steps on another phone or with another named given, of those that `Plan.others` names."""
        if (plan := self.plan.others().get(where)) is not None:
            self._take_up_plan(plan)

    def _take_up_plan(self, plan: Plan) -> None:
        self.plan = plan
        self.host.cursor.take_up_plan(plan)
        self.host.moved()
        self.run_walks()
        self.host.sweep()
