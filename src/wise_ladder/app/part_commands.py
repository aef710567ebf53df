"""Commands for any part of the plan: the outline, and renaming, deleting, moving and editing what is chosen there."""

from __future__ import annotations

from typing import TYPE_CHECKING

from rich.text import Text
from textual.worker import get_current_worker

from wise_ladder.app import messages
from wise_ladder.app.breath import goes_on_while
from wise_ladder.app.completers import completer
from wise_ladder.errors import LadderError

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.dialogs.list_dialog import ListItem
    from wise_ladder.app.document import Document
    from wise_ladder.app.host import Host
    from wise_ladder.plan import Plan
    from wise_ladder.plan.parts import Part
    from wise_ladder.walks import Tape

_MOST_TOLD = 8
_REACHED = ("screen", "flow", "overlay")
"""Kinds of parts that a path leads to by their names."""
_CLIMBED = ("walk", "move", "guard", "redirect", "link", *_REACHED)


class PartCommands:
    """The commands for parts of the plan; `app/commands.py` lists each `cmd_NAME`."""

    def __init__(self, host: Host, document: Callable[[], Document]) -> None:
        """Change the plan of the document that `document` returns."""
        self.host, self._document = host, document

    def cmd_outline(self) -> None:
        items = self._items()
        self._choose(messages.OUTLINE.format(app=self.host.plan.app, count=len(items)), items, self._ask)

    def choose_to_edit(self) -> None:
        """Ask which part is to be edited; what is selected comes first, then the screen at the top of the ladder."""
        selected, top = self._selected(), self.host.cursor.moment.top
        first: list[object] = [*selected, ("screen", top.data.screen)] if top is not None else [*selected]
        items = self._items()
        items.sort(key=lambda item: item.value not in first and (item.value.kind, item.value.name) not in first)
        self._choose(messages.EDIT_WHICH_PART, items, self.edit)

    def _items(self) -> list[ListItem[Part]]:
        from wise_ladder.app.dialogs.list_dialog import ListItem  # noqa: PLC0415
        from wise_ladder.plan.parts import parts  # noqa: PLC0415

        text = self._document().text
        warnings: dict[str, list[str]] = {}
        for warning in self.host.plan.warnings:
            warnings.setdefault(warning.at.short, []).append(warning.what)
        items: list[ListItem[Part]] = []
        for part in parts(text):
            doubts = warnings.get(part.at.short, []) if part.kind not in {"argument", "tab"} else []
            said = [*([part.kind] if part.kind != part.name else []), part.text, *(f"▲ {doubt}" for doubt in doubts)]
            about = "  ".join(filter(None, said))
            # What stands in a part is searched as well: the steps of a walk, the texts of a question.
            also = f"{part.kind} {text[part.at.start : part.at.end]}"
            items.append(ListItem(f"{'  ' * _level(part)}{part.name}", about, part, also=also))
        return items

    def _choose(self, title: str, items: list[ListItem[Part]], chosen: Callable[[Part], None]) -> None:
        from wise_ladder.app.dialogs.list_dialog import ListDialog  # noqa: PLC0415

        def done(part: Part | str | None) -> None:
            if part is not None and not isinstance(part, str):
                chosen(part)

        self.host.push_screen(ListDialog(title, items, more=self._tell, soft=self.host.palette.soft, tall=True), done)

    def _tell(self, part: Part) -> Text:
        lines = self._document().text[part.at.start : part.at.end].splitlines()
        shown = [part.at.words, *lines[:_MOST_TOLD], *(["..."] if len(lines) > _MOST_TOLD else [])]
        return Text("\n".join(shown), style=self.host.palette.soft)

    def _ask(self, part: Part) -> None:
        """Ask what is to be done with a part."""
        from wise_ladder.app.dialogs.list_dialog import ListDialog  # noqa: PLC0415

        def done(what: Callable[[Part], None] | str | None) -> None:
            if what is not None and not isinstance(what, str):
                what(part)

        title = messages.DO_WHAT.format(part=part.words)
        self.host.push_screen(ListDialog(title, self._deeds(part), soft=self.host.palette.soft), done)

    def _deeds(self, part: Part) -> list[ListItem[Callable[[Part], None]]]:
        from wise_ladder.app.dialogs.list_dialog import ListItem  # noqa: PLC0415
        from wise_ladder.plan.parts import ORDERED  # noqa: PLC0415
        from wise_ladder.plan.rename import RENAMED  # noqa: PLC0415

        deeds: list[ListItem[Callable[[Part], None]]] = []
        if part.kind != "walk":
            deeds.append(ListItem("edit", messages.EDIT_PART, self.edit, "change"))
        if part.kind in _CLIMBED:
            about = messages.CLIMB_WALK if part.kind == "walk" else messages.CLIMB_PART
            deeds.append(ListItem("climb there", about, self.climb, "go path reach"))
        if part.kind in RENAMED or part.kind == "move":
            deeds.append(ListItem("rename", messages.RENAME_PART, self.rename, "name"))
        deeds.append(ListItem("delete", messages.DELETE_PART, self.delete, "remove"))
        if part.kind in ORDERED:
            deeds.append(ListItem("move up", messages.MOVE_PART, lambda part: self._move(part, -1), "order earlier before"))
            deeds.append(ListItem("move down", messages.MOVE_PART, lambda part: self._move(part, 1), "order later after"))
        return deeds

    def climb(self, part: Part) -> None:
        """Climb a walk to its end, or the shortest known path to where another part is reached or used."""
        if part.kind == "walk":
            self._document().climb_walk(part.name)
            return
        plan = self.host.plan
        goal = (
            part.name if part.kind in _REACHED else next((each for each in plan.things if each.at.start == part.at.start), None)
        )
        if goal is None:
            self.host.show_message(messages.NO_PATH_KNOWN, wrong=True)
            return
        self.host.show_message(messages.LOOKING)

        def look() -> None:
            from wise_ladder.walks.exploration import path_to  # noqa: PLC0415

            worker = get_current_worker()
            tape = path_to(plan, goal, goes_on_while(worker))
            if not worker.is_cancelled:
                self.host.call_later(self._climbed, plan, tape)

        self.host.run_worker(look, thread=True, group="path", exclusive=True)

    def _climbed(self, plan: Plan, tape: Tape | None) -> None:
        if tape is None:
            self.host.show_message(messages.NO_PATH_KNOWN, wrong=True)
        elif plan is self.host.plan:
            self.host.climb_tape(tape)
            self.host.show_message(messages.PART_CLIMBED)

    def edit(self, part: Part) -> None:
        """Edit what the plan says of a part, key by key."""
        from wise_ladder.app.dialogs.form_dialog import FormDialog, FormField  # noqa: PLC0415
        from wise_ladder.plan.edit_parts import part_fields, set_part_fields  # noqa: PLC0415
        from wise_ladder.plan.rename import carried_by  # noqa: PLC0415

        try:
            shown = part_fields(self._document().text, part.path, part.kind)
        except LadderError as error:
            self.host.show_message(str(error), wrong=True)
            return
        where = str(part.path[1]) if len(part.path) > 2 or part.kind in {"screen", "overlay"} else None
        carried = carried_by(self.host.plan, part.name) if part.kind == "move" else ()
        lines = [FormField(field.key, field.text, completer(self.host.plan, field.key, where, carried)) for field in shown]

        def take(typed: list[str]) -> str:
            new = {
                field.key: field._replace(text=text)
                for field, text in zip(shown, typed, strict=True)
                if text.strip() != field.text.strip()
            }
            what = part.words
            return self._document().edit_text(lambda text: set_part_fields(text, part.path, new), what) if new else ""

        title = messages.DO_WHAT.format(part=part.words)
        hint = messages.EDIT_HINT if any(field.key == "do" for field in shown) else messages.FORM_HINT
        self.host.push_screen(FormDialog(title, lines, take, hint=hint))

    # Renaming

    def cmd_rename_name(self) -> None:
        from wise_ladder.app.dialogs.list_dialog import ListDialog, ListItem  # noqa: PLC0415
        from wise_ladder.plan.rename import RENAMED, names  # noqa: PLC0415

        text, near = self._document().text, self._near()
        items = [ListItem(name, kind, (kind, name)) for kind in RENAMED for name in names(text, kind)]
        items.sort(key=lambda item: item.value not in near)

        def chosen(what: tuple[str, str] | str | None) -> None:
            if isinstance(what, tuple):
                self._rename(*what)

        self.host.push_screen(ListDialog(messages.RENAME_WHICH, items, soft=self.host.palette.soft, tall=True), chosen)

    def _near(self) -> set[tuple[str, str]]:
        """Return the names that are probably meant: the screen at the top of the ladder, and what is selected."""
        top = self.host.cursor.moment.top
        near = {("screen", top.data.screen)} if top is not None else set[tuple[str, str]]()
        for part in self._selected():
            near |= {("tap", _tap_of(part)), (part.kind, part.name)}
        return near

    def rename(self, part: Part) -> None:
        """Ask for another name for a part; of a move it is the name of its tap."""
        if part.kind != "move":
            self._rename(part.kind, part.name)
        elif tap := _tap_of(part):
            self._rename("tap", tap)
        else:
            self.host.show_message(messages.NO_NAME, wrong=True)

    def _rename(self, kind: str, old: str) -> None:
        from wise_ladder.app.dialogs.form_dialog import FormDialog, FormField  # noqa: PLC0415
        from wise_ladder.plan.rename import rename  # noqa: PLC0415

        def take(typed: list[str]) -> str:
            new = typed[0].strip()
            wrong = self._document().edit_text(lambda text: rename(text, kind, old, new), f"{kind} {old} renamed")
            if not wrong:
                self.host.show_message(messages.RENAMED.format(kind=kind, old=old, new=new))
            return wrong

        title = messages.RENAME.format(kind=kind, name=old)
        self.host.push_screen(FormDialog(title, [FormField("", old)], take, hint=messages.RENAME_HINT))

    # Deleting and moving

    def cmd_delete_part(self) -> None:
        selected = self._selected()
        if selected:
            self.delete(selected[0])
        else:
            self.host.show_message(messages.NOTHING_TO_DELETE, wrong=True)

    def delete(self, part: Part) -> None:
        """Delete a part after saying what goes with it."""
        from wise_ladder.app.dialogs.list_dialog import ListDialog, ListItem  # noqa: PLC0415
        from wise_ladder.plan.remove import delete  # noqa: PLC0415

        try:
            deletion = delete(self._document().text, part.path)
        except LadderError as error:
            self.host.show_message(str(error), wrong=True)
            return

        def done(yes: bool | str | None) -> None:
            if yes is True:
                what = part.words
                wrong = self._document().edit_text(lambda text: delete(text, part.path).text, f"{what} deleted")
                if wrong:
                    self.host.show_message(wrong, wrong=True)
                else:
                    self.host.status_line.append_message(messages.DELETED.format(what=what))

        others = [each.words for each in deletion.gone[1:]]
        words = messages.DELETE_ALONE if not others else messages.DELETE_WITH.format(count=len(others), names=", ".join(others))
        items = [ListItem("delete", words, value=True), ListItem("keep", messages.KEEP_PART, value=False)]
        title = messages.DELETE.format(part=part.words)
        self.host.push_screen(
            ListDialog(title, items, more=lambda yes: Text(words if yes else "", style=self.host.palette.soft)), done
        )

    def _move(self, part: Part, way: int) -> None:
        from wise_ladder.plan.remove import move  # noqa: PLC0415

        wrong = self._document().edit_text(lambda text: move(text, part.path, way), f"{part.words} moved")
        if wrong:
            self.host.show_message(wrong, wrong=True)

    def _selected(self) -> list[Part]:
        from wise_ladder.plan.parts import parts  # noqa: PLC0415

        starts = self.host.selected_starts()
        selected = [part for part in parts(self._document().text) if part.at.start in starts] if starts else []
        return sorted(selected, key=lambda part: starts.index(part.at.start))


def _level(part: Part) -> int:
    """How far a part is indented: what stands on a place under it."""
    return sum(isinstance(step, int) for step in part.path[2:]) or int(len(part.path) > 2)


def _tap_of(part: Part) -> str:
    from wise_ladder.plan.rename import tap_name  # noqa: PLC0415

    return tap_name(part.name) if part.kind == "move" else ""
