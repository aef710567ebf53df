"""What one can do in Walks: each `press_NAME` is one entry of the table of actions."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.bench import Bench
    from wise_ladder.app.walks.board import Board
    from wise_ladder.app.walks.view import WalksView


class Deeds:
    """Does what is pressed in Walks."""

    def __init__(self, bench: Bench, view: WalksView) -> None:
        """Act on the board of a view."""
        self.bench, self.view = bench, view

    @property
    def board(self) -> Board:
        """The walks and the chosen one."""
        return self.view.board

    def press_up(self) -> None:
        self.board.go(-1)
        self.view.moved()

    def press_down(self) -> None:
        self.board.go(1)
        self.view.moved()

    def press_steps(self) -> None:
        self.board.in_steps = bool(self.board.played)
        self.view.moved()

    def press_list(self) -> None:
        self.board.in_steps = False
        self.view.moved()

    def press_climb_there(self) -> None:
        if self._chosen():
            name, step = self.board.name, self.board.step if self.board.in_steps else None
            self.bench.desk.climb_walk(name, None if step is None else step + 1)
            self.bench.say(f"this is “{name}”" + ("" if step is None else f" after step {step + 1}"))

    def _chosen(self) -> bool:
        if not self.board.name:
            self.bench.say("choose a walk first", wrong=True)
        return bool(self.board.name)

    def _chosen_step(self) -> bool:
        if not self.board.played:
            self.bench.say("the walk was not run yet" if self.board.name else "choose a walk first", wrong=True)
        return bool(self.board.played)

    def press_next_failed(self) -> None:
        found = self.board.go_failed()
        self.view.moved()
        if not found:
            self.bench.say("no walk fails")

    def press_only_failed(self) -> None:
        self.board.failed_only = not self.board.failed_only
        self.board.find(self.board.wanted)
        self.view.moved()
        self.bench.say("only walks that fail are shown" if self.board.failed_only else "all walks are shown")

    def press_run(self) -> None:
        if self._chosen():
            self.bench.desk.run_walks([self.board.name])

    def press_run_all(self) -> None:
        self.bench.desk.run_walks([walk.name for walk in self.board.plan.walks])

    def press_run_failed(self) -> None:
        self.bench.desk.run_walks([walk.name for walk in self.board.plan.walks if self.board.fails(walk.name)])

    def press_find(self) -> None:
        from wise_ladder.app.sheets.line import Line, Lines  # noqa: PLC0415

        def find(words: str) -> str:
            self.board.find(words.strip())
            self.view.changed()
            return f"{len(self.board.shown)} of {len(self.board.plan.walks)} walks"

        hint = "words of their names; nothing shows all. Enter keeps it"
        line = Line("", self.board.wanted)
        self.bench.push_screen(Lines("Find walks", [line], lambda typed: find(typed[0]) and "", hint=hint, tell=find))

    def press_unused(self) -> None:
        from rich.text import Text  # noqa: PLC0415

        from wise_ladder.app.sheets.shown import Shown  # noqa: PLC0415
        from wise_ladder.walks.coverage import coverage  # noqa: PLC0415

        parts = coverage(self.bench.desk.plan)
        unused = [part for part in parts if not part.walks]
        told = [Text(f"◌ {part.kind:9} {part.name}  :{part.at.line}") for part in unused]
        self.bench.push_screen(Shown(f"No walk uses {len(unused)} of {len(parts)} parts of the plan", told))

    # Editing

    def _ask(self, title: str, text: str, take: Callable[[str], str], hint: str, *, steps: bool = False) -> None:
        from wise_ladder.app.sheets.line import Line, Lines  # noqa: PLC0415
        from wise_ladder.plan.completing import complete  # noqa: PLC0415
        from wise_ladder.plan.scopes import scope_of  # noqa: PLC0415

        plan = self.bench.desk.plan
        line = Line("", text, (lambda typed: complete(plan, "step", typed, scope_of(plan))) if steps else None)
        self.bench.push_screen(Lines(title, [line], lambda typed: take(typed[0]), hint=hint))

    def press_edit_step(self) -> None:
        from wise_ladder.plan.rewriting_walks import with_step  # noqa: PLC0415

        if not self._chosen_step():
            return
        line, name = self.board.played[self.board.step].line, self.board.name

        def take(typed: str) -> str:
            return self.bench.desk.edit_text(lambda text: with_step(text, line.at, typed), f"a step of {name}")

        self._ask(f"Step {self.board.step + 1} of {name}", line.text, take, "Enter takes it, nothing takes it out", steps=True)

    def press_add_step(self) -> None:
        from wise_ladder.plan.rewriting_walks import with_step_after  # noqa: PLC0415

        if not self._chosen_step():
            return
        line, name = self.board.played[self.board.step].line, self.board.name

        def take(typed: str) -> str:
            if not typed.strip():
                return "write a step, such as tap NAME or see SCREEN"
            wrong = self.bench.desk.edit_text(lambda text: with_step_after(text, line.at, typed), f"a step of {name}")
            if not wrong:
                self.board.step += 1
            return wrong

        self._ask(f"After step {self.board.step + 1} of {name}", "", take, "Enter adds it", steps=True)

    def press_rename(self) -> None:
        from wise_ladder.plan.rewriting_walks import renamed  # noqa: PLC0415

        self._name("Another name", self.board.name, renamed)

    def press_copy(self) -> None:
        from wise_ladder.plan.rewriting_walks import copied  # noqa: PLC0415

        self._name("The name of the copy", f"{self.board.name} again", copied)

    def _name(self, title: str, text: str, change: Callable[[str, str, str], str]) -> None:
        if not self._chosen():
            return
        name = self.board.name

        def take(typed: str) -> str:
            new = typed.strip()
            if not new:
                return "it needs a name"
            wrong = self.bench.desk.edit_text(lambda written: change(written, name, new), f"the walk {name}")
            if not wrong:
                self.board.name = new
                self.view.moved()
            return wrong

        self._ask(title, text, take, "Enter takes it")

    def press_delete(self) -> None:
        from wise_ladder.plan.rewriting_walks import without_walk  # noqa: PLC0415

        if not self._chosen():
            return
        name = self.board.name
        wrong = self.bench.desk.edit_text(lambda text: without_walk(text, name), f"the walk {name}")
        self.bench.say(wrong or f"“{name}” is taken out; ctrl+z brings it back", wrong=bool(wrong))
