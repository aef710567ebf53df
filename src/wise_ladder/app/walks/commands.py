"""The commands of Walks; `app/commands.py` lists each `cmd_NAME` with its keys and texts."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.app import messages

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.walks.app_runs import AppRuns
    from wise_ladder.app.walks.selection import WalkSelection
    from wise_ladder.app.workplace import Workplace
    from wise_ladder.plan.completion import Completion


class WalksCommands:
    """Does what is pressed in Walks."""

    def __init__(self, host: Workplace, selection: WalkSelection, refresh: Callable[[], None]) -> None:
        """Act on what is selected in a view, which `refresh` shows again."""
        self.host, self.selection, self.refresh = host, selection, refresh
        self.app_runs: AppRuns | None = None

    def cmd_up(self) -> None:
        self.selection.go(-1)
        self.refresh()

    def cmd_down(self) -> None:
        self.selection.go(1)
        self.refresh()

    def cmd_steps(self) -> None:
        self.selection.in_steps = bool(self.selection.played)
        self.refresh()

    def cmd_list(self) -> None:
        self.selection.in_steps = False
        self.refresh()

    def cmd_climb_there(self) -> None:
        if self._chosen():
            name, step = self.selection.name, self.selection.step if self.selection.in_steps else None
            self.host.document.climb_walk(name, None if step is None else step + 1)
            at_end = messages.WALK_CLIMBED.format(name=name)
            self.host.show_message(at_end if step is None else messages.STEP_CLIMBED.format(name=name, number=step + 1))

    def _chosen(self) -> bool:
        if not self.selection.name:
            self.host.show_message(messages.CHOOSE_WALK_FIRST, wrong=True)
        return bool(self.selection.name)

    def _chosen_step(self) -> bool:
        if not self.selection.played:
            self.host.show_message(messages.WALK_NOT_RUN if self.selection.name else messages.CHOOSE_WALK_FIRST, wrong=True)
        return bool(self.selection.played)

    def cmd_next_failed(self) -> None:
        failed = self.selection.go_failed()
        self.refresh()
        if not failed:
            self.host.show_message(messages.NO_WALK_FAILS)

    def cmd_only_failed(self) -> None:
        self.selection.failed_only = not self.selection.failed_only
        self.selection.find(self.selection.wanted)
        self.refresh()
        self.host.show_message(messages.ONLY_FAILING if self.selection.failed_only else messages.ALL_WALKS)

    def cmd_run(self) -> None:
        if self._chosen():
            self.host.document.run_walks([self.selection.name])

    def cmd_run_all(self) -> None:
        self.host.document.run_walks([walk.name for walk in self.selection.plan.walks])

    def cmd_run_failed(self) -> None:
        self.host.document.run_walks([walk.name for walk in self.selection.plan.walks if self.selection.fails(walk.name)])

    def cmd_on_app(self) -> None:
        if self.app_runs is None:
            from wise_ladder.app.walks.app_runs import AppRuns  # noqa: PLC0415 - the protocol is slow to import

            self.app_runs = AppRuns(self.host, self.selection, self.refresh)
        self.app_runs.ask()

    def cmd_find(self) -> None:
        from wise_ladder.app.dialogs.form_dialog import FormDialog, FormField  # noqa: PLC0415

        def find(words: str) -> str:
            self.selection.find(words.strip())
            self.refresh()
            return f"{len(self.selection.shown)} of {len(self.selection.plan.walks)} walks"

        hint = messages.FIND_WALKS_HINT
        line = FormField("", self.selection.wanted)
        self.host.push_screen(
            FormDialog(messages.FIND_WALKS, [line], lambda typed: find(typed[0]) and "", hint=hint, tell=find)
        )

    def cmd_unused(self) -> None:
        from rich.text import Text  # noqa: PLC0415

        from wise_ladder.app.dialogs.info_dialog import InfoDialog  # noqa: PLC0415
        from wise_ladder.walks.coverage import coverage  # noqa: PLC0415

        parts = coverage(self.host.plan)
        unused = [part for part in parts if not part.walks]
        lines = [Text(f"◌ {part.kind:9} {part.name}  {part.at.short}") for part in unused]
        self.host.push_screen(InfoDialog(messages.UNUSED_BY_WALKS.format(count=len(unused), most=len(parts)), lines))

    # Editing

    def _ask(
        self, title: str, text: str, take: Callable[[str], str], hint: str, *, steps: bool = False, parts: bool = False
    ) -> None:
        from wise_ladder.app.dialogs.form_dialog import FormDialog, FormField  # noqa: PLC0415
        from wise_ladder.plan.addition import kind_of_line  # noqa: PLC0415
        from wise_ladder.plan.completion import complete  # noqa: PLC0415
        from wise_ladder.plan.scopes import scope_of  # noqa: PLC0415

        plan = self.host.plan

        def found(typed: str) -> list[Completion]:
            if parts and kind_of_line(typed)[0]:
                return self.host.edit_commands.complete_part(None, typed)
            return complete(plan, "step", typed, scope_of(plan)) if steps or parts else []

        line = FormField("", text, found)
        self.host.push_screen(FormDialog(title, [line], lambda typed: take(typed[0]), hint=hint))

    def cmd_edit_step(self) -> None:
        from wise_ladder.plan.edit_walks import set_step  # noqa: PLC0415

        if not self._chosen_step():
            return
        line, name = self.selection.played[self.selection.step].line, self.selection.name

        def take(typed: str) -> str:
            return self.host.document.edit_text(lambda text: set_step(text, line.at, typed), messages.STEP_OF.format(walk=name))

        self._ask(
            messages.SET_STEP.format(number=self.selection.step + 1, walk=name),
            line.text,
            take,
            messages.SET_STEP_HINT,
            steps=True,
        )

    def cmd_add_step(self) -> None:
        from wise_ladder.plan.addition import is_addition  # noqa: PLC0415
        from wise_ladder.plan.edit_walks import insert_step  # noqa: PLC0415

        if not self.selection.name:
            self.host.edit_commands.sketch(None, climbs=False, first="walk")
            return
        if not self._chosen_step():
            return
        line, name = self.selection.played[self.selection.step].line, self.selection.name

        def take(typed: str) -> str:
            if not typed.strip():
                return messages.WRITE_STEP
            wrong = self.host.document.edit_text(
                lambda text: insert_step(text, line.at, typed), messages.STEP_OF.format(walk=name)
            )
            if not wrong:
                self.selection.step += 1
            elif is_addition(self.host.plan, None, typed):
                # It is not a step but another part of the plan.
                wrong = self.host.edit_commands.add_part(None, typed)
            return wrong

        self._ask(
            messages.ADD_STEP.format(number=self.selection.step + 1, walk=name), "", take, messages.ADD_STEP_HINT, parts=True
        )

    def cmd_rename(self) -> None:
        from wise_ladder.plan.edit_walks import rename_walk  # noqa: PLC0415

        self._name(messages.RENAME_WALK, self.selection.name, rename_walk)

    def cmd_copy(self) -> None:
        from wise_ladder.plan.edit_walks import copy_walk  # noqa: PLC0415

        self._name(messages.COPY_WALK, f"{self.selection.name} again", copy_walk)

    def _name(self, title: str, text: str, change: Callable[[str, str, str], str]) -> None:
        if not self._chosen():
            return
        name = self.selection.name

        def take(typed: str) -> str:
            new = typed.strip()
            if not new:
                return messages.ENTER_NAME
            wrong = self.host.document.edit_text(lambda written: change(written, name, new), f"the walk {name}")
            if not wrong:
                self.selection.name = new
                self.refresh()
            return wrong

        self._ask(title, text, take, "Enter applies")

    def cmd_delete(self) -> None:
        from wise_ladder.plan.edit_walks import delete_walk  # noqa: PLC0415

        if not self._chosen():
            return
        name = self.selection.name
        wrong = self.host.document.edit_text(lambda text: delete_walk(text, name), f"the walk {name}")
        self.host.show_message(wrong or messages.WALK_DELETED.format(name=name), wrong=bool(wrong))
