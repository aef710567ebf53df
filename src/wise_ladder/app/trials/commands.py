"""The commands of Trials; `app/commands.py` lists each `cmd_NAME` with its keys and texts."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.app import messages as app_messages
from wise_ladder.app.trials import messages
from wise_ladder.app.trials.other_versions import OtherVersion, at_revision, of_file, other_versions
from wise_ladder.errors import LadderError

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.trials.selection import TrialSelection
    from wise_ladder.app.workplace import Workplace


class TrialsCommands:
    """Does what is pressed in Trials."""

    def __init__(
        self,
        host: Workplace,
        selection: TrialSelection,
        refresh: Callable[[], None],
        take: Callable[[OtherVersion], None],
    ) -> None:
        """Act on what is selected in a view, which `refresh` shows again; `take`: compare with another version."""
        self.host, self.selection, self.refresh, self._take = host, selection, refresh, take

    def cmd_up(self) -> None:
        self.selection.choose(self.selection.place - 1)
        self.refresh()

    def cmd_down(self) -> None:
        self.selection.choose(self.selection.place + 1)
        self.refresh()

    def _go(self, step: int, at_end: str) -> None:
        if self.selection.go(step):
            self.refresh()
        else:
            self.host.show_message(at_end if self.selection.count else messages.NO_PATH)

    def cmd_step_back(self) -> None:
        self._go(self.selection.step - 1, app_messages.TAPE_START)

    def cmd_step_on(self) -> None:
        self._go(self.selection.step + 1, app_messages.TAPE_END)

    def cmd_first(self) -> None:
        self._go(0, app_messages.TAPE_START)

    def cmd_last(self) -> None:
        self._go(self.selection.count, app_messages.TAPE_END)

    def cmd_next_difference(self) -> None:
        if self.selection.next_difference():
            self.refresh()
        else:
            self.host.show_message(messages.NO_STEP_DIFFERS)

    def cmd_other_ladder(self) -> None:
        self.selection.front = "before" if self.selection.front == "now" else "now"
        self.refresh()

    def cmd_against(self) -> None:
        from wise_ladder.app.dialogs.list_dialog import ListDialog, ListItem  # noqa: PLC0415

        document = self.host.document
        items: list[ListItem[OtherVersion | Callable[[], None]]] = [
            ListItem(version.name, about, version) for version, about in other_versions(document)
        ]
        items.append(ListItem(messages.AGAINST_REVISION, messages.AGAINST_REVISION_ABOUT, self._ask_revision))
        items.append(ListItem(messages.AGAINST_FILE, messages.AGAINST_FILE_ABOUT, self._ask_file))

        def chosen(value: OtherVersion | Callable[[], None] | str | None) -> None:
            if isinstance(value, OtherVersion):
                self._take(value)
            elif callable(value):
                value()

        self.host.push_screen(ListDialog(messages.AGAINST_WHAT, items, soft=self.host.palette.soft), chosen)

    def _ask_revision(self) -> None:
        self._ask(messages.TYPE_REVISION, lambda typed: at_revision(self.host.document.path, typed))

    def _ask_file(self) -> None:
        self._ask(messages.TYPE_FILE, of_file)

    def _ask(self, title: str, read: Callable[[str], OtherVersion]) -> None:
        """Ask for a name, and compare with what is read by it; say in the dialog if that cannot be done."""
        from wise_ladder.app.dialogs.form_dialog import FormDialog, FormField  # noqa: PLC0415

        def take(typed: list[str]) -> str:
            if not typed[0].strip():
                return app_messages.ENTER_NAME
            try:
                self._take(read(typed[0].strip()))
            except LadderError as error:
                return str(error).partition("\n")[0]
            return ""

        self.host.push_screen(FormDialog(title, [FormField("")], take))

    def cmd_climb_there(self) -> None:
        row = self.selection.row
        if row is None or row.kind == "saved":
            self.host.show_message(messages.NO_PATH if row is None else messages.NO_TAPE, wrong=True)
            return
        self.host.climb_tape(row.new.prefix(min(self.selection.step, len(row.new.entries))))

    def cmd_keep(self) -> None:
        from wise_ladder.app.dialogs.form_dialog import FormDialog, FormField  # noqa: PLC0415

        row = self.selection.row
        if row is None or row.kind == "saved":
            self.host.show_message(messages.NO_PATH if row is None else messages.NO_TAPE, wrong=True)
            return
        both = (row.new.as_steps(), self.selection.steps_before())
        lines = [FormField(messages.WALK_OF_NOW), FormField(messages.WALK_OF_BEFORE)]

        def take(typed: list[str]) -> str:
            names = [name.strip() for name in typed]
            if not any(names):
                return app_messages.ENTER_NAME
            walks = [(name, steps) for name, steps in zip(names, both, strict=True) if name]
            return self.host.document.keep_walks(walks, row.new)

        self.host.push_screen(FormDialog(messages.KEEP_PATHS, lines, take, hint=messages.KEEP_HINT))
